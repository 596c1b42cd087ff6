"""The header as patches: its shadow and background, then its parts."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes, lay_over, scale
from rising_lantern.css.lengths import Basis
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.layout.header_layers import layer_box
from rising_lantern.layout.header_styles import RowBox, RowStyle
from rising_lantern.layout.headers import PartBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.paint.fills import paint_border, paint_color, paint_layer
from rising_lantern.paint.patches import Patch, patches_of
from rising_lantern.paint.pictures import scaled
from rising_lantern.paint.texts import lay_color, paint_text
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.scroll.states import HeaderState

Region = tuple[int, int, int, int]
"""First and after-last row and column of a part of the screen."""

_BLOCK = 96  # columns that are blurred at once
_DEVIATIONS = 3  # a Gaussian is nothing to see beyond


@dataclass(frozen=True)
class HeaderPatches:
    """What a header paints, from its upper edge and the screen's left one.

    Attributes:
        state: The state that is painted.
        top: Where on the screen its upper edge stands; only what is behind the point counts, since
            edges are snapped to whole px.
        pictures: The plan's pictures.
    """

    state: HeaderState
    top: float
    pictures: Mapping[str, Picture]

    @cached_property
    def shadow(self) -> tuple[Patch, ...]:
        """Its shadow, which is beside its background, never below it."""
        state = self.state
        if not state.shadow:
            return ()
        left, right = whole_px(state.left), whole_px(state.left + state.width)
        above, below = _reach(state.shadow)
        size = above + self._rows + below, state.header.screen.client_width
        canvas = np.zeros((*size, 4), dtype=np.uint8)
        box = Rect(left, above, right - left, self._rows)
        for shadow in reversed(state.shadow):
            _paint_shadow(canvas, shadow, box)
        return patches_of(self._fade(canvas), -above)

    @cached_property
    def ground(self) -> tuple[Patch, ...]:
        """Its background and border."""
        state, screen = self.state, self.state.header.screen
        left, right = whole_px(state.left), whole_px(state.left + state.width)
        left, right = max(left, 0), min(right, screen.client_width)
        if left >= right or not self._rows:
            return ()
        canvas = _fill(state, right - left, self._rows, screen.basis())
        if state.border:
            paint_border(canvas, whole_px(state.border), state.edge)
        self._paint_layers(canvas, state)
        for row in state.stretches.values():
            self._paint_row(canvas, row)
        return patches_of(self._fade(canvas), 0, left)

    def _paint_layers(self, canvas: Bytes, of: HeaderState | RowStyle) -> None:
        """Lay pictures and fills over the background of the header or a row.

        Args:
            canvas: All rows of pixels that it takes up.
            of: The header or the row: its sets of pictures and fills, in shares that add up.
        """
        state, screen = self.state, self.state.header.screen
        edge = whole_px(of.border)
        left = whole_px(state.left) + edge
        size = max(state.width - 2 * edge, 0.0), max(of.height - 2 * edge, 0.0)
        rows, columns = len(canvas) - 2 * edge, whole_px(size[0])
        if rows <= 0 or columns <= 0 or not any(of.layers):
            return
        total = np.full((1, 1, 1), 0.5, dtype=np.float32)
        for layers, share in zip(of.layers, of.layer_shares, strict=True):
            own = np.zeros((rows, columns, 4), dtype=np.uint8)
            for layer in reversed(layers):
                paint_layer(own, layer_box(layer, *size, screen), screen.basis())
            total = total + own.astype(np.float32) * np.float32(share)
        first = max(-left, 0)
        seen = total.astype(np.uint8)[:, first : first + canvas.shape[1]]
        start = max(left, 0) - max(whole_px(state.left), 0)
        target = canvas[edge : edge + rows, start : start + seen.shape[1]]
        lay_over(target, seen[:, : target.shape[1]])

    def _paint_row(self, canvas: Bytes, row: RowBox) -> None:
        """Lay the background and border of a row over those of the header."""
        if row.style is None:
            return
        first, last = (whole_px(self._shift + edge) for edge in (row.top, row.top + row.height))
        rows = canvas[max(first, 0) : max(last, 0)]
        if rows.size:
            paint_color(rows, row.style.fill)
            paint_border(rows, whole_px(row.style.border), row.style.edge)
            self._paint_layers(rows, row.style)

    @cached_property
    def parts(self) -> tuple[Patch, ...]:
        """Its parts, which are laid over the ground."""
        size = (self._rows, self.state.header.screen.client_width)
        painted = [
            _part_canvas(part, self._shift, size, self.pictures)
            for part in self.state.parts.values()
        ]
        return tuple(
            patch for part, room in painted for patch in patches_of(self._fade(part), -room)
        )

    @property
    def _shift(self) -> float:
        """How far behind a whole px its upper edge stands."""
        return self.top - math.floor(self.top)

    @property
    def _rows(self) -> int:
        return whole_px(self._shift + self.state.height)

    def _fade(self, canvas: Bytes) -> Bytes:
        """A canvas in the header's opacity: what is below shows through all of it alike."""
        opacity = self.state.opacity
        return scale(canvas, _level(opacity)) if opacity < 1 else canvas


def _fill(state: HeaderState, width: int, height: int, basis: Basis) -> Bytes:
    """A header's background: its fills in their shares, which add up."""
    total: NDArray[np.float32] = np.full((1, 1, 1), 0.5, dtype=np.float32)
    for fill, share in zip(state.fills, state.shares, strict=True):
        if isinstance(fill, Color):
            own = np.zeros((1, 1, 4), dtype=np.uint8)
            paint_color(own, fill)
            total = total + own.astype(np.float32) * np.float32(share)
        else:
            total = total + fill.pixels(width, height, basis) * np.float32(255 * share)
    return np.broadcast_to(total.astype(np.uint8), (height, width, 4)).copy()


def _level(share: float) -> Bytes:
    return np.full((1, 1, 1), whole_px(share * 255), dtype=np.uint8)


def _part_canvas(
    part: PartBox, down: float, size: tuple[int, int], pictures: Mapping[str, Picture]
) -> tuple[Bytes, int]:
    """One part, and how many rows above the header it begins: what reaches out is seen as well."""
    room = math.ceil(max(part.box.height, size[0]))
    canvas = np.zeros((size[0] + 2 * room, size[1], 4), dtype=np.uint8)
    down += room
    # While one picture becomes another, their shares add up, so that nothing dips half-way.
    for name, share in zip(part.style.images, part.style.shares, strict=True):
        tint = part.style.color if part.style.tinted else None
        _add_picture(canvas, part.box.moved(top=down), pictures[name], share, tint)
    for text in part.texts:
        paint_text(canvas, text.moved(0.0, down), part.style.color)
    if part.row and part.row.style and part.row.style.clips:
        canvas[: whole_px(down + part.row.top)] = 0
        canvas[whole_px(down + part.row.top + part.row.height) :] = 0
    return canvas, room


def _add_picture(
    canvas: Bytes, box: Rect, picture: Picture, share: float, tint: Color | None
) -> None:
    """Add a picture in its share, or a colour in the shape of it."""
    left, top = max(whole_px(box.left), 0), max(whole_px(box.top), 0)
    right, bottom = (
        min(whole_px(box.right), canvas.shape[1]),
        min(whole_px(box.bottom), len(canvas)),
    )
    if left >= right or top >= bottom or share <= 0:
        return
    # The edges of an img are snapped to whole px, and the picture with them.
    x, y = whole_px(box.left), whole_px(box.top)
    snapped = Rect(x, y, whole_px(box.right) - x, whole_px(box.bottom) - y)
    pixels = scaled(picture, snapped, (left, top, right, bottom))
    if tint is not None:
        ink = np.array(tint.premultiplied_bytes, dtype=np.uint8)
        pixels = scale(np.broadcast_to(ink, pixels.shape), pixels[..., 3:])
    if share < 1:
        pixels = scale(pixels, _level(share))
    target = canvas[top:bottom, left:right]
    target[...] = np.minimum(target.astype(np.uint16) + pixels, 255).astype(np.uint8)


def reach_of(deviation: float) -> int:
    """The reach in px of a Gaussian, by its deviation in px."""
    return math.ceil(deviation * _DEVIATIONS)


def blur_behind(frame: Bytes, box: Rect, deviation: float, wanted: Region | None = None) -> None:
    """Blur what is behind a header, in place: Filter Effects 2, ``backdrop-filter: blur()``.

    Pixels beyond its edges do not count: those within are mirrored there.

    Source: https://www.w3.org/TR/filter-effects-2/#BackdropFilterProperty

    Args:
        frame: RGB pixels of the screen.
        box: The header.
        deviation: Of the Gaussian, in px.
        wanted: The region of the screen that is blurred; by default all.
    """
    top, bottom = max(whole_px(box.top), 0), min(whole_px(box.bottom), len(frame))
    left, right = max(whole_px(box.left), 0), min(whole_px(box.right), frame.shape[1])
    if deviation <= 0 or top >= bottom or left >= right:
        return
    low, high, start, end = wanted or (top, bottom, left, right)
    rows = slice(max(low - top, 0), max(min(high, bottom) - top, 0))
    start, stop = max(start - left, 0), min(end, right) - left
    target = frame[top:bottom, left:right]
    reach = reach_of(deviation)
    down, across = (
        _mirrored_blur_weights(bottom - top, deviation),
        _mirrored_blur_weights(right - left, deviation),
    )
    begin = max(start - reach, 0)
    sharp = target[:, begin : stop + reach].astype(np.float32)
    # Block by block, since a pixel takes nothing of those far to its sides.
    for item in range(start, stop, _BLOCK):
        columns = slice(item, min(item + _BLOCK, stop))
        near = slice(max(columns.start - reach, 0), columns.stop + reach)
        planes = sharp[:, near.start - begin : near.stop - begin].transpose(2, 0, 1)
        blurred = (down[rows] @ np.ascontiguousarray(planes)) @ across[columns, near].T
        target[rows, columns] = (blurred + np.float32(0.5)).astype(np.uint8).transpose(1, 2, 0)


@lru_cache(maxsize=8)
def _mirrored_blur_weights(count: int, deviation: float) -> NDArray[np.float32]:
    """The share of each pixel in each blurred pixel of a row that is mirrored at both ends.

    Returns:
        Shares that add up to 1 along each row, shaped (count, count).
    """
    reach = reach_of(deviation)
    offsets = np.arange(-reach, reach + 1)
    weights = np.exp(-0.5 * (offsets / deviation) ** 2)
    taken = (np.arange(count)[:, None] + offsets) % (2 * count)
    taken = np.where(taken < count, taken, 2 * count - 1 - taken)
    place = taken + np.arange(count)[:, None] * count
    shares = np.bincount(
        place.ravel(), np.tile(weights / weights.sum(), count), minlength=count * count
    )
    return shares.reshape(count, count).astype(np.float32)


def _reach(shadows: tuple[UsedShadow, ...]) -> tuple[int, int]:
    """How many rows above and below the header its shadows take up."""
    above = below = 0
    for shadow in shadows:
        spread = shadow.spread + shadow.blur / 2 * _DEVIATIONS
        above = max(above, math.ceil(spread - shadow.y))
        below = max(below, math.ceil(spread + shadow.y))
    return above, below


def _paint_shadow(canvas: Bytes, shadow: UsedShadow, box: Rect) -> None:
    """Lay a shadow around a box: CSS Backgrounds 3, 6.1. It is clipped inside the box.

    A box blurred by a Gaussian is the product of two differences of error functions.

    Source: https://www.w3.org/TR/css-backgrounds-3/#shadow-blur
    """
    height, width = canvas.shape[:2]
    deviation = shadow.blur / 2
    across = _blur_weights(
        width, box.left + shadow.x - shadow.spread, box.right + shadow.x + shadow.spread, deviation
    )
    down = _blur_weights(
        height, box.top + shadow.y - shadow.spread, box.bottom + shadow.y + shadow.spread, deviation
    )
    mask = (np.outer(down, across) * 255 + 0.5).astype(np.uint8)
    mask[int(box.top) : int(box.bottom), max(int(box.left), 0) : int(box.right)] = 0
    lay_color(canvas, mask, shadow.color, 1.0, (0, 0))


@lru_cache(maxsize=64)
def _blur_weights(count: int, low: float, high: float, deviation: float) -> NDArray[np.float64]:
    """The share, 0 to 1, that each pixel of a row gets of a blurred stretch from low to high."""
    centers = np.arange(count) + 0.5
    if deviation <= 0:
        return ((centers > low) & (centers < high)).astype(np.float64)
    unit = deviation * math.sqrt(2)
    return np.array(
        [(math.erf((c - low) / unit) - math.erf((c - high) / unit)) / 2 for c in centers]
    )
