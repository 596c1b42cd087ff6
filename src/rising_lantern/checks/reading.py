"""Rules about what can be read."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from rising_lantern.checks.findings import Checked, Finding, Rule, rule
from rising_lantern.legibility.contrast import limit_of
from rising_lantern.scroll.moments import sweep

_EVERY = 3  # px of scroll, where each position has to be painted


@rule("unreadable-part", "error")
def unreadable_part(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A part of the header cannot be read over some of the scroll.

    Looked at is every px of scroll, half-way states included; of the stretches in which layers
    move against each other behind the header, or that it blurs, every third. It is the WCAG 2.2
    contrast that 95 % of the pixels really behind the part reach. Measured is the least of it;
    the limit is 4.5 for texts, 3 for large texts and pictures, or what the part asks for. Of a
    logo it is only noted.
    """
    switches = checked.switches
    if switches is None:
        return
    header = switches.header
    scroll = np.arange(checked.max_scroll + 1, dtype=np.float64)
    swept = sweep(checked.box, switches, scroll)
    if swept.header is None:
        return
    for name, contrast in checked.contrasts(swept, _EVERY).items():
        part = header.entry.parts[name]
        limits = np.array([limit_of(style.parts[name], part) for style in swept.header.styles])
        needed = limits[swept.header.style]
        for look in np.unique(swept.header.look):
            here = (swept.header.look == look) & (contrast < needed)
            places = np.flatnonzero(here)
            if not places.size:
                continue
            worst = places[np.argmin(contrast[places])]
            yield checked.finding(
                of,
                f"{header.name}, {name} in {header.looks[look]}",
                scroll=(float(scroll[places[0]]), float(scroll[places[-1]])),
                measured=float(contrast[worst]),
                limit=float(needed[worst]),
                message=f"its contrast falls to {contrast[worst]:.2f} at {scroll[worst]:.0f} px, "
                f"and is too low on {places.size} px of scroll",
                remedy="lay more of a colour under it there, or start another look in time",
                level="note" if part.logo else None,
            )
