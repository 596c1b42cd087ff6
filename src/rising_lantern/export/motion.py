"""Motion along the scroll as CSS: a view timeline for a speed, a scroll timeline for a path.

Both are key frames. Where a browser has no scroll-driven animations, the same key frames are
paused animations of a second, and ``lantern.js`` says how much of the second has gone by.

Speeds of 0 to 1 are written in units of the section and the screen. The area of any other motion
depends on the ends of the page and on its path: ``lantern.js`` computes it for the size of the
window, from the data that this module gives it.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from rising_lantern.css.backgrounds import Box
from rising_lantern.css.numbers import number
from rising_lantern.export.flow import SCREEN, FlowLengths
from rising_lantern.export.rules import rule
from rising_lantern.export.sources import ContentSource, LayerSource, PageSource, SectionSource
from rising_lantern.layout.motion import Course, motion_of
from rising_lantern.layout.screen import Screen
from rising_lantern.plan.models.thresholds import Threshold


def moving_rules(
    section: SectionSource,
    index: int,
    source: LayerSource | ContentSource,
    page: PageSource,
    here: str,
    declarations: dict[str, str],
) -> Iterator[str]:
    """The rules of something that moves, or only its declarations where it does not.

    Source: https://www.w3.org/TR/scroll-animations-1/#view-timelines

    Args:
        section: The section that it is in.
        index: Its place there.
        source: The layer or text.
        page: The page.
        here: Its selector.
        declarations: What else is said of it.
    """
    box, layered = source.box, isinstance(source, LayerSource)
    if isinstance(source, LayerSource) and box.moves and not is_free(source):
        declarations |= _area(section, source, page)
    yield rule(here, declarations)
    if not box.moves or (box.motion.speed, box.motion.drift) == (1, 0):
        return
    name = _name(section, index, page, "" if layered else "c")
    start, end = (_shifted(source, *place) for place in _ways(section, source, page))
    yield f"@keyframes {name} {{ from {{ {start}; }} to {{ {end}; }} }}"
    if not (layered and box.motion.path):
        # What has a path as well is animated by both at once, which the script writes.
        yield from _animated(here, name, timeline_of(section, page))


def timeline_of(section: SectionSource, page: PageSource) -> str:
    """The name of a section's view timeline."""
    # No section is called 0: names start with a letter.
    return "--0" if section is page.ground else f"--{section.box.name}"


def _name(section: SectionSource, index: int, page: PageSource, kind: str = "") -> str:
    """The name of the key frames of something in a section."""
    owner = "0" if section is page.ground else section.box.name
    return f"lantern-{owner}-{kind}{index}"


def is_free(layer: LayerSource) -> bool:
    """Whether a layer's area depends on more than the section and the screen."""
    motion = layer.box.motion
    return not Course(motion.speed, motion.drift, motion.path).is_plain


def layer_data(page: PageSource) -> list[dict[str, Any]]:
    """The layers that the script places or animates for the size of the window."""
    sections = [(f"#{section.box.name}", section) for section in page.sections]
    sections += [(".ground", page.ground)] if page.ground else []
    return [
        _described(here, section, index, layer, page)
        for here, section in sections
        for index, layer in enumerate(section.layers)
        if (is_free(layer) and layer.box.moves) or layer.box.motion.path
    ]


def _described(
    here: str, section: SectionSource, index: int, layer: LayerSource, page: PageSource
) -> dict[str, Any]:
    """One layer as the script knows it."""
    entry, size = layer.entry, layer.entry.size
    driven = layer.box.moves and (layer.box.motion.speed, layer.box.motion.drift) != (1, 0)
    lengths = (
        None if item is None else item.expression.data() for item in (size.width, size.height)
    )
    border = section.entry.border if layer.box.clip.left > 0 else None
    return {
        "here": f'{here} [data-layer="{index}"]',
        "section": "" if section is page.ground else section.box.name,
        "name": _name(section, index, page),
        "timeline": timeline_of(section, page) if driven else None,
        "free": is_free(layer) and layer.box.moves,
        "speed": layer.box.motion.speed,
        "drift": layer.box.motion.drift,
        "opacity": entry.opacity,
        "inset": border.width.expression.data() if border else [0, "px"],
        "fit": size.fit,
        "size": list(lengths),
        "natural": [layer.box.picture.width, layer.box.picture.height]
        if layer.box.picture
        else None,
        "repeat": entry.repeat,
        "position": [entry.position.x.expression.data(), entry.position.y.expression.data()],
        "settle": threshold_data(entry.settle) if entry.settle else None,
        "moves": layer.box.motion.path is not None and layer.box.motion.path.moves,
        "rates": [layer.box.motion.path.before, layer.box.motion.path.after]
        if layer.box.motion.path
        else [],
        "path": [
            {
                "at": threshold_data(stop.at),
                "x": stop.x.expression.data(),
                "y": stop.y.expression.data(),
                "opacity": stop.opacity,
                "scale": stop.scale,
                "easing": stop.easing.css(),
            }
            for stop in (entry.path if layer.box.motion.path else ())
        ],
    }


def threshold_data(threshold: Threshold) -> dict[str, Any]:
    """A threshold as the script knows it."""
    return {
        "edge": threshold.edge,
        "section": threshold.section,
        "offset": threshold.offset.expression.data(),
    }


def _animated(here: str, name: str, timeline: str) -> Iterator[str]:
    driven = {
        "animation": f"{name} linear both",
        "animation-timeline": timeline,
        "animation-range": "cover",
    }
    paused = {
        "animation": f"{name} 1s linear both paused",
        "animation-delay": "calc(var(--cover, 0) * -1s)",
    }
    yield f"@supports (animation-timeline: view()) {{ {rule(here, driven)} }}"
    yield f"@supports not (animation-timeline: view()) {{ {rule(here, paused)} }}"


def _area(section: SectionSource, layer: LayerSource, page: PageSource) -> dict[str, str]:
    """The layer's box: its positioning area, from the upper left corner of what clips it."""
    one, other = _heights(layer.box.motion.speed)
    whole = FlowLengths(page).height(section)
    if layer.box.clip.left == 0 or section.entry.border is None:
        return {"height": f"calc({number(one)} * {whole} + {number(other)} * {SCREEN})"}
    border = section.entry.border.width.css()
    inner = f"({whole} - 2 * {border})"
    return {
        "height": f"calc({number(one)} * {inner} + {number(other)} * {SCREEN})",
        "top": f"calc({number(layer.box.motion.speed - 1)} * {border})",
    }


def _heights(speed: float) -> tuple[float, float]:
    """How high an area is, per px of the section's height and per px of the screen's."""
    one, other = (
        motion_of(Course(speed), Box(0, 0, 0, height), Screen(0, screen, 0)).height
        for height, screen in ((1.0, 0), (0.0, 1))
    )
    return one, other


def _ways(
    section: SectionSource, source: LayerSource | ContentSource, page: PageSource
) -> Iterator[tuple[str, str]]:
    """Where something stands beside its place when its section enters the screen, and leaves.

    Of speed v it stands ``(1 - v) r`` below its section's upper edge. A view timeline runs from
    r = minus the screen's height to the section's.
    """
    flow = FlowLengths(page)
    height = flow.height(section)
    speed, drift = source.box.motion.speed, source.box.motion.drift
    ahead = ""
    if isinstance(source, ContentSource):
        # It is in its place where the section is centred, as far as the page lets it come there.
        low, high = flow.reach(section)
        settled = f"clamp({low}, ({height} - {SCREEN}) / 2, {high})"
        ahead = f"{number(speed - 1)} * {settled} + "
    for r in (f"-{SCREEN}", height):
        across = f"calc({number(drift)} * {r})" if drift else "0px"
        yield across, f"calc({ahead}{number(1 - speed)} * {r})"


def _shifted(source: LayerSource | ContentSource, x: str, y: str) -> str:
    """A declaration that puts something so far to the right and down.

    WebKit 2.50 does not blend what a transform moves along a timeline; margins serve there.
    """
    if isinstance(source, LayerSource) and source.entry.blend != "normal":
        return f"margin: {y} 0 0 {x}"
    return f"translate: {x} {y}"
