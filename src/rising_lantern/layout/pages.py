"""A page at a viewport: its sections, their layers and content, and how far it scrolls."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.css.backgrounds import Box, Tiles, tiles
from rising_lantern.css.colors import Color
from rising_lantern.css.lengths import Length, Term
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.errors import Fault, PlanError
from rising_lantern.layout.fonts import FontBook
from rising_lantern.layout.headers import HeaderBox, lay_out_header
from rising_lantern.layout.motion import Motion, motion_of
from rising_lantern.layout.screen import Screen, font_px, whole_px
from rising_lantern.layout.text import Align, Style, TextBlock, set_text
from rising_lantern.plan.content import Content
from rising_lantern.plan.files import Picture
from rising_lantern.plan.layers import Layer
from rising_lantern.plan.messages import place_of
from rising_lantern.plan.pages import Section
from rising_lantern.plan.reading import PlanFile

MOST_PAGE_PX = 1_000_000


@dataclass(frozen=True, slots=True)
class LayerBox:
    """A layer of a section.

    Attributes:
        entry: What the plan says of it.
        motion: Its positioning area, and where that stands on the screen along the scroll.
        size: Width and height of the picture, in CSS px.
        across: Copies of the picture along x, from the area's left edge.
        down: Copies along y, from the area's upper edge.
    """

    entry: Layer
    motion: Motion
    size: tuple[float, float]
    across: Tiles
    down: Tiles


@dataclass(frozen=True, slots=True)
class ContentBox:
    """A content entry in its section.

    Attributes:
        entry: What the plan says of it.
        box: Its border box with the panel, from the section's upper left corner.
        text: Its lines, from the same corner.
        radius: How round the panel's corners are, in CSS px.
        shadows: The text's shadows, the topmost first.
    """

    entry: Content
    box: Box
    text: TextBlock
    radius: float
    shadows: tuple[UsedShadow, ...]


@dataclass(frozen=True, slots=True)
class SectionBox:
    """A section of a page.

    Attributes:
        name: Its name in the plan.
        entry: What the plan says of it.
        top: From the first section's upper edge, in CSS px.
        height: In CSS px.
        layers: Its layers, topmost first.
        content: What stands over them.
    """

    name: str
    entry: Section
    top: float
    height: float
    layers: tuple[LayerBox, ...]
    content: tuple[ContentBox, ...]

    @property
    def bottom(self) -> float:
        """Its lower edge, from the first section's upper edge."""
        return self.top + self.height


@dataclass(frozen=True, slots=True)
class PageBox:
    """A page laid out on a screen.

    Attributes:
        page: Its name in the plan.
        viewport: The viewport's name.
        screen: The screen.
        background: The page's own colour, behind all sections.
        sections: From top to bottom.
        header: The header that it gets, or None.
    """

    page: str
    viewport: str
    screen: Screen
    background: Color
    sections: tuple[SectionBox, ...]
    header: HeaderBox | None

    @property
    def sections_height(self) -> float:
        """The height of all sections, in CSS px."""
        return self.sections[-1].bottom

    def scroll_range(self, header_height: float) -> int:
        """The largest scroll position in CSS px while the header has some height.

        Documents are whole px high, rounded half up.
        """
        flow = self.header.flow_height(header_height) if self.header else 0.0
        return max(0, whole_px(flow + self.sections_height) - self.screen.height)

    def section(self, name: str) -> SectionBox | None:
        """A section by its name, or None."""
        return next((section for section in self.sections if section.name == name), None)


def lay_out_page(plan: PlanFile, page: str, viewport: str) -> PageBox:
    """Lay out a page of a plan.

    Raises:
        PlanError: Where the page would be higher than 1,000,000 px.
    """
    document = plan.documents[viewport]
    entry = document.pages[page]
    size = plan.viewport(viewport)
    heights = _heights(plan, page, viewport, Screen.of(size, scrolls=True))
    fonts = FontBook(
        {
            name: {weight: plan.files.fonts[file] for weight, file in weights.items()}
            for name, weights in document.fonts.items()
        }
    )
    header_name = document.header_on(page, viewport)
    header = document.headers[header_name] if header_name else None

    def on(screen: Screen) -> PageBox:
        made = (
            lay_out_header(header_name, header, screen, fonts, plan.files.pictures)
            if header_name and header
            else None
        )
        sections: list[SectionBox] = []
        top = 0.0
        for (name, section), height in zip(entry.sections.items(), heights, strict=True):
            sections.append(
                _section(name, section, top, height, screen, fonts, plan.files.pictures)
            )
            top += height
        return PageBox(page, viewport, screen, entry.background.color, tuple(sections), made)

    still = on(Screen.of(size, scrolls=False))
    rest = still.header.styles[0].height if still.header else 0.0
    if size.scrollbar and still.scroll_range(rest):
        return on(Screen.of(size, scrolls=True))
    return still


def _heights(plan: PlanFile, page: str, viewport: str, screen: Screen) -> list[float]:
    sections = plan.documents[viewport].pages[page].sections
    basis = screen.basis(whole=screen.height)
    heights = [max(section.height.px(basis), 0.0) for section in sections.values()]
    if sum(heights) > MOST_PAGE_PX:
        tallest = list(sections)[heights.index(max(heights))]
        place = place_of(plan.root, ("pages", page, "sections", tallest, "height"), plan.name)
        problem = f"the page '{page}' is {sum(heights):,.0f} px high on '{viewport}'"
        raise PlanError([Fault(place, problem, f"{MOST_PAGE_PX:,} px are the most")])
    return heights


def _section(
    name: str,
    entry: Section,
    top: float,
    height: float,
    screen: Screen,
    fonts: FontBook,
    pictures: dict[str, Picture],
) -> SectionBox:
    entries = entry.layers
    if entry.picture:
        # A screenshot lies below all layers, as wide as the section, from its upper edge on.
        screenshot = {"image": entry.picture, "size": "100% auto", "position": "0 0"}
        entries = (*entries, Layer.model_validate(screenshot))
    layers = tuple(_layer(layer, height, screen, pictures) for layer in entries)
    content = tuple(_content(item, height, screen, fonts) for item in entry.content)
    return SectionBox(name, entry, top, height, layers, content)


def _layer(entry: Layer, height: float, screen: Screen, pictures: dict[str, Picture]) -> LayerBox:
    """A layer's motion, and its picture within its positioning area."""
    section = (float(screen.client_width), height)
    motion = motion_of(entry.rate, entry.drift, section, screen.height)
    extent = (motion.width, motion.height)
    if entry.picture:
        picture = pictures[entry.picture]
        size = entry.size.used(extent, (picture.width, picture.height), screen.basis())
    elif entry.size.fit:
        # CSS Images 3, 4.4: a gradient has no size of its own and fills its area.
        size = extent
    else:
        size = entry.size.used(extent, extent, screen.basis())
    left, top = entry.position.used(extent, size, screen.basis())
    across = tiles(entry.repeat[0], extent[0], size[0], left)
    down = tiles(entry.repeat[1], extent[1], size[1], top)
    return LayerBox(entry, motion, (across.extent, down.extent), across, down)


def _content(entry: Content, height: float, screen: Screen, fonts: FontBook) -> ContentBox:
    width = float(screen.client_width)
    size = font_px(entry.size, screen)
    basis = screen.basis(font_size=size)
    padding = entry.panel.padding.px(basis) if entry.panel else 0.0
    radius = entry.panel.radius.px(basis) if entry.panel else 0.0
    room = max(entry.width.px(screen.basis(whole=width, font_size=size)), 0.0)
    style = Style(
        fonts.face(entry.font, entry.weight),
        size,
        entry.leading,
        entry.align or leaning(entry.at.x),
    )
    block = set_text(entry.text, style, room)
    outer = (block.box.width + 2 * padding, block.box.height + 2 * padding)
    left, top = entry.at.used((width, height), outer, basis)
    text = block.moved(left + padding, top + padding)
    shadows = tuple(shadow.used(basis) for shadow in entry.shadow)
    return ContentBox(entry, Box(left, top, *outer), text, radius, shadows)


def leaning(x: Length) -> Align:
    """How the lines of a text are aligned that is placed somewhere across its section."""
    if not (isinstance(x.expression, Term) and x.expression.unit == "%"):
        return "start"
    share = x.expression.value
    if 40 <= share <= 60:  # noqa: PLR2004
        return "center"
    return "start" if share < 50 else "end"  # noqa: PLR2004
