"""The JSON Schema of plans, from the models that check them (JSON Schema 2020-12)."""

from __future__ import annotations

import json
from typing import Any

from rising_lantern.plan.models.document import Document
from rising_lantern.plan.text.conditions import CONDITION
from rising_lantern.plan.text.likeness import LIKE

SCHEMA_FILE = "rising-lantern.schema.json"
MODELINE = f"# yaml-language-server: $schema={SCHEMA_FILE}\n"
"""The comment by which editors find the schema beside a plan."""

_DIFFERENT = "Different"  # after the name of an object: what a for: may change of it
_NEEDED = "needed"  # of what may be changed of an object: the keys that cannot be taken away
_REFERENCE = "#/$defs/"

Schema = dict[str, Any]


def schema() -> Schema:
    """The schema as plain data.

    Every object and every mapping of names may carry ``for:``, below which any part of it may be
    said differently.
    """
    result = Document.model_json_schema(by_alias=True, mode="validation")
    definitions = result.pop("$defs", {})
    plan = "Plan"
    whole = {**definitions, plan: result}
    different = {f"{name}{_DIFFERENT}": _different(entry) for name, entry in whole.items()}
    own = {
        name: _alike(name, _complete(item, _reference(name))) for name, item in definitions.items()
    }
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **_complete(result, _reference(plan)),
        "title": "A plan of Rising Lantern",
        "description": "What a site's backgrounds and headers do while its pages scroll.",
        "$defs": {
            **own,
            **{
                name: _complete(item, {"$ref": _REFERENCE + name})
                for name, item in different.items()
            },
        },
    }


def _alike(name: str, entry: Schema) -> Schema:
    """An object that needs no more than what differs where it is like another one."""
    if LIKE not in entry.get("properties", {}):
        return entry
    return {"if": {"required": [LIKE]}, "then": _reference(name), "else": entry}


def _reference(name: str) -> Schema:
    return {"$ref": f"{_REFERENCE}{name}{_DIFFERENT}"}


def _different(entry: Any) -> Any:
    """What may stand for an object below ``for:``: it is laid over the object key by key."""
    if isinstance(entry, list):
        return [_different(item) for item in entry]
    if not isinstance(entry, dict):
        return entry
    if "$ref" in entry:
        return {**entry, "$ref": entry["$ref"] + _DIFFERENT}
    left_out = {"required", "minProperties", "default"}
    required = entry.get("required")
    needed = {_NEEDED: required} if isinstance(required, list) and "properties" in entry else {}
    return needed | {
        # A list replaces the one that is there, and is whole.
        key: item if key in {"items", "prefixItems", "examples"} else _different(item)
        for key, item in entry.items()
        if key not in left_out or not isinstance(item, (list, int))
    }


def _complete(entry: Any, different: Schema) -> Any:
    """A schema whose objects and mappings may carry ``for:``.

    Args:
        entry: The schema.
        different: What may stand for it below ``for:``.
    """
    if isinstance(entry, list):
        return [_complete(item, different) for item in entry]
    if not isinstance(entry, dict):
        return entry
    result = {key: item for key, item in entry.items() if key != "default" or not _is_object(item)}
    if "properties" in result:
        required = [*result.get("required", ()), *result.pop(_NEEDED, ())]
        inner = {
            name: completed if name in required else _or_null(completed)
            for name, item in result["properties"].items()
            for completed in [_complete(item, _different(item))]
        }
        result["properties"] = inner | {CONDITION: _condition(different)}
    elif "required" in result:
        result["not"] = {"properties": {key: {"type": "null"} for key in result["required"]}}
    elif "patternProperties" in result or isinstance(result.get("additionalProperties"), dict):
        result = _mapping(result)
    for key in ("anyOf", "items", "prefixItems"):
        if key in result:
            result[key] = _complete(result[key], different)
    return result


def _or_null(entry: Schema) -> Schema:
    """A value that may also be taken away."""
    described: Schema = {
        key: entry[key] for key in ("description", "examples", "default") if key in entry
    }
    rest = {key: item for key, item in entry.items() if key not in described}
    return {**described, "anyOf": [rest, {"type": "null"}]}


def _is_object(value: object) -> bool:
    """Whether a default is not written as JSON has it."""
    return bool(isinstance(value, dict) or (isinstance(value, list) and value))


def _mapping(made: Schema) -> Schema:
    """A mapping of names, one of which is ``for``."""
    made = {
        key: {pattern: _or_null(item) for pattern, item in value.items()}
        if key == "patternProperties"
        else _or_null(value)
        if key == "additionalProperties" and isinstance(value, dict)
        else value
        for key, value in made.items()
    }
    patterns = made.get("patternProperties")
    if patterns is None:
        own = {"additionalProperties": made["additionalProperties"]}
    else:
        own = {
            "patternProperties": {
                pattern.replace("^", f"^(?!{CONDITION}$)", 1): item
                for pattern, item in patterns.items()
            },
            "additionalProperties": False,
        }
    made = {**made, **own, "properties": {CONDITION: _condition(_different({**made, **own}))}}
    if made.pop("minProperties", 0):
        # A 'for' by itself is not an entry, and what is taken away is none.
        made["not"] = {
            "properties": {CONDITION: True},
            "additionalProperties": {"type": "null"},
        }
    return made


def _condition(different: Schema) -> Schema:
    """What stands below ``for:``."""
    return {
        "type": "object",
        "description": "Values that differ on some viewports, by the viewport's name.",
        # A 'for' cannot stand directly below another one.
        "additionalProperties": {**different, "not": {"required": [CONDITION]}},
    }


def schema_text() -> str:
    """The schema as it is written to a file."""
    return json.dumps(schema(), indent=1, ensure_ascii=False) + "\n"
