"""Text as lines in a box: CSS Text 3, section 5 (line breaking at spaces, hyphens and dashes)."""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Literal

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.bidi import Direction
from rising_lantern.layout.fonts import Face, GlyphRun
from rising_lantern.layout.screen import whole_px
from rising_lantern.plan.models.base import MOST_FONT_PX
from rising_lantern.plan.models.content import collapsed

_HAIR = 1e-6  # px
_INNER = re.compile(
    r"(?<=[-\u2010\u2012\u2013\u2014\u2026?])(?=\w)|(?<=-)(?=-)|(?<=[^\u2014(\[{\u2018\u201c])(?=\u2014)"
)

Align = Literal["start", "center", "end"]


@dataclass(frozen=True, slots=True)
class Line:
    """A line of text.

    Attributes:
        run: Its clusters.
        left: Where it starts, in CSS px.
        baseline: Where its baseline stands, in CSS px.
    """

    run: GlyphRun
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
    box: Rect
    face: Face
    size: float

    def moved(self, left: float, top: float) -> TextBlock:
        """The text moved to the right and down, in px."""
        lines = tuple(Line(line.run, line.left + left, line.baseline + top) for line in self.lines)
        return TextBlock(lines, self.box.moved(left, top), self.face, self.size)


@dataclass(frozen=True, slots=True)
class Style:
    """How text is set.

    Attributes:
        face: The font.
        size: Its size in CSS px.
        leading: Line height, as a multiple of the font size.
        whole_lines: Whether lines are a whole number of px high.
        align: How lines stand to each other.
    """

    face: Face
    size: float
    leading: float = 1.4
    align: Align = "start"
    whole_lines: bool = False

    @property
    def line_height(self) -> float:
        """The height of a line, in CSS px."""
        height = self.size * self.leading
        return float(whole_px(height)) if self.whole_lines else height


def one_line_size(text: str, face: Face, room: float, most: float | None = None) -> float:
    """The font size at which the longest line of a text is as wide as its room.

    Advances scale with the size, so that it follows from the width of the set text.

    Args:
        text: The text; each of its own lines stays one line.
        face: The font.
        room: The width in CSS px.
        most: The largest size; by default only what can be set.
    """
    widest = widest_line(text, face)
    largest = min(MOST_FONT_PX if most is None else most, MOST_FONT_PX)
    return min(room / widest, largest) if widest > 0 else largest


def widest_line(text: str, face: Face) -> float:
    """The width of the longest of a text's own lines, in font sizes."""
    return max(face.set(collapsed(line)).width for line in text.split("\n"))


def set_text(text: str, style: Style, room: float | None) -> TextBlock:
    """Set a text at the origin.

    Source: https://www.w3.org/TR/css-text-3/#line-breaking

    Args:
        text: Line breaks in it are kept.
        style: How to set it.
        room: The width in CSS px at which lines are broken; no less than that of a word. None
            keeps the text's own lines.

    Returns:
        A block as wide as its only line or, where it was broken, as the room: CSS shrinks a box
        to fit its text only until the text wraps.
    """
    runs: list[GlyphRun] = []
    words = [style.face.set(piece).width for _, piece in _pieces(text)]
    room = math.inf if room is None else max(room, max(words, default=0.0) * style.size)
    wrapped = False
    for paragraph in text.split("\n"):
        lines = _break_lines(paragraph, style, room)
        wrapped = wrapped or len(lines) > 1
        runs += lines
    widest = max(run.width * style.size for run in runs)
    width = room if wrapped else widest
    step = style.line_height
    share = share_of(style.align, style.face.script.direction)
    placed = tuple(
        Line(run, (width - run.width * style.size) * share, index * step + _baseline(style))
        for index, run in enumerate(runs)
    )
    return TextBlock(placed, Rect(0.0, 0.0, width, step * len(runs)), style.face, style.size)


def share_of(align: Align, direction: Direction) -> float:
    """The share of the free room that is on the left of something."""
    share = {"start": 0.0, "center": 0.5, "end": 1.0}[align]
    return 1.0 - share if direction == "rtl" else share


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
    # A line of 90 px times 1.4 is 126 px high, of which floats are a hair short.
    return math.floor((style.line_height - (ascent + descent)) / 2 + _HAIR) + ascent


def _pieces(text: str) -> list[tuple[str, str]]:
    """What a text can be broken into: what stands before each piece, a space or nothing, and it.

    After hyphens, en dashes, ellipses and question marks that a letter or digit follows, and on
    both sides of an em dash, as browsers do.

    Source: https://www.unicode.org/reports/tr14/#Table1
    """
    return [
        (" " if place == 0 else "", piece)
        for word in collapsed(text).split(" ")
        if word
        for place, piece in enumerate(_INNER.split(word))
    ]


def _break_lines(paragraph: str, style: Style, room: float) -> list[GlyphRun]:
    pieces = _pieces(paragraph)
    lines: list[GlyphRun] = []
    current = pieces[0][1] if pieces else ""
    for space, piece in pieces[1:]:
        longer = f"{current}{space}{piece}"
        if style.face.set(longer).width * style.size > room:
            lines.append(style.face.set(current))
            current = piece
        else:
            current = longer
    return [*lines, style.face.set(current)]
