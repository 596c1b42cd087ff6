"""Scroll positions that callers ask for: checked, and refused where there would be too many."""

from __future__ import annotations

import math
from collections.abc import Sequence

import numpy as np

from rising_lantern.base.arguments import number
from rising_lantern.base.arrays import Floats
from rising_lantern.errors import RequestError

_MOST_ROWS = 5_000_000  # of a table
_MOST_POSITIONS = 1_000_000  # in a table: every px of the longest page


def checked_positions(scroll: Sequence[float] | Floats, max_scroll: int, view: str) -> Floats:
    """Scroll positions as an array.

    Args:
        scroll: The positions, in CSS px.
        max_scroll: The last position of the page.
        view: The page and the viewport, for the message.

    Raises:
        RequestError: If a position is not a finite number or lies outside the page.
    """
    positions = np.asarray(scroll, dtype=np.float64).reshape(-1)
    if not np.isfinite(positions).all():
        raise RequestError("a scroll position has to be a finite number")
    if positions.size and not (positions.min() >= 0 and positions.max() <= max_scroll):
        raise RequestError(f"{view} scrolls from 0 to {max_scroll} px")
    return positions


def spaced_positions(max_scroll: int, step: float) -> Floats:
    """Scroll positions from the top to the end, spaced ``step`` px apart, the end included.

    Raises:
        RequestError: If the step is not above zero, or so small that there would be too many.

    >>> spaced_positions(100, 40)
    array([  0.,  40.,  80., 100.])
    """
    step = number("the step along the scroll", step)
    if not (math.isfinite(step) and step > 0):
        raise RequestError("the step along the scroll has to be above zero px")
    if max_scroll / step > _MOST_POSITIONS:
        least = math.ceil(100 * max_scroll / _MOST_POSITIONS) / 100
        raise RequestError(
            f"a step of {step:g} px makes {max_scroll / step:,.3g} positions; the limit is "
            f"{_MOST_POSITIONS:,}: use a step of {least:g} px or more"
        )
    marks = np.arange(0, max_scroll, step, dtype=np.float64)
    return np.append(marks, float(max_scroll))


def refuse_large_table(rows: int, step: float | None = None) -> None:
    """Refuse a table with too many rows.

    Args:
        rows: The number of its rows.
        step: The step along the scroll, where a larger one makes fewer rows.

    Raises:
        RequestError: If there are too many.
    """
    if rows > _MOST_ROWS:
        larger = math.ceil((step or 0) * rows / _MOST_ROWS)
        remedy = f": use a step of {larger} px or more" if step else ""
        raise RequestError(
            f"this makes a table of {rows:,} rows; the limit is {_MOST_ROWS:,}{remedy}"
        )
