"""Rules about what lies over what."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_item
from rising_lantern.css.backgrounds import Rect
from rising_lantern.layout.items import Item
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.sections import SectionBox
from rising_lantern.layout.stacking import Level, levels_of, lower_sections
from rising_lantern.scroll.moments import HeaderSweep, Sweep

SEEN_PX = 0.5


@check_rule("behind-something", "error")
def behind_something(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A section or a text with a higher z-index passes over the header and covers it.

    Measured: the largest height of the header that is covered, in px.
    """
    if context.sweep.header is None:
        return
    for level in _above_header(context):
        if level.section is None:
            continue
        swept = context.near(level.section)
        header, scroll = swept.header, swept.scroll
        assert header is not None  # noqa: S101 - the whole sweep has one
        for thing, box, motion in _covering(level):
            subject = replace(thing, header=header.box.name)
            words = str(subject).partition("behind ")[2]
            covered = _overlap_px(swept, header, level, box, motion)
            places = np.flatnonzero(covered > SEEN_PX)
            if places.size:
                yield rule.finding(
                    context,
                    subject,
                    path=("headers", header.box.name, "z"),
                    scroll=(float(scroll[places[0]]), float(scroll[places[-1]])),
                    measured=float(covered.max()),
                    limit=0.0,
                    message=f"{words} covers up to {covered.max():.0f} px of the header",
                    remedy=context.remedy(
                        f"give the header a z above {level.z}, or {words} one below {header.box.z}",
                        ("headers", header.box.name, "z"),
                        str(level.z + 1),
                    ),
                )


@check_rule("covered-content", "warning")
def covered_content(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A section that overlaps another one covers some of its content.

    Checked for content that moves with the page. Measured: how many px of its height are covered.
    """
    levels = levels_of(context.box)
    grounds = {level.section.name: level for level in levels if level.section and level.grounded}
    for upper in context.box.sections:
        if not (upper.background or upper.layers):
            continue
        order = levels.index(grounds[upper.name])
        for lower in lower_sections(context.box, upper):
            below = [level for level in levels[:order] if level.section is lower]
            for item in (item for level in below for item in (*level.behind, *level.content)):
                covered = _covered_px(upper, lower, item)
                if covered > SEEN_PX:
                    yield rule.finding(
                        context,
                        of_item(lower, item),
                        measured=covered,
                        limit=0.0,
                        message=f"section {upper.name} covers {covered:.0f} px of its height",
                        remedy=f"place it {covered:.0f} px higher, give {lower.name} as much more "
                        f"height below it, or overlap it by {covered:.0f} px less",
                    )


def _covered_px(upper: SectionBox, lower: SectionBox, item: Item) -> float:
    """How many px of the height of a content a section above covers; 0 for what is in a box."""
    if item.moves or "box" in item.path:
        return 0.0
    box = item.box.moved(lower.box.left, lower.top)
    if box.left >= upper.box.right or box.right <= upper.box.left:
        return 0.0
    bottom = min(box.bottom, upper.bottom, lower.bottom)
    return max(bottom - max(box.top, upper.top), 0.0)


def covered_by(context: CheckContext, swept: Sweep) -> Floats:
    """How many px of the header's height something of a higher z covers at each position."""
    most = np.zeros(len(swept))
    if swept.header is None:
        return most
    for level in _above_header(context):
        for _, box, motion in _covering(level):
            most = np.maximum(most, _overlap_px(swept, swept.header, level, box, motion))
    return most


def _above_header(context: CheckContext) -> tuple[Level, ...]:
    """The levels of the page that lie over its header."""
    levels = levels_of(context.box)
    own = next(index for index, level in enumerate(levels) if level.section is None)
    return levels[own + 1 :]


def _covering(level: Level) -> Iterator[tuple[Subject, Rect, Motion | None]]:
    """What of a level covers what is below it: boxes from its section's corner, or a motion's."""
    section = level.section
    if section is None:
        return
    if level.grounded and (section.background or section.layers):
        yield Subject(section.name), Rect(0.0, 0.0, section.box.width, section.height), None
        return
    for item in (*level.behind, *level.content):
        yield of_item(section, item), item.box, item.motion


def _overlap_px(
    swept: Sweep, header: HeaderSweep, level: Level, box: Rect, motion: Motion | None
) -> Floats:
    """How many px of the header's height a box covers at each position."""
    if level.section is None:
        return np.zeros(len(swept))
    section_top = swept.top_of(level.section)
    start = motion.origin(section_top, swept.scroll)[1] if motion else section_top
    low = np.minimum(start + box.bottom, header.top + header.height)
    low = np.minimum(low, section_top + level.section.height)
    high = np.maximum(np.maximum(start + box.top, header.top), np.maximum(section_top, 0.0))
    return np.asarray(np.maximum(low - high, 0.0))
