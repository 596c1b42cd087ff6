"""What pages have in common, whatever the plan says: the parts of ``common.css`` in use."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator
from functools import lru_cache
from importlib.resources import files
from typing import Any

import tinycss2

from rising_lantern.exports.headers import backdrops_of, gradient_fills
from rising_lantern.exports.motion import Moving, is_placed_by_script
from rising_lantern.exports.names import Naming
from rising_lantern.exports.rules import CssRule, KeyFrames, Statement, split
from rising_lantern.exports.sources import (
    ContentSource,
    PageSource,
    all_items,
    all_sections,
    has_selectors,
    has_video,
    runs,
)

_USUAL = Naming()


def _has_sides(side: str) -> Callable[[PageSource], bool]:
    def has(page: PageSource) -> bool:
        parts = page.header.entry.parts.values() if page.header else ()
        return any(part.side == side for part in parts)

    return has


def _has_list(page: PageSource) -> bool:
    parts = page.header.entry.parts.values() if page.header else ()
    return any(len(part.text or ()) > 1 for part in parts)


def _has_images(page: PageSource) -> bool:
    parts = page.header.entry.parts.values() if page.header else ()
    return any(part.image for part in parts)


def _flows(page: PageSource) -> bool:
    contents = (item for section in page.sections for item in section.content)
    return any(item.flows or item.entry.box for item in contents)


def _has_pictures(page: PageSource) -> bool:
    return any(item.entry.image for section in page.sections for item in section.content)


def _waits(item: Moving) -> bool:
    if isinstance(item, ContentSource):
        return item.entry.enter is not None
    return is_placed_by_script(item)


_PARTS: dict[str, Callable[[PageSource], bool]] = {
    "own": lambda _page: False,  # one of these two, as the whole site says
    "site": lambda _page: False,
    "all": lambda _page: True,
    "header": lambda page: page.header is not None,
    "center": _has_sides("center"),
    "end": _has_sides("end"),
    "list": _has_list,
    "images": _has_images,
    "focus": lambda page: page.header is not None,
    "fills": lambda page: page.header is not None and bool(gradient_fills(page.header.box)),
    "backdrops": lambda page: page.header is not None and bool(backdrops_of(page.header.box)),
    "sections": lambda _page: True,
    "layers": lambda page: (
        any(section.layers for section in all_sections(page))
        or (page.header is not None and bool(backdrops_of(page.header.box)))
    ),
    "borders": lambda page: any(section.entry.border for section in page.sections),
    "ground": lambda page: page.ground is not None,
    "places": lambda page: bool(page.box.pause) or any(item.content for item in page.sections),
    "texts": lambda page: any(item.content for item in page.sections),
    "flow": _flows,
    "pictures": _has_pictures,
    "slides": runs,
    "videos": has_video,
    "early": lambda page: any(_waits(item) for item in all_items(page)),
    "rtl": lambda page: page.box.script.direction == "rtl",
}
"""Which pages need a part, by its name."""


def common_rules(pages: Iterable[PageSource], naming: Naming) -> Iterator[Statement]:
    """Yield the statements that some pages have in common.

    Args:
        pages: The pages, each at each viewport.
        naming: How everything is named.
    """
    known = list(pages)
    own = "site" if any(map(has_selectors, known)) else "own"
    for name, statements in common_parts().items():
        if name == own or any(map(_PARTS[name], known)):
            yield from (_renamed(item, naming) for item in statements)


@lru_cache(maxsize=1)
def common_parts() -> dict[str, tuple[Statement, ...]]:
    """Return the statements of ``common.css``, by the names that its comments give its parts."""
    text = files(__package__).joinpath("common.css").read_text("utf-8")
    parts = re.split(r"^/\* ([a-z]+): [^*]* \*/$", text, flags=re.MULTILINE)[1:]
    return {
        name: tuple(_statements(content, "", ()))
        for name, content in zip(parts[::2], parts[1::2], strict=True)
    }


def _statements(content: Any, parent: str, within: tuple[str, ...]) -> Iterator[Statement]:
    """The rules in a block, those in other rules written out: CSS Nesting 1, section 3."""
    declared: dict[str, str] = {}
    inner: list[Any] = []
    for node in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if node.type == "declaration":
            important = " !important" * node.important
            declared[node.name] = _words(node.value) + important
        else:
            inner.append(node)
    if declared:
        yield CssRule(parent, declared, within)
    for node in inner:
        head = _words(node.prelude)
        if node.type == "qualified-rule":
            yield from _statements(node.content, _written_out(head, parent), within)
        elif node.lower_at_keyword == "keyframes":
            yield KeyFrames(head, _frames(node.content), within)
        elif node.lower_at_keyword == "property":
            yield from _statements(node.content, f"@property {head}", within)
        else:
            condition = f"@{node.lower_at_keyword} {head}"
            yield from _statements(node.content, parent, (*within, condition))


def _frames(content: Any) -> dict[str, dict[str, str]]:
    """Key frames: what each declares, by its place."""
    rules = tinycss2.parse_rule_list(content, skip_comments=True, skip_whitespace=True)
    return {
        _words(rule.prelude): {
            item.name: _words(item.value)
            for item in tinycss2.parse_blocks_contents(rule.content, skip_whitespace=True)
        }
        for rule in rules
    }


def _written_out(head: str, parent: str) -> str:
    if not parent:
        return head
    return ", ".join(
        item.replace("&", parent) if "&" in item else f"{parent} {item}"
        for item in split(head, ", ")
    )


def _words(tokens: Any) -> str:
    return re.sub(r"\s+", " ", tinycss2.serialize(tokens)).strip()


def _renamed(item: Statement, naming: Naming) -> Statement:
    """A statement with the prefix of an export."""
    if naming == _USUAL:
        return item
    old, new = (re.compile(rf"(?<![a-z]){_USUAL.prefix}(?=-)"), naming.prefix)
    if isinstance(item, KeyFrames):
        return KeyFrames(old.sub(new, item.name), item.frames, item.within)
    declared = {
        old.sub(new, name): old.sub(new, value) for name, value in item.declarations.items()
    }
    return CssRule(old.sub(new, item.selector), declared, item.within)
