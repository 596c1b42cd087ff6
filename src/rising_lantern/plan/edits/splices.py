"""Pieces of a text that are exchanged for others."""

from __future__ import annotations

from collections.abc import Iterable

Splice = tuple[int, int, str]
"""The first character of a piece, the one after its last, and what takes its place."""


def spliced(text: str, splices: Iterable[Splice]) -> str:
    """A text with pieces of it exchanged, which may not overlap."""
    for start, end, new in sorted(splices, reverse=True):
        text = text[:start] + new + text[end:]
    return text
