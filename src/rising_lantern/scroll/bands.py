"""The stretches of scroll on which each look of a header is current."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rising_lantern.css.colors import Color
from rising_lantern.scroll.switches import Switches


@dataclass(frozen=True, slots=True)
class Band:
    """A stretch of scroll on which one look is current or comes.

    Attributes:
        look: Its name.
        color: The header's background in it.
        start: Its first position, in px.
        end: Its last position.
    """

    look: str
    color: Color
    start: float
    end: float


def bands_of(switches: Switches | None, max_scroll: int) -> tuple[Band, ...]:
    """The bands of a page from its top to its end, going down; none without a header.

    Args:
        switches: Where the header switches, or None without a header.
        max_scroll: The last scroll position, in px.
    """
    if switches is None:
        return ()
    ends = [*(step.start for step in switches.steps[1:]), math.inf]
    bands: list[Band] = []
    for index, end in enumerate(ends):
        first, last = max(switches.steps[index].start, 0.0), min(end, float(max_scroll))
        if first < last:
            look = switches.look_of(index)
            bands.append(Band(look.name, look.background, first, last))
    return tuple(bands)
