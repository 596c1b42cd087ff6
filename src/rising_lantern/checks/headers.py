"""Rules about headers."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.starts import moved_start
from rising_lantern.checks.subjects import Subject
from rising_lantern.layout.headers import PLAIN, HeaderBox
from rising_lantern.layout.pages import header_on
from rising_lantern.layout.screen import Screen
from rising_lantern.plan.text.reading import PlanFile

_SEEN_PX = 0.5
ZOOMED = Screen(320, 256, 320)
"""A screen of 1280 x 1024 px zoomed in by 400 %: WCAG 2.2, 1.4.10."""


@check_rule("never-reached", "error")
def never_reached(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A look starts beyond the end of the page, so that no reader sees it on this screen.

    Measured: the position at which it starts, in px. Limit: the last scroll position of the
    page.
    """
    if context.switches is None:
        return
    switches, header = context.switches, context.switches.header
    for step in switches.all_steps[1:]:
        look = header.looks[step.look]
        end = math.floor(switches.last_start(look)) if look.going else context.max_scroll
        if step.start > end:
            way = f", {end} px of them going up" if look.going == "up" else ""
            yield rule.finding(
                context,
                Subject(header=header.name, look=look.name),
                at=("from",),
                measured=step.start,
                limit=float(end),
                message=f"the look starts at {step.start:.0f} px, and the page scrolls "
                f"{context.max_scroll} px{way}",
                remedy=moved_start(
                    context, look.name, f"start it at {end} px or earlier", end - step.start
                ),
            )


@check_rule("no-header", "note")
def no_header(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A page has no header on a screen, in a plan that has headers.

    Measured: the number of headers that are shown.
    """
    if context.box.header is None and context.plan.documents[context.box.viewport].headers:
        yield rule.finding(
            context,
            Subject(),
            measured=0,
            limit=1,
            message="no header shows on this page",
            remedy="include the page in a header's 'show', or silence this if it is intended",
        )


@check_rule("two-headers", "note")
def two_headers(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """Several headers apply to a page on a screen; the first in the plan is shown.

    Measured: the number of headers that apply.
    """
    document = context.plan.documents[context.box.viewport]
    names = document.headers_on(context.box.page, context.box.viewport)
    if len(names) > 1:
        yield rule.finding(
            context,
            Subject(),
            measured=len(names),
            limit=1,
            message=f"{', '.join(names)} all apply here; {names[0]} is shown",
            remedy=_without(context.plan, context.box.page, names),
        )


def _without(plan: PlanFile, page: str, names: list[str]) -> str:
    """What to leave out of the headers after the first one, so that every screen keeps one."""
    applying = {
        screen: plan.documents[screen].headers_on(page, screen) for screen in plan.documents
    }
    first, others = names[0], names[1:]
    listed = " and ".join(others)
    keeps = [screen for screen, found in applying.items() if set(found) - set(others)]
    if len(keeps) == len([screen for screen, found in applying.items() if found]):
        return f"exclude this page in the 'show' of {listed}"
    screens = [screen for screen, found in applying.items() if first in found]
    # Leaving a screen out must not take the only header from another page.
    alone = [
        other
        for other in plan.documents[screens[0]].pages
        for screen in screens
        if set(plan.documents[screen].headers_on(other, screen)) <= set(others)
        and plan.documents[screen].headers_on(other, screen)
    ]
    if not alone:
        return f"exclude these viewports in the 'show' of {listed}: {', '.join(screens)}"
    return f"nothing to fix: {first} comes first, and {listed} is for other pages and screens"


@check_rule("lets-go-early", "warning")
def lets_go_early(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A sticky header leaves the screen before the page ends, because its container ends.

    Measured: the scroll position at which it leaves. Limit: the last scroll position of the
    page.
    """
    header = context.box.header
    if header is None or not header.sticks_within:
        return
    swept = context.sweep
    scroll = swept.scroll
    if swept.header is None:
        return
    if swept.header.leaves_at is not None:
        first = float(scroll[swept.header.leaves_at])
        yield rule.finding(
            context,
            Subject(header=header.name),
            at=("inside",),
            scroll=(first, float(context.max_scroll)),
            measured=first,
            limit=float(context.max_scroll),
            message=f"it leaves the screen at {first:.0f} px, "
            f"{context.max_scroll - first:.0f} px before "
            "the page ends",
            remedy=context.remedy(
                "remove 'inside', so that it sticks for the whole page",
                ("headers", header.name, "inside"),
                None,
            ),
        )


@check_rule("covers-start", "warning")
def covers_start(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A header that stays on the screen covers text at the top of the page, or after a jump.

    Measured: how many px of the text are under the header when its section is at the top of the
    screen.
    """
    header = context.box.header
    if header is None or not header.is_pinned:
        return
    if not header.starts_under and header.in_flow and header.sticks_within:
        return
    tops = [section.top + context.box.flow.room(0) for section in context.box.sections]
    places = np.minimum(np.array([0.0, *tops[1:]]), float(context.max_scroll))
    # Of one section after the other, so that positions need not ascend.
    swept = context.at(places)
    if swept.header is None:
        return
    for index, section in enumerate(context.box.sections):
        scroll = float(places[index])
        lower = float(swept.header.top[index] + swept.header.height[index])
        upper = float(swept.top_of(section)[index])
        # At the end of a page a section may not come up to the header at all.
        letters = [
            float(item.motion.origin(upper, scroll)[1]) + item.box.top for item in section.items
        ]
        covered = max((lower - top for top in letters if top < lower), default=0.0)
        if covered > _SEEN_PX:
            arrives = "at the top of the page" if index == 0 else f"after a jump to {section.name}"
            yield rule.finding(
                context,
                Subject(section.name),
                scroll=(scroll, scroll),
                measured=covered,
                limit=0.0,
                message=f"{arrives} the header covers {covered:.0f} px of a text",
                remedy=f"move the text down by {covered:.0f} px, or give the section a "
                f"scroll-margin-top of {lower:.0f} px"
                if index
                else context.remedy(
                    f"move the text down by {covered:.0f} px, or set 'over: false'",
                    ("headers", header.name, "over"),
                    "false",
                ),
            )


@check_rule("crowds-screen", "warning")
def crowds_screen(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A header that stays on the screen takes up too much of it.

    The limit is a third of the screen's height. With the values of the plan's narrowest screen,
    the header is also laid out for a reader who has zoomed in to 400 %, on 320 x 256 CSS px
    (WCAG 2.2, 1.4.10), where the limit is half. Measured: the share of the height.
    """
    header, screen = context.box.header, context.box.screen
    if header is None:
        return
    limits = context.limits.limits
    views: list[tuple[HeaderBox, int, float, str]] = [
        (header, screen.height, limits.header, "the screen")
    ]
    if context.box.viewport == context.plan.narrowest:
        zoomed = header_on(context.plan, context.box, ZOOMED)
        views.append((zoomed, ZOOMED.height, limits.header_zoomed, "a screen zoomed in by 400 %"))
    found = [share for view in views for share in _shares(*view)]
    worst = max(found, key=lambda one: one.share / one.limit, default=None)
    if worst and worst.share > worst.limit:
        yield rule.finding(
            context,
            Subject(header=header.name, look=worst.look),
            path=("headers", header.name) if worst.look == PLAIN else (),
            measured=worst.share,
            limit=worst.limit,
            message=f"it takes up {worst.share:.0%} of the height of {worst.words}",
            remedy=f"make it at most {worst.room} px high there, or let it scroll with the page",
        )


@dataclass(frozen=True, slots=True)
class _Share:
    """How much of a screen's height a look of a header takes, and the most that it may."""

    look: str
    share: float
    limit: float
    words: str
    room: int


def _shares(header: HeaderBox, height: int, limit: float, words: str) -> Iterator[_Share]:
    stays = header.is_pinned and not header.sticks_within
    room = math.floor(limit * height - header.inset)
    for look in header.looks:
        if stays or look.stays:
            share = max(header.inset + look.height, 0.0) / height
            yield _Share(look.name, share, limit, words, room)
