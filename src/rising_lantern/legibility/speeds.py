"""How fast things pass each other behind a box while a page is scrolled."""

from __future__ import annotations

from itertools import pairwise

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import SectionBox

_STEEPEST = 3  # of an easing, beside a straight line


def passed_px(speed: Floats | float, scroll: Floats) -> Floats:
    """By how many px things pass each other from the position before up to each position."""
    return np.asarray(speed * np.abs(np.diff(scroll, prepend=scroll[:1])))


def passing_speed(page: PageBox, section: SectionBox) -> float:
    """The most px by which two things in a section, or behind it, pass each other for each px."""
    sections = [section, *([page.ground] if page.ground else [])]
    motions = [layer.motion for section in sections for layer in section.layers]
    motions += [content.motion for section in sections for content in section.content]
    # The screen stays, and the page moves at 1.
    speeds = [0.0, 1.0, *(motion.speed for motion in motions)]
    drifts = [0.0, *(motion.drift for motion in motions)]
    spread = max(speeds) - min(speeds) + max(drifts) - min(drifts)
    return spread + _STEEPEST * max((_steepness(motion) for motion in motions), default=0.0)


def _steepness(motion: Motion) -> float:
    """How many px a path moves something for each px scrolled, on the average between two stops."""
    points = motion.path.points if motion.path else ()
    ways = ((abs(b.x - a.x) + abs(b.y - a.y)) / max(b.at - a.at, 1.0) for a, b in pairwise(points))
    return float(max(ways, default=0.0))
