"""A header as one look wears it, or as it is between two: its values in px and its parts' boxes."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.css.backgrounds import Box
from rising_lantern.css.colors import Color, mix
from rising_lantern.css.shadows import UsedShadow, mix_shadows
from rising_lantern.layout.fonts import FontBook
from rising_lantern.layout.screen import Screen, font_px
from rising_lantern.layout.text import Style, TextBlock, set_text
from rising_lantern.plan.files import Picture
from rising_lantern.plan.headers import Header, Look, Part, PartLook

_LEADING = 1.4
MOST_HEADER_PX = 16_384
"""The greatest height of a header, that of the largest screen."""

_UNBROKEN = 1e9


@dataclass(frozen=True, slots=True)
class PartStyle:
    """What one part wears.

    Attributes:
        images: Pictures from the lowest to the topmost: two while one fades over the other.
        shares: How opaque each of them is, 0 to 1.
        width: Width of the picture in CSS px.
        height: Height of the picture in CSS px.
        size: Font size of a text in CSS px.
        color: Colour of a text.
    """

    images: tuple[str, ...]
    shares: tuple[float, ...]
    width: float
    height: float
    size: float
    color: Color


@dataclass(frozen=True, slots=True)
class LookStyle:
    """What a header wears: used values, lengths in CSS px."""

    height: float
    background: Color
    color: Color
    shadow: tuple[UsedShadow, ...]
    parts: dict[str, PartStyle]


@dataclass(frozen=True, slots=True)
class PartBox:
    """A part in its place.

    Attributes:
        box: Its border box, from the header's upper left corner.
        texts: Its texts, from the same corner; none for a picture.
        style: What it wears.
    """

    box: Box
    texts: tuple[TextBlock, ...]
    style: PartStyle


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
        """Whether it takes room of its own above the first section."""
        return self.entry.position in {"static", "sticky"}

    def flow_height(self, height: float) -> float:
        """The room in px that it takes above the first section at some height of its own."""
        if not self.in_flow:
            return 0.0
        return self.styles[0].height if self.entry.hold_space else height

    def coming(self, look: int, progress: float) -> LookStyle:
        """What it wears while a look, by its index, comes after the one before it.

        Args:
            look: The index of the look.
            progress: Its eased share; 1 where it is complete.
        """
        if progress == 1 or look == 0:
            return self.styles[look]
        return mix_looks(self.styles[look - 1], self.styles[look], progress)

    def place_parts(self, style: LookStyle) -> dict[str, PartBox]:
        """Its parts in their places: groups at the start, centre and end, centred in height."""
        placed: dict[str, PartBox] = {}
        padding = self.entry.padding.px(self.screen.basis(whole=self.screen.client_width))
        gap = self.entry.gap.px(self.screen.basis())
        room = self.screen.client_width - 2 * padding
        for side, share in (("start", 0.0), ("center", 0.5), ("end", 1.0)):
            members = [n for n, part in self.entry.parts.items() if part.side == side]
            made = {name: self._part(self.entry.parts[name], style.parts[name]) for name in members}
            width = sum(part.box.width for part in made.values()) + gap * max(len(made) - 1, 0)
            left = padding + (room - width) * share
            for name, part in made.items():
                top = (style.height - part.box.height) / 2
                placed[name] = _moved(part, left, top)
                left += part.box.width + gap
        return {name: placed[name] for name in self.entry.parts}

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


def lay_out_header(
    name: str, entry: Header, screen: Screen, fonts: FontBook, pictures: dict[str, Picture]
) -> HeaderBox:
    """A header on a screen, with what it wears in each look."""
    looks = entry.looks or {"plain": Look()}
    styles = tuple(_style(entry, look, screen, pictures) for look in looks.values())
    inset = 0.0 if entry.position == "static" else entry.top.px(screen.basis(whole=screen.height))
    return HeaderBox(name, entry, screen, fonts, inset, tuple(looks), styles)


def _style(entry: Header, look: Look, screen: Screen, pictures: dict[str, Picture]) -> LookStyle:
    basis = screen.basis(whole=screen.height)
    height = min(max((look.height or entry.height).px(basis), 0.0), MOST_HEADER_PX)
    shadow = entry.shadow if look.shadow is None else look.shadow
    color = look.color or entry.color
    parts = {
        name: _part_style(part, look.part(name), color, screen, pictures)
        for name, part in entry.parts.items()
    }
    return LookStyle(
        height,
        look.background or entry.background,
        color,
        tuple(one.used(basis) for one in shadow),
        parts,
    )


def _part_style(
    part: Part, change: PartLook, color: Color, screen: Screen, pictures: dict[str, Picture]
) -> PartStyle:
    size = font_px(change.size or part.size, screen)
    color = change.color or part.color or color
    name = change.image or part.image
    if name is None:
        return PartStyle((), (), 0.0, 0.0, size, color)
    picture = pictures[name]
    asked = change.width or part.width
    width = float(picture.width)
    if asked:
        width = max(asked.px(screen.basis(whole=screen.client_width)), 0.0)
    height = width * picture.height / picture.width
    return PartStyle((name,), (1.0,), width, height, size, color)


def mix_looks(first: LookStyle, second: LookStyle, progress: float) -> LookStyle:
    """What a header wears between two looks; progress is eased and may overshoot 0..1."""
    return LookStyle(
        max(_between(first.height, second.height, progress), 0.0),
        mix(first.background, second.background, progress),
        mix(first.color, second.color, progress),
        mix_shadows(first.shadow, second.shadow, progress),
        {name: _mix_part(part, second.parts[name], progress) for name, part in first.parts.items()},
    )


def _mix_part(first: PartStyle, second: PartStyle, progress: float) -> PartStyle:
    """A part between two looks: a new picture is laid over the old one, which stays opaque."""
    images, shares = second.images, second.shares
    if first.images != second.images:
        images = first.images + second.images
        shares = (*first.shares, min(max(progress, 0.0), 1.0))
    return PartStyle(
        images,
        shares,
        max(_between(first.width, second.width, progress), 0.0),
        max(_between(first.height, second.height, progress), 0.0),
        max(_between(first.size, second.size, progress), 0.0),
        mix(first.color, second.color, progress),
    )


def _between(first: float, second: float, progress: float) -> float:
    return first + (second - first) * progress


def _moved(part: PartBox, left: float, top: float) -> PartBox:
    texts = tuple(text.moved(left, top) for text in part.texts)
    return PartBox(part.box.moved(left, top), texts, part.style)
