"""Which scroll positions a filmstrip shows."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from rising_lantern.layout.headers import Going
from rising_lantern.layout.pages import PageBox
from rising_lantern.scroll.moments import sweep
from rising_lantern.scroll.switches import Switches

MOST_FRAMES = 24
"""As many frames a filmstrip has."""

_HALF, _MOVING = "half-way through", " moving"


@dataclass(frozen=True, slots=True)
class Stop:
    """A scroll position worth looking at.

    Attributes:
        scroll_px: The position, whole px.
        reasons: Why, in a few words each.
        going: The way in which the reader comes there.
    """

    scroll_px: int
    reasons: tuple[str, ...]
    going: Going = "down"


def stops_of(
    page: PageBox, switches: Switches | None, max_scroll: int, others: Sequence[Stop] = ()
) -> tuple[Stop, ...]:
    """The positions of a page that are worth looking at.

    The top, just before and after each switch, where a sticky header lets go, half-way through
    each section and, where layers move in it, a quarter of a screen before and after that, and
    the end.

    Args:
        page: The page at a viewport.
        switches: Where its header switches, or None without a header.
        max_scroll: The last scroll position, in px.
        others: More positions, such as those where something is wrong.
    """
    found: dict[int, list[str]] = {0: ["top of the page"]}

    def add(scroll: float, reason: str) -> None:
        if 0 <= scroll <= max_scroll:
            found.setdefault(int(scroll), []).append(reason)

    if switches:
        for index in range(1, len(switches.steps)):
            _add_switch(switches, index, add)
        _add_end_of_stick(page, switches, max_scroll, add)
    for stop in others:
        for reason in stop.reasons:
            add(stop.scroll_px, reason)
    _add_sections(page, switches, max_scroll, add)
    if max_scroll:
        found.setdefault(max_scroll, []).append("end of the page")
    stops = [Stop(scroll, tuple(dict.fromkeys(reasons))) for scroll, reasons in found.items()]
    return tuple(
        sorted([*stops, *_stops_going_up(switches)], key=lambda stop: (stop.scroll_px, stop.going))
    )


def _stops_going_up(switches: Switches | None) -> Iterator[Stop]:
    """Where a look for readers who go up is seen, which no reader sees who goes down."""
    look = switches.directed_look if switches else None
    place = switches.directed_place if switches else None
    if look is not None and look.going == "up" and place is not None:
        yield Stop(place, (f"{look.name}, going up",), "up")


def fewer(stops: Sequence[Stop], most: int) -> tuple[Stop, ...]:
    """At most a number of the stops: both ends, the switches, and others evenly spread.

    Args:
        stops: From the top of the page to its end.
        most: How many may be left, two at least.
    """
    if len(stops) <= most:
        return tuple(stops)
    inner = stops[1:-1]
    switching = [stop for stop in inner if not all(map(_is_along, stop.reasons))]
    others = [stop for stop in inner if stop not in switching]
    kept = _spread_evenly(switching, most - 2)
    kept += _spread_evenly(others, most - 2 - len(kept))
    return stops[0], *sorted(kept, key=lambda stop: stop.scroll_px), stops[-1]


def _is_along(reason: str) -> bool:
    """Whether a reason only shows what a section does along the scroll."""
    return reason.startswith(_HALF) or reason.endswith(_MOVING)


def _spread_evenly(stops: Sequence[Stop], count: int) -> list[Stop]:
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
        if any(layer.moves for layer in section.layers):
            quarter = page.screen.height / 4
            for place in (middle - quarter, middle + quarter):
                if 0 < place < max_scroll:
                    add(round(place), f"{section.name}{_MOVING}")


def _add_end_of_stick(
    page: PageBox, switches: Switches, max_scroll: int, add: Callable[[float, str], None]
) -> None:
    """Where a sticky header starts to leave with what it is in."""
    header = page.header
    if header is None or not header.sticks_within:
        return
    swept = sweep(page, switches, np.arange(max_scroll + 1, dtype=np.float64))
    if swept.header and swept.header.leaves_at is not None:
        add(swept.header.leaves_at, "the header lets go")
