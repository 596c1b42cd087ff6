"""Order statistics of every window of a strip of pixels, as a window slides over it row by row.

Pixels are counted by the contrast that they give, row by row, and the counts are cumulated along
the rows: what a window holds of a bin is the difference of two entries. The bins are counted in
two steps, wide ones first, and narrow ones only within those wide ones in which some window has
the figure that is wanted. So a table stays small, whatever the height of the page.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from rising_lantern.base.arrays import Floats, Indices

Bins = NDArray[np.uint16]

_WIDE, _NARROW = 96, 80

# Contrast ratios run from 1 to 21. The edges of the bins lie in even proportion, and one of them
# on each limit that people ask for, so that counting never takes a ratio to a limit's other side.
_ANCHORS = (1.0, 3.0, 4.5, 7.0, 21.0)


def _edges() -> Floats:
    places = np.log(_ANCHORS) / np.log(_ANCHORS[-1]) * (_WIDE * _NARROW - 1)
    return np.asarray(np.exp(np.interp(np.arange(_WIDE * _NARROW), places, np.log(_ANCHORS))))


def _snap(edges: Floats) -> Floats:
    """The edges, with the nearest one moved onto each anchor."""
    result = edges.copy()
    for anchor in _ANCHORS:
        result[np.argmin(np.abs(result - anchor))] = anchor
    return result


EDGES = _snap(_edges())
"""The least ratio of each bin."""


# Cells along the ratios, each narrower than any bin, and the bin at the start of each.
_CELLS = 8000
_STARTS = np.searchsorted(EDGES, np.arange(1, 21 + 1 / _CELLS, 1 / _CELLS), side="right") - 1


def bins_of(ratios: Floats) -> Bins:
    """The bin of each contrast ratio, of the same shape."""
    cells = ((ratios - 1) * _CELLS).astype(np.intp).clip(0, len(_STARTS) - 1)
    bins = _STARTS[cells]
    following = EDGES[np.minimum(bins + 1, len(EDGES) - 1)]
    bins += (following <= ratios) & (bins < len(EDGES) - 1)
    return np.asarray(bins, dtype=np.uint16)


def order_of_ratios(ratios: Floats, shares: Sequence[float]) -> tuple[float, ...]:
    """The contrast ratios below which some shares of pixels lie, of the ratios themselves."""
    places = [int(share * ratios.size) for share in shares]
    found = np.partition(ratios.ravel(), places)[places]
    return tuple(EDGES[bins_of(found)].tolist())


def order_of(bins: Bins, shares: Sequence[float]) -> tuple[float, ...]:
    """The contrast ratios below which some shares of pixels lie, as :func:`order_statistics`.

    Args:
        bins: The bin of each pixel, of any shape, at least one.
        shares: 0 to 1.
    """
    counts = np.cumsum(np.bincount(bins.ravel(), minlength=len(EDGES)))
    wanted = [int(share * bins.size) for share in shares]
    return tuple(float(EDGES[np.searchsorted(counts, place, side="right")]) for place in wanted)


@dataclass(frozen=True)
class Strip:
    """Rows of pixels, as the bins of their contrast.

    Attributes:
        bins: Shaped (rows, columns); one column where all pixels of each row are the same.
        width: How many pixels a row has.
    """

    bins: Bins
    width: int

    @cached_property
    def wide(self) -> NDArray[np.int32]:
        """How many pixels of the rows before each one are in each wide bin: (rows + 1, bins)."""
        rows = len(self.bins)
        places = (self.bins // _NARROW).astype(np.intp)
        places += np.arange(0, rows * _WIDE, _WIDE)[:, None]
        return self._cumulate(np.bincount(places.ravel(), minlength=rows * _WIDE), _WIDE)

    def narrow(self, wide: int, first: int, last: int) -> NDArray[np.int32]:
        """Counts of the narrow bins within one wide bin, in some of the rows."""
        bins = self.bins[first:last]
        inside = np.flatnonzero(bins // _NARROW == wide)
        places = bins.ravel()[inside] % _NARROW + inside // bins.shape[1] * _NARROW
        return self._cumulate(np.bincount(places, minlength=len(bins) * _NARROW), _NARROW)

    def _cumulate(self, counts: Indices, bins: int) -> NDArray[np.int32]:
        """Pixels of the rows before each one, from counts of bins row by row."""
        own = counts.reshape(-1, bins)
        result = np.zeros((len(own) + 1, bins), dtype=np.int32)
        np.multiply(own, self.width // self.bins.shape[1], out=result[1:], casting="unsafe")
        return np.cumsum(result, axis=0, out=result)


@dataclass(frozen=True, slots=True)
class Windows:
    """Stretches of a strip that are parts of some windows; arrays of one item each.

    Attributes:
        strip: The strip.
        places: Which windows they are parts of, each once.
        first: The first row of the stretch.
        last: The row after its last one.
    """

    strip: Strip
    places: Indices
    first: Indices
    last: Indices

    def held(self) -> NDArray[np.int32]:
        """What each stretch holds of each wide bin, shaped (stretches, bins)."""
        return np.asarray(self.strip.wide[self.last] - self.strip.wide[self.first])

    def held_of(self, wide: int, chosen: Indices) -> NDArray[np.int32]:
        """What some of the stretches hold of each narrow bin within a wide one."""
        first, last = self.first[chosen], self.last[chosen]
        low = int(first.min())
        table = self.strip.narrow(wide, low, int(last.max()))
        return np.asarray(table[last - low] - table[first - low])


def order_statistics(
    parts: Sequence[Windows],
    count: int,
    shares: Sequence[float],
    needed: Floats | None = None,
) -> tuple[Floats, ...]:
    """The contrast ratios below which some shares of each window's pixels lie.

    Args:
        parts: The stretches that the windows are made of.
        count: How many windows there are.
        shares: 0 to 1: of n pixels in order it is the one after ``int(share n)``.
        needed: For each window a ratio from which on the exact one is not asked for.

    Returns:
        For each share a ratio for each window, at most a bin below the exact one; not a number
        for an empty window, and for one in which it is not below what is needed.
    """
    held = np.zeros((count, _WIDE), dtype=np.int32)
    for part in parts:
        held[part.places] += part.held()
    np.cumsum(held, axis=1, out=held)
    total = held[:, -1]
    found = []
    for share in shares:
        wanted = (total * share).astype(np.int32)
        wide = np.minimum((held <= wanted[:, None]).sum(axis=1), _WIDE - 1)
        below = np.where(wide > 0, held[np.arange(count), wide - 1], 0)
        found.append((wide, np.asarray(wanted - below, dtype=np.intp)))
    full = total > 0
    if needed is not None:
        full &= np.any([EDGES[wide * _NARROW] < needed for wide, _ in found], axis=0)
    return _narrow(parts, full, found)


def _narrow(
    parts: Sequence[Windows], full: NDArray[np.bool_], found: list[tuple[Indices, Indices]]
) -> tuple[Floats, ...]:
    """Ratios from the wide bins in which they lie, and how many pixels there are less than them."""
    result = tuple(np.full(len(full), np.nan) for _ in found)
    for wide in np.unique(np.concatenate([wide[full] for wide, _ in found])):
        asked = np.flatnonzero(np.any([of == wide for of, _ in found], axis=0) & full)
        row = np.full(len(full), -1)
        row[asked] = np.arange(len(asked))
        held = np.zeros((len(asked), _NARROW), dtype=np.int32)
        for part in parts:
            chosen = np.flatnonzero(row[part.places] >= 0)
            if chosen.size:
                held[row[part.places[chosen]]] += part.held_of(int(wide), chosen)
        np.cumsum(held, axis=1, out=held)
        for ratio, (of, rest) in zip(result, found, strict=True):
            here = asked[of[asked] == wide]
            narrow = (held[row[here]] <= rest[here, None]).sum(axis=1)
            ratio[here] = EDGES[wide * _NARROW + np.minimum(narrow, _NARROW - 1)]
    return result
