"""Set text as pixels."""

from __future__ import annotations

from functools import lru_cache
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFilter, ImageFont

from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes, lay_over, scale
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.errors import Fault, Place, PlanError
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.texts import TextBlock
from rising_lantern.plan.files.locate import Stamp

_SMALLEST = 0.5  # px of a font size; smaller letters leave nothing to see
_OVERHANG = 0.35  # font sizes that letters may reach beyond their box


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
        lay_color(canvas, result[0], color, opacity, result[1])


def paint_text_shadow(canvas: Bytes, block: TextBlock, shadow: UsedShadow) -> None:
    """Draw a text's shadow onto a canvas, in place: CSS Text Decoration 3, section 4.

    Args:
        canvas: Opaque RGB or premultiplied RGBA.
        block: The text, placed on the canvas.
        shadow: Its shadow; the blur is twice its deviation.
    """
    reach = shadow_reach(shadow)
    result = _mask(canvas, block.moved(shadow.x, shadow.y), reach)
    if result is None:
        return
    mask, at = result
    if shadow.blur:
        blurred = Image.fromarray(mask).filter(ImageFilter.GaussianBlur(shadow.blur / 2))
        mask = np.asarray(blurred)
    lay_color(canvas, mask, shadow.color, 1.0, at)


def shadow_reach(shadow: UsedShadow) -> int:
    """How many px beyond its letters, moved by its distance, a shadow is seen."""
    return int(shadow.blur * 1.5) + 1


def _mask(canvas: Bytes, block: TextBlock, reach: int) -> tuple[Bytes, tuple[int, int]] | None:
    """How much of each px letters cover, 0 to 255, and where that stands on the canvas.

    Args:
        canvas: What the mask is for; it holds no more than the canvas does.
        block: The text.
        reach: How many px around the letters are wanted besides.
    """
    margin = int(block.size * _OVERHANG) + 2 + reach
    left, top = int(block.box.left) - margin, int(block.box.top) - margin
    right, bottom = int(block.box.right) + margin + 1, int(block.box.bottom) + margin + 1
    window = (max(left, 0), max(top, 0), min(right, canvas.shape[1]), min(bottom, canvas.shape[0]))
    if window[0] >= window[2] or window[1] >= window[3] or block.size < _SMALLEST:
        return None
    mask = Image.new("L", (window[2] - window[0], window[3] - window[1]))
    draw = ImageDraw.Draw(mask)
    font = _font(block.face.path, block.face.stamp, round(block.size, 3))
    for line in block.lines:
        baseline = whole_px(line.baseline) - window[1]
        if not -margin < baseline < mask.height + margin + block.size:
            continue  # of a long text, of which some rows are wanted
        for cluster in line.run.clusters:
            place = (line.left + cluster.left * block.size - window[0], baseline)
            try:
                draw.text(place, cluster.text, fill=255, font=font, anchor="ls")
            except OSError as error:
                raise _damaged(block.face.path, cluster.text) from error
    return np.asarray(mask), (window[0], window[1])


def _damaged(path: Path, letter: str) -> PlanError:
    problem = f"the font is damaged: it cannot draw '{letter}'"
    return PlanError([Fault(Place(str(path)), problem, "use another font file")])


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


@lru_cache(maxsize=128)
def _font(path: Path, stamp: Stamp, size: float) -> ImageFont.FreeTypeFont:
    del stamp  # another state of the file is another font
    return ImageFont.truetype(path, size, layout_engine=ImageFont.Layout.BASIC)
