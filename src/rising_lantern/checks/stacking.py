"""Rules about what lies over what."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_text
from rising_lantern.css.backgrounds import Box
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.stacking import Level, levels_of
from rising_lantern.scroll.moments import HeaderSweep, Sweep

SEEN_PX = 0.5
Floats = NDArray[np.float64]


@check_rule("behind-something", "error")
def behind_something(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A section or a text with a higher z-index passes over the header and covers it.

    Measured: the largest height of the header that is covered, in px.
    """
    swept = context.sweep
    scroll = swept.scroll
    header = swept.header
    if header is None:
        return
    for level in _above_header(context):
        for thing, box, motion in _covering(level):
            subject = replace(thing, header=header.box.name)
            words = str(subject).partition("behind ")[2]
            covered = _covered(swept, header, level, box, motion)
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
                    remedy=f"give the header a z above {level.z}, or {words} one below "
                    f"{header.box.z}",
                )


def covered_by(context: CheckContext, swept: Sweep) -> Floats:
    """How many px of the header's height something of a higher z covers at each position."""
    most = np.zeros(len(swept))
    if swept.header is None:
        return most
    for level in _above_header(context):
        for _, box, motion in _covering(level):
            most = np.maximum(most, _covered(swept, swept.header, level, box, motion))
    return most


def _above_header(context: CheckContext) -> tuple[Level, ...]:
    """The levels of the page that lie over its header."""
    levels = levels_of(context.box)
    own = next(index for index, level in enumerate(levels) if level.section is None)
    return levels[own + 1 :]


def _covering(level: Level) -> Iterator[tuple[Subject, Box, Motion | None]]:
    """What of a level covers what is below it: boxes from its section's corner, or a motion's."""
    section = level.section
    if section is None:
        return
    if level.grounded and (section.background or section.layers):
        yield Subject(section.name), Box(0.0, 0.0, section.box.width, section.height), None
        return
    for content in (*level.behind, *level.content):
        index = next(position for position, item in enumerate(section.content) if item is content)
        yield of_text(section.name, index, content), content.box, content.motion


def _covered(
    swept: Sweep, header: HeaderSweep, level: Level, box: Box, motion: Motion | None
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
