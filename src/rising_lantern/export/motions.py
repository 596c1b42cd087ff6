"""Motion along the scroll as CSS: a view timeline for a speed, a scroll timeline for a path.

Both are key frames. Where a browser has no scroll-driven animations, the same key frames are
paused animations of a second, and ``lantern.js`` says how much of the second has gone by.
"""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.css.backgrounds import Box
from rising_lantern.css.numbers import number
from rising_lantern.export.rules import rule
from rising_lantern.layout.motion import Course, motion_of
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.paths import Path
from rising_lantern.layout.screen import Screen
from rising_lantern.layout.sections import ContentBox, LayerBox, SectionBox

_HAIR = 1e-4  # percent between two key frames at one position


def moving_rules(
    section: SectionBox,
    index: int,
    box: LayerBox | ContentBox,
    page: PageBox,
    here: str,
    declarations: dict[str, str],
) -> Iterator[str]:
    """The rules of something that moves, or only its declarations where it does not.

    Args:
        section: The section that it is in.
        index: Its place there.
        box: The layer or content.
        page: The page.
        here: Its selector.
        declarations: What else is said of it.
    """
    kind = "" if isinstance(box, LayerBox) else "c"
    owner = "0" if section is page.ground else section.name
    name = f"lantern-{owner}-{kind}{index}"
    timeline = timeline_of(section, page)
    animations: list[tuple[str, str, str, str]] = []
    path = box.motion.path
    if isinstance(box, LayerBox) and box.moves:
        declarations |= _area(section, box, page)
    if box.moves and (box.motion.speed, box.motion.drift) != (1, 0):
        start, end = _ways(section, box, page)
        yield f"@keyframes {name} {{ from {{ translate: {start}; }} to {{ translate: {end}; }} }}"
        animations.append((name, timeline, "cover", "var(--cover, 0)"))
    if path:
        scrolls = float(page.flow.ends(0))
        first, last = min(0.0, path.points[0].at), max(scrolls, path.points[-1].at)
        opacity = box.entry.opacity if isinstance(box, LayerBox) else 1.0
        yield f"@keyframes {name}-path {{ {' '.join(_stops(path, first, last, opacity))} }}"
        declarations |= _at(path, 0.0, opacity)  # what holds where nothing can be scrolled
        share = f"(var(--scrolled, 0) - {number(first)}) / {number(max(last - first, 1.0))}"
        span = f"{number(first)}px {number(last)}px"
        animations.append((f"{name}-path", "scroll(root)", span, share))
    yield rule(here, declarations)
    if animations:
        yield from _animated(here, animations)


def timeline_of(section: SectionBox, page: PageBox) -> str:
    """The name of a section's view timeline."""
    # No section is called 0: names start with a letter.
    return "--0" if section is page.ground else f"--{section.name}"


def _animated(here: str, animations: list[tuple[str, str, str, str]]) -> Iterator[str]:
    driven = {
        "animation": ", ".join(f"{name} linear both" for name, *_ in animations),
        "animation-timeline": ", ".join(timeline for _, timeline, _, _ in animations),
        "animation-range": ", ".join(span for _, _, span, _ in animations),
    }
    paused = {
        "animation": ", ".join(f"{name} 1s linear both paused" for name, *_ in animations),
        "animation-delay": ", ".join(f"calc({share} * -1s)" for *_, share in animations),
    }
    yield f"@supports (animation-timeline: view()) {{ {rule(here, driven)} }}"
    yield f"@supports not (animation-timeline: view()) {{ {rule(here, paused)} }}"


def _area(section: SectionBox, layer: LayerBox, page: PageBox) -> dict[str, str]:
    """The layer's box: its positioning area, from the upper left corner of what clips it.

    Where the area is the same wherever the section stands, it is in units of the screen; the
    others count the page's ends and are in px.
    """
    motion = layer.motion
    if _is_elastic(section, layer, page):
        one, other = _heights(motion.speed)
        height = section.entry.height.css("vh")
        return {"height": _sum(one, height, other), "top": "0px"}
    return {
        "left": f"{number(motion.left - section.box.left - layer.clip.left)}px",
        "right": "auto",
        "top": f"{number(motion.top - layer.clip.top)}px",
        "width": f"{number(motion.width)}px",
        "height": f"{number(motion.height)}px",
        "background-size": " ".join(f"{number(side)}px" for side in layer.size),
        "background-position": f"{number(layer.across.start)}px {number(layer.down.start)}px",
    }


def _ways(section: SectionBox, box: LayerBox | ContentBox, page: PageBox) -> tuple[str, str]:
    """Where something stands beside its place when its section enters the screen, and leaves.

    Of speed v it stands ``(1 - v) r`` below its section's upper edge. A view timeline runs from
    r = minus the screen's height to the section's.
    """
    motion = box.motion
    speed, drift = motion.speed, motion.drift
    if isinstance(box, LayerBox) and _is_elastic(section, box, page):
        height = section.entry.height.css("vh")
        return f"0px {_sum(0, height, speed - 1)}", f"0px {_sum(1 - speed, height, 0)}"
    ahead = motion.top if isinstance(box, ContentBox) else 0.0
    ends = (-float(page.screen.height), section.height)
    start, end = (f"{number(drift * r)}px {number(ahead + (1 - speed) * r)}px" for r in ends)
    return start, end


def _is_elastic(section: SectionBox, layer: LayerBox, page: PageBox) -> bool:
    """Whether a layer's area can be said in units of the section and the screen."""
    course = Course(layer.motion.speed, layer.motion.drift, layer.motion.path)
    whole = (layer.clip.left, layer.clip.top) == (0, 0)
    return course.is_plain and whole and section is not page.ground


def _heights(speed: float) -> tuple[float, float]:
    """How high an area is, per px of the section's height and per px of the screen's."""
    one, other = (
        motion_of(Course(speed), Box(0, 0, 0, height), Screen(0, screen, 0)).height
        for height, screen in ((1.0, 0), (0.0, 1))
    )
    return one, other


def _sum(of_section: float, height: str, of_screen: float) -> str:
    """So much of the section's height and so much of the screen's."""
    return f"calc({number(of_section)} * {height} + {number(of_screen)} * 100vh)"


def _stops(path: Path, first: float, last: float, opacity: float) -> Iterator[str]:
    """A path as key frames from one scroll position to another."""
    span = max(last - first, 1.0)
    reached = -1.0
    if first < path.points[0].at:
        reached = 0.0
        yield rule("0%", _at(path, first, opacity))
    for point in path.points:
        # Of two key frames at one place only the last would count.
        reached = max((point.at - first) / span * 100, reached + _HAIR)
        values = _moved(path, point.x, point.y, point.scale)
        values["opacity"] = number(point.opacity * opacity)
        values["animation-timing-function"] = point.easing.css()
        yield rule(f"{reached:.6f}%", values)
    if last > path.points[-1].at:
        yield rule("100%", _at(path, last, opacity))


def _at(path: Path, scroll: float, opacity: float) -> dict[str, str]:
    """What a path declares at one scroll position."""
    x, y, scale = (float(read(scroll)) for read in (path.x, path.y, path.scale))
    return _moved(path, x, y, scale) | {"opacity": number(float(path.opacity(scroll)) * opacity)}


def _moved(path: Path, x: float, y: float, scale: float) -> dict[str, str]:
    """A place and a size; nothing where a path only fades, since a transform would unfix it."""
    if not path.moves:
        return {}
    return {"transform": f"translate({number(x)}px, {number(y)}px) scale({number(scale)})"}
