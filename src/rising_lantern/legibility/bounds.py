"""How low a contrast can be at all, whatever is behind a header."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.colors import Color
from rising_lantern.css.lengths import Basis
from rising_lantern.layout.headers import PartBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.backdrops import Stain
from rising_lantern.legibility.contrast import luminance, ratio
from rising_lantern.plan.models.fills import Fill
from rising_lantern.scroll.states import HeaderState

Floats = NDArray[np.float64]

_SPARE = 2  # levels, for what is rounded on the way


def least_contrast(state: HeaderState, part: PartBox, stain: Stain) -> float:
    """A contrast that a part of a header reaches on any backdrop; at least 1.

    Args:
        state: The header.
        part: The part.
        stain: Its colour.
    """
    if stain.ink.alpha < 1 or not is_inside(state, part):
        return 1.0
    low, high = np.zeros(4), np.zeros(4)
    for fill, share in zip(state.fills, state.shares, strict=True):
        size = whole_px(state.width), whole_px(state.height)
        ends = _range(fill, *size, state.header.screen.basis())
        low, high = low + share * ends[0], high + share * ends[1]
    low, high = low * 255 * state.opacity, high * 255 * state.opacity
    darkest = low[:3] - _SPARE
    lightest = high[:3] + 255 - low[3] + _SPARE
    levels = np.clip([darkest, lightest], 0, 255).astype(np.uint8)
    dark, light = (float(item) for item in luminance(levels))
    own = float(luminance(np.array(stain.ink.bytes[:3], dtype=np.uint8)))
    if dark <= own <= light:
        return 1.0
    return float(ratio(own, light if own > light else dark))


def is_inside(state: HeaderState, part: PartBox) -> bool:
    """Whether all of a part lies on the header's background, and nothing on its border."""
    edge, box = whole_px(state.border), part.box
    across = whole_px(state.left) + edge <= whole_px(box.left)
    across &= whole_px(box.right) <= whole_px(state.left + state.width) - edge
    # The header's lower edge is snapped where it stands: a px to spare.
    down = edge <= whole_px(box.top) and whole_px(box.bottom) + 1 <= whole_px(state.height) - edge
    return across and (down or not edge)


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
