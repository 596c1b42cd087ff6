"""Set text as pixels."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache, partial
from operator import attrgetter

import numpy as np
import uharfbuzz as hb
from PIL import Image, ImageFilter

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes, lay_over, scale
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.layout.fonts import Face, GlyphRun
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.texts import Line, TextBlock
from rising_lantern.paint.shelf import Shelf

_SMALLEST = 0.5  # px of a font size; smaller letters leave nothing to see
_OVERHANG = 0.35  # font sizes that letters may reach beyond their box
_STEPS = 4  # of a px, to which browsers round the place of a letter
# Browsers give light letters more weight than dark ones: by the lightness of the colour, 0 to 1,
# how much is added to a coverage c, in units of c (1 - c). Measured in Chromium.
_LIGHTNESS = (0.0, 0.25, 0.5, 0.75, 1.0)
_WEIGHT = (-0.08, 0.04, 0.10, 0.16, 0.22)
_MOST_BYTES = 40_000_000  # of lines that are kept drawn


def paint_text(canvas: Bytes, block: TextBlock, color: Color, opacity: float = 1.0) -> None:
    """Draw a text onto a canvas, in place.

    Letters are drawn into a mask first and laid on in one go: drawing them straight onto a
    picture with alpha would replace it at their edges instead of mixing.

    Args:
        canvas: Opaque RGB or premultiplied RGBA.
        block: The text, placed on the canvas.
        color: Its colour.
        opacity: 0 to 1, on top of the colour's own.
    """
    result = _mask(canvas, block, 0)
    if result:
        lay_color(canvas, _weigh_mask(result[0], color), color, opacity, result[1])


def paint_text_shadow(
    canvas: Bytes, block: TextBlock, shadow: UsedShadow, lines: Sequence[Rect] = ()
) -> None:
    """Draw a text's shadow onto a canvas, in place: CSS Text Decoration 3, section 4.

    Args:
        canvas: Opaque RGB or premultiplied RGBA.
        block: The text, placed on the canvas.
        shadow: Its shadow; the blur is twice its deviation.
        lines: The lines below its links, which cast a shadow as letters do.
    """
    reach = shadow_reach(shadow)
    result = _mask(canvas, block.moved(shadow.x, shadow.y), reach)
    if result is None:
        return
    mask, at = result
    for line in lines:
        left, top = whole_px(line.left + shadow.x) - at[0], whole_px(line.top + shadow.y) - at[1]
        right, bottom = left + whole_px(line.width), top + whole_px(line.height)
        mask[max(top, 0) : max(bottom, 0), max(left, 0) : max(right, 0)] = 255
    if shadow.blur:
        blurred = Image.fromarray(mask).filter(ImageFilter.GaussianBlur(shadow.blur / 2))
        mask = np.asarray(blurred)
    lay_color(canvas, mask, shadow.color, 1.0, at)


def shadow_reach(shadow: UsedShadow) -> int:
    """How many px beyond its letters, moved by its distance, a shadow is seen."""
    return int(shadow.blur * 1.5) + 1


def text_reach(block: TextBlock, shadows: Sequence[UsedShadow]) -> int:
    """How many px beyond its box a text is seen, its shadows included."""
    cast = (shadow_reach(item) + math.ceil(max(abs(item.x), abs(item.y))) for item in shadows)
    return _margin(block) + max(cast, default=0)


def _margin(block: TextBlock) -> int:
    """How many px letters may reach beyond their box."""
    return int(block.size * _OVERHANG) + 2


def _mask(canvas: Bytes, block: TextBlock, reach: int) -> tuple[Bytes, tuple[int, int]] | None:
    """How much of each px letters cover, 0 to 255, and where that stands on the canvas.

    Args:
        canvas: What the mask is for; it holds no more than the canvas does.
        block: The text.
        reach: How many px around the letters are wanted besides.
    """
    margin = _margin(block) + reach
    left, top = int(block.box.left) - margin, int(block.box.top) - margin
    right, bottom = int(block.box.right) + margin + 1, int(block.box.bottom) + margin + 1
    window = (max(left, 0), max(top, 0), min(right, canvas.shape[1]), min(bottom, canvas.shape[0]))
    if window[0] >= window[2] or window[1] >= window[3] or block.size < _SMALLEST:
        return None
    mask = np.zeros((window[3] - window[1], window[2] - window[0]), dtype=np.uint8)
    for line in block.lines:
        baseline = whole_px(line.baseline) - window[1]
        if not -margin < baseline < len(mask) + margin + block.size:
            continue  # of a long text, of which some rows are wanted
        _lay_line(mask, _line(block, line), (math.floor(line.left) - window[0], baseline))
    return mask, (window[0], window[1])


@dataclass(frozen=True, slots=True)
class _Drawn:
    """A line of text, drawn.

    Attributes:
        pixels: How much of each px letters cover, 0 to 255.
        left: The column of the line's start, in whole px, from the first of the pixels.
        above: The row of its baseline.
    """

    pixels: Bytes
    left: int
    above: int

    @property
    def size(self) -> int:
        """How many bytes it takes up."""
        return self.pixels.nbytes


_lines = Shelf[_Drawn](_MOST_BYTES, attrgetter("size"))


def _line(block: TextBlock, line: Line) -> _Drawn:
    """A line of a text, drawn from the whole px on in which it starts."""
    phase = line.left - math.floor(line.left)
    key = (block.face.file, block.size, line.run, round(phase, 3))
    return _lines.get(key, partial(_draw_line, block.face, block.size, line.run, phase))


def _draw_line(face: Face, size: float, run: GlyphRun, phase: float) -> _Drawn:
    """A line of text as browsers draw it: outlines without hints, by the share of a px covered."""
    margin = int(size * _OVERHANG) + 2
    above, below = (math.ceil(max(reach, 0.0) * size) for reach in (face.ascent, face.descent))
    width = math.ceil(run.width * size) + 2 * margin + 1
    scale = size / face.units
    pen = hb.RasterDraw()
    pen.extents = hb.RasterExtents(0, -below - margin, width, above + below + 2 * margin, 0)
    for cluster in run.clusters:
        for glyph in cluster.glyphs:
            left = phase + (cluster.left + glyph.x) * size
            left = margin + math.floor(left * _STEPS + 0.5) / _STEPS
            pen.transform = (scale, 0.0, 0.0, scale, left, glyph.y * size)
            pen.draw_glyph(face.font, glyph.number)
    image = pen.render()
    shape = image.extents
    rows = np.frombuffer(bytes(image.buffer), np.uint8).reshape(shape.height, shape.stride)
    # Rows are stored from the lowest one up.
    return _Drawn(np.ascontiguousarray(rows[::-1, : shape.width]), margin, above + margin)


def _lay_line(mask: Bytes, line: _Drawn, at: tuple[int, int]) -> None:
    """Add a line to a mask, in place, where its start and baseline are at a column and row."""
    left, top = at[0] - line.left, at[1] - line.above
    height, width = line.pixels.shape
    first, last = max(top, 0), min(top + height, mask.shape[0])
    low, high = max(left, 0), min(left + width, mask.shape[1])
    if first < last and low < high:
        seen = line.pixels[first - top : last - top, low - left : high - left]
        own = mask[first:last, low:high]
        np.maximum(own, seen, out=own)


def _weigh_mask(mask: Bytes, color: Color) -> Bytes:
    """A mask of letters as browsers draw them in a colour."""
    return np.asarray(_weights(color.bytes[:3])[mask])


@lru_cache(maxsize=128)
def _weights(channels: tuple[int, int, int]) -> Bytes:
    """What browsers make of each coverage, 0 to 255."""
    red, green, blue = channels
    lightness = (0.2126 * red + 0.7152 * green + 0.0722 * blue) / 255
    coverage = np.arange(256) / 255
    more = np.interp(lightness, _LIGHTNESS, _WEIGHT) * coverage * (1 - coverage)
    return (np.clip(coverage + more, 0, 1) * 255 + 0.5).astype(np.uint8)


def lay_color(
    canvas: Bytes, mask: Bytes, color: Color, opacity: float, at: tuple[int, int]
) -> None:
    """Lay a colour onto a canvas through a mask, in place.

    Args:
        canvas: Opaque RGB or premultiplied RGBA.
        mask: How much of the colour each pixel gets, 0 to 255, shaped (height, width).
        color: The colour.
        opacity: 0 to 1, on top of the colour's own.
        at: Column and row of the mask's first pixel; the mask lies within the canvas.
    """
    red, green, blue, _ = color.bytes
    alpha = scale(mask, np.uint8(int(color.alpha * opacity * 255 + 0.5)) * np.ones_like(mask))
    pixels = np.empty((*mask.shape, 4), dtype=np.uint8)
    pixels[..., 3] = alpha
    pixels[..., :3] = scale(np.array([red, green, blue], dtype=np.uint8), alpha[..., None])
    left, top = at
    lay_over(canvas[top : top + mask.shape[0], left : left + mask.shape[1]], pixels)
