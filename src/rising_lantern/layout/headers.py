"""A header on a screen: its used values in each look, with its parts placed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from typing import Literal

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.css.gradients import mean_color
from rising_lantern.css.lengths import Length
from rising_lantern.layout.fonts import Face
from rising_lantern.layout.header_styles import HeaderStyle, PartStyle, RowBox
from rising_lantern.layout.screen import Screen
from rising_lantern.layout.texts import Style, TextBlock, set_text
from rising_lantern.plan.models.changes import Change
from rising_lantern.plan.models.fills import Fill
from rising_lantern.plan.models.thresholds import Threshold

Side = Literal["start", "center", "end"]
Arrive = Literal["slide", "fade"]
Going = Literal["down", "up"]

MOST_HEADER_PX = 16_384
"""The greatest height of a header, that of the largest screen."""

PLAIN = "plain"
"""The name of the only look of a header that has none of its own."""

_UNBROKEN = 1e9


@dataclass(frozen=True, slots=True)
class HeaderPart:
    """What a part of a header is in every look.

    Attributes:
        name: Its name in the plan.
        words: Its texts, side by side; none for a picture.
        face: Their font; None for a picture.
        weight: Their ``font-weight``.
        gap: The room between two of them; em count their font size.
        side: Where in the header it stands.
        row: The row that it is in; None where the header has none.
        is_logo: Whether it is a logo, which may have any contrast.
        least_contrast: The contrast that the plan demands of it; None where it names none.
    """

    name: str
    words: tuple[str, ...]
    face: Face | None
    weight: int
    gap: Length
    side: Side
    row: str | None
    is_logo: bool
    least_contrast: float | None


@dataclass(frozen=True, slots=True)
class PartBox:
    """A part in its place.

    Attributes:
        box: Its border box, from the screen's left edge and the header's upper edge.
        texts: Its texts, from the same corner; none for a picture.
        style: Its values.
        row: The row that it is in; None where the header has none.
    """

    box: Rect
    texts: tuple[TextBlock, ...]
    style: PartStyle
    row: RowBox | None = None


@dataclass(frozen=True, slots=True)
class LinkInk:
    """The links of a part in one of their states.

    Attributes:
        state: ``current``, ``focus``, ``hover`` or ``pressed``.
        color: Their colour then.
        background: Their background then; None for what is behind the part.
    """

    state: str
    color: Color
    background: Color | None


@dataclass(frozen=True, kw_only=True)
class LookBox(HeaderStyle):
    """A header in one of its looks, with its used values and its parts in their places.

    Attributes:
        name: The look's name in the plan.
        start: Where along the scroll it starts; None for the first look and for looks by tone.
        back: Where it ends for a reader who scrolls up; None where it started.
        change: How it replaces the look before it.
        arrive: How it arrives as a second header; None where the header itself changes.
        going: The way in which a reader scrolls for it; None where any.
        after: How far they go that way before it starts, and the other way before it ends.
        parts: The parts that are shown, in their places, by name.
        links: The states in which the links of a part have other colours, by its name.
    """

    name: str
    start: Threshold | None
    back: Threshold | None
    change: Change
    arrive: Arrive | None
    going: Going | None
    after: float
    parts: Mapping[str, PartBox] = field(hash=False)
    links: Mapping[str, tuple[LinkInk, ...]] = field(hash=False, default_factory=dict)

    @property
    def fill(self) -> Fill:
        """Its background."""
        return self.fills[0]

    @property
    def background(self) -> Color:
        """Its colour, with that of its highest row; of a gradient, the mean of its colours."""
        return self.seen_over(mean_color(self.fill))


@dataclass(frozen=True)
class HeaderBox:
    """A header laid out on a screen.

    Attributes:
        name: Its name in the plan.
        screen: The screen.
        position: As CSS ``position``.
        inset: Its distance from the screen's upper edge, in CSS px.
        z: Its ``z-index``.
        starts_under: Whether the first section starts under it.
        hold_space: Whether it keeps the first look's height in the flow.
        home: The section that it sticks within; None for the page or a container.
        container: The height of the container that it sticks within, in CSS px; None for none.
        gap: The room between its parts, in CSS px.
        parts: Its parts, by name.
        looks: Its looks, in the plan's order.
        by_tone: The look over sections of each tone, by its index; empty where looks start at
            scroll positions.
        is_rtl: Whether its page runs from right to left, so that its start is on the right.
    """

    name: str
    screen: Screen
    position: Literal["static", "absolute", "fixed", "sticky"]
    inset: float
    z: int
    starts_under: bool
    hold_space: bool
    home: str | None
    container: float | None
    gap: float
    parts: Mapping[str, HeaderPart] = field(hash=False)
    looks: tuple[LookBox, ...]
    by_tone: Mapping[str, int] = field(hash=False)
    is_rtl: bool = False

    @cached_property
    def look_names(self) -> tuple[str, ...]:
        """The names of its looks, in the plan's order."""
        return tuple(look.name for look in self.looks)

    @property
    def in_flow(self) -> bool:
        """Whether it takes room of its own in its container."""
        return self.position in {"static", "sticky"}

    @property
    def is_pinned(self) -> bool:
        """Whether it stays at the screen's edge while the page scrolls."""
        return self.position in {"fixed", "sticky"}

    @property
    def sticks_within(self) -> bool:
        """Whether it sticks within a section or a container, and leaves the screen with it."""
        return self.home is not None or self.container is not None

    def room(self, flow_height: float) -> float:
        """The room in px that it takes up above the first section.

        Args:
            flow_height: The height of the header that stands in the flow.
        """
        if self.starts_under or self.home is not None:
            return 0.0
        if not self.in_flow:
            return max(self.inset + self.looks[0].height, 0.0)
        return self.looks[0].height if self.hold_space else flow_height

    def room_in(self, look: int) -> float:
        """The room in px that it takes up above the first section in one of its looks."""
        return self.room(self.looks[look].flow_height)

    def standing(self, look: int) -> int:
        """The look of the header in the flow while some look is current, by their indices.

        It is the same look, or where that arrives as a second header, the nearest before it that
        does not.
        """
        while look > 0 and self.looks[look].arrive:
            look -= 1
        return look

    def kept(self, part: str, before: int, look: int) -> str | None:
        """What of its own a part keeps from one look into another, by their indices.

        Returns:
            ``picture`` or ``colour``, or None where it keeps nothing.
        """
        first, second = (self.looks[index].styles[part] for index in (before, look))
        if first.images and not first.tinted:
            return "picture" if first.images == second.images else None
        same = first.own_color is not None and first.own_color == second.own_color
        return "colour" if same else None

    def place_parts(self, style: HeaderStyle) -> dict[str, PartBox]:
        """Place the parts that are shown: groups at the start, centre and end, centred in height.

        Args:
            style: The header's values. Parts of rows that are left out are not shown.
        """
        placed: dict[str, PartBox] = {}
        for name, row in style.stretches.items():
            if row.style is None or row.height > 0:
                placed |= self._place_row(style.styles, name, row)
        return {name: placed[name] for name in self.parts if name in placed}

    def _place_row(
        self, styles: Mapping[str, PartStyle], row_name: str | None, row: RowBox
    ) -> dict[str, PartBox]:
        """The parts of one row, or of a header without rows."""
        shown = [
            name
            for name, part in self.parts.items()
            if part.row == row_name and not styles[name].hidden
        ]
        result = {name: _part_box(self.parts[name], styles[name], self.screen) for name in shown}
        placed: dict[str, PartBox] = {}
        own = row if row.style else None
        for side, share in (("start", 0.0), ("center", 0.5), ("end", 1.0)):
            members = [name for name in shown if self.parts[name].side == side]
            widths = sum(result[name].box.width for name in members)
            spare = row.width - widths - self.gap * max(len(members) - 1, 0)
            left = row.left + spare * share
            for name in members:
                box = result[name].box
                first = 2 * row.left + row.width - left - box.width if self.is_rtl else left
                down = row.top + (row.height + row.lean - box.height) / 2
                placed[name] = replace(_moved(result[name], first, down), row=own)
                left += box.width + self.gap
        return placed


def _part_box(part: HeaderPart, style: PartStyle, screen: Screen) -> PartBox:
    """A part at the origin."""
    if part.face is None:
        return PartBox(Rect(0.0, 0.0, style.width, style.height), (), style)
    gap = part.gap.px(screen.basis(font_size=style.size))
    width, texts = _texts(part.words, part.face, (style.size, style.leading), gap)
    return PartBox(Rect(0.0, 0.0, width, style.box_height), texts, style)


@lru_cache(maxsize=1024)
def _texts(
    entries: tuple[str, ...], face: Face, sizes: tuple[float, float], gap: float
) -> tuple[float, tuple[TextBlock, ...]]:
    """The width of a part's texts beside each other, and the texts at the origin.

    Kept, since between two looks hundreds of states have the same.

    Args:
        entries: The texts.
        face: Their font.
        sizes: Its size in CSS px, and the line height as a multiple of it.
        gap: The room between two of them.
    """
    texts: list[TextBlock] = []
    left = 0.0
    for words in entries:
        block = set_text(words, Style(face, *sizes), _UNBROKEN)
        texts.append(block.moved(left, 0.0))
        left += block.box.width + gap
    width = left - gap if texts else 0.0
    if face.is_rtl:
        texts = [text.moved(width - text.box.left - text.box.right, 0.0) for text in texts]
    return width, tuple(texts)


def _moved(part: PartBox, left: float, top: float) -> PartBox:
    texts = tuple(text.moved(left, top) for text in part.texts)
    return PartBox(part.box.moved(left, top), texts, part.style)
