"""Borders: CSS Backgrounds and Borders 3, section 4."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass

from rising_lantern.css.colors import BLACK, Color, color_from
from rising_lantern.css.length_parsing import is_length, length_from
from rising_lantern.css.lengths import Basis, Length
from rising_lantern.css.syntax import Components
from rising_lantern.errors import quoted

_REMEDY = "write a width, solid and a colour, such as 2px solid #16213e"


@dataclass(frozen=True, slots=True)
class Border:
    """A solid border, the same on all sides."""

    width: Length
    color: Color

    def used(self, basis: Basis) -> float:
        """Its width in whole px; see :func:`snapped_width`."""
        return snapped_width(self.width.px(basis))

    def css(self) -> str:
        """The border as CSS text."""
        return f"{self.width.css()} solid {self.color.css()}"


def snapped_width(width: float) -> float:
    """A border's width as browsers use it: whole px, at least one where there is any (4.3).

    Source: https://www.w3.org/TR/css-backgrounds-3/#the-border-width

    >>> snapped_width(0.2), snapped_width(2.9), snapped_width(0)
    (1.0, 2.0, 0.0)
    """
    return float(max(math.floor(width), 1)) if width > 0 else 0.0


def parse_border(text: str, names: Mapping[str, Color] | None = None) -> Border:
    """Parse a solid ``border``.

    Source: https://www.w3.org/TR/css-backgrounds-3/#the-border-shorthands

    Raises:
        CssError: If the text is not valid.
    """
    source = Components(text)
    sizes = [token for token in source.tokens if is_length(token) or token.type == "number"]
    words = [token for token in source.tokens if token not in sizes]
    styles = [t for t in words if t.type == "ident" and t.lower_value == "solid"]
    colors = [color_from(source, token, names or {}) for token in words if token not in styles]
    if len(sizes) != 1 or len(styles) != 1 or len(colors) > 1:
        place = source.tokens[0] if source.tokens else None
        raise source.error(place, f"{quoted(text)} is not a border", _REMEDY)
    width = length_from(source, sizes)
    if width.is_negative or width.is_percentage:
        raise source.error(sizes[0], "a border width cannot be negative or a percentage", _REMEDY)
    return Border(width, colors[0] if colors else BLACK)
