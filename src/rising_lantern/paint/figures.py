"""Pictures and boxes among the content of a section, with round corners and shadows."""

from __future__ import annotations

import math

import numpy as np
from PIL import Image, ImageFilter

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.compositing import Bytes, lay_over, scale
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.layout.items import FigureBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.paint.fills import paint_panel, rounded
from rising_lantern.paint.pictures import scaled
from rising_lantern.paint.texts import lay_color

_DEVIATIONS = 3  # of a blur, beyond which nothing of it is seen
_Window = tuple[int, int, int, int]


def paint_figure(canvas: Bytes, figure: FigureBox, start: int = 0) -> None:
    """Lay a picture or box onto a canvas that stands for rows of its section, in place.

    Args:
        canvas: Opaque RGB or premultiplied RGBA.
        figure: The picture or box.
        start: The row of the section that is the canvas's first one.
    """
    placed = figure.moved(0.0, -start)
    box = _snap(placed.box)
    for shadow in reversed(placed.shadows):
        _paint_shadow(canvas, box, placed.radius, shadow)
    if placed.background:
        paint_panel(canvas, box, placed.radius, placed.background)
    if placed.border:
        _paint_border(canvas, box, placed)
    if placed.picture:
        _paint_picture(canvas, box, placed)


def figure_reach(figure: FigureBox) -> int:
    """How many rows away from it a figure's shadows are seen."""
    return max((_reach(shadow) for shadow in figure.shadows), default=0)


def _reach(shadow: UsedShadow) -> int:
    spread = max(shadow.spread, 0.0) + shadow.blur / 2 * _DEVIATIONS
    return math.ceil(spread + max(abs(shadow.x), abs(shadow.y))) + 1


def _snap(box: Rect) -> Rect:
    """A box with its edges in whole px."""
    left, top = whole_px(box.left), whole_px(box.top)
    return Rect(left, top, whole_px(box.right) - left, whole_px(box.bottom) - top)


def _within(box: Rect, canvas: Bytes) -> _Window | None:
    """Left, top, right and bottom of what a canvas shows of a box in whole px; None for nothing."""
    window = (
        max(int(box.left), 0),
        max(int(box.top), 0),
        min(int(box.right), canvas.shape[1]),
        min(int(box.bottom), canvas.shape[0]),
    )
    return window if window[0] < window[2] and window[1] < window[3] else None


def _mask(box: Rect, radius: float, window: _Window) -> Bytes:
    """How much of each pixel of a window a box with round corners covers, 0 to 255.

    Args:
        box: The box, in whole px.
        radius: The radius of its corners.
        window: Left, top, right and bottom, which may reach beyond the box.
    """
    left, top, right, bottom = window
    mask = np.zeros((bottom - top, right - left), dtype=np.uint8)
    upper, lower = max(int(box.top), top), min(int(box.bottom), bottom)
    first, last = max(int(box.left), left), min(int(box.right), right)
    if upper >= lower or first >= last:
        return mask
    rows = (upper - int(box.top), lower - int(box.top))
    inner = rounded(int(box.width), int(box.height), radius, rows)
    columns = slice(first - int(box.left), last - int(box.left))
    mask[upper - top : lower - top, first - left : last - left] = inner[:, columns]
    return mask


def _grow(box: Rect, by: float) -> Rect:
    """A box with all of its edges so far outside, in whole px."""
    return _snap(Rect(box.left - by, box.top - by, box.width + 2 * by, box.height + 2 * by))


def _paint_shadow(canvas: Bytes, box: Rect, radius: float, shadow: UsedShadow) -> None:
    """Lay a shadow around a box: CSS Backgrounds 3, 6.1. It is clipped inside the box.

    Source: https://www.w3.org/TR/css-backgrounds-3/#shadow-shape
    """
    cast = _grow(box.moved(shadow.x, shadow.y), shadow.spread)
    if cast.width <= 0 or cast.height <= 0:
        return
    blurred = math.ceil(shadow.blur / 2 * _DEVIATIONS)
    window = _within(_grow(cast, blurred), canvas)
    if window is None:
        return
    left, top, right, bottom = window
    around = (left - blurred, top - blurred, right + blurred, bottom + blurred)
    mask = _mask(cast, max(radius + shadow.spread, 0.0) if radius else 0.0, around)
    if shadow.blur:
        blur = ImageFilter.GaussianBlur(shadow.blur / 2)
        mask = np.asarray(Image.fromarray(mask).filter(blur))
    seen = mask[blurred : blurred + bottom - top, blurred : blurred + right - left]
    outside = 255 - _mask(box, radius, window)
    lay_color(canvas, scale(seen, outside), shadow.color, 1.0, (left, top))


def _paint_border(canvas: Bytes, box: Rect, figure: FigureBox) -> None:
    """Lay a border along the inner side of a box's edges."""
    window = _within(box, canvas)
    if window is None:
        return
    outer = _mask(box, figure.radius, window)
    inside = _grow(box, -figure.border)
    inner = _mask(inside, max(figure.radius - figure.border, 0.0), window)
    lay_color(canvas, outer - np.minimum(inner, outer), figure.edge, 1.0, window[:2])


def _paint_picture(canvas: Bytes, box: Rect, figure: FigureBox) -> None:
    """Lay a picture onto its box, cut off at its round corners."""
    window = _within(box, canvas)
    if window is None or figure.picture is None:
        return
    left, top, right, bottom = window
    pixels = scaled(figure.picture, figure.drawn, window)
    if figure.radius:
        pixels = scale(pixels, _mask(box, figure.radius, window)[..., None])
    lay_over(canvas[top:bottom, left:right], pixels)
