"""Values that several places of a text share by an anchor, written out where they are named."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.plan.edits.notation import Notation
from rising_lantern.plan.edits.splices import Splice, spliced
from rising_lantern.plan.edits.syntax import Keys, Value
from rising_lantern.plan.text.nodes import Node


def unshared(text: str, tree: Value, root: Node, path: Keys, notation: Notation) -> str:
    """A text in which a place has its values to itself: it reads as before.

    Args:
        text: The text.
        tree: What stands in it.
        root: Its values.
        path: The place: a mapping or list.
        notation: How values are written.
    """
    anchors: dict[str, tuple[Keys, Value]] = {}
    splices: list[Splice] = []
    for own, value in _values(tree):
        if value.is_alias:
            source = anchors.get(text[value.start + 1 : value.end])
            shared = source is not None and (_is_near(source[0], path) or _is_near(own, path))
            node = root.at(source[0]) if source and shared else None
            if node is not None:
                splices.append((value.start, value.end, notation.data(node.plain())))
        elif value.anchor is not None:
            anchors[text[value.anchor + 1 : value.start].split(maxsplit=1)[0]] = own, value
    return spliced(text, splices)


def _values(tree: Value, path: Keys = ()) -> Iterator[tuple[Keys, Value]]:
    """Every value of a text with its path, in the order of the text."""
    yield path, tree
    for index, entry in enumerate(tree.entries or ()):
        key = index if tree.is_list else entry.key
        yield from _values(entry.value, (*path, key if key is not None else ""))


def _is_near(one: Keys, other: Keys) -> bool:
    """Whether one of two places is in the other, or they are one."""
    shorter = min(len(one), len(other))
    return [str(key) for key in one[:shorter]] == [str(key) for key in other[:shorter]]
