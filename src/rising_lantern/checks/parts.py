"""Rules about the parts of a header in its looks."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from rising_lantern.checks.findings import Checked, Finding, Rule, rule
from rising_lantern.css.gradients import Gradient
from rising_lantern.scroll.moments import sweep
from rising_lantern.scroll.switches import Switches

_SEEN_PX = 1.0
_OTHER_SHAPE = 0.01  # of a picture's proportions


@rule("part-left-behind", "error")
def part_left_behind(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A part keeps its own colour or picture into a look on which it cannot be seen.

    Measured is its contrast where the look is complete; the limit is 4.5 for texts, 3 for large
    texts and pictures. Of a logo it is only noted.
    """
    switches = checked.switches
    if switches is None:
        return
    header = switches.header
    starts = {header.looks[step.look]: place for place, step in enumerate(switches.steps)}
    for (look, name), (contrast, limit, kept) in checked.left_behind.items():
        place = starts[look]
        start = math.ceil(switches.steps[place].start + switches.steps[place].blend)
        yield checked.finding(
            of,
            f"{header.name}, {name} in {look}",
            at=checked.in_header("looks", look, "parts", name),
            scroll=(float(start), _end_of(switches, place)),
            measured=contrast,
            limit=limit,
            message=f"it keeps its {kept} into the look, where its contrast is {contrast:.1f}",
            remedy=f"give {name} another {kept} under 'parts' of the look {look}",
            level="note" if header.entry.parts[name].logo else None,
        )


def _end_of(switches: Switches, place: int) -> float:
    """Where the look of a step ends for the next one, or the page ends."""
    following = switches.steps[place + 1 :]
    end = following[0].start - 1 if following else math.inf
    return float(min(end, switches.max_scroll))


@rule("logo-shift", "warning")
def logo_shift(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A picture is swapped for one of other proportions, and moves what stands beside it.

    Measured is by how many px the part beside it moves.
    """
    switches = checked.switches
    if switches is None:
        return
    header, pictures = switches.header, checked.plan.files.pictures
    for before, step in zip(switches.steps, switches.steps[1:], strict=False):
        first, second = header.styles[before.look], header.styles[step.look]
        placed = [header.place_parts(style) for style in (first, second)]
        for name in header.entry.parts:
            images = (first.parts[name].images, second.parts[name].images)
            if images[0] == images[1] or not all(images):
                continue
            one, other = (pictures[shown[0]] for shown in images)
            shapes = (one.width / one.height, other.width / other.height)
            moved = [
                abs(placed[0][beside].box.left - placed[1][beside].box.left)
                for beside in placed[0].keys() & placed[1].keys() - {name}
                if header.entry.parts[beside].side == header.entry.parts[name].side
            ]
            if abs(shapes[0] / shapes[1] - 1) > _OTHER_SHAPE and max(moved, default=0) > _SEEN_PX:
                yield checked.finding(
                    of,
                    f"{header.name}, {name} in {header.looks[step.look]}",
                    at=checked.in_header("looks", header.looks[step.look], "parts", name),
                    scroll=(max(step.start, 0.0), max(step.start, 0.0)),
                    measured=max(moved),
                    limit=_SEEN_PX,
                    message=f"{images[1][0]} has other proportions than {images[0][0]}, and moves "
                    f"what stands beside it by {max(moved):.0f} px",
                    remedy=f"draw it on a canvas of {one.width} x {one.height} px, or with those "
                    "proportions",
                )


@rule("no-picture-below", "error")
def no_picture_below(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A see-through header stands on an opening section that gives it nothing to stand on.

    The page opens without a picture or gradient, and a part cannot be read on what is there.
    Measured is the least contrast of a part at the top of the page.
    """
    header = checked.box.header
    if header is None or not header.entry.starts_under:
        return
    opening = checked.box.sections[0]
    layers = (*opening.layers, *(checked.box.ground.layers if checked.box.ground else ()))
    pictured = any(layer.name or isinstance(layer.entry.fill, Gradient) for layer in layers)
    style = header.styles[0]
    if pictured or style.background.alpha >= 1:
        return
    swept = sweep(checked.box, checked.switches, np.zeros(1))
    failing = {
        name: (float(contrast[0]), checked.limit(name, style))
        for name, contrast in checked.contrasts(swept).items()
        if contrast[0] < checked.limit(name, style) and not header.entry.parts[name].logo
    }
    if failing:
        name, (contrast, limit) = min(failing.items(), key=lambda item: item[1][0])
        yield checked.finding(
            of,
            header.name,
            at=checked.in_section(opening.name),
            scroll=(0.0, 0.0),
            measured=contrast,
            limit=limit,
            message=f"{opening.name} has no picture, and {name} stands on it with a contrast of "
            f"{contrast:.1f}",
            remedy="leave this page out of the header's 'show', or give the section a picture",
        )
