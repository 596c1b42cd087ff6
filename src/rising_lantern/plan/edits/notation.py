"""How values and keys of an edit are written into a plan: as YAML, or as JSON."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from rising_lantern.plan.text.nodes import Key, parse

_SIGNS = ",[]{}#:&*!|>'\"%@`"


@dataclass(frozen=True, slots=True)
class Notation:
    """The notation of a plan.

    Attributes:
        is_json: Whether it is JSON, which stays JSON.
    """

    is_json: bool

    @classmethod
    def of(cls, name: str) -> Notation:
        """The notation of a file, by its name."""
        return cls(name.lower().endswith(".json"))

    def value(self, value: str) -> str:
        """A value, given as in a plan, as it reads as itself wherever it stands."""
        if not self.is_json:
            return quoted_value(value)
        return json.dumps(parse(quoted_value(value), "a value").plain(), ensure_ascii=False)

    def data(self, data: Any) -> str:
        """Values of Python, in brackets."""
        if self.is_json:
            return json.dumps(data, ensure_ascii=False)
        if isinstance(data, dict):
            return f"{{{', '.join(f'{self.key(k)}: {self.data(v)}' for k, v in data.items())}}}"
        if isinstance(data, list):
            return f"[{', '.join(map(self.data, data))}]"
        if not isinstance(data, str):
            return json.dumps(data)
        plain = quoted_value(data)
        is_plain = data and parse(plain, "a value").value == data
        return plain if is_plain else json.dumps(data, ensure_ascii=False)

    def key(self, key: Key) -> str:
        """A key."""
        return self.value(str(key)) if self.is_json else quoted_value(str(key))

    def nested(self, keys: Iterable[Key], value: str) -> str:
        """A value that is written already, in a mapping for each of some keys."""
        for key in reversed(tuple(keys)):
            value = f"{{{self.key(key)}: {value}}}"
        return value


def quoted_value(value: str) -> str:
    """A value as one of YAML that reads as itself wherever it stands."""
    plain = value.strip()
    if not plain:
        return '""'
    needs = any(sign in plain for sign in _SIGNS) or plain[:1] in "-?"
    if plain[:1] in "[{" or not needs:
        return plain
    inner = plain.replace("\\", "\\\\").replace('"', '\\"')
    return plain if plain[:1] in "'\"" else f'"{inner}"'
