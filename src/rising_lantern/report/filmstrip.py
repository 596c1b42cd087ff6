"""The filmstrip: frames along the scroll, numbered on a track that shows where they are."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from PIL import Image

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.pages import PageBox
from rising_lantern.report.board import (
    ACCENT,
    CARD,
    INK,
    QUIET,
    RULE,
    Board,
    measured,
)
from rising_lantern.scroll.bands import Band
from rising_lantern.scroll.moments import Moment
from rising_lantern.scroll.stops import Stop

_MARGIN = 48
_GAP = 30
_HEAD = 188
_CAPTION = 96
_BROADEST = 460
_TALLEST = 520
_WIDE = 4  # frames in a row of landscape screens
_TALL = 7  # and of portrait ones
_DOT = 11


@dataclass(frozen=True, slots=True)
class Shot:
    """A frame with what its caption says.

    Attributes:
        stop: Where it was taken, and why.
        moment: What holds there.
        pixels: The frame.
    """

    stop: Stop
    moment: Moment
    pixels: Bytes


def compose(
    title: str,
    subtitle: str,
    shots: Sequence[Shot],
    bands: Sequence[Band],
    page: PageBox,
    max_scroll: int,
) -> Image.Image:
    """Put frames side by side.

    Args:
        title: The plan's title.
        subtitle: The page and the screen.
        shots: The frames from the top of the page to its end; at least one.
        bands: Where each look of the header is current.
        page: The page as it is laid out.
        max_scroll: The last scroll position, in px.
    """
    width, height = _frame_size(page)
    columns = min(_WIDE if page.screen.client_width > page.screen.height else _TALL, len(shots))
    # The head needs room even over a single narrow frame.
    columns = max(columns, math.ceil(900 / (width + _GAP)))
    rows = math.ceil(len(shots) / columns)
    board = Board(
        2 * _MARGIN + columns * width + (columns - 1) * _GAP,
        _HEAD + rows * (height + _CAPTION) + _MARGIN // 2,
    )
    _head(board, title, subtitle, max_scroll)
    _track(board, shots, bands, max_scroll)
    for index, shot in enumerate(shots):
        left = _MARGIN + index % columns * (width + _GAP)
        top = _HEAD + index // columns * (height + _CAPTION)
        _shot(board, index + 1, shot, Rect(left, top, width, height))
    return board.image()


def _frame_size(page: PageBox) -> tuple[int, int]:
    screen = page.screen
    scale = min(_BROADEST / screen.client_width, _TALLEST / screen.height, 1.0)
    return max(round(screen.client_width * scale), 1), max(round(screen.height * scale), 1)


def _head(board: Board, title: str, subtitle: str, max_scroll: int) -> None:
    right = board.pixels.shape[1] - _MARGIN
    board.text(_MARGIN, 32, title, size=34, font="serif", weight=600)
    board.text(_MARGIN, 80, subtitle, size=19, color=QUIET)
    board.text(right, 80, f"scrolls {max_scroll:,} px", size=19, color=QUIET, align="end")


def _track(board: Board, shots: Sequence[Shot], bands: Sequence[Band], max_scroll: int) -> None:
    """The whole scroll range as a line: the looks as bands on it, a numbered dot for each frame."""
    y = 146.0
    left, right = _MARGIN, board.pixels.shape[1] - _MARGIN

    def at(scroll: float) -> float:
        return float(left + (right - left) * (scroll / max_scroll if max_scroll else 0.0))

    board.box(Rect(left, y - 1, right - left, 2), RULE)
    for band in bands:
        start, end = at(band.start), at(band.end)
        board.box(Rect(start, y - 5, end - start, 10), INK)
        board.box(Rect(start + 1, y - 4, end - start - 2, 8), CARD)
        board.box(Rect(start + 1, y - 4, end - start - 2, 8), band.color)
        if measured(band.look, 14).box.width < end - start - 4:
            board.text(start, y - 32, band.look, size=14, color=QUIET)
    for shot in shots:
        board.box(Rect(at(shot.stop.scroll_px) - 1, y - 7, 2, 14), ACCENT)
    taken = -math.inf
    for index, shot in enumerate(shots):
        # Neighbours a few px apart share a place: the later number moves to the right.
        x = min(max(at(shot.stop.scroll_px), taken + 2 * _DOT + 2), right)
        _number(board, index + 1, x, y)
        taken = x


def _number(board: Board, number: int, x: float, y: float) -> None:
    """A frame's number in a dot."""
    board.box(Rect(x - _DOT, y - _DOT, 2 * _DOT, 2 * _DOT), INK, _DOT)
    words = measured(str(number), 13, weight=600)
    board.text(x - words.box.width / 2, y - 8.5, str(number), size=13, weight=600, color=CARD)


def _shot(board: Board, number: int, shot: Shot, box: Rect) -> None:
    board.box(Rect(box.left - 1, box.top - 1, box.width + 2, box.height + 2), RULE)
    board.picture(int(box.left), int(box.top), shot.pixels, int(box.width), int(box.height))
    y = box.bottom + 12
    _number(board, number, box.left + _DOT, y + 12)
    place = f"{shot.stop.scroll_px:,} px"
    board.text(box.left + 2 * _DOT + 9, y, place, size=18, weight=600)
    _look(board, shot.moment, box.right, y)
    board.text(box.left, y + 30, _reasons(shot.stop), size=15, color=QUIET, room=box.width)


def _reasons(stop: Stop) -> str:
    text = " · ".join(stop.reasons)
    return text[:1].upper() + text[1:]


def _look(board: Board, moment: Moment, right: float, y: float) -> None:
    """The look's name beside a chip in the header's own colours."""
    if moment.header is None or moment.look is None:
        board.text(right, y + 1, "no header", size=15, color=QUIET, align="end")
        return
    words = moment.look
    if moment.progress < 1:
        words = f"{moment.look_before} → {moment.look} {moment.progress:.0%}"
    name = board.text(right, y + 1, words, size=15, color=INK, align="end")
    chip = Rect(name.left - 42, y + 2, 34, 19)
    board.box(Rect(chip.left - 1, chip.top - 1, chip.width + 2, chip.height + 2), RULE, 5)
    board.box(chip, CARD, 4)
    _behind(board, chip)
    board.box(chip, moment.header.state.seen_over(moment.header.background), 4)
    board.box(Rect(chip.left + 9, chip.top + 8, 16, 3), moment.header.color)


def _behind(board: Board, chip: Rect) -> None:
    """Squares that show through a background with alpha, as image editors have them."""
    grey = Color(0.62, 0.64, 0.68)
    for row in range(2):
        for column in range(4):
            if (row + column) % 2:
                left, top = chip.left + column * 8.5, chip.top + row * 9.5
                board.box(Rect(left, top, 8.5, 9.5), grey)
