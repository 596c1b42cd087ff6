"""The least step of a parameter that passes."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable
from functools import cache


def least(passes: Callable[[int], bool], low: int, high: int) -> int | None:
    """The first of some steps that passes, if all steps after it do.

    Found by bisection, and then proved: the step passes, and the one before it does not.

    Args:
        passes: Whether a step does.
        low: A step that is known not to.
        high: The furthest step.

    Returns:
        The step, or None if even the furthest does not pass.

    >>> least(lambda step: step * step >= 50, 0, 100)
    8
    """
    known = cache(passes)
    if high <= low or not known(high):
        return None
    steps = range(low + 1, high + 1)
    step = steps[bisect_left(steps, x=True, key=known)]
    while step - 1 > low and known(step - 1):
        step -= 1
    return step
