"""Rules about motion that not every reader wants."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.fitting import SEEN_PX, letters_of
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_text
from rising_lantern.errors import shortened
from rising_lantern.layout.pause import PATH, is_pause
from rising_lantern.layout.sections import LayerBox, SectionBox

_LONGEST_S = 5.0
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
        yield from _animation_of(context, rule, section)
        if keeps:
            yield from _moving(context, rule, section)


def _animation_of(context: CheckContext, rule: Rule, section: SectionBox) -> Iterator[Finding]:
    for index, layer in enumerate(section.layers):
        name, frames = _frames(context, layer)
        if frames > 1:
            yield rule.finding(
                context,
                Subject(section.name, index),
                measured=frames,
                limit=1,
                message=f"{name} keeps moving for readers who prefer less motion",
                remedy="use a still picture, or several as slides",
            )


def _frames(context: CheckContext, layer: LayerBox) -> tuple[str, int]:
    """The picture of a layer that has one alone, and how many frames are in it; 1 in a video."""
    if len(layer.slides) != 1 or layer.video:
        return "", 1
    return layer.slides[0], context.plan.files.pictures[layer.slides[0]].frames


@check_rule("cannot-pause", "warning")
def cannot_pause(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """Something moves by itself for more than five seconds, and nothing stops it.

    WCAG 2.2, 2.2.2. Exported pages have a control that stops slides which run and videos, unless
    the plan leaves it out with 'pause: false'. Nothing stops a picture that is animated in itself.
    Measured: the length of a round of slides or of a video in seconds, or the number of frames of
    a picture.
    """
    stops = bool(context.document.pause)
    for section in context.box.all_sections:
        for index, layer in enumerate(section.layers):
            message, seconds = _running(context, layer)
            if message and not stops:
                yield rule.finding(
                    context,
                    Subject(section.name, index),
                    measured=seconds,
                    limit=_LONGEST_S,
                    message=message,
                    remedy=context.remedy("remove 'pause: false' from the plan", ("pause",), None),
                )
            name, frames = _frames(context, layer)
            if frames > 1:
                yield rule.finding(
                    context,
                    Subject(section.name, index),
                    measured=frames,
                    limit=1,
                    message=f"{name} moves without an end, and nothing stops it",
                    remedy="use its pictures as slides with 'every', which can be paused",
                )


@check_rule("pause-covers", "warning")
def pause_covers(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """The control that stops what runs lies over a text of its section at some scroll position.

    Measured: the height in px of what it covers of the text's lines.
    """
    pause = context.box.pause
    section = context.box.section(pause.section) if pause else None
    if pause is None or section is None:
        return
    swept = context.near(section)
    tops = swept.top_of(section)
    for text in section.content:
        if is_pause(text):
            continue
        past = text.motion.origin(tops, swept.scroll)[1] - tops
        covered = [
            np.minimum(pause.box.bottom, line.bottom + past)
            - np.maximum(pause.box.top, line.top + past)
            for line in letters_of(text)
            if line.left < pause.box.right and pause.box.left < line.right
        ]
        most = np.where(swept.shows(section), np.max(covered, axis=0, initial=0.0), 0.0)
        places = np.flatnonzero(most > SEEN_PX)
        if places.size:
            scroll = swept.scroll[places]
            yield rule.finding(
                context,
                Subject(section.name, words=shortened(pause.items[0].words), within=PATH),
                scroll=(float(scroll[0]), float(scroll[-1])),
                measured=float(most.max()),
                limit=0.0,
                message=f'it covers {most.max():.0f} px of "{shortened(text.words)}"',
                remedy="give it an 'at' of its own in 'pause', or 'icon-only: true'",
            )


def _running(context: CheckContext, layer: LayerBox) -> tuple[str, float]:
    """What is wrong if nothing stops what runs in a layer, and the seconds of a round of it."""
    if layer.run is not None:
        seconds = len(layer.slides) * layer.run.every_ms / 1000
        return "its slides run without an end, and nothing stops them", seconds
    clip = context.plan.files.pictures[layer.video].clip if layer.video else None
    if clip is None:
        return "", 0.0
    return "its video runs without an end, and nothing stops it", clip.seconds


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
