"""The contrast of the texts that stand over sections, along the scroll."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from rising_lantern.base.arrays import Floats, Indices
from rising_lantern.css.blending import blend_over
from rising_lantern.css.blendmodes import SEPARABLE, BlendMode
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.css.contrast import ratio
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.links import LinkBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.backdrops import (
    Backdrop,
    ScreenBox,
    Stain,
    is_counted_faster,
    snapped,
)
from rising_lantern.legibility.bounds import even_veils, least_text_contrast
from rising_lantern.legibility.contrast import MEDIAN, WORST, contrast_on, luminance, shares
from rising_lantern.legibility.measurement import Measurement, measure_near_limits
from rising_lantern.legibility.speeds import passed_px, passing_speed
from rising_lantern.legibility.windows import order_of_ratios
from rising_lantern.paint.frames import Painter
from rising_lantern.scroll.moments import Sweep


def measure_texts(
    swept: Sweep,
    painter: Painter,
    needed: Mapping[tuple[str, int], float] | None = None,
    *,
    complete: bool = False,
) -> Iterator[tuple[tuple[str, int], ScreenBox, Measurement]]:
    """Where each text is on the screen, and its contrast, at each position of a sweep.

    WCAG 2.2 contrast ratio against the pixels that are really behind its letters: the page, its
    layers, its own panel and shadow. What passes over it, as a header does, does not count, and
    a text that arrives in time is measured where it has arrived.

    Args:
        swept: The positions.
        painter: Paints what is behind them.
        needed: The contrast that each text needs, by its section and index there; others are not
            measured. Positions that have to be painted are then left out where they are far from
            it. By default all texts are measured, at every position.
        complete: Whether those have a value all the same, between those of their neighbours.

    Yields:
        The section and the index in it, where the text is, and its contrast.
    """
    for index, section in enumerate(swept.page.sections):
        for position, content in enumerate(section.content):
            key = section.name, position
            if needed is not None and key not in needed:
                continue
            limit = None if needed is None else needed[key]
            item = _Measured(swept, painter, (index, position), content)
            yield key, *item.measured(limit, complete=complete)


def measure_links(
    swept: Sweep, painter: Painter, section: int, index: int, limit: float
) -> Iterator[tuple[LinkBox, str, ScreenBox, Measurement]]:
    """The contrast of the links of a text in each of their states, as :func:`measure_texts` has it.

    Args:
        swept: The positions.
        painter: Paints what is behind them.
        section: The place of the text's section on the page.
        index: The text's place among those of the section.
        limit: The contrast that they need.

    Yields:
        A link, its state where that has a colour of its own, where it is, and its contrast.
    """
    content = swept.page.sections[section].content[index]
    for link in content.links:
        states = {"": link.color, "visited": link.visited, "focused": link.focus}
        known: set[Color] = set() if link.text.lines else {*states.values()}
        for state, color in states.items():
            if color in known:
                continue
            known.add(color)
            own = replace(content, text=link.text, color=color)
            item = _Measured(swept, painter, (section, index), own)
            yield link, state, *item.measured(limit, complete=False)


def _box_on_screen(swept: Sweep, index: int, content: ContentBox) -> ScreenBox:
    """The box of a text's letters, as far as its section and the screen show it."""
    section, screen = swept.page.sections[index], swept.page.screen
    top = swept.top_of(section)
    edges = [snapped(edge) for edge in (top, top + section.height)]
    x, y = content.motion.origin(top, swept.scroll)
    left = whole_px(float(x.flat[0])) + whole_px(content.text.box.left)
    right = left + whole_px(content.text.box.width)
    upper = snapped(y) + whole_px(content.text.box.top)
    lower = upper + whole_px(content.text.box.height)
    whole = ScreenBox(upper, lower, max(left, 0), min(right, screen.client_width))
    return whole.within(np.maximum(edges[0], 0), np.minimum(edges[1], screen.height))


def measure_button(
    swept: Sweep, painter: Painter, section: int, index: int, limit: float
) -> Iterator[tuple[str, ScreenBox, Measurement]]:
    """The contrast of a button in each state in which it has other colours.

    Args:
        swept: The positions.
        painter: Paints what is behind it.
        section: The place of its section on the page.
        index: Its place among the texts of the section.
        limit: The contrast that it needs.

    Yields:
        The state, where the button is, and its contrast.
    """
    content = swept.page.sections[section].content[index]
    for look in content.states:
        item = _Measured(swept, painter, (section, index), replace(content, color=look.color))
        if look.background is None:
            yield look.state, *item.measured(limit, complete=False)
            continue
        box = _box_on_screen(swept, section, content)
        found = contrast_on(look.background, look.color)
        measurement = Measurement.empty(len(swept))
        measurement.contrast[box.seen] = measurement.median[box.seen] = found
        yield look.state, box, measurement


@dataclass(frozen=True)
class _Measured:
    """A text, or the words of a link in it, whose contrast is measured.

    Attributes:
        swept: The positions.
        painter: Paints what is behind it.
        place: The place of its section on the page, and that of the text among the section's.
        content: What is measured: the text, or its words with a colour of their own.
    """

    swept: Sweep
    painter: Painter
    place: tuple[int, int]
    content: ContentBox

    def measured(self, limit: float | None, *, complete: bool) -> tuple[ScreenBox, Measurement]:
        """Where it is on the screen, and its contrast there."""
        box = _box_on_screen(self.swept, self.place[0], self.content)
        measurement = Measurement.empty(len(self.swept))
        self._measure(box, measurement, limit, complete=complete)
        return box, measurement

    def _measure(
        self, box: ScreenBox, measurement: Measurement, limit: float | None, *, complete: bool
    ) -> None:
        places = np.flatnonzero(box.seen)
        if not places.size:
            return
        swept, painter, content = self.swept, self.painter, self.content
        index = self.place[0]
        is_plain = content.blend == "normal" and painter.is_lowest(*self.place)
        seen = box.at(places)
        if is_plain and is_counted_faster(seen, swept.scroll[places]):
            sheets = painter.sheets_below(*self.place)
            veils = even_veils(swept.page.sections[index], content, sheets)
            lower = sheets[:1] if veils else sheets
            backdrop = Backdrop(swept, {index: lower}, painter.canvas)
            stain = Stain(content.color, veils=veils)
            needed = None if limit is None or complete else np.full(len(places), limit)
            plain, worst, median = backdrop.count(seen, places, stain, needed)
            measurement.contrast[places[plain]] = worst[plain]
            measurement.median[places[plain]] = median[plain]
            places = places[~plain]
        if not places.size:
            return
        paint = partial(self._paint, box, measurement)
        if limit is None:
            paint(places)
            return
        section = swept.page.sections[index]
        sheets = painter.sheets_below(*self.place)
        if not complete and least_text_contrast(section, content, sheets) >= limit:
            return
        passed = passed_px(passing_speed(swept.page, section), swept.scroll[places])
        measure_near_limits(places, passed, np.full(len(places), limit), paint)
        if complete:
            measurement.fill(places)

    def _paint(self, box: ScreenBox, measurement: Measurement, places: Indices) -> Floats:
        """Measure position by position, on what is painted there; gives the contrast."""
        content, stain = self.content, Stain(self.content.color)
        for index in places:
            region = (int(box.first[index]), int(box.last[index]), box.left, box.right)
            behind = self.painter.behind_text(self.swept, int(index), *self.place, region)
            found = (
                stain.order(behind, (WORST, MEDIAN), once=False)
                if content.blend == "normal"
                else order_of_ratios(_blended_contrast(behind, content), (WORST, MEDIAN))
            )
            measurement.contrast[index], measurement.median[index] = found
        return measurement.contrast[places]


def _blended_contrast(behind: Bytes, content: ContentBox) -> Floats:
    """The contrast of letters with each pixel that they blend with."""
    if content.blend in SEPARABLE:
        return _blended_contrast_by_channel(behind, content.color, content.blend)
    letters = behind.copy()
    ink = np.broadcast_to(content.color.premultiplied_bytes, (*behind.shape[:2], 4))
    blend_over(letters, np.ascontiguousarray(ink), content.blend)
    return ratio(luminance(letters), luminance(behind))


def _blended_contrast_by_channel(behind: Bytes, color: Color, mode: BlendMode) -> Floats:
    """The contrast of letters in a mode that mixes each channel by itself, of 256 levels each."""
    ramp = np.repeat(np.arange(256, dtype=np.uint8)[:, None, None], 3, axis=2)
    letters = ramp.copy()
    ink = np.broadcast_to(color.premultiplied_bytes, (256, 1, 4)).astype(np.uint8)
    blend_over(letters, ink, mode)
    light = np.zeros((2, *behind.shape[:2]), dtype=np.float32)
    levels = [shares(item)[:, 0].astype(np.float32) for item in (letters, ramp)]
    for channel in range(3):
        places = behind[..., channel].astype(np.intp)
        for which, shared in enumerate(levels):
            light[which] += shared[:, channel].take(places)
    return ratio(light[0], light[1])
