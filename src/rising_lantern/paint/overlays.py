"""Overlays: pixels that are mixed anew with what is below them on each frame."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from PIL import Image

from rising_lantern.css.blending import blend_over
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.compositing import Bytes, scale
from rising_lantern.layout.screen import whole_px


@dataclass(frozen=True, slots=True)
class Overlay:
    """Pixels that fade, grow or blend.

    Attributes:
        left: Column of the first pixel.
        top: Row of the first pixel.
        pixels: Premultiplied RGBA.
        blend: How they mix with what is below.
    """

    left: int
    top: int
    pixels: Bytes
    blend: BlendMode

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
        height, width = self.pixels.shape[:2]
        x, y = at[0] + self.left * size, at[1] + self.top * size
        left, right = max(whole_px(x), 0), min(whole_px(x + width * size), frame.shape[1])
        first, last = max(whole_px(y), rows[0]), min(whole_px(y + height * size), rows[1])
        if left >= right or first >= last:
            return
        if size == 1:
            shown = self.pixels[first - int(y) : last - int(y), left - int(x) : right - int(x)]
        else:
            shown = self._resized((left - x, first - y), (right - left, last - first), size)
        if opacity < 1:
            shown = scale(shown, np.full((1, 1, 1), whole_px(opacity * 255), dtype=np.uint8))
        blend_over(frame[first:last, left:right], shown, self.blend)

    def _resized(self, start: tuple[float, float], extent: tuple[int, int], size: float) -> Bytes:
        """A window of the pixels drawn so many times as large, sampled bilinearly."""
        # As RGBX: Pillow would multiply RGBA by its alpha once more.
        whole = Image.frombuffer("RGBX", (self.pixels.shape[1], self.pixels.shape[0]), self.pixels)
        drawn = whole.transform(
            extent,
            Image.Transform.AFFINE,
            (1 / size, 0.0, start[0] / size, 0.0, 1 / size, start[1] / size),
            Image.Resampling.BILINEAR,
        )
        return np.asarray(drawn)
