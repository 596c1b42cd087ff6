"""Text as lines in a box: CSS Text 3, section 5 (line breaking at spaces)."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from rising_lantern.css.backgrounds import Box
from rising_lantern.layout.fonts import Face, Run
from rising_lantern.layout.screen import whole_px

Align = Literal["start", "center", "end"]


@dataclass(frozen=True, slots=True)
class Line:
    """A line of text.

    Attributes:
        run: Its clusters.
        left: Where it starts, in CSS px.
        baseline: Where its baseline stands, in CSS px.
    """

    run: Run
    left: float
    baseline: float


@dataclass(frozen=True, slots=True)
class TextBlock:
    """Set text.

    Attributes:
        lines: From top to bottom.
        box: What the lines take up.
        face: The font.
        size: The font's size in CSS px.
    """

    lines: tuple[Line, ...]
    box: Box
    face: Face
    size: float

    def moved(self, left: float, top: float) -> TextBlock:
        """The same text, so far to the right and down."""
        lines = tuple(Line(line.run, line.left + left, line.baseline + top) for line in self.lines)
        return TextBlock(lines, self.box.moved(left, top), self.face, self.size)


@dataclass(frozen=True, slots=True)
class Style:
    """How text is set.

    Attributes:
        face: The font.
        size: Its size in CSS px.
        leading: Line height, as a multiple of the font size.
        align: How lines stand to each other.
    """

    face: Face
    size: float
    leading: float = 1.4
    align: Align = "start"


def set_text(text: str, style: Style, room: float) -> TextBlock:
    """Set a text at the origin.

    Source: https://www.w3.org/TR/css-text-3/#line-breaking

    Args:
        text: Line breaks in it are kept.
        style: How to set it.
        room: The width in CSS px at which lines are broken; no less than that of a word.

    Returns:
        A block as wide as its only line or, where it was broken, as the room: CSS shrinks a box
        to fit its text only until the text wraps.
    """
    runs: list[Run] = []
    words = [style.face.set(word).width for word in text.split()]
    room = max(room, max(words, default=0.0) * style.size)
    wrapped = False
    for paragraph in text.split("\n"):
        lines = _broken(paragraph, style, room)
        wrapped = wrapped or len(lines) > 1
        runs += lines
    widest = max(run.width * style.size for run in runs)
    width = room if wrapped else widest
    step = style.size * style.leading
    share = {"start": 0.0, "center": 0.5, "end": 1.0}[style.align]
    placed = tuple(
        Line(run, (width - run.width * style.size) * share, index * step + _baseline(style))
        for index, run in enumerate(runs)
    )
    return TextBlock(placed, Box(0.0, 0.0, width, step * len(runs)), style.face, style.size)


def _baseline(style: Style) -> float:
    """From a line's top to its baseline: CSS Inline 3, 4.1.

    Browsers take ascent, descent and the leading above in whole px. Chromium moves the baseline
    up by one where rounding would cut the descent short.

    Source: https://www.w3.org/TR/css-inline-3/#line-height
    """
    ascent = whole_px(style.face.ascent * style.size)
    descent = whole_px(style.face.descent * style.size)
    if descent < style.face.descent * style.size:
        ascent, descent = ascent - 1, descent + 1
    return math.floor((style.size * style.leading - (ascent + descent)) / 2) + ascent


def _broken(paragraph: str, style: Style, room: float) -> list[Run]:
    words = paragraph.split()
    lines: list[Run] = []
    current = words[0] if words else ""
    for word in words[1:]:
        longer = f"{current} {word}"
        if style.face.set(longer).width * style.size > room:
            lines.append(style.face.set(current))
            current = word
        else:
            current = longer
    return [*lines, style.face.set(current)]
