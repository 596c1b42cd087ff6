"""A view in time: what a reader sees at each instant while a gesture is played.

Looks switch at the scroll's own positions; what fades between them follows CSS Transitions, each
property by itself, and turns round where the reader does.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.colors import Color
from rising_lantern.css.easings import LINEAR
from rising_lantern.css.numbers import between
from rising_lantern.css.transitions import Timing, Transition, changed
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import SectionBox
from rising_lantern.plan.models.changes import Blend, Fade
from rising_lantern.scroll.gestures import Gesture
from rising_lantern.scroll.moments import Arrival, Sweep, header_along, sweep
from rising_lantern.scroll.properties import (
    Property,
    Values,
    transitions,
    values_at,
    values_of,
    with_values,
)
from rising_lantern.scroll.states import HeaderState, between_looks
from rising_lantern.scroll.switches import CurrentLooks, Direction, Switches

_NEAR = 1e-3  # of a way: nothing of the rest is to be seen


def play(
    page: PageBox, switches: Switches | Sequence[Switches | None] | None, gesture: Gesture
) -> Sweep:
    """Play a gesture.

    Args:
        page: The page at a viewport.
        switches: Where its header switches, or None without a header; a sequence of these says
            it for each instant, with the slides that are there.
        gesture: Times and scroll positions.

    Returns:
        A sweep whose positions are the gesture's instants.
    """
    swept = sweep(page, None, gesture.scroll)
    if not isinstance(switches, Sequence):
        switches = [switches] * len(gesture.seconds)
    known = [item for item in switches if item is not None]
    if known:
        swept = _with_header(page, known, gesture)
    return replace(swept, arrivals=_arrivals(swept, gesture.seconds))


def _with_header(page: PageBox, switches: Sequence[Switches], gesture: Gesture) -> Sweep:
    player = _Player(switches[0], float(gesture.scroll[0]))
    states: list[HeaderState] = []
    rows: list[tuple[int, int, float]] = []
    times = zip(switches, gesture.seconds * 1000, gesture.scroll, strict=True)
    for current, now, scroll in times:
        player.follow(current, float(now), float(scroll))
        states.append(player.at(float(now), float(scroll)))
        rows.append(player.looks())
    before, look, progress = (np.array(column) for column in zip(*rows, strict=True))
    result = {id(state): state for state in states}
    known = {key: index for index, key in enumerate(result)}
    index = np.array([known[id(state)] for state in states], dtype=np.intp)
    looks = CurrentLooks(before, look, progress)
    indexed = index, tuple(result.values())
    header = header_along(page, switches[0].header, looks, gesture.scroll, indexed)
    room = np.array([state.room for state in header.states])[index]
    return Sweep(page, gesture.scroll, header, room - gesture.scroll)


class _Player:
    """Follows a header through its looks in time."""

    def __init__(self, switches: Switches, scroll: float) -> None:
        self._switches = switches
        # The step by the position alone, which a look that holds in one direction replaces.
        self._below = switches.after(0, scroll)
        look = switches.directed_look
        self._direction = Direction(look.after if look else 0.0, scroll)
        self._place = self._left = self._below
        self._place = self._left = self._step_at(scroll)
        self._plain = all(isinstance(look.fill, Color) for look in switches.header.looks)
        self._share = self._aim = self._target(scroll)
        self._now = 0.0
        self._running: dict[Property, Transition[Any]] = {}
        # A second header on its way: how far it has come, and which step's look it is.
        self._arrival: Transition[float] | None = None
        self._arriving = 0
        self._declared = self._state()

    def follow(self, switches: Switches, now: float, scroll: float) -> None:
        """Go by other switches from now on: those for the slides that are there."""
        if switches is self._switches:
            return
        before = self._values(self._standing())
        look = self._switches.all_steps[self._place].look
        self._switches = switches
        self._below = switches.after(0, scroll)
        self._place = self._left = self._below
        self._place = self._left = self._step_at(scroll)
        if switches.all_steps[self._place].look == look:
            return
        self._share = self._aim = self._target(scroll)
        self._now = now
        self._begin(before, now, self._timing(self._place))

    def at(self, now: float, scroll: float) -> HeaderState:
        """The state at a time in ms and a scroll position; times rise from call to call."""
        self._direction.follow(scroll)
        place = self._step_at(scroll)
        if place != self._place:
            self._turn(place, now, scroll)
        self._follow(now, scroll)
        self._now = now
        self._declared = self._state()
        self._running = {key: item for key, item in self._running.items() if not item.is_over(now)}
        if self._arrival and not self._arrival.is_over(now):
            return self._arrive_over(self._arrival.progress(now))
        self._arrival = None
        if not self._running:
            return self._declared
        seen = values_at(self._values(self._declared), self._running, now)
        return with_values(self._declared, seen)

    def _step_at(self, scroll: float) -> int:
        """The step whose look is current at a position, for a reader who has come there."""
        switches, directed = self._switches, self._switches.directed
        self._below = switches.after(self._below, scroll)
        look = switches.directed_look
        if directed is None or look is None:
            return self._below
        last = len(switches.steps)
        edge = directed.back if self._place == last else directed.start
        holds = self._direction.going == look.going and scroll >= edge
        return last if holds else self._below

    def _before(self, step: int) -> int:
        """The step whose look a step's own replaces."""
        return self._below if step == len(self._switches.steps) else max(step - 1, 0)

    def looks(self) -> tuple[int, int, float]:
        """The look that ends, the one that is current or comes, and its eased share."""
        steps = self._switches.all_steps
        look, left = steps[self._place].look, steps[self._left].look
        if self._arrival:
            share = self._arrival.progress(self._now)
            return left, look, share if self._arriving == self._place else 1 - share
        if self._running:
            return left, look, min(item.progress(self._now) for item in self._running.values())
        share = self._ease()
        before = self._place if share == 1 else self._before(self._place)
        return steps[before].look, look, share

    def _turn(self, index: int, now: float, scroll: float) -> None:
        """Take on the look of another step, at once or over time."""
        upper = max(index, self._place)
        change = self._switches.change_at(upper)
        before = self._values(self._standing())
        self._left, down = self._place, index > self._place
        self._place = index
        lags = isinstance(change, Blend) and change.lag_ms > 0
        self._aim = self._target(scroll)
        self._share = 0.0 if down and lags else self._aim
        self._now = now
        timing = self._timing(upper)
        if self._switches.look_of(upper).arrive:
            ends = (0.0, 1.0) if down else (1.0, 0.0)
            running = self._arrival if self._arriving == upper else None
            self._arrival = changed(running, ends, now, timing, between)
            self._arriving, self._running = upper, {}
            return
        self._begin(before, now, timing)

    def _begin(self, before: Values, now: float, timing: Timing) -> None:
        """Let all that another look declares otherwise change over time."""
        self._declared = self._state()
        after = self._values(self._standing())
        self._arrival = None
        self._running = transitions(self._running, before, after, now, timing)

    def _timing(self, step: int) -> Timing:
        """How long the look of a step takes to come."""
        change = self._switches.change_at(step)
        if isinstance(change, Fade):
            return Timing(change.duration_ms, change.delay_ms, change.easing)
        return Timing(0.0, 0.0, LINEAR)

    def _arrive_over(self, share: float) -> HeaderState:
        """A second header over the first one, part of the way."""
        switches = self._switches
        before = switches.all_steps[self._before(self._arriving)].look
        second = switches.all_steps[self._arriving].look
        return between_looks(
            switches.states[switches.header.standing(before)],
            switches.states[second],
            share,
            switches.header.looks[second].arrive,
        )

    def _standing(self) -> HeaderState:
        """What the header in the flow declares: under a second one, what it had before that."""
        if not self._declared.stays:
            return self._declared
        steps, place = self._switches.all_steps, self._place
        look = steps[self._before(place) if place == len(self._switches.steps) else place].look
        return self._switches.states[self._switches.header.standing(look)]

    def _values(self, state: HeaderState) -> Values:
        return values_of(state, plain=self._plain)

    def _target(self, scroll: float) -> float:
        return float(self._switches.share(self._place, np.array([scroll]))[0])

    def _follow(self, now: float, scroll: float) -> None:
        """Follow the scroll, at once or with a lag: e^-3, or 5 %, is left after its time."""
        target = self._target(scroll)
        change = self._switches.change_at(self._place)
        share = target
        if isinstance(change, Blend) and change.lag_ms > 0:
            # Until now it has followed what the scroll asked for before.
            left = (self._share - self._aim) * math.exp(-3 * (now - self._now) / change.lag_ms)
            share = self._aim if abs(left) < _NEAR else self._aim + left
        self._share, self._aim = share, target

    def _ease(self) -> float:
        return float(self._switches.eased(self._place, np.array([self._share]))[0])

    def _state(self) -> HeaderState:
        """What is declared: the look, or where a blend stands."""
        steps = self._switches.all_steps
        before = steps[self._before(self._place)].look
        return self._switches.state(before, steps[self._place].look, self._ease())


# --- texts that arrive ---------------------------------------------------------------------------


def _arrivals(swept: Sweep, seconds: Floats) -> dict[tuple[str, int], Arrival]:
    """Every text that arrives, by its section and its place there."""
    return {
        (section.name, index): _arrival(section, content, swept.top_of(section), swept, seconds)
        for section in swept.page.sections
        for index, content in enumerate(section.content)
        if content.entrance
    }


def _arrival(
    section: SectionBox,
    content: ContentBox,
    section_top: Floats,
    swept: Sweep,
    seconds: Floats,
) -> Arrival:
    """One text: it sets out when the first px of its place comes onto the screen."""
    screen = swept.page.screen
    entrance = content.entrance
    assert entrance is not None  # noqa: S101 - as the caller has seen
    dx, dy = entrance.x, entrance.y
    left, top = content.motion.origin(section_top, swept.scroll)
    left, top = left + content.box.left, top + content.box.top
    high = np.maximum(np.maximum(top, section_top), 0.0)
    low = np.minimum(
        np.minimum(top + content.box.height, section_top + section.height), screen.height
    )
    edge = min(section.box.left + section.box.width, screen.client_width)
    right = np.minimum(left + content.box.width, edge)
    seen = (low >= high) & (right >= np.maximum(left, max(section.box.left, 0.0)))
    start = float(seconds[np.argmax(seen)]) if seen.any() else math.inf
    passed = np.clip((seconds - start) * 1000 / max(entrance.time_ms, 1e-9), 0.0, 1.0)
    share = np.where(seconds < start, 0.0, entrance.easing(passed))
    opacity = np.clip(entrance.opacity + (1 - entrance.opacity) * share, 0.0, 1.0)
    return Arrival(dx * (1 - share), dy * (1 - share), opacity)
