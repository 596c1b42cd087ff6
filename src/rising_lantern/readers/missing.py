"""What a plan says where something of it does not come: an effect, its pictures, its fonts."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import partial

from rising_lantern.api.plans import Plan
from rising_lantern.checks.readers import EFFECTS, FONTS, PICTURES, TRANSPARENCY
from rising_lantern.plan.edits.edits import path_words
from rising_lantern.plan.text.nodes import Key, Node, walk

Found = tuple[tuple[Key, ...], Node]
"""A path of the plan, and what is there."""

_NOTHING = "{fill: transparent}"
_SHOWING = {"image", "slides", "video"}
_OWN_FONTS = {"sans", "serif"}


def plan_without(plan: Plan, feature: str) -> Plan:
    """A plan as readers have it to whom something does not come; itself where it has none of it.

    Args:
        plan: The plan.
        feature: An effect of CSS, ``pictures``, ``fonts`` or ``transparency``.
    """
    if feature == TRANSPARENCY:
        return Plan(plan.file.with_solid_headers())
    find = {PICTURES: _pictures, FONTS: _fonts}.get(feature, partial(_effects, feature))
    values = dict(find(_of_pages_and_headers(plan.file.root)))
    return plan.replace(values) if values else plan


def _pictures(found: Iterable[Found]) -> Iterator[tuple[str, str]]:
    """What leaves out pictures: what a section has in their place is its background."""
    for path, node in found:
        if path[-2] == "layers" and isinstance(node.value, dict) and _SHOWING & {*node.value}:
            yield path_words(path), _NOTHING


def _fonts(found: Iterable[Found]) -> Iterator[tuple[str, str]]:
    """What leaves out fonts of the plan."""
    for path, node in found:
        if path[-1] == "font" and node.value not in _OWN_FONTS:
            yield path_words(path), "sans"


def _effects(feature: str, found: Iterable[Found]) -> Iterator[tuple[str, str]]:
    """What leaves out an effect of CSS."""
    key, absent = EFFECTS[feature]
    for path, _ in found:
        if path[-1] == key:
            yield path_words(path), absent


def _of_pages_and_headers(root: Node) -> Iterator[Found]:
    """What a plan says of its pages and headers, each with its path."""
    for path, node in walk(root):
        if len(path) > 1 and path[0] in {"pages", "headers"}:
            yield path, node
