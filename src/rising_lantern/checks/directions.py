"""Rules about looks that hold while the reader goes one way."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.remedies import Remedy
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject
from rising_lantern.css.numbers import number
from rising_lantern.layout.headers import LookBox

STEADY_PX = 10.0
"""The least distance of one direction that a finger does not go by accident."""


@check_rule("restless", "warning")
def restless(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A look that follows the reader's direction comes and goes at the smallest reversal.

    A finger that rests on the glass moves by a few px up and down. Measured: the distance in px
    after which the look starts. Limit: 10 px.
    """
    look = _directional_look(context)
    if look is not None and look.after < STEADY_PX:
        subject = _subject(context, look)
        yield rule.finding(
            context,
            subject,
            at=("after",),
            scroll=_scroll(context),
            measured=look.after,
            limit=STEADY_PX,
            message=f"it starts and ends when the reader turns round by {_px(look.after)}",
            remedy=_after(context, subject, STEADY_PX, " or more"),
        )


@check_rule("covers-return", "note")
def covers_return(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A header that comes when the reader goes up covers what they have gone back for.

    Before it comes, they have seen as much above as they have gone up by. Measured: the px of
    the page that it covers before they have been seen. Limit: 0.
    """
    look = _directional_look(context)
    if look is None or look.going != "up" or not (look.stays or _is_pinned(context)):
        return
    header = context.box.header
    lower = look.height + (header.inset if header else 0.0)
    covered = lower - look.after - _previous_reach(context)
    if covered > 1:
        subject = _subject(context, look)
        yield rule.finding(
            context,
            subject,
            at=("after",),
            scroll=_scroll(context),
            measured=covered,
            limit=0.0,
            message=f"it covers {covered:.0f} px of what the reader goes back to, unseen",
            remedy=_after(context, subject, look.after + covered, ", or make it lower"),
        )


def _after(context: CheckContext, subject: Subject, distance: float, others: str) -> Remedy:
    """Another distance after which a look starts; ``others`` says what else would do."""
    value = f"{math.ceil(distance)}px"
    path = (*subject.path(context.box.page), "after")
    return context.remedy(f"set its 'after' to {value}{others}", path, value)


def _previous_reach(context: CheckContext) -> float:
    """How far down the header reaches that was there before, in its lowest look."""
    header, switches = context.box.header, context.switches
    if header is None or switches is None or not _is_pinned(context):
        return 0.0
    return header.inset + min(header.looks[step.look].height for step in switches.steps)


def _is_pinned(context: CheckContext) -> bool:
    """Whether the header is on the screen wherever the reader is."""
    header = context.box.header
    return header is not None and header.is_pinned and not header.sticks_within


def _directional_look(context: CheckContext) -> LookBox | None:
    """The look of the page's header that holds in one direction, where readers reach it."""
    switches = context.switches
    if switches is None or switches.directed is None:
        return None
    return switches.directed_look if switches.directed.start <= context.max_scroll else None


def _subject(context: CheckContext, look: LookBox) -> Subject:
    header = context.box.header
    return Subject(header=header.name if header else None, look=look.name)


def _scroll(context: CheckContext) -> tuple[float, float]:
    switches = context.switches
    first = switches.directed.start if switches and switches.directed else 0.0
    return max(first, 0.0), float(context.max_scroll)


def _px(length: float) -> str:
    return f"{number(length)} px" if length else "any distance"
