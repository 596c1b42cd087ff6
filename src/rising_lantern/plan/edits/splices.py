"""Pieces of a text that are exchanged for others, and back."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from rising_lantern.errors import RequestError

Splice = tuple[int, int, str]
"""The first character of a piece, the one after its last, and what takes its place."""


def spliced(text: str, splices: Iterable[Splice]) -> str:
    """A text with pieces of it exchanged, which may not overlap."""
    for start, end, new in sorted(splices, reverse=True):
        text = text[:start] + new + text[end:]
    return text


@dataclass(frozen=True, slots=True)
class Exchange:
    """An edit that puts one piece of a text in the place of another: what undoes an edit.

    Attributes:
        words: What it does.
        at: Where the piece begins, in characters.
        old: The piece that has to stand there.
        new: What takes its place.
    """

    words: str
    at: int
    old: str
    new: str

    def applied(self, text: str) -> str:
        """The text with the piece exchanged.

        Raises:
            RequestError: If something else stands there.
        """
        end = self.at + len(self.old)
        if text[self.at : end] != self.old:
            raise RequestError(f"the text has changed since: {self.words} is not possible")
        return text[: self.at] + self.new + text[end:]


def exchange(words: str, before: str, after: str) -> Exchange:
    """The least exchange that makes one text of another.

    Args:
        words: What it does.
        before: The text to begin with.
        after: The text to end with.
    """
    most = min(len(before), len(after))
    first = next((at for at in range(most) if before[at] != after[at]), most)
    last = next(
        (at for at in range(most - first) if before[-1 - at] != after[-1 - at]), most - first
    )
    return Exchange(
        words, first, before[first : len(before) - last], after[first : len(after) - last]
    )
