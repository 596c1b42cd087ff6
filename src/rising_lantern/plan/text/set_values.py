"""Setting values of a plan by their path: ``headers.main.looks.solid.from=300px``."""

from __future__ import annotations

from collections.abc import Mapping

from rising_lantern.errors import Fault, Place, PlanError, quoted
from rising_lantern.plan.models.base import nearest
from rising_lantern.plan.text.nodes import Key, Node, parse, replaced

OPTION = "--set"


def with_values(root: Node, name: str, values: Mapping[str, str]) -> Node:
    """A plan with some values set.

    Args:
        root: The plan's nodes.
        name: What to call it in messages.
        values: Texts, written as in the plan, by the path of what they replace: keys and places
            in lists, with dots between.

    Raises:
        PlanError: Where a path leads nowhere, or a text is no value; the faults point at the
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
    option = f"{OPTION} {path}={text}"
    if "\n" in path or not path:
        raise PlanError([Fault(Place(option), "this sets nothing", "write KEY=VALUE")])
    # With the key's length in front, columns count along the option as it was written.
    if text.strip()[:1] == "#":
        # A colour, and not YAML's comment.
        value = parse(" " * len(path) + f'"{text.strip()}"', name, option)
    elif text.strip():
        value = parse(" " * (len(path) + 1) + text, name, option)
    else:
        value = parse('""', name, option)
    return replaced(root, path_of(root, path, text), value)


def path_of(root: Node, path: str, text: str) -> tuple[Key, ...]:
    """A path as keys. All but the last have to be there.

    Raises:
        PlanError: Where they are not; the fault points at the option.
    """
    option = f"{OPTION} {path}={text}"
    keys: list[Key] = []
    node = root
    words = path.split(".")
    for index, word in enumerate(words):
        key: Key = int(word) if isinstance(node.value, list) and word.isdigit() else word
        child = node.child(key)
        if child is None and isinstance(node.value, dict) and word.isdigit():
            key, child = int(word), node.child(int(word))
        is_last = index == len(words) - 1
        if child is None and not (is_last and isinstance(node.value, dict)):
            column = len(".".join(words[:index])) + (index > 0) + 1
            where = f"in '{'.'.join(words[:index])}'" if index else "in the plan"
            known = [str(k) for k in node.value] if isinstance(node.value, dict) else []
            problem = f"there is no {quoted(word)} {where}"
            raise PlanError([Fault(Place(option, 1, column), problem, nearest(word, known))])
        keys.append(key)
        node = child or node
    return tuple(keys)
