"""Rules about the parts of a header in its looks."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject
from rising_lantern.css.gradients import Gradient
from rising_lantern.scroll.switches import Switches

_SEEN_PX = 1.0
_OTHER_SHAPE = 0.01  # of a picture's proportions


@check_rule("part-left-behind", "error")
def part_left_behind(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A part keeps its own colour or picture in a look in which it cannot be seen.

    Measured: its contrast where the look is complete. Limit: 4.5 for texts, 3 for large texts
    and pictures. Logos are only noted.
    """
    switches = context.switches
    if switches is None:
        return
    header = switches.header
    starts = {header.looks[step.look].name: index for index, step in enumerate(switches.steps)}
    for (look, name), (contrast, limit, kept) in context.left_behind.items():
        index = starts[look]
        start = math.ceil(switches.steps[index].start + switches.steps[index].blend)
        yield rule.finding(
            context,
            Subject(header=header.name, look=look, part=name),
            scroll=(float(start), _end_of(switches, index)),
            measured=contrast,
            limit=limit,
            message=f"it keeps its {kept} in this look, where its contrast is {contrast:.1f}",
            remedy=f"give {name} another {kept} under 'parts' of the look {look}"
            + (", or 'tint: current'" if kept == "picture" else ""),
            level="note" if header.parts[name].is_logo else None,
        )


def _end_of(switches: Switches, index: int) -> float:
    """Where the look of a step ends for the next one, or the page ends."""
    following = switches.steps[index + 1 :]
    end = following[0].start - 1 if following else math.inf
    return float(min(end, switches.max_scroll))


@check_rule("logo-shift", "warning")
def logo_shift(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A picture is swapped for one with different proportions, which moves what is beside it.

    Measured: how many px the part beside it moves.
    """
    switches = context.switches
    if switches is None:
        return
    header, pictures = switches.header, context.plan.files.pictures
    for before, step in zip(switches.steps, switches.steps[1:], strict=False):
        first, second = header.looks[before.look], header.looks[step.look]
        for name, part in header.parts.items():
            images = first.styles[name].images, second.styles[name].images
            if images[0] == images[1] or not all(images):
                continue
            one, other = (pictures[shown[0]] for shown in images)
            shapes = (one.width / one.height, other.width / other.height)
            moved = [
                abs(first.parts[beside].box.left - second.parts[beside].box.left)
                for beside in first.parts.keys() & second.parts.keys() - {name}
                if header.parts[beside].side == part.side
            ]
            if abs(shapes[0] / shapes[1] - 1) > _OTHER_SHAPE and max(moved, default=0) > _SEEN_PX:
                yield rule.finding(
                    context,
                    Subject(header=header.name, look=second.name, part=name),
                    scroll=(max(step.start, 0.0), max(step.start, 0.0)),
                    measured=max(moved),
                    limit=_SEEN_PX,
                    message=f"{images[1][0]} has different proportions "
                    f"from {images[0][0]}, and moves "
                    f"what stands beside it by {max(moved):.0f} px",
                    remedy=f"export it at {one.width} x {one.height} px, or in those proportions",
                )


@check_rule("no-picture-below", "error")
def no_picture_below(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A see-through header is over an opening section that has no picture.

    The page opens without a picture or gradient, and a part cannot be read on what is there.
    Measured: the lowest contrast of any part at the top of the page.
    """
    header = context.box.header
    if header is None or not header.starts_under:
        return
    opening = context.box.sections[0]
    layers = (*opening.layers, *(context.box.ground.layers if context.box.ground else ()))
    pictured = any(layer.name or isinstance(layer.fill, Gradient) for layer in layers)
    look = header.looks[0]
    if pictured or look.background.alpha >= 1:
        return
    swept = context.at(np.zeros(1))
    failing = {
        name: (float(contrast[0]), context.limit(name, look.styles[name]))
        for name, contrast in context.contrasts(swept).items()
        if contrast[0] < context.limit(name, look.styles[name]) and not header.parts[name].is_logo
    }
    if failing:
        name, (contrast, limit) = min(failing.items(), key=lambda item: item[1][0])
        yield rule.finding(
            context,
            Subject(header=header.name),
            path=context.box.path_to(opening.name),
            scroll=(0.0, 0.0),
            measured=contrast,
            limit=limit,
            message=f"{opening.name} has no picture, and {name} has a contrast on it of "
            f"{contrast:.1f}",
            remedy="exclude this page in the header's 'show', or give the section a picture",
        )
