"""Rules about where and how looks switch."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from rising_lantern.checks.findings import Checked, Finding, Rule, rule
from rising_lantern.checks.stacking import SEEN_PX, covered_by
from rising_lantern.css.numbers import number
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.plan.models.changes import Fade
from rising_lantern.scroll.gestures import RATE, named_gesture
from rising_lantern.scroll.moments import HeaderSweep, Sweep, sweep
from rising_lantern.scroll.playing import play
from rising_lantern.scroll.switches import Switch, Switches
from rising_lantern.solving import least

_COARSE_PX = 8  # between two positions that are looked at before the exact one is
_FURTHEST_PX = 1600  # from a switch that its backdrop is looked for
_MOST_MS = 200.0  # for which a text may be lost in a fade
FADE_STEP_MS = 10
"""From one time of a fade to the next that is tried."""

FRAME_MS = 1000 / RATE


@rule("flicker", "error")
def flicker(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A header in the flow gets shorter where it switches, which undoes the switch.

    The page gets shorter with it, and browsers keep the reader's place by scrolling back: above
    the switch again, the header grows, and so on. Or the reader is thrown to the top, or never
    gets to the end. Measured is by how many px the header gets shorter.
    """
    switches = checked.switches
    if switches is None or not switches.header.in_flow:
        return
    header = switches.header
    for place in range(1, len(switches.steps)):
        before, step = switches.steps[place - 1], switches.steps[place]
        lost = header.room(header.styles[before.look]) - header.room(header.styles[step.look])
        if lost <= 0 or (step.start - step.back >= lost and step.back > 0):
            continue
        ends = checked.box.flow.ends(before.look)
        for kind, first, last in _traps(step, lost, ends, sticks=header.entry.position == "sticky"):
            yield checked.finding(
                of,
                f"{header.name}, look {header.looks[step.look]}",
                at=checked.in_header("looks", header.looks[step.look]),
                scroll=(first, min(last, float(ends))),
                measured=lost,
                limit=0.0,
                message=f"it gets {lost:.0f} px shorter there, and {kind}",
                remedy=_steady(step, lost),
            )


def _traps(
    step: Switch, lost: float, ends: int, *, sticks: bool
) -> Iterator[tuple[str, float, float]]:
    """What goes wrong at a switch, and from where to where."""
    if sticks:
        first, last = (
            max(math.ceil(step.start), math.floor(lost) + 1),
            math.ceil(step.back + lost) - 1,
        )
        if first <= min(last, ends):
            yield "flickers between the looks", float(first), float(last)
        if math.ceil(step.start) <= min(math.floor(lost), ends):
            yield "throws the reader to the top", float(math.ceil(step.start)), float(lost)
    if step.start <= ends < step.start + lost and ends - lost < step.back:
        yield "makes the end of the page unreachable", float(math.ceil(step.start)), float(ends)


def _steady(step: Switch, lost: float) -> str:
    back = math.floor(step.start - lost)
    if back > 0:
        return f"set its 'back' to {back}px, or 'hold-space: true' on the header"
    return f"set 'hold-space: true', or start it at {math.ceil(lost) + 1}px with 'back: 1px'"


@rule("never-seen", "error")
def never_seen(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A look that another one replaces at once: no reader ever sees it.

    Measured is over how many px of scroll it holds.
    """
    switches = checked.switches
    if switches is None or switches.header.entry.under:
        return
    header = switches.header
    for step, following in zip(switches.steps, switches.steps[1:], strict=False):
        first = max(step.start, 0.0)
        # Going back up it is seen where the one after it has ended and it has not.
        seen_up = following.back > max(step.back, 0.0)
        if first > checked.max_scroll or following.start > first or seen_up:
            continue
        look, after = header.looks[step.look], header.looks[following.look]
        yield checked.finding(
            of,
            f"{header.name}, look {look}",
            at=checked.in_header("looks", after, "from"),
            scroll=(first, first),
            measured=0.0,
            limit=1.0,
            message=f"no reader sees it: {after} starts at {max(following.start, 0.0):.0f} px, "
            "where it would",
            remedy=f"start {after} further down the page, or leave {look} out",
        )


@rule("jump", "warning")
def jump(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A header in the flow changes its height where it switches, and the page moves with it.

    Measured is by how many px content moves under the reader.
    """
    switches = checked.switches
    if switches is None or not switches.header.in_flow:
        return
    header = switches.header
    for before, step in zip(switches.steps, switches.steps[1:], strict=False):
        moved = abs(header.room(header.styles[before.look]) - header.room(header.styles[step.look]))
        if moved > SEEN_PX and step.start <= checked.max_scroll:
            yield checked.finding(
                of,
                f"{header.name}, look {header.looks[step.look]}",
                at=checked.in_header("looks", header.looks[step.look]),
                scroll=(max(step.start, 0.0), max(step.start, 0.0)),
                measured=moved,
                limit=0.0,
                message=f"the page moves by {moved:.0f} px where the look starts",
                remedy="set 'hold-space: true' on the header",
            )


@rule("late-switch", "error")
def late_switch(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A look starts only after the backdrop that it is meant for has come under the header.

    The look before cannot be read there, and this one could. Measured is by how many px too late
    it starts.
    """
    for place in _places(checked):
        step, (before, after) = _step(checked, place)
        last = math.ceil(step.start) - 1
        lost = _walk(checked, (before, after), range(last, -1, -_COARSE_PX))
        if lost is not None:
            yield _mistimed(
                checked, of, place, (float(lost), float(last)), "after", step.start - lost
            )


@rule("early-switch", "error")
def early_switch(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A look starts before the backdrop that it is meant for is under the header.

    It cannot be read there yet, and the look before still could. Measured is by how many px too
    early it starts.
    """
    for place in _places(checked):
        step, (before, after) = _step(checked, place)
        first = math.ceil(step.start + step.blend)
        lost = _walk(checked, (after, before), range(first, checked.max_scroll + 1, _COARSE_PX))
        if lost is not None:
            yield _mistimed(
                checked, of, place, (float(first), float(lost)), "before", lost + 1 - first
            )


def _places(checked: Checked) -> Iterator[int]:
    """The steps that a reader comes to."""
    steps = checked.switches.steps if checked.switches else ()
    yield from (
        place for place in range(1, len(steps)) if 0 < steps[place].start <= checked.max_scroll
    )


def _step(checked: Checked, place: int) -> tuple[Switch, tuple[Switches, Switches]]:
    """A step, and the header as if it wore the look before it, or its own, everywhere."""
    switches = checked.switches
    assert switches is not None  # noqa: S101 - places are of a header only
    pair = [
        replace(switches, steps=(Switch(step.look, -math.inf, -math.inf, 0.0),))
        for step in switches.steps[place - 1 : place + 1]
    ]
    return switches.steps[place], (pair[0], pair[1])


def _walk(checked: Checked, worn: tuple[Switches, Switches], positions: range) -> int | None:
    """How far from a switch the look that is worn cannot be read, and the other one could.

    Returns:
        The last position of that stretch, to the px; None where there is none, or where it goes
        on to the end of the page, so that there is nowhere that the look could start instead.
    """
    positions = positions[: _FURTHEST_PX // _COARSE_PX]
    found, ends = None, False
    for position in positions:
        if not _swaps(checked, worn, position):
            ends = True
            break
        found = position
    if found is None or not ends:
        return None
    way = 1 if positions.step > 0 else -1
    for position in range(found + way, found + way * _COARSE_PX, way):
        inside = 0 <= position <= checked.max_scroll
        if not inside or not _swaps(checked, worn, position):
            break
        found = position
    return found


def _swaps(checked: Checked, worn: tuple[Switches, Switches], position: int) -> bool:
    """Whether at a position one look cannot be read, and the other can."""
    return not _reads(checked, worn[0], position) and _reads(checked, worn[1], position)


def _reads(checked: Checked, switches: Switches, position: int) -> bool:
    """Whether every part of a header can be read that its own looks do not leave behind.

    Logos do not count, nor does a header that something covers.
    """
    swept = sweep(checked.box, switches, np.array([float(position)]))
    if covered_by(checked, swept)[0] > SEEN_PX:
        return True
    header = switches.header
    look = switches.steps[0].look
    return all(
        not contrast[0] < checked.limit(name, header.styles[look])
        for name, contrast in checked.contrasts(swept).items()
        if not header.entry.parts[name].logo
        and (header.looks[look], name) not in checked.left_behind
    )


def _mistimed(
    checked: Checked,
    of: Rule,
    place: int,
    scroll: tuple[float, float],
    when: str,
    by: float,
) -> Finding:
    switches = checked.switches
    assert switches is not None  # noqa: S101 - as above
    step = switches.steps[place]
    name = switches.header.looks[step.look]
    right = scroll[0] if when == "after" else scroll[1] + 1
    way = "earlier" if when == "after" else "later"
    return checked.finding(
        of,
        f"{switches.header.name}, look {name}",
        at=checked.in_header("looks", name, "from"),
        scroll=scroll,
        measured=by,
        limit=0.0,
        message=f"{name} starts {by:.0f} px {when} its backdrop is under the header",
        remedy=f"start it at {right:.0f} px, {by:.0f} px {way}",
    )


@rule("slow-change", "warning")
def slow_change(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A fade is so slow that a reader who flicks is past it with a text that cannot be read.

    Measured is for how many ms of a flick a part stays under its limit while a fade is on its way.
    """
    switches = checked.switches
    if switches is None:
        return
    for place in range(1, len(switches.steps)):
        change = switches.change_at(place)
        if isinstance(change, Fade) and switches.steps[place].start <= checked.max_scroll:
            break
    else:
        return
    gesture = named_gesture("flick", checked.max_scroll, checked.box.screen.height)
    swept = play(checked.box, switches, gesture)
    header = swept.header
    if header is None:
        return
    run, end = _longest(_lost_in_fades(checked, swept, header))
    took = run * FRAME_MS
    if took > _MOST_MS:
        look = header.box.looks[header.look[end]]
        yield checked.finding(
            of,
            f"{header.box.name}, look {look}",
            at=checked.in_header("looks", look, "change"),
            scroll=(float(swept.scroll[end - run + 1]), float(swept.scroll[end])),
            measured=took,
            limit=_MOST_MS,
            message=f"during a flick a part cannot be read for {took:.0f} ms of the fade",
            remedy=_quicker(checked, header.box, look),
        )


def _quicker(checked: Checked, header: HeaderBox, look: str) -> str:
    """The longest time of a fade, in steps of 10 ms, in which no part is lost for too long."""
    change = header.entry.change_to(look)
    assert isinstance(change, Fade)  # noqa: S101 - parts are lost in fades only

    def passes(step: int) -> bool:
        shorter = replace(change, duration_ms=max(change.duration_ms - step * FADE_STEP_MS, 0.0))
        return _lost_ms(checked, look, shorter) <= _MOST_MS

    step = least(passes, 0, math.ceil(change.duration_ms / FADE_STEP_MS))
    if step is None:
        return "let the looks change by 'cut', or lay more of a colour under the part"
    return f"let it take {number(max(change.duration_ms - step * FADE_STEP_MS, 0.0))}ms"


def _lost_ms(checked: Checked, look: str, change: Fade) -> float:
    """For how many ms a part is lost at the most, if a look came by another change."""
    switches = checked.switches
    assert switches is not None  # noqa: S101 - it has a look that changes
    entry = switches.header.entry
    looks = {**entry.looks, look: entry.look(look).model_copy(update={"change": change})}
    other = replace(switches.header, entry=entry.model_copy(update={"looks": looks}))
    gesture = named_gesture("flick", checked.max_scroll, checked.box.screen.height)
    swept = play(checked.box, replace(switches, header=other), gesture)
    if swept.header is None:
        return 0.0
    return _longest(_lost_in_fades(checked, swept, swept.header))[0] * FRAME_MS


def _lost_in_fades(checked: Checked, swept: Sweep, header: HeaderSweep) -> np.ndarray:
    """At which instants a part is under its limit while a fade is on its way."""
    fading = np.flatnonzero(header.progress < 1)
    lost = np.zeros(len(swept), dtype=bool)
    if not fading.size:
        return lost
    some = replace(
        swept,
        scroll=swept.scroll[fading],
        shift=swept.shift[fading],
        header=_taken(header, fading),
        arrivals={},
    )
    for name, contrast in checked.contrasts(some).items():
        if header.box.entry.parts[name].logo:
            continue
        limits = np.array([checked.limit(name, style) for style in header.styles])
        lost[fading] |= contrast < limits[header.style[fading]]
    return lost


def _taken(header: HeaderSweep, places: np.ndarray) -> HeaderSweep:
    arrays = ("before", "look", "progress", "style", "top", "height", "own_top")
    return replace(header, **{name: getattr(header, name)[places] for name in arrays})


def _longest(flags: np.ndarray) -> tuple[int, int]:
    """How many flags in a row are set at most, and where that row ends."""
    best, end, run = 0, 0, 0
    for place, flag in enumerate(flags):
        run = run + 1 if flag else 0
        if run > best:
            best, end = run, place
    return best, end
