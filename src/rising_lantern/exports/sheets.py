"""The style sheets of an export: one of all pages, and one of each page, or of pages alike."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import chain

from rising_lantern.exports.motion import frames_of_moving
from rising_lantern.exports.names import Naming
from rising_lantern.exports.nesting import nested_lines
from rising_lantern.exports.rules import CssRule
from rising_lantern.exports.stylesheet import Block, PageSources, SheetWriter
from rising_lantern.exports.weights import Animated, Weight, weighed

_NAMED = 6  # pages in the first comment of a style sheet that they share
_ANY = "*"
"""Stands, as often as names are long, for the name of a page until those alike are known."""


@dataclass(frozen=True)
class Sheets:
    """The style sheets of an export.

    Attributes:
        texts: Their texts, by their names; that of all pages first.
        by_page: The name of the style sheet that a page has for itself.
    """

    texts: dict[str, str] = field(repr=False)
    by_page: dict[str, str]

    def of_page(self, page: str) -> tuple[str, ...]:
        """The style sheets of a page, in the order in which they are loaded."""
        return next(iter(self.texts)), self.by_page[page]


def sheets_of(writer: SheetWriter, pages: Mapping[str, PageSources], weight: Weight) -> Sheets:
    """The style sheets of some pages.

    Args:
        writer: What writes their rules.
        pages: The pages on each viewport, by name.
        weight: How they hold their own against the site's other rules.
    """
    naming = writer.naming
    common = list(writer.common_blocks(pages))
    any_page = naming.page(_ANY * max(map(len, pages)))
    own = {page: list(writer.page_blocks(page, views, any_page)) for page, views in pages.items()}
    used = _words_in(chain(common, *own.values()))
    common = [_without_idle(block, used, naming) for block in common]
    named = {name: value for name, value in writer.named_colors.items() if name in used}
    common.insert(0, Block("Colours", [CssRule(naming.any_page, named)]))
    animated = Animated(naming, {}, frozenset())
    if weight == "important":
        blocks = chain(common, *own.values())
        animated = Animated.of([item for block in blocks for item in block.statements], naming)
        common.insert(0, Block("What is animated", list(animated.registered())))
    setting = naming, weight, animated
    alike: dict[str, list[str]] = {}
    for page, blocks_of_page in own.items():
        text = _text(_OF_PAGES, blocks_of_page, *setting)
        alike.setdefault(text, []).append(page)
    known = chain.from_iterable(views.values() for views in pages.values())
    by_css = any(view.header and view.header.by_css for view in known)
    introduction = _INTRODUCTION.replace(" */", _BY_CSS) if by_css else _INTRODUCTION
    texts = {f"{naming.prefix}.css": _text(introduction, common, *setting)}
    by_page: dict[str, str] = {}
    for text, members in alike.items():
        name = naming.sheet(members[0])
        # Each by its name, as a site may load the style sheets of all pages at once.
        root = naming.pages(members).replace(", ", ",\n  ")
        words = ", ".join(members[:_NAMED]) + f" and {len(members) - _NAMED} more pages" * (
            len(members) > _NAMED
        )
        texts[name] = text.replace("PAGES", words, 1).replace(any_page, root)
        by_page |= dict.fromkeys(members, name)
    return Sheets(texts, by_page)


def _words_in(blocks: Iterable[Block]) -> frozenset[str]:
    """The names that values use: of custom properties and of key frames among them."""
    values: list[str] = []
    for statement in chain.from_iterable(block.statements for block in blocks):
        if isinstance(statement, CssRule):
            values += statement.declarations.values()
        else:
            values += chain.from_iterable(frame.values() for frame in statement.frames.values())
    return frozenset(word for value in values for word in re.findall(r"[\w-]+", value))


def _without_idle(block: Block, used: frozenset[str], naming: Naming) -> Block:
    """A block without key frames that nothing uses; the script uses those of what moves."""
    moving = frames_of_moving(naming)
    kept = [
        item
        for item in block.statements
        if isinstance(item, CssRule) or item.name in used or item.name in moving
    ]
    return replace(block, statements=kept)


def _text(
    introduction: str,
    blocks: Sequence[Block],
    naming: Naming,
    weight: Weight,
    animated: Animated,
) -> str:
    """A style sheet as text."""
    return "\n".join(_lines(introduction, blocks, naming, weight, animated)) + "\n"


def _lines(
    introduction: str,
    blocks: Sequence[Block],
    naming: Naming,
    weight: Weight,
    animated: Animated,
) -> Iterator[str]:
    yield from introduction.format(prefix=naming.prefix).splitlines()
    layered = weight in {"layer", "important"}
    if layered:
        yield from ("", f"@layer {naming.prefix} {{")
    yield from nested_lines(
        (block.title, list(weighed(block.statements, naming, weight, animated))) for block in blocks
    )
    yield from ["}"] * layered


_OF_PAGES = "/* PAGES: what is not in {prefix}.css, which comes first. */"

_INTRODUCTION = """\
/*
 * Written by Rising Lantern. Change numbers in the custom properties; the script reads thresholds
 * from them as well. Everything is under [data-{prefix}-page="NAME"], mostly the body. In it are
 *   .{prefix}-header-NAME .{prefix}-part-NAME   a header and its parts
 *   .{prefix}-NAME .{prefix}-layer-0   a section and its layers, 0 the topmost
 *   .{prefix}-content-0   the place of a text, picture or box
 * The script says: data-look, the current look of a header, and data-drawn, that of its box;
 * data-change, the look whose change runs; data-from, the look that a blend leaves; data-here, on
 * a second header that is there; data-fades, on the page, once fades may run.
 */"""
_BY_CSS = """\
 * Where CSS alone switches looks, --{prefix}-look and --{prefix}-from on the page say the same. It
 * meets edges .12 px early, since engines differ by as much on where they are.
 */"""
