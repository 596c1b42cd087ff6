"""What an export is written from: boxes of a layout, each with its values in the plan.

The export alone needs both: it writes what the author specified, in the author's own units, where
the layout has the used values.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rising_lantern.css.lengths import px
from rising_lantern.css.schemes import Scheme
from rising_lantern.layout.content import flows_in
from rising_lantern.layout.headers import HeaderBox, LookBox
from rising_lantern.layout.items import ContentBox, Item
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.pause import is_pause
from rising_lantern.layout.sections import LayerBox, SectionBox
from rising_lantern.plan.models.content import Content
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.models.headers import Header, Look, Part
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.models.pages import Page, Section
from rising_lantern.plan.models.pause import Pause
from rising_lantern.plan.text.nodes import Key
from rising_lantern.scroll.switches import Switches, switches_on

_INNER = ("box", "content", 0)
"""What is added to the path of a box for what is in it."""


@dataclass(frozen=True, slots=True)
class LayerSource:
    """A layer: its box, and its values in the plan."""

    box: LayerBox
    entry: Layer


@dataclass(frozen=True, slots=True)
class ContentSource:
    """A text, picture or box over a section: its box, and its values in the plan.

    Attributes:
        box: What it is laid out as.
        entry: Its values.
        flows: Whether it flows, in its section or in a box.
    """

    box: Item
    entry: Content
    flows: bool

    @property
    def key(self) -> str:
        """What it is called in its section: its place, after those of the boxes that it is in."""
        return "-".join(str(step) for step in self.box.path if isinstance(step, int))

    @property
    def is_nested(self) -> bool:
        """Whether it is in a box, with which it moves."""
        return "box" in self.box.path

    def holds(self, other: ContentSource) -> bool:
        """Whether it is the box that another content is in."""
        return other.box.path[: -len(_INNER)] == self.box.path and other.is_nested


@dataclass(frozen=True, slots=True)
class SectionSource:
    """A section: its box, and its values in the plan."""

    box: SectionBox
    entry: Section
    layers: tuple[LayerSource, ...]
    content: tuple[ContentSource, ...]

    @property
    def texts(self) -> tuple[ContentSource, ...]:
        """Its texts, in the order of those of its box."""
        return tuple(item for item in self.content if isinstance(item.box, ContentBox))


@dataclass(frozen=True, slots=True)
class HeaderSource:
    """A header: its box, and its values in the plan.

    Attributes:
        box: What it is laid out as.
        entry: Its values.
        at_first: The look that it is in where nothing switches it.
        by_css: Whether its looks follow the scroll by CSS alone.
    """

    box: HeaderBox
    entry: Header
    at_first: str
    by_css: bool = False

    def look(self, name: str) -> LookBox:
        """One of its looks as it is laid out."""
        return self.box.looks[self.box.look_names.index(name)]


def has_selectors(page: PageSource) -> bool:
    """Whether the plan names elements of the site on a page, rather than a page of its own."""
    entries: list[Section | Layer | Header | Part | Look] = [item.entry for item in page.sections]
    entries += [layer.entry for item in page.sections for layer in item.layers]
    if page.header:
        header = page.header.entry
        entries += [header, *header.parts.values(), *header.looks.values()]
    return any(entry.selector is not None for entry in entries)


@dataclass(frozen=True, slots=True)
class PageSource:
    """A page at a viewport: its box, and what is on it.

    Attributes:
        box: The page as it is laid out.
        header: Its header, or None.
        sections: Its sections, from top to bottom.
        ground: What it has behind them, as a section of its own; None where it has nothing.
        scheme: The colour scheme of its viewport; None where it has none of its own.
        page: Its values in the plan.
        pause: Those of the control that stops what runs; None where the plan leaves it out.
        switches: Where its header switches on the viewport; None without a header.
    """

    box: PageBox
    header: HeaderSource | None
    sections: tuple[SectionSource, ...]
    ground: SectionSource | None
    scheme: Scheme | None
    page: Page
    pause: Pause | None
    switches: Switches | None

    @property
    def look_at_top(self) -> LookBox | None:
        """The look of its header where the page has not been scrolled; None without a header."""
        if self.switches is None:
            return None
        (look,) = self.switches.looks_at(np.zeros(1)).look
        return self.switches.header.looks[int(look)]


def source_of(page: PageBox, document: Document) -> PageSource:
    """A page with the values that the plan has for it on its viewport."""
    entry = document.pages[page.page]
    header = page.header
    ground = None
    if page.ground is not None:
        own = Section(height=px(page.ground.height), layers=entry.background.layers)
        ground = _section(page.ground, own)
    return PageSource(
        page,
        HeaderSource(header, document.headers[header.name], header.look_names[0])
        if header
        else None,
        tuple(_section(box, entry.sections[box.name]) for box in page.sections),
        ground,
        document.viewports[page.viewport].scheme,
        entry,
        document.pause,
        switches_on(page),
    )


def _section(box: SectionBox, entry: Section) -> SectionSource:
    return SectionSource(
        box,
        entry,
        tuple(map(LayerSource, box.layers, entry.all_layers)),
        tuple(_content(item, entry) for item in box.items if not is_pause(item)),
    )


def _content(box: Item, section: Section) -> ContentSource:
    """A content with its values, which its path leads to."""
    entry = section.content[_index(box.path[1])]
    flows = flows_in(section, entry)
    for step in box.path[4::3]:
        assert entry.box is not None  # noqa: S101 - it is in it
        entry, flows = entry.box.content[_index(step)], True
    return ContentSource(box, entry, flows)


def _index(step: Key) -> int:
    return int(step)


def all_sections(page: PageSource) -> tuple[SectionSource, ...]:
    """The sections of a page, and last what it has behind them."""
    return (*page.sections, *((page.ground,) if page.ground else ()))


def runs(page: PageSource) -> bool:
    """Whether slides or videos of a page run by themselves."""
    return any(
        layer.entry.every is not None for section in all_sections(page) for layer in section.layers
    ) or has_video(page)


def has_direction(page: PageSource) -> bool:
    """Whether a page's header has a look that holds in one direction."""
    return page.header is not None and any(look.going for look in page.header.box.looks)


def has_video(page: PageSource) -> bool:
    """Whether a page has a video."""
    return any(layer.entry.video for section in all_sections(page) for layer in section.layers)


def all_items(page: PageSource) -> Iterator[LayerSource | ContentSource]:
    """The layers and texts of a page."""
    for section in all_sections(page):
        yield from section.layers
        yield from section.content
