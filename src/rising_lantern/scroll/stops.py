"""Which scroll positions a filmstrip shows."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

from rising_lantern.layout.pages import PageBox
from rising_lantern.scroll.moments import sweep
from rising_lantern.scroll.switches import Switches

MOST_FRAMES = 24
"""As many frames a filmstrip has."""

_HALF = "half-way through"


@dataclass(frozen=True, slots=True)
class Stop:
    """A scroll position worth looking at.

    Attributes:
        scroll_px: The position, whole px.
        reasons: Why, in a few words each.
    """

    scroll_px: int
    reasons: tuple[str, ...]


def stops_of(page: PageBox, switches: Switches | None, max_scroll: int) -> tuple[Stop, ...]:
    """The top, just before and after each switch, half-way through each section, and the end."""
    found: dict[int, list[str]] = {0: ["top of the page"]}

    def add(scroll: float, reason: str) -> None:
        if 0 <= scroll <= max_scroll:
            found.setdefault(int(scroll), []).append(reason)

    if switches:
        for index in range(1, len(switches.steps)):
            _add_switch(switches, index, add)
    _add_sections(page, switches, max_scroll, add)
    if max_scroll:
        found.setdefault(max_scroll, []).append("end of the page")
    return tuple(Stop(scroll, tuple(dict.fromkeys(found[scroll]))) for scroll in sorted(found))


def fewer(stops: Sequence[Stop], most: int) -> tuple[Stop, ...]:
    """At most a number of the stops: both ends, the switches, and others evenly spread.

    Args:
        stops: From the top of the page to its end.
        most: How many may be left, two at least.
    """
    if len(stops) <= most:
        return tuple(stops)
    inner = stops[1:-1]
    switching = [
        stop for stop in inner if not all(reason.startswith(_HALF) for reason in stop.reasons)
    ]
    others = [stop for stop in inner if stop not in switching]
    kept = _spread(switching, most - 2)
    kept += _spread(others, most - 2 - len(kept))
    return stops[0], *sorted(kept, key=lambda stop: stop.scroll_px), stops[-1]


def _spread(stops: Sequence[Stop], count: int) -> list[Stop]:
    """A number of the stops, evenly spread."""
    if len(stops) <= count:
        return list(stops)
    places = [round((index + 0.5) * len(stops) / count - 0.5) for index in range(count)]
    return [stops[position] for position in places]


def _add_switch(switches: Switches, index: int, add: Callable[[float, str], None]) -> None:
    """Just before and after a switch; for a blend also half-way and where it is complete."""
    step = switches.steps[index]
    look = switches.look_of(index)
    name = look.name
    words = f": {look.start.text}" if look.start else ""
    start, blend = step.start, step.blend
    first = math.ceil(start)
    if first > 0:
        add(first - 1, f"just before {name}")
    add(first, f"{name} starts{words}")
    if blend > 1:
        add(math.ceil(start + blend / 2), f"half-way to {name}")
        add(math.ceil(start + blend), f"{name} complete")


def _add_sections(
    page: PageBox, switches: Switches | None, max_scroll: int, add: Callable[[float, str], None]
) -> None:
    """Where a section's middle is in the middle of the screen, or as near as the page lets it."""
    swept = sweep(page, switches, np.zeros(1))
    for section in page.sections:
        middle = float(swept.top_of(section)[0]) + section.height / 2 - page.screen.height / 2
        if 0 < middle < max_scroll:
            add(round(middle), f"{_HALF} {section.name}")
