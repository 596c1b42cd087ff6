"""Rules about where and how looks switch."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from rising_lantern.base.arrays import Flags
from rising_lantern.base.solving import least
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.remedies import Remedy
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.stacking import SEEN_PX, covered_by
from rising_lantern.checks.starts import moved_start
from rising_lantern.checks.subjects import Subject
from rising_lantern.css.numbers import number
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.plan.models.changes import Change, Fade, in_time, time_of
from rising_lantern.scroll.gestures import RATE, named_gesture
from rising_lantern.scroll.moments import HeaderSweep, Sweep, sweep
from rising_lantern.scroll.playing import play
from rising_lantern.scroll.switches import Switch, Switches

_COARSE_PX = 8  # between two positions that are tried before the exact one
_FURTHEST_PX = 1600  # from a switch that its backdrop is looked for
_MOST_MS = 200.0  # for which a text may be lost in a fade
FADE_STEP_MS = 10
"""From one time of a fade to the next that is tried."""

FRAME_MS = 1000 / RATE


@check_rule("flicker", "error")
def flicker(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A header in the flow gets shorter when it switches, and that undoes the switch.

    The page gets shorter with it, and browsers scroll back to keep the reader's place: above
    the switch again, the header grows, and so on. Or the reader is thrown to the top, or never
    reaches the end. Measured: how many px shorter the header gets.
    """
    switches = context.switches
    if switches is None or not switches.header.in_flow:
        return
    header = switches.header
    for index in range(1, len(switches.steps)):
        before, step = switches.steps[index - 1], switches.steps[index]
        lost = header.room_in(before.look) - header.room_in(step.look)
        if lost <= 0 or (step.start - step.back >= lost and step.back > 0):
            continue
        ends = context.box.flow.ends(before.look)
        for kind, first, last in _traps(step, lost, ends, sticks=header.position == "sticky"):
            yield rule.finding(
                context,
                Subject(header=header.name, look=header.looks[step.look].name),
                scroll=(first, min(last, float(ends))),
                measured=lost,
                limit=0.0,
                message=f"it gets {lost:.0f} px shorter there, and {kind}",
                remedy=_steady(context, header, step, lost),
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


def _steady(context: CheckContext, header: HeaderBox, step: Switch, lost: float) -> Remedy:
    """What keeps a header's change of height from undoing its switch."""
    holds = context.setting(("headers", header.name, "hold-space"), "true")
    back = math.floor(step.start - lost)
    if back <= 0:
        later = math.ceil(lost) + 1
        words = f"set 'hold-space: true', or start it at {later}px with 'back: 1px'"
        return Remedy(words, (holds,))
    value, path = f"{back}px", ("headers", header.name, "looks", header.looks[step.look].name)
    words = f"set its 'back' to {value}, or 'hold-space: true' on the header"
    return Remedy(words, (context.setting((*path, "back"), value), holds))


@check_rule("never-seen", "error")
def never_seen(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A look is replaced by another one at once, so that no reader sees it.

    Measured: the px of scroll over which it is current.
    """
    switches = context.switches
    if switches is None or switches.header.by_tone:
        return
    header = switches.header
    for step, following in zip(switches.steps, switches.steps[1:], strict=False):
        first = max(step.start, 0.0)
        # Going back up it is seen where the one after it has ended and it has not.
        seen_up = following.back > max(step.back, 0.0)
        if first > context.max_scroll or following.start > first or seen_up:
            continue
        look, after = header.look_names[step.look], header.look_names[following.look]
        yield rule.finding(
            context,
            Subject(header=header.name, look=look),
            path=("headers", header.name, "looks", after, "from"),
            scroll=(first, first),
            measured=0.0,
            limit=1.0,
            message=f"readers never see it: {after} already starts "
            f"at {max(following.start, 0.0):.0f} px, "
            "at the same place or before",
            remedy=f"start {after} further down the page, or remove {look}",
        )


@check_rule("jump", "warning")
def jump(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A header in the flow changes its height when it switches, and the page moves with it.

    Measured: how many px the content moves.
    """
    switches = context.switches
    if switches is None or not switches.header.in_flow:
        return
    header = switches.header
    for before, step in zip(switches.steps, switches.steps[1:], strict=False):
        moved = abs(header.room_in(before.look) - header.room_in(step.look))
        if moved > SEEN_PX and step.start <= context.max_scroll:
            yield rule.finding(
                context,
                Subject(header=header.name, look=header.looks[step.look].name),
                scroll=(max(step.start, 0.0), max(step.start, 0.0)),
                measured=moved,
                limit=0.0,
                message=f"the page moves by {moved:.0f} px when the look starts",
                remedy=context.remedy(
                    "set 'hold-space: true' on the header",
                    ("headers", header.name, "hold-space"),
                    "true",
                ),
            )


@check_rule("late-switch", "error")
def late_switch(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A look starts after its backdrop has come under the header.

    The look before cannot be read there, and this one could. The backdrop is the section that
    is under the header where the look starts. Measured: how many px too late it starts.
    """
    for place in _places(context):
        step, (before, after) = _step(context, place)
        last = math.ceil(step.start) - 1
        first = _backdrop_comes(context, before, step.start)
        positions = range(last, first - 1, -_COARSE_PX)
        lost = _walk(context, (before, after), positions, ends=first > 0)
        if lost is not None:
            yield _late_parts(
                context, rule, place, (float(lost), float(last)), "after", step.start - lost
            )


@check_rule("early-switch", "error")
def early_switch(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A look starts before its backdrop is under the header.

    It cannot be read there yet, and the look before still could. Measured: how many px too
    early it starts.
    """
    for place in _places(context):
        step, (before, after) = _step(context, place)
        first = math.ceil(step.start + step.blend)
        positions = range(first, context.max_scroll + 1, _COARSE_PX)
        lost = _walk(context, (after, before), positions)
        if lost is not None:
            yield _late_parts(
                context, rule, place, (float(first), float(lost)), "before", lost + 1 - first
            )


def _backdrop_comes(context: CheckContext, before: Switches, start: float) -> int:
    """The first position at which what is under a header where it switches has come under it."""
    scroll = np.arange(math.ceil(start) + 1, dtype=np.float64)
    swept = sweep(context.box, before, scroll)
    assert swept.header is not None  # noqa: S101 - it is a header that switches
    edge = swept.header.top + swept.header.height + SEEN_PX
    tops = [(swept.top_of(section), section.height) for section in context.box.sections]
    under = [(top <= edge) & (edge < top + height) for top, height in tops]
    here = next((flags for flags in under if flags[-1]), np.ones_like(edge, dtype=np.bool_))
    apart = np.flatnonzero(~here)
    return int(apart[-1]) + 1 if apart.size else 0


def _places(context: CheckContext) -> Iterator[int]:
    """The steps that a reader reaches."""
    steps = context.switches.steps if context.switches else ()
    yield from (
        index for index in range(1, len(steps)) if 0 < steps[index].start <= context.max_scroll
    )


def _step(context: CheckContext, index: int) -> tuple[Switch, tuple[Switches, Switches]]:
    """A step, and the header as if it had the look before it, or its own, everywhere."""
    switches = context.switches
    assert switches is not None  # noqa: S101 - places are of a header only
    pair = [
        replace(switches, steps=(Switch(step.look, -math.inf, -math.inf, 0.0),))
        for step in switches.steps[index - 1 : index + 1]
    ]
    return switches.steps[index], (pair[0], pair[1])


def _walk(
    context: CheckContext,
    pair: tuple[Switches, Switches],
    positions: range,
    *,
    ends: bool = False,
) -> int | None:
    """How far from a switch the current look cannot be read, and the other one could.

    Args:
        context: The page at its viewport.
        pair: The header in the current look, and in the other one.
        positions: Where to look, from the switch on.
        ends: Whether the stretch ends where the positions do.

    Returns:
        The last position of that stretch, to the px; None where there is none, or where it goes
        on to the end of the page, so that there is nowhere that the look could start instead.
    """
    positions = positions[: _FURTHEST_PX // _COARSE_PX]
    found = None
    for position in positions:
        if not _swaps(context, pair, position):
            ends = True
            break
        found = position
    if found is None or not ends:
        return None
    way = 1 if positions.step > 0 else -1
    for position in range(found + way, found + way * _COARSE_PX, way):
        inside = 0 <= position <= context.max_scroll
        if not inside or not _swaps(context, pair, position):
            break
        found = position
    return found


def _swaps(context: CheckContext, pair: tuple[Switches, Switches], position: int) -> bool:
    """Whether at a position one look cannot be read, and the other can."""
    return not _reads(context, pair[0], position) and _reads(context, pair[1], position)


def _reads(context: CheckContext, switches: Switches, position: int) -> bool:
    """Whether every part of a header can be read that its own looks do not leave behind.

    Logos do not count, nor does a header that something covers.
    """
    swept = sweep(context.box, switches, np.array([float(position)]))
    if covered_by(context, swept)[0] > SEEN_PX:
        return True
    header = switches.header
    look = switches.steps[0].look
    return all(
        not contrast[0] < context.limit(name, header.looks[look].styles[name])
        for name, contrast in context.contrasts(swept).items()
        if not header.parts[name].is_logo
        and (header.look_names[look], name) not in context.left_behind
    )


def _late_parts(
    context: CheckContext,
    rule: Rule,
    index: int,
    scroll: tuple[float, float],
    when: str,
    by: float,
) -> Finding:
    switches = context.switches
    assert switches is not None  # noqa: S101 - as above
    step = switches.steps[index]
    name = switches.header.look_names[step.look]
    right = scroll[0] if when == "after" else scroll[1] + 1
    way = "earlier" if when == "after" else "later"
    return rule.finding(
        context,
        Subject(header=switches.header.name, look=name),
        at=("from",),
        scroll=scroll,
        measured=by,
        limit=0.0,
        message=f"{name} starts {by:.0f} px {when} its backdrop is under the header",
        remedy=moved_start(
            context,
            name,
            f"start it at {right:.0f} px, {by:.0f} px {way}",
            -by if when == "after" else by,
        ),
    )


@check_rule("slow-change", "warning")
def slow_change(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A fade is so slow that a reader who flicks passes it with a text that cannot be read.

    A blend that lags takes time as well. Measured: for how many ms of a flick a part stays below
    its limit meanwhile.
    """
    switches = context.switches
    if switches is None:
        return
    for position in range(1, len(switches.steps)):
        change = switches.change_at(position)
        if time_of(change) > 0 and switches.steps[position].start <= context.max_scroll:
            break
    else:
        return
    gesture = named_gesture("flick", context.max_scroll, context.box.screen.height)
    swept = play(context.box, switches, gesture)
    header = swept.header
    if header is None:
        return
    run, end = _longest(_losses_in_fades(context, swept, header))
    took = run * FRAME_MS
    if took > _MOST_MS:
        index = int(header.look[end])
        yield rule.finding(
            context,
            Subject(header=header.box.name, look=header.box.looks[index].name),
            at=("change",),
            scroll=(float(swept.scroll[end - run + 1]), float(swept.scroll[end])),
            measured=took,
            limit=_MOST_MS,
            message=f"during a flick a part cannot be read for {took:.0f} ms of the change",
            remedy=_quicker(context, header.box.looks[index].change, index)
            if context.remedies
            else "",
        )


def _quicker(context: CheckContext, change: Change, look: int) -> Remedy:
    """The longest time of a change, in steps of 10 ms, in which no part is lost for too long."""
    longest = time_of(change)

    def shorter(step: int) -> float:
        return max(longest - step * FADE_STEP_MS, 0.0)

    def passes(step: int) -> bool:
        return _longest_loss(context, look, in_time(change, shorter(step))) <= _MOST_MS

    step = least(passes, 0, math.ceil(longest / FADE_STEP_MS))
    if step is None:
        return Remedy("set the change to 'cut', or make the background behind the part more opaque")
    what = "it" if isinstance(change, Fade) else "its lag"
    return Remedy(f"shorten {what} to {number(shorter(step))}ms")


def _longest_loss(context: CheckContext, look: int, change: Change) -> float:
    """The longest time in ms for which a part is lost, if a look had another change."""
    switches = context.switches
    assert switches is not None  # noqa: S101 - it has a look that changes
    looks = list(switches.header.looks)
    looks[look] = replace(looks[look], change=change)
    other = replace(switches, header=replace(switches.header, looks=tuple(looks)))
    gesture = named_gesture("flick", context.max_scroll, context.box.screen.height)
    swept = play(context.box, other, gesture)
    if swept.header is None:
        return 0.0
    return _longest(_losses_in_fades(context, swept, swept.header))[0] * FRAME_MS


def _losses_in_fades(context: CheckContext, swept: Sweep, header: HeaderSweep) -> Flags:
    """At which instants a part is under its limit while a look comes in time.

    Those that are there before it could matter are left out.
    """
    lost = np.zeros(len(swept), dtype=np.bool_)
    timed = np.array([time_of(look.change) > 0 for look in header.box.looks])[header.look]
    for start, end in _runs((header.progress < 1) & timed):
        if (end - start) * FRAME_MS <= _MOST_MS:
            continue
        some = swept.at(np.arange(start, end))
        for name, contrast in context.contrasts(some).items():
            if not header.box.parts[name].is_logo:
                lost[start:end] |= contrast < context.part_limits(name, some)
    return lost


def _longest(flags: Flags) -> tuple[int, int]:
    """How many flags in a row are set at most, and where that row ends."""
    start, end = max(_runs(flags), key=lambda run: run[1] - run[0], default=(0, 0))
    return end - start, end - 1


def _runs(flags: Flags) -> list[tuple[int, int]]:
    """The rows of flags that are set: where each starts, and the place after its end."""
    edges = np.flatnonzero(np.diff(flags, prepend=False, append=False))
    return [(int(start), int(end)) for start, end in edges.reshape(-1, 2)]
