"""Writing a plan back with some values changed, its comments, order and formatting kept."""

from __future__ import annotations

import io
from collections.abc import Mapping
from typing import Any

from rising_lantern.plan.nodes import Key, Node, parse
from rising_lantern.plan.setting import path_of

_WIDEST = 1_000_000  # ruamel.yaml is to break no line that the author did not


def changed_text(text: str, name: str, values: Mapping[str, str]) -> str:
    """The text of a plan with some values changed.

    A value that stands on one line is replaced where it stands, and nothing else is touched. A
    key that is new is added by ruamel.yaml, which keeps comments and order.

    Args:
        text: The plan as it is.
        name: What to call it in messages.
        values: Texts, written as in the plan, by the path of what they replace.

    Raises:
        PlanError: Where the text is no plan, or a path leads nowhere.
    """
    for path, value in values.items():
        root = parse(text, name)
        keys = path_of(root, path, value)
        node = _node(root, keys)
        if node is not None and _is_scalar(node):
            text = _replaced(text, node, value)
        else:
            text = _added(text, keys, value)
    return text


def _node(root: Node, keys: tuple[Key, ...]) -> Node | None:
    node: Node | None = root
    for key in keys:
        node = node.child(key) if node else None
    return node


def _is_scalar(node: Node) -> bool:
    return not isinstance(node.value, dict | list) and node.mark.one_line and node.mark.end > 0


def _replaced(text: str, node: Node, value: str) -> str:
    lines = text.splitlines(keepends=True)
    line = lines[node.mark.line - 1]
    start, end = node.mark.column - 1, node.mark.end - 1
    lines[node.mark.line - 1] = line[:start] + _quoted(value) + line[end:]
    return "".join(lines)


def _quoted(value: str) -> str:
    """A value as a YAML scalar that reads as itself wherever it stands."""
    plain = value.strip()
    needs = any(sign in plain for sign in ",[]{}#:&*!|>'\"%@`") or plain[:1] in "-?" or not plain
    if plain[:1] in "[{" or not needs:
        return plain
    inner = plain.replace("\\", "\\\\").replace('"', '\\"')
    return plain if plain[:1] in "'\"" else f'"{inner}"'


def _added(text: str, keys: tuple[Key, ...], value: str) -> str:
    from ruamel.yaml import YAML  # noqa: PLC0415 - few calls write a plan back

    yaml = YAML()
    yaml.preserve_quotes = True
    yaml.width = _WIDEST
    data: Any = yaml.load(text)
    holder = data
    for key in keys[:-1]:
        holder = holder[key]
    holder[keys[-1]] = yaml.load(_quoted(value))
    out = io.StringIO()
    yaml.dump(data, out)
    return out.getvalue()
