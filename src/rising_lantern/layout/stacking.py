"""The order in which a page is painted: CSS 2, appendix E, and CSS 2, 9.9.1 for ``z-index``."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache

from rising_lantern.layout.items import Item
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import SectionBox


@dataclass(frozen=True, slots=True)
class Level:
    """What is painted in one go.

    Attributes:
        z: Its ``z-index``.
        section: The section that it belongs to; None for the header.
        grounded: Whether the section's background, layers and border are part of it.
        behind: Content between the section's background and its layers.
        content: Content over them.
    """

    z: int
    section: SectionBox | None
    grounded: bool = False
    behind: tuple[Item, ...] = ()
    content: tuple[Item, ...] = ()

    @property
    def is_isolated(self) -> bool:
        """Whether blending ends at its own edge, as in a stacking context."""
        return self.section is not None and self.section.z != 0


@dataclass(frozen=True, slots=True, eq=False)
class _Same:
    """A page as itself: another one that is equal is another key."""

    page: PageBox

    def __hash__(self) -> int:
        return id(self.page)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, _Same) and other.page is self.page


def levels_of(page: PageBox) -> tuple[Level, ...]:
    """A page's levels, the lowest first, all above what the page has behind its sections.

    A section with a ``z`` of its own is a stacking context: its content stays within it. The
    content of another takes its own place among all that is on the page.

    Source: https://www.w3.org/TR/CSS22/zindex.html
    """
    return _levels_of(_Same(page))


@lru_cache(maxsize=4)
def _levels_of(same: _Same) -> tuple[Level, ...]:
    """The levels of a page; they are asked for once for each of its sections."""
    page = same.page
    header = page.header
    home = header.home if header else None
    # The header comes before the sections in the document, unless it is in one of them.
    levels = [Level(header.z, None)] if header and home is None else []
    for section in page.sections:
        within = _levels(section)
        if header and section.name == home:
            # A section with a z of its own keeps the header within its stacking context.
            own = Level(section.z or header.z, None)
            within = [*within, own] if section.z else [own, *within]
        levels += within
    return tuple(sorted(levels, key=lambda level: level.z))


def lower_sections(page: PageBox, section: SectionBox) -> tuple[SectionBox, ...]:
    """The sections that one lies over, in part or whole.

    Args:
        page: The page.
        section: The section that lies over them.
    """
    order = [level.section for level in levels_of(page) if level.section and level.grounded]
    names = [item.name for item in order]
    if section.name not in names:
        return ()  # what the page has behind its sections
    return tuple(
        other
        for other in order[: names.index(section.name)]
        if other.top < section.bottom
        and section.top < other.bottom
        and other.box.left < section.box.right
        and section.box.left < other.box.right
    )


def _levels(section: SectionBox) -> list[Level]:
    z = section.z
    if z:
        ordered = sorted(section.items, key=lambda content: content.z)
        behind = tuple(content for content in ordered if content.z < 0)
        over = tuple(ordered[len(behind) :])
        return [Level(z, section, grounded=True, behind=behind, content=over)]
    own: dict[int, list[Item]] = {0: []}
    for content in section.items:
        own.setdefault(content.z, []).append(content)
    return [
        Level(index, section, grounded=index == 0, content=tuple(members))
        for index, members in own.items()
    ]
