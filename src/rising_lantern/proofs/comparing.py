"""What a browser shows, held against the moment that was predicted."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.exports.placing import FILLER
from rising_lantern.layout.headers import Going
from rising_lantern.layout.items import ContentBox, Item
from rising_lantern.layout.pause import is_icon
from rising_lantern.layout.screen import Screen
from rising_lantern.layout.sections import SectionBox
from rising_lantern.proofs.reading import State, content_name, layer_name
from rising_lantern.scenes.scene import Scene
from rising_lantern.scroll.moments import Moment, Sweep

BOX_PX, LAYER_PX = 0.5, 1.0
"""How far a rectangle, and that of a moving layer, may be from the prediction."""
_SAME_PLACE = 0.5  # of a part that the site lays out, as it stands in its planned place
COLOR_LEVELS, ALPHA = 2.0, 0.004
_SEEN_ALPHA = 0.02  # a colour that is fainter is not compared
_HAIR_PX = 1.0  # of a text that arrives: with so little of it on the screen it may still wait
_COLORS = ("rgb", "color(", "#", "lab", "lch", "oklab", "oklch", "hsl", "hwb")
_INKS = {"text": "text", "link": "link", "fill": "icon"}


@dataclass(frozen=True, slots=True)
class Disagreement:
    """One thing that a browser shows otherwise than was predicted.

    Attributes:
        what: What it is: ``header``, ``part brand``, ``opening, layer 2``.
        measure: What of it differs.
        scroll: The scroll position in px.
        going: The way the reader came.
        expected: What was predicted.
        found: What the browser has.
        by: By how much they differ, in the unit of the measure.
        limit: By how much they may.
    """

    what: str
    measure: str
    scroll: float
    going: Going
    expected: str
    found: str
    by: float
    limit: float


@dataclass(frozen=True)
class _Place:
    """Where a comparison is made."""

    scroll: float
    going: Going

    def box(
        self, what: str, found: list[float] | None, expected: Rect, limit: float = BOX_PX
    ) -> Iterator[Disagreement]:
        """Compare a rectangle."""
        values = (expected.left, expected.top, expected.width, expected.height)
        words = _words(values)
        if found is None:
            yield self._differs(what, "rectangle", words, "not there", float("inf"), limit)
            return
        by = max(abs(a - b) for a, b in zip(found, values, strict=True))
        if by > limit:
            yield self._differs(what, "rectangle", words, _words(found), by, limit)

    def color(self, what: str, measure: str, found: str, expected: Color) -> Iterator[Disagreement]:
        """Compare a colour."""
        *rgb, alpha = channels(found)
        if abs(alpha - expected.alpha) > ALPHA:
            by = abs(alpha - expected.alpha)
            yield self._differs(what, f"{measure}, alpha", expected.hex(), found, by, ALPHA)
        elif expected.alpha > _SEEN_ALPHA:
            by = max(abs(a - b) for a, b in zip(rgb, expected.bytes[:3], strict=True))
            if by > COLOR_LEVELS:
                yield self._differs(what, measure, expected.hex(), found, by, COLOR_LEVELS)

    def number(
        self, what: str, measure: str, found: float, expected: float, limit: float
    ) -> Iterator[Disagreement]:
        """Compare a number."""
        by = abs(found - expected)
        if by > limit:
            yield self._differs(what, measure, f"{expected:.3f}", f"{found:.3f}", by, limit)

    def same(
        self, what: str, measure: str, found: object, expected: object
    ) -> Iterator[Disagreement]:
        """Compare what is either equal or not."""
        if found != expected:
            yield self._differs(what, measure, str(expected), str(found), 1.0, 0.0)

    def _differs(
        self, what: str, measure: str, expected: str, found: str, by: float, limit: float
    ) -> Disagreement:
        place = self.scroll, self.going
        return Disagreement(what, measure, *place, expected, found, by, limit)


def disagreements(
    state: State, scene: Scene, scroll: float, going: Going = "down", *, texts: bool = True
) -> Iterator[Disagreement]:
    """What a browser shows at a position otherwise than the moment says.

    Args:
        state: What has been read there.
        scene: The prediction.
        scroll: The scroll position in px.
        going: The way the reader came.
        texts: Whether the rectangles of texts are compared.
    """
    swept = scene.sweep([scroll], going)
    moment = swept.moment(0)
    place = _Place(scroll, going)
    yield from _header(state, scene, moment, place, texts=texts)
    for name, box in moment.sections.items():
        if name.startswith(FILLER):
            continue
        yield from place.box(f"section {name}", state["sections"].get(name), box)
    if texts:
        yield from _texts(state, scene, moment, place)
    yield from _layers(state, swept, moment, place)


def _header(
    state: State, scene: Scene, moment: Moment, place: _Place, *, texts: bool
) -> Iterator[Disagreement]:
    header = scene.box.header
    if header is None or moment.header is None:
        return
    if state["look"] is not None:
        yield from place.same("header", "look", state["look"], moment.look)
    yield from place.box("header", state["header"], moment.header.box)
    if state["header"] is None:
        return
    if all(isinstance(look.fill, Color) for look in header.looks):
        yield from place.color(
            "header", "background colour", state["background"], moment.header.background
        )
    yield from place.color("header", "text colour", state["color"], moment.header.color)
    parts = scene.document.headers[header.name].parts
    own = {name for name, part in parts.items() if part.selector}
    # Where texts are wider, what stands beside them is elsewhere as well.
    exact = texts or not any(part.words for part in header.parts.values())
    for name, part in moment.parts.items() if exact else ():
        found = state["parts"].get(name)
        if name in own and found is not None and _overlap(found, part) > _SAME_PLACE:
            continue  # the site lays it out, near to where it is planned
        yield from place.box(f"part {name}", found, part)
    for name in moment.parts:
        style = moment.header.state.styles[name]
        if header.parts[name].words or style.tinted:
            yield from _inks(place, f"part {name}", state["inks"].get(name, ()), style.color)


def _overlap(found: list[float], planned: Rect) -> float:
    """The share of the smaller of two boxes in which they overlap."""
    left, top, width, height = found
    across = min(left + width, planned.right) - max(left, planned.left)
    down = min(top + height, planned.bottom) - max(top, planned.top)
    least = min(width * height, planned.width * planned.height)
    return max(across, 0.0) * max(down, 0.0) / least if least else 0.0


Ink = list[str]
"""Whose letters or icon they are, ``text``, ``link``, ``fill`` or ``picture``, and the colour."""


def _inks(
    place: _Place, what: str, inks: Sequence[Ink], expected: Color, *, links: Color | None = None
) -> Iterator[Disagreement]:
    """The colours of all letters and icons in something that has one colour, but for its links."""
    for whose, kind, found in inks:
        if kind == "picture" or not found.startswith(_COLORS):
            continue  # a picture, or an icon that is filled with a pattern
        wanted = links if links is not None and kind == "link" else expected
        for item in place.color(what, f"{_INKS[kind]} colour", found, wanted):
            yield replace(item, found=f"{item.found} of {whose}")


def _texts(state: State, scene: Scene, moment: Moment, place: _Place) -> Iterator[Disagreement]:
    """Texts are in their places, but for those that are still to arrive."""
    for section in scene.box.sections:
        top = moment.sections[section.name].top
        if not -section.height < top < scene.box.screen.height:
            continue
        for item in section.items:
            if is_icon(item):
                continue  # it is drawn by a pseudo-element
            box = content_box(item, top, moment.scroll_px)
            # What is still to arrive stands elsewhere until it comes onto the screen.
            arrives = isinstance(item, ContentBox) and item.entrance
            if arrives and not _is_seen(box, section, top, scene.box.screen):
                continue
            name = content_name(section.name, item)
            yield from place.box(name, state["texts"].get(name), box)
            yield from _letters(state, item, name, place)


def _letters(state: State, item: Item, name: str, place: _Place) -> Iterator[Disagreement]:
    """The letters of a text have its colour, those of its links have theirs, and all are seen."""
    if not isinstance(item, ContentBox) or name not in state["texts"]:
        return
    links = item.links[0].color if item.links else None
    yield from _inks(place, name, state["letters"].get(name, ()), item.color, links=links)
    yield from place.number(name, "opacity", float(state["seen"][name]), 1.0, ALPHA)


def _is_seen(box: Rect, section: SectionBox, top: float, screen: Screen) -> bool:
    """Whether a place is on the screen by more than a hair, and within its section."""
    high, low = max(box.top, top, 0.0), min(box.bottom, top + section.height, screen.height)
    left = max(box.left, section.box.left, 0.0)
    right = min(box.right, section.box.right, screen.client_width)
    return low - high > _HAIR_PX and right - left > _HAIR_PX


def content_box(item: Item, section_top: float, scroll: float) -> Rect:
    """Where a content stands on the screen, in CSS px, once it has arrived.

    Args:
        item: The text, picture or box.
        section_top: Its section's upper edge on the screen.
        scroll: The scroll position.
    """
    x, y = item.motion.origin(section_top, scroll)
    return item.box.moved(float(x), float(y))


def _layers(state: State, swept: Sweep, moment: Moment, place: _Place) -> Iterator[Disagreement]:
    """Layers that move are where they are predicted, and as opaque."""
    for track in swept.layers():
        if not track.box.moves and not track.box.motion.path:
            continue
        name = layer_name(track.section, track.index)
        if name not in state["layers"]:
            yield from place.same(name, "layer", "not there", "there")
            continue
        opacity, found = float(track.opacity[0]), float(state["opacities"][name])
        yield from place.number(name, "opacity", found, opacity, ALPHA)
        if track.visible[0] > 0 and track.box.moves:
            own = moment.sections.get(track.section)
            motion = track.box.motion
            scale = float(motion.scale(moment.scroll_px))
            left, above = motion.origin(own.top if own else -moment.scroll_px, moment.scroll_px)
            area = Rect(float(left), float(above), motion.width * scale, motion.height * scale)
            yield from place.box(name, state["layers"][name], area, LAYER_PX)


def channels(text: str) -> list[float]:
    """A computed colour of a browser: three channels of 255, and alpha."""
    color = parse_color(text)
    return [*(float(channel) for channel in color.bytes[:3]), color.alpha]


def _words(box: tuple[float, ...] | list[float]) -> str:
    left, top, width, height = (f"{value:.1f}" for value in box)
    return f"{width} x {height} at {left}, {top}"
