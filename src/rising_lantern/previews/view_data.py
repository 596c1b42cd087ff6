"""What the preview page knows of a page at a viewport: figures along the scroll, and pictures."""

from __future__ import annotations

import io
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

import numpy as np
from PIL import Image

from rising_lantern.checks.findings import LEVELS, Finding
from rising_lantern.css.compositing import Bytes
from rising_lantern.css.numbers import number
from rising_lantern.legibility.curves import ContrastCurve, chosen_of, lowest_of
from rising_lantern.plan.models.changes import Blend, Change, Fade
from rising_lantern.plan.models.thresholds import parse_threshold
from rising_lantern.previews.columns import packed
from rising_lantern.previews.long_view import long_view
from rising_lantern.report.header_strip import header_shots
from rising_lantern.report.previewed import Previewed, previewed
from rising_lantern.scenes.scene import Scene
from rising_lantern.scroll.gestures import NAMES, GesturePath, gesture_on
from rising_lantern.scroll.layers import LayerTrack
from rising_lantern.scroll.moments import Sweep
from rising_lantern.scroll.stops import Stop

if TYPE_CHECKING:
    from rising_lantern.report.header_strip import HeaderShot

_MOST_ROWS = 20_000  # scroll positions at which the moment is known
_MEASURED = 180  # positions at which contrast is measured, besides those where something happens
_OF_SLIDES = 60  # the same for further pictures of slides
_MOST_LAYERS, _MOST_FINDINGS = 40, 200
_FRAME = 176  # px: the longer side of small frames
_QUALITY, _METHOD = 72, 2  # of WebP: higher methods take twice as long for a twentieth less


@dataclass(frozen=True)
class ViewData:
    """A page at a viewport as the preview page shows it.

    Attributes:
        data: Plain data; pictures by their names in ``pictures``.
        pictures: WebP pictures.
    """

    data: dict[str, Any]
    pictures: dict[str, bytes] = field(repr=False)


@dataclass(frozen=True)
class Drawn:
    """What several outputs show of a scene, computed once.

    Attributes:
        shown: The frames of its filmstrip.
        positions: Scroll positions, in px, of which no switch and no finding is left out.
        curves: The contrast there of each part of the header, and then of each text.
        close_ups: The header at each stage of each switch.
        gestures: Gestures to play besides those that have names of their own, by their names.
    """

    shown: Previewed = field(repr=False)
    positions: Sequence[float] = field(repr=False)
    curves: Sequence[ContrastCurve] = field(repr=False)
    close_ups: Sequence[HeaderShot] = field(repr=False)
    gestures: Mapping[str, GesturePath] = field(default_factory=dict)


def drawn_of(
    scene: Scene,
    findings: Sequence[Finding],
    frames: Sequence[float] | None = None,
    gestures: Mapping[str, GesturePath] | None = None,
    count: int = _MEASURED,
) -> Drawn:
    """What several outputs show of a scene.

    Args:
        scene: The page at a viewport.
        findings: What is found on it.
        frames: The scroll positions to show frames of; by default those worth looking at.
        gestures: Gestures to play besides those that have names of their own, by their names.
        count: At how many positions, evenly spread, contrast is measured besides others.
    """
    positions = _positions_to_measure(scene, findings, count)
    shown = previewed(scene, frames, worst_stops(findings, scene.max_scroll))
    curves = list(scene.curves(positions))
    return Drawn(shown, positions, curves, header_shots(scene), gestures or {})


def slides_data(
    scene: Scene,
    findings: Sequence[Finding],
    frames: Sequence[float] | None = None,
    gestures: Mapping[str, GesturePath] | None = None,
) -> tuple[list[ViewData], Drawn]:
    """All that the preview page shows of a scene, once with each picture of its slides.

    Args:
        scene: The page at a viewport.
        findings: What is found on it.
        frames: As in :func:`drawn_of`.
        gestures: As there.

    Returns:
        The data, and what has been drawn of the first.
    """
    first = drawn_of(scene, findings, frames, gestures)
    others = [
        view_data(slide, findings, drawn_of(slide, findings, frames, gestures, _OF_SLIDES))
        for slide in scene.slides()[1:]
    ]
    return [view_data(scene, findings, first), *others], first


def first_data(scene: Scene) -> ViewData:
    """What can be shown of a view at once: what has to be measured is left out.

    Args:
        scene: The page at a viewport.
    """
    made = view_data(scene, (), Drawn(previewed(scene), (), (), header_shots(scene)))
    return ViewData(made.data | {"checking": True}, made.pictures)


def view_data(scene: Scene, findings: Sequence[Finding], drawn: Drawn) -> ViewData:
    """All that the preview page shows of a scene.

    Args:
        scene: The page at a viewport.
        findings: What is found on it.
        drawn: What has been drawn of it.
    """
    return _ViewDataBuilder(scene, findings, drawn).result()


def worst_stops(findings: Sequence[Finding], end: int) -> tuple[Stop, ...]:
    """The scroll positions at which findings that are not silenced are worst.

    Args:
        findings: What is found on a page.
        end: The last scroll position.
    """
    return tuple(
        Stop(_worst_px(item, end), (f"{item.rule} at its worst",))
        for item in findings
        if item.silenced is None
    )


def _positions_to_measure(scene: Scene, findings: Sequence[Finding], count: int) -> list[float]:
    """Evenly spread positions, those around each switch, and those of each finding."""
    end = scene.max_scroll
    steps = scene.switches.steps[1:] if scene.switches else ()
    inner = [
        edge + beside
        for step in steps
        if math.isfinite(step.start)
        for edge in (math.ceil(step.start), math.ceil(step.start + step.blend))
        for beside in (-1, 0)
    ]
    for item in findings[:_MOST_FINDINGS]:
        inner += [round(place) for place in (*item.scroll, item.worst)]
    evenly = np.linspace(0, end, min(count, end + 1)).round()
    found = np.unique([*evenly, *(place for place in inner if 0 <= place <= end)])
    return [float(place) for place in found]


def _worst_px(finding: Finding, end: int) -> int:
    return round(min(max(finding.worst, 0.0), float(end)))


class _ViewDataBuilder:
    """The data of one scene."""

    def __init__(self, scene: Scene, findings: Sequence[Finding], drawn: Drawn) -> None:
        self.scene = scene
        self.drawn = drawn
        order = sorted(findings, key=lambda item: LEVELS.index(item.level))
        self.findings = tuple(order[:_MOST_FINDINGS])
        self.left_out = len(findings) - len(self.findings)
        self.pictures: dict[str, bytes] = {}

    def result(self) -> ViewData:
        scene, box = self.scene, self.scene.box
        worst = [_worst_px(finding, scene.max_scroll) for finding in self.findings]
        long = long_view(scene)
        header = box.header
        room = box.flow.room(0)
        data = {
            "page": scene.page,
            "viewport": scene.viewport,
            "slide": scene.slide,
            "pictured": scene.shown_names,
            "maxScroll": scene.max_scroll,
            "height": long.height,
            "header": header and header.name,
            "steps": list(self._steps()),
            "sections": [
                {
                    "name": item.name,
                    "top": item.top + room,
                    "height": item.height,
                    "past": self._edge("past", item.name),
                    "reach": self._edge("reach", item.name),
                }
                for item in box.sections
            ],
            "long": self._picture("long", long.pixels),
            "findings": [self._finding(*pair) for pair in zip(self.findings, worst, strict=True)],
            "leftOut": self.left_out,
            "contrast": self._contrast(),
            "frames": list(self._frames()),
            "closeUps": list(self._close_ups()),
            "gestures": self._gestures(),
            **self._moments(),
        }
        return ViewData(data, self.pictures)

    def _edge(self, edge: str, section: str) -> float:
        """The position at which a section's edge meets the header, in its look just before."""
        threshold, flow = parse_threshold(f"{edge} {section}"), self.scene.box.flow
        switches = self.scene.switches
        if switches is None:
            return flow.position(threshold, 0)
        places = [flow.position(threshold, step.look) for step in switches.steps]
        for step, place in enumerate(places):
            if switches.after(0, place - 1) == step:
                return place
        return places[0]

    # --- the header ------------------------------------------------------------------------------

    def _steps(self) -> Iterator[dict[str, Any]]:
        switches = self.scene.switches
        for index, step in enumerate(switches.steps if switches else ()):
            assert switches is not None  # noqa: S101 - it has steps
            look = switches.look_of(index)
            yield {
                "look": look.name,
                "start": _finite_or_none(step.start),
                "back": _finite_or_none(step.back),
                "blend": step.blend,
                "words": look.start.text if look.start else "",
                "background": look.background.hex(),
                "change": _words_of(look.change),
            }

    def _close_ups(self) -> Iterator[dict[str, Any]]:
        for index, shot in enumerate(self.drawn.close_ups):
            yield {
                "at": shot.stage.scroll_px,
                "words": shot.words,
                "width": shot.pixels.shape[1],
                "height": shot.pixels.shape[0],
                "picture": self._picture(f"header-{index}", shot.pixels, 82),
            }

    # --- along the scroll ------------------------------------------------------------------------

    def _moments(self) -> dict[str, Any]:
        """Looks, the header's box and the offsets of layers at every px, or as near as possible."""
        step = max(math.ceil((self.scene.max_scroll + 1) / _MOST_ROWS), 1)
        positions = self.scene.positions(step)
        down, up = self.scene.sweep(positions), self.scene.sweep(positions, "up")
        columns: dict[str, np.ndarray] = {}
        for name, swept in (("down", down), ("up", up)):
            header = swept.header
            if header is not None:
                columns |= {
                    f"{name} look": header.look,
                    f"{name} before": header.before,
                    f"{name} progress": header.progress * 1000,
                    f"{name} top": header.top * 100,
                    f"{name} height": header.height * 100,
                }
        layers = []
        for track in self._moving(down):
            name = f"{track.section}, layer {track.index}"
            layers.append(name)
            columns[f"offset {name}"] = down.offset(track) * 100
            columns[f"opacity {name}"] = track.opacity * 1000
        looks = list(self.scene.box.header.look_names) if self.scene.box.header else []
        return {"step": step, "looks": looks, "layers": layers, "columns": packed(columns)}

    @staticmethod
    def _moving(swept: Sweep) -> list[LayerTrack]:
        """The layers that do more than move with their section."""
        tracks = (
            track
            for track in swept.layers()
            if track.box.moves or track.box.is_fixed or track.box.motion.path
        )
        return [track for track, _ in zip(tracks, range(_MOST_LAYERS), strict=False)]

    def _contrast(self) -> dict[str, Any]:
        """The contrast of each part, and of the text with the lowest, at some positions."""
        curves, positions = self.drawn.curves, self.drawn.positions
        parts = len(self.scene.box.header.parts) if self.scene.box.header else 0
        texts = curves[parts:]
        result = [_curve("part", curve) for curve in curves[:parts]]
        if texts and any(np.isfinite(curve.contrast).any() for curve in texts):
            result.append(_worst_text(texts))
        return {"positions": [round(place) for place in positions], "curves": result}

    def _gestures(self) -> dict[str, Any]:
        paths = {name: name for name in NAMES} | dict(self.drawn.gestures)
        box, end = self.scene.box, self.scene.max_scroll
        return {
            name: packed({"scroll": gesture_on(box, end, path).scroll})
            for name, path in paths.items()
        }

    # --- findings --------------------------------------------------------------------------------

    def _finding(self, finding: Finding, worst: int) -> dict[str, Any]:
        return {
            "rule": finding.rule,
            "level": finding.level,
            "subject": str(finding.subject),
            "from": self._within(finding.scroll[0]),
            "to": self._within(finding.scroll[1]),
            "at": worst,
            "message": finding.message,
            "remedy": finding.remedy.words,
            "settings": [setting.data for setting in finding.remedy.settings],
            "path": list(finding.path),
            "place": str(finding.place),
            "silenced": finding.silenced,
        }

    def _within(self, scroll: float) -> float:
        """A scroll position as the page has it."""
        return round(min(max(scroll, 0.0), float(self.scene.max_scroll)), 2)

    # --- pictures --------------------------------------------------------------------------------

    def _frames(self) -> Iterator[dict[str, Any]]:
        for index, shot in enumerate(self.drawn.shown.shots):
            image = Image.fromarray(shot.pixels)
            image.thumbnail((_FRAME, _FRAME), Image.Resampling.BOX, reducing_gap=2.0)
            yield {
                "at": shot.stop.scroll_px,
                "words": " · ".join(shot.stop.reasons),
                "picture": self._picture(f"frame-{index}", np.asarray(image)),
            }

    def _picture(self, name: str, pixels: Bytes, quality: int = _QUALITY) -> str:
        """Keep a picture, and give its name."""
        scene, buffer = self.scene, io.BytesIO()
        Image.fromarray(pixels).save(buffer, "webp", quality=quality, method=_METHOD)
        key = f"{scene.page}/{scene.viewport}/{scene.slide}/{name}"
        self.pictures[key] = buffer.getvalue()
        return key


def _finite_or_none(position: float) -> float | None:
    return position if math.isfinite(position) else None


def _words_of(change: Change) -> str:
    """How a look comes, in words."""
    match change:
        case Fade(duration, delay, easing):
            wait = f" after {number(delay)} ms" if delay else ""
            return f"fades in {number(duration)} ms, {easing.css()}{wait}"
        case Blend(distance, easing, lag):
            late = f", {number(lag)} ms behind" if lag else ""
            return f"blends over {distance.css()}, {easing.css()}{late}"
        case _:
            return "at once"


def _curve(kind: str, curve: ContrastCurve) -> dict[str, Any]:
    return {
        "kind": kind,
        "name": curve.name,
        "values": _round_values(curve.contrast),
        "limits": _round_values(curve.limit),
    }


def _worst_text(texts: Sequence[ContrastCurve]) -> dict[str, Any]:
    """At each position the text that is furthest below its limit, or least above it."""
    index = lowest_of(texts)
    worst = _curve("text", chosen_of("lowest text", texts, index))
    return worst | {"of": index.tolist(), "names": [curve.name for curve in texts]}


def _round_values(values: np.ndarray) -> list[float | None]:
    return [round(float(value), 2) if math.isfinite(value) else None for value in values]
