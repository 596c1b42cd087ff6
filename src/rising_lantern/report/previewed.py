"""The frames of a filmstrip: which positions are shown, and what shows in time only."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from PIL import Image

from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.sections import SectionBox
from rising_lantern.layout.slides import SlideTiming
from rising_lantern.report.board import size_words
from rising_lantern.report.filmstrip import Shot, compose
from rising_lantern.scenes.scene import Scene
from rising_lantern.scroll.stops import MOST_FRAMES, Stop, fewer

_SQUARES = 64  # across the shorter side of a frame, whose mean colours are compared
_ALIKE = 10  # of 255: frames of which no square differs by more look alike
_NEAR = 0.06  # of a screen


@dataclass(frozen=True, eq=False, slots=True)
class Previewed:
    """A scene as the preview shows it.

    Attributes:
        scene: The scene.
        shots: The frames of its filmstrip.
        left_out: How many positions worth looking at it has no frame for.
    """

    scene: Scene
    shots: Sequence[Shot]
    left_out: int = 0


def previewed(
    scene: Scene, positions: Sequence[float] | None = None, others: Sequence[Stop] = ()
) -> Previewed:
    """The frames of a filmstrip with all that a preview says of them.

    Args:
        scene: The scene.
        positions: The positions to show; by default those worth looking at, the most important
            ones, and what is there for a time only.
        others: More positions that are worth looking at.
    """
    known = scene.stops(others)
    if positions is not None:
        reasons = {stop.scroll_px: stop.reasons for stop in known if stop.going == "down"}
        asked = [Stop(int(scroll), reasons.get(int(scroll), ())) for scroll in positions]
        return Previewed(scene, list(_shots(scene, asked)))
    in_time = list(_in_time(scene))[: MOST_FRAMES // 2]
    stops = fewer(known, MOST_FRAMES - len(in_time))
    shots = [*unlike(list(_shots(scene, stops))), *in_time]
    return Previewed(
        scene, sorted(shots, key=lambda shot: shot.stop.scroll_px), len(known) - len(stops)
    )


def filmstrip_of(view: Previewed) -> Image.Image:
    """The filmstrip of a scene."""
    scene, count = view.scene, len(view.shots)
    subtitle = f"{scene.page} · {scene.viewport} {size_words(scene.plan, scene.viewport)}"
    if view.left_out:
        subtitle += f" · {count} of {count + view.left_out} positions"
    title = scene.document.title or "Untitled plan"
    return compose(title, subtitle, view.shots, scene.bands, scene.box, scene.max_scroll)


def _shots(scene: Scene, stops: Sequence[Stop]) -> Iterator[Shot]:
    for stop in stops:
        swept = scene.sweep([stop.scroll_px], stop.going)
        yield Shot(stop, swept.moment(0), scene.painted(swept, 0))


def _in_time(scene: Scene) -> Iterator[Shot]:
    """What no scroll position shows: fades of looks half-way, and the other slides."""
    for stage in scene.stages:
        moment = stage.swept.moment(stage.index)
        if stage.kind == "half-way" and moment.progress < 1 and stage.swept.scroll.size > 1:
            stop = Stop(stage.scroll_px, (f"half-way to {stage.look}, in time",))
            # Texts have arrived before: a reader comes here through the section.
            here = replace(stage.swept, arrivals={})
            yield Shot(stop, moment, scene.painted(here, stage.index).copy())
    for section in scene.box.all_sections:
        sliding = [layer for layer in section.layers if layer.varies and not layer.video]
        if sliding:
            count = max(len(layer.slides) for layer in sliding)
            yield from _slides(scene, section, count, [layer.run for layer in sliding])


def _slides(
    scene: Scene, section: SectionBox, count: int, runs: Sequence[SlideTiming | None]
) -> Iterator[Shot]:
    """The slides of a section but the one that shows, and the middle of the first fade."""
    middle = section.top + section.height / 2 - scene.box.screen.height / 2
    at = int(min(max(middle, 0), scene.max_scroll))
    moment = scene.at(at)
    fading = next((run for run in runs if run and run.fade_ms), None)
    if fading:
        pixels: Bytes = scene.pixels_at(fading.half_ms / 1000, at)
        yield Shot(Stop(at, (f"half-way to the next slide of {section.name}",)), moment, pixels)
    for place, other in enumerate(scene.slides()[:count]):
        if other.slide != scene.slide:
            reason = f"slide {place + 1} of {count} of {section.name}"
            yield Shot(Stop(at, (reason,)), other.at(at), other.pixels(at).copy())


def unlike(shots: Sequence[Shot]) -> list[Shot]:
    """Frames of which no two look alike: of those that do, the first stays.

    They look alike where no small square of them differs, or where the same look is complete in
    both and the page has hardly moved.
    """
    chosen: list[tuple[Shot, np.ndarray]] = []
    for shot in shots:
        image = Image.fromarray(shot.pixels)
        small = np.asarray(image.reduce(max(min(image.size) // _SQUARES, 1)), dtype=np.int16)
        near = _NEAR * image.height
        if not any(
            np.abs(small - other).max() < _ALIKE or _is_near(shot, item, near)
            for item, other in chosen
        ):
            chosen.append((shot, small))
    return [shot for shot, _ in chosen]


def _is_near(shot: Shot, other: Shot, distance: float) -> bool:
    """Whether two frames have the same look, complete, and are no more than some px apart."""
    same = shot.moment.look == other.moment.look
    complete = shot.moment.progress == other.moment.progress == 1
    return same and complete and abs(shot.stop.scroll_px - other.stop.scroll_px) <= distance
