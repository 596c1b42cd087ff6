"""Slides that run, as an animation."""

from __future__ import annotations

import hashlib
from dataclasses import dataclass

from rising_lantern.css.numbers import number
from rising_lantern.exports.names import Naming
from rising_lantern.exports.rules import Declarations
from rising_lantern.layout.slides import SlideTiming, run_of
from rising_lantern.plan.models.layers import Layer


@dataclass(frozen=True, slots=True)
class SlideRun:
    """How the slides of a layer follow each other.

    Each is there for a while, and fades into the next at the end of that. All have the same key
    frames, each a part of the round ahead of the one before.

    Attributes:
        name: The name of the key frames.
        count: How many slides there are.
        run: How they follow each other.
        animated: The property that the key frames animate: ``opacity``, or a custom one.
    """

    name: str
    count: int
    run: SlideTiming
    animated: str = "opacity"

    @classmethod
    def of(cls, layer: Layer, naming: Naming, *, blended: bool) -> SlideRun:
        """How the slides of a layer run.

        WebKit 2.50 blends nothing with slides whose opacity is animated, since they have surfaces
        of their own; with slides that take their opacity from an animated number it does.

        Args:
            layer: The layer.
            naming: How everything is named.
            blended: Whether something above them blends.
        """
        run, count = run_of(layer), len(layer.slides)
        assert run is not None  # noqa: S101 - they run
        animated = share_name(naming) if blended else "opacity"
        words = f"{count} {number(run.every_ms)} {number(run.fade_ms)} {run.easing.css()}"
        digest = hashlib.sha256(f"{words} {animated}".encode()).hexdigest()[:6]
        return cls(f"{naming.prefix}-slides-{digest}", count, run, animated)

    @property
    def frames(self) -> dict[str, Declarations]:
        """The key frames of the first slide: there, out, and in again at the end of the round."""
        every, fade, round_ = self.run.every_ms, self.run.fade_ms, self._round_ms
        if fade <= 0:
            return {
                "0%": {self.animated: "1", "animation-timing-function": "step-end"},
                _share(every / round_): {
                    self.animated: "0",
                    "animation-timing-function": "step-end",
                },
                "100%": {self.animated: "1"},
            }
        course = {"animation-timing-function": self.run.easing.css()}
        return {
            "0%": {self.animated: "1"},
            _share((every - fade) / round_): {self.animated: "1"} | course,
            _share(every / round_): {self.animated: "0"},
            _share((round_ - fade) / round_): {self.animated: "0"} | course,
            "100%": {self.animated: "1"},
        }

    @property
    def _round_ms(self) -> float:
        return self.count * self.run.every_ms

    @property
    def animation(self) -> str:
        """The animation of each slide."""
        return f"{self.name} {number(self._round_ms / 1000)}s linear infinite"

    @property
    def shown(self) -> Declarations:
        """What makes a slide as opaque as the key frames say."""
        return {} if self.animated == "opacity" else {"opacity": f"var({self.animated})"}

    def delay(self, place: int) -> str:
        """How far in the round a slide starts, as a negative delay."""
        ahead = (self.count - place) % self.count * self.run.every_ms
        return f"{number(-ahead / 1000)}s"


def share_name(naming: Naming) -> str:
    """The custom property that animates slides below something that blends."""
    return naming.variable("slide-share")


def _share(share: float) -> str:
    return f"{number(share * 100)}%"
