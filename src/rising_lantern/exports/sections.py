"""Sections as CSS: what they are filled with, how that moves, and what stands over it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from rising_lantern.css.colors import Color
from rising_lantern.css.lengths import Length, px
from rising_lantern.css.numbers import number
from rising_lantern.exports.headers import WHOLE
from rising_lantern.exports.motion import (
    MotionWriter,
    Moving,
    is_driven,
    is_free,
    is_placed_by_script,
)
from rising_lantern.exports.names import Naming, of_site
from rising_lantern.exports.rules import Images, Rule, Statement, family
from rising_lantern.exports.sources import ContentSource, LayerSource, PageSource, SectionSource
from rising_lantern.exports.values import Palette, extent
from rising_lantern.layout.sections import leaning

_NO_LESS_MOTION = "@media (prefers-reduced-motion: no-preference)"
_LESS_MOTION = "@media (prefers-reduced-motion: reduce)"
_PRINT = "@media print"


def is_clipped(section: SectionSource, layer: LayerSource) -> bool:
    """Whether a layer needs a box around it that cuts it off at the section's border."""
    return layer.box.moves and layer.box.clip.left > 0 and section.box.border > 0


@dataclass
class SectionWriter:
    """Writes the rules of the sections of one page at one viewport.

    Attributes:
        page: The page.
        root: The selector of the page's own element.
        naming: How everything is named.
        palette: How colours are written.
        motion: How motion is written.
        images: Gives a picture as a CSS image.
        stills: Whether what moves stands still for readers who ask for less motion.
        driven: What has been found to move at a speed, by its key frames.
    """

    page: PageSource
    root: str
    naming: Naming
    palette: Palette
    motion: MotionWriter
    images: Images
    stills: bool
    driven: dict[str, list[str]] = field(default_factory=dict)

    def section(self, section: SectionSource) -> str:
        """The selector of a section, or of what the page has behind all of them."""
        if section is self.page.ground:
            return f"{self.root} {self.naming.kind('ground')}"
        own = f'[data-section="{section.box.name}"]'
        return f"{self.root} {of_site(section.entry.selector, own)}"

    def layer(self, section: SectionSource, index: int) -> str:
        """The selector of a layer."""
        layer = section.layers[index]
        if layer.entry.selector:
            return f"{self.root} {of_site(layer.entry.selector, '')}"
        clip = f" > {self.naming.kind('clip')}" if is_clipped(section, layer) else ""
        return f'{self.section(section)}{clip} > [data-layer="{index}"]'

    def place(self, section: SectionSource, index: int) -> str:
        """The selector of the place of a text."""
        return f'{self.section(section)} > [data-content="{index}"]'

    def text(self, section: SectionSource, index: int) -> str:
        """The selector of a text itself."""
        return f"{self.place(section, index)} > {self.naming.kind('text')}"

    def numbers(self) -> Iterator[Statement]:
        """The heights of the page's sections, as custom properties."""
        heights = {
            self.naming.variable("section", section.box.name): extent(section.entry.height)
            for section in self.page.sections
        }
        yield Rule(self.root, heights)

    def statements(self, section: SectionSource) -> Iterator[Statement]:
        """The rules of one section, its layers and its texts."""
        here = self.section(section)
        yield Rule(here, self._declared(section))
        for index, layer in enumerate(section.layers):
            yield from self._layer(section, index, layer)
        if section.entry.border and section.box.border:
            border = {"border": self.palette.border(section.entry.border)}
            yield Rule(f"{here} > {self.naming.kind('border')}", border)
        for index, content in enumerate(section.content):
            yield from self._content(section, index, content)

    def _declared(self, section: SectionSource) -> dict[str, str]:
        entry = section.entry
        moving: tuple[Moving, ...] = (*section.layers, *section.content)
        declarations: dict[str, str] = {}
        height = self.naming.variable("height")
        if section is self.page.ground:
            declarations[height] = self.motion.flow.height(section)
            declarations["height"] = f"var({height})"
            declarations["background-color"] = self.palette.color(self.page.box.background)
        elif any(source.box.moves for source in moving):
            declarations[height] = self.motion.flow.height(section)
            declarations["height"] = f"var({height})"
        else:
            declarations["height"] = self.motion.flow.height(section)
        if section is not self.page.ground:
            if entry.width != WHOLE:
                declarations |= {"width": entry.width.css(), "margin": "0 auto"}
            if entry.z:
                declarations["z-index"] = str(entry.z)
        if entry.background:
            declarations["background-color"] = self.palette.color(entry.background)
        if any(source.box.moves for source in moving):
            # The whole screen counts, whatever scroll padding there is.
            declarations["view-timeline"] = self.motion.timeline
            declarations["view-timeline-inset"] = "0px"
        return declarations

    # --- layers --------------------------------------------------------------------------------

    def _layer(self, section: SectionSource, index: int, layer: LayerSource) -> Iterator[Statement]:
        entry, here = layer.entry, self.layer(section, index)
        declarations = self.motion.numbers(section, layer) | self.motion.area(section, layer)
        declarations |= self._fill(section, layer)
        border = section.entry.border if section.box.border else None
        if border and not layer.box.moves:
            # Its own border makes room for the section's, as origin and clip count it.
            declarations |= {
                "border": f"{border.width.css()} solid transparent",
                "background-origin": entry.origin,
                "background-clip": entry.clip,
            }
        if entry.filter:
            declarations["filter"] = " ".join(item.css() for item in entry.filter)
        if entry.opacity < 1:
            declarations["opacity"] = number(entry.opacity)
        if entry.blend != "normal":
            declarations["mix-blend-mode"] = entry.blend
        if border and is_clipped(section, layer):
            clip = f"{self.naming.kind('clip')}:has(> [data-layer='{index}'])"
            yield Rule(f"{self.section(section)} > {clip}", {"inset": border.width.css()})
        yield Rule(here, declarations)
        if is_driven(layer) and not layer.box.motion.path:
            # What has a path as well is animated by both at once, which the script writes.
            self.driven.setdefault(self.motion.frames_of(layer), []).append(here)
        yield from self._stillness(layer, here)

    def _fill(self, section: SectionSource, layer: LayerSource) -> dict[str, str]:
        """What a layer is filled with, and where that stands in it."""
        entry = layer.entry
        if isinstance(entry.fill, Color):
            return {"background-color": self.palette.color(entry.fill)}
        declarations = {}
        if not entry.picture:
            name, viewport = layer.box.name or "", self.page.box.viewport
            image = self.palette.fill(entry.fill) if entry.fill else self.images(name, viewport)
            if layer.box.name and self._is_composited(section):
                # WebKit 2.50 stretches a picture that is alone in a box with a surface of its own.
                image += ", linear-gradient(transparent, transparent)"
            declarations["background-image"] = image
        if not entry.fill or entry.size.fit is None:
            fit = "100% 100%" if entry.fill and entry.size.fit else entry.size.css()
            declarations["background-size"] = fit
            declarations["background-position"] = entry.position.css()
            repeat = list(dict.fromkeys(entry.repeat))
            declarations["background-repeat"] = " ".join(repeat)
        if entry.rate == 0 and not layer.box.moves:
            declarations["background-attachment"] = "fixed"
        return declarations

    def _is_composited(self, section: SectionSource) -> bool:
        """Whether something moves in a section or behind it, so that browsers split it up."""
        behind = self.page.ground.layers if self.page.ground else ()
        return any(layer.box.moves or layer.box.motion.path for layer in (*section.layers, *behind))

    def _stillness(self, layer: LayerSource, here: str) -> Iterator[Statement]:
        """What moves, made to stand still: for less motion (Media Queries 5, 12.1), and on paper.

        Source: https://www.w3.org/TR/mediaqueries-5/#prefers-reduced-motion
        """
        still: dict[str, str] = {}
        if layer.box.moves or layer.box.motion.path:
            still = {"animation": "none"} | self._placed(layer)
        if still and self.stills:
            yield Rule(here, still, (_LESS_MOTION,))
        if layer.entry.rate == 0 and not layer.box.moves and layer.box.name:
            still = {"background-attachment": "scroll"}
        if still:
            yield Rule(here, still, (_PRINT,))

    def _placed(self, layer: LayerSource) -> dict[str, str]:
        """A layer's box and picture as they are where it moves with its section."""
        if not layer.box.moves:
            return {}
        entry = layer.entry
        placed = {"inset": "0", "width": "auto", "height": "auto"}
        if is_placed_by_script(layer) and is_free(layer) and not isinstance(entry.fill, Color):
            fit = "100% 100%" if entry.fill and entry.size.fit else entry.size.css()
            placed |= {"background-size": fit, "background-position": entry.position.css()}
        return placed

    # --- texts ---------------------------------------------------------------------------------

    def _content(
        self, section: SectionSource, index: int, content: ContentSource
    ) -> Iterator[Statement]:
        entry = content.entry
        place = self.place(section, index)
        padding = entry.panel.padding.css() if entry.panel else None
        # Tracks measure em in the font size of the place, which is that of the text.
        widest = entry.width.css()
        room = f"fit-content({f'calc({widest} + 2 * {padding})' if padding else widest})"
        columns, left = _tracks(entry.at.x, room, content.box.box.left)
        rows, top = _tracks(entry.at.y, "auto", content.box.box.top)
        placed = self.motion.numbers(section, content) | {
            "font-size": entry.size.css(),
            "grid-template-columns": columns,
            "grid-template-rows": rows,
        }
        if entry.z:
            placed["z-index"] = str(entry.z)
        if entry.blend != "normal":
            placed["mix-blend-mode"] = entry.blend
        yield Rule(place, placed)
        if is_driven(content):
            self.driven.setdefault(self.motion.frames_of(content), []).append(place)
            if self.stills:
                yield Rule(place, {"animation": "none"}, (_LESS_MOTION,))
            yield Rule(place, {"animation": "none"}, (_PRINT,))
        text = self.text(section, index)
        yield Rule(text, self._text(content, (left, top)))
        yield from self._entering(place, text, content)

    def _text(self, content: ContentSource, offset: tuple[str, str]) -> dict[str, str]:
        entry = content.entry
        declarations = {
            "font-family": family(entry.font, self.naming.prefix),
            "font-weight": str(entry.weight),
            "line-height": number(entry.leading),
            "color": self.palette.color(entry.color),
            "text-align": entry.align or leaning(entry.at.x),
        }
        if offset != ("0px", "0px"):
            declarations |= {"position": "relative", "left": offset[0], "top": offset[1]}
        if entry.shadow:
            # A text's shadow has no spread.
            declarations["text-shadow"] = self.palette.shadows(entry.shadow, spread=False)
        if entry.panel:
            declarations["background-color"] = self.palette.color(entry.panel.color)
            declarations["padding"] = entry.panel.padding.css()
            if entry.panel.radius.css() != "0px":
                declarations["border-radius"] = entry.panel.radius.css()
        return declarations

    def _entering(self, place: str, text: str, content: ContentSource) -> Iterator[Statement]:
        """How a text arrives: the script marks it while it waits below the screen."""
        enter = content.entry.enter
        if not enter:
            return
        course = f"{number(enter.time)}ms {enter.easing.css()}"
        moving = {"transition": f"translate {course}, opacity {course}"}
        yield Rule(text, moving, (_NO_LESS_MOTION,))
        waiting = {
            "translate": f"{enter.x.css('vw')} {enter.y.css('vh')}",
            "opacity": number(enter.opacity),
            "transition": "none",
        }
        waits = f"{place}[data-waiting] > {self.naming.kind('text')}"
        yield Rule(waits, waiting, (_NO_LESS_MOTION,))


def _tracks(place: Length, middle: str, used: float) -> tuple[str, str]:
    """Grid tracks and an offset that place a box as ``background-position`` would.

    The tracks share out the room that the box leaves: none where it does not fit, so that it
    starts at the edge.

    Args:
        place: Where it stands along an axis.
        middle: The track of the box itself.
        used: Where that is on the planned screen, in px, for other kinds of positions.
    """
    split = place.split_percentage()
    if split is None or not 0 <= split[0] <= 100:  # noqa: PLR2004 - a share of the room
        split = 0.0, px(used)
    share, offset = split
    return f"{number(share)}fr {middle} {number(100 - share)}fr", offset.css()
