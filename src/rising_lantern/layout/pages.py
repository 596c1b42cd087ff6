"""A page at a viewport: what it has behind its sections, the sections, and how far it scrolls."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.css.lengths import Length, px
from rising_lantern.errors import Fault, PlanError
from rising_lantern.layout.content import Materials, flowing_height
from rising_lantern.layout.flow import Flow
from rising_lantern.layout.fonts import ENGLISH, FontBook, Script
from rising_lantern.layout.header_looks import Surroundings, lay_out_header
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.motion import Reach
from rising_lantern.layout.pause import PauseBox, lay_out_pause
from rising_lantern.layout.screen import Screen, centered, laid_out
from rising_lantern.layout.sections import (
    Instant,
    LayerBox,
    LayoutSetting,
    SectionBox,
    lay_out_section,
)
from rising_lantern.plan.models.base import Tone
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.models.pages import Page, Section
from rising_lantern.plan.text.reading import PlanFile

MOST_PAGE_PX = 1_000_000
GROUND = "(page)"
"""The name, in tables and findings, of what a page has behind its sections."""


def is_pinned(section: str, layer: Layer) -> bool:
    """Whether a fixed layer stands, exported, in a box that stays with the screen.

    Browsers keep such a box as they have painted it, on touch screens as well. What is behind the
    sections has one, unless it is an element of the site; in a section its picture is attached.

    Args:
        section: The name of the section.
        layer: The layer, in the plan.
    """
    return section == GROUND and layer.selector is None


def file_name(page: str, viewport: str) -> str:
    """What files about a page at a viewport are called: names have no dot, so no two are alike."""
    return f"{page}.{viewport}"


def path_in_page(page: str, section: str, *keys: str | int) -> tuple[str | int, ...]:
    """The keys that lead, in the plan, to something in a section or in a page's ground."""
    where = ("background",) if section == GROUND else ("sections", section)
    return ("pages", page, *where, *keys)


@dataclass(frozen=True, slots=True)
class PageBox:
    """A page laid out on a screen.

    Attributes:
        page: Its name in the plan.
        viewport: The viewport's name.
        background: The page's own colour, behind all else.
        ground: The page's own layers, behind all sections, as a section of its own that is as
            large as the document and starts at its top; None where it has none.
        sections: From top to bottom.
        flow: How they and the header follow each other.
        script: Its language and direction.
        pause: The control that stops what runs; None where there is none.
    """

    page: str
    viewport: str
    background: Color
    ground: SectionBox | None
    sections: tuple[SectionBox, ...]
    flow: Flow
    script: Script = ENGLISH
    pause: PauseBox | None = None

    @property
    def file_name(self) -> str:
        """What files about it are called, before their ending: no other page and screen has it."""
        return file_name(self.page, self.viewport)

    @property
    def screen(self) -> Screen:
        """The screen."""
        return self.flow.screen

    @property
    def header(self) -> HeaderBox | None:
        """The header that it gets, or None."""
        return self.flow.header

    @property
    def all_sections(self) -> tuple[SectionBox, ...]:
        """Its sections, and last what it has behind them."""
        return (*self.sections, *((self.ground,) if self.ground else ()))

    def layers(self) -> Iterator[LayerBox]:
        """All layers, those behind the sections last."""
        for section in self.all_sections:
            yield from section.layers

    def unlike(self, other: PageBox) -> frozenset[str]:
        """The sections, and the ground, that show other pictures than another one of the page."""
        pairs = [*zip(self.sections, other.sections, strict=True)]
        pairs += [(self.ground, other.ground)] if self.ground and other.ground else []
        return frozenset(
            item.name
            for item, same in pairs
            if [layer.picture for layer in item.layers] != [layer.picture for layer in same.layers]
        )

    @property
    def tones(self) -> tuple[Tone | None, ...]:
        """The tone of each section, with the slides that show."""
        return tuple(section.tone for section in self.sections)

    def path_to(self, section: str, *keys: str | int) -> tuple[str | int, ...]:
        """The keys that lead, in the plan, to something in a section or in the page's ground."""
        return path_in_page(self.page, section, *keys)

    def section(self, name: str) -> SectionBox | None:
        """A section by its name, or None."""
        return next((section for section in self.sections if section.name == name), None)


def lay_out_page(
    plan: PlanFile,
    page: str,
    viewport: str,
    showing: int = 0,
    instant: Instant | None = None,
) -> PageBox:
    """Lay out a page of a plan.

    Args:
        plan: The plan.
        page: The page's name.
        viewport: The viewport's name.
        showing: Which of its pictures each layer with several shows, counted round.
        instant: The time at which slides that run are shown; None for none that run.

    Raises:
        PlanError: If the page would be higher than 1,000,000 px.
    """
    entry = plan.documents[viewport].pages[page]
    size = plan.viewport(viewport)
    fonts, script = fonts_of(plan, viewport), script_of(plan, page, viewport)

    def on(screen: Screen) -> Flow:
        boxes = _boxes(entry, Materials(screen, fonts, plan.files.pictures, script))
        _refuse_too_high(plan, page, viewport, boxes)
        return Flow(screen, boxes, _header(plan, (page, viewport), screen, fonts, boxes))

    def screen(*, scrolls: bool) -> Screen:
        scale, shown = plan.text_scale, plan.bars_shown
        return Screen.of(size, scrolls=scrolls, text_scale=scale, bars_shown=shown)

    flow = on(screen(scrolls=False))
    if size.scrollbar and flow.ends(0):
        flow = on(screen(scrolls=True))
    setting = LayoutSetting(
        flow, fonts, plan.files.pictures, entry.color, entry.link_color, showing, instant, script
    )
    sections = tuple(
        lay_out_section(name, section, flow.boxes[name], _reach(flow, flow.boxes[name]), setting)
        for name, section in entry.sections.items()
    )
    ground = _ground(entry, setting) if entry.background.layers else None
    control = plan.documents[viewport].pause
    pause = lay_out_pause(control, entry, sections, ground, setting.materials, flow)
    if pause is not None:
        sections = tuple(
            replace(section, items=(*section.items, *pause.items))
            if section.name == pause.section
            else section
            for section in sections
        )
    return PageBox(page, viewport, entry.background.color, ground, sections, flow, script, pause)


def fonts_of(plan: PlanFile, viewport: str) -> FontBook:
    """The fonts of a plan on one of its viewports."""
    return FontBook(
        {
            name: {weight: plan.files.fonts[file] for weight, file in weights.items()}
            for name, weights in plan.documents[viewport].fonts.items()
        }
    )


def script_of(plan: PlanFile, page: str, viewport: str) -> Script:
    """The language and direction of a page on one of its viewports."""
    document = plan.documents[viewport]
    entry = document.pages[page]
    return Script(entry.lang or document.lang, entry.dir or document.dir)


def header_on(plan: PlanFile, page: PageBox, screen: Screen) -> HeaderBox:
    """The header of a page as it would be on another screen, with the values of its viewport.

    Args:
        plan: The plan.
        page: The page; it has a header.
        screen: The screen.
    """
    fonts = fonts_of(plan, page.viewport)
    entry = plan.documents[page.viewport].pages[page.page]
    script = script_of(plan, page.page, page.viewport)
    boxes = _boxes(entry, Materials(screen, fonts, plan.files.pictures, script))
    result = _header(plan, (page.page, page.viewport), screen, fonts, boxes)
    assert result is not None  # noqa: S101 - as above
    return result


def _header(
    plan: PlanFile,
    where: tuple[str, str],
    screen: Screen,
    fonts: FontBook,
    boxes: dict[str, Rect],
) -> HeaderBox | None:
    """The header that a page gets at a viewport, laid out on a screen."""
    page, viewport = where
    document = plan.documents[viewport]
    name = document.header_on(page, viewport)
    if name is None:
        return None
    header = document.headers[name]
    # On a page without its section a header sticks within the page.
    home = None if header.container or header.inside not in boxes else header.inside
    box = boxes[home] if home else Rect(0.0, 0.0, float(screen.client_width), 0.0)
    script = script_of(plan, page, viewport)
    on = Surroundings(screen, fonts, plan.files.pictures, (box.left, box.width), home, script)
    return lay_out_header(name, header, on)


def _refuse_too_high(plan: PlanFile, page: str, viewport: str, boxes: dict[str, Rect]) -> None:
    """Refuse a page that is higher than browsers can show."""
    total = sum(box.height for box in boxes.values())
    if total > MOST_PAGE_PX:
        tallest = max(boxes, key=lambda name: boxes[name].height)
        place = plan.place_of(("pages", page, "sections", tallest, "height"))
        problem = f"the page '{page}' is {total:,.0f} px high on '{viewport}'"
        raise PlanError([Fault(place, problem, f"the limit is {MOST_PAGE_PX:,} px")])


def _boxes(page: Page, on: Materials) -> dict[str, Rect]:
    """The sections one below the other, each in the middle of the screen's width."""
    screen = on.screen
    whole, from_right = float(screen.client_width), on.script.direction == "rtl"
    boxes: dict[str, Rect] = {}
    top = above = 0.0
    for name, section in page.sections.items():
        width = max(section.width.px(screen.basis(whole=whole)), 0.0)
        height = _height(section, width, on)
        if section.overlap is not None:
            asked = section.overlap.px(screen.basis(whole=screen.large_height))
            top -= min(max(asked, 0.0), above, height)
        boxes[name] = Rect(centered(width, whole, from_right=from_right), top, width, height)
        top, above = top + height, height
    return boxes


def _height(section: Section, width: float, on: Materials) -> float:
    """The height of a section: its own, or that of what flows in it."""
    if isinstance(section.height, Length):
        return laid_out(section.height.px(on.screen.basis(whole=on.screen.large_height)))
    return laid_out(flowing_height(section, width, on))


def _reach(flow: Flow, box: Rect) -> Reach:
    looks = range(len(flow.header.looks)) if flow.header else (0,)
    return Reach(*flow.reachable(box), tuple(box.top + flow.room(look) for look in looks))


def _ground(page: Page, on: LayoutSetting) -> SectionBox:
    """The page's own layers: they lie under all of the document, and the whole screen."""
    flow = on.flow
    height = float(flow.screen.height + flow.ends(0))
    entry = Section(height=px(height), layers=page.background.layers)
    box = Rect(0.0, 0.0, float(flow.screen.client_width), height)
    return lay_out_section(GROUND, entry, box, Reach(0.0, float(flow.ends(0))), on)
