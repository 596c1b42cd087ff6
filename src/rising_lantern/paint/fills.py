"""Colours, gradients, pictures and panels laid onto a canvas."""

from __future__ import annotations

import numpy as np
from PIL import Image, ImageDraw

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes, lay_over, scale
from rising_lantern.css.gradients import Gradient
from rising_lantern.css.lengths import Basis
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.sections import LayerBox
from rising_lantern.paint.filters import filtered
from rising_lantern.paint.pictures import scaled
from rising_lantern.paint.texts import lay_color

_MOST_COPIES = 20_000  # of a picture in one layer that are laid one by one
_FINENESS = 4  # the factor by which a round corner is drawn larger and then reduced


def paint_layer(canvas: Bytes, layer: LayerBox, basis: Basis, start: int = 0) -> None:
    """Lay a layer onto a canvas that stands for rows of its positioning area, in place.

    Args:
        canvas: Opaque RGB or premultiplied RGBA, as wide as the area.
        layer: The layer.
        basis: What a gradient's relative stops are relative to.
        start: The row of the area that is the canvas's first one.
    """
    if layer.filters:
        own = np.zeros((*canvas.shape[:2], 4), dtype=np.uint8)
        _paint_unfiltered(own, layer, basis, start)
        lay_over(canvas, filtered(own, layer.filters, basis))
    else:
        _paint_unfiltered(canvas, layer, basis, start)


def _paint_unfiltered(canvas: Bytes, layer: LayerBox, basis: Basis, start: int) -> None:
    height, width = canvas.shape[:2]
    if isinstance(layer.fill, Color):
        paint_color(canvas, layer.fill, layer.opacity)
        return
    rows = start, start + height
    if layer.across.count(0, width) * layer.down.count(0, layer.motion.height) > _MOST_COPIES:
        _paint_tiny(canvas, layer, basis, start)
        return
    result: dict[tuple[float, ...], Bytes] = {}
    for top in (place - start for place in layer.down.starts(*rows)):
        for left in layer.across.starts(0, width):
            placed = Rect(left, top, *layer.size)
            # Neighbouring copies share their snapped edge, so that no line shows between them.
            window = (
                max(whole_px(placed.left), 0),
                max(whole_px(placed.top), 0),
                min(whole_px(placed.right), width),
                min(whole_px(placed.bottom), height),
            )
            if window[0] >= window[2] or window[1] >= window[3]:
                continue
            # Copies that are cut alike and stand alike between the px are the same.
            key = (window[0] - left, window[1] - top, window[2] - left, window[3] - top)
            if key not in result:
                result[key] = _copy(layer, placed, window, basis)
            lay_over(canvas[window[1] : window[3], window[0] : window[2]], result[key])


def _paint_tiny(canvas: Bytes, layer: LayerBox, basis: Basis, start: int) -> None:
    """Lay very many copies onto a canvas at once, in place: in whole px, side by side."""
    height, width = canvas.shape[:2]
    across, down = layer.across.whole(), layer.down.whole()
    one = Rect(0.0, 0.0, across.extent, down.extent)
    cell = np.zeros(
        (int(down.step or down.extent), int(across.step or across.extent), 4), dtype=np.uint8
    )
    copy = _copy(layer, one, (0, 0, int(across.extent), int(down.extent)), basis)
    cell[: copy.shape[0], : copy.shape[1]] = copy
    rows = np.arange(start, start + height) - int(down.start)
    columns = np.arange(width) - int(across.start)
    # Along an axis without repetition there is one copy, and nothing beyond it.
    seen_rows = np.ones(height, bool) if down.step else (rows >= 0) & (rows < down.extent)
    seen_columns = (
        np.ones(width, bool) if across.step else (columns >= 0) & (columns < across.extent)
    )
    pixels = cell[np.ix_(rows % cell.shape[0], columns % cell.shape[1])]
    pixels[~seen_rows] = 0
    pixels[:, ~seen_columns] = 0
    lay_over(canvas, pixels)


def _copy(
    layer: LayerBox,
    placed: Rect,
    window: tuple[int, int, int, int],
    basis: Basis,
) -> Bytes:
    """The pixels of a window of one copy, premultiplied RGBA with the layer's opacity."""
    if isinstance(layer.fill, Gradient):
        left, top, right, bottom = window
        x, y = whole_px(placed.left), whole_px(placed.top)
        width, height = whole_px(placed.right) - x, whole_px(placed.bottom) - y
        ramp = layer.fill.pixels(width, height, basis, (top - y, bottom - y))
        levels = (ramp * np.float32(255 * layer.opacity) + np.float32(0.5)).astype(np.uint8)
        return np.broadcast_to(levels, (bottom - top, width, 4))[:, left - x : right - x]
    if layer.picture is None:
        return np.zeros((window[3] - window[1], window[2] - window[0], 4), dtype=np.uint8)
    pixels = scaled(layer.picture, placed, window)
    if layer.opacity == 1:
        return pixels
    return scale(pixels, np.full((1, 1, 1), whole_px(layer.opacity * 255), dtype=np.uint8))


def paint_color(canvas: Bytes, color: Color, opacity: float = 1.0) -> None:
    """Lay one colour over a whole canvas, in place."""
    red, green, blue, _ = color.bytes
    alpha = np.uint8(whole_px(color.alpha * opacity * 255))
    if alpha == 0:
        return
    pixel = np.empty((1, 1, 4), dtype=np.uint8)
    pixel[..., 3] = alpha
    pixel[..., :3] = scale(np.array([red, green, blue], dtype=np.uint8), np.array([alpha]))
    lay_over(canvas, pixel)


def paint_border(
    canvas: Bytes, width: int, color: Color, start: int = 0, height: int | None = None
) -> None:
    """Lay a border of one colour along the edges of an area, in place.

    Args:
        canvas: Rows of the area.
        width: How many px wide the border is.
        color: Its colour.
        start: The row of the area that is the canvas's first one.
        height: Of the area; by default the canvas's.
    """
    high = len(canvas) if height is None else height
    upper, lower = (min(max(row - start, 0), len(canvas)) for row in (width, high - width))
    end = min(max(high - start, 0), len(canvas))
    middle = canvas[upper:lower]
    for part in (
        canvas[: min(upper, end)],
        canvas[max(lower, 0) : end],
        middle[:, :width],
        middle[:, canvas.shape[1] - width :],
    ):
        paint_color(part, color)


def paint_panel(canvas: Bytes, box: Rect, radius: float, color: Color) -> None:
    """Lay a box with round corners onto a canvas, in place; edges are snapped to whole px."""
    left, top = whole_px(box.left), whole_px(box.top)
    right, bottom = whole_px(box.right), whole_px(box.bottom)
    if right <= left or bottom <= top:
        return
    x, y = max(left, 0), max(top, 0)
    last, columns = min(len(canvas), bottom), max(canvas.shape[1] - left, 0)
    if y >= last:
        return
    if radius <= 0:
        paint_color(canvas[y:last, x : max(right, x)], color)
        return
    seen = rounded(right - left, bottom - top, radius, (y - top, last - top))[:, x - left : columns]
    if seen.size:
        lay_color(canvas, seen, color, 1.0, (x, y))


def rounded(width: int, height: int, radius: float, rows: tuple[int, int]) -> Bytes:
    """Rows of a mask of a box with round corners, 0 to 255.

    CSS Backgrounds 3, 5.5: radii that overlap shrink.
    """
    radius = min(radius, width / 2, height / 2)
    first, last = rows
    mask = np.full((last - first, width), 255, dtype=np.uint8)
    corner = int(np.ceil(radius))
    if corner < 1:
        return mask
    fine = Image.new("L", (corner * _FINENESS, corner * _FINENESS))
    reach = 2 * radius * _FINENESS - 1
    ImageDraw.Draw(fine).ellipse((0, 0, reach, reach), fill=255)
    quarter = np.asarray(fine.reduce(_FINENESS)).copy()
    inner = np.arange(corner) + 0.5 > radius
    quarter[inner, :] = 255
    quarter[:, inner] = 255
    for start, curve in ((0, quarter), (height - corner, quarter[::-1])):
        low, high = max(start, first), min(start + corner, last)
        if low < high:
            seen = curve[low - start : high - start]
            mask[low - first : high - first, :corner] = seen
            mask[low - first : high - first, -corner:] = seen[:, ::-1]
    return mask
