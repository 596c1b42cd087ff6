"""The least step of a parameter that passes."""

from __future__ import annotations

import math
from collections.abc import Callable


def least(passes: Callable[[int], bool], low: int, high: int) -> int | None:
    """The first of some steps that passes, where all after it do.

    Found by bisection, and then proved: the step passes, and the one before it does not.

    Args:
        passes: Whether a step does.
        low: A step that is known not to.
        high: The furthest step.

    Returns:
        The step, or None where even the furthest does not pass.
    """
    from scipy.optimize import bisect  # noqa: PLC0415 - only tuning wants it

    known: dict[int, bool] = {low: False}

    def told(step: int) -> bool:
        if step not in known:
            known[step] = passes(step)
        return known[step]

    if high <= low or not told(high):
        return None
    # Between two steps it is the upper one that counts, so that the root lies before the first
    # step that passes.
    root = bisect(
        lambda place: 1.0 if told(math.ceil(place)) else -1.0, float(low), float(high), xtol=0.25
    )
    step = max(math.ceil(float(root)), low + 1)
    while not told(step):
        step += 1
    while step - 1 > low and told(step - 1):
        step -= 1
    return step
