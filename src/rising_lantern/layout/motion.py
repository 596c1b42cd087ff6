"""How a layer moves on the screen, and the positioning area that never shows a gap.

With ``r = s - T``, how far the section's upper edge has gone above the screen's, the area of a
layer of speed v and drift d stands at ``(cx + d r, cy - v r)``, plus what its path adds. The part
of a section of height h that a screen of height H shows is, in the layer's own frame,

    g(r) = max(0, -r) + v r   to   f(r) = min(H, h - r) + v r

so that an area from ``cy = min g`` to ``max f`` covers it everywhere, and no smaller one does. Both
are piecewise linear in r: their extremes lie at the kinks -H, 0, h - H and h, as far as the page
lets them be reached, at the ends of what it lets be reached, and where a path turns.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.backgrounds import Rect
from rising_lantern.layout.paths import Path
from rising_lantern.layout.screen import Screen


@dataclass(frozen=True, slots=True)
class Motion:
    """A layer's motion in a section on a screen. Lengths are CSS px.

    Attributes:
        speed: Px up the screen per px scrolled: 1 moves with the page, 0 stays.
        drift: Px to the right per px scrolled.
        left: ``cx``, where the area's left edge stands when the section is at the screen's top.
        top: ``cy``, where its upper edge stands then.
        width: Width of the area.
        height: Height of the area.
        path: What places, fades and scales it besides, or None.
    """

    speed: float
    drift: float
    left: float
    top: float
    width: float
    height: float
    path: Path | None = None

    def origin(self, section_top: Floats | float, scroll: Floats | float) -> tuple[Floats, Floats]:
        """The area's left and upper edge on the screen, in px.

        Args:
            section_top: ``T - s``, the section's upper edge on the screen, of any shape.
            scroll: The scroll positions, of the same shape.
        """
        left = np.asarray(self.left - self.drift * section_top)
        top = np.asarray(self.top + self.speed * section_top)
        if self.path is None:
            return left, top
        # It is scaled about the middle of its area.
        grown = (self.path.scale(scroll) - 1) / 2
        return (
            left + self.path.x(scroll) - grown * self.width,
            top + self.path.y(scroll) - grown * self.height,
        )

    def scale(self, scroll: Floats | float) -> Floats:
        """How many times as large it is at scroll positions."""
        return self.path.scale(scroll) if self.path else np.ones_like(np.asarray(scroll, float))

    def opacity(self, scroll: Floats | float) -> Floats:
        """How opaque its path makes it at scroll positions, 0 to 1."""
        return self.path.opacity(scroll) if self.path else np.ones_like(np.asarray(scroll, float))

    @property
    def is_on_whole_px(self) -> bool:
        """Whether it stands where the section or the screen does, never between."""
        return self.speed in {0.0, 1.0} and self.drift == 0 and self.path is None


@dataclass(frozen=True, slots=True)
class Course:
    """How a layer moves, as the plan has it.

    Attributes:
        speed: Px up the screen per px scrolled.
        drift: Px to the right per px scrolled.
        path: What its stops add, or None.
    """

    speed: float
    drift: float = 0.0
    path: Path | None = None

    @property
    def is_plain(self) -> bool:
        """Whether its area is the same wherever on the page the section stands."""
        bends = self.path is not None and self.path.moves
        return 0 <= self.speed <= 1 and self.drift == 0 and not bends


@dataclass(frozen=True, slots=True)
class Reach:
    """How far a section can be scrolled while it is on the screen.

    Attributes:
        low: The least ``r = s - T``, in px.
        high: The greatest.
        tops: Where its upper edge is in the document, in each of the header's looks.
    """

    low: float
    high: float
    tops: tuple[float, ...] = (0.0,)

    def nearest(self, r: float) -> float:
        """The value of r that can be reached and is nearest to another."""
        return min(max(r, self.low), self.high)


def motion_of(course: Course, box: Rect, screen: Screen, reach: Reach | None = None) -> Motion:
    """The motion of a layer and the area that covers its section at every scroll position.

    For speeds of 0 to 1 the area is ``v h + (1 - v) H`` high and cy is 0: at 1 the section's own
    box, at 0 the screen, as ``background-attachment: fixed`` has it.

    Args:
        course: How it moves.
        box: What it has to cover: left edge on the screen, upper edge from the section's, width
            and height.
        screen: The screen.
        reach: How far the page lets the section be scrolled; by default over all of the screen.
    """
    speed = course.speed
    if course.is_plain:
        area = (0.0, float(screen.client_width)) if speed == 0 else (box.left, box.width)
        height = speed * box.height + (1 - speed) * screen.height
        return Motion(speed, 0.0, area[0], speed * box.top, area[1], height, course.path)
    reach = reach or Reach(-float(screen.height), box.height)
    low = max(reach.low - box.top, -float(screen.height))
    high = max(min(reach.high - box.top, box.height), low)
    edges = [_edges(course, box, screen, (low, high), top + box.top) for top in reach.tops]
    right, left, first, last = (
        pick(edge[index] for edge in edges) for index, pick in enumerate((max, min, min, max))
    )
    least = course.path.least_scale if course.path else 1.0
    width, height = (box.width + right - left) / least, max(last - first, 0.0) / least
    return Motion(
        speed,
        course.drift,
        box.left - right - (1 - least) / 2 * width - course.drift * box.top,
        first - (1 - least) / 2 * height + speed * box.top,
        width,
        height,
        course.path,
    )


def _edges(
    course: Course, box: Rect, screen: Screen, reach: tuple[float, float], top: float
) -> tuple[float, float, float, float]:
    """What an area has to reach: to the right and left, and its own least and greatest place.

    Args:
        course: How the layer moves.
        box: What it covers.
        screen: The screen.
        reach: The least and greatest r.
        top: Where the upper edge of what it covers is in the document, in px.
    """
    low, high = reach
    marks = {r + top for r in (*kinks(box.height, screen.height), low, high)}
    if course.path:
        marks |= set(course.path.kinks((-course.speed, 1 - course.speed, course.drift)))
    scroll = np.clip(np.array(sorted(marks)), low + top, high + top)
    r = scroll - top
    across, down = course.drift * r, course.speed * r
    if course.path:
        across, down = across + course.path.x(scroll), down - course.path.y(scroll)
    upper = np.maximum(0.0, -r) + down
    lower = np.minimum(screen.height, box.height - r) + down
    return float(across.max()), float(across.min()), float(upper.min()), float(lower.max())


def kinks(height: float, screen: float) -> tuple[float, ...]:
    """Where the part of a section that is on the screen changes its course, as values of r."""
    return (-screen, 0.0, height - screen, height)
