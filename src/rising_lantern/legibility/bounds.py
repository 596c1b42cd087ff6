"""How low a contrast can be at all, whatever is behind a header or a section."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import lru_cache

import numpy as np

from rising_lantern.base.arrays import Floats, Indices
from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.css.contrast import luminance_of, ratio
from rising_lantern.css.lengths import Basis
from rising_lantern.layout.headers import PartBox
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.sections import SectionBox
from rising_lantern.legibility.backdrops import Backdrop, ScreenBox, Stain, snapped
from rising_lantern.legibility.contrast import luminance
from rising_lantern.paint.patches import Patch, StoredPatch, distinct
from rising_lantern.paint.sheets import Sheet
from rising_lantern.plan.models.fills import Fill
from rising_lantern.scroll.states import HeaderState

Range = tuple[Floats, Floats]
"""The least and the greatest of each channel of some pixels, 0 to 255."""

ANYTHING: Range = (np.zeros(3), np.full(3, 255.0))
"""The range of all pixels that there can be."""

_SPARE = 2  # levels, for what is rounded on the way


def least_contrast(
    state: HeaderState, part: PartBox, stain: Stain, behind: Range = ANYTHING
) -> float:
    """A contrast that a part of a header reaches; at least 1.

    Args:
        state: The header.
        part: The part.
        stain: Its colour.
        behind: What is behind the header there.
    """
    if stain.ink.alpha < 1 or state.has_layers_behind(part) or not is_inside(state, part):
        return 1.0
    low, high = np.zeros(4), np.zeros(4)
    for fill, share in zip(state.fills, state.shares, strict=True):
        size = whole_px(state.width), whole_px(state.height)
        ends = _range(fill, *size, state.header.screen.basis())
        low, high = low + share * ends[0], high + share * ends[1]
    if part.row and part.row.style:
        pixel = _range(part.row.style.fill, 1, 1, state.header.screen.basis())[0]
        low, high = (pixel + item * (1 - pixel[3]) for item in (low, high))
    low, high = low * state.opacity, high * state.opacity
    # A blur spreads what is beside the part, and what an arriving header leaves is below it.
    least, most = ANYTHING if state.blur or state.below else behind
    lower = low[:3] * 255 + least * (1 - high[3])
    return _least(stain.ink, lower, high[:3] * 255 + most * (1 - low[3]))


def range_behind(backdrop: Backdrop, box: ScreenBox, places: Indices) -> Range:
    """The range of all pixels that are behind a box at some positions, in any of its rows.

    Args:
        backdrop: What may be there.
        box: The box, at each of the places.
        places: Positions of a sweep.
    """
    if backdrop.overlapped(box, places).any():
        return ANYTHING
    swept = backdrop.swept
    ranges, covered = [], np.zeros(len(places), dtype=np.intp)
    for index, sheets in backdrop.sheets.items():
        section = swept.page.sections[index]
        top = section.top + swept.shift[places]
        seen = box.within(snapped(top), snapped(top + section.height))
        if not seen.seen.any():
            continue
        covered += seen.last - seen.first
        found = ANYTHING
        for sheet in sheets:
            found = _lay_sheet_range(
                sheet, seen, (top, swept.scroll[places], section.box.left), found
            )
        ranges.append(found)
    rows = np.where(box.seen, box.last - box.first, 0)
    if (covered < rows).any():
        if backdrop.has_ground:
            return ANYTHING
        canvas = backdrop.canvas.reshape(3).astype(np.float64)
        ranges.append((canvas, canvas))
    if not ranges:
        return ANYTHING
    lows, highs = zip(*ranges, strict=True)
    return np.min(lows, axis=0), np.max(highs, axis=0)


def _lay_sheet_range(
    sheet: Sheet, box: ScreenBox, at: tuple[Floats, Floats, float], below: Range
) -> Range:
    """The range behind a box after a sheet was laid over what is below it.

    Args:
        sheet: The sheet.
        box: The box, at each position.
        at: The upper edge of its section and the scroll there, and the section's left edge.
        below: The range without it.
    """
    top, scroll, edge = at
    is_mixed = sheet.motion.path or any(isinstance(item, StoredPatch) for item in sheet.patches)
    if sheet.overlay or is_mixed:
        return ANYTHING
    x, y = sheet.motion.origin(top, scroll)
    here = box.seen
    upper, lower = (box.first - y)[here].min(), (box.last - y)[here].max()
    area = Rect(box.left - x.max(), upper, box.right - box.left + np.ptp(x), lower - upper)
    low, high = below
    for patch in sheet.patches:
        assert not isinstance(patch, StoredPatch)  # noqa: S101 - looked at above
        low, high = _lay_patch_range(patch, area, low, high)
    clip = sheet.clip
    is_whole = edge + clip.left + 1 <= box.left and box.right <= edge + clip.left + clip.width - 1
    is_whole &= bool((box.first >= top + clip.top + 1)[here].all())
    is_whole &= bool((box.last <= top + clip.bottom - 1)[here].all())
    if is_whole:
        return low, high
    return np.minimum(low, below[0]), np.maximum(high, below[1])


def least_text_contrast(section: SectionBox, content: ContentBox, sheets: Iterable[Sheet]) -> float:
    """A contrast that a text reaches whatever is below its section; at least 1.

    Args:
        section: The section.
        content: The text.
        sheets: What the section paints below its letters, the lowest first.
    """
    if content.color.alpha < 1 or content.blend != "normal":
        return 1.0
    low, high = np.zeros(3), np.full(3, 255.0)
    for sheet in sheets:
        offset = _offset(section, content, sheet)
        if offset is None:
            low, high = np.zeros(3), np.full(3, 255.0)
            continue
        for patch in sheet.patches:
            if isinstance(patch, StoredPatch):
                return 1.0
            low, high = _lay_patch_range(patch, content.text.box.moved(*offset), low, high)
    return _least(content.color, low, high)


def even_veils(
    section: SectionBox, content: ContentBox, sheets: Sequence[Sheet]
) -> tuple[Patch, ...]:
    """What all sheets but the lowest lay behind a text, where it is a single pixel of each.

    A panel of one colour is such a veil, above a picture that moves or stays behind it.

    Args:
        section: The section.
        content: The text.
        sheets: What the section paints below its letters, the lowest first.

    Returns:
        A patch of one pixel for each, the lowest first; none where a sheet is not even behind all
        of the text.
    """
    veils: list[Patch] = []
    for sheet in sheets[1:]:
        offset = _offset(section, content, sheet)
        if offset is None:
            return ()
        area = content.text.box.moved(*offset)
        for patch in sheet.patches:
            if isinstance(patch, StoredPatch):
                return ()
            rows, columns, covers = _place_in(patch, area)
            if not patch.color[rows, columns].size:
                continue
            pixel = patch.pixel_of(rows, columns) if covers else None
            if pixel is None:
                return ()
            veils.append(pixel)
    return tuple(veils)


def _offset(section: SectionBox, content: ContentBox, sheet: Sheet) -> tuple[float, float] | None:
    """Where a text is in the area of a sheet, from where it is in its own.

    None where they do not move together, or the sheet is not seen behind all of the text.
    """
    one, other = sheet.motion, content.motion
    if sheet.overlay or one.path or other.path:
        return None
    clip, box = sheet.clip, content.text.box.moved(other.left - section.box.left, other.top)
    seen = (clip.width, clip.height) == (section.box.width, section.height)
    if (other.speed, other.drift) == (1.0, 0.0):
        across = clip.left <= box.left - 1 and box.right + 1 <= clip.left + clip.width
        seen |= across and clip.top <= box.top - 1 and box.bottom + 1 <= clip.bottom
    if (one.speed, one.drift) != (other.speed, other.drift) or not seen:
        return None
    return other.left - one.left, other.top - one.top


def _lay_patch_range(patch: Patch, box: Rect, low: Floats, high: Floats) -> tuple[Floats, Floats]:
    """The least and the greatest of each channel in a box after a patch was laid over it."""
    rows, columns, covers = _place_in(patch, box)
    color = distinct(patch.color[rows, columns])
    if not color.size:
        return low, high
    least, most, unit = 0.0, 0.0, 1
    if patch.rest is not None:
        rest, unit = distinct(patch.rest[rows, columns]), 256
        least, most = rest.min() / unit, rest.max() / unit
    # Down the columns first: whole rows are compared many times faster than pixels.
    lower = low * least + color.min(axis=0).min(axis=0) / unit
    upper = np.minimum(high * most + color.max(axis=0).max(axis=0) / unit, 255)
    return (lower, upper) if covers else (np.minimum(low, lower), np.maximum(high, upper))


def _place_in(patch: Patch, box: Rect) -> tuple[slice, slice, bool]:
    """The rows and columns of a patch that a box touches, and whether it covers all of the box."""
    # Edges are snapped where the box stands: two px to spare.
    left, top = whole_px(box.left) - 2, whole_px(box.top) - 2
    right, bottom = whole_px(box.right) + 2, whole_px(box.bottom) + 2
    covers = patch.left <= left and right <= patch.left + patch.width
    covers &= patch.top <= top and bottom <= patch.top + patch.height
    rows = slice(max(top - patch.top, 0), max(bottom - patch.top, 0))
    columns = slice(max(left - patch.left, 0), max(right - patch.left, 0))
    return rows, columns, covers


def _least(ink: Color, low: Floats, high: Floats) -> float:
    """The least contrast of a colour with all those between two, by channels of 0 to 255."""
    levels = np.clip([low - _SPARE, high + _SPARE], 0, 255).astype(np.uint8)
    dark, light = (float(item) for item in luminance(levels))
    own = luminance_of(ink)
    if dark <= own <= light:
        return 1.0
    return float(ratio(own, light if own > light else dark))


def is_inside(state: HeaderState, part: PartBox) -> bool:
    """Whether all of a part lies on the background of its row and header, on no border."""
    row = part.row
    upper, lower, edge = 0.0, state.height, whole_px(state.border)
    if row and row.style:
        upper, lower, edge = row.top, row.top + row.height, whole_px(row.style.border)
    box = part.box
    across = whole_px(state.left) + edge <= whole_px(box.left)
    across &= whole_px(box.right) <= whole_px(state.left + state.width) - edge
    # Lower edges are snapped where the header stands: a px to spare.
    spare = whole_px(box.bottom) + 1 <= whole_px(lower) - edge
    down = whole_px(upper) + edge + (row is not None) <= whole_px(box.top) and spare
    return across and (down or (not edge and row is None))


@lru_cache(maxsize=256)
def _range(fill: Fill, width: int, height: int, basis: Basis) -> tuple[Floats, Floats]:
    """The least and the greatest of each channel of a fill: premultiplied RGBA of 0 to 1."""
    if isinstance(fill, Color):
        red, green, blue, alpha = fill.rgba
        pixel = np.array([red * alpha, green * alpha, blue * alpha, alpha])
        return pixel, pixel
    if width <= 0 or height <= 0:
        return np.zeros(4), np.ones(4)
    pixels = fill.pixels(width, height, basis)
    return pixels.min(axis=(0, 1)).astype(float), pixels.max(axis=(0, 1)).astype(float)
