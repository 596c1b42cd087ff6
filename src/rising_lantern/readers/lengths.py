"""What a plan says where its content is longer or shorter than planned, or its words are."""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterator
from itertools import cycle, islice

from rising_lantern.api.plans import Plan
from rising_lantern.css.numbers import number
from rising_lantern.plan.edits.edits import path_words
from rising_lantern.plan.text.nodes import Key, Node, walk

_PX = re.compile(r"(\d+(?:\.\d+)?)px")
_FEWEST_WORDS = 8  # of a text that editors write: what has fewer is a heading or a label


def plan_of_length(plan: Plan, share: float) -> Plan:
    """A plan whose editors have written more or less than planned.

    Heights in px stand for what is in a section, and are changed with it; those that follow the
    screen are not. Texts of eight words or more that flow are longer or shorter; where they have
    links, they are not shortened.

    Args:
        plan: The plan.
        share: How much there is, of what is planned.
    """
    values = dict(_values_of_length(plan.file.root, share))
    return plan.replace(values) if values else plan


def plan_of_words(plan: Plan, share: float) -> Plan:
    """A plan whose words of menus and buttons are longer.

    Args:
        plan: The plan.
        share: How long each word is, of what it is in the plan.
    """
    values = dict(_values_of_words(plan.file.root, share))
    return plan.replace(values) if values else plan


def _values_of_length(root: Node, share: float) -> Iterator[tuple[str, str]]:
    """The values to set, by their keys, where there is more or less content."""
    for path, node in walk(root):
        if _is_height(path) and (px := _PX.fullmatch(str(node.value))):
            yield path_words(path), f"{number(round(float(px[1]) * share))}px"
        elif _flows(path, node) and isinstance(node.value, dict):
            words = str(node.value["text"].value).split()
            is_kept = "links" in node.value and share < 1
            if len(words) >= _FEWEST_WORDS and not is_kept:
                count = max(round(len(words) * share), 1)
                text = " ".join(islice(cycle(words), count))
                yield path_words((*path, "text")), json.dumps(text)


def _values_of_words(root: Node, share: float) -> Iterator[tuple[str, str]]:
    """The values to set, by their keys, where words are longer."""
    for path, node in walk(root):
        if not isinstance(node.value, dict) or "text" not in node.value:
            continue
        is_part = path[:1] == ("headers",) and "parts" in path
        if not is_part and "button" not in node.value:
            continue
        text = node.value["text"].plain()
        longer = [_longer(item, share) for item in text] if isinstance(text, list) else None
        whole = longer or _longer(str(text), share)
        yield path_words((*path, "text")), json.dumps(whole, ensure_ascii=False)
        if "links" in node.value:
            # They name words of the text.
            yield path_words((*path, "links")), "{}"


def _is_height(path: tuple[Key, ...]) -> bool:
    """Whether a path is that of a section's height, for all screens or for one."""
    own = path[4:] if path[:1] == ("pages",) and path[2:3] == ("sections",) else ()
    return own == ("height",) or (len(own) == 3 and own[0] == "for" and own[2] == "height")  # noqa: PLR2004


def _flows(path: tuple[Key, ...], node: Node) -> bool:
    """Whether something is a text that stands where there is room, and is no button."""
    if path[:1] != ("pages",) or path[-2:-1] != ("content",) or not isinstance(node.value, dict):
        return False
    return "text" in node.value and not {"at", "button"} & {*node.value}


def _longer(text: object, share: float) -> str:
    """A text whose words are longer, by letters of their own."""
    return " ".join(
        word + "".join(islice(cycle(word.lower()), math.ceil(len(word) * share) - len(word)))
        for word in str(text).split()
    )
