"""The state of a header at a scroll position: a look, or a mix of two on the way between them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, fields, replace
from functools import cached_property
from typing import TypeVar

from rising_lantern.css.colors import Color, laid_over, mix
from rising_lantern.css.gradients import mean_color
from rising_lantern.layout.header_styles import HeaderStyle, Layers, PartStyle, RowStyle
from rising_lantern.layout.headers import HeaderBox, LookBox, PartBox
from rising_lantern.plan.models.fills import Fill
from rising_lantern.scroll.mixing import (
    COLOR,
    HEADER_VALUES,
    PART_VALUES,
    ROW_VALUES,
    mix_values,
)

Thing = TypeVar("Thing")
_STYLE = tuple(item.name for item in fields(HeaderStyle))


@dataclass(frozen=True, kw_only=True)
class HeaderState(HeaderStyle):
    """A header as it is at one moment.

    Attributes:
        header: The header.
        complete: The look that it has; None while it is between two.
        shift: Its distance above its place while it slides in.
        opacity: Its opacity as a whole, 0 to 1.
        below: The header that it arrives over, while it does.
    """

    header: HeaderBox = field(repr=False)
    complete: LookBox | None = field(repr=False)
    shift: float = 0.0
    opacity: float = 1.0
    below: HeaderState | None = field(default=None, repr=False)

    @property
    def room(self) -> float:
        """The room in px that the header takes up above the first section."""
        return self.header.room(self.flow_height)

    @property
    def background(self) -> Color:
        """Its colour; of a gradient, the mean of its colours."""
        color, whole = mean_color(self.fills[0]), self.shares[0]
        for fill, share in zip(self.fills[1:], self.shares[1:], strict=True):
            whole += share
            color = mix(color, mean_color(fill), share / whole if whole else 0.0)
        return color

    @property
    def only_color(self) -> Color | None:
        """Its background, where that is one colour; or None."""
        fill, *others = self.fills
        return fill if isinstance(fill, Color) and not others and not self.is_layered else None

    @property
    def is_layered(self) -> bool:
        """Whether it has any pictures or fills over its background."""
        return any(self.layers)

    def has_layers_behind(self, part: PartBox) -> bool:
        """Whether a part stands over any pictures or fills, of the header or of its row."""
        row = part.row.style if part.row else None
        return self.is_layered or (row is not None and any(row.layers))

    @property
    def opaque_color(self) -> Color | None:
        """Its background, where that is one colour, opaque and without a border; or None."""
        color = self.only_color
        is_plain = self.opacity == 1 and not self.border and not self.rows
        covers = color is not None and color.alpha == 1 and is_plain
        return color if covers else None

    def color_behind(self, part: PartBox) -> Color | None:
        """What lies behind a part, where that is one colour; or None."""
        color, row = self.only_color, part.row
        if self.has_layers_behind(part):
            return None
        if color is None or row is None or row.style is None:
            return color
        return laid_over(color, row.style.fill)

    @cached_property
    def parts(self) -> Mapping[str, PartBox]:
        """The parts that are shown, by name: those of its look, or placed between two."""
        if self.complete is not None:
            return self.complete.parts
        return self.header.place_parts(self)


def state_of(header: HeaderBox, look: LookBox) -> HeaderState:
    """The state of a header that has one of its looks."""
    style = {name: getattr(look, name) for name in _STYLE}
    return HeaderState(header=header, complete=look, **style)


def between_looks(
    first: HeaderState, second: HeaderState, progress: float, arrive: str | None = None
) -> HeaderState:
    """The state between two others.

    Args:
        first: The state that the header leaves.
        second: The state that it reaches.
        progress: The eased share of the second; it may overshoot 0..1.
        arrive: How the second comes as a header of its own, ``slide`` or ``fade``, or None.
    """
    if arrive == "slide":
        return replace(second, shift=(1 - progress) * second.height, below=first)
    if arrive == "fade":
        return replace(second, opacity=min(max(progress, 0.0), 1.0), below=first)
    fills, shares = _mix_fills(first, second, progress)
    layers, layer_shares = _mix_layers(first, second, progress)
    return replace(
        second,
        **mix_values(HEADER_VALUES, first, second, progress),
        complete=None,
        fills=fills,
        shares=shares,
        layers=layers,
        layer_shares=layer_shares,
        standing=None,
        rows={name: _mix_row(row, second.rows[name], progress) for name, row in first.rows.items()},
        styles={
            name: _mix_part(style, second.styles[name], progress)
            for name, style in first.styles.items()
        },
    )


def _mix_row(first: RowStyle, second: RowStyle, progress: float) -> RowStyle:
    """A row between two looks."""
    layers, shares = _mix_layers(first, second, progress)
    values = mix_values(ROW_VALUES, first, second, progress)
    return replace(second, **values, layers=layers, layer_shares=shares)


def _mix_fills(
    first: HeaderState, second: HeaderState, progress: float
) -> tuple[tuple[Fill, ...], tuple[float, ...]]:
    """Colours become one colour between them; gradients are both there, in shares that add up."""
    one, other = first.fills[0], second.fills[0]
    alone = len(first.fills) == len(second.fills) == 1
    if alone and isinstance(one, Color) and isinstance(other, Color):
        return (COLOR.between(one, other, progress),), (1.0,)
    return _mix_shares(
        dict(zip(first.fills, first.shares, strict=True)),
        dict(zip(second.fills, second.shares, strict=True)),
        min(max(progress, 0.0), 1.0),
    )


def _mix_layers(
    first: HeaderState | RowStyle, second: HeaderState | RowStyle, progress: float
) -> tuple[tuple[Layers, ...], tuple[float, ...]]:
    """Sets of pictures and fills are both there, in shares that add up."""
    return _mix_shares(
        dict(zip(first.layers, first.layer_shares, strict=True)),
        dict(zip(second.layers, second.layer_shares, strict=True)),
        min(max(progress, 0.0), 1.0),
    )


def _mix_shares(
    first: dict[Thing, float], second: dict[Thing, float], share: float
) -> tuple[tuple[Thing, ...], tuple[float, ...]]:
    """Things and the share of each of them, between two such mixes."""
    mixed = {
        thing: first.get(thing, 0.0) * (1 - share) + second.get(thing, 0.0) * share
        for thing in {**first, **second}
    }
    return tuple(mixed), tuple(mixed.values())


def _mix_part(first: PartStyle, second: PartStyle, progress: float) -> PartStyle:
    """A part between two looks: a new picture is mixed with the old one, which dips nowhere."""
    images, shares = _mix_shares(
        dict(zip(first.images, first.shares, strict=True)),
        dict(zip(second.images, second.shares, strict=True)),
        min(max(progress, 0.0), 1.0),
    )
    values = mix_values(PART_VALUES, first, second, progress)
    return replace(second, **values, images=images, shares=shares)
