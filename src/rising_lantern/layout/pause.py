"""The control that stops what runs by itself: where on a page it stands, and what it shows."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

from rising_lantern.css.backgrounds import Position, Rect, parse_position
from rising_lantern.css.colors import BLACK, WHITE, Color, laid_over
from rising_lantern.css.contrast import contrast_of
from rising_lantern.layout.content import Materials, Standing
from rising_lantern.layout.flow import Flow
from rising_lantern.layout.items import ContentBox, FigureBox, Item
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.screen import font_px, whole_px
from rising_lantern.layout.sections import SectionBox
from rising_lantern.layout.texts import Style, TextBlock, set_text
from rising_lantern.plan.models.content import PLACED_WIDTH
from rising_lantern.plan.models.pages import Page
from rising_lantern.plan.models.pause import LEAST_CONTRAST, Pause

PATH = ("pause",)
"""The path, in place of one in its section, of what the control is laid out as."""

LEADING = 1.4
BAR = 0.25
"""The width of each of the icon's two bars, and of the room between them, in font sizes."""
GAP = 0.5
"""The room between the icon and the words, in font sizes."""
_CLEAR_PX = 8  # from what is in the section
_EDGE = 16  # px from the section's edges, and from the header
_FREE = [
    "left {edge}px bottom {edge}px",
    "right {edge}px bottom {edge}px",
    "right {edge}px top {below}px",
    "left {edge}px top {below}px",
    "left 50% bottom {edge}px",
    "left {edge}px top 50%",
    "right {edge}px top 50%",
    "left 50% top {below}px",
]


@dataclass(frozen=True, slots=True)
class PauseBox:
    """The control, laid out.

    Attributes:
        section: The section that it stands in.
        at: Where in it.
        z: Its ``z-index``: it lies over all else in its section.
        color: The colour of its letters and its icon.
        background: Its ground.
        box: Its border box, from the section's upper left corner.
        items: Its ground with its letters, then the bars of its icon.
    """

    section: str
    at: Position
    z: int
    color: Color
    background: Color
    box: Rect
    items: tuple[Item, ...]


def is_pause(item: Item) -> bool:
    """Whether something over a section belongs to the control."""
    return item.path[:1] == PATH


def is_icon(item: Item) -> bool:
    """Whether something over a section is a bar of the control's icon."""
    return is_pause(item) and item.path != PATH


def lay_out_pause(
    entry: Pause | None,
    page: Page,
    sections: Sequence[SectionBox],
    ground: SectionBox | None,
    on: Materials,
    flow: Flow,
) -> PauseBox | None:
    """Lay out the control of a page; None where nothing runs, or the plan leaves it out.

    Args:
        entry: Its values in the plan.
        page: Those of the page.
        sections: The page's sections.
        ground: What the page has behind them.
        on: What texts are set with.
        flow: How they and the header follow each other.
    """
    running = [section for section in sections if _runs(section)]
    home = running[0] if running else sections[0] if ground and _runs(ground) else None
    if entry is None or home is None:
        return None
    color, background = _colors(entry, page)
    control = _Control(entry, color, background, home, on)
    at = entry.at or _free_place(control, sections, flow)
    return PauseBox(
        home.name, at, control.z, color, background, control.box(at), tuple(control.items(at))
    )


def _runs(section: SectionBox) -> bool:
    return any(layer.run is not None or layer.video is not None for layer in section.layers)


def _colors(entry: Pause, page: Page) -> tuple[Color, Color]:
    """Its colours: where the page's own do not stand out, those that do."""
    if entry.color is not None and entry.background is not None:
        return entry.color, entry.background
    letters = laid_over(WHITE, entry.color or page.color)
    ground = entry.background or laid_over(WHITE, page.background.color)
    if contrast_of(letters, ground) >= LEAST_CONTRAST:
        return letters, ground
    if entry.color is not None:
        return letters, _opposite(letters)
    return _opposite(ground), ground


def _opposite(color: Color) -> Color:
    return max(BLACK, WHITE, key=lambda other: contrast_of(color, other))


def _free_place(control: _Control, sections: Sequence[SectionBox], flow: Flow) -> Position:
    """The first place at which it covers nothing at any scroll position, and is not covered."""
    home = control.home
    others = (section.box for section in sections if section is not home)
    taken = [*(box.moved(-home.box.left, -home.top) for box in others), *_occupied_area(home)]
    below = math.ceil(flow.covered(home.box)) + _EDGE
    places = [parse_position(text.format(edge=_EDGE, below=below)) for text in _FREE]
    boxes = ((at, control.box(at)) for at in places)
    free = (at for at, box in boxes if not any(_meets(box, other) for other in taken))
    return next(free, places[0])


def _occupied_area(home: SectionBox) -> Iterator[Rect]:
    """What a section's content takes up; what moves by itself is taken to pass all along."""
    for item in home.items:
        yield item.box if not item.moves else Rect(item.box.left, 0.0, item.box.width, home.height)


def _meets(one: Rect, other: Rect) -> bool:
    return (
        one.left < other.right + _CLEAR_PX
        and other.left < one.right + _CLEAR_PX
        and one.top < other.bottom + _CLEAR_PX
        and other.top < one.bottom + _CLEAR_PX
    )


@dataclass(frozen=True)
class _Control:
    """The control before it has a place.

    Attributes:
        entry: Its values in the plan.
        color: The colour of its letters and its icon.
        background: Its ground.
        home: The section that it stands in.
        on: What texts are set with.
    """

    entry: Pause
    color: Color
    background: Color
    home: SectionBox
    on: Materials

    @property
    def z(self) -> int:
        """Its ``z-index``."""
        return max([item.z for item in self.home.items], default=0)

    @property
    def _size(self) -> float:
        return font_px(self.entry.size, self.on.screen)

    @property
    def _from_right(self) -> bool:
        return self.on.script.direction == "rtl"

    @property
    def _bar(self) -> int:
        return max(whole_px(BAR * self._size), 1)

    @property
    def _padding(self) -> float:
        return self.entry.padding.px(self.on.screen.basis(font_size=self._size))

    @cached_property
    def _words(self) -> TextBlock | None:
        """Its words; None where it is an icon alone."""
        if self.entry.icon_only:
            return None
        script = self.on.script
        style = Style(
            self.on.fonts.face(self.entry.font, self.entry.weight, script), self._size, LEADING
        )
        whole = self.home.box.width
        most = min(PLACED_WIDTH.px(self.on.screen.basis(whole=whole)), whole)
        room = most - 2 * self._padding - 3 * self._bar - GAP * self._size
        return set_text(self.entry.text, style, max(room, 0.0))

    @cached_property
    def _extent(self) -> tuple[float, float]:
        words, line = self._words, LEADING * self._size
        inner = (line, line)
        if words is not None:
            inner = 3 * self._bar + GAP * self._size + words.box.width, words.box.height
        return inner[0] + 2 * self._padding, inner[1] + 2 * self._padding

    def box(self, at: Position) -> Rect:
        """Its border box at a place, from the section's upper left corner."""
        width, height = self._extent
        whole = self.home.box
        area = max(whole.width, width), max(whole.height, height)
        left, top = at.used(area, (width, height), self.on.screen.basis(font_size=self._size))
        return Rect(left, top, width, height)

    def items(self, at: Position) -> Iterator[Item]:
        """What it shows at a place: its ground with its words, and the bars of its icon."""
        box, words = self.box(at), self._words
        beside = math.floor((LEADING * self._size - 3 * self._bar) / 2)
        motion = Standing(self.home.box, self.home.settled).motion(1.0)
        yield self._ground(box, words, motion)
        start = self._padding + (beside if words is None else 0.0)
        for bar in (0, 2):
            left = start + bar * self._bar
            if self._from_right:
                left = box.width - left - self._bar
            place = Rect(left, self._padding + beside, self._bar, 3 * self._bar)
            place = place.moved(box.left, box.top)
            yield FigureBox((*PATH, "box", bar), "", motion, place, self.color, z=self.z)

    def _ground(self, box: Rect, words: TextBlock | None, motion: Motion) -> Item:
        name = self.entry.text
        radius = self.entry.radius.px(self.on.screen.basis(font_size=self._size))
        if words is None:
            return FigureBox(PATH, name, motion, box, self.background, radius=radius, z=self.z)
        icon = 0.0 if self._from_right else 3 * self._bar + GAP * self._size
        text = words.moved(box.left + self._padding + icon, box.top + self._padding)
        return ContentBox(
            path=PATH,
            words=name,
            motion=motion,
            box=box,
            text=text,
            rest=text,
            links=(),
            color=self.color,
            states=(),
            weight=self.entry.weight,
            panel=self.background,
            radius=radius,
            shadows=(),
            blend="normal",
            z=self.z,
            entrance=None,
        )
