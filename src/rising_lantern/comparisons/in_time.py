"""What tells variants apart that are the same at rest: what changes, arrives or runs in time."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from rising_lantern.css.compositing import Bytes
from rising_lantern.plan.models.changes import Fade, time_of
from rising_lantern.scenes.scene import Scene
from rising_lantern.scroll.gestures import RATE, gesture_on

_INSTANTS = 24  # that are compared along a change
_LONGEST_MS = 30_000.0
_EASES_OUT = 1.5  # times its lag after which what follows the scroll has nearly come


@dataclass(frozen=True, slots=True)
class TimedChange:
    """Something that happens in time once a reader has come to a position.

    Attributes:
        scroll: The position, in px.
        before: Where the reader was until then.
        last_ms: How long it takes, in ms.
        words: What it is.
        timing: All that says how it goes on in time.
    """

    scroll: int
    before: int
    last_ms: float
    words: str
    timing: tuple[object, ...]

    @property
    def path(self) -> list[tuple[float, float]]:
        """The gesture: in one place for an instant, and then in the other."""
        first = 1 / RATE
        end = first + self.last_ms / 1000 + 2 / RATE
        here = float(self.scroll)
        start = float(self.before)
        return [(0.0, start), (first, start), (first, here), (end, here)]

    @property
    def instants(self) -> list[float]:
        """The times in ms, from when the reader has come, at which it is looked at."""
        return [self.last_ms * step / _INSTANTS for step in range(1, _INSTANTS + 1)]


def courses(scenes: Sequence[Scene]) -> Iterator[TimedChange]:
    """What happens in time in some variants, and not in the same way; changes of headers first.

    Args:
        scenes: The variants, which are the same at rest.
    """
    found: dict[tuple[int, int, str], list[TimedChange]] = {}
    for scene in scenes:
        for course in (*_switching(scene), *_running(scene), *_arriving(scene)):
            found.setdefault((course.before, course.scroll, course.words), []).append(course)
    for same in found.values():
        if len(same) < len(scenes) or any(one.timing != same[0].timing for one in same):
            yield max(same, key=lambda one: one.last_ms)


def frames_along(scene: Scene, course: TimedChange) -> list[Bytes]:
    """The frames of a variant at the instants of a course."""
    gesture = gesture_on(scene.box, scene.max_scroll, course.path)
    times = np.array(course.instants) / 1000 + 1 / RATE
    shown = np.clip(np.searchsorted(gesture.seconds, times), 0, len(gesture.seconds) - 1)
    return list(scene.frames_in_time(gesture, shown.tolist()))


def _switching(scene: Scene) -> Iterator[TimedChange]:
    """The changes of its header that take time."""
    steps = scene.switches.steps[1:] if scene.switches else ()
    for place, step in enumerate(steps, 1):
        assert scene.switches is not None  # noqa: S101 - it has steps
        change = scene.switches.change_at(place)
        lasts = time_of(change) * (1 if isinstance(change, Fade) else _EASES_OUT)
        lasts += change.delay_ms if isinstance(change, Fade) else 0
        start = int(np.ceil(step.start + step.blend))
        if lasts > 0 and 0 < step.start <= scene.max_scroll:
            here = min(start, scene.max_scroll)
            yield TimedChange(
                here,
                max(int(np.ceil(step.start)) - 1, 0),
                min(lasts, _LONGEST_MS),
                f"the change to {scene.switches.look_of(place).name}",
                (change,),
            )


def _running(scene: Scene) -> Iterator[TimedChange]:
    """Its slides, where their section is in the middle of the screen."""
    for section in scene.box.all_sections:
        runs = [layer.run for layer in section.layers if layer.run]
        if runs:
            at = _middle(scene, section.top, section.height)
            lasts = max(run.every_ms * 2 for run in runs)
            words = f"the slides of {section.name}"
            yield TimedChange(at, at, min(lasts, _LONGEST_MS), words, tuple(runs))


def _arriving(scene: Scene) -> Iterator[TimedChange]:
    """Its texts that arrive, where their section is in the middle of the screen."""
    for section in scene.box.sections:
        times = [item.entrance.time_ms for item in section.content if item.entrance]
        if times:
            at = _middle(scene, section.top, section.height)
            before = 0 if section.top - at > scene.box.screen.height else scene.max_scroll
            entrances = tuple(item.entrance for item in section.content)
            words = f"the arrival in {section.name}"
            yield TimedChange(at, before, min(max(times), _LONGEST_MS), words, entrances)


def _middle(scene: Scene, top: float, height: float) -> int:
    """The position at which something is in the middle of the screen, or as near as can be."""
    at = top + height / 2 - scene.box.screen.height / 2
    return int(min(max(at, 0), scene.max_scroll))
