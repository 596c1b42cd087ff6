"""The contrast of each part of a header along the scroll: all positions, measured exactly.

Where a look is complete, and one sheet of a section is behind a part, positions are counted
together. What lies elsewhere, half-way through a change or over sections whose layers move
against each other, is painted.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from functools import cached_property, partial

import numpy as np

from rising_lantern.base.arrays import Flags, Floats, Indices
from rising_lantern.css.colors import Color
from rising_lantern.layout.headers import PartBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.backdrops import (
    Backdrop,
    ScreenBox,
    Stain,
    is_counted_faster,
    snapped,
)
from rising_lantern.legibility.bounds import Range, is_inside, least_contrast, range_behind
from rising_lantern.legibility.contrast import MEDIAN, WORST, ink_of
from rising_lantern.legibility.measurement import Measurement, measure_near_limits
from rising_lantern.legibility.speeds import passed_px, passing_speed
from rising_lantern.paint.frames import Painter
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.scroll.moments import HeaderSweep, Sweep
from rising_lantern.scroll.states import HeaderState

_MOST_PX = 12_000  # of scroll that are measured together
_MOST_APART = 200  # px between neighbours of a run of positions that are bounded together
_FEWEST_IN_TABLE = 12  # positions of a part in one state, from which on a table is quicker


def measure_parts(
    swept: Sweep,
    painter: Painter,
    pictures: Mapping[str, Picture],
    needed: Mapping[str, Floats] | None = None,
    *,
    complete: bool = False,
    inks: Mapping[str, Color] | None = None,
) -> dict[str, Measurement]:
    """The contrast of each part of the header at each position of a sweep.

    WCAG 2.2 contrast ratio against the pixels that are really behind a part: the page, its
    layers, the texts that pass below, and the header's own background.

    Args:
        swept: The positions.
        painter: Paints what is behind the header.
        pictures: The plan's pictures.
        needed: The contrast that each part needs at each position. Positions are then left out
            at which it cannot be lower, or, where they have to be painted, is far from it.
        complete: Whether those have a value all the same, between those of their neighbours.
        inks: Other colours of some parts, which alone are measured; by default all, in their own.
    """
    if swept.header is None:
        return {}
    names = swept.header.box.parts if inks is None else inks
    result = {name: Measurement.empty(len(swept)) for name in names}
    for places in _pieces(swept):
        piece = _Piece(swept, swept.header, painter, places)
        for index, state in enumerate(swept.header.states):
            here = places[swept.header.state[places] == index]
            if not here.size:
                continue
            for name, part in state.parts.items():
                if name not in result:
                    continue
                stain = Stain(inks[name] if inks else ink_of(part, pictures))
                limits = None if needed is None else needed[name]
                piece.measure(state, name, stain, here, limits, result[name], complete=complete)
    return result


def _pieces(swept: Sweep) -> Iterator[Indices]:
    """The places of a sweep in runs over no more of the page than is kept painted at once."""
    first = 0
    while first < len(swept):
        far = np.abs(swept.scroll[first:] - swept.scroll[first]) > _MOST_PX
        count = int(np.argmax(far)) if far.any() else len(far)
        yield np.arange(first, first + count)
        first += count


@dataclass(frozen=True)
class _Piece:
    """A stretch of the scroll, and what passes behind the header there.

    Attributes:
        swept: The positions.
        header: The header along them.
        painter: Paints what is behind it.
        places: The positions of the stretch.
    """

    swept: Sweep
    header: HeaderSweep
    painter: Painter
    places: Indices
    _ranges: dict[tuple[str, int], Range] = field(default_factory=dict, repr=False)

    def measure(
        self,
        state: HeaderState,
        name: str,
        stain: Stain,
        places: Indices,
        needed: Floats | None,
        result: Measurement,
        *,
        complete: bool,
    ) -> None:
        """Measure a part at positions at which the header is in one state."""
        part = state.parts[name]
        ground = _even_ground(state, part)
        if ground is not None:
            stain = replace(stain, ground=ground)
        if needed is not None and not complete:
            places = places[least_contrast(state, part, stain) < needed[places]]
            if state.complete is None and places.size:
                behind = self._range_behind(name, int(places[0]))
                places = places[least_contrast(state, part, stain, behind) < needed[places]]
        if not places.size:
            return
        box = part_on_screen(self.swept, self.header, places, part)
        places, box = places[box.seen], box.at(box.seen)
        if not places.size:
            return
        if ground is not None and is_counted_faster(box, self.swept.scroll[places]):
            limits = None if needed is None or complete else needed[places]
            plain, worst, median = self._backdrop.count(box, places, stain, limits)
            result.contrast[places[plain]] = worst[plain]
            result.median[places[plain]] = median[plain]
            places, box = places[~plain], box.at(~plain)
        if not places.size:
            return
        even = ground is not None
        paint = partial(self._paint, places, box, stain, result, even)
        some = np.arange(len(places))
        if needed is None:
            paint(some)
        else:
            measure_near_limits(some, self._speeds(places), needed[places], paint)
        if complete:
            result.fill(places)

    def _paint(
        self,
        places: Indices,
        box: ScreenBox,
        stain: Stain,
        result: Measurement,
        even: bool,  # noqa: FBT001 - bound once, by name above
        some: Indices,
    ) -> Floats:
        """Measure a part at some of its positions on what is painted there.

        Args:
            places: Its positions.
            box: Where it is at each.
            stain: What stands out, and what lies below it all over.
            result: Where its contrast is kept.
            even: Whether the header's ground is part of the stain.
            some: The indices of those to measure.

        Returns:
            The contrast at each.
        """
        once = len(places) < _FEWEST_IN_TABLE
        for index in some.tolist():
            place = int(places[index])
            region = (int(box.first[index]), int(box.last[index]), box.left, box.right)
            pixels = self.painter.behind_header(self.swept, place, region, bare=even)
            worst, median = stain.order(pixels, (WORST, MEDIAN), once=once)
            result.contrast[place], result.median[place] = worst, median
        return result.contrast[places[some]]

    @cached_property
    def _backdrop(self) -> Backdrop:
        passing = np.flatnonzero(self._passing.any(axis=1)).tolist()
        sheets = {index: self.painter.sheets_behind(index) for index in passing}
        return Backdrop(self.swept, sheets, self.painter.canvas)

    @cached_property
    def _passing(self) -> Flags:
        """Which sections are behind the header: shaped (sections, positions)."""
        upper = self.header.top[self.places]
        high, low = np.maximum(upper, 0) - 1, upper + self.header.height[self.places] + 1
        shift = self.swept.shift[self.places]
        tops = np.array([section.top for section in self.swept.page.sections])[:, None] + shift
        heights = np.array([section.height for section in self.swept.page.sections])[:, None]
        return np.asarray((tops < low) & (tops + heights > high))

    def _range_behind(self, name: str, place: int) -> Range:
        """What is behind a part at any position of the run of mixed states that a place is in."""
        key = name, int(self._runs[place - self.places[0]])
        if key not in self._ranges:
            places = self.places[self._runs == key[1]]
            states = [self.header.states[index] for index in self.header.state[places]]
            shown = np.array([name in state.parts for state in states])
            parts = [state.parts[name] for state in states if name in state.parts]
            box = parts_on_screen(self.swept, self.header, places[shown], parts)
            self._ranges[key] = range_behind(self._backdrop, box, places[shown])
        return self._ranges[key]

    @cached_property
    def _runs(self) -> Indices:
        """By position: in which run of states half-way between looks it is; 0 for none."""
        mixed = np.array([state.complete is None for state in self.header.states])
        here = mixed[self.header.state[self.places]]
        far = np.abs(np.diff(self.swept.scroll[self.places], prepend=np.inf)) > _MOST_APART
        first = here & (far | ~np.roll(here, 1))
        return np.where(here, np.cumsum(first), 0)

    def _speeds(self, places: Indices) -> Floats:
        """By how many px things pass each other behind the header up to each of some positions."""
        page = self.swept.page
        speeds = np.array([passing_speed(page, section) for section in page.sections])
        passing = self._passing[:, places - self.places[0]]
        fastest = np.where(passing, speeds[:, None], 1.0).max(axis=0)
        return passed_px(fastest, self.swept.scroll[places])


def part_on_screen(swept: Sweep, header: HeaderSweep, places: Indices, part: PartBox) -> ScreenBox:
    """A part's box at some positions at which the header's state is the same."""
    return parts_on_screen(swept, header, places, [part])


def parts_on_screen(
    swept: Sweep, header: HeaderSweep, places: Indices, parts: Sequence[PartBox]
) -> ScreenBox:
    """The box of a part at some positions: as wide as the part is at any of them.

    Args:
        swept: A sweep.
        header: The header along it.
        places: Some of its positions.
        parts: The part at each of them, at least one; or one for all.
    """
    top = header.top[places]
    upper, lower = snapped(top), snapped(top + header.height[places])
    lower = np.minimum(lower, swept.page.screen.height)
    above, below = np.transpose([_rows_of(part) for part in parts])
    first = np.clip(upper + above, np.maximum(upper, 0), lower)
    last = np.clip(upper + below, first, np.maximum(lower, first))
    most = swept.page.screen.client_width
    left = min(max(min(whole_px(part.box.left) for part in parts), 0), most)
    right = max(whole_px(part.box.right) for part in parts)
    right = min(max(right, left), most)
    return ScreenBox(first, last, left, right)


def _rows_of(part: PartBox) -> tuple[int, int]:
    """The first and after-last row of a part, from the header's upper edge, in whole px."""
    above, below = part.box.top, part.box.bottom
    if part.row and part.row.style and part.row.style.clips:
        above = max(above, part.row.top)
        below = min(below, part.row.top + part.row.height)
    return whole_px(above), whole_px(below)


def _even_ground(state: HeaderState, part: PartBox) -> Color | None:
    """What a header lays over all pixels behind a part, where that is one colour; or None."""
    uneven = state.blur or state.opacity < 1 or state.below or not is_inside(state, part)
    return None if uneven else state.color_behind(part)
