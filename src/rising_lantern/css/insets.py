"""Paddings: CSS Box Model 3, section 4.2."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.css.length_parsing import extent_from
from rising_lantern.css.lengths import Length
from rising_lantern.css.syntax import Components, CssError
from rising_lantern.errors import quoted

_REMEDY = "write one to four lengths, such as 72px or 72px 6vw"
_SIDES = 4


@dataclass(frozen=True, slots=True)
class Insets:
    """A ``padding`` as specified, none of it negative."""

    top: Length
    right: Length
    bottom: Length
    left: Length

    def css(self) -> str:
        """The padding as CSS text, as short as it can be written."""
        sides = [side.css() for side in (self.top, self.right, self.bottom, self.left)]
        for opposite in (1, 0, 0):
            if sides[-1] != sides[opposite] or len(sides) == 1:
                break
            sides.pop()
        return " ".join(sides)


def parse_even_insets(text: str) -> Insets:
    """Parse a ``padding`` that is the same on the left and right: one to three lengths.

    Raises:
        CssError: If the text is not a valid value.

    >>> parse_even_insets("12px 40px 8px").css()
    '12px 40px 8px'
    """
    remedy = "write up to three lengths: above, left and right, below"
    if len(Components(text).tokens) >= _SIDES:
        raise CssError(f"{quoted(text)} is not a padding of a header", remedy)
    return parse_insets(text, remedy)


def parse_insets(text: str, remedy: str = _REMEDY) -> Insets:
    """Parse a ``padding``.

    Source: https://www.w3.org/TR/css-box-3/#padding-shorthand

    Args:
        text: CSS text.
        remedy: What to write where it is not valid.

    Raises:
        CssError: If the text is not a valid value.

    >>> parse_insets("72px 6vw").css(), parse_insets("1px 2px 1px 2px").css()
    ('72px 6vw', '1px 2px')
    """
    source = Components(text)
    if not 1 <= len(source.tokens) <= _SIDES:
        raise source.error(None, f"{quoted(text)} is not a padding", remedy)
    lengths = [extent_from(source, token, remedy) for token in source.tokens]
    # CSS Box 3, 4.2: what is left out is that of the opposite side, or the first.
    top = lengths[0]
    right = lengths[1] if len(lengths) > 1 else top
    bottom = lengths[2] if len(lengths) > 2 else top  # noqa: PLR2004 - the third side
    left = lengths[3] if len(lengths) == _SIDES else right
    return Insets(top, right, bottom, left)
