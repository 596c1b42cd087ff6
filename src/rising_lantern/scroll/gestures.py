"""Gestures: how a reader scrolls in time, as scroll positions at the pictures of a screen."""

from __future__ import annotations

import csv
import math
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from rising_lantern.base.arguments import given
from rising_lantern.base.arrays import Floats
from rising_lantern.base.opening import opened_file
from rising_lantern.css.easings import CubicBezier
from rising_lantern.errors import RequestError, listed, quoted
from rising_lantern.layout.pages import PageBox

GesturePath = str | Sequence[tuple[float, float]]
"""A gesture as callers name it: by its name, or as pairs of (seconds, px)."""

RATE = 60  # pictures a second
_MOST_BYTES = 20_000_000  # of a recorded gesture's file
_MOST_SECONDS = 600.0
_REST = 1.0  # seconds that a reader stays at the end
_READING = 150.0  # px a second
_NOTCH, _NOTCH_EVERY, _NOTCH_TAKES = 100.0, 0.12, 0.15  # px and seconds of a wheel
_FLICK, _FLICK_DECAY, _FLICK_EVERY = 3000.0, 0.325, 1.2  # px a second, and seconds
_PAGE, _PAGE_EVERY, _PAGE_TAKES = 0.9, 0.8, 0.25  # of a screen, and seconds
_GLIDE = CubicBezier(0.25, 0.1, 0.25, 1.0)


@dataclass(frozen=True, slots=True)
class Gesture:
    """A way to scroll.

    Attributes:
        seconds: Times from 0 on, a 60th of a second apart.
        scroll: The scroll positions then, in whole px, as browsers have them.
    """

    seconds: Floats
    scroll: Floats


def gesture_on(page: PageBox, max_scroll: int, gesture: GesturePath) -> Gesture:
    """A gesture on a page.

    Args:
        page: The page.
        max_scroll: Its last scroll position, in px.
        gesture: A name of :data:`NAMES`, ``jump SECTION``, or pairs of (seconds, px).

    Raises:
        RequestError: If there is no such gesture or section, or the pairs are not a path.
    """
    if not isinstance(gesture, str):
        return recorded_gesture(_pairs(gesture), max_scroll)
    if gesture.startswith("jump "):
        return recorded_gesture(_jump_to(page, gesture.removeprefix("jump ")), max_scroll)
    return named_gesture(gesture, max_scroll, page.screen.height)


def _pairs(path: object) -> list[tuple[float, float]]:
    """Pairs of seconds and px.

    Raises:
        RequestError: If it is anything else.
    """
    rows = list(path) if isinstance(path, Iterable) else None
    if rows == []:
        return []
    try:
        table = np.array(rows)
    except ValueError:  # rows of several lengths
        table = np.empty(0)
    if table.ndim != 2 or table.shape[1] != 2 or table.dtype.kind not in "iuf":  # noqa: PLR2004
        raise RequestError(
            f"{given(path)} is not a gesture; write one of: {', '.join(NAMES)}; or pairs of "
            "seconds and px: [(0, 0), (1.5, 900)]"
        )
    return [(seconds, px) for seconds, px in table.tolist()]


def _jump_to(page: PageBox, name: str) -> list[tuple[float, float]]:
    """To the upper edge of a section, as a link does: half a second, then a second there."""
    section = page.section(name)
    if section is None:
        known = listed(section.name for section in page.sections)
        raise RequestError(
            f"the page {quoted(page.page)} has no section {quoted(name)}; it has: {known}"
        )
    top = section.top + page.flow.room(0)
    return [(0.0, 0.0), (0.5, 0.0), (0.5, top), (1.5, top)]


def named_gesture(name: str, max_scroll: int, screen: int) -> Gesture:
    """A gesture that goes from the top of a page to its end, and back if it says so, and rests.

    Args:
        name: One of :data:`NAMES`.
        max_scroll: The end of the page, in px.
        screen: The height of the screen.

    Raises:
        RequestError: If there is no gesture of that name.
    """
    course = _COURSES.get(name)
    if course is None:
        raise RequestError(f"there is no gesture {quoted(name)}; there are: {', '.join(NAMES)}")
    last, position = course(float(max_scroll), float(screen))
    seconds = np.arange(math.ceil((min(last, _MOST_SECONDS) + _REST) * RATE) + 1) / RATE
    return _whole(seconds, np.clip(position(seconds), 0.0, max_scroll))


def recorded_gesture(path: Sequence[tuple[float, float]], max_scroll: int) -> Gesture:
    """A gesture from recorded times and positions; between them it goes straight.

    Args:
        path: Pairs of seconds and px; the times rise, the first counts as 0.
        max_scroll: The end of the page; positions beyond it are cut down to it.

    Raises:
        RequestError: If there are fewer than two pairs, a figure is not finite, times fall,
            or the whole takes longer than ten minutes.
    """
    if len(path) < 2:  # noqa: PLR2004 - from somewhere to somewhere
        raise RequestError("a recorded gesture needs at least two pairs of seconds and px")
    times, positions = (np.array(column, dtype=np.float64) for column in zip(*path, strict=True))
    if not (np.isfinite(times).all() and np.isfinite(positions).all()):
        raise RequestError("a recorded gesture needs finite seconds and px")
    if (np.diff(times) < 0).any():
        raise RequestError("the seconds of a recorded gesture have to rise")
    times = times - times[0]
    if times[-1] > _MOST_SECONDS:
        raise RequestError(f"a recorded gesture can last up to {_MOST_SECONDS:.0f} seconds")
    seconds = np.arange(math.ceil(times[-1] * RATE) + 1) / RATE
    return _whole(seconds, np.clip(np.interp(seconds, times, positions), 0.0, max_scroll))


def named_or_recorded(text: str) -> GesturePath:
    """A gesture by its name, or as it was recorded in a CSV file.

    Args:
        text: The name, or the name of the file, which ends in ``.csv``.

    Raises:
        RequestError: If the file cannot be read; see :func:`read_gesture`.
    """
    return read_gesture(Path(text)) if text.lower().endswith(".csv") else text


def read_gesture(file: Path) -> list[tuple[float, float]]:
    """Times and positions from a CSV file with two columns, with or without a heading.

    Raises:
        RequestError: If it cannot be read, or a row is not two numbers.
    """
    try:
        with opened_file(file) as opened:
            data = opened.read(_MOST_BYTES + 1)
        if len(data) > _MOST_BYTES:
            raise RequestError(f"{quoted(file)} has more than {_MOST_BYTES // 1_000_000} MB")
        rows = list(csv.reader(data.decode("utf-8-sig").splitlines()))
    except (OSError, UnicodeDecodeError, csv.Error):
        raise RequestError(f"{quoted(file)} cannot be read as a CSV file") from None
    pairs: list[tuple[float, float]] = []
    for number, row in enumerate(rows, 1):
        if not row:
            continue
        try:
            seconds, px = (float(cell) for cell in row)
        except ValueError:
            if number == 1 and len(row) == 2:  # noqa: PLR2004 - a heading
                continue
            raise RequestError(f"{file}:{number}: two numbers are needed: seconds,px") from None
        pairs.append((seconds, px))
    return pairs


def _whole(seconds: Floats, scroll: Floats) -> Gesture:
    return Gesture(seconds, np.floor(scroll + 0.5))


Course = tuple[float, Callable[[Floats], Floats]]


def _reading(end: float, screen: float) -> Course:
    del screen
    return end / _READING, lambda t: t * _READING


def _wheel(end: float, screen: float) -> Course:
    """Notches, each of which the browser glides along; they overlap and add up."""
    del screen
    count = math.ceil(end / _NOTCH)
    return count * _NOTCH_EVERY + _NOTCH_TAKES, _glides(count, _NOTCH, _NOTCH_EVERY, _NOTCH_TAKES)


def _flick(end: float, screen: float) -> Course:
    """Flicks that run out: each comes ``v0 decay`` px far."""
    del screen
    reach = _FLICK * _FLICK_DECAY
    count = max(math.ceil(end / (reach * (1 - math.exp(-_FLICK_EVERY / _FLICK_DECAY)))), 1)

    def position(t: Floats) -> Floats:
        done = np.clip(t[:, None] - np.arange(count) * _FLICK_EVERY, 0.0, _FLICK_EVERY)
        return np.asarray((reach * (1 - np.exp(-done / _FLICK_DECAY))).sum(axis=1))

    return count * _FLICK_EVERY, position


def _down_and_up(end: float, screen: float) -> Course:
    """Flicks to the end, a moment there, and flicks back to the top."""
    last, flicked = _flick(end, screen)
    back = last + _FLICK_EVERY / 2

    def position(t: Floats) -> Floats:
        down = np.minimum(flicked(np.minimum(t, back)), end)
        up = np.minimum(flicked(np.maximum(t - back, 0.0)), end)
        return np.asarray(np.where(t < back, down, end - up))

    return back + last, position


def _page_down(end: float, screen: float) -> Course:
    step = max(_PAGE * screen, 1.0)
    count = math.ceil(end / step)
    return count * _PAGE_EVERY, _glides(count, step, _PAGE_EVERY, _PAGE_TAKES)


def _jump(end: float, screen: float) -> Course:
    """To the end at once, half a second from the start, as a link does."""
    del screen
    return 0.5, lambda t: np.where(t >= 0.5, end, 0.0)  # noqa: PLR2004


def _glides(count: int, step: float, every: float, takes: float) -> Callable[[Floats], Floats]:
    """Glides that add up: at each time a few are on their way, and those before them at an end."""
    most = math.ceil(takes / every) + 1

    def position(t: Floats) -> Floats:
        latest = np.floor(t / every)
        steps = np.clip(latest - most + 1, 0, count)
        for index in (latest - back for back in range(most)):
            share = _GLIDE(np.clip((t - index * every) / takes, 0.0, 1.0))
            steps += np.where((index >= 0) & (index < count), share, 0.0)
        return np.asarray(step * steps)

    return position


_COURSES: dict[str, Callable[[float, float], Course]] = {
    "reading": _reading,
    "wheel": _wheel,
    "flick": _flick,
    "down-and-up": _down_and_up,
    "page-down": _page_down,
    "jump": _jump,
}
NAMES = tuple(_COURSES)
"""The gestures that can be named."""
