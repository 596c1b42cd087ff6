"""Large areas, painted a band of rows at a time when it is wanted, so that none is held whole."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

import numpy as np

from rising_lantern.css.compositing import Bytes
from rising_lantern.paint.shelf import Shelf

BAND_PIXELS = 500_000
_FEWEST_ROWS = 16


@dataclass(frozen=True, eq=False)
class Bands:
    """An area of pixels.

    Attributes:
        width: In px.
        height: In px.
        paint: Paints rows of it, from the first to the one before the last: premultiplied RGBA.
        shelf: Where bands are kept.
    """

    width: int
    height: int
    paint: Callable[[int, int], Bytes]
    shelf: Shelf[Bytes]

    def read(self, first: int, last: int) -> Bytes:
        """Rows of the area, from the first to the one before the last; not to be changed."""
        step = self._step
        pieces = [
            self._band(index)[max(first - index * step, 0) : last - index * step]
            for index in range(first // step, (last - 1) // step + 1)
        ]
        return pieces[0] if len(pieces) == 1 else np.concatenate(pieces)

    def spans(self) -> Iterator[tuple[int, int]]:
        """The first and after-last row of each band."""
        for first in range(0, self.height, self._step):
            yield first, min(first + self._step, self.height)

    @property
    def _step(self) -> int:
        return max(BAND_PIXELS // max(self.width, 1), _FEWEST_ROWS)

    def _band(self, index: int) -> Bytes:
        first = index * self._step
        last = min(first + self._step, self.height)
        return self.shelf.get((self, index), lambda: self.paint(first, last))
