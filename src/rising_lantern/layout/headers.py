"""A header as one look wears it, or as it is between two: its values in px and its parts' boxes."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import TypeVar

from rising_lantern.css.backgrounds import Box
from rising_lantern.css.colors import TRANSPARENT, Color, mix
from rising_lantern.css.lengths import Basis
from rising_lantern.css.shadows import UsedShadow, mix_shadows
from rising_lantern.layout.fonts import FontBook
from rising_lantern.layout.screen import Screen, font_px
from rising_lantern.layout.text import Style, TextBlock, set_text
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.fills import Fill
from rising_lantern.plan.models.headers import Header, Look, Part, PartLook

_LEADING = 1.4
MOST_HEADER_PX = 16_384
"""The greatest height of a header, that of the largest screen."""

_UNBROKEN = 1e9
_FAR = 48  # px of a gradient that is looked at from afar

Thing = TypeVar("Thing")


@dataclass(frozen=True, slots=True)
class PartStyle:
    """What one part wears.

    Attributes:
        images: Pictures that are mixed: two while one fades into the other.
        shares: How much of each of them there is, 0 to 1.
        width: Width of the picture in CSS px.
        height: Height of the picture in CSS px.
        size: Font size of a text in CSS px.
        color: Colour of a text.
        hidden: Whether it is left out.
    """

    images: tuple[str, ...]
    shares: tuple[float, ...]
    width: float
    height: float
    size: float
    color: Color
    hidden: bool = False


@dataclass(frozen=True, slots=True)
class LookStyle:
    """What a header wears: used values, lengths in CSS px.

    Attributes:
        height: Its height.
        fills: What it is filled with, mixed: two while one gradient becomes another.
        shares: How much of each of them there is, 0 to 1.
        color: Colour of its texts.
        shadow: Its shadows, the topmost first.
        padding: Room at its left and right end.
        border: How wide its border is.
        edge: The border's colour.
        blur: Deviation of the blur of what is behind it.
        parts: What its parts wear.
        left: Its left edge on the screen.
        width: How wide it is.
        standing: The height of the header that stays in the flow below it, where the look arrives
            as a second header; None where the header itself takes on the look.
        shift: How far above its place it is while it slides in.
        opacity: How opaque it is as a whole.
        below: The header that it arrives over, while it does.
    """

    height: float
    fills: tuple[Fill, ...]
    shares: tuple[float, ...]
    color: Color
    shadow: tuple[UsedShadow, ...]
    padding: float
    border: float
    edge: Color
    blur: float
    parts: dict[str, PartStyle]
    left: float
    width: float
    standing: float | None = None
    shift: float = 0.0
    opacity: float = 1.0
    below: LookStyle | None = None

    @property
    def stays(self) -> bool:
        """Whether it stays on the screen though the header does not: it has arrived by itself."""
        return self.standing is not None

    @property
    def flow_height(self) -> float:
        """The height of the header that stands in the flow."""
        return self.height if self.standing is None else self.standing

    @property
    def background(self) -> Color:
        """Its colour; of a gradient, the mean of its colours."""
        colors = [mean_color(one) for one in self.fills]
        color = colors[0]
        whole = self.shares[0]
        for other, share in zip(colors[1:], self.shares[1:], strict=True):
            whole += share
            color = mix(color, other, share / whole if whole else 0.0)
        return color


@dataclass(frozen=True, slots=True)
class PartBox:
    """A part in its place.

    Attributes:
        box: Its border box, from the screen's left edge and the header's upper one.
        texts: Its texts, from the same corner; none for a picture.
        style: What it wears.
    """

    box: Box
    texts: tuple[TextBlock, ...]
    style: PartStyle


@dataclass(frozen=True, slots=True)
class Setup:
    """What a header is laid out with.

    Attributes:
        screen: The screen.
        fonts: The plan's fonts.
        within: The left edge and the width of what it lives in, in CSS px.
    """

    screen: Screen
    fonts: FontBook
    within: tuple[float, float]


@dataclass(frozen=True, slots=True)
class HeaderBox:
    """A header laid out on a screen.

    Attributes:
        name: Its name in the plan.
        entry: What the plan says of it.
        screen: The screen.
        fonts: The plan's fonts.
        inset: How far below the screen's edge it stands, in CSS px.
        looks: The names of its looks, in the plan's order.
        styles: What it wears in each of them.
    """

    name: str
    entry: Header
    screen: Screen
    fonts: FontBook
    inset: float
    looks: tuple[str, ...]
    styles: tuple[LookStyle, ...]

    @property
    def in_flow(self) -> bool:
        """Whether it takes room of its own in what it lives in."""
        return self.entry.position in {"static", "sticky"}

    def room(self, style: LookStyle) -> float:
        """The room in px that it takes up above the first section as it is worn."""
        if self.entry.starts_under or self.lives_in_section:
            return 0.0
        if not self.in_flow:
            return max(self.inset + self.styles[0].height, 0.0)
        return self.styles[0].height if self.entry.hold_space else style.flow_height

    def standing(self, look: int) -> int:
        """The look that the header in the flow has while some look is current, by their indices.

        It is the same one, or where that arrives as a second header the nearest before it that
        does not.
        """
        while look > 0 and self.arrival(look):
            look -= 1
        return look

    @property
    def lives_in_section(self) -> bool:
        """Whether it sticks within one section only."""
        return self.entry.inside is not None and self.entry.container is None

    def coming(self, before: int, look: int, progress: float) -> LookStyle:
        """What it wears while a look comes after another, both by their indices.

        Args:
            before: The look that it leaves.
            look: The look that it takes on.
            progress: Its eased share; 1 where it is complete.
        """
        if progress == 1:
            return self.styles[look]
        # A second header that was there goes as it came: the first one changes from what it had.
        first = self.styles[self.standing(before)]
        return mix_looks(first, self.styles[look], progress, self.arrival(look))

    def arrival(self, look: int) -> str | None:
        """How a look arrives as a second header; None where the first one changes into it."""
        return self.entry.look(self.looks[look]).arrive

    def place_parts(self, style: LookStyle) -> dict[str, PartBox]:
        """Its parts in their places: groups at the start, centre and end, centred in height."""
        placed: dict[str, PartBox] = {}
        padding = style.padding + style.border
        gap = self.entry.gap.px(self.screen.basis())
        room = style.width - 2 * padding
        shown = [name for name in self.entry.parts if not style.parts[name].hidden]
        for side, share in (("start", 0.0), ("center", 0.5), ("end", 1.0)):
            members = [name for name in shown if self.entry.parts[name].side == side]
            made = {name: self._part(self.entry.parts[name], style.parts[name]) for name in members}
            width = sum(part.box.width for part in made.values()) + gap * max(len(made) - 1, 0)
            left = style.left + padding + (room - width) * share
            for name, part in made.items():
                top = (style.height - part.box.height) / 2
                placed[name] = _moved(part, left, top)
                left += part.box.width + gap
        return {name: placed[name] for name in shown}

    def _part(self, part: Part, style: PartStyle) -> PartBox:
        """A part at the origin."""
        if part.text is None:
            return PartBox(Box(0.0, 0.0, style.width, style.height), (), style)
        face = self.fonts.face(part.font, part.weight)
        gap = part.gap.px(self.screen.basis(font_size=style.size))
        texts: list[TextBlock] = []
        left = 0.0
        for words in part.text:
            block = set_text(words, Style(face, style.size, _LEADING), _UNBROKEN)
            texts.append(block.moved(left, 0.0))
            left += block.box.width + gap
        width = left - gap if texts else 0.0
        return PartBox(Box(0.0, 0.0, width, style.size * _LEADING), tuple(texts), style)


def lay_out_header(name: str, entry: Header, on: Setup, pictures: dict[str, Picture]) -> HeaderBox:
    """A header on a screen, with its style in each look."""
    looks = entry.looks or {"plain": Look()}
    screen = on.screen
    styles: list[LookStyle] = []
    for look in looks.values():
        standing = styles[-1].flow_height if look.arrive and styles else None
        styles.append(_style(entry, look, on, pictures, standing))
    inset = 0.0 if entry.position == "static" else entry.top.px(screen.basis(whole=screen.height))
    return HeaderBox(name, entry, screen, on.fonts, inset, tuple(looks), tuple(styles))


def _span(entry: Header, screen: Screen, within: tuple[float, float]) -> tuple[float, float]:
    """Its left edge and its width, in the middle of a stretch given by its own left and width.

    CSS 2, 10.3.3: auto margins of a box that is too wide are zero.
    """
    width = max(entry.width.px(screen.basis(whole=within[1])), 0.0)
    return within[0] + max((within[1] - width) / 2, 0.0), width


def _style(
    entry: Header,
    look: Look,
    on: Setup,
    pictures: dict[str, Picture],
    standing: float | None,
) -> LookStyle:
    screen = on.screen
    basis = screen.basis(whole=screen.height)
    across = screen.basis(whole=screen.client_width)
    height = min(max((look.height or entry.height).px(basis), 0.0), MOST_HEADER_PX)
    shadow = entry.shadow if look.shadow is None else look.shadow
    color = look.color or entry.color
    border = look.border or entry.border
    parts = {
        name: _part_style(part, look.part(name), color, screen, pictures)
        for name, part in entry.parts.items()
    }
    return LookStyle(
        height,
        (look.background or entry.background,),
        (1.0,),
        color,
        tuple(one.used(basis) for one in shadow),
        (look.padding or entry.padding).px(across),
        border.used(basis) if border else 0.0,
        border.color if border else TRANSPARENT,
        (look.blur or entry.blur).px(basis),
        parts,
        # A header that arrives is one of its own, on the screen wherever the first one lives.
        *_span(entry, screen, (0.0, screen.client_width) if standing is not None else on.within),
        standing=standing,
    )


def _part_style(
    part: Part, change: PartLook, color: Color, screen: Screen, pictures: dict[str, Picture]
) -> PartStyle:
    size = font_px(change.size or part.size, screen)
    color = change.color or part.color or color
    hidden = part.hidden if change.hidden is None else change.hidden
    name = change.image or part.image
    if name is None:
        return PartStyle((), (), 0.0, 0.0, size, color, hidden)
    picture = pictures[name]
    asked = change.width or part.width
    width = float(picture.width)
    if asked:
        width = max(asked.px(screen.basis(whole=screen.client_width)), 0.0)
    height = width * picture.height / picture.width
    return PartStyle((name,), (1.0,), width, height, size, color, hidden)


@lru_cache(maxsize=64)
def mean_color(fill: Fill) -> Color:
    """A colour itself; of a gradient, what it looks like from afar."""
    if isinstance(fill, Color):
        return fill
    red, green, blue, alpha = (
        float(level) for level in fill.pixels(_FAR, _FAR, Basis(_FAR, _FAR)).mean(axis=(0, 1))
    )
    if alpha <= 0:
        return TRANSPARENT
    shares = [min(level / alpha, 1.0) for level in (red, green, blue)]
    return Color(shares[0], shares[1], shares[2], min(alpha, 1.0))


def mix_looks(
    first: LookStyle, second: LookStyle, progress: float, arrival: str | None = None
) -> LookStyle:
    """What a header wears between two looks.

    Args:
        first: The look that it leaves.
        second: The look that it takes on.
        progress: The eased share of the second; it may overshoot 0..1.
        arrival: How the second comes as a header of its own, ``slide`` or ``fade``, or None.
    """
    if arrival:
        share = min(max(progress, 0.0), 1.0)
        if arrival == "slide":
            return replace(second, shift=(1 - progress) * second.height, below=first)
        return replace(second, opacity=share, below=first)
    fills, shares = mix_fills(first, second, progress)
    return LookStyle(
        max(between(first.height, second.height, progress), 0.0),
        fills,
        shares,
        mix(first.color, second.color, progress),
        mix_shadows(first.shadow, second.shadow, progress),
        max(between(first.padding, second.padding, progress), 0.0),
        snapped_border(between(first.border, second.border, progress)),
        mix(first.edge, second.edge, progress),
        max(between(first.blur, second.blur, progress), 0.0),
        {name: _mix_part(part, second.parts[name], progress) for name, part in first.parts.items()},
        second.left,
        second.width,
    )


def mix_fills(
    first: LookStyle, second: LookStyle, progress: float
) -> tuple[tuple[Fill, ...], tuple[float, ...]]:
    """Colours become one colour between them; gradients are both there, in shares that add up."""
    one, other = first.fills[0], second.fills[0]
    alone = len(first.fills) == len(second.fills) == 1
    if alone and isinstance(one, Color) and isinstance(other, Color):
        return (mix(one, other, progress),), (1.0,)
    share = min(max(progress, 0.0), 1.0)
    return mixed_shares(
        dict(zip(first.fills, first.shares, strict=True)),
        dict(zip(second.fills, second.shares, strict=True)),
        share,
    )


def mixed_shares(
    first: dict[Thing, float], second: dict[Thing, float], share: float
) -> tuple[tuple[Thing, ...], tuple[float, ...]]:
    """Things and how much there is of each, between two such states."""
    things = {**first, **second}
    mixed = {
        thing: first.get(thing, 0.0) * (1 - share) + second.get(thing, 0.0) * share
        for thing in things
    }
    return tuple(mixed), tuple(mixed.values())


def _mix_part(first: PartStyle, second: PartStyle, progress: float) -> PartStyle:
    """A part between two looks: a new picture is mixed with the old one, which dips nowhere."""
    images, shares = mixed_shares(
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
    )


def snapped_border(width: float) -> float:
    """A border's width as browsers use it: whole px, one at least where there is any."""
    return float(max(math.floor(width), 1)) if width > 0 else 0.0


def between(first: float, second: float, progress: float) -> float:
    """A number at some share of the way from one to another."""
    return first + (second - first) * progress


def _moved(part: PartBox, left: float, top: float) -> PartBox:
    texts = tuple(text.moved(left, top) for text in part.texts)
    return PartBox(part.box.moved(left, top), texts, part.style)
