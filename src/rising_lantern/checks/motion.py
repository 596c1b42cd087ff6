"""Rules about motion that not every reader wants."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.checks.findings import Checked, Finding, Rule, rule
from rising_lantern.layout.sections import SectionBox

_REMEDY = "write 'less-motion: still' for the plan"


@rule("less-motion", "note")
def less_motion(checked: Checked, of: Rule) -> Iterator[Finding]:
    """Something still moves for a reader who asks for less motion.

    Exported pages let layers and texts move with the page for such readers, unless the plan keeps
    their motion. A picture that is animated in itself goes on in any case: no style sheet stops
    it. Measured is the speed beside the page's, in px per px scrolled, or the number of pictures
    of the animation.
    """
    keeps = checked.plan.documents[checked.box.viewport].less_motion == "keep"
    ground = checked.box.ground
    for section in (*checked.box.sections, *((ground,) if ground else ())):
        yield from _animated(checked, of, section)
        if keeps:
            yield from _moving(checked, of, section)


def _animated(checked: Checked, of: Rule, section: SectionBox) -> Iterator[Finding]:
    for index, layer in enumerate(section.layers):
        name = layer.entry.image
        frames = checked.plan.files.pictures[name].frames if name else 1
        if frames > 1:
            yield checked.finding(
                of,
                f"{section.name}, layer {index}",
                at=checked.in_section(section.name, "layers", index),
                measured=frames,
                limit=1,
                message=f"{name} goes on moving for readers who ask for less motion",
                remedy="use a still picture, or several as slides",
            )


def _moving(checked: Checked, of: Rule, section: SectionBox) -> Iterator[Finding]:
    moving = [
        ("layers", f"layer {index}", index, layer.motion)
        for index, layer in enumerate(section.layers)
        if layer.moves
    ]
    moving += [
        ("content", f"text {index}", index, content.motion)
        for index, content in enumerate(section.content)
        if content.moves
    ]
    for kind, name, index, motion in moving:
        yield checked.finding(
            of,
            f"{section.name}, {name}",
            at=checked.in_section(section.name, kind, index),
            measured=max(abs(1 - motion.speed), abs(motion.drift)),
            limit=0.0,
            message="it keeps its motion for readers who ask for less of it",
            remedy=_REMEDY,
        )
