"""Rules about the width at which one screen's values give way to another's."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_text
from rising_lantern.css.numbers import number
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.pages import PageBox, lay_out_page
from rising_lantern.plan.text.nodes import Key

_MOST = 1.5  # times as large

_Place = tuple[Subject, tuple[Key, ...], str]
"""What has a length, the keys below it that lead to that, and what it is."""


@check_rule("harsh-step", "note")
def harsh_step(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A text or a header is suddenly much larger where a window gets one px wider.

    Each screen's values apply from its width, or its 'from', up to the next wider screen's.
    Measured: how many times as large it is on the first px of one as on the last px of the
    other. Limit: 1.5.
    """
    narrower = _narrower(context)
    if narrower is None or context.fresh is not None:
        return
    own = context.document.viewports[context.box.viewport]
    width, other = own.start, context.document.viewports[narrower]
    above = _lengths(_at(context, context.box.viewport, width))
    below = _lengths(_at(context, narrower, width - 1))
    for place in above:
        low, high = sorted((below.get(place, above[place]), above[place]))
        if low <= 0 or high / low <= _MOST:
            continue
        subject, at, what = place
        narrow, wide = (
            _lengths(_at(context, name, screen.width))[place]
            for name, screen in ((narrower, other), (context.box.viewport, own))
        )
        ends = (other.width, narrow), (own.width, wide)
        yield rule.finding(
            context,
            subject,
            at=at,
            measured=high / low,
            limit=_MOST,
            message=f"{what} goes from {number(round(below[place], 1))} to "
            f"{number(round(above[place], 1))} px where a window gets {width:,} px wide",
            remedy=f"write {_fluid(*ends)} on both screens, so that it grows with the window",
        )


def _narrower(context: CheckContext) -> str | None:
    """The screen whose values hold up to those of the view's, for readers of one scheme."""
    viewports = context.document.viewports
    own = viewports[context.box.viewport]
    below = {
        name: item.start
        for name, item in viewports.items()
        if item.start < own.start and item.scheme == own.scheme
    }
    return max(below, key=lambda name: below[name], default=None)


def _at(context: CheckContext, viewport: str, width: int) -> PageBox:
    """The page with the values of a screen in a window of some width, whose shape takes nothing."""
    screen = context.document.viewports[viewport]
    if (viewport, width) == (context.box.viewport, screen.width) and screen.safe_area is None:
        return context.box
    size = width, screen.height
    plan = context.plan.with_viewport(viewport, size=size, safe_area=None)
    return lay_out_page(plan, context.box.page, viewport)


def _lengths(page: PageBox) -> dict[_Place, float]:
    """The sizes of all texts of a page, and the heights of its header, in px."""
    found: dict[_Place, float] = {}
    for section in page.sections:
        for index, content in enumerate(section.content):
            if isinstance(content, ContentBox):
                place = of_text(section.name, index, content), ("size",), "its font size"
                found[place] = content.text.size
    for look in page.header.looks if page.header else ():
        subject = Subject(header=page.header.name if page.header else None, look=look.name)
        found[subject, ("height",), "its height"] = look.height
    return found


def _fluid(narrow: tuple[float, float], wide: tuple[float, float]) -> str:
    """A length that is what two screens have, at their widths, and grows evenly in between."""
    (left, first), (right, last) = narrow, wide
    slope = (last - first) / (right - left)
    start = number(round(first - slope * left, 2))
    low, high = sorted((first, last))
    return (
        f"'clamp({number(low)}px, {start}px + {number(round(slope * 100, 3))}vw, {number(high)}px)'"
    )
