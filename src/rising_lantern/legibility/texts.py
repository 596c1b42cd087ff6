"""The contrast of the texts that stand over sections, along the scroll."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import partial

import numpy as np

from rising_lantern.css.blending import blend_over
from rising_lantern.css.blendmodes import SEPARABLE, BlendMode
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.content import ContentBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.backdrops import Backdrop, ScreenBox, Stain, snapped
from rising_lantern.legibility.bounds import least_text_contrast
from rising_lantern.legibility.contrast import MEDIAN, WORST, luminance, ratio, shares
from rising_lantern.legibility.measurement import (
    FEWEST_COUNTED,
    Floats,
    Indices,
    Measurement,
    measure_near_limits,
)
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
            box = _screened(swept, index, content)
            measurement = Measurement.empty(len(swept))
            limit = None if needed is None else needed[key]
            _measure(swept, painter, (index, position), box, measurement, limit, complete=complete)
            yield key, box, measurement


def _screened(swept: Sweep, index: int, content: ContentBox) -> ScreenBox:
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


def _measure(
    swept: Sweep,
    painter: Painter,
    text: tuple[int, int],
    box: ScreenBox,
    measurement: Measurement,
    limit: float | None,
    *,
    complete: bool,
) -> None:
    places = np.flatnonzero(box.seen)
    if not places.size:
        return
    index, position = text
    section = swept.page.sections[index]
    content = section.content[position]
    if len(places) >= FEWEST_COUNTED and content.blend == "normal" and painter.is_lowest(*text):
        backdrop = Backdrop(swept, {index: painter.sheets_below(*text)}, painter.canvas)
        stain = Stain(content.color)
        needed = None if limit is None or complete else np.full(len(places), limit)
        plain, worst, median = backdrop.count(box.at(places), places, stain, needed)
        measurement.contrast[places[plain]] = worst[plain]
        measurement.median[places[plain]] = median[plain]
        places = places[~plain]
    if not places.size:
        return
    paint = partial(_paint, swept, painter, text, box, measurement)
    if limit is None:
        paint(places)
        return
    sheets = painter.sheets_below(*text)
    if not complete and least_text_contrast(section, content, sheets) >= limit:
        return
    passed = passed_px(passing_speed(swept.page, section), swept.scroll[places])
    measure_near_limits(places, passed, np.full(len(places), limit), paint)
    if complete:
        measurement.fill(places)


def _paint(
    swept: Sweep,
    painter: Painter,
    text: tuple[int, int],
    box: ScreenBox,
    measurement: Measurement,
    places: Indices,
) -> Floats:
    """Measure a text position by position, on what is painted there; gives its contrast."""
    content = swept.page.sections[text[0]].content[text[1]]
    stain = Stain(content.color)
    for index in places:
        region = (int(box.first[index]), int(box.last[index]), box.left, box.right)
        behind = painter.behind_text(swept, int(index), *text, region)
        found = (
            stain.order(behind, (WORST, MEDIAN), once=False)
            if content.blend == "normal"
            else order_of_ratios(_blended(behind, content), (WORST, MEDIAN))
        )
        measurement.contrast[index], measurement.median[index] = found
    return measurement.contrast[places]


def _blended(behind: Bytes, content: ContentBox) -> Floats:
    """The contrast of letters with each pixel that they blend with."""
    if content.blend in SEPARABLE:
        return _blended_by_channel(behind, content.color, content.blend)
    letters = behind.copy()
    ink = np.broadcast_to(content.color.premultiplied_bytes, (*behind.shape[:2], 4))
    blend_over(letters, np.ascontiguousarray(ink), content.blend)
    return ratio(luminance(letters), luminance(behind))


def _blended_by_channel(behind: Bytes, color: Color, mode: BlendMode) -> Floats:
    """The same for a mode that mixes each channel by itself: each has 256 levels only."""
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
