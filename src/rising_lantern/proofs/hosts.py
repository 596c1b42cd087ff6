"""An export pasted into somebody's own page."""

from __future__ import annotations

import re
from pathlib import Path

from rising_lantern.errors import RequestError, quoted

_MOST_BYTES = 20_000_000
_HEAD = re.compile(r"<head\b[^>]*>.*?</head>", re.IGNORECASE | re.DOTALL)
_OURS = re.compile(
    r"<link rel=\"stylesheet\"[^>]*>|<script type=\"application/json\".*?</script>|"
    r"<script [^>]*src=[^>]*></script>",
    re.DOTALL,
)
_BODY = re.compile(r"<body\b([^>]*)>(.*)</body>", re.IGNORECASE | re.DOTALL)
MARK = "<!-- lantern -->"
"""Where in a page our markup goes, if it has no sections of its own."""


def pasted(host: Path, page: str) -> str:
    """A page of the site with what an exported page has in it, as the notes say to paste it.

    Args:
        host: The HTML file of the site.
        page: The exported page.

    Raises:
        RequestError: If the file is too large, not UTF-8, or has no head and body.
    """
    text = _read(host)
    head, body = _HEAD.search(text), _BODY.search(text)
    ours = _BODY.search(page)
    if head is None or body is None or ours is None:
        raise RequestError(f"{quoted(str(host))} has no <head> and <body>; name a whole HTML page")
    added = "\n".join(_OURS.findall(page))
    attribute = re.search(r"data-[a-z0-9-]+-page=\"[^\"]*\"", ours[1])
    inner = body[2]
    if "data-section" not in inner:
        inner = inner.replace(MARK, ours[2]) if MARK in inner else inner + ours[2]
    own = body[1] if attribute is None or attribute[0] in body[1] else f"{body[1]} {attribute[0]}"
    whole = text[: body.start()] + f"<body{own}>{inner}</body>" + text[body.end() :]
    end = head.end() - len("</head>")
    return whole[:end] + added + "\n" + whole[end:]


def _read(host: Path) -> str:
    try:
        data = host.read_bytes()
        if len(data) > _MOST_BYTES:
            raise RequestError(f"{quoted(str(host))} is larger than {_MOST_BYTES:,} bytes")
        return data.decode("utf-8-sig")
    except OSError as error:
        raise RequestError(f"{quoted(str(host))} cannot be read: {error.strerror}") from None
    except UnicodeDecodeError:
        raise RequestError(f"{quoted(str(host))} is not UTF-8; save it as UTF-8") from None
