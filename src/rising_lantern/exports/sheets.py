"""The style sheets of an export: one of all pages, and one of each page, or of pages alike."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field

from rising_lantern.exports.names import Naming
from rising_lantern.exports.nesting import nested_lines
from rising_lantern.exports.stylesheet import Block, PageSources, SheetWriter
from rising_lantern.exports.weights import Animated, Weight, weighed

_ANY = "*"
"""Stands for the name of a page until it is known which pages are alike."""


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
    own = {
        page: list(writer.page_blocks(page, views, naming.page(_ANY)))
        for page, views in pages.items()
    }
    animated = Animated(naming, {}, frozenset())
    if weight == "important":
        blocks = [*common, *(block for listed in own.values() for block in listed)]
        every = [statement for block in blocks for statement in block.statements]
        animated = Animated.of(every, naming)
        common.insert(0, Block("What is animated", list(animated.registered())))
    setting = naming, weight, animated
    alike: dict[str, list[str]] = {}
    for page, listed in own.items():
        alike.setdefault(_text(_OF_PAGES, listed, *setting), []).append(page)
    texts = {f"{naming.prefix}.css": _text(_INTRODUCTION, common, *setting)}
    by_page: dict[str, str] = {}
    for text, members in alike.items():
        name = naming.sheet(members[0])
        words = ", ".join(members)
        root = naming.pages(members)
        texts[name] = text.replace("PAGES", words, 1).replace(naming.page(_ANY), root)
        by_page |= dict.fromkeys(members, name)
    return Sheets(texts, by_page)


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
 * Written by Rising Lantern from a plan. To change a number, change it in the custom properties at
 * the top; the script reads thresholds from there as well. What a page has for itself is in its
 * own style sheet.
 *
 * Everything is under the element that has data-{prefix}-page with the name of a page, in most
 * sites the body. In it
 *   .{prefix}-header-NAME   is a header
 *   .{prefix}-part-NAME     is a part of a header
 *   .{prefix}-NAME          is a section of the page
 *   .{prefix}-layer-0       is a layer of a section, 0 the topmost
 *   .{prefix}-content-0     is the place of a text of a section
 * While the page scrolls the script keeps these up to date:
 *   data-look       the current look of a header      data-drawn  the look it is drawn in
 *   data-change     the look whose change is running  data-from   the look that a blend leaves
 *   data-here       on a second header that is there  data-fades  on the page: fades may run
 */"""
