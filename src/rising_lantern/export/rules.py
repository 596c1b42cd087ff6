"""CSS rules as text."""

from __future__ import annotations

from collections.abc import Callable

Urls = Callable[[str], str]
"""Gives the address of a picture by its name in the plan."""


def rule(selector: str, declarations: dict[str, str]) -> str:
    """One CSS rule; nothing where it would declare nothing."""
    inner = "; ".join(f"{name}: {value}" for name, value in declarations.items())
    return f"{selector} {{ {inner}; }}" if declarations else ""


def family(font: str) -> str:
    """The name of a font of the plan in the style sheet."""
    return f'"lantern {font}"'
