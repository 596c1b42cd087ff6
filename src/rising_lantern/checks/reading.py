"""Rules about what can be read."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np

from rising_lantern.checks.findings import Checked, Finding, Rule, rule
from rising_lantern.checks.stacking import SEEN_PX, covered_by
from rising_lantern.errors import shortened
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.pages import PageBox
from rising_lantern.legibility.contrast import text_limit
from rising_lantern.scroll.moments import sweep

if TYPE_CHECKING:
    from rising_lantern.legibility.readings import Stride

# Where each position has to be painted: from one to the next, in px that something moves by, and
# how near to its limit a contrast is looked at px by px. Texts and icons are higher than that, so
# that nothing passes behind one between two positions.
_EVERY, _NEAR = 12, 1.3
_STEEPEST = 3  # of an easing, beside a straight line


@rule("unreadable-part", "error")
def unreadable_part(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A part of the header cannot be read over some of the scroll.

    Looked at is every px of scroll, half-way states included; where layers move against each
    other behind the header, or it blurs them, positions between which nothing can pass by unseen,
    and every px near to the limit. It is the WCAG 2.2 contrast that 95 % of the pixels really
    behind the part reach. Measured is the least of it; the limit is 4.5 for texts, 3 for large
    texts and pictures, or what the part asks for. Of a logo it is only noted.
    """
    switches = checked.switches
    scroll = checked.scroll()
    if switches is None or not scroll.size:
        return
    header = switches.header
    swept = sweep(checked.box, switches, scroll)
    if swept.header is None:
        return
    hidden = covered_by(checked, swept) > SEEN_PX
    for name, contrast in checked.contrasts(swept, _stride(checked)).items():
        limits = np.array([checked.limit(name, style) for style in swept.header.styles])
        needed = limits[swept.header.style]
        for look in np.unique(swept.header.look):
            if (header.looks[look], name) in checked.left_behind:
                continue
            here = (swept.header.look == look) & (contrast < needed) & ~hidden
            places = np.flatnonzero(here)
            if not places.size:
                continue
            worst = places[np.argmin(contrast[places])]
            yield checked.finding(
                of,
                f"{header.name}, {name} in {header.looks[look]}",
                at=checked.in_header("looks", header.looks[look], "parts", name),
                scroll=(float(scroll[places[0]]), float(scroll[places[-1]])),
                measured=float(contrast[worst]),
                limit=float(needed[worst]),
                message=f"its contrast falls to {contrast[worst]:.2f} at {scroll[worst]:.0f} px, "
                f"and is too low on {places.size} px of scroll",
                remedy=_part_remedy(checked),
                level="note" if header.entry.parts[name].logo else None,
            )


def _part_remedy(checked: Checked) -> str:
    """What fixes a part: where a see-through header stands above a picture, to lie over it."""
    header = checked.box.header
    if header and stands_above_a_picture(checked.box, header):
        return "set 'over: true', so that the first section's picture starts under the header"
    return "lay more of a colour under it there, or start another look in time"


@rule("unreadable-content", "error")
def unreadable_content(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A text on the page cannot be read over some of the scroll.

    Looked at is every px of scroll at which at least half of it is on the screen; where layers
    move against each other behind it, positions between which nothing can pass by unseen, and
    every px near to the limit. It is the WCAG 2.2 contrast that 95 % of the pixels really behind
    it reach, its own panel and shadow counted. Measured is the least of it; the limit is 4.5, and
    3 for large texts.
    """
    scroll = checked.scroll()
    if not scroll.size:
        return
    swept = sweep(checked.box, checked.switches, scroll)
    for (name, place), box, reading in checked.texts(swept, _stride(checked)):
        section = checked.box.section(name)
        if section is None:
            continue
        content = section.content[place]
        needed = text_limit(content.text.size, content.entry.weight, checked.by)
        rows = box.last - box.first
        half = (2 * rows >= content.text.box.height) | (rows == rows.max())
        places = np.flatnonzero(half & (reading.contrast < needed))
        if not places.size:
            continue
        worst = places[np.argmin(reading.contrast[places])]
        yield checked.finding(
            of,
            f'{name}, "{shortened(content.entry.text)}"',
            at=checked.in_section(name, "content", place),
            scroll=(float(scroll[places[0]]), float(scroll[places[-1]])),
            measured=float(reading.contrast[worst]),
            limit=needed,
            message=f"its contrast falls to {reading.contrast[worst]:.2f} "
            f"at {scroll[worst]:.0f} px",
            remedy="lay more of a colour between it and what is behind, or give it a panel",
        )


def _stride(checked: Checked) -> Stride:
    from rising_lantern.legibility.readings import Stride  # noqa: PLC0415 - it paints

    every = max(int(_EVERY / _fastest(checked.box)), 1)
    return Stride(every, _NEAR * text_limit(0.0, 0, checked.by))


def _fastest(page: PageBox) -> float:
    """No two things on a page pass each other by more px than this for each px scrolled."""
    motions = [layer.motion for layer in page.layers()]
    motions += [content.motion for section in page.sections for content in section.content]
    # The screen stays, and the page moves at 1.
    speeds = [0.0, 1.0, *(motion.speed for motion in motions)]
    drifts = [0.0, *(motion.drift for motion in motions)]
    spread = max(speeds) - min(speeds) + max(drifts) - min(drifts)
    return spread + _STEEPEST * max((_steepness(motion) for motion in motions), default=0.0)


def _steepness(motion: Motion) -> float:
    """How many px a path moves something for each px scrolled, on the average between two stops."""
    points = motion.path.points if motion.path else ()
    ways = ((abs(b.x - a.x) + abs(b.y - a.y)) / max(b.at - a.at, 1.0) for a, b in pairwise(points))
    return max(ways, default=0.0)


def stands_above_a_picture(page: PageBox, header: HeaderBox) -> bool:
    """Whether a see-through header takes room of its own above a section with a picture."""
    first = page.sections[0]
    pictured = any(layer.name or not layer.entry.is_uniform for layer in first.layers)
    takes_room = header.room(header.styles[0]) > 0
    return takes_room and pictured and header.styles[0].background.alpha < 1
