"""Colours that YAML takes for comments: ``border: 2px solid #16213e`` without its quotes.

Source: https://yaml.org/spec/1.2.2/#66-comments
"""

from __future__ import annotations

import re
from collections.abc import Container, Iterator

from rising_lantern.errors import Fault, Place, quoted

TAKE_COLORS = frozenset(
    {"color", "background", "border", "shadow", "fill", "link-color", "visited", "focus", "solid"}
)
"""The keys whose values have colours in them; those of ``colors`` are names of the plan's own."""

_HEX = r"#(?:[0-9a-fA-F]{3,4}|[0-9a-fA-F]{6}|[0-9a-fA-F]{8})(?![\w-])"
_VALUE = re.compile(
    rf"(?:^|(?<=[\s,{{\[]))(?P<key>[\w-]+):(?P<value>(?:\s[^\"'#\[\]{{}},]*)?)\s(?P<cut>{_HEX}[^#\n]*)"
)
_QUOTED = re.compile(r"\"(?:\\.|[^\"\\])*\"|'(?:''|[^'])*'")
_COMMENT = re.compile(r"(?:^|\s)#")
_OWN = "colors"


def is_color(text: str) -> bool:
    """Whether a text, written as one value, has a colour where YAML would see a comment."""
    return re.search(rf"(?:^|\s){_HEX}", text) is not None


def cut_off(text: str, file: str, within: Container[int] = ()) -> Iterator[Fault]:
    """The values of a plan that end where a colour begins, because it is taken for a comment.

    Args:
        text: The plan's text.
        file: Its name.
        within: Lines that are in the middle of a text of several, from 1 on.
    """
    in_colors = False
    for number, line in enumerate(text.splitlines(), 1):
        if line[:1].strip() and line[:1] != "#":
            in_colors = line.startswith(f"{_OWN}:")
        if "#" not in line or number in within:
            continue
        bare = _QUOTED.sub(lambda quotes: "x" * len(quotes[0]), line)
        found = _VALUE.search(bare)
        before = bare[: found.start()] if found else ""
        if found is None or '"' in before or _COMMENT.search(before):
            continue
        if found["key"] in TAKE_COLORS or in_colors or f"{_OWN}:" in before:
            yield _fault(found, Place(file, number, found.start("cut") + 1), before)


def _fault(found: re.Match[str], place: Place, before: str) -> Fault:
    is_flow = before.count("{") > before.count("}")
    rest = re.split(r"[,}\]]", found["cut"])[0] if is_flow else found["cut"]
    value = f"{found['value']} {rest}".strip()
    return Fault(
        place,
        f"{quoted(found['key'])} ends before the '#', which starts a comment in YAML",
        f'put it in quotes: {found["key"]}: "{value}"',
    )
