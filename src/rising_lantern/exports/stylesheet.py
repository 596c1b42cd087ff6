"""The style sheet of a whole plan: one for all pages and screens.

Every value is written from what was parsed, never copied from the plan.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import chain

from rising_lantern.css.colors import Color
from rising_lantern.errors import RequestError, quoted
from rising_lantern.exports.changes import header_statements
from rising_lantern.exports.common import common_rules
from rising_lantern.exports.content import link_rules
from rising_lantern.exports.flow import FlowLengths
from rising_lantern.exports.headers import HeaderWriter
from rising_lantern.exports.media import merged
from rising_lantern.exports.motion import MotionWriter
from rising_lantern.exports.names import Naming
from rising_lantern.exports.pausing import shared_pause_rules
from rising_lantern.exports.rules import CssRule, Images, KeyFrames, Statement, family
from rising_lantern.exports.sections import SectionWriter
from rising_lantern.exports.sources import (
    ContentSource,
    HeaderSource,
    PageSource,
    all_items,
)
from rising_lantern.exports.stillness import Stillness
from rising_lantern.exports.values import Palette, plain_color
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.text.screen_widths import ScreenRange

PageSources = Mapping[str, PageSource]
"""A page on each viewport, by the viewport's name."""

_ROOT = "[root]"
"""Stands for the selector of the page's element until it is known which pages share a header."""


@dataclass(frozen=True)
class Block:
    """Statements that belong together.

    Attributes:
        title: What they are about.
        statements: The statements.
    """

    title: str
    statements: Sequence[Statement]


@dataclass(frozen=True)
class SheetWriter:
    """Writes the style sheet.

    Attributes:
        naming: How everything is named.
        ranges: The screens of each viewport, the widest first.
        colors: The plan's colours, by name.
        pictures: The plan's pictures.
        faces: Addresses of the font files in use, by font and weight.
        images: Gives a picture as a CSS image.
        masks: Gives a picture as a CSS image that may be a mask.
        stills: Whether what moves stands still for readers who ask for less motion.
    """

    naming: Naming
    ranges: Sequence[ScreenRange]
    colors: Mapping[str, Color]
    pictures: Mapping[str, Picture]
    faces: Mapping[tuple[str, int], str]
    images: Images
    masks: Callable[[str], str]
    stills: bool

    @property
    def palette(self) -> Palette:
        """How colours are written."""
        return Palette(self.naming, self.colors)

    def common_blocks(self, pages: Mapping[str, PageSources]) -> Iterator[Block]:
        """The blocks of the style sheet of all pages behind its colours, numbers first.

        Args:
            pages: The plan's pages on each viewport, by name.
        """
        headers = list(self._headers(pages))
        yield from (Block(f"{item.title}: numbers", item.numbers) for item in headers)
        yield Block("Fonts", list(self._fonts()))
        yield Block("What all pages have in common", list(self._common(pages)))
        yield from (Block(item.title, item.rules) for item in headers)

    def page_blocks(self, page: str, views: PageSources, root: str) -> Iterator[Block]:
        """The blocks of the style sheet of one page.

        Args:
            page: Its name.
            views: It on each viewport.
            root: The selector of its own element.
        """
        yield Block("Room for the header where links lead to", self._of_header(views, root))
        yield from self._sections(page, views, root)

    @property
    def named_colors(self) -> dict[str, str]:
        """The plan's colours, as custom properties."""
        return {
            self.naming.variable("color", name): plain_color(color)
            for name, color in self.colors.items()
        }

    def _fonts(self) -> Iterator[Statement]:
        for (font, weight), url in sorted(self.faces.items()):
            yield CssRule(
                "@font-face",
                {
                    "font-family": family(font, self.naming.prefix).split(",")[0],
                    "font-weight": str(weight),
                    "font-display": "swap",
                    "src": f'url("{url}") format("woff2")',
                },
            )

    def _common(self, pages: Mapping[str, PageSources]) -> Iterator[Statement]:
        sources = [source for views in pages.values() for source in views.values()]
        yield from common_rules(sources, self.naming)
        contents = [
            content
            for source in sources
            for section in source.sections
            for content in section.content
        ]
        yield from link_rules(contents, self.naming)
        if any(source.box.pause for source in sources):
            yield from shared_pause_rules(self.naming)
        # Pages that scroll in an element share their key frames with those that do not.
        some = next((item for item in sources if item.page.scroll_container), sources[0])
        motion = MotionWriter(self.naming, FlowLengths(some, self.naming))
        moving = [item for source in sources for item in all_items(source) if item.box.moves]
        names = {motion.frames_of(item) for item in moving}
        numbers = ["drift"] * any(item.box.motion.drift for item in moving)
        numbers += ["settle"] * any(isinstance(item, ContentSource) for item in moving)
        screens = f"{self.naming.any_page} [data-screens]"
        elsewhere = {
            item.name: [
                CssRule(
                    f'{screens}:not([data-screens~="{item.name}"])', {"display": "none !important"}
                )
            ]
            for item in self.ranges
        }
        yield from merged(elsewhere, self.ranges) if len(self.ranges) > 1 else ()
        yield from motion.frames(names, numbers)

    # --- headers -------------------------------------------------------------------------------

    def _headers(self, pages: Mapping[str, PageSources]) -> Iterator[_HeaderBlock]:
        """Each header, once for all pages on which it is the same."""
        taken: dict[str, str] = {}
        for name in dict.fromkeys(
            view.header.box.name
            for views in pages.values()
            for view in views.values()
            if view.header
        ):
            on = {
                page: views
                for page, views in pages.items()
                if any(view.header and view.header.box.name == name for view in views.values())
            }
            groups: list[tuple[list[str], list[Statement], list[Statement]]] = []
            for page, views in on.items():
                numbers = merged(self._by_screen(views, name, HeaderWriter.numbers), self.ranges)
                rules = merged(self._by_screen(views, name, header_statements), self.ranges)
                same = next((group for group in groups if group[1:] == (numbers, rules)), None)
                if same:
                    same[0].append(page)
                else:
                    groups.append(([page], numbers, rules))
            _refuse_taken(taken, name, (rules for _, _, rules in groups))
            for members, numbers, rules in groups:
                if len(groups) > 1:
                    root = self.naming.pages(members)
                else:
                    root = self._root_of(name, on.values(), has_others=len(on) < len(pages))
                title = f"Header {name}" + f" on {', '.join(members)}" * (len(groups) > 1)
                yield _HeaderBlock(
                    title, _root_statements(numbers, root), _root_statements(rules, root)
                )

    def _root_of(self, name: str, on: Iterable[PageSources], *, has_others: bool) -> str:
        """The selector of the element that all of a header is under, on each page that has it.

        Args:
            name: The header's name.
            on: Those pages.
            has_others: Whether there are pages without it.
        """
        headers = [view.header for views in on for view in views.values() if view.header]
        own = next(header for header in headers if header.box.name == name)
        if not (has_others and own.by_css):
            return self.naming.any_page
        # The element itself is animated, and has the numbers: not where other headers are.
        return f"{self.naming.any_page}:has({self.header_writer(own).here})"

    def _by_screen(
        self,
        views: PageSources,
        name: str,
        write: Callable[[HeaderWriter, str], Iterable[Statement]],
    ) -> dict[str, list[Statement]]:
        """What a header has on each screen; where it is not shown, that."""
        hidden = CssRule(f"{_ROOT} {self.naming.one('header', name)}", {"display": "none"})
        result: dict[str, list[Statement]] = {}
        for screen, view in views.items():
            writer = self._header(view, name)
            absent: list[Statement] = [hidden] if write is header_statements else []
            result[screen] = list(write(writer, _ROOT)) if writer else absent
        return result

    def _header(self, view: PageSource, name: str) -> HeaderWriter | None:
        """What writes a header on a view, where that has it."""
        if view.header is None or view.header.box.name != name:
            return None
        return self.header_writer(view.header)

    def header_writer(self, header: HeaderSource) -> HeaderWriter:
        """What writes a header."""
        return HeaderWriter(
            header,
            self.naming,
            self.palette,
            self.pictures,
            self.stills,
            self.masks,
            lambda name: self.images(name, ""),
        )

    def _of_header(self, views: PageSources, root: str) -> list[Statement]:
        """What the header of a page does to the page."""
        by_screen = {
            screen: list(self.header_writer(view.header).page_rules(root))
            for screen, view in views.items()
            if view.header
        }
        return merged(by_screen, self.ranges)

    # --- pages ---------------------------------------------------------------------------------

    def section_writer(
        self, page: str, source: PageSource, root: str | None = None
    ) -> SectionWriter:
        """What writes the sections of a page at a viewport.

        Args:
            page: The page.
            source: It at the viewport.
            root: The selector of its own element; by default by its name.
        """
        motion = MotionWriter(self.naming, FlowLengths(source, self.naming))
        return SectionWriter(
            source,
            root or self.naming.page(page),
            self.naming,
            self.palette,
            motion,
            self.images,
            Stillness(self.stills),
        )

    def _ground(self, source: PageSource) -> dict[str, str]:
        """The page's colour, and the scheme that what browsers draw themselves is to have."""
        color: dict[str, str] = {}
        # A page of which nothing is said has that of the browser, or of the site.
        if source.scheme or "background" in source.page.model_fields_set:
            color = {"background-color": self.palette.color(source.box.background)}
        return color | ({"color-scheme": source.scheme} if source.scheme else {})

    def _sections(self, page: str, views: PageSources, root: str) -> Iterator[Block]:
        """The blocks of a page: itself, its sections, and what of them moves."""
        writers = {
            screen: self.section_writer(page, source, root) for screen, source in views.items()
        }
        own = {
            screen: [*writers[screen].numbers(), CssRule(root, self._ground(source))]
            for screen, source in views.items()
        }
        yield Block("Heights of sections, sizes of texts, its colour", merged(own, self.ranges))
        blocks = []
        for name in section_names(views):
            by_screen = {
                screen: list(_section_rules(writer, name)) for screen, writer in writers.items()
            }
            blocks.append(
                Block(name or "Behind all of its sections", merged(by_screen, self.ranges))
            )
        moving = {
            screen: list(writer.motion.driven(writer.timed, writer.driven))
            for screen, writer in writers.items()
        }
        # First, as a section's own rules may stop what moves in it.
        yield Block("What moves at a speed", merged(moving, self.ranges))
        yield from blocks
        still = {screen: list(writer.still.statements()) for screen, writer in writers.items()}
        yield Block("What stands still on paper, and for less motion", merged(still, self.ranges))


def section_names(views: PageSources) -> list[str]:
    """The sections that a page has on any screen, from top to bottom; what is behind them is ''."""
    names = [""] * any(view.ground for view in views.values())
    for view in views.values():
        place = -1 + names.count("")
        for section in view.sections:
            if section.box.name in names:
                place = names.index(section.box.name)
            else:
                names.insert(place + 1, section.box.name)
                place += 1
    return names


def _section_rules(writer: SectionWriter, name: str) -> Iterator[Statement]:
    """The rules of one section; where the screen does not have it, that it is not shown."""
    page = writer.page
    known = {section.box.name: section for section in page.sections}
    section = known.get(name) if name else page.ground
    if section:
        yield from writer.statements(section)
    else:
        hidden = writer.naming.section(name) if name else writer.naming.kind("ground")
        yield CssRule(f"{writer.root} {hidden}", {"display": "none"})


def _root_statements(statements: Sequence[Statement], root: str) -> list[Statement]:
    """Statements under the element of some pages."""
    return [
        replace(item, selector=item.selector.replace(_ROOT, root))
        if isinstance(item, CssRule)
        else item
        for item in statements
    ]


def _refuse_taken(taken: dict[str, str], header: str, rules: Iterable[Iterable[Statement]]) -> None:
    """Refuse key frames of a header that are called as another one's.

    Args:
        taken: The headers that have key frames of some names; those of this one are added.
        header: The header.
        rules: Its rules.

    Raises:
        RequestError: If another header has key frames of one of the names.
    """
    for frames in chain.from_iterable(rules):
        if isinstance(frames, KeyFrames) and taken.setdefault(frames.name, header) != header:
            raise RequestError(
                f"the headers {quoted(taken[frames.name])} and {quoted(header)} both have key "
                f"frames {frames.name}, as 'bar' with 'slim-dark' and 'bar-slim' with 'dark' do; "
                "rename one of the looks"
            )


@dataclass(frozen=True)
class _HeaderBlock:
    title: str
    numbers: list[Statement]
    rules: list[Statement]
