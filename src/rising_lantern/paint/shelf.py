"""Pixels that are kept for as long as there is room for them."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable

from rising_lantern.css.compositing import Bytes


class Shelf:
    """Arrays by a key; where they are too many bytes, those go that were not used for longest."""

    def __init__(self, most_bytes: int) -> None:
        self._most = most_bytes
        self._kept: OrderedDict[Hashable, Bytes] = OrderedDict()
        self._size = 0

    def get(self, key: Hashable, make: Callable[[], Bytes]) -> Bytes:
        """What is kept under a key; made where it is not."""
        found = self._kept.get(key)
        if found is not None:
            self._kept.move_to_end(key)
            return found
        result = make()
        self._kept[key] = result
        self._size += result.nbytes
        while self._size > self._most and len(self._kept) > 1:
            self._size -= self._kept.popitem(last=False)[1].nbytes
        return result
