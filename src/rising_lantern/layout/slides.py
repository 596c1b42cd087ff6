"""Slides that run: which of them is there at an instant."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.css.easings import LINEAR, Easing
from rising_lantern.plan.models.changes import Fade
from rising_lantern.plan.models.layers import Layer


@dataclass(frozen=True, slots=True)
class SlideTiming:
    """How the slides of a layer follow each other.

    Attributes:
        every_ms: How long each is there, in ms; in the last part of it the next one fades in.
        fade_ms: How long that takes.
        easing: Its course.
    """

    every_ms: float
    fade_ms: float = 0.0
    easing: Easing = LINEAR

    @property
    def half_ms(self) -> float:
        """The first instant, of 60 a second, at which about half of the next slide is there."""
        start = self.every_ms - self.fade_ms
        instants = [start + step * 1000 / 60 for step in range(int(self.fade_ms * 60 / 1000) + 1)]
        return min(instants, key=lambda time: abs(self.at(time)[1] - 0.5))

    def leading(self, time_ms: float) -> int:
        """The number of the slide of which most is there at an instant.

        Args:
            time_ms: The time since the page was opened, in ms.
        """
        number, passed = divmod(time_ms, self.every_ms)
        return int(number) + (self.fade_ms > 0 and passed >= self.half_ms)

    def at(self, time_ms: float) -> tuple[int, float]:
        """The number of the slide that is there at an instant, and the share of the next one.

        Args:
            time_ms: The time since the page was opened, in ms.
        """
        number, passed = divmod(time_ms, self.every_ms)
        left = self.every_ms - passed
        if left >= self.fade_ms:
            return int(number), 0.0
        return int(number), float(self.easing(1 - left / self.fade_ms))


def run_of(layer: Layer) -> SlideTiming | None:
    """How the slides of a layer run; None where they do not."""
    if layer.every is None:
        return None
    if isinstance(layer.change, Fade):
        return SlideTiming(layer.every, layer.change.duration_ms, layer.change.easing)
    return SlideTiming(layer.every)
