"""How a plan's own words are quoted."""

from __future__ import annotations

_LONGEST = 28  # characters of a text that are quoted


def shortened(text: str) -> str:
    """A text on one line, and only its beginning where it is long."""
    words = " ".join(text.split())
    return words if len(words) <= _LONGEST else words[: _LONGEST - 1].rstrip() + "…"
