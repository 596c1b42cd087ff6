"""A sheet of paper that reports are set on: text, boxes and pictures in the house style."""

from __future__ import annotations

from typing import Literal

import numpy as np
from PIL import Image

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.fonts import FontBook
from rising_lantern.layout.texts import Style, TextBlock, set_text
from rising_lantern.paint.fills import paint_color, paint_panel
from rising_lantern.paint.texts import paint_text
from rising_lantern.plan.text.reading import PlanFile

GROUND = parse_color("#f7f4ed")
CARD = parse_color("#ffffff")
INK = parse_color("#1c2336")
QUIET = parse_color("#5f6579")
RULE = parse_color("#d9d3c5")
ACCENT = parse_color("#b4541a")

_FONTS = FontBook({})
_UNBROKEN = 1e9


class Board:
    """An opaque sheet that things are drawn onto, in px from its upper left corner."""

    def __init__(self, width: int, height: int) -> None:
        self.pixels: Bytes = np.empty((height, width, 3), dtype=np.uint8)
        paint_color(self.pixels, GROUND)

    def text(  # noqa: PLR0913 - a text has a place, a look and a room
        self,
        x: float,
        y: float,
        words: str,
        *,
        size: float,
        color: Color = INK,
        weight: int = 400,
        font: str = "sans",
        room: float = _UNBROKEN,
        align: Literal["start", "end"] = "start",
    ) -> Rect:
        """Set a text with its upper edge at y; at its end, x is the right edge. Gives its box."""
        block = measured(words, size, weight=weight, font=font, room=room)
        left = x if align == "start" else x - block.box.width
        placed = block.moved(left, y)
        paint_text(self.pixels, placed, color)
        return placed.box

    def box(self, box: Rect, color: Color, radius: float = 0.0) -> None:
        """Draw a filled box with round corners."""
        paint_panel(self.pixels, box, radius, color)

    def picture(self, left: int, top: int, picture: Bytes, width: int, height: int) -> None:
        """Draw an opaque picture, reduced to a size."""
        small = Image.fromarray(picture).resize(
            (width, height), Image.Resampling.HAMMING, reducing_gap=2.0
        )
        self.pixels[top : top + height, left : left + width] = np.asarray(small)

    def image(self) -> Image.Image:
        """The sheet as a picture."""
        return Image.fromarray(self.pixels)


def measured(
    words: str, size: float, *, weight: int = 400, font: str = "sans", room: float = _UNBROKEN
) -> TextBlock:
    """A text set at the origin, in the house style."""
    return set_text(words, Style(_FONTS.face(font, weight), size, 1.3), room)


def size_words(plan: PlanFile, viewport: str) -> str:
    """The size of a viewport, as it is written below a picture."""
    size = plan.viewport(viewport)
    return f"{size.width} × {size.height}"
