"""Rules about what lies over what."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from numpy.typing import NDArray

from rising_lantern.checks.findings import Checked, Finding, Rule, rule
from rising_lantern.css.backgrounds import Box
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.stacking import Level, levels_of
from rising_lantern.scroll.moments import HeaderSweep, Sweep, sweep

SEEN_PX = 0.5
Floats = NDArray[np.float64]


@rule("behind-something", "error")
def behind_something(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A section or a text of a higher z-index passes over the header and covers it.

    Measured is the most px of the header's height that are covered.
    """
    scroll = np.arange(checked.max_scroll + 1, dtype=np.float64)
    swept = sweep(checked.box, checked.switches, scroll)
    if swept.header is None:
        return
    for level in _above_header(checked):
        for subject, box, motion in _covering(level):
            covered = _covered(swept, swept.header, level, box, motion)
            places = np.flatnonzero(covered > SEEN_PX)
            if places.size:
                yield checked.finding(
                    of,
                    f"{swept.header.box.name}, behind {subject}",
                    at=checked.in_header("z"),
                    scroll=(float(scroll[places[0]]), float(scroll[places[-1]])),
                    measured=float(covered.max()),
                    limit=0.0,
                    message=f"{subject} covers up to {covered.max():.0f} px of the header",
                    remedy=f"give the header a z above {level.z}, or {subject} one below "
                    f"{swept.header.box.entry.z}",
                )


def covered_by(checked: Checked, swept: Sweep) -> Floats:
    """How many px of the header's height something of a higher z covers at each position."""
    most = np.zeros(len(swept))
    if swept.header is None:
        return most
    for level in _above_header(checked):
        for _, box, motion in _covering(level):
            most = np.maximum(most, _covered(swept, swept.header, level, box, motion))
    return most


def _above_header(checked: Checked) -> tuple[Level, ...]:
    """The levels of the page that lie over its header."""
    levels = levels_of(checked.box)
    own = next(place for place, level in enumerate(levels) if level.section is None)
    return levels[own + 1 :]


def _covering(level: Level) -> Iterator[tuple[str, Box, Motion | None]]:
    """What of a level covers what is below it: boxes from its section's corner, or a motion's."""
    section = level.section
    if section is None:
        return
    if level.grounded and (section.entry.background or section.layers):
        yield section.name, Box(0.0, 0.0, section.box.width, section.height), None
        return
    for content in (*level.behind, *level.content):
        yield f"a text of {section.name}", content.box, content.motion


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
