"""Sections as CSS: what they are filled with, how that moves, and what stands over it."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from rising_lantern.css.colors import Color
from rising_lantern.css.lengths import Length, px
from rising_lantern.css.numbers import number
from rising_lantern.exports.content import ContentWriter
from rising_lantern.exports.headers import WHOLE, covered_by, stays_at_last
from rising_lantern.exports.motion import (
    MotionWriter,
    Moving,
    is_driven,
    is_free,
    is_placed_by_script,
)
from rising_lantern.exports.names import Naming, of_site
from rising_lantern.exports.pausing import pause_rules
from rising_lantern.exports.rules import CssRule, Images, KeyFrames, Statement
from rising_lantern.exports.slides import SlideRun
from rising_lantern.exports.sources import LayerSource, PageSource, SectionSource
from rising_lantern.exports.stillness import Stillness
from rising_lantern.exports.timelines import sections_watched, timeline_of
from rising_lantern.exports.values import Palette, extent, placed
from rising_lantern.exports.videos import placed_video
from rising_lantern.layout.pages import is_pinned
from rising_lantern.scroll.switches import look_at_target


def is_clipped(section: SectionSource, layer: LayerSource) -> bool:
    """Whether a layer needs a box around it that cuts it off at the section's border."""
    return layer.box.moves and layer.box.clip.left > 0 and section.box.border > 0


def _is_attached(layer: LayerSource) -> bool:
    """Whether a layer's picture or gradient stays with the screen, in a box that does not move."""
    return layer.entry.rate == 0 and not layer.box.moves


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
        still: What has been found to stand still on paper or for some readers.
        driven: What has been found to move at a speed, by its key frames.
        timed: The sections in which something moves.
    """

    page: PageSource
    root: str
    naming: Naming
    palette: Palette
    motion: MotionWriter
    images: Images
    still: Stillness
    driven: dict[str, list[str]] = field(default_factory=dict)
    timed: list[str] = field(default_factory=list)

    def section(self, section: SectionSource) -> str:
        """The selector of a section, or of what the page has behind all of them."""
        if section is self.page.ground:
            return f"{self.root} {self.naming.kind('ground')}"
        own = self.naming.section(section.box.name)
        return f"{self.root} {of_site(section.entry.selector, own)}"

    def layer(self, section: SectionSource, index: int) -> str:
        """The selector of a layer."""
        layer = section.layers[index]
        if layer.entry.selector:
            return f"{self.root} {of_site(layer.entry.selector, '')}"
        clip = f" > {self.naming.kind('clip')}" if is_clipped(section, layer) else ""
        return f"{self.section(section)}{clip} > {self.naming.one('layer', index)}"

    def slides(self, section: SectionSource, index: int) -> str:
        """The selector of the slides of a layer that run."""
        return f"{self.layer(section, index)} > {self.naming.kind('slide')}"

    @property
    def contents(self) -> ContentWriter:
        """What writes the content of the sections."""
        return ContentWriter(
            self.section, self.naming, self.palette, self.motion, self.still, self.driven
        )

    def numbers(self) -> Iterator[Statement]:
        """The heights of the page's sections and the sizes of their texts, as custom properties."""
        numbers: dict[str, str] = {}
        for section in self.page.sections:
            numbers[self.naming.variable("section", section.box.name)] = self._height(section)
            numbers |= self.contents.numbers(section)
        yield CssRule(self.root, numbers)

    @staticmethod
    def _height(section: SectionSource) -> str:
        """A section's height; where it follows from its content, that on the planned screen."""
        height = section.entry.height
        return extent(height) if isinstance(height, Length) else extent(px(section.box.height))

    def statements(self, section: SectionSource) -> Iterator[Statement]:
        """The rules of one section, its layers and its texts."""
        here = self.section(section)
        yield CssRule(here, self._section_declarations(section))
        yield from self._target(section, here)
        yield from self._holding_header(section, here)
        for index, layer in enumerate(section.layers):
            yield from self._layer(section, index, layer)
        if section.entry.border and section.box.border:
            border = {"border": self.palette.border(section.entry.border)}
            yield CssRule(f"{here} > {self.naming.kind('border')}", border)
        yield from self.contents.statements(section)
        yield from self._pause(section, here)

    def _section_declarations(self, section: SectionSource) -> dict[str, str]:
        entry = section.entry
        moving: tuple[Moving, ...] = (*section.layers, *section.content)
        declarations: dict[str, str] = {}
        height, used = self.naming.variable("extent"), self.motion.flow.height(section)
        if section is self.page.ground or any(source.box.moves for source in moving):
            declarations[height] = used
            used = f"var({height})"
        if entry.is_auto:
            if entry.min_height:
                declarations["min-height"] = extent(entry.min_height)
        elif entry.selector:
            # The element has a height of its own, that of its content: it is to be no lower.
            declarations["min-height"] = self._height(section)
        else:
            declarations["height"] = used
        if section is self.page.ground:
            declarations["background-color"] = self.palette.color(self.page.box.background)
        else:
            declarations |= self._standing(section)
        if entry.background:
            declarations["background-color"] = self.palette.color(entry.background)
        moves = any(source.box.moves for source in moving)
        if moves:
            self.timed.append(self.section(section))
        name = section.box.name
        if name in sections_watched(self.page.header):
            own = [self.motion.timeline] if moves else []
            timelines = [*own, timeline_of(name, self.naming)]
            declarations |= {"view-timeline": ", ".join(timelines), "view-timeline-inset": "0"}
        return declarations

    def _standing(self, section: SectionSource) -> dict[str, str]:
        """Where a section stands among the others."""
        entry, declarations = section.entry, dict[str, str]()
        if entry.width != WHOLE:
            declarations |= {"width": entry.width.css(), "margin": "0 auto"}
        overlap = self.motion.flow.overlap(section)
        if overlap:
            declarations["margin-top"] = f"calc(0px - {overlap})"
        if entry.z:
            declarations["z-index"] = str(entry.z)
        return declarations

    def _target(self, section: SectionSource, here: str) -> Iterator[Statement]:
        """The room for the header above a section that a link leads to, and above what is in it.

        The page's ``scroll-padding-top`` has that of the header's last look; both add up.

        Source: https://www.w3.org/TR/css-scroll-snap-1/#scroll-margin
        """
        header, switches = self.page.header, self.page.switches
        if header is None or switches is None or section is self.page.ground:
            return
        look = look_at_target(self.page.box, switches, section.box)
        if look is None:
            return
        covered = covered_by(header, look.name)
        if stays_at_last(header):
            padded = covered_by(header, header.box.look_names[-1])
            if padded == covered:
                return
            covered = f"calc({covered.removeprefix('calc')} - {padded.removeprefix('calc')})"
        yield CssRule(f"{here}, {here} [id]", {"scroll-margin-top": covered})

    def _holding_header(self, section: SectionSource, here: str) -> Iterator[Statement]:
        """A header in a section whose content flows lies over it, and takes none of its room."""
        header = self.page.header
        if header and header.box.home == section.box.name and section.entry.flows:
            yield CssRule(here, {"display": "grid", "grid-template-columns": "100%"})
            held = f"{here} > :is({self.naming.kind('header')}, {self.naming.kind('flow')})"
            yield CssRule(held, {"grid-area": "1 / 1"})
            yield CssRule(f"{here} > {self.naming.kind('header')}", {"align-self": "start"})

    @property
    def pause(self) -> str:
        """The selector of the control that stops what runs."""
        return f"{self.root} {self.naming.kind('pause')}"

    def _pause(self, section: SectionSource, here: str) -> Iterator[Statement]:
        """The control that stops what runs, in the section that has it."""
        pause, entry = self.page.box.pause, self.page.pause
        if pause and entry and section.box.name == pause.section:
            place = f"{here} > {self.naming.one('content', 'pause')}"
            yield from pause_rules(place, pause, entry, self.naming, self.palette)

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
            clip = f"{self.naming.kind('clip')}:has(> {self.naming.one('layer', index)})"
            yield CssRule(f"{self.section(section)} > {clip}", {"inset": border.width.css()})
        yield CssRule(here, declarations)
        yield from self._running(section, layer)
        if entry.video:
            video = f"{here} > {self.naming.kind('video')}"
            declared = placed_video(entry.size, entry.position, layer.box.natural or (0, 0))
            if border and not layer.box.moves and entry.size.fit and entry.origin == "border-box":
                # It stands in the layer's padding box, within the border that makes room.
                width = border.width.css()
                side = f"calc(100% + 2 * {width})"
                wider = {"inset": f"calc(0px - {width})", "width": side, "height": side}
                declared = {**declared, **wider}
            yield CssRule(video, declared)
        if is_driven(layer) and not layer.box.motion.path:
            # What has a path as well is animated by both at once, which the script writes.
            self.driven.setdefault(self.motion.frames_of(layer), []).append(here)
        self._stop(section, layer, here)

    def _fill(self, section: SectionSource, layer: LayerSource) -> dict[str, str]:
        """What a layer is filled with, and where that stands in it."""
        entry = layer.entry
        if isinstance(entry.fill, Color):
            return {"background-color": self.palette.color(entry.fill)}
        declarations = {}
        if entry.video:
            return {}
        if not entry.picture:
            name, viewport = layer.box.name or "", self.page.box.viewport
            image = self.palette.fill(entry.fill) if entry.fill else self.images(name, viewport)
            if layer.box.name and self._is_composited(section):
                # WebKit 2.50 stretches a picture that is alone in a box with a surface of its own.
                image += f", {self.naming.use('clear')}"
            if entry.every is None:
                declarations["background-image"] = image
        if not entry.fill or entry.size.fit is None:
            declarations |= placed(entry)
            repeat = list(dict.fromkeys(entry.repeat))
            declarations["background-repeat"] = " ".join(repeat)
        if _is_attached(layer):
            # What stays with the screen as a box is not painted again for each scroll.
            pinned = is_pinned(section.box.name, entry)
            declarations |= {"position": "fixed"} if pinned else {"background-attachment": "fixed"}
        return declarations

    def _running(self, section: SectionSource, layer: LayerSource) -> Iterator[Statement]:
        """Slides that run: one above the other, their shares of the layer adding up to one."""
        entry = layer.entry
        if entry.every is None:
            return
        slides = self.slides(section, section.layers.index(layer))
        run = SlideRun.of(entry, self.naming, blended=self._is_under_blend(section, layer))
        yield KeyFrames(run.name, run.frames)
        border = section.entry.border
        if border and section.box.border and not layer.box.moves:
            yield CssRule(
                slides, {"inset": f"calc(0px - {border.width.css()})", "border": "inherit"}
            )
        # Each has a surface of its own; see _fill.
        extra = f", {self.naming.use('clear')}"
        for place, slide in enumerate(layer.box.order):
            name = layer.box.slides[slide]
            declarations = {
                "background-image": self.images(name, self.page.box.viewport) + extra,
                "animation": run.animation,
                "animation-delay": run.delay(place),
                **run.shown,
            }
            if place == 0:
                declarations[run.animated] = "1"
            yield CssRule(f"{slides}:nth-child({place + 1})", declarations)
        self.still.add(f"{slides}:nth-child(n)", {"animation": "none"})

    def _is_under_blend(self, section: SectionSource, layer: LayerSource) -> bool:
        """Whether something above a layer blends: in its section; above the ground, in any."""
        is_ground = section is self.page.ground
        blends = [item.entry.blend for item in section.layers[: section.layers.index(layer)]]
        for other in self.page.sections if is_ground else (section,):
            blends += [item.entry.blend for item in other.content]
            blends += [item.entry.blend for item in other.layers] if is_ground else []
        return any(blend != "normal" for blend in blends)

    def _is_composited(self, section: SectionSource) -> bool:
        """Whether something moves in a section or behind it, so that browsers split it up."""
        behind = self.page.ground.layers if self.page.ground else ()
        return any(layer.box.moves or layer.box.motion.path for layer in (*section.layers, *behind))

    def _stop(self, section: SectionSource, layer: LayerSource, here: str) -> None:
        """What makes a layer stand still, if it moves or is fixed."""
        if layer.box.moves or layer.box.motion.path:
            self.still.add(here, {"animation": "none"} | self._resting_layer(layer))
        if _is_attached(layer) and layer.box.name:
            pinned = is_pinned(section.box.name, layer.entry)
            loose = {"position": "absolute"} if pinned else {"background-attachment": "scroll"}
            self.still.add(here, loose, on_paper_only=True)

    def _resting_layer(self, layer: LayerSource) -> dict[str, str]:
        """A layer's box and picture as they are where it moves with its section."""
        if not layer.box.moves:
            return {}
        entry = layer.entry
        still = {"inset": "0", "width": "auto", "height": "auto"}
        if is_placed_by_script(layer) and is_free(layer) and not isinstance(entry.fill, Color):
            still |= placed(entry)
        return still
