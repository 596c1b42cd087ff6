"""What an export is written from: boxes of a layout, each with its values in the plan.

The export alone needs both: it writes what the author specified, in the author's own units, where
the layout has the used values.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from rising_lantern.css.lengths import px
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import ContentBox, LayerBox, SectionBox
from rising_lantern.plan.models.content import Content
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.models.headers import Header
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.models.pages import Section


@dataclass(frozen=True, slots=True)
class LayerSource:
    """A layer: its box, and its values in the plan."""

    box: LayerBox
    entry: Layer


@dataclass(frozen=True, slots=True)
class ContentSource:
    """A text: its box, and its values in the plan."""

    box: ContentBox
    entry: Content


@dataclass(frozen=True, slots=True)
class SectionSource:
    """A section: its box, and its values in the plan."""

    box: SectionBox
    entry: Section
    layers: tuple[LayerSource, ...]
    content: tuple[ContentSource, ...]


@dataclass(frozen=True, slots=True)
class HeaderSource:
    """A header: its box, and its values in the plan."""

    box: HeaderBox
    entry: Header


@dataclass(frozen=True, slots=True)
class PageSource:
    """A page at a viewport: its box, and what is on it.

    Attributes:
        box: The page as it is laid out.
        header: Its header, or None.
        sections: Its sections, from top to bottom.
        ground: What it has behind them, as a section of its own; None where it has nothing.
    """

    box: PageBox
    header: HeaderSource | None
    sections: tuple[SectionSource, ...]
    ground: SectionSource | None


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
        HeaderSource(header, document.headers[header.name]) if header else None,
        tuple(_section(box, entry.sections[box.name]) for box in page.sections),
        ground,
    )


def _section(box: SectionBox, entry: Section) -> SectionSource:
    return SectionSource(
        box,
        entry,
        tuple(map(LayerSource, box.layers, entry.all_layers)),
        tuple(map(ContentSource, box.content, entry.content)),
    )


def all_sections(page: PageSource) -> tuple[SectionSource, ...]:
    """The sections of a page, and last what it has behind them."""
    return (*page.sections, *((page.ground,) if page.ground else ()))


def all_items(page: PageSource) -> Iterator[LayerSource | ContentSource]:
    """The layers and texts of a page."""
    for section in all_sections(page):
        yield from section.layers
        yield from section.content
