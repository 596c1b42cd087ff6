"""Rules about motion that not every reader wants."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_text
from rising_lantern.layout.sections import SectionBox

_REMEDY = "set 'less-motion: still' in the plan"


@check_rule("less-motion", "note")
def less_motion(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """Something still moves for readers who prefer less motion.

    Exported pages let layers and texts move with the page for them, unless the plan keeps the
    motion. Pictures that are animated in themselves keep moving in any case, because no style
    sheet stops them. Measured: the speed relative to the page, in px per px scrolled, or the
    number of frames of the animation.
    """
    keeps = context.plan.documents[context.box.viewport].less_motion == "keep"
    for section in context.box.all_sections:
        yield from _animated(context, rule, section)
        if keeps:
            yield from _moving(context, rule, section)


def _animated(context: CheckContext, rule: Rule, section: SectionBox) -> Iterator[Finding]:
    for index, layer in enumerate(section.layers):
        name = layer.slides[0] if len(layer.slides) == 1 else None
        frames = context.plan.files.pictures[name].frames if name else 1
        if frames > 1:
            yield rule.finding(
                context,
                Subject(section.name, index),
                measured=frames,
                limit=1,
                message=f"{name} keeps moving for readers who prefer less motion",
                remedy="use a still picture, or several as slides",
            )


def _moving(context: CheckContext, rule: Rule, section: SectionBox) -> Iterator[Finding]:
    subjects = [
        (Subject(section.name, index), layer.motion)
        for index, layer in enumerate(section.layers)
        if layer.moves
    ]
    subjects += [
        (of_text(section.name, index, content), content.motion)
        for index, content in enumerate(section.content)
        if content.moves
    ]
    for subject, motion in subjects:
        yield rule.finding(
            context,
            subject,
            measured=max(abs(1 - motion.speed), abs(motion.drift)),
            limit=0.0,
            message="it keeps moving for readers who prefer less motion",
            remedy=_REMEDY,
        )
