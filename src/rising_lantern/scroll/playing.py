"""A view in time: what a reader sees at each instant while a gesture is played.

Looks switch at the scroll's own positions; what fades between them follows CSS Transitions, each
property by itself, and turns round where the reader does.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.colors import Color
from rising_lantern.css.easings import LINEAR
from rising_lantern.css.transitions import Timing, Transition, changed
from rising_lantern.layout.headers import LookStyle, between, mix_looks
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.screen import Screen, font_px
from rising_lantern.layout.sections import ContentBox, SectionBox
from rising_lantern.plan.models.changes import Blend, Fade
from rising_lantern.plan.models.content import Enter
from rising_lantern.scroll.gestures import Gesture
from rising_lantern.scroll.moments import Arrival, Sweep, sweep, worn_header
from rising_lantern.scroll.properties import (
    Property,
    Values,
    transitions,
    values_at,
    values_of,
    with_values,
)
from rising_lantern.scroll.switches import Switches, Worn

Floats = NDArray[np.float64]

_NEAR = 1e-3  # of a way: nothing of the rest is to be seen


def play(page: PageBox, switches: Switches | None, gesture: Gesture) -> Sweep:
    """Play a gesture.

    Args:
        page: The page at a viewport.
        switches: Where its header switches, or None without a header.
        gesture: Times and scroll positions.

    Returns:
        A sweep whose positions are the gesture's instants.
    """
    swept = sweep(page, None, gesture.scroll)
    if switches is not None:
        swept = _with_header(page, switches, gesture)
    return replace(swept, arrivals=_arrivals(swept, gesture.seconds))


def _with_header(page: PageBox, switches: Switches, gesture: Gesture) -> Sweep:
    player = _Player(switches, float(gesture.scroll[0]))
    styles: list[LookStyle] = []
    rows: list[tuple[int, int, float]] = []
    for now, scroll in zip(gesture.seconds * 1000, gesture.scroll, strict=True):
        styles.append(player.at(float(now), float(scroll)))
        rows.append(player.worn())
    before, look, progress = (np.array(column) for column in zip(*rows, strict=True))
    made = {id(style): style for style in styles}
    places = {key: place for place, key in enumerate(made)}
    index = np.array([places[id(style)] for style in styles], dtype=np.intp)
    worn = Worn(before, look, progress)
    box = switches.header
    header = worn_header(page, box, worn, gesture.scroll, (index, tuple(made.values())))
    room = np.array([box.room(style) for style in header.styles])[index]
    return Sweep(page, gesture.scroll, header, room - gesture.scroll)


class _Player:
    """Wears a header's looks in time."""

    def __init__(self, switches: Switches, scroll: float) -> None:
        self._switches = switches
        self._place = self._left = switches.after(0, scroll)
        self._plain = all(isinstance(one.fills[0], Color) for one in switches.header.styles)
        self._share = self._aim = self._target(scroll)
        self._now = 0.0
        self._running: dict[Property, Transition[Any]] = {}
        # A second header on its way: how far it has come, and which step's look it is.
        self._arrival: Transition[float] | None = None
        self._arriving = 0
        self._declared = self._style()

    def at(self, now: float, scroll: float) -> LookStyle:
        """What is seen at a time in ms and a scroll position; both are told in order."""
        place = self._switches.after(self._place, scroll)
        if place != self._place:
            self._turn(place, now, scroll)
        self._follow(now, scroll)
        self._now = now
        self._declared = self._style()
        self._running = {key: one for key, one in self._running.items() if not one.is_over(now)}
        if self._arrival and not self._arrival.is_over(now):
            return self._arrived(self._arrival.progress(now))
        self._arrival = None
        if not self._running:
            return self._declared
        seen = values_at(self._values(self._declared), self._running, now)
        return with_values(self._declared, seen)

    def worn(self) -> tuple[int, int, float]:
        """The look that is left, the one that is worn or comes, and its eased share."""
        steps = self._switches.steps
        look, left = steps[self._place].look, steps[self._left].look
        if self._arrival:
            share = self._arrival.progress(self._now)
            return left, look, share if self._arriving == self._place else 1 - share
        if self._running:
            return left, look, min(one.progress(self._now) for one in self._running.values())
        share = self._eased()
        before = self._place if share == 1 else max(self._place - 1, 0)
        return steps[before].look, look, share

    def _turn(self, place: int, now: float, scroll: float) -> None:
        """Take on the look of another step, at once or over time."""
        upper = max(place, self._place)
        change = self._switches.change_at(upper)
        before = self._values(self._standing())
        self._left, down = self._place, place > self._place
        self._place = place
        lags = isinstance(change, Blend) and change.smooth_ms > 0
        self._aim = self._target(scroll)
        self._share = 0.0 if down and lags else self._aim
        self._now = now
        timing = Timing(0.0, 0.0, LINEAR)
        if isinstance(change, Fade):
            timing = Timing(change.duration_ms, change.delay_ms, change.easing)
        if self._switches.header.arrival(self._switches.steps[upper].look):
            ends = (0.0, 1.0) if down else (1.0, 0.0)
            running = self._arrival if self._arriving == upper else None
            self._arrival = changed(running, ends, now, timing, between)
            self._arriving, self._running = upper, {}
            return
        self._declared = self._style()
        after = self._values(self._standing())
        self._arrival = None
        self._running = transitions(self._running, before, after, now, timing)

    def _arrived(self, share: float) -> LookStyle:
        """A second header over the first one, part of the way."""
        header, steps = self._switches.header, self._switches.steps
        first = header.styles[header.standing(steps[max(self._arriving - 1, 0)].look)]
        second = steps[self._arriving].look
        return mix_looks(first, header.styles[second], share, header.arrival(second))

    def _standing(self) -> LookStyle:
        """What the header in the flow declares: under a second one, what it had before that."""
        header, look = self._switches.header, self._switches.steps[self._place].look
        return header.styles[header.standing(look)] if self._declared.stays else self._declared

    def _values(self, style: LookStyle) -> Values:
        return values_of(style, plain=self._plain)

    def _target(self, scroll: float) -> float:
        return float(self._switches.share(self._place, np.array([scroll]))[0])

    def _follow(self, now: float, scroll: float) -> None:
        """Follow the scroll, at once or with a lag: e^-3, or 5 %, is left after its time."""
        target = self._target(scroll)
        change = self._switches.change_at(self._place)
        share = target
        if isinstance(change, Blend) and change.smooth_ms > 0:
            # Until now it has followed what the scroll asked for before.
            left = (self._share - self._aim) * math.exp(-3 * (now - self._now) / change.smooth_ms)
            share = self._aim if abs(left) < _NEAR else self._aim + left
        self._share, self._aim = share, target

    def _eased(self) -> float:
        return float(self._switches.eased(self._place, np.array([self._share]))[0])

    def _style(self) -> LookStyle:
        """What is declared: the look, or where a blend stands."""
        steps = self._switches.steps
        before = steps[max(self._place - 1, 0)].look
        return self._switches.header.coming(before, steps[self._place].look, self._eased())


# --- texts that arrive ---------------------------------------------------------------------------


def _arrivals(swept: Sweep, seconds: Floats) -> dict[tuple[str, int], Arrival]:
    """Every text that arrives, by its section and its place there."""
    return {
        (section.name, index): _arrival(section, content, swept.top_of(section), swept, seconds)
        for section in swept.page.sections
        for index, content in enumerate(section.content)
        if content.entry.enter
    }


def _arrival(
    section: SectionBox,
    content: ContentBox,
    section_top: Floats,
    swept: Sweep,
    seconds: Floats,
) -> Arrival:
    """One text: it sets out when the first px of it, where it waits, comes onto the screen."""
    screen = swept.page.screen
    enter = content.entry.enter or Enter()
    dx, dy = _offset(content, enter, screen)
    left, top = content.motion.origin(section_top, swept.scroll)
    left, top = left + content.box.left + dx, top + content.box.top + dy
    high = np.maximum(np.maximum(top, section_top), 0.0)
    low = np.minimum(
        np.minimum(top + content.box.height, section_top + section.height), screen.height
    )
    edge = min(section.box.left + section.box.width, screen.client_width)
    right = np.minimum(left + content.box.width, edge)
    seen = (low >= high) & (right >= np.maximum(left, max(section.box.left, 0.0)))
    start = float(seconds[np.argmax(seen)]) if seen.any() else math.inf
    passed = np.clip((seconds - start) * 1000 / max(enter.time, 1e-9), 0.0, 1.0)
    share = np.where(seconds < start, 0.0, enter.easing(passed))
    opacity = np.clip(enter.opacity + (1 - enter.opacity) * share, 0.0, 1.0)
    return Arrival(dx * (1 - share), dy * (1 - share), opacity)


def _offset(content: ContentBox, enter: Enter, screen: Screen) -> tuple[float, float]:
    size = font_px(content.entry.size, screen)
    whole = (content.box.width, content.box.height)
    x, y = (
        length.px(screen.basis(whole=side, font_size=size))
        for length, side in zip((enter.x, enter.y), whole, strict=True)
    )
    return x, y
