"""Printing: what a terminal can show, and nothing that would control it."""

from __future__ import annotations

import errno
import io
import os
import sys
from typing import Any

import click

# Stands for the escape character of our own styles until a text is printed. No file name, argument
# or plan holds it: bytes that are not UTF-8 are decoded to U+DC80 and above.
_ESCAPE = "\udc1b"

# What is shown in the place of a character that the terminal's encoding does not have.
_PLAIN = str.maketrans(
    {"→": "->", "×": "x", "·": "-", "−": "-", "…": "...", "‘": "'", "’": "'", "“": '"', "”": '"'}
)
_PIECE = 4096  # characters
_BARS = (("━", "─"), ("#", "-"))


def style(text: str, **styles: Any) -> str:
    """A text in a colour or weight, as ``click.style`` takes them; for :func:`echo` only."""
    # Escapes that the text brings along are made visible before ours are put around it.
    parts = (_visible(_as_utf8(part)) for part in text.split(_ESCAPE))
    return click.style(_ESCAPE.join(parts), **styles).replace("\x1b", _ESCAPE)


def unstyled(text: str) -> str:
    """A text as it is written to a file: without styles, and as it would be shown otherwise."""
    return click.unstyle(_shown(text, "utf-8"))


def echo(text: str = "", *, err: bool = False, nl: bool = True) -> None:
    """Print a text that may hold anything.

    Control characters, and what the stream cannot encode, are shown as escapes; styles count only
    where they come from :func:`style`.

    Raises:
        OSError: If it cannot be printed.
    """
    stream = sys.stderr if err else sys.stdout
    shown = _shown(text, stream.encoding or "ascii") + "\n" * nl
    shown = shown if stream.isatty() else click.unstyle(shown)
    # In pieces: of one large text an unbuffered stream may write a part, and not say so.
    for start in range(0, len(shown), _PIECE):
        click.echo(shown[start : start + _PIECE], nl=False, err=err, color=True)


def bar_signs() -> tuple[str, str]:
    """The signs of the done and of the open part of a progress bar."""
    encoding = sys.stderr.encoding or "ascii"
    return next(pair for pair in _BARS if _fits("".join(pair), encoding))


def _shown(text: str, encoding: str) -> str:
    parts = text.split(_ESCAPE)
    return "\x1b".join(_encodable(_visible(_as_utf8(part)), encoding) for part in parts)


def _as_utf8(text: str) -> str:
    """A text with the bytes of a file name that were not understood as what they are in UTF-8."""
    try:
        return text.encode("utf-8", "surrogateescape").decode("utf-8")
    except UnicodeError:
        return text


def _visible(text: str) -> str:
    if text.isprintable():
        return text
    return "".join(sign if _is_harmless(sign) else _escape(sign) for sign in text)


def _is_harmless(sign: str) -> bool:
    # A zero-width joiner holds emoji and some scripts together.
    return sign.isprintable() or sign in "\n\t\u200d\u200c"


def _escape(sign: str) -> str:
    return sign.encode("unicode_escape", "surrogatepass").decode("ascii")


def _encodable(text: str, encoding: str) -> str:
    if _fits(text, encoding):
        return text
    plain = text.translate(_PLAIN)
    return plain.encode(encoding, "backslashreplace").decode(encoding)


def _fits(text: str, encoding: str) -> bool:
    try:
        text.encode(encoding)
    except UnicodeError:
        return False
    return True


class _ClosedOutput(io.TextIOBase):
    """What stands for a standard output that the caller has closed."""

    @property
    def encoding(self) -> str:  # type: ignore[override]
        return "utf-8"

    def writable(self) -> bool:
        return True

    def write(self, _text: str) -> int:
        raise OSError(errno.EBADF, "standard output is closed")


def open_streams() -> None:
    """Stand in for standard streams that the caller has closed.

    Files that are opened later would otherwise take their places, and what is printed end in them.
    """
    for descriptor in range(3):
        try:
            os.fstat(descriptor)
        except OSError:
            os.open(os.devnull, os.O_RDWR)
    if sys.stdout is None:
        sys.stdout = _ClosedOutput()
    if sys.stderr is None:
        sys.stderr = open(os.devnull, "w", encoding="utf-8")  # noqa: PTH123, SIM115 - kept open


def counted(count: int, one: str, several: str) -> str:
    """A number of things, in words that fit it."""
    return f"{count} {one if count == 1 else several}"
