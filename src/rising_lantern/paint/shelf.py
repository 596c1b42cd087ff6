"""What was painted, kept for as long as there is room for it."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from typing import Generic, TypeVar

Value = TypeVar("Value")


class Shelf(Generic[Value]):
    """Values by a key; where they take too many bytes, those go that were not used for longest.

    Args:
        most_bytes: How many bytes are kept.
        size_of: How many bytes a value takes.
    """

    def __init__(self, most_bytes: int, size_of: Callable[[Value], int]) -> None:
        self._most = most_bytes
        self._size_of = size_of
        self._kept: OrderedDict[Hashable, Value] = OrderedDict()
        self._size = 0

    def get(self, key: Hashable, make: Callable[[], Value]) -> Value:
        """What is kept under a key; made where it is not."""
        found = self._kept.get(key)
        if found is not None:
            self._kept.move_to_end(key)
            return found
        result = make()
        self._kept[key] = result
        self._size += self._size_of(result)
        while self._size > self._most and len(self._kept) > 1:
            self._size -= self._size_of(self._kept.popitem(last=False)[1])
        return result
