"""Rules about edges: where sections meet, and where something is wider than the screen."""

from __future__ import annotations

import math
from collections.abc import Iterator

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.fitting import SEEN_PX, rows_of
from rising_lantern.checks.remedies import Remedy
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject
from rising_lantern.css.lengths import Length, Term
from rising_lantern.layout.sections import SectionBox
from rising_lantern.plan.models.base import Auto

_HAIR = 1e-3  # of a px of the device
_GRID = 4  # CSS px: whole at pixel ratios of 1, 1.25, 1.5 and 2
_SHARE = 0.25  # of the hairline that is what is behind
_SEEN_LEVELS = 8  # of 255, in any channel, by which it has to differ to be seen


@check_rule("seam", "warning")
def seam(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """Sections meet between two device pixels, where Chromium shows a thin line.

    It occurs at 1.25 and 1.5 device pixels per px, whatever is in the sections: what is behind
    them makes up a quarter of one row. At 1, 2 and 3, Chromium snaps sections to whole pixels;
    Firefox shows no line at any of these. Measured: the distance of the edge from a device
    pixel.
    """
    ratio = context.plan.viewport(context.box.viewport).ratio
    if not _off_grid(ratio):
        return
    sections = context.box.sections
    for index, section in enumerate(sections):
        if not _off_grid(section.height * ratio):
            continue
        for upper, lower in zip(sections[index:], sections[index + 1 :], strict=False):
            edge = (context.box.flow.room(0) + upper.bottom) * ratio
            if _off_grid(edge) and _lets_show(context, upper, lower):
                low = max(edge / ratio - context.box.screen.height, 0.0)
                yield rule.finding(
                    context,
                    Subject(section.name),
                    at=("height",),
                    scroll=(low, min(edge / ratio, float(context.max_scroll))),
                    measured=abs(edge - round(edge)),
                    limit=0.0,
                    message=f"it is {section.height:g} px high, so that {upper.name} and "
                    f"{lower.name} meet between two pixels, where Chromium shows a thin line of "
                    "what is behind",
                    remedy=_whole(context, section, ratio),
                )
                break


def _whole(context: CheckContext, section: SectionBox, ratio: float) -> Remedy:
    """What makes a section end on whole device pixels."""
    height = context.section_entry(section.name).height
    if isinstance(height, Auto):
        down = math.ceil(section.height * ratio) / ratio - section.height
        return Remedy(f"add {down:.4g}px to its padding")
    value = on_grid(height)
    path = context.box.path_to(section.name, "height")
    return context.remedy(f"set its height to {value}", path, value)


def _lets_show(context: CheckContext, *sections: SectionBox) -> bool:
    """Whether what is behind sections differs visibly from them."""
    if context.box.ground is not None:
        return True
    canvas = context.box.background.bytes[:3]
    for section in sections:
        color = section.background
        if color is None and not section.layers:
            return False
        if color and color.alpha == 1 and not section.layers:
            far = max(abs(a - b) for a, b in zip(color.bytes[:3], canvas, strict=True))
            if far * _SHARE <= _SEEN_LEVELS:
                return False
    return True


def on_grid(height: Length) -> str:
    """A height as a multiple of px that is whole at common pixel ratios, as a plan writes it."""
    expression = height.expression
    if isinstance(expression, Term) and expression.unit == "px":
        return f"{math.floor(expression.value / _GRID) * _GRID}px"
    return f"round(down, {height.css()}, {_GRID}px)"


def _off_grid(length: float) -> bool:
    return abs(length - round(length)) > _HAIR


@check_rule("side-scroll", "error")
def side_scroll(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """Something is wider than the screen, so that the page scrolls sideways or is cut off.

    A width of 100vw includes the scrollbar, and is too wide beside one that takes up space.
    Measured: the excess width in px.
    """
    screen = context.box.screen
    taken = screen.width - screen.client_width
    for section in context.box.sections:
        over = max(section.box.right - screen.client_width, -section.box.left)
        if over > SEEN_PX:
            fitting = f"min(100%, {context.section_entry(section.name).width.css()})"
            why = f": the scrollbar takes {taken} px" if 0 < over <= taken + SEEN_PX else ""
            yield rule.finding(
                context,
                Subject(section.name),
                at=("width",),
                measured=over,
                limit=0.0,
                message=f"it is {over:.0f} px wider than the screen{why}",
                remedy=context.remedy(
                    f"set its width to {fitting}",
                    context.box.path_to(section.name, "width"),
                    fitting,
                ),
            )
    yield from _header_parts(context, rule)


def _header_parts(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    header, width = context.box.header, context.box.screen.client_width
    if header is None or any(row.short > SEEN_PX for row in rows_of(header)):
        return  # crowded-header says it
    for look in header.looks:
        for name, part in look.parts.items():
            over = max(part.box.right - width, -part.box.left)
            if over > SEEN_PX:
                yield rule.finding(
                    context,
                    Subject(header=header.name, look=look.name, part=name),
                    path=("headers", header.name, "parts", name),
                    measured=over,
                    limit=0.0,
                    message=f"it is {over:.0f} px beyond the edge of the screen",
                    remedy="show less in the header here, or make it smaller",
                )
