"""A region of a picture, in shares of its width and height."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import Components, CssError
from rising_lantern.errors import quoted

_REMEDY = "write the left and upper edge, the width and the height in %, such as 30% 20% 40% 50%"
_SIDES = 4
_HAIR = 1e-9


@dataclass(frozen=True, slots=True)
class Region:
    """A rectangle of a picture, each side a share of the picture's, 0 to 1."""

    left: float
    top: float
    width: float
    height: float

    def css(self) -> str:
        """The region as a plan has it."""
        sides = (self.left, self.top, self.width, self.height)
        return " ".join(f"{number(side * 100)}%" for side in sides)


def parse_region(text: str) -> Region:
    """Parse a region: left and upper edge, width and height in per cent.

    Raises:
        CssError: If it is not four percentages, or not within the picture.

    >>> parse_region("30% 20% 40% 50%").width
    0.4
    """
    source = Components(text)
    tokens = source.tokens
    if len(tokens) != _SIDES or any(token.type != "percentage" for token in tokens):
        raise CssError(f"{quoted(text)} is not a region of a picture", _REMEDY)
    left, top, width, height = (float(token.value) / 100 for token in tokens)
    if min(left, top) < 0 or min(width, height) <= 0:
        raise CssError(f"{quoted(text)} has an edge below zero, or no size", _REMEDY)
    if left + width > 1 + _HAIR or top + height > 1 + _HAIR:
        raise CssError(f"{quoted(text)} reaches beyond the picture", _REMEDY)
    return Region(left, top, width, height)
