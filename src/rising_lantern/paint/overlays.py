"""Overlays: pixels that are mixed anew with what is below them on each frame."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from PIL import Image

from rising_lantern.css.blending import blend_over
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.compositing import Bytes, scale
from rising_lantern.layout.screen import whole_px
from rising_lantern.paint.bands import Bands

_NEIGHBORS = 2  # rows beyond those that are sampled, which their edges are mixed with


@dataclass(frozen=True, slots=True)
class Overlay:
    """Pixels that fade, grow or blend.

    Attributes:
        left: Column of the first pixel.
        top: Row of the first pixel.
        pixels: Premultiplied RGBA, or an area of it that is painted in bands.
        blend: How they mix with what is below.
    """

    left: int
    top: int
    pixels: Bytes | Bands
    blend: BlendMode

    @property
    def width(self) -> int:
        """How many columns it has."""
        return self.pixels.width if isinstance(self.pixels, Bands) else int(self.pixels.shape[1])

    @property
    def height(self) -> int:
        """How many rows it has."""
        return self.pixels.height if isinstance(self.pixels, Bands) else int(self.pixels.shape[0])

    @property
    def size(self) -> int:
        """How many bytes it holds by itself: bands have a limit of their own."""
        return 0 if isinstance(self.pixels, Bands) else self.pixels.nbytes

    def lay(
        self,
        frame: Bytes,
        at: tuple[float, float],
        rows: tuple[int, int],
        opacity: float,
        size: float,
    ) -> None:
        """Mix them with some rows of a frame, in place. What reaches beyond it is cut off.

        Args:
            frame: Opaque RGB or premultiplied RGBA.
            at: The frame's column and row on which the overlay's origin stands.
            rows: The first row of the frame that may change, and the one after the last.
            opacity: 0 to 1, on top of its own.
            size: How many times as large it is drawn.
        """
        if opacity <= 0 or size <= 0:
            return
        if size == 1:
            at = (whole_px(at[0]), whole_px(at[1]))
        height, width = self.height, self.width
        x, y = at[0] + self.left * size, at[1] + self.top * size
        left, right = max(whole_px(x), 0), min(whole_px(x + width * size), frame.shape[1])
        first, last = max(whole_px(y), rows[0]), min(whole_px(y + height * size), rows[1])
        if left >= right or first >= last:
            return
        if size == 1:
            shown = self._rows(first - int(y), last - int(y))[:, left - int(x) : right - int(x)]
        else:
            shown = self._resize((left - x, first - y), (right - left, last - first), size)
        if opacity < 1:
            shown = scale(shown, np.full((1, 1, 1), whole_px(opacity * 255), dtype=np.uint8))
        blend_over(frame[first:last, left:right], shown, self.blend)

    def _resize(self, start: tuple[float, float], extent: tuple[int, int], size: float) -> Bytes:
        """A window of the scaled pixels, sampled bilinearly."""
        first = max(math.floor(start[1] / size) - _NEIGHBORS, 0)
        last = min(math.ceil((start[1] + extent[1]) / size) + _NEIGHBORS, self.height)
        if first >= last:
            return np.zeros((extent[1], extent[0], 4), dtype=np.uint8)
        rows = np.ascontiguousarray(self._rows(first, last))
        # As RGBX: Pillow would multiply RGBA by its alpha once more.
        whole = Image.frombuffer("RGBX", (rows.shape[1], rows.shape[0]), rows)
        drawn = whole.transform(
            extent,
            Image.Transform.AFFINE,
            (1 / size, 0.0, start[0] / size, 0.0, 1 / size, start[1] / size - first),
            Image.Resampling.BILINEAR,
        )
        return np.asarray(drawn)

    def _rows(self, first: int, last: int) -> Bytes:
        if isinstance(self.pixels, Bands):
            return self.pixels.read(first, last)
        return self.pixels[first:last]
