"""How each value of a header is mixed, on the way from one look to another."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from types import MappingProxyType
from typing import Any

from rising_lantern.css.borders import snapped_width
from rising_lantern.css.colors import Color, Premultiplied
from rising_lantern.css.numbers import between
from rising_lantern.css.shadows import mix_shadows
from rising_lantern.layout.header_styles import HeaderStyle, PartStyle, RowStyle


@dataclass(frozen=True, slots=True)
class Mixing:
    """How values of one kind are mixed.

    An easing may overshoot, and a change that is turned round starts from where it is. So what
    is mixed further on is the mixed value itself, and not what is seen of it.

    Attributes:
        mix: Gives the value at a share of the way between two; the share may lie outside 0..1.
        free: Gives what is mixed of a value.
        seen: Gives what is seen of what was mixed.
    """

    mix: Callable[[Any, Any, float], Any]
    free: Callable[[Any], Any] = lambda value: value
    seen: Callable[[Any], Any] = lambda value: value

    def between(self, first: Any, second: Any, share: float) -> Any:
        """Return what is seen at a share of the way between two values."""
        if share in {0, 1}:
            return second if share else first
        return self.seen(self.mix(self.free(first), self.free(second), share))


def _mix_colors(first: Premultiplied, second: Premultiplied, share: float) -> Premultiplied:
    return first.mixed(second, share)


def _mix_clamped(first: float, second: float, share: float) -> float:
    return min(max(between(first, second, share), 0.0), 1.0)


def _seen_color(color: Premultiplied | Color) -> Color:
    return color.color() if isinstance(color, Premultiplied) else color


NUMBER = Mixing(between)
LENGTH = Mixing(between, seen=lambda length: max(length, 0.0))
BORDER = Mixing(between, seen=snapped_width)
COLOR = Mixing(_mix_colors, Premultiplied.of, _seen_color)
SHADOWS = Mixing(mix_shadows)
SHARE = Mixing(_mix_clamped)
"""An opacity, which is clamped wherever it is computed (CSS Color 4, section 3.2)."""

Table = Mapping[str, Mixing]
HEADER_VALUES: Table = MappingProxyType(
    {
        "height": LENGTH,
        "color": COLOR,
        "shadow": SHADOWS,
        "padding": LENGTH,
        "lean": NUMBER,
        "border": BORDER,
        "edge": COLOR,
        "blur": LENGTH,
    }
)
"""How the values of a header are mixed; its backgrounds and layers are mixed by shares."""
ROW_VALUES: Table = MappingProxyType(
    {
        "height": LENGTH,
        "fill": COLOR,
        "padding": LENGTH,
        "lean": NUMBER,
        "border": BORDER,
        "edge": COLOR,
    }
)
"""How the values of a row are mixed; its layers are mixed by shares."""
PART_VALUES: Table = MappingProxyType(
    {"width": LENGTH, "height": LENGTH, "size": LENGTH, "color": COLOR}
)
"""How the values of a part are mixed; its pictures are mixed by shares."""

Style = HeaderStyle | RowStyle | PartStyle


def mix_values(table: Table, first: Style, second: Style, share: float) -> dict[str, Any]:
    """Return what is seen of the values of a table, a share of the way between two styles."""
    return {
        name: mixing.between(getattr(first, name), getattr(second, name), share)
        for name, mixing in table.items()
    }
