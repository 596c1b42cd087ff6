"""What is behind a box at many scroll positions at once: rows of sheets that slide by.

Where a section shows one opaque sheet behind a box, each row of the screen there is a row of that
sheet. Those rows are counted once, and each position is a window over them.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from rising_lantern.base.arrays import Flags, Floats, Indices
from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.css.contrast import luminance_of, ratio
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.contrast import MEDIAN, WORST, ratios, shares
from rising_lantern.legibility.windows import (
    Bins,
    Strip,
    Windows,
    bins_of,
    order_of,
    order_of_ratios,
    order_statistics,
)
from rising_lantern.paint.patches import Patch, is_even, patches_of
from rising_lantern.paint.sheets import Sheet
from rising_lantern.scroll.moments import Sweep

# What counting takes, and painting each position, besides what they take for pixels: as pixels.
_PER_COUNT, _PER_PAINT = 200_000, 50_000
_LEVELS = 65_533  # of luminance: three rounded shares of it add up to less than 65,536
_WHITE = int((shares(np.array([255, 255, 255])) * _LEVELS + 0.5).astype(int).sum())


@dataclass(frozen=True, slots=True)
class ScreenBox:
    """A box on the screen along the scroll, in whole px; arrays of one item for each position.

    Attributes:
        first: Its first row.
        last: The row after its last one; no more than the first where nothing is seen of it.
        left: Its first column.
        right: The column after its last one.
    """

    first: Indices
    last: Indices
    left: int
    right: int

    @property
    def seen(self) -> Flags:
        """Where any of it is seen."""
        return (self.last > self.first) & (self.left < self.right)

    def at(self, places: Indices | Flags) -> ScreenBox:
        """The box at some of the positions."""
        return ScreenBox(self.first[places], self.last[places], self.left, self.right)

    def within(self, first: Indices, last: Indices) -> ScreenBox:
        """What of it lies between two rows at each position."""
        upper = np.maximum(self.first, first)
        lower = np.maximum(np.minimum(self.last, last), upper)
        return ScreenBox(upper, lower, self.left, self.right)


@dataclass(frozen=True)
class Stain:
    """What is laid over the pixels behind a box, and the colour that has to stand out from them.

    Attributes:
        ink: The colour.
        ground: What is laid over them, the same everywhere.
        veils: Patches that are laid over them before, each the same everywhere, of one pixel.
    """

    ink: Color
    ground: Color = TRANSPARENT
    veils: tuple[Patch, ...] = ()

    def bins(self, pixels: Bytes) -> Bins:
        """The bin of the contrast with each pixel."""
        if self.ink.alpha < 1:
            return bins_of(self._ratios_through(pixels))
        return np.asarray(self._table.take(self._light(pixels)))

    def order(self, pixels: Bytes, shares: Sequence[float], *, once: bool) -> tuple[float, ...]:
        """The contrast ratios below which some shares of pixels lie.

        Args:
            pixels: RGB, at least one.
            shares: 0 to 1.
            once: Whether few other pixels are asked for, so that a table is not worth its making.
        """
        # Of most pictures the first row says that they are not of one colour.
        if (pixels[0] == pixels[0, 0]).all() and (pixels == pixels[0]).all():
            pixels = pixels[:1, :1]
        if self.ink.alpha < 1:
            return order_of_ratios(self._ratios_through(pixels), shares)
        if once:
            return order_of_ratios(ratio(self._light(pixels) / _WHITE, self._own), shares)
        return order_of(self.bins(pixels), shares)

    def _light(self, pixels: Bytes) -> NDArray[np.uint16]:
        """The level of luminance of each pixel, under the ground."""
        red, green, blue = self._channels
        light = red.take(pixels[..., 0])
        light += green.take(pixels[..., 1])
        light += blue.take(pixels[..., 2])
        return np.asarray(light)

    def _ratios_through(self, pixels: Bytes) -> Floats:
        """The contrast of an ink that lets some of each pixel through."""
        return ratios(self._stain(np.ascontiguousarray(pixels[..., :3])), self.ink)

    @cached_property
    def _channels(self) -> NDArray[np.uint16]:
        """The share of luminance that each level of each channel has, under the ground."""
        ramp = np.repeat(np.arange(256, dtype=np.uint8)[None, :, None], 3, axis=2)
        return (shares(self._stain(ramp)[0]).T * _LEVELS + 0.5).astype(np.uint16)

    @property
    def _table(self) -> Bins:
        """The bin of each level of luminance."""
        return _bins_by_light(self._own)

    @property
    def _own(self) -> float:
        """The luminance of the ink."""
        return luminance_of(self.ink)

    def _stain(self, rows: Bytes) -> Bytes:
        over = list(self.veils)
        if self.ground.alpha > 0:
            layer = np.broadcast_to(self.ground.premultiplied_bytes, (1, 1, 4))
            over += patches_of(np.ascontiguousarray(layer))
        if not over:
            return rows
        result = rows.copy()
        for patch in over:
            patch.spread(*rows.shape[:2]).lay(result, (0, 0), 0, len(result))
        return result


@dataclass(frozen=True, slots=True)
class Backdrop:
    """What may be behind a box: the sheets of sections, and the page's own colour.

    Attributes:
        swept: The positions.
        sheets: Of each section, by its place on the page, the lowest first.
        canvas: The page's colour, which shows where no section is.
    """

    swept: Sweep
    sheets: dict[int, tuple[Sheet, ...]]
    canvas: Bytes

    def count(
        self, box: ScreenBox, places: Indices, stain: Stain, needed: Floats | None = None
    ) -> tuple[Flags, Floats, Floats]:
        """The contrast with what is behind a box, where that can be counted.

        Args:
            box: The box, at each of the places.
            places: Positions of the sweep.
            stain: What lies over the backdrop, and what stands out.
            needed: The contrast that is needed at each; where it is reached, its figure, and
                everywhere the median, are not a number.

        Returns:
            Where it could be counted, the ratio that 95 % of the pixels reach there, and the
            median.
        """
        plain = np.ones(len(places), dtype=np.bool_)
        spans = [self._span(index, box, places, plain) for index in self.sheets]
        plain &= ~self.overlapped(box, places)
        there = [span for span in spans if span is not None]
        rows = box.last - box.first - sum(span.last - span.first for span in there)
        if self.has_ground:
            plain &= rows <= 0
        parts = [item for span in there for item in span.windows(box, plain, stain)]
        rows = np.where(plain, rows, 0)
        bare = np.flatnonzero(rows > 0)
        if bare.size:
            high = int(rows.max())
            canvas = np.broadcast_to(self.canvas, (high, 1, 3))
            strip = Strip(stain.bins(canvas), box.right - box.left)
            parts.append(Windows(strip, bare, np.zeros_like(bare), rows[bare]))
        shares = (WORST, MEDIAN) if needed is None else (WORST,)
        worst, *others = order_statistics(parts, len(places), shares, needed)
        return plain, worst, others[0] if others else np.full(len(places), np.nan)

    @property
    def has_ground(self) -> bool:
        """Whether something else than the page's own colour shows where no section is."""
        return self.swept.page.ground is not None

    def overlapped(self, box: ScreenBox, places: Indices) -> Flags:
        """Where two sections that overlap are both behind a box."""
        found = np.zeros(len(places), dtype=np.bool_)
        sections = [self.swept.page.sections[index] for index in self.sheets]
        sections.sort(key=lambda section: section.top)
        for place, first in enumerate(sections):
            for second in sections[place + 1 :]:
                if second.top >= first.bottom:
                    break
                edges = second.top, min(first.bottom, second.bottom)
                shift = self.swept.shift[places]
                both = box.within(*(snapped(edge + shift) for edge in edges))
                found |= both.seen
        return found

    def _span(self, index: int, box: ScreenBox, places: Indices, plain: Flags) -> _Span | None:
        """A section's sheet behind a box; where it is not alone there, the place is not plain."""
        section = self.swept.page.sections[index]
        top = section.top + self.swept.shift[places]
        seen = box.within(snapped(top), snapped(top + section.height))
        if not seen.seen.any():
            return None
        sheets = self.sheets[index]
        if not sheets or not _is_whole(sheets[0], section.box.left, box):
            plain[seen.seen] = False
            return None
        scroll, sheet = self.swept.scroll[places], sheets[0]
        covered = sheet.opaque
        assert covered is not None  # noqa: S101 - it is whole
        start = snapped(sheet.motion.origin(top, scroll)[1]) + covered.top
        whole = start <= seen.first
        whole &= seen.last <= start + covered.height
        whole &= snapped(top + sheet.clip.top) <= seen.first
        whole &= seen.last <= snapped(top + sheet.clip.bottom)
        for upper in sheets[1:]:
            whole &= ~_touches(upper, top, scroll, seen)
        plain &= ~seen.seen | whole
        return _Span(sheet, seen.first, seen.last, start)


@dataclass(frozen=True, slots=True)
class _Span:
    """The rows of the screen on which a sheet is behind a box, and where the sheet begins."""

    sheet: Sheet
    first: Indices
    last: Indices
    start: Indices

    def windows(self, box: ScreenBox, plain: Flags, stain: Stain) -> list[Windows]:
        """Its stretches behind the box at the plain positions."""
        places = np.flatnonzero(plain & (self.last > self.first))
        if not places.size:
            return []
        first = self.first[places] - self.start[places]
        last = self.last[places] - self.start[places]
        low, high = int(first.min()), int(last.max())
        left = whole_px(self.sheet.motion.left) + self.sheet.patches[0].left
        pieces = list(self.sheet.colors((low, high), (box.left - left, box.right - left)))
        if all(is_even(piece) for piece in pieces):
            pieces = [piece[:, :1] for piece in pieces]
        bins = np.concatenate([stain.bins(pixels) for pixels in pieces])
        strip = Strip(bins, box.right - box.left)
        return [Windows(strip, places, first - low, last - low)]


def is_counted_faster(box: ScreenBox, scroll: Floats) -> bool:
    """Whether counting what is behind a box is faster than painting it at each position.

    Counting looks at all rows that pass between the positions, once.

    Args:
        box: The box, at each position.
        scroll: The positions, at least one.
    """
    width, height = box.right - box.left, int((box.last - box.first).max())
    counted = (np.ptp(scroll) + height) * width + _PER_COUNT
    return bool(counted < len(scroll) * (height * width + _PER_PAINT))


@lru_cache(maxsize=256)
def _bins_by_light(own: float) -> Bins:
    """The bin of the contrast of one luminance with each level of luminance."""
    return bins_of(ratio(np.arange(_LEVELS + 3) / _WHITE, own))


def snapped(edges: Floats) -> Indices:
    """Edges snapped to whole px, as frames snap them."""
    return np.asarray(np.floor(edges + 0.5).astype(np.intp))


def _is_whole(sheet: Sheet, edge: float, box: ScreenBox) -> bool:
    """Whether a sheet is opaque behind all columns of a box, and stays there.

    Args:
        sheet: The sheet.
        edge: The left edge of its section.
        box: The box.
    """
    covered = sheet.opaque
    if covered is None or sheet.motion.drift or sheet.motion.path:
        return False
    clip = edge + sheet.clip.left
    left = whole_px(sheet.motion.left) + covered.left
    right = min(left + covered.width, whole_px(clip + sheet.clip.width))
    return max(left, whole_px(clip)) <= box.left and box.right <= right


def _touches(sheet: Sheet, top: Floats, scroll: Floats, box: ScreenBox) -> Flags:
    """Where something that lies over the lowest sheet comes behind a box."""
    touched = np.zeros(len(top), dtype=np.bool_)
    x, y = sheet.motion.origin(top, scroll)
    if sheet.overlay:
        size, over = sheet.motion.scale(scroll), sheet.overlay
        height, width = over.height, over.width
        high, start = y + over.top * size - 1, x + over.left * size - 1
        touched |= (high < box.last) & (high + height * size + 2 > box.first)
        touched &= (start < box.right) & (start + width * size + 2 > box.left)
        touched &= sheet.motion.opacity(scroll) > 0
    for patch in sheet.patches:
        upper, left = snapped(y) + patch.top, snapped(x) + patch.left
        rows = (upper < box.last) & (upper + patch.height > box.first)
        touched |= rows & (left < box.right) & (left + patch.width > box.left)
    return touched
