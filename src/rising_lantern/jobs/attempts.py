"""What comes of work whose turn may be later: a result, or the error that it raised."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from rising_lantern.errors import LanternError

Item = TypeVar("Item")
Result = TypeVar("Result")

Attempt = tuple[Result, None] | tuple[None, BaseException]
"""What some work makes of an item, or the error that it raises."""


def attempt(work: Callable[[Item], Result], item: Item) -> Attempt[Result]:
    """What some work makes of an item, or the error that it raises: it waits for its turn."""
    try:
        return work(item), None
    except LanternError as error:
        return None, error
