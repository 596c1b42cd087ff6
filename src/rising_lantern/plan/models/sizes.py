"""The size of a text: a length, or as large as one line allows."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated

from rising_lantern.css.lengths import Length
from rising_lantern.css.syntax import CssError
from rising_lantern.plan.models.base import css_value, parse_font_size

_WORD = "one-line"


@dataclass(frozen=True, slots=True)
class OneLine:
    """A text as large as its width allows on one line.

    Attributes:
        most: The largest font size; None for no limit of its own.
    """

    most: Length | None = None

    def css(self) -> str:
        """The value as in a plan."""
        return f"{_WORD} {self.most.css()}" if self.most else _WORD


def parse_size(text: str) -> Length | OneLine:
    """Parse a font size, ``one-line``, or ``one-line`` and the largest font size.

    Raises:
        CssError: If the text is none of these.

    >>> parse_size("one-line 240px").css()
    'one-line 240px'
    """
    word, _, rest = text.strip().partition(" ")
    if word.lower() != _WORD:
        return parse_font_size(text)
    if not rest.strip():
        return OneLine()
    try:
        return OneLine(parse_font_size(rest))
    except CssError as error:
        offset = len(text) - len(rest) + error.offset
        raise CssError(error.problem, error.remedy, offset) from None


FontSizeValue = Annotated[Length | OneLine, css_value(parse_size, (Length, OneLine), "48px")]
"""The size of a text that may fill its line."""
