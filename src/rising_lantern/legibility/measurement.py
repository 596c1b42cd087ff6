"""What is measured along the scroll, and at which positions."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Indices = NDArray[np.intp]

FEWEST_COUNTED = 64
"""From this number of positions on, counting is quicker than painting each of them."""


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


@dataclass(frozen=True, slots=True)
class Stride:
    """Which positions are painted where each has to be painted by itself.

    Whatever comes behind a box stays there for about as many px of scroll as the box is high, so
    a few px can be left out between two that are painted. Where one of these comes near to a
    limit, all positions around it are painted.

    Attributes:
        every: The distance between two positions that are painted first.
        below: All positions around one with a contrast below this are painted.
    """

    every: int = 1
    below: float = np.inf

    def paint(self, places: Indices, measure: Callable[[Indices], Floats]) -> None:
        """Measure the positions that have to be measured.

        Args:
            places: Indices of the positions, in order.
            measure: Measures some of them, and returns the least contrast at each.
        """
        chosen = np.zeros(len(places), dtype=np.bool_)
        chosen[:: self.every] = True
        chosen[-1:] = True
        first = np.flatnonzero(chosen)
        near = first[measure(places[first]) < self.below]
        wanted = np.unique(near[:, None] + np.arange(1 - self.every, self.every))
        wanted = wanted[(wanted >= 0) & (wanted < len(places))]
        measure(places[wanted[~chosen[wanted]]])


EVERY_POSITION = Stride()
"""Every position is measured."""
