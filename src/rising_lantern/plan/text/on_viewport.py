"""The plan as it holds on one viewport, as text."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import Any

from ruamel.yaml import YAML
from ruamel.yaml.comments import CommentedMap, CommentedSeq

from rising_lantern.plan.text.conditions import CONDITION, on_screen
from rising_lantern.plan.text.likeness import written_out
from rising_lantern.plan.text.nodes import Mark, Node
from rising_lantern.plan.text.removal import without_nulls


def held_text(root: Node, viewport: str, name: str) -> str:
    """A plan on one viewport as YAML, with a comment at what a ``for:`` has put there.

    What is taken over by ``like:`` is written out, with the line that it comes from.

    Args:
        root: The plan's nodes.
        viewport: The viewport's name.
        name: What to call the plan's file in messages.
    """
    yaml = YAML()
    yaml.width = 100
    yaml.indent(mapping=2, sequence=4, offset=2)
    given = {node.mark for node in _inside_conditions(root, viewport)}
    own = on_screen(root, viewport)
    whole = without_nulls(written_out(own, name)[0])
    data = _with_comments(whole, own, given, viewport)
    out = io.StringIO()
    yaml.dump(data, out)
    return out.getvalue()


def _inside_conditions(node: Node, viewport: str) -> Iterator[Node]:
    """Every value that stands in a ``for:`` of the viewport."""
    if isinstance(node.value, list):
        for child in node.value:
            yield from _inside_conditions(child, viewport)
    elif isinstance(node.value, dict):
        for key, child in node.value.items():
            if key == CONDITION:
                differing = child.child(viewport)
                if differing is not None:
                    yield from _scalars(differing)
            else:
                yield from _inside_conditions(child, viewport)


def _scalars(node: Node) -> Iterator[Node]:
    if isinstance(node.value, dict):
        for child in node.value.values():
            yield from _scalars(child)
    elif isinstance(node.value, list):
        yield node
        for child in node.value:
            yield from _scalars(child)
    else:
        yield node


def _with_comments(node: Node, own: Node | None, given: set[Mark], viewport: str) -> Any:
    """A node as data of ruamel.yaml, which carries comments.

    Args:
        node: The node, with what it takes over.
        own: The same without; None where all of it is taken over.
        given: Where the values stand that a ``for:`` of the viewport has put there.
        viewport: The viewport's name.
    """
    if isinstance(node.value, list):
        return CommentedSeq(_with_comments(child, child, given, viewport) for child in node.value)
    if not isinstance(node.value, dict):
        return node.value
    result = CommentedMap()
    for key, child in node.value.items():
        inner = own.child(key) if own else None
        result[key] = _with_comments(child, inner, given, viewport)
        if child.mark in given:
            result.yaml_add_eol_comment(f"for {viewport}, line {child.mark.line}", key)
        elif child.mark.option and not isinstance(child.value, dict | list):
            result.yaml_add_eol_comment(f"from {child.mark.option}, line {child.mark.line}", key)
        elif inner is None and not isinstance(child.value, dict | list):
            result.yaml_add_eol_comment(f"from line {child.mark.line}", key)
    return result
