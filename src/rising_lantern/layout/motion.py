"""How a layer moves on the screen, and the positioning area that never shows a gap.

With ``r = s - T``, how far the section's upper edge has gone above the screen's, the area of a
layer of speed v and drift d stands at ``(cx + d r, cy - v r)``. The part of a section of height h
that a screen of height H shows is, in the layer's own frame,

    g(r) = max(0, -r) + v r   to   f(r) = min(H, h - r) + v r

so that an area from ``cy = min g`` to ``max f`` covers it everywhere, and no smaller one does. Both
are piecewise linear in r: their extremes lie at the kinks -H, 0, h - H and h.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


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
    """

    speed: float
    drift: float
    left: float
    top: float
    width: float
    height: float

    def origin(self, section_top: Floats | float) -> tuple[Floats | float, Floats | float]:
        """The area's left and upper edge on the screen, in px.

        Args:
            section_top: ``T - s``, the section's upper edge on the screen, of any shape.
        """
        return self.left - self.drift * section_top, self.top + self.speed * section_top


def motion_of(speed: float, drift: float, section: tuple[float, float], screen: float) -> Motion:
    """The motion of a layer and the area that covers its section at every scroll position.

    For speeds of 0 to 1 the area is ``v h + (1 - v) H`` high and cy is 0: at 1 the section's own
    box, at 0 the screen, as ``background-attachment: fixed`` has it.

    Args:
        speed: Px up the screen per px scrolled.
        drift: Px to the right per px scrolled.
        section: Width and height of the section.
        screen: Height of the screen.
    """
    width, height = section
    low, high = reach(speed, height, screen, kinks(height, screen))
    across = [drift * r for r in (-screen, height)]
    return Motion(
        speed, drift, -max(across), low, width + max(across) - min(across), max(high - low, 0.0)
    )


def kinks(height: float, screen: float) -> tuple[float, ...]:
    """Where the part of a section that is on the screen changes its course, as values of r."""
    return (-screen, 0.0, height - screen, height)


def reach(speed: float, height: float, screen: float, at: tuple[float, ...]) -> tuple[float, float]:
    """The least and greatest place that a layer has to cover, in its own frame.

    Args:
        speed: Px up the screen per px scrolled.
        height: Height of the section.
        screen: Height of the screen.
        at: The values of r that are looked at: the kinks, or those that the page can reach.
    """
    low = min(max(0.0, -r) + speed * r for r in at)
    high = max(min(screen, height - r) + speed * r for r in at)
    return low, high
