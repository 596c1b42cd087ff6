"""Variants side by side: their frames at the same scroll positions, and their contrast."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PIL import Image

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.compositing import Bytes
from rising_lantern.report.board import INK, QUIET, RULE, Board, measured

_MARGIN, _GAP, _HEAD, _CAPTION = 48, 18, 116, 58
_SIDE = 250  # px of a row that its words have
_BROADEST, _TALLEST = 300, 400
_APART = 0.12  # of a screen, between two positions that are shown
_COARSE = 16  # px between those that are compared to see where variants differ


@dataclass(frozen=True, slots=True)
class VariantRow:
    """A variant on a sheet.

    Attributes:
        name: What it is called.
        words: What is said of it, a line each.
        frames: Its frames, one for each column.
    """

    name: str
    words: tuple[str, ...]
    frames: tuple[Bytes, ...]


@dataclass(frozen=True, slots=True)
class Column:
    """A scroll position on a sheet.

    Attributes:
        scroll: In px.
        reasons: Why it is shown.
        time_ms: Of an instant: how long the reader has been there.
    """

    scroll: int
    reasons: tuple[str, ...]
    time_ms: float | None = None

    @property
    def heading(self) -> str:
        """Where and when it is, in words."""
        return f"{self.scroll:,} px" if self.time_ms is None else f"{self.time_ms:,.0f} ms"


def telling(scroll: Sequence[int], candidates: Sequence[Sequence[Bytes]], count: int) -> list[int]:
    """Which of some scroll positions show best how variants differ.

    Args:
        scroll: The positions, in px.
        candidates: For each, the frames of the variants.
        count: How many to choose at most. None is so near to another that it would look alike,
            and none shows all variants equal, unless they are so everywhere.
    """
    apart = candidates[0][0].shape[0] * _APART
    differences = [_difference(frames) for frames in candidates]
    chosen: list[int] = []
    for place in sorted(range(len(scroll)), key=lambda place: -differences[place]):
        near = min((abs(scroll[place] - scroll[item]) for item in chosen), default=apart)
        if differences[place] > 0 and near >= apart and len(chosen) < count:
            chosen.append(place)
    return sorted(chosen) or [0]


def differing(candidates: Sequence[Sequence[Bytes]], count: int) -> list[int]:
    """Which of some instants show best how variants differ; none where they are alike in all.

    Args:
        candidates: For each, the frames of the variants.
        count: How many to choose at most.
    """
    differences = [_difference(frames) for frames in candidates]
    telling = [place for place, difference in enumerate(differences) if difference > 0]
    spread = np.linspace(0, len(telling) - 1, min(count, len(telling))).round().astype(int)
    return [telling[place] for place in spread]


def _difference(frames: Sequence[Bytes]) -> float:
    """By how many levels the frames of variants differ from the first one's, on the average."""
    small = [frame[::_COARSE, ::_COARSE].astype(np.int16) for frame in frames]
    return max(float(np.abs(item - small[0]).mean()) for item in small)


def sheet(
    title: str, subtitle: str, columns: Sequence[Column], rows: Sequence[VariantRow]
) -> Image.Image:
    """Frames in rows and columns: a row for each variant, a column for each scroll position.

    Args:
        title: The plan's title.
        subtitle: The page and the screen.
        columns: The positions, at least one.
        rows: The variants, at least one.
    """
    tall, wide = rows[0].frames[0].shape[:2]
    scale = min(_BROADEST / wide, _TALLEST / tall, 1.0)
    width, height = max(round(wide * scale), 1), max(round(tall * scale), 1)
    room = _SIDE + len(columns) * (width + _GAP)
    board = Board(
        max(2 * _MARGIN + room, 900), _HEAD + _CAPTION + len(rows) * (height + _GAP) + _MARGIN // 2
    )
    board.text(_MARGIN, 28, title, size=30, font="serif", weight=600)
    board.text(_MARGIN, 72, subtitle, size=18, color=QUIET)
    for index, column in enumerate(columns):
        left = _MARGIN + _SIDE + index * (width + _GAP)
        board.text(left, _HEAD, column.heading, size=17, weight=600)
        board.text(
            left, _HEAD + 25, _fitting(" · ".join(column.reasons), 13, width), size=13, color=QUIET
        )
    for number, row in enumerate(rows):
        top = _HEAD + _CAPTION + number * (height + _GAP)
        _words(board, row, top)
        for index, frame in enumerate(row.frames):
            left = _MARGIN + _SIDE + index * (width + _GAP)
            board.box(Rect(left - 1, top - 1, width + 2, height + 2), RULE)
            board.picture(left, top, frame, width, height)
    return board.image()


def _words(board: Board, row: VariantRow, top: float) -> None:
    room = _SIDE - 24
    box = board.text(_MARGIN, top - 4, row.name, size=19, weight=600, color=INK, room=room)
    y = math.ceil(box.bottom) + 8
    for line in row.words:
        y = math.ceil(board.text(_MARGIN, y, line, size=15, color=QUIET, room=room).bottom) + 3


def _fitting(words: str, size: float, room: float) -> str:
    """As much of some words as fits into a line."""
    while measured(words, size).box.width > room and " " in words:
        words = words.rstrip("…").rsplit(" ", 1)[0].rstrip(" ·:") + "…"
    return words
