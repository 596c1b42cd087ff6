"""Writing a plan back with some values changed, its comments, order and formatting kept."""

from __future__ import annotations

import io
import json
from collections.abc import Mapping
from copy import deepcopy
from typing import Any

from ruamel.yaml import YAML
from ruamel.yaml.comments import CommentedMap

from rising_lantern.errors import PlanError
from rising_lantern.plan.text.nodes import NEW, Key, Node, parse, replaced
from rising_lantern.plan.text.set_values import path_of

_WIDEST = 1_000_000  # ruamel.yaml is to break no line that the author did not


def changed_text(text: str, name: str, values: Mapping[str, str]) -> str:
    """The text of a plan with some values changed.

    A value that stands on one line is replaced where it stands, and a new key is put beside those
    that are there; nothing else is touched. If the result is not the intended plan,
    ruamel.yaml writes it, which keeps comments and order.

    Args:
        text: The plan as it is.
        name: What to call it in messages; one that ends with ``.json`` stays JSON.
        values: Texts, written as in the plan, by the path of what they replace.

    Raises:
        PlanError: If the text is not a plan, or a path does not exist.
    """
    written = _json if name.lower().endswith(".json") else _quoted
    for path, value in values.items():
        root = parse(text, name)
        keys = path_of(root, path, value)
        wanted = replaced(root, keys, parse(_quoted(value), name)).plain()
        result = _edited(text, root, keys, written(value), written(str(keys[-1])))
        text = (
            result if result and _reads_as(result, name, wanted) else _rewritten(text, keys, value)
        )
    return text


def _reads_as(text: str, name: str, wanted: Any) -> bool:
    try:
        return bool(parse(text, name).plain() == wanted)
    except PlanError:
        return False


def _edited(text: str, root: Node, keys: tuple[Key, ...], value: str, key: str) -> str | None:
    """The text with a value changed or added where it belongs, if that can be said in one line."""
    node, holder = root.at(keys), root.at(keys[:-1])
    if node is not None:
        place = (node.mark.line, node.mark.column - 1, node.mark.end - 1)
        return _spliced(text, *place, value) if _is_scalar(node) else None
    if holder is None or not isinstance(holder.value, dict):
        return _inserted(text, holder, value) if holder else None
    line, column = holder.mark.line, holder.mark.column - 1
    last = next(reversed(holder.value.values()), None)
    if text.splitlines()[line - 1][column : column + 1] == "{":
        if last is not None and _is_scalar(last):
            end = last.mark.end - 1
            return _spliced(text, last.mark.line, end, end, f", {key}: {value}")
        comma = ", " if holder.value else ""
        return _spliced(text, line, column + 1, column + 1, f"{key}: {value}{comma}")
    if last is not None and _is_scalar(last):
        lines = text.splitlines(keepends=True)
        before = lines[last.mark.line - 1]
        ending = before[len(before.rstrip("\r\n")) :] or "\n"
        lines[last.mark.line - 1] = before.rstrip("\r\n") + ending
        lines.insert(last.mark.line, " " * column + f"{key}: {value}{ending}")
        return "".join(lines)
    # Before the first key, which moves to a line of its own.
    return _spliced(text, line, column, column, f"{key}: {value}\n{' ' * column}")


def _inserted(text: str, holder: Node, value: str) -> str | None:
    """The text with a new entry in front of the others in a list; None where it is none."""
    line, column = holder.mark.line, holder.mark.column - 1
    if text.splitlines()[line - 1][column : column + 1] == "[":
        comma = ", " if holder.value else ""
        return _spliced(text, line, column + 1, column + 1, f"{value}{comma}")
    if text.splitlines()[line - 1][column : column + 1] != "-":
        return None
    return _spliced(text, line, column, column, f"- {value}\n{' ' * column}")


def _spliced(text: str, line: int, start: int, end: int, new: str) -> str:
    """The text with some columns of a line replaced."""
    lines = text.splitlines(keepends=True)
    old = lines[line - 1]
    lines[line - 1] = old[:start] + new + old[end:]
    return "".join(lines)


def _is_scalar(node: Node) -> bool:
    return not isinstance(node.value, dict | list) and node.mark.one_line and node.mark.end > 0


def _json(value: str) -> str:
    return json.dumps(parse(_quoted(value), "a value").plain(), ensure_ascii=False)


def _quoted(value: str) -> str:
    """A value as a YAML scalar that reads as itself wherever it stands."""
    plain = value.strip()
    needs = any(sign in plain for sign in ",[]{}#:&*!|>'\"%@`") or plain[:1] in "-?" or not plain
    if plain[:1] in "[{" or not needs:
        return plain
    inner = plain.replace("\\", "\\\\").replace('"', '\\"')
    return plain if plain[:1] in "'\"" else f'"{inner}"'


def _of_its_own(holder: Any, key: Any) -> Any:
    """What stands under a key, which is made where it is not there, and no alias or merged key."""
    is_there = isinstance(holder, list) or key in holder
    inner = holder[key] if is_there else CommentedMap()
    is_own = isinstance(holder, list) or key in dict(holder.non_merged_items())
    if not is_own or inner.anchor.value is not None:
        inner = deepcopy(inner)
        inner.yaml_set_anchor(None)
        holder[key] = inner
    return inner


def _rewritten(text: str, keys: tuple[Key, ...], value: str) -> str:
    yaml = YAML()
    yaml.preserve_quotes = True
    yaml.width = _WIDEST
    data: Any = yaml.load(text)
    holder = data
    for key in keys[:-1]:
        holder = _of_its_own(holder, key)
    if isinstance(holder, list) and keys[-1] == NEW:
        holder.insert(0, yaml.load(_quoted(value)))
    else:
        holder[keys[-1]] = yaml.load(_quoted(value))
    out = io.StringIO()
    yaml.dump(data, out)
    return out.getvalue()
