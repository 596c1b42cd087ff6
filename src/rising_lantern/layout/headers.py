"""A header on a screen: its used values in each look, with its parts placed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property, lru_cache
from typing import Literal

from rising_lantern.css.backgrounds import Position, Rect, Repeat, Size
from rising_lantern.css.colors import Color, laid_over
from rising_lantern.css.filters import Filter
from rising_lantern.css.gradients import mean_color
from rising_lantern.css.lengths import Length
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.layout.fonts import Face
from rising_lantern.layout.screen import Screen
from rising_lantern.layout.texts import Style, TextBlock, set_text
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.changes import Change
from rising_lantern.plan.models.fills import Fill
from rising_lantern.plan.models.thresholds import Threshold

Side = Literal["start", "center", "end"]
Arrive = Literal["slide", "fade"]
Going = Literal["down", "up"]

"""The height of a line of the texts of a header, in font sizes."""

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
class PartStyle:
    """The values of one part: those of a look, or those between two looks.

    Attributes:
        images: Pictures that are mixed: two while one fades into the other.
        shares: The share of each of them, 0 to 1; together 1.
        width: Width of the picture in CSS px.
        height: Height of the picture in CSS px.
        size: Font size of a text in CSS px.
        color: Colour of a text.
        hidden: Whether the part is left out.
        own_color: The colour that the part has for itself; None where it takes the look's.
        tinted: Whether a picture is a shape that is painted in the colour.
        leading: The line height of a text, as a multiple of its font size.
    """

    images: tuple[str, ...]
    shares: tuple[float, ...]
    width: float
    height: float
    size: float
    color: Color
    hidden: bool = False
    own_color: Color | None = None
    tinted: bool = False
    leading: float = 1.4

    @property
    def box_height(self) -> float:
        """The height of its box: that of the picture, or of a line of its text."""
        return self.height if self.images else self.size * self.leading


@dataclass(frozen=True, slots=True)
class HeaderLayer:
    """A picture or fill behind the parts of a header, which covers the header as it is.

    Attributes:
        name: The picture, by its name in the plan; None for a fill.
        picture: The same as a file.
        fill: Its colour or gradient; None for a picture.
        size: As CSS ``background-size``.
        position: As CSS ``background-position``.
        repeat: As CSS ``background-repeat``, along x and y.
        opacity: 0 to 1.
        filters: As CSS ``filter``.
        path: Where in the plan it is written.
    """

    name: str | None
    picture: Picture | None
    fill: Fill | None
    size: Size
    position: Position
    repeat: tuple[Repeat, Repeat]
    opacity: float
    filters: tuple[Filter, ...]
    path: tuple[str | int, ...] = field(default=(), compare=False)


Layers = tuple[HeaderLayer, ...]


@dataclass(frozen=True, slots=True)
class RowStyle:
    """The values of one row: those of a look, or those between two looks. Lengths are CSS px.

    Attributes:
        height: Its height; 0 where it is left out.
        fill: Its background.
        layers: Its pictures and fills over that, which are mixed: two sets while one fades.
        layer_shares: The share of each set, 0 to 1; together 1.
        padding: The room at its left and right end.
        lean: How much more room there is above its parts than below.
        border: The width of its border.
        edge: The colour of its border.
        clips: Whether what reaches out of it is cut off: some look leaves it out.
    """

    height: float
    fill: Color
    layers: tuple[Layers, ...]
    layer_shares: tuple[float, ...]
    padding: float
    lean: float
    border: float
    edge: Color
    clips: bool


@dataclass(frozen=True, slots=True)
class RowBox:
    """A stretch of a header in which parts stand. Lengths are CSS px.

    Attributes:
        left: Its left edge on the screen.
        width: Its width.
        height: Its height.
        top: Its distance from the header's upper edge.
        lean: How much more room there is above its parts than below.
        style: Its values; None for a header without rows.
    """

    left: float
    width: float
    height: float
    top: float = 0.0
    lean: float = 0.0
    style: RowStyle | None = None


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


class Shape:
    """What follows from the measures of a header, those of a look or those between two."""

    __slots__ = ()

    height: float
    padding: float
    lean: float
    border: float
    left: float
    width: float
    standing: float | None
    rows: Mapping[str, RowStyle]

    @property
    def stays(self) -> bool:
        """Whether it stays on the screen by itself: it has arrived as a second header."""
        return self.standing is not None

    @property
    def flow_height(self) -> float:
        """The height of the header that stands in the flow."""
        return self.height if self.standing is None else self.standing

    def seen_over(self, own: Color) -> Color:
        """A colour of the header with that of its highest row, where it has rows."""
        highest = max(self.rows.values(), key=lambda row: row.height, default=None)
        return laid_over(own, highest.fill) if highest else own

    @property
    def stretches(self) -> dict[str | None, RowBox]:
        """Where its parts stand, by the names of its rows; without rows it is one of no name."""
        if not self.rows:
            inset = self.padding + self.border
            whole = RowBox(self.left + inset, self.width - 2 * inset, self.height, lean=self.lean)
            return {None: whole}
        result: dict[str | None, RowBox] = {}
        top = 0.0
        for name, row in self.rows.items():
            inset = row.padding + row.border
            left, width = self.left + inset, self.width - 2 * inset
            result[name] = RowBox(left, width, row.height, top, row.lean, row)
            top += row.height
        return result


@dataclass(frozen=True, slots=True)
class LookBox(Shape):
    """A header in one of its looks: used values, lengths in CSS px.

    Attributes:
        name: The look's name in the plan.
        start: Where along the scroll it starts; None for the first look and for looks by tone.
        back: Where it ends for a reader who scrolls up; None where it started.
        change: How it replaces the look before it.
        arrive: How it arrives as a second header; None where the header itself changes.
        going: The way in which a reader scrolls for it; None where any.
        after: How far they go that way before it starts, and the other way before it ends.
        height: The header's height.
        fill: Its background.
        layers: Its pictures and fills over that, the topmost first.
        color: The colour of its texts.
        shadow: Its shadows, the topmost first.
        padding: The room at its left and right end.
        lean: How much more room there is above its parts than below.
        border: The width of its border.
        edge: The colour of its border.
        blur: The standard deviation of the blur of what is behind it.
        left: Its left edge on the screen.
        width: Its width.
        standing: The height of the header that stays in the flow below it, where it arrives as a
            second header; None where the header itself changes.
        rows: The values of its rows, by name, from top to bottom; none where it has none.
        styles: The values of all parts, by name.
        parts: The parts that are shown, in their places, by name.
    """

    name: str
    start: Threshold | None
    back: Threshold | None
    change: Change
    arrive: Arrive | None
    going: Going | None
    after: float
    height: float
    fill: Fill
    layers: Layers
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
    rows: Mapping[str, RowStyle] = field(hash=False)
    styles: Mapping[str, PartStyle] = field(hash=False)
    parts: Mapping[str, PartBox] = field(hash=False)

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

    def place_parts(self, styles: Mapping[str, PartStyle], shape: Shape) -> dict[str, PartBox]:
        """Place the parts that are shown: groups at the start, centre and end, centred in height.

        Args:
            styles: The values of all parts.
            shape: The header's measures. Parts of rows that are left out are not shown.
        """
        placed: dict[str, PartBox] = {}
        for name, row in shape.stretches.items():
            if row.style is None or row.height > 0:
                placed |= self._place_row(styles, name, row)
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
