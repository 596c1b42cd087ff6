"""Setting values of a plan by their path: ``headers.main.looks.solid.from=300px``."""

from __future__ import annotations

import re
from collections.abc import Mapping

from rising_lantern.errors import Fault, Place, PlanError, RequestError, listed, quoted
from rising_lantern.plan.models.base import nearest
from rising_lantern.plan.text.comments import is_color
from rising_lantern.plan.text.likeness import as_read, written_path
from rising_lantern.plan.text.nodes import NEW, Key, Node, parse, replaced

OPTION = "--set"
_COMMENT = re.compile(r"(?:^|\s)#")


def with_values(root: Node, name: str, values: Mapping[str, str]) -> Node:
    """A plan with some values set.

    Args:
        root: The plan's nodes.
        name: What to call it in messages.
        values: Texts, written as in the plan, by the path of what they replace: keys and places
            in lists, with dots between.

    Raises:
        PlanError: If a path does not exist, or a text is not a value; the faults point at the
            option.
    """
    faults: list[Fault] = []
    for path, text in values.items():
        try:
            root = _with_value(root, name, path, text)
        except PlanError as error:
            faults += error.faults
    if faults:
        raise PlanError(faults)
    return root


def _with_value(root: Node, name: str, path: str, text: str) -> Node:
    value = value_given(name, path, text)
    return replaced(root, path_of(root, path, text), value)


def value_given(name: str, path: str, text: str) -> Node:
    """The value that a text is, as it would be read in a plan.

    Args:
        name: What to call the plan in messages.
        path: The path at which it is set.
        text: The value.

    Raises:
        PlanError: If it is not a value alone; the fault points at the option.
    """
    option = f"{OPTION} {path}={text}"
    if "\n" in path or not path:
        raise PlanError([Fault(Place(option), "this has no key", "write KEY=VALUE")])
    # With the key's length in front, columns count along the option as it was written.
    plain = text.strip()
    if _COMMENT.search(plain) and plain[:1] not in {*"\"'[{"}:
        if not is_color(plain):
            problem = f"{quoted(plain)} has a comment in it"
            column = len(path) + 2 + text.index("#")
            raise PlanError(
                [Fault(Place(option, 1, column), problem, "write the value alone, or in quotes")]
            )
        return parse(" " * len(path) + f'"{plain}"', name, option)
    if text.strip():
        return parse(" " * (len(path) + 1) + text, name, option)
    return parse('""', name, option)


def path_of(root: Node, path: str, text: str) -> tuple[Key, ...]:
    """A path as keys, of which all but the last have to exist.

    Raises:
        PlanError: If they do not; the fault points at the option.
    """
    keys, node = _walk_keys(root, path)
    words = path.split(".")
    missing = len(keys)
    if missing < len(words) - 1:
        # What is taken over is changed here, and stays as it is where it was written.
        taken, node = _walk_keys(as_read(root, path), path)
        made = any(isinstance(key, int) for key in taken[missing:])
        if len(taken) >= len(words) - 1 and not made:
            return (*taken, *words[len(taken) :])
    if isinstance(node.value, list) and words[missing:] == [NEW]:
        return (*keys, NEW)
    if missing < len(words) - 1 or (missing < len(words) and not isinstance(node.value, dict)):
        column = len(".".join(words[:missing])) + (missing > 0) + 1
        where = f"in '{'.'.join(words[:missing])}'" if missing else "in the plan"
        problem = f"there is no {quoted(words[missing])} {where}"
        place = Place(f"{OPTION} {path}={text}", 1, column)
        raise PlanError([Fault(place, problem, nearest(words[missing], _known_keys(node)))])
    return (*keys, *words[missing:])


def existing_path(root: Node, path: str) -> tuple[Key, ...]:
    """The path of a value that exists, as keys and indices.

    Raises:
        RequestError: If the plan has no such value.
    """
    keys, node = _walk_keys(root, path)
    words = path.split(".")
    if len(keys) < len(words):
        keys, node = _walk_keys(as_read(root, path), path)
    if len(keys) < len(words):
        where = ".".join(map(str, keys)) or "the plan"
        known = _known_keys(node)
        remedy = f"; there are: {listed(known)}" if known else ""
        raise RequestError(f"{where} has no {quoted(words[len(keys)])}{remedy}")
    return keys


def placed_value(
    root: Node, path: tuple[Key, ...], viewport: str, text: str
) -> tuple[tuple[Key, ...], str]:
    """Return a path that can be set, and what to set there, for a value on one viewport.

    Where a ``for:`` gives the value on the viewport, it is that one. Where mappings on the way are
    not there yet, the first of them is set whole.

    Args:
        root: The plan as it was written.
        path: The keys that lead to the value, in the plan with everything written out.
        viewport: The viewport on which it counts.
        text: The value.
    """
    own = (*path[:-1], "for", viewport, path[-1])
    path = own if root.at(own) else path
    if any(isinstance(key, int) for key in path) and root.at(path[:-1]) is None:
        # An entry of a list that is taken over is changed where it was written.
        path = (*(written_path(root, path[:-1]) or path[:-1]), path[-1])
    if written_path(root, path[:-1]):
        return path, text
    for count in range(1, len(path)):
        if root.at(path[:count]) is None:
            inner = text if text[:1] == "{" else f'"{text}"'
            for key in reversed(path[count:]):
                inner = f"{{{key}: {inner}}}"
            return path[:count], inner
    return path, text


def place_of_entry(root: Node, path: tuple[Key, ...], viewport: str) -> tuple[Key, ...]:
    """Return where an entry that counts on a viewport is written.

    Args:
        root: The plan as it was written.
        path: The keys that lead to it, in the plan with everything written out.
        viewport: The viewport.
    """
    own = (*path[:-1], "for", viewport, path[-1])
    return own if root.at(own) else written_path(root, path) or path


def _walk_keys(root: Node, path: str) -> tuple[tuple[Key, ...], Node]:
    """The keys of a path as far as they exist, and the node at the last of them."""
    keys: list[Key] = []
    node = root
    for word in path.split("."):
        number: list[Key] = [int(word)] if word.isdigit() else []
        choices = number if isinstance(node.value, list) else [word, *number]
        key = next((choice for choice in choices if node.child(choice) is not None), None)
        child = None if key is None else node.child(key)
        if key is None or child is None:
            break
        keys.append(key)
        node = child
    return tuple(keys), node


def _known_keys(node: Node) -> list[str]:
    return [str(key) for key in node.value] if isinstance(node.value, dict) else []
