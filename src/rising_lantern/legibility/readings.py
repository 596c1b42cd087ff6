"""How well each part of a header can be read along the scroll: all positions, measured exactly.

Where a look is complete and the header stands still, the rows of the screen behind a part are rows
of a section's one sheet, which slide by: those are counted once and windowed. What lies elsewhere,
half-way through a change or over sections whose layers move against each other, is painted.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.headers import LookStyle, PartBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.contrast import MEDIAN, WORST, ink_of, order, ratios
from rising_lantern.legibility.windows import Strip, Windows, order_statistic
from rising_lantern.paint.frames import Painter
from rising_lantern.paint.patches import patches_of
from rising_lantern.paint.sheets import Sheet
from rising_lantern.plan.files import Picture
from rising_lantern.scroll.moments import HeaderSweep, Sweep

Floats = NDArray[np.float64]
Indices = NDArray[np.intp]

_WORTH = 64  # positions in a row for which counting is quicker than painting


@dataclass(frozen=True, slots=True)
class Reading:
    """How well one part can be read; arrays of one item for each position.

    Attributes:
        contrast: The ratio that 95 % of the pixels behind it reach; not a number off the screen.
        median: Their median.
    """

    contrast: Floats
    median: Floats


def readings_of(
    swept: Sweep, painter: Painter, pictures: dict[str, Picture], every: int = 1
) -> dict[str, Reading]:
    """The contrast of each part of the header at each position of a sweep.

    WCAG 2.2 contrast ratio against the pixels that are really behind a part: the page, its
    layers, the texts that pass below, and the header's own background.

    Args:
        swept: The positions.
        painter: Paints what is behind the header.
        pictures: The plan's pictures.
        every: Of the positions that have to be painted, one in so many is.
    """
    header = swept.header
    if header is None:
        return {}
    made = {
        name: Reading(*(np.full(len(swept), np.nan) for _ in range(2)))
        for name in header.box.entry.parts
    }
    # A style and a place on the screen, as one number each, sort without a copy.
    states, group = np.unique(header.style + 1j * header.top, return_inverse=True)
    for index in range(len(states)):
        places = np.flatnonzero(group == index)
        left = _count(swept, header, painter, places, made, pictures)
        _paint(swept, header, painter, left[::every], made, pictures)
    return made


def _paint(
    swept: Sweep,
    header: HeaderSweep,
    painter: Painter,
    places: Indices,
    made: dict[str, Reading],
    pictures: dict[str, Picture],
) -> None:
    """Measure positions one by one, on what is painted there."""
    if not len(places):
        return
    placed = header.box.place_parts(header.styles[header.style[places[0]]])
    columns = [_edges(part, 0.0)[2:] for part in placed.values()]
    inks = {name: ink_of(part, pictures) for name, part in placed.items()}
    for place in places:
        rows = painter.behind_header(swept, int(place), columns)
        # A header that is partly above the screen has lost its first rows.
        lost = min(float(header.top[place]), 0.0)
        for name, part in placed.items():
            first, last, left, right = _edges(part, lost)
            pixels = rows[first:last, left:right]
            if pixels.size:
                found = ratios(pixels, inks[name]).reshape(-1)
                made[name].contrast[place] = order(found, WORST)
                made[name].median[place] = order(found, MEDIAN)


def _edges(part: PartBox, down: float) -> tuple[int, int, int, int]:
    """First and after-last row and column of a part's box, from the header's first row seen."""
    edges = (part.box.top + down, part.box.bottom + down, part.box.left, part.box.right)
    first, last, left, right = (max(whole_px(edge), 0) for edge in edges)
    return first, last, left, right


# --- counting --------------------------------------------------------------------------------


def _count(
    swept: Sweep,
    header: HeaderSweep,
    painter: Painter,
    places: Indices,
    made: dict[str, Reading],
    pictures: dict[str, Picture],
) -> Indices:
    """Measure positions of one state together, as far as sections have one sheet each.

    Returns:
        The positions that are left over.
    """
    style = header.styles[header.style[places[0]]]
    top = float(header.top[places[0]])
    if len(places) < _WORTH or not _is_plain(style) or top < 0:
        return places
    placed = header.box.place_parts(style)
    high, low = whole_px(top), whole_px(top + style.height)
    width = swept.page.screen.client_width
    boxes = {
        name: (min(first + high, low), min(last + high, low), left, min(right, width))
        for name, part in placed.items()
        for first, last, left, right in [_edges(part, 0.0)]
    }
    seen = {name: box for name, box in boxes.items() if box[0] < box[1] and box[2] < box[3]}
    if not seen:
        return places[:0]
    sections = [
        _rows_of(swept, painter, index, places, list(seen.values()))
        for index in range(len(swept.page.sections))
    ]
    plain = np.all([section.plain for section in sections], axis=0)
    kept = places[plain]
    if len(kept) < _WORTH:
        return places
    for name, (first, last, left, right) in seen.items():
        tint = _Tint(style.fills[0], ink_of(placed[name], pictures))
        windows = [
            section.windows(plain, (first, last), (left, right), tint) for section in sections
        ]
        shown = [window for window in windows if window]
        covered = sum((window.last - window.first for window in shown), np.zeros(len(kept)))
        # Where no section is, the page's own colour shows.
        bare = np.asarray(last - first - covered).astype(np.intp)
        if bare.any():
            canvas = np.broadcast_to(painter.canvas, (last - first, right - left, 3))
            strip = tint.counted(canvas)
            shown.append(Windows(strip, np.zeros(len(kept), dtype=np.intp), bare))
        made[name].contrast[kept] = order_statistic(shown, WORST)
        made[name].median[kept] = order_statistic(shown, MEDIAN)
    return np.asarray(places[~plain], dtype=np.intp)


def _is_plain(style: LookStyle) -> bool:
    """Whether what a header lays over a pixel is the same everywhere."""
    single = len(style.fills) == 1 and isinstance(style.fills[0], Color)
    return single and not style.blur and style.opacity == 1 and style.below is None


@dataclass(frozen=True, slots=True)
class _Tint:
    """What is laid over the pixels behind a part, and the colour that has to stand out.

    Attributes:
        ground: The header's own background.
        ink: The part's colour.
    """

    ground: object
    ink: Color

    def counted(self, pixels: Bytes) -> Strip:
        """Some rows of pixels, counted by their contrast under the ground."""
        rows = np.array(pixels[..., :3])
        if isinstance(self.ground, Color) and self.ground.alpha > 0:
            layer = np.broadcast_to(self.ground.premultiplied_bytes, (*rows.shape[:2], 4))
            for patch in patches_of(np.ascontiguousarray(layer)):
                patch.lay(rows, (0, 0), 0, len(rows))
        return Strip.of(ratios(rows, self.ink))


@dataclass(frozen=True, slots=True)
class _Rows:
    """The rows of a section's sheet that are behind a header.

    Attributes:
        plain: Where nothing else than that sheet is behind the header, if the section is.
        pixels: The sheet's pixels.
        first: Where on the screen the section begins behind the header, at the plain positions.
        last: Where it ends.
        start: Which row of the screen the sheet's first row is on.
        left: Which column its first one is on.
    """

    plain: NDArray[np.bool_]
    pixels: Bytes
    first: Indices
    last: Indices
    start: Indices
    left: int

    def windows(
        self,
        plain: NDArray[np.bool_],
        rows: tuple[int, int],
        columns: tuple[int, int],
        tint: _Tint,
    ) -> Windows | None:
        """The stretches of the sheet behind a part, or None where it never is."""
        first = np.clip(self.first[plain], *rows)
        last = np.maximum(np.clip(self.last[plain], *rows), first)
        seen = last > first
        if not seen.any():
            return None
        start = self.start[plain]
        upper, lower = first - start, last - start
        low, high = int(upper[seen].min()), int(lower[seen].max())
        part = self.pixels[low:high, columns[0] - self.left : columns[1] - self.left]
        strip = tint.counted(part)
        return Windows(strip, np.where(seen, upper - low, 0), np.where(seen, lower - low, 0))


Screen = tuple[int, int, int, int]
"""First and after-last row and column of a box on the screen."""


def _rows_of(
    swept: Sweep, painter: Painter, index: int, places: Indices, boxes: list[Screen]
) -> _Rows:
    """A section's rows behind some boxes on the screen."""
    section = swept.page.sections[index]
    top = swept.section_tops[places, index]
    scroll = swept.scroll[places]
    first = np.floor(top + 0.5).astype(np.intp)
    last = np.floor(top + section.height + 0.5).astype(np.intp)
    high, low = min(box[0] for box in boxes), max(box[1] for box in boxes)
    under = (np.minimum(last, low) > np.maximum(first, high)) & (last > first)
    nothing = _Rows(~under, np.zeros((0, 0, 3), dtype=np.uint8), first, first, first, 0)
    sheets = painter.sheets_behind(index) if under.any() else ()
    if not sheets or not _is_whole(sheets[0], swept):
        return nothing
    patch = sheets[0].patches[0]
    x, y = sheets[0].motion.origin(top, scroll)
    start = np.floor(y + 0.5).astype(np.intp) + patch.top
    left = whole_px(float(x.flat[0])) + patch.left
    inside = (np.maximum(first, high) >= start) & (np.minimum(last, low) <= start + patch.height)
    for sheet in sheets[1:]:
        inside &= ~_touches(sheet, top, scroll, boxes)
    pixels = np.asarray(patch.color, dtype=np.uint8)
    return _Rows(~under | inside, pixels, first, np.where(under, last, first), start, left)


def _is_whole(sheet: Sheet, swept: Sweep) -> bool:
    """Whether a sheet is one opaque patch as wide as the screen that does not move sideways."""
    if len(sheet.patches) != 1 or sheet.motion.drift or sheet.motion.path:
        return False
    patch = sheet.patches[0]
    left = whole_px(sheet.motion.left) + patch.left
    wide = left <= 0 and left + patch.color.shape[1] >= swept.page.screen.client_width
    whole = sheet.clip.left == 0 and sheet.clip.width >= swept.page.screen.client_width
    return patch.rest is None and wide and whole


def _touches(sheet: Sheet, top: Floats, scroll: Floats, boxes: list[Screen]) -> NDArray[np.bool_]:
    """Where something that lies over the lowest sheet comes behind one of some boxes."""
    touched = np.full(len(top), sheet.overlay is not None)
    x, y = (np.floor(edge + 0.5) for edge in sheet.motion.origin(top, scroll))
    for patch in sheet.patches:
        upper, left = y + patch.top, x + patch.left
        for first, last, start, end in boxes:
            rows = (upper < last) & (upper + patch.height > first)
            touched |= rows & (left < end) & (left + patch.color.shape[1] > start)
    return touched
