"""What a plan says where something of it does not come: an effect, its pictures, its fonts."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.checks.readers import EFFECTS, FONTS, PICTURES
from rising_lantern.plan.edits.edits import path_words
from rising_lantern.plan.text.nodes import Key, Node, walk

_NOTHING = "{fill: transparent}"
_SHOWING = {"image", "slides", "video"}
_OWN_FONTS = {"sans", "serif"}


def values_without(root: Node, feature: str) -> Iterator[tuple[str, str]]:
    """Yield the values to set, by their keys, for a plan without something.

    Args:
        root: The plan.
        feature: An effect of CSS, ``pictures`` or ``fonts``.
    """
    if feature == PICTURES:
        # What a section has in the place of its pictures is its background.
        for path, node in _of_pages_and_headers(root):
            if path[-2] == "layers" and isinstance(node.value, dict) and _SHOWING & {*node.value}:
                yield path_words(path), _NOTHING
        return
    if feature == FONTS:
        for path, node in _of_pages_and_headers(root):
            if path[-1] == "font" and node.value not in _OWN_FONTS:
                yield path_words(path), "sans"
        return
    key, absent = EFFECTS[feature]
    for path, _ in _of_pages_and_headers(root):
        if path[-1] == key:
            yield path_words(path), absent


def _of_pages_and_headers(root: Node) -> Iterator[tuple[tuple[Key, ...], Node]]:
    """What a plan says of its pages and headers, each with its path."""
    for path, node in walk(root):
        if len(path) > 1 and path[0] in {"pages", "headers"}:
            yield path, node
