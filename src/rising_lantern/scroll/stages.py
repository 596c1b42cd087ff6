"""The stages of each switch of a header: before it, half-way through it, and after it."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from rising_lantern.layout.headers import Going
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.models.changes import Fade
from rising_lantern.scroll.gestures import RATE, recorded_gesture
from rising_lantern.scroll.moments import Sweep, sweep
from rising_lantern.scroll.playing import play
from rising_lantern.scroll.switches import Switches

Kind = Literal["at the top", "before", "half-way", "after"]


@dataclass(frozen=True, eq=False)
class Stage:
    """A header at one stage of a switch.

    Attributes:
        look: The look that starts at the switch.
        kind: Which stage it is; ``at the top`` for a header that never switches.
        scroll_px: The scroll position, whole px.
        swept: A sweep that has the stage.
        index: Which of the sweep's positions it is.
        going: The way in which the reader goes, where that matters.
    """

    look: str
    kind: Kind
    scroll_px: int
    swept: Sweep
    index: int
    going: Going | None = None


def stages_of(page: PageBox, switches: Switches | None, max_scroll: int) -> tuple[Stage, ...]:
    """The stages of all switches that a reader reaches going down; none without a header.

    Args:
        page: The page at a viewport.
        switches: Where its header switches, or None without a header.
        max_scroll: The last scroll position, in px.
    """
    if switches is None:
        return ()
    found = [
        stage
        for step in range(1, len(switches.steps))
        for stage in _stages_at(page, switches, step, max_scroll)
    ]
    directed = list(_directional_stages(page, switches))
    if directed and not found:
        found.append(_at_rest(page, switches, switches.look_of(0).name, "at the top", 0))
    found += directed
    return tuple(found) or (_at_rest(page, switches, switches.look_of(0).name, "at the top", 0),)


def _stages_at(page: PageBox, switches: Switches, step: int, max_scroll: int) -> Iterator[Stage]:
    switch, look = switches.steps[step], switches.look_of(step)
    start = max(math.ceil(switch.start), 0)
    if start > max_scroll:
        return
    if start > 0:
        yield _at_rest(page, switches, look.name, "before", start - 1)
    if switch.blend > 1:
        middle = min(math.ceil(switch.start + switch.blend / 2), max_scroll)
        yield _at_rest(page, switches, look.name, "half-way", middle)
    elif isinstance(look.change, Fade) and start > 0:
        yield _half_faded(page, switches, step, max_scroll)
    complete = min(math.ceil(switch.start + switch.blend), max_scroll)
    yield _at_rest(page, switches, look.name, "after", complete)


def _directional_stages(page: PageBox, switches: Switches) -> Iterator[Stage]:
    """The look that holds in one direction, before and after a reader turns round."""
    look, place = switches.directed_look, switches.directed_place
    if look is None or place is None:
        return
    upward = look.going == "up"
    stages: tuple[tuple[Kind, Going], ...] = (
        ("before", "down" if upward else "up"),
        ("after", "up" if upward else "down"),
    )
    for kind, going in stages:
        swept = sweep(page, switches, np.array([float(place)]), going)
        yield Stage(look.name, kind, place, swept, 0, going)


def _at_rest(page: PageBox, switches: Switches, look: str, kind: Kind, scroll: int) -> Stage:
    return Stage(look, kind, scroll, sweep(page, switches, np.array([float(scroll)])), 0)


def _half_faded(page: PageBox, switches: Switches, step: int, max_scroll: int) -> Stage:
    """The picture of the screen, of 60 a second, that is nearest to half of the change."""
    look, start = switches.look_of(step), math.ceil(switches.steps[step].start)
    change = look.change
    assert isinstance(change, Fade)  # noqa: S101 - as the caller has seen
    seconds = (change.delay_ms + change.duration_ms) / 1000 + 2 / RATE
    before = 1 / RATE
    path = [(0.0, start - 1.0), (before, start - 1.0), (before, float(start))]
    path.append((before + seconds, float(start)))
    swept = play(page, switches, recorded_gesture(path, max_scroll))
    header = swept.header
    assert header is not None  # noqa: S101 - it has switches
    crossed = np.flatnonzero(swept.scroll >= start)
    nearest = int(crossed[np.argmin(np.abs(header.progress[crossed] - 0.5))])
    return Stage(look.name, "half-way", start, swept, nearest)
