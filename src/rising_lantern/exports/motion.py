"""Motion along the scroll as CSS: a view timeline for a speed, a scroll timeline for a path.

Both are key frames. Where a browser has no scroll-driven animations, the same key frames are
paused animations of a second, and the script says how much of the second has gone by.

Speeds of 0 to 1 are written in units of the section and the screen, by custom properties. The area
of any other motion depends on the ends of the page and on its path: ``lantern-layers.js`` computes
it for the size of the window, from the data that this module gives it.
"""

from __future__ import annotations

from collections.abc import Callable, Container, Iterator
from dataclasses import dataclass
from typing import Any

from rising_lantern.css.numbers import number
from rising_lantern.exports.flow import FlowLengths
from rising_lantern.exports.headers import WHOLE
from rising_lantern.exports.names import Naming
from rising_lantern.exports.rules import DRIVEN, UNDRIVEN, CssRule, KeyFrames, Statement
from rising_lantern.exports.sources import (
    ContentSource,
    LayerSource,
    PageSource,
    SectionSource,
    all_sections,
)
from rising_lantern.exports.values import threshold
from rising_lantern.layout.motion import Course

Moving = LayerSource | ContentSource


def is_free(layer: LayerSource) -> bool:
    """Whether a layer's area depends on more than the section and the screen."""
    motion = layer.box.motion
    return not Course(motion.speed, motion.drift, motion.path).is_plain


def is_placed_by_script(layer: LayerSource) -> bool:
    """Whether the script places or animates a layer for the size of the window."""
    return (is_free(layer) and layer.box.moves) or layer.box.motion.path is not None


MOVED_BY = ("drift", "settle")
"""What moves something besides its speed."""


def frames_of_moving(naming: Naming) -> tuple[str, str]:
    """The names of the key frames that move what moves, the second by margins."""
    return f"{naming.prefix}-move", f"{naming.prefix}-shift"


def is_driven(source: Moving) -> bool:
    """Whether something moves at a speed of its own."""
    motion = source.box.motion
    return source.box.moves and (motion.speed, motion.drift) != (1, 0)


@dataclass(frozen=True)
class MotionWriter:
    """Writes how things of a page move.

    Attributes:
        naming: How everything is named.
        flow: The flow of the page as lengths.
    """

    naming: Naming
    flow: FlowLengths

    @property
    def timeline(self) -> str:
        """The name of every section's view timeline: the nearest one above counts."""
        return self.naming.variable("timeline")

    def numbers(self, section: SectionSource, source: Moving) -> dict[str, str]:
        """The numbers that the shared key frames move something by."""
        if not is_driven(source):
            return {}
        motion = source.box.motion
        numbers = {self.naming.variable("speed"): number(motion.speed)}
        if motion.drift:
            numbers[self.naming.variable("drift")] = number(motion.drift)
        if isinstance(source, ContentSource):
            # It is in its place where the section is centred, as far as the page lets it come.
            low, high = self.flow.reach(section)
            height = self.flow.height(section)
            middle = f"({height} - {self.flow.screen}) / 2"
            numbers[self.naming.variable("settle")] = f"clamp({low}, {middle}, {high})"
        return numbers

    def area(self, section: SectionSource, layer: LayerSource) -> dict[str, str]:
        """The box of a layer of speed 0 to 1: its positioning area, from what clips it."""
        if is_free(layer) or not is_driven(layer):
            return {}
        speed, height = self.naming.use("speed"), self.naming.use("extent")
        across: dict[str, str] = {}
        if layer.box.is_fixed and section.entry.width != WHOLE:
            # As wide as the screen, in the middle of which sections stand.
            across = {"left": "calc((100% - 100vw) / 2)", "right": "auto", "width": "100vw"}
        border = section.entry.border
        if layer.box.clip.left == 0 or border is None:
            return {
                "height": f"calc({speed} * {height} + (1 - {speed}) * {self.flow.screen})"
            } | across
        inner = f"({height} - 2 * {border.width.css()})"
        return across | {
            "height": f"calc({speed} * {inner} + (1 - {speed}) * {self.flow.screen})",
            "top": f"calc(({speed} - 1) * {border.width.css()})",
        }

    def driven(self, sections: list[str], selectors: dict[str, list[str]]) -> Iterator[Statement]:
        """The animations of what moves at a speed.

        Source: https://www.w3.org/TR/scroll-animations-1/#view-timelines

        Args:
            sections: The selectors of the sections that it moves in.
            selectors: Selectors by the key frames that move them.
        """
        # The whole screen counts, whatever scroll padding there is.
        timeline = {"view-timeline": self.timeline, "view-timeline-inset": "0"}
        if sections:
            yield CssRule(", ".join(sections), timeline)
        for name, moved in selectors.items():
            yield CssRule(
                ", ".join(moved),
                {
                    "animation": f"{name} linear both",
                    "animation-timeline": self.timeline,
                    "animation-range": "cover",
                    # What moves along the scroll must not be what a browser keeps in its place.
                    "overflow-anchor": "none",
                },
                (DRIVEN,),
            )
        for name, moved in selectors.items():
            cover = f"var({self.naming.variable('cover')}, 0)"
            yield CssRule(
                ", ".join(moved),
                {
                    "animation": f"{name} 1s linear both paused",
                    "animation-delay": f"calc({cover} * -1s)",
                    "overflow-anchor": "none",
                },
                (UNDRIVEN,),
            )

    def frames_of(self, source: Moving) -> str:
        """The name of the key frames that move something.

        WebKit 2.50 does not blend what a transform moves along a timeline; margins serve there.
        """
        blends = isinstance(source, LayerSource) and source.entry.blend != "normal"
        return frames_of_moving(self.naming)[blends]

    def _across(self, r: str, numbers: Container[str]) -> str:
        """How far a layer drifts to the right, r px down the page."""
        drift = f"var({self.naming.variable('drift')}, 0)"
        return f"calc({drift} * {r})" if "drift" in numbers else "0"

    def _down(self, r: str, numbers: Container[str]) -> str:
        """How far something stands below its section's upper edge, r px down the page."""
        settle = f"var({self.naming.variable('settle')}, 0px)"
        way = f"({r} - {settle})" if "settle" in numbers else r
        return f"calc((1 - {self.naming.use('speed')}) * {way})"

    def frames(self, names: set[str], numbers: Container[str]) -> Iterator[Statement]:
        """The key frames, of those names that are in use.

        Of speed v something stands ``(1 - v) r`` below its section's upper edge. A view timeline
        runs from r = minus the screen's height to the section's.

        Args:
            names: The names.
            numbers: By what anything is moved besides its speed: ``drift`` and ``settle``.
        """
        places = {
            place: (self._across(r, numbers), self._down(r, numbers))
            for place, r in (("from", self.flow.above), ("to", self.naming.use("extent")))
        }
        move, shift = frames_of_moving(self.naming)
        if move in names:
            yield KeyFrames(
                move, {place: {"translate": f"{x} {y}"} for place, (x, y) in places.items()}
            )
        if shift in names:
            yield KeyFrames(
                shift,
                {
                    place: {"margin": f"{y} 0 0" + f" {x}" * (x != "0")}
                    for place, (x, y) in places.items()
                },
            )


def layer_data(
    page: PageSource, motion: MotionWriter, here: Callable[[SectionSource, int], str]
) -> list[dict[str, Any]]:
    """The layers that the script places or animates for the size of the window.

    Args:
        page: The page.
        motion: How motion is written.
        here: Gives the selector of a layer, by its section and its place there.
    """
    return [
        {"here": here(section, index)} | _script_entry(section, index, layer, page, motion)
        for section in all_sections(page)
        for index, layer in enumerate(section.layers)
        if is_placed_by_script(layer)
    ]


def _script_entry(
    section: SectionSource, index: int, layer: LayerSource, page: PageSource, motion: MotionWriter
) -> dict[str, Any]:
    """One layer as the script knows it; lengths are CSS text. What is usual is left out."""
    entry, size, box = layer.entry, layer.entry.size, layer.box
    border = section.entry.border if box.clip.left > 0 else None
    path = box.motion.path
    described = {
        "section": "" if section is page.ground else section.box.name,
        "name": f"{section.box.name if section is not page.ground else '0'}-{index}",
        "frames": motion.frames_of(layer) if is_driven(layer) else None,
        "free": is_free(layer) and box.moves,
        "speed": box.motion.speed,
        "drift": box.motion.drift,
        "opacity": entry.opacity,
        "inset": border.width.css() if border else None,
        "fit": size.fit,
        "size": [length.css() if length else None for length in (size.width, size.height)],
        "video": entry.video is not None,
        "natural": list(box.natural) if box.natural else None,
        "repeat": entry.repeat,
        "position": [entry.position.x.css(), entry.position.y.css()],
        "settle": threshold(entry.settle) if entry.settle else None,
        "moves": path is not None and path.moves,
        "rates": [path.before, path.after] if path else None,
        "path": [
            {
                "at": threshold(stop.at),
                "x": stop.x.css(),
                "y": stop.y.css(),
                "opacity": stop.opacity,
                "scale": stop.scale,
                "easing": stop.easing.css(),
            }
            for stop in (entry.path if path else ())
        ],
    }
    usual: dict[str, Any] = {"drift": 0, "opacity": 1, "path": []}
    return {
        name: value
        for name, value in described.items()
        if value is not None and value is not False and usual.get(name, ...) != value
    }
