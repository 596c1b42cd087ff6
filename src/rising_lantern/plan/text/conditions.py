"""``for:``, the values of an object that differ on some viewports."""

from __future__ import annotations

from dataclasses import replace

from rising_lantern.plan.text.nodes import Key, Node, walk

CONDITION = "for"


def on_screen(node: Node, viewport: str) -> Node:
    """The plan as it holds on one viewport: every ``for:`` resolved, places kept.

    A mapping in ``for:`` is laid over the object key by key; any other value replaces the one
    that it names.
    """
    if isinstance(node.value, list):
        items = [on_screen(child, viewport) for child in node.value]
        if all(new is old for new, old in zip(items, node.value, strict=True)):
            return node
        return replace(node, value=items)
    if not isinstance(node.value, dict):
        return node
    own = {key: child for key, child in node.value.items() if key != CONDITION}
    condition = node.value.get(CONDITION)
    differing = condition.child(viewport) if condition else None
    if differing is not None and isinstance(differing.value, dict):
        own = laid_over(own, differing.value)
    value = {key: on_screen(child, viewport) for key, child in own.items()}
    unchanged = condition is None and all(value[key] is node.value[key] for key in value)
    return node if unchanged else replace(node, value=value)


def conditions_of(root: Node) -> frozenset[str]:
    """The viewports that any ``for:`` of a plan names."""
    return frozenset(
        str(name)
        for path, node in walk(root)
        if path and path[-1] == CONDITION and isinstance(node.value, dict)
        for name in node.value
    )


def laid_over(below: dict[Key, Node], above: dict[Key, Node]) -> dict[Key, Node]:
    """Entries laid over others key by key, mappings within them as well."""
    result = dict(below)
    for key, child in above.items():
        old = result.get(key)
        if old is not None and isinstance(old.value, dict) and isinstance(child.value, dict):
            result[key] = replace(child, value=laid_over(old.value, child.value))
        else:
            result[key] = child
    return result
