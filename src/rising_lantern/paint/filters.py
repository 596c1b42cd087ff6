"""CSS filters on painted pixels: Filter Effects 1, in the order in which they are given."""

from __future__ import annotations

import numpy as np
from PIL import Image, ImageFilter

from rising_lantern.css.compositing import Bytes, is_opaque, premultiply
from rising_lantern.css.filters import Filter
from rising_lantern.css.lengths import Basis

_PIXELS = 8192  # recoloured at a time: what is computed on the way stays in the processor's cache


def filtered(pixels: Bytes, filters: tuple[Filter, ...], basis: Basis) -> Bytes:
    """Pixels after some filters.

    Args:
        pixels: Premultiplied RGBA.
        filters: In the order in which they work.
        basis: What the radius of a blur is relative to.
    """
    for item in filters:
        deviation = item.deviation(basis)
        if item.name == "blur":
            pixels = _blur(pixels, deviation) if deviation else pixels
        else:
            pixels = _recolor(pixels, item)
    return pixels


def _recolor(pixels: Bytes, filter_: Filter) -> Bytes:
    if filter_.is_separable and is_opaque(pixels):
        levels = np.full((1, 256, 4), 255, dtype=np.uint8)
        levels[..., :3] = np.arange(256)[:, None]
        table = _recolor_rows(levels, filter_)[0, :, 0]
        result = table.take(pixels)
        result[..., 3] = 255
        return result
    result = np.empty_like(pixels)
    rows = max(_PIXELS // max(pixels.shape[1], 1), 1)
    for first in range(0, len(pixels), rows):
        some = slice(first, first + rows)
        result[some] = _recolor_rows(pixels[some], filter_)
    return result


def _recolor_rows(pixels: Bytes, filter_: Filter) -> Bytes:
    straight = pixels.astype(np.float32) / 255
    alpha = straight[..., 3:]
    straight[..., :3] = np.divide(straight[..., :3], alpha, where=alpha > 0, out=straight[..., :3])
    levels = filter_.applied(straight) * 255 + 0.5
    return premultiply(levels.astype(np.uint8))


def blur_reach(deviation: float) -> int:
    """How many px away a blur still changes something."""
    return int(deviation * 3) + 1 if deviation else 0


def _blur(pixels: Bytes, deviation: float) -> Bytes:
    """A Gaussian over premultiplied colours; beyond the edges there is nothing."""
    reach = blur_reach(deviation)
    padded = np.pad(pixels, [(reach, reach), (reach, reach), (0, 0)])
    # As RGBX: Pillow would multiply RGBA by its alpha once more.
    picture = Image.frombuffer("RGBX", (padded.shape[1], padded.shape[0]), padded)
    blurred = np.asarray(picture.filter(ImageFilter.GaussianBlur(deviation)))
    return blurred[reach:-reach, reach:-reach].copy()
