"""What is measured along the scroll, and at which positions."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from rising_lantern.base.arrays import Floats, Indices

# From one position that is painted to the next, in px that something moves by behind a box: less
# than letters and icons are high, so that nothing passes behind one between the two.
_STEP = 12.0
# All positions are painted around one at which the contrast is within this factor of its limit.
_NEAR = 1.3


@dataclass(frozen=True, slots=True)
class Measurement:
    """The measured contrast of one thing along the scroll; arrays of one item for each position.

    Attributes:
        contrast: The ratio that 95 % of the pixels behind it reach, 1 to 21; NaN off the screen.
        median: The median of the ratios of those pixels.
    """

    contrast: Floats
    median: Floats

    @classmethod
    def empty(cls, count: int) -> Measurement:
        """Nothing measured yet at a number of positions."""
        return cls(np.full(count, np.nan), np.full(count, np.nan))

    def fill(self, places: Indices) -> None:
        """Give positions without a value one between their neighbours', of some positions.

        Args:
            places: Indices of the positions, in order.
        """
        for values in (self.contrast, self.median):
            some = values[places]
            known = np.flatnonzero(np.isfinite(some))
            if known.size:
                values[places] = np.interp(np.arange(len(places)), known, some[known])


def measure_near_limits(
    places: Indices, speed: Floats, needed: Floats, measure: Callable[[Indices], Floats]
) -> None:
    """Measure, of positions that are slow to measure, those that can matter to a limit.

    Whatever comes behind a box stays there for about as many px as the box is high, so a few px
    can be left out between two positions. Where one of these comes near to the limit, all
    positions around it are measured.

    Args:
        places: Indices of the positions, in order.
        speed: By how many px things pass each other behind the box from the position before to
            each of them.
        needed: The contrast that is needed at each.
        measure: Measures some of the positions, and returns the contrast at each.
    """
    if not places.size:
        return
    passed = np.floor(np.cumsum(np.minimum(speed / _STEP, 1.0)) + 1e-9)
    chosen = np.diff(passed, prepend=-1.0) > 0
    chosen[-1] = True
    first = np.flatnonzero(chosen)
    near = measure(places[first]) < _NEAR * needed[first]
    # A stretch without measurements is as near to the limit as either of its ends.
    wanted = np.repeat(near[:-1] | near[1:], np.diff(first))
    rest = np.flatnonzero(wanted & ~chosen[: len(wanted)])
    measure(places[rest])
