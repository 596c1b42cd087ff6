"""An export pasted into somebody's own page, as the notes say to do it.

The page's text is read by a parser, and stays as it is: what is added is put between its tags.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from html.parser import HTMLParser
from pathlib import Path

from rising_lantern.base.opening import NotAFileError, opened_file
from rising_lantern.errors import RequestError, quoted

_MOST_BYTES = 20_000_000
MARK = "<!-- lantern -->"
"""Where in a page our markup goes, if it has no sections of its own."""

# What may stand in a head: HTML, 4.2. Anything else ends it, whether or not its tags are written.
_OF_HEAD = frozenset({"base", "link", "meta", "noscript", "script", "style", "template", "title"})
_HOLDING = frozenset({"noscript", "script", "style", "template", "title"})


@dataclass
class _Page(HTMLParser):
    """Where the parts of a page start and end, in its text.

    Attributes:
        text: The page.
        head: Where something can be added first and last in its head.
        body: Where the attributes of its body end, and its content starts and ends.
        mark: Where the comment is that our markup goes to; None for none.
        ours: What of an exported page goes into the head, in its order.
        classes: The classes of all its elements.
        has_page: The body's ``data-…-page`` attribute; empty for none.
    """

    text: str
    head: list[int] = field(default_factory=lambda: [-1, -1])
    body: list[int] = field(default_factory=lambda: [-1, -1, -1])
    mark: int | None = None
    ours: list[str] = field(default_factory=list)
    classes: set[str] = field(default_factory=set)
    has_page: str = ""
    is_written: bool = False

    def __post_init__(self) -> None:
        super().__init__(convert_charrefs=True)
        starts = [0]
        for line in self.text.split("\n"):
            starts.append(starts[-1] + len(line) + 1)
        self._starts = starts
        self._depth = 0  # of elements of the head that hold something
        self._script: int | None = None
        self.feed(self.text)
        self.close()
        end = len(self.text)
        self.head[0] = max(self.head[0], 0)
        if self.head[1] < 0:
            self.head[1] = self.body[1] if self.body[1] >= 0 else end
        if self.body[1] < 0:
            self.body[0], self.body[1] = -1, self.head[1]
        if self.body[2] < 0:
            self.body[2] = end

    @property
    def sections(self) -> set[str]:
        """The class of the sections of an exported page."""
        prefix = re.match(r"data-(.*)-page=", self.has_page)
        return {f"{prefix[1]}-section"} if prefix else set()

    def _at(self) -> int:
        line, column = self.getpos()
        return self._starts[line - 1] + column

    def handle_decl(self, decl: str) -> None:
        if decl.lower().startswith("doctype"):
            self.head[0] = self._at() + len(decl) + 3

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        at, source = self._at(), self.get_starttag_text() or ""
        known = dict(attrs)
        self.classes.update((known.get("class") or "").split())
        self.is_written = True
        self._depth += tag in _HOLDING
        if tag in {"html", "head"}:
            self.head[0] = at + len(source)
        elif tag == "body":
            self.body[0], self.body[1] = at + len(source) - 1, at + len(source)
            pages = (name for name in known if re.fullmatch(r"data-[a-z0-9-]+-page", name))
            self.has_page = next((f'{name}="{known[name]}"' for name in pages), "")
            if self.head[1] < 0:
                self.head[1] = at
        elif tag not in _OF_HEAD and self.head[1] < 0:
            self.head[1] = at
        if self.head[1] < 0 or tag == "script":
            self._gather(tag, known, at, source)

    def _gather(self, tag: str, known: dict[str, str | None], at: int, source: str) -> None:
        """Keep what an exported page needs in any head: styles, fonts, data and scripts."""
        if tag == "link" and known.get("rel") in {"stylesheet", "preload"}:
            self.ours.append(source)
        elif tag == "script" and ("src" in known or known.get("type") == "application/json"):
            self._script = at

    def handle_endtag(self, tag: str) -> None:
        at = self._at()
        self._depth -= tag in _HOLDING
        if tag == "head" and self.head[1] < 0:
            self.head[1] = at
        elif tag == "body" or (tag == "html" and self.body[2] < 0):
            self.body[2] = at
        elif tag == "script" and self._script is not None:
            self.ours.append(self.text[self._script : self.text.index(">", at) + 1])
            self._script = None

    def handle_data(self, data: str) -> None:
        if data.strip() and self.head[1] < 0 and self._depth <= 0:
            self.head[1] = self._at()

    def handle_comment(self, data: str) -> None:
        if f"<!--{data}-->" == MARK and self.mark is None:
            self.mark = self._at()


def pasted(text: str, page: str, *, attached: bool = False, first: bool = False) -> str:
    """A page of the site with what an exported page has in it, as the notes say to paste it.

    Args:
        text: The page of the site.
        page: The exported page.
        attached: Whether the plan names elements of the site, so that our markup goes only where
            it is asked for.
        first: Whether our style sheet goes before those of the site.

    Raises:
        RequestError: If it is no HTML page.
    """
    site, own = _Page(text), _Page(page)
    if not site.is_written:
        raise RequestError("the page of the site has no tags; name a whole HTML page")
    added = "\n".join(item for item in own.ours if item not in text)
    inner = page[own.body[1] : own.body[2]]
    edits: list[tuple[int, str]] = []
    if own.has_page and not site.has_page:
        attribute = f" {own.has_page}"
        if site.body[0] >= 0:
            edits.append((site.body[0], attribute))
        else:
            edits.append((site.body[1], f"<body{attribute}>"))
    if not own.sections & site.classes and (site.mark is not None or not attached):
        edits.append((site.mark if site.mark is not None else site.body[2], inner))
    # Of what goes to one place, what is put there last comes first.
    edits.append((site.head[0 if first else 1], f"{added}\n"))
    for place, words in sorted(edits, key=lambda edit: edit[0], reverse=True):
        text = text[:place] + words + text[place:]
    return text


def read_host(host: Path) -> str:
    """The text of a page of the site.

    Raises:
        RequestError: If it cannot be read, is too large, or not UTF-8.
    """
    try:
        with opened_file(host) as opened:
            data = opened.read(_MOST_BYTES + 1)
        if len(data) > _MOST_BYTES:
            raise RequestError(f"{quoted(str(host))} is larger than {_MOST_BYTES:,} bytes")
        return data.decode("utf-8-sig")
    except NotAFileError as error:
        raise RequestError(f"{quoted(str(host))} is {error}; name an HTML file") from None
    except OSError as error:
        raise RequestError(f"{quoted(str(host))} cannot be read: {error.strerror}") from None
    except UnicodeDecodeError:
        raise RequestError(f"{quoted(str(host))} is not UTF-8; save it as UTF-8") from None
