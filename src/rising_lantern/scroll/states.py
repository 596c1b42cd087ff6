"""The state of a header at a scroll position: a look, or a mix of two on the way between them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import TypeVar

from rising_lantern.css.borders import snapped_width
from rising_lantern.css.colors import Color, laid_over, mix
from rising_lantern.css.gradients import mean_color
from rising_lantern.css.numbers import between
from rising_lantern.css.shadows import UsedShadow, mix_shadows
from rising_lantern.layout.headers import (
    HeaderBox,
    Layers,
    LookBox,
    PartBox,
    PartStyle,
    RowStyle,
    Shape,
)
from rising_lantern.plan.models.fills import Fill

Thing = TypeVar("Thing")


@dataclass(frozen=True)
class HeaderState(Shape):
    """A header as it is at one moment. Lengths are CSS px.

    Attributes:
        header: The header.
        complete: The look that it has; None while it is between two.
        height: Its height.
        fills: Its backgrounds, which are mixed: two while one gradient becomes another.
        shares: The share of each of them, 0 to 1; together 1.
        layers: Its pictures and fills over those, which are mixed in the same way.
        layer_shares: The share of each of them.
        color: The colour of its texts.
        shadow: Its shadows, the topmost first.
        padding: The room at its left and right end.
        lean: How much more room there is above its parts than below.
        border: The width of its border.
        edge: The colour of its border.
        blur: The standard deviation of the blur of what is behind it.
        left: Its left edge on the screen.
        width: Its width.
        standing: The height of the header in the flow below it, where it has arrived as a second
            header; None where it is the header in the flow itself.
        rows: The values of its rows, by name; none where it has none.
        styles: The values of all parts, by name.
        shift: Its distance above its place while it slides in.
        opacity: Its opacity as a whole, 0 to 1.
        below: The header that it arrives over, while it does.
    """

    header: HeaderBox = field(repr=False)
    complete: LookBox | None = field(repr=False)
    height: float
    fills: tuple[Fill, ...]
    shares: tuple[float, ...]
    layers: tuple[Layers, ...]
    layer_shares: tuple[float, ...]
    color: Color
    shadow: tuple[UsedShadow, ...]
    padding: float
    lean: float
    border: float
    edge: Color
    blur: float
    left: float
    width: float
    standing: float | None
    rows: Mapping[str, RowStyle] = field(hash=False, repr=False)
    styles: Mapping[str, PartStyle] = field(hash=False, repr=False)
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
        return self.header.place_parts(self.styles, self)


def state_of(header: HeaderBox, look: LookBox) -> HeaderState:
    """The state of a header that has one of its looks."""
    return HeaderState(
        header=header,
        complete=look,
        height=look.height,
        fills=(look.fill,),
        shares=(1.0,),
        layers=(look.layers,),
        layer_shares=(1.0,),
        color=look.color,
        shadow=look.shadow,
        padding=look.padding,
        lean=look.lean,
        border=look.border,
        edge=look.edge,
        blur=look.blur,
        left=look.left,
        width=look.width,
        standing=look.standing,
        rows=look.rows,
        styles=look.styles,
    )


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
    return HeaderState(
        header=second.header,
        complete=None,
        height=max(between(first.height, second.height, progress), 0.0),
        fills=fills,
        shares=shares,
        layers=layers,
        layer_shares=layer_shares,
        color=mix(first.color, second.color, progress),
        shadow=mix_shadows(first.shadow, second.shadow, progress),
        padding=max(between(first.padding, second.padding, progress), 0.0),
        lean=between(first.lean, second.lean, progress),
        border=snapped_width(between(first.border, second.border, progress)),
        edge=mix(first.edge, second.edge, progress),
        blur=max(between(first.blur, second.blur, progress), 0.0),
        left=second.left,
        width=second.width,
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
    return RowStyle(
        height=max(between(first.height, second.height, progress), 0.0),
        fill=mix(first.fill, second.fill, progress),
        layers=layers,
        layer_shares=shares,
        padding=max(between(first.padding, second.padding, progress), 0.0),
        lean=between(first.lean, second.lean, progress),
        border=snapped_width(between(first.border, second.border, progress)),
        edge=mix(first.edge, second.edge, progress),
        clips=second.clips,
    )


def _mix_fills(
    first: HeaderState, second: HeaderState, progress: float
) -> tuple[tuple[Fill, ...], tuple[float, ...]]:
    """Colours become one colour between them; gradients are both there, in shares that add up."""
    one, other = first.fills[0], second.fills[0]
    alone = len(first.fills) == len(second.fills) == 1
    if alone and isinstance(one, Color) and isinstance(other, Color):
        return (mix(one, other, progress),), (1.0,)
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
    return PartStyle(
        images,
        shares,
        max(between(first.width, second.width, progress), 0.0),
        max(between(first.height, second.height, progress), 0.0),
        max(between(first.size, second.size, progress), 0.0),
        mix(first.color, second.color, progress),
        second.hidden,
        second.own_color,
        second.tinted,
        second.leading,
    )
