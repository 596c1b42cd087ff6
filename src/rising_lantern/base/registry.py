"""Registries: things by name, none of which can be registered twice."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Generic, TypeVar

Thing = TypeVar("Thing")


class Registry(Mapping[str, Thing], Generic[Thing]):
    """A mapping from names to things, in the order in which they were registered.

    >>> known = Registry("rule")
    >>> known.add("gap", 1)
    >>> known.add("gap", 2)
    Traceback (most recent call last):
    ValueError: the rule 'gap' is registered twice
    """

    def __init__(self, kind: str) -> None:
        self._kind = kind
        self._things: dict[str, Thing] = {}

    def add(self, name: str, thing: Thing) -> None:
        """Register a thing.

        Raises:
            ValueError: If the name is taken.
        """
        if name in self._things:
            raise ValueError(f"the {self._kind} '{name}' is registered twice")
        self._things[name] = thing

    def __getitem__(self, name: str) -> Thing:
        return self._things[name]

    def __iter__(self) -> Iterator[str]:
        return iter(self._things)

    def __len__(self) -> int:
        return len(self._things)
