"""Transitions: CSS Transitions 1, sections 3 and 5, of one property at a time.

Times are milliseconds on any clock. A value is whatever compares and mixes.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Generic, TypeVar

from rising_lantern.css.easings import Easing

Value = TypeVar("Value")


@dataclass(frozen=True, slots=True)
class Timing:
    """What a style declares of a property's transition.

    Attributes:
        duration: Of the whole way.
        delay: Before it starts; below zero it starts part-way.
        easing: Its course.
    """

    duration: float
    delay: float
    easing: Easing


@dataclass(frozen=True, slots=True)
class Transition(Generic[Value]):
    """A running transition.

    Source: https://www.w3.org/TR/css-transitions-1/#reversing

    Attributes:
        begin: When the style changed.
        start: The value that it leaves.
        end: The value that it reaches.
        timing: Its duration and delay, as shortened where it turns another round.
        adjusted_start: The reversing-adjusted start value.
        shortening: The reversing shortening factor.
    """

    begin: float
    start: Value
    end: Value
    timing: Timing
    adjusted_start: Value
    shortening: float

    def progress(self, now: float) -> float:
        """The eased share of the way at some time, 1 from its end on."""
        passed = now - self.begin - self.timing.delay
        if passed >= self.timing.duration:
            return 1.0
        # Where there is no way to go, the delay is spent at its start.
        whole = max(self.timing.duration, 1e-9)
        return float(self.timing.easing(max(passed, 0.0) / whole))

    def is_over(self, now: float) -> bool:
        """Whether it has ended."""
        return now >= self.begin + self.timing.delay + self.timing.duration


def changed(
    running: Transition[Value] | None,
    values: tuple[Value, Value],
    now: float,
    timing: Timing,
    mix: Callable[[Value, Value, float], Value],
) -> Transition[Value] | None:
    """What runs after a style has changed (section 3, starting of transitions).

    Source: https://www.w3.org/TR/css-transitions-1/#starting

    Args:
        running: What ran before.
        values: The value before the change, as declared, and the one after it.
        now: The time.
        timing: What the style after the change declares.
        mix: Gives the value at some share of the way between two.
    """
    before, after = values
    if running is not None and running.is_over(now):
        running = None
    if running is not None and running.end == after:
        return running
    current = before if running is None else mix(running.start, running.end, running.progress(now))
    if current == after or timing.duration + min(timing.delay, 0.0) <= 0:
        return None
    if running is None or running.adjusted_start != after:
        return Transition(now, current, after, timing, current, 1.0)
    # Section 3.1: the way back takes as long as the part of the way that had been come. Where an
    # easing starts backwards the standard takes the absolute value; Chromium takes none of it.
    way = running.progress(now) * running.shortening + 1 - running.shortening
    factor = min(max(way, 0.0), 1.0)
    delay = timing.delay if timing.delay >= 0 else timing.delay * factor
    shorter = Timing(timing.duration * factor, delay, timing.easing)
    return Transition(now, current, after, shorter, running.end, factor)
