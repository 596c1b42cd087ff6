"""``null``, which takes away a value that was taken over or that a header gives to its looks."""

from __future__ import annotations

from dataclasses import replace

from rising_lantern.plan.text.nodes import Key, Node

_NOTHING: dict[Key, str | list[Node]] = {
    "background": "transparent",
    "blur": "0px",
    "border": "0px solid",
    "color": "black",
    "layers": [],
    "shadow": "none",
}
"""What a header has where it leaves out a key that its looks can change."""


def without_nulls(root: Node) -> Node:
    """The plan on one viewport without its nulls: what they stand for is as if nobody wrote it.

    In a look, or a row of it, a null also takes away what the header would give it. A key with
    nothing after it is no null, but a value that somebody forgot.

    Args:
        root: The plan, with every ``for:`` and ``like:`` resolved.
    """
    headers = root.child("headers")
    if headers is not None and isinstance(headers.value, dict):
        named = {name: _looks_without(header) for name, header in headers.value.items()}
        if any(named[name] is not headers.value[name] for name in named):
            whole = replace(headers, value=named)
            root = replace(root, value={**_entries(root), "headers": whole})
    return _without(root)


def _looks_without(header: Node) -> Node:
    """A header whose looks say of what they take away that it is nothing."""
    looks = header.child("looks")
    if looks is None or not isinstance(looks.value, dict):
        return header
    changed = {name: _look_without(look, header) for name, look in looks.value.items()}
    if all(changed[name] is looks.value[name] for name in changed):
        return header
    return replace(header, value={**_entries(header), "looks": replace(looks, value=changed)})


def _look_without(look: Node, header: Node) -> Node:
    """A look, or a row of it, with what is nothing in place of nulls where its header has more."""
    entries = {
        key: replace(child, value=_NOTHING[key])
        if _is_null(child) and key in _NOTHING and header.child(key) is not None
        else child
        for key, child in _entries(look).items()
    }
    rows, own = entries.get("rows"), header.child("rows")
    if rows is not None and own is not None:
        within = {
            name: _look_without(row, base) if (base := own.child(name)) else row
            for name, row in _entries(rows).items()
        }
        if any(within[name] is not row for name, row in _entries(rows).items()):
            entries["rows"] = replace(rows, value=within)
    if all(child is look.child(key) for key, child in entries.items()):
        return look
    return replace(look, value=entries)


def _without(node: Node) -> Node:
    if isinstance(node.value, list):
        items = [_without(child) for child in node.value]
        same = all(new is old for new, old in zip(items, node.value, strict=True))
        return node if same else replace(node, value=items)
    if not isinstance(node.value, dict):
        return node
    kept = {key: _without(child) for key, child in node.value.items() if not _is_null(child)}
    same = len(kept) == len(node.value) and all(kept[key] is node.value[key] for key in kept)
    return node if same else replace(node, value=kept)


def _entries(node: Node) -> dict[Key, Node]:
    return node.value if isinstance(node.value, dict) else {}


def _is_null(node: Node) -> bool:
    """Whether it is a null that somebody wrote."""
    return node.value is None and node.mark.end > node.mark.column
