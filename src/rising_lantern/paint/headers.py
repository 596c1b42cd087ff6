"""The header as patches: its shadow and background, then its parts."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.backgrounds import Box
from rising_lantern.css.compositing import Bytes, lay_over, scale
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.layout.headers import HeaderBox, LookStyle, PartBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.paint.fills import paint_color
from rising_lantern.paint.patches import Patch, patches_of
from rising_lantern.paint.pictures import scaled
from rising_lantern.paint.texts import lay_color, paint_text
from rising_lantern.plan.files import Picture

_DEVIATIONS = 3  # a Gaussian is nothing to see beyond


@dataclass(frozen=True, slots=True)
class HeaderPatches:
    """What a header paints, from its upper edge.

    Attributes:
        ground: Its shadow and background.
        parts: Its parts, which are laid over the ground.
    """

    ground: tuple[Patch, ...]
    parts: tuple[Patch, ...]


def paint_header(
    header: HeaderBox, style: LookStyle, top: float, pictures: dict[str, Picture]
) -> HeaderPatches:
    """Paint a header as it is worn.

    Args:
        header: The header.
        style: What it wears.
        top: Where on the screen its upper edge stands; only what is behind the point counts,
            since edges are snapped to whole px.
        pictures: The plan's pictures.
    """
    width = header.screen.client_width
    shift = top - math.floor(top)
    rows = whole_px(shift + style.height)
    above, below = _reach(style.shadow)
    canvas = np.zeros((above + rows + below, width, 4), dtype=np.uint8)
    for shadow in reversed(style.shadow):
        _paint_shadow(canvas, shadow, Box(0.0, above, width, rows))
    paint_color(canvas[above : above + rows], style.background)
    parts: list[Patch] = []
    for part in header.place_parts(style).values():
        parts += _part_patches(part, shift, (rows, width), pictures)
    return HeaderPatches(patches_of(canvas, -above), tuple(parts))


def _part_patches(
    part: PartBox, down: float, size: tuple[int, int], pictures: dict[str, Picture]
) -> tuple[Patch, ...]:
    """One part; what reaches above or below the header is seen as well."""
    room = math.ceil(max(part.box.height, size[0]))
    canvas = np.zeros((size[0] + 2 * room, size[1], 4), dtype=np.uint8)
    down += room
    for name, share in zip(part.style.images, part.style.shares, strict=True):
        _paint_picture(canvas, part.box.moved(top=down), pictures[name], share)
    for text in part.texts:
        paint_text(canvas, text.moved(0.0, down), part.style.color)
    return patches_of(canvas, -room)


def _paint_picture(canvas: Bytes, box: Box, picture: Picture, share: float) -> None:
    left, top = max(whole_px(box.left), 0), max(whole_px(box.top), 0)
    right, bottom = (
        min(whole_px(box.right), canvas.shape[1]),
        min(whole_px(box.bottom), len(canvas)),
    )
    if left >= right or top >= bottom:
        return
    # The edges of an img are snapped to whole px, and the picture with them.
    x, y = whole_px(box.left), whole_px(box.top)
    snapped = Box(x, y, whole_px(box.right) - x, whole_px(box.bottom) - y)
    pixels = scaled(picture, snapped, (left, top, right, bottom))
    if share < 1:
        pixels = scale(pixels, np.full((1, 1, 1), whole_px(share * 255), dtype=np.uint8))
    lay_over(canvas[top:bottom, left:right], pixels)


def _reach(shadows: tuple[UsedShadow, ...]) -> tuple[int, int]:
    """How many rows above and below the header its shadows take up."""
    above = below = 0
    for shadow in shadows:
        spread = shadow.spread + shadow.blur / 2 * _DEVIATIONS
        above = max(above, math.ceil(spread - shadow.y))
        below = max(below, math.ceil(spread + shadow.y))
    return above, below


def _paint_shadow(canvas: Bytes, shadow: UsedShadow, box: Box) -> None:
    """Lay a shadow around a box: CSS Backgrounds 3, 6.1. It is clipped inside the box.

    A box blurred by a Gaussian is the product of two differences of error functions.
    """
    height, width = canvas.shape[:2]
    deviation = shadow.blur / 2
    across = _blurred(
        width, box.left + shadow.x - shadow.spread, box.right + shadow.x + shadow.spread, deviation
    )
    down = _blurred(
        height, box.top + shadow.y - shadow.spread, box.bottom + shadow.y + shadow.spread, deviation
    )
    down[int(box.top) : int(box.bottom)] = 0.0
    mask = (np.outer(down, across) * 255 + 0.5).astype(np.uint8)
    lay_color(canvas, mask, shadow.color, 1.0, (0, 0))


def _blurred(count: int, low: float, high: float, deviation: float) -> NDArray[np.float64]:
    """How much of a blurred stretch from low to high each of so many pixels gets, 0 to 1."""
    centers = np.arange(count) + 0.5
    if deviation <= 0:
        return ((centers > low) & (centers < high)).astype(np.float64)
    unit = deviation * math.sqrt(2)
    return np.array(
        [(math.erf((c - low) / unit) - math.erf((c - high) / unit)) / 2 for c in centers]
    )
