"""Which values may be changed to clear the findings of each rule, in the order to try them.

A value that is to be changed is read from the plan, as the author wrote it; its used value on a
screen is read from the view.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator

from rising_lantern.checks.backgrounds import missing_room
from rising_lantern.checks.switching import FADE_STEP_MS
from rising_lantern.css.numbers import number
from rising_lantern.plan.models.base import Auto
from rising_lantern.plan.models.changes import Fade, time_of
from rising_lantern.plan.models.thresholds import shifted
from rising_lantern.plan.text.nodes import Key
from rising_lantern.tuning.cases import Case, fixes
from rising_lantern.tuning.knobs import (
    Knob,
    lengthened,
    moved,
    plan_colors,
)

_TIME = re.compile(r"[\d.]+m?s\b", re.IGNORECASE)
_HIGHEST_Z = 1_000_000
_MOST_PICTURES = 6
_OTHER_SHAPE = 0.01  # of a picture's proportions
_Path = tuple[Key, ...]

BESIDE: dict[str, tuple[str, ...]] = {
    "late-switch": ("early-switch", "unreadable-part"),
    "early-switch": ("late-switch", "unreadable-part"),
    "never-reached": ("late-switch", "early-switch"),
    "part-left-behind": ("unreadable-part",),
    "soft-picture": ("gap",),
    "gap": ("soft-picture",),
}
"""Other rules that may not find more on the way to the value; all rules prove it at the end."""


@fixes("no-picture-below")
def _no_picture_below(case: Case) -> Iterator[Knob]:
    """Another colour for the texts of the first look, from the plan's own."""
    if not case.header.looks:
        return
    first = case.box.looks[0]
    where = (*case.header_path, "looks", first.name, "color")
    yield from plan_colors("colour of the texts", where, case.scene.document.colors, first.color)


@fixes("barely-scrolls")
def _barely_scrolls(case: Case) -> Iterator[Knob]:
    """Room: a higher last section, where the section is on the screen for too little scroll."""
    section, page = case.section_box, case.scene.box
    if section is None:
        return
    most = missing_room(page, section, case.worst.limit)
    if not most:
        return
    last = page.sections[-1].name
    height = case.scene.document.pages[page.page].sections[last].height
    if isinstance(height, Auto):
        return
    yield lengthened("height of the last section", page.path_to(last, "height"), height, most)


@fixes("never-seen")
def _never_seen(case: Case) -> Iterator[Knob]:
    look = case.header.look(str(case.path[-2]))  # the one that replaces it
    if look.from_:
        yield moved(case.path, look.from_, 1, max(case.scene.max_scroll, 1))


@fixes("late-switch", "early-switch", "never-reached")
def _retime(case: Case) -> Iterator[Knob]:
    if case.look.from_:
        way = 1 if case.worst.rule == "early-switch" else -1
        steps = max(math.ceil(finding.excess) for finding in case.findings)
        yield moved(case.path, case.look.from_, way, steps)


@fixes("flicker")
def _flicker(case: Case) -> Iterator[Knob]:
    held = case.look.back or case.look.from_
    if held:
        steps = max(math.ceil(finding.measured) for finding in case.findings)
        path = (*case.path, "back")
        yield Knob("position of 'back'", path, steps, lambda step: shifted(held, -step))


@fixes("slow-change")
def _slow_change(case: Case) -> Iterator[Knob]:
    change = case.header.change_to(case.worst.subject.look or "")
    longest = time_of(change)
    path = case.path if case.look.change else (*case.header_path, "change")
    node = case.scene.plan.written(path)
    written = "" if node is None else str(node.plain())

    def text(step: int) -> str:
        time = f"{number(max(longest - step * FADE_STEP_MS, 0))}ms"
        return _TIME.sub(time, written, count=1)

    what = "time of the fade" if isinstance(change, Fade) else "lag of the blend"
    yield Knob(what, path, math.ceil(longest / FADE_STEP_MS), text)


@fixes("soft-picture")
def _soft_picture(case: Case) -> Iterator[Knob]:
    layer, box = case.layer, case.layer_box
    if layer is None or box is None or not box.moves or layer.attachment:
        return
    speed = layer.rate
    way = 1 if speed < 1 else -1

    def text(step: int) -> str:
        return number(round(speed + way * step / 100, 2))

    yield Knob("speed", (*case.path, "speed"), math.ceil(abs(1 - speed) * 100), text)


@fixes("gap")
def _gap(case: Case) -> Iterator[Knob]:
    layer, box = case.layer, case.layer_box
    if layer is None or box is None:
        return
    height = math.floor(box.size[1])
    steps = math.ceil(box.motion.height) - height + 1
    path, size = (*case.path, "size"), layer.size
    width = size.width.css() if size.width and size.height else "auto"
    yield Knob("size of the picture", path, steps, lambda step: f"{width} {height + step}px")


@fixes("behind-something")
def _behind_something(case: Case) -> Iterator[Knob]:
    z = case.box.z
    yield Knob("z of the header", case.path, _HIGHEST_Z - z, lambda step: str(z + step))
