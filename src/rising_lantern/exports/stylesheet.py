"""The style sheet of a whole plan: one for all pages and screens.

Every value is written from what was parsed, never copied from the plan.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from rising_lantern.css.colors import Color
from rising_lantern.exports.changes import header_statements, needs_shares, shared_frames
from rising_lantern.exports.content import shared_rules
from rising_lantern.exports.flow import FlowLengths
from rising_lantern.exports.headers import HeaderWriter, backdrops_of
from rising_lantern.exports.media import merged
from rising_lantern.exports.motion import MotionWriter
from rising_lantern.exports.names import Naming
from rising_lantern.exports.pausing import shared_pause_rules
from rising_lantern.exports.rules import CssRule, Images, Statement, family
from rising_lantern.exports.sections import SectionWriter
from rising_lantern.exports.slides import registered_share, slide_rules
from rising_lantern.exports.sources import (
    HeaderSource,
    PageSource,
    all_items,
    has_selectors,
    has_video,
    runs,
)
from rising_lantern.exports.values import Palette, plain_color
from rising_lantern.exports.videos import video_rules
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
        """The blocks of the style sheet of all pages, numbers first.

        Args:
            pages: The plan's pages on each viewport, by name.
        """
        yield Block("Colours", [CssRule(self.naming.any_page, self._colors())])
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
        yield Block("The page", self._of_header(views, root))
        yield Block("Heights of its sections", self._heights(page, views, root))
        yield from self._sections(page, views, root)

    def _colors(self) -> dict[str, str]:
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
        attached = any(map(has_selectors, sources))
        yield from _base(self.naming, attached=attached)
        contents = [
            content
            for source in sources
            for section in source.sections
            for content in section.content
        ]
        yield from shared_rules(contents, self.naming)
        if any(runs(source) for source in sources):
            yield from slide_rules(self.naming)
            yield registered_share(self.naming)
        if any(source.box.pause for source in sources):
            yield from shared_pause_rules(self.naming)
        if any(has_video(source) for source in sources):
            yield from video_rules(self.naming)
        if any(source.box.script.direction == "rtl" for source in sources):
            yield from _right_to_left(self.naming)
        headers = [source.header for source in sources if source.header]
        if any(backdrops_of(header.box) for header in headers):
            yield from _backdrops(self.naming)
        if any(needs_shares(header) for header in headers):
            yield from shared_frames(self.naming)
        # Pages that scroll in an element share their key frames with those that do not.
        some = next((item for item in sources if item.page.scroll_container), sources[0])
        motion = MotionWriter(self.naming, FlowLengths(some, self.naming))
        moving = (item for source in sources for item in all_items(source) if item.box.moves)
        names = {motion.frames_of(item) for item in moving}
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
        yield from motion.frames(names)

    # --- headers -------------------------------------------------------------------------------

    def _headers(self, pages: Mapping[str, PageSources]) -> Iterator[_HeaderBlock]:
        """Each header, once for all pages on which it is the same."""
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
            for members, numbers, rules in groups:
                root = self.naming.any_page if len(groups) == 1 else self.naming.pages(members)
                title = f"Header {name}" + f" on {', '.join(members)}" * (len(groups) > 1)
                yield _HeaderBlock(
                    title, _root_statements(numbers, root), _root_statements(rules, root)
                )

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
            self.stills,
        )

    def _heights(self, page: str, views: PageSources, root: str) -> list[Statement]:
        writers = {
            screen: self.section_writer(page, source, root) for screen, source in views.items()
        }
        return merged(
            {screen: list(writer.numbers()) for screen, writer in writers.items()}, self.ranges
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
        grounds = {
            screen: [CssRule(root, self._ground(source))] for screen, source in views.items()
        }
        yield Block("Its colours", merged(grounds, self.ranges))
        writers = {
            screen: self.section_writer(page, source, root) for screen, source in views.items()
        }
        blocks = []
        for name in section_names(views):
            by_screen = {
                screen: list(_section_rules(writer, name)) for screen, writer in writers.items()
            }
            blocks.append(
                Block(name or "Behind all of its sections", merged(by_screen, self.ranges))
            )
        moving = {
            screen: list(writer.motion.driven(writer.driven)) for screen, writer in writers.items()
        }
        # First, as a section's own rules may stop what moves in it.
        yield Block("What moves at a speed", merged(moving, self.ranges))
        yield from blocks


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


def _backdrops(naming: Naming) -> Iterator[Statement]:
    """The boxes of pictures and fills behind the parts of headers, which are mixed in shares."""
    stacked = {"position": "absolute", "inset": "0"}
    boxes = f"{naming.any_page} {naming.kind('backdrops')}"
    yield CssRule(boxes, stacked | {"isolation": "isolate"})
    mixed = {"opacity": "0", "mix-blend-mode": "plus-lighter"}
    yield CssRule(f"{boxes} > {naming.kind('backdrop')}", stacked | mixed)


def _root_statements(statements: Sequence[Statement], root: str) -> list[Statement]:
    """Statements under the element of some pages."""
    return [
        replace(item, selector=item.selector.replace(_ROOT, root))
        if isinstance(item, CssRule)
        else item
        for item in statements
    ]


@dataclass(frozen=True)
class _HeaderBlock:
    title: str
    numbers: list[Statement]
    rules: list[Statement]


def _right_to_left(naming: Naming) -> Iterator[Statement]:
    """On pages from right to left: where something is placed does not follow the direction."""
    place = f"{naming.any_page}:dir(rtl) {naming.kind('place')}"
    yield CssRule(place, {"direction": "ltr"})
    yield CssRule(f"{place} > :not([dir])", {"direction": "rtl"})


def _base(naming: Naming, *, attached: bool) -> Iterator[Statement]:
    """What our own elements are, whatever the plan says.

    Args:
        naming: How everything is named.
        attached: Whether pages are those of a site, which stay as they are.
    """
    root, kind = naming.any_page, naming.kind
    whole = {"margin": "0", "-webkit-text-size-adjust": "none"}
    yield CssRule(f"{root}:has({kind('ground')})" if attached else root, {"position": "relative"})
    yield CssRule(root, {} if attached else whole)
    yield CssRule(
        f"{root} :is({kind('part')}, {kind('text')})" if attached else root,
        {"text-rendering": "geometricPrecision"},
    )
    yield CssRule(
        f"{root} {naming.ours}", {"box-sizing": "border-box", "margin": "0", "padding": "0"}
    )
    yield CssRule(
        f"{root} {kind('side')}",
        {
            "position": "absolute",
            "inset": "0",
            "display": "flex",
            "align-items": "center",
            "pointer-events": "none",
        },
    )
    yield CssRule(f"{root} {kind('side-center')}", {"justify-content": "center"})
    yield CssRule(f"{root} {kind('side-end')}", {"justify-content": "flex-end"})
    stacked = {"position": "absolute", "inset": "0"}
    yield CssRule(f"{root} {kind('fills')}", stacked | {"isolation": "isolate"})
    mixed = {"opacity": "0", "mix-blend-mode": "plus-lighter"}
    yield CssRule(f"{root} {kind('fill')}", stacked | mixed)
    part = f"{root} {kind('part')}"
    yield CssRule(
        part,
        {
            "display": "flex",
            "flex": "none",
            "isolation": "isolate",
            "line-height": "1.4",
            "white-space": "nowrap",
            "pointer-events": "auto",
        },
    )
    bare = {
        "padding": "0",
        "border": "0",
        "background": "none",
        "font": "inherit",
        "color": "inherit",
        "text-decoration": "none",
        "list-style": "none",
    }
    yield CssRule(f"{root} :is({kind('link')}, {kind('list')})", bare)
    yield CssRule(f"{root} {kind('list')}", {"display": "flex", "gap": "inherit"})
    # An icon's button is as large as its picture; its pictures lie over each other.
    yield CssRule(f"{part} {kind('link')}", {"display": "flex", "cursor": "pointer"})
    yield CssRule(f"{part} > {kind('link')}:only-child", {"flex": "1"})
    yield CssRule(f"{part} img", {"flex": "none", "width": "100%", "height": "auto"} | mixed)
    yield CssRule(f"{part} img + img", {"margin-inline-start": "-100%"})
    # Two rings, one light and one dark: one of them is seen on anything.
    focused = f"{root} {kind('link')}:focus-visible"
    ring = {"outline": "2px solid #fff", "outline-offset": "6px", "border-radius": "2px"}
    yield CssRule(focused, {"position": "relative"} | ring)
    dark = {"position": "absolute", "inset": "-6px", "border": "2px solid #000"}
    yield CssRule(f"{focused}::after", {"content": '""'} | dark | {"border-radius": "6px"})
    yield CssRule(f"{root} {kind('main')}", {"position": "relative"})
    yield CssRule(f"{root} {kind('section')}", {"position": "relative", "overflow": "clip"})
    # What moves along the scroll must not be what a browser keeps in its place.
    yield CssRule(f"{root} {kind('layer')}", stacked | {"overflow-anchor": "none"})
    yield CssRule(f"{root} :is({kind('clip')}, {kind('border')})", stacked | {"overflow": "clip"})
    yield CssRule(f"{root} {kind('border')}", {"pointer-events": "none"})
    yield CssRule(
        f"{root} {kind('ground')}",
        {
            "position": "absolute",
            "left": "0",
            "right": "0",
            "top": "0",
            "overflow": "clip",
            "overflow-anchor": "none",
            "z-index": "-1000001",
        },
    )
    # A place is as large as its section: what lies below it can still be pressed.
    yield CssRule(
        f"{root} {kind('place')}", stacked | {"display": "grid", "pointer-events": "none"}
    )
    yield CssRule(f"{root} {kind('place')} > *", {"grid-area": "2 / 2", "pointer-events": "auto"})
    yield CssRule(f"{root} {kind('text')}", {"font-size": "inherit", "white-space": "pre-line"})
