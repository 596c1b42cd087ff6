"""Order statistics of every window of a strip of pixels, as a window slides over it row by row.

Pixels are counted by the contrast that they give, in narrow bins, row by row; the counts are
cumulated along the rows and along the bins. What a window holds up to a bin is then the difference
of two entries, and the bin that a share of it reaches is found by halving, for all windows at once.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Indices = NDArray[np.intp]

# Contrast ratios run from 1 to 21. Below 7, where limits lie, a bin is 0.005 wide; above, 0.02.
_FINE, _COARSE, _TURN = 0.005, 0.02, 7.0
_EDGES = np.concatenate([np.arange(1.0, _TURN, _FINE), np.arange(_TURN, 21.0 + _COARSE, _COARSE)])
_MIDDLES = np.append((_EDGES[:-1] + _EDGES[1:]) / 2, _EDGES[-1])
BINS = len(_EDGES)


@dataclass(frozen=True, slots=True)
class Strip:
    """Rows of pixels, counted.

    Attributes:
        counts: How many pixels of the rows before each one fall into each bin or a lower one,
            shaped (rows + 1, bins).
        width: How many pixels a row has.
    """

    counts: NDArray[np.int32]
    width: int

    @classmethod
    def of(cls, ratios: Floats) -> Strip:
        """Count contrast ratios, shaped (rows, columns)."""
        rows, width = ratios.shape
        fine = (ratios - 1.0) / _FINE
        turn = round((_TURN - 1.0) / _FINE)
        coarse = turn + (ratios - _TURN) / _COARSE
        bins = np.where(ratios < _TURN, np.minimum(fine, turn - 1), coarse).astype(np.intp)
        np.clip(bins, 0, BINS - 1, out=bins)
        place = bins + np.arange(rows)[:, None] * BINS
        single = np.bincount(place.ravel(), minlength=rows * BINS).reshape(rows, BINS)
        counts = np.zeros((rows + 1, BINS), dtype=np.int32)
        np.cumsum(single, axis=0, out=counts[1:])
        np.cumsum(counts, axis=1, out=counts)
        return cls(counts, width)


@dataclass(frozen=True, slots=True)
class Windows:
    """Stretches of a strip that are part of each of some windows; arrays of one item each.

    Attributes:
        strip: The strip.
        first: The first row of the stretch.
        last: The row after its last one; the same as the first where it is empty.
    """

    strip: Strip
    first: Indices
    last: Indices


def order_statistic(parts: list[Windows], share: float) -> Floats:
    """The contrast ratio below which a share of each window's pixels lies.

    Args:
        parts: The stretches that the windows are made of.
        share: 0 to 1: of n pixels in order it is the one after ``int(share n)``.

    Returns:
        A ratio for each window, within half a bin; not a number for an empty one.
    """
    total = sum((part.last - part.first) * part.strip.width for part in parts)
    wanted = (np.asarray(total) * share).astype(np.int64)
    low = np.zeros(len(wanted), dtype=np.intp)
    high = np.full(len(wanted), BINS - 1, dtype=np.intp)
    while (low < high).any():
        middle = (low + high) // 2
        below = sum(
            part.strip.counts[part.last, middle].astype(np.int64)
            - part.strip.counts[part.first, middle]
            for part in parts
        )
        enough = np.asarray(below) > wanted
        high = np.where(enough, middle, high)
        low = np.where(enough, low, middle + 1)
    return np.where(np.asarray(total) > 0, _MIDDLES[np.minimum(low, BINS - 1)], np.nan)
