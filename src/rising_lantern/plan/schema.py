"""The JSON Schema of plans, from the models that check them (JSON Schema 2020-12)."""

from __future__ import annotations

import json
from typing import Any

from rising_lantern.plan.document import Document
from rising_lantern.plan.screens import CONDITION

SCHEMA_FILE = "rising-lantern.schema.json"
MODELINE = f"# yaml-language-server: $schema={SCHEMA_FILE}\n"
"""The comment by which editors find the schema beside a plan."""

_CONDITION = {
    "type": "object",
    "description": "Values that differ on some viewports, by the viewport's name.",
    "additionalProperties": {"type": "object"},
}


def schema() -> dict[str, Any]:
    """The schema as plain data. Every object may carry ``for:``."""
    made = Document.model_json_schema(by_alias=True, mode="validation")
    for entry in (made, *made.get("$defs", {}).values()):
        for one in (entry, *entry.get("anyOf", [])):
            if "properties" in one:
                _complete(one["properties"])
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        **made,
        "title": "A plan of Rising Lantern",
        "description": "What a site's backgrounds and headers do while its pages scroll.",
    }


def _complete(properties: dict[str, Any]) -> None:
    """Let an object carry ``for:``; leave out defaults that are not written as JSON has them."""
    for entry in properties.values():
        default = entry.get("default")
        if isinstance(default, dict) or (isinstance(default, list) and default):
            del entry["default"]
    properties[CONDITION] = dict(_CONDITION)


def schema_text() -> str:
    """The schema as it is written to a file."""
    return json.dumps(schema(), indent=1, ensure_ascii=False) + "\n"
