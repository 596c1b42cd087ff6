"""Style sheets with nested rules, written out: CSS Nesting 1, section 3."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

import tinycss2

import rising_lantern as rl

_CONDITIONS = frozenset({"media", "supports", "container"})
_HOLDING = _CONDITIONS | {"layer"}


@dataclass(frozen=True)
class FlatRule:
    """A style rule.

    Attributes:
        selector: Its selector, written out.
        declarations: What it declares.
        within: The conditional rules around it, the outermost first.
    """

    selector: str
    declarations: dict[str, str]
    within: tuple[str, ...] = ()


def sheet_of(made: rl.Export) -> str:
    """All style sheets of an export as one, in the order in which pages load them."""
    names = [name for name in made.files if name.endswith(".css")]
    return "\n".join(made.text(name) for name in names)


def flat_rules(css: str) -> list[FlatRule]:
    """The style rules of a sheet in their order, those in other rules written out."""
    return list(_flat(css, "", ()))


def selectors(css: str) -> list[str]:
    """Every selector of a sheet, written out."""
    return [item for rule in flat_rules(css) for item in top_level(rule.selector)]


def _flat(content: Any, parent: str, within: tuple[str, ...]) -> Iterator[FlatRule]:
    declared: dict[str, str] = {}
    for node in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        assert node.type != "error", node.message
        if node.type == "declaration":
            important = " !important" if node.important else ""
            declared[node.name] = _words(tinycss2.serialize(node.value)) + important
            continue
        if declared:
            yield FlatRule(parent, declared, within)
            declared = {}
        head = _words(tinycss2.serialize(node.prelude))
        if node.type == "qualified-rule":
            yield from _flat(node.content, _written_out(head, parent), within)
        elif node.lower_at_keyword == "layer" and node.content:
            yield from _flat(node.content, parent, within)
        elif node.lower_at_keyword in _CONDITIONS:
            condition = f"@{node.lower_at_keyword} {head}"
            yield from _flat(node.content, parent, (*within, condition))
    if declared:
        yield FlatRule(parent, declared, within)


def _written_out(head: str, parent: str) -> str:
    if not parent:
        return head
    whole = f":is({parent})" if len(top_level(parent)) > 1 else parent
    return ", ".join(
        item.replace("& ", f"{whole} ").replace("&", whole) if "&" in item else f"{whole} {item}"
        for item in top_level(head)
    )


def top_level(head: str) -> list[str]:
    """The selectors of a list."""
    pieces, depth = [""], 0
    for sign in head:
        depth += (sign in "([") - (sign in ")]")
        if sign == "," and not depth:
            pieces.append("")
        else:
            pieces[-1] += sign
    return [piece.strip() for piece in pieces]


def _words(text: str) -> str:
    return re.sub(r"\s+", " ", text).strip()


def heads_in(css: Any) -> list[str]:
    """The selectors of a sheet's rules as they are written, nested or not."""
    found: list[str] = []
    for node in tinycss2.parse_blocks_contents(css, skip_comments=True, skip_whitespace=True):
        if node.type == "qualified-rule":
            found += [tinycss2.serialize(node.prelude).strip(), *heads_in(node.content)]
        elif node.type == "at-rule" and node.content and node.lower_at_keyword in _HOLDING:
            found += heads_in(node.content)
    return found
