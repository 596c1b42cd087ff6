"""The contrast of each part of a header along the scroll: all positions, measured exactly.

Where a look is complete, and one sheet of a section is behind a part, positions are counted
together. What lies elsewhere, half-way through a change or over sections whose layers move
against each other, is painted.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import partial

import numpy as np

from rising_lantern.css.colors import Color
from rising_lantern.layout.headers import PartBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.backdrops import Backdrop, ScreenBox, Stain, snapped
from rising_lantern.legibility.contrast import MEDIAN, WORST, ink_of
from rising_lantern.legibility.measurement import (
    EVERY_POSITION,
    FEWEST_COUNTED,
    Floats,
    Indices,
    Measurement,
    Stride,
)
from rising_lantern.legibility.windows import order_of
from rising_lantern.paint.frames import Painter
from rising_lantern.paint.headers import Region
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.scroll.moments import HeaderSweep, Sweep
from rising_lantern.scroll.states import HeaderState

_MOST_PX = 12_000  # of scroll that are measured together


def measure_parts(
    swept: Sweep, painter: Painter, pictures: Mapping[str, Picture], stride: Stride = EVERY_POSITION
) -> dict[str, Measurement]:
    """The contrast of each part of the header at each position of a sweep.

    WCAG 2.2 contrast ratio against the pixels that are really behind a part: the page, its
    layers, the texts that pass below, and the header's own background.

    Args:
        swept: The positions.
        painter: Paints what is behind the header.
        pictures: The plan's pictures.
        stride: Which of the positions that have to be painted are.
    """
    header = swept.header
    if header is None:
        return {}
    result = {name: Measurement.empty(len(swept)) for name in header.box.parts}
    for piece in _pieces(swept):
        _measure_piece(swept, header, painter, pictures, stride, result, piece)
    return result


def _pieces(swept: Sweep) -> Iterator[Indices]:
    """The places of a sweep in runs over no more of the page than is kept painted at once."""
    first = 0
    while first < len(swept):
        far = np.abs(swept.scroll[first:] - swept.scroll[first]) > _MOST_PX
        count = int(np.argmax(far)) if far.any() else len(far)
        yield np.arange(first, first + count)
        first += count


def _measure_piece(
    swept: Sweep,
    header: HeaderSweep,
    painter: Painter,
    pictures: Mapping[str, Picture],
    stride: Stride,
    made: dict[str, Measurement],
    piece: Indices,
) -> None:
    """Measure the parts at some of the positions."""
    sheets = {index: painter.sheets_behind(index) for index in _passing(swept, header, piece)}
    backdrop = Backdrop(swept, sheets, painter.canvas)
    for index, state in enumerate(header.states):
        places = piece[header.state[piece] == index]
        if not places.size:
            continue
        placed = {
            name: (_screened(swept, header, places, part), Stain(ink_of(part, pictures)))
            for name, part in state.parts.items()
        }
        left = dict.fromkeys(placed, places)
        if len(places) >= FEWEST_COUNTED and _is_plain(state):
            for name, (box, stain) in placed.items():
                under = replace(stain, ground=_ground(state))
                plain, worst, median = backdrop.count(box, places, under)
                made[name].contrast[places[plain]] = worst[plain]
                made[name].median[places[plain]] = median[plain]
                left[name] = places[~plain]
        rest = np.unique(np.concatenate([*left.values(), places[:0]]))
        parts = [
            _Part(made[name], *placed[name], frozenset(some.tolist()), places)
            for name, some in left.items()
        ]
        stride.paint(rest, partial(_paint, swept, painter, parts))


def _passing(swept: Sweep, header: HeaderSweep, places: Indices) -> list[int]:
    """The sections that are behind a header at any of some positions."""
    upper = header.top[places]
    high, low = np.maximum(upper, 0) - 1, upper + header.height[places] + 1
    passing = []
    for index, section in enumerate(swept.page.sections):
        top = section.top + swept.shift[places]
        if ((top < low) & (top + section.height > high)).any():
            passing.append(index)
    return passing


def _screened(swept: Sweep, header: HeaderSweep, places: Indices, part: PartBox) -> ScreenBox:
    """A part's box at some positions at which the header's state is the same."""
    height = float(header.height[places[0]])
    top = header.top[places]
    upper, lower = (snapped(edge) for edge in (top, top + height))
    lower = np.minimum(lower, swept.page.screen.height)
    first = np.clip(upper + whole_px(part.box.top), np.maximum(upper, 0), lower)
    last = np.clip(upper + whole_px(part.box.bottom), first, np.maximum(lower, first))
    left = min(max(whole_px(part.box.left), 0), swept.page.screen.client_width)
    right = min(max(whole_px(part.box.right), left), swept.page.screen.client_width)
    return ScreenBox(first, last, left, right)


@dataclass(frozen=True, slots=True)
class _Part:
    """A part of the header at positions at which the header's state is the same.

    Attributes:
        measurement: Where its contrast is kept.
        box: Its box at each of the positions.
        stain: What stands out, of what is painted.
        left: Those positions that have to be painted for it.
        places: All of them, in order.
    """

    measurement: Measurement
    box: ScreenBox
    stain: Stain
    left: frozenset[int]
    places: Indices

    def region(self, index: int) -> Region:
        """Where it is at one of the positions."""
        row, box = int(np.searchsorted(self.places, index)), self.box
        return int(box.first[row]), int(box.last[row]), box.left, box.right


def _paint(swept: Sweep, painter: Painter, parts: list[_Part], rest: Indices) -> Floats:
    """Measure parts one by one at some positions, on what is painted there.

    Returns:
        The least contrast of any of them at each.
    """
    header = swept.header
    least = np.full(len(rest), np.inf)
    if header is None:
        return least
    for index, place in enumerate(rest.tolist()):
        some = [part for part in parts if place in part.left]
        rows = painter.behind_header(swept, place, [part.region(place) for part in some])
        top = max(whole_px(float(header.top[place])), 0)
        for part in some:
            first, last, left, right = part.region(place)
            pixels = rows[max(first - top, 0) : max(last - top, 0), left:right]
            if pixels.size:
                worst, median = order_of(part.stain.bins(pixels), (WORST, MEDIAN))
                part.measurement.contrast[place], part.measurement.median[place] = worst, median
                least[index] = min(least[index], worst)
    return least


def _is_plain(state: HeaderState) -> bool:
    """Whether what a header lays over a pixel is the same everywhere."""
    single = len(state.fills) == 1 and isinstance(state.fills[0], Color)
    return single and not state.blur and state.opacity == 1 and state.below is None


def _ground(state: HeaderState) -> Color:
    """The one colour of a plain state."""
    (fill,) = state.fills
    assert isinstance(fill, Color)  # noqa: S101 - it is plain
    return fill
