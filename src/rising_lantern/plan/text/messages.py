"""Errors of pydantic, in the words of a plan."""

from __future__ import annotations

import re
from collections.abc import Mapping
from difflib import get_close_matches
from typing import Any, get_args

from pydantic import BaseModel
from pydantic.fields import FieldInfo
from pydantic_core import ErrorDetails

from rising_lantern.css.numbers import number
from rising_lantern.errors import Fault, Place, quoted
from rising_lantern.plan.models.base import AS_TEXT, kind_of, nearest
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.text.nodes import Key, Node

_KEY = "[key]"

# What was expected, by pydantic's name of the error.
_EXPECTED = {
    "string_type": "text",
    "int_type": "a whole number",
    "int_parsing": "a whole number",
    "int_from_float": "a whole number",
    "float_type": "a number",
    "float_parsing": "a number",
    "finite_number": "a finite number",
    "bool_type": "true or false",
    "bool_parsing": "true or false",
    "dict_type": "a mapping",
    "model_type": "a mapping",
    "model_attributes_type": "a mapping",
    "tuple_type": "a list",
    "list_type": "a list",
}
_BEYOND = "{value} is out of range for {name}"
# Limits, by pydantic's name of the error: the limit's name, the problem, and what keeps to it.
_LIMITS = {
    "greater_than": ("gt", _BEYOND, "write above {}"),
    "greater_than_equal": ("ge", _BEYOND, "write at least {}"),
    "less_than": ("lt", _BEYOND, "write below {}"),
    "less_than_equal": ("le", _BEYOND, "write at most {}"),
    "string_too_long": ("max_length", "{value} is too long for {name}", "use up to {} characters"),
    "string_too_short": (
        "min_length",
        "{value} is too short for {name}",
        "use at least {} character",
    ),
    "too_long": ("max_length", "{name} has too many entries", "use up to {} entries"),
    "too_short": ("min_length", "{name} has too few entries", "use at least {} entry"),
}


def fault_of(error: ErrorDetails, root: Node, file: str) -> Fault:
    """One error of pydantic as a fault with its place.

    Args:
        error: As ``ValidationError.errors()`` gives it.
        root: The nodes that were validated.
        file: The plan's name.
    """
    path = tuple(part for part in error["loc"] if part != _KEY)
    at_key = _KEY in error["loc"] or error["type"] == "extra_forbidden"
    problem, remedy = _wording(error, path)
    offset = int(error.get("ctx", {}).get("offset", 0))
    return Fault(place_of(root, path, file, offset=offset, at_key=at_key), problem, remedy)


def place_of(
    root: Node, path: tuple[Key, ...], file: str, *, offset: int = 0, at_key: bool = False
) -> Place:
    """The place of a value, or of its key, or of the last thing on the way to it.

    Args:
        root: Where the path starts.
        path: Keys and indices.
        file: The plan's name.
        offset: Characters into a value that stands on one line.
        at_key: Whether the key is meant.
    """
    node = root.find(path)
    mark = node.key_mark if at_key and node.key_mark else node.mark
    if not node.mark.one_line or at_key:
        offset = 0
    column = mark.column + offset + (mark.quoted and offset > 0)
    return Place(mark.option or file, mark.line, column)


def _owner(path: tuple[Key, ...]) -> str:
    """What has a key, in words: one in a list by its place there, counted from 1."""
    if len(path) < 2:  # noqa: PLR2004 - the key itself, and what has it
        return "the plan"
    place = path[-2]
    if isinstance(place, int) and len(path) > 2:  # noqa: PLR2004 - and the list
        return f"number {place + 1} of {quoted(path[-3])}"
    return quoted(place)


def _wording(  # noqa: PLR0911 - one for each kind of error
    error: ErrorDetails, path: tuple[Key, ...]
) -> tuple[str, str]:
    kind, context = error["type"], error.get("ctx", {})
    value = error.get("input")
    name = path[-1] if path else "the plan"
    if kind == "plan":
        return str(context["problem"]), _remedy(path, value, str(context["remedy"]))
    if kind == "extra_forbidden":
        return f"unknown key {quoted(name)}", nearest(str(name), _keys_at(path[:-1]))
    if kind == "plan_missing":
        path = (*path, str(context["key"]))
        kind, name = "missing", path[-1]
    if kind == "missing":
        owner = _owner(path)
        return f"{owner} has no {quoted(name)}", f"add '{name}: {_example(path)}'"
    if kind == "too_short" and isinstance(value, Mapping) and not value:
        example = _example_at(path)
        first = next(iter(example)) if isinstance(example, Mapping) else "..."
        return f"{quoted(name)} is empty", f"write at least one entry below it, such as '{first}:'"
    if kind == "literal_error":
        choices = re.findall(r"'([^']+)'", str(context["expected"]))
        close = get_close_matches(str(value), choices, 1)
        remedy = f"did you mean {quoted(close[0])}?" if close else f"write {context['expected']}"
        return f"{_shown(value)} is not valid for {quoted(name)}", remedy
    if kind == "string_pattern_mismatch":
        return _pattern(error, name, value)
    if kind in _LIMITS:
        limit, problem, words = _LIMITS[kind]
        if _KEY in error["loc"]:
            problem = "the name {value} is too long"  # the only limit that names have
        problem = problem.format(value=_shown(value), name=quoted(name))
        return problem, words.format(number(float(context[limit])))
    expected = _EXPECTED.get(kind, "another type of value")
    return f"{quoted(name)} is {kind_of(value)}", f"write {expected}"


def _remedy(path: tuple[Key, ...], value: object, remedy: str) -> str:
    """A remedy for a value in CSS syntax, with what its key expects."""
    if isinstance(value, Mapping | list) and remedy == AS_TEXT:
        return f"write a value such as '{path[-1]}: {_example(path)}'"
    return remedy


def _pattern(error: ErrorDetails, name: Key, value: object) -> tuple[str, str]:
    if error["ctx"]["pattern"] == "^/":
        return f"{_shown(value)} is not a path", "start it with a slash, such as /visit"
    return (
        f"{_shown(value)} is not a valid name"
        if _KEY in error["loc"]
        else f"{quoted(name)} is not a valid name",
        "start with a letter; use only letters, digits, - and _",
    )


def _shown(value: object) -> str:
    if isinstance(value, Mapping | list | tuple):
        return kind_of(value)
    return quoted(value)


def _example(path: tuple[Key, ...]) -> str:
    """An example of a value, from the description of its key."""
    if path[-1] == "rising-lantern":
        return "1"
    return _flow(_example_at(path))


def _example_at(path: tuple[Key, ...]) -> Any:
    """The example that a key is described with; a short text where it has none."""
    field = _field_at(path)
    examples = field.examples if field is not None else None
    return examples[0] if examples else "..."


def _flow(value: Any) -> str:
    """A value as YAML on one line."""
    if isinstance(value, Mapping):
        return ", ".join(f"{key}: {_flow(item)}" for key, item in value.items())
    if isinstance(value, list | tuple):
        return f"[{', '.join(map(_flow, value))}]"
    text = str(value).lower() if isinstance(value, bool) else str(value)
    return f'"{text}"' if re.search(r"(^|\s)#", text) else text


def _field_at(path: tuple[Key, ...]) -> FieldInfo | None:
    """The field that a path leads to."""
    kinds: list[Any] = [Document]
    for key in path[:-1]:
        kinds = [inner for kind in kinds for inner in _inside(kind, key)]
    models = [kind for kind in kinds if isinstance(kind, type) and issubclass(kind, BaseModel)]
    found = (
        field
        for model in models
        for name, field in model.model_fields.items()
        if (field.alias or name) == path[-1]
    )
    return next(found, None)


def _keys_at(path: tuple[Key, ...]) -> list[str]:
    """The keys that an object of the plan may have."""
    kinds: list[Any] = [Document]
    for key in path:
        kinds = [inner for kind in kinds for inner in _inside(kind, key)]
    models = [kind for kind in kinds if isinstance(kind, type) and issubclass(kind, BaseModel)]
    keys = [field.alias or name for model in models for name, field in model.model_fields.items()]
    return [*keys, "for"]


def _inside(kind: Any, key: Key) -> list[Any]:
    """The types that stand under a key or index of a type, out of its unions and Annotated."""
    if isinstance(kind, type) and issubclass(kind, BaseModel):
        fields = [f for n, f in kind.model_fields.items() if (f.alias or n) == key]
        return [inner for field in fields for inner in _plain(field.annotation)]
    return [inner for argument in get_args(kind)[-2:] for inner in _plain(argument)]


def _plain(kind: Any) -> list[Any]:
    """A type without Annotated, None and unions around it."""
    if hasattr(kind, "__metadata__"):
        return _plain(kind.__origin__)
    if (
        str(kind).startswith(("typing.Union", "typing.Optional"))
        or type(kind).__name__ == "UnionType"
    ):
        return [inner for argument in get_args(kind) for inner in _plain(argument)]
    return [kind]
