"""A text that is being edited, and the ways in which a change can be written into it."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path
from typing import Any

from rising_lantern.errors import PlanError, RequestError
from rising_lantern.plan.edits.notation import Notation
from rising_lantern.plan.edits.placing import with_value
from rising_lantern.plan.edits.sharing import unshared
from rising_lantern.plan.edits.syntax import Keys, Value, values_in
from rising_lantern.plan.text.nodes import Node, parse
from rising_lantern.plan.text.reading import PlanFile, plan_from

Data = Any
"""The values of a plan: mappings, lists and scalars of Python."""

Place = Callable[[str, Value], str | None]
"""Makes a change in a text, given what stands in it; gives None where that is not possible."""


@dataclass(frozen=True)
class Draft:
    """The text of a plan that is being edited.

    Attributes:
        text: The text.
        name: What to call it in messages; one that ends with ``.json`` stays JSON.
        file: The plan's file, in whose folder its pictures are.
    """

    text: str
    name: str
    file: Path

    @cached_property
    def root(self) -> Node:
        """The values of the text."""
        return parse(self.text, self.name)

    @cached_property
    def tree(self) -> Value | None:
        """Where those stand; None where the text has none that can be edited."""
        return values_in(self.text)

    @property
    def notation(self) -> Notation:
        """How its values are written."""
        return Notation.of(self.name)

    def read(self) -> PlanFile:
        """The plan.

        Raises:
            PlanError: If it has faults.
        """
        return plan_from(self.text.encode(), self.file, self.name)

    def changed(
        self, words: str, holder: Keys, meant: Callable[[Data], None], place: Place
    ) -> Draft:
        """The draft with a change of a mapping or list; nothing else is touched.

        Args:
            words: What is done, for the message where it cannot be.
            holder: The path of the mapping or list.
            meant: Does it in the data of that mapping or list.
            place: Does it in the text.

        Raises:
            RequestError: If the path leads nowhere, or nothing that can be written reads as it is
                meant.
        """
        root = self.root
        wanted = root.plain()
        try:
            meant(_inside(wanted, holder))
        except (LookupError, TypeError) as error:
            raise RequestError(f"{words}: the path leads to nothing that can be changed") from error
        for text in self._candidates(root, holder, wanted, place):
            draft = replace(self, text=text)
            if draft.reads_as(wanted):
                return draft
        raise RequestError(
            f"{words} cannot be written into {self.name}: what it is about is taken over from "
            "another place, or something else of the plan depends on where it stands"
        )

    def reads_as(self, wanted: Data) -> bool:
        """Whether the text reads as some values, in their order."""
        try:
            return _is_same(self.root.plain(), wanted)
        except PlanError:
            return False

    def _candidates(self, root: Node, holder: Keys, wanted: Data, place: Place) -> Iterator[str]:
        """Texts in which a change is made: the first that reads as it is meant is the best."""
        if self.tree is None:
            return
        result = place(self.text, self.tree)
        if result is not None:
            yield result
        # What else names the place, or it names, is written out: it stays as it is.
        text = unshared(self.text, self.tree, root, holder, self.notation)
        alone = values_in(text)
        if alone is None:
            return
        result = place(text, alone)
        if result is not None:
            yield result
        depth = next(at for at in range(len(holder), -1, -1) if alone.at(holder[:at]) is not None)
        if 0 < depth + 1 <= len(holder):
            path = holder[: depth + 1]
            value = self.notation.data(_inside(wanted, path))
            result = with_value(text, alone, path, value, self.notation)
            if result is not None:
                yield result


def _inside(data: Data, path: Keys) -> Data:
    """What stands at a path, which is made where it is not there."""
    for key in path:
        if not isinstance(data, list) and (key not in data or data[key] is None):
            data[key] = {}
        data = data[key]
    return data


def _is_same(one: Data, other: Data) -> bool:
    if isinstance(one, dict) and isinstance(other, dict):
        return list(one) == list(other) and all(_is_same(one[key], other[key]) for key in one)
    if isinstance(one, list) and isinstance(other, list):
        return len(one) == len(other) and all(map(_is_same, one, other))
    return type(one) is type(other) and bool(one == other)
