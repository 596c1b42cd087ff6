"""Where a header's looks switch, in px, and which look is worn at a scroll position."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rising_lantern.errors import Fault, PlanError
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.models.changes import Blend, Change
from rising_lantern.plan.text.messages import place_of
from rising_lantern.plan.text.reading import PlanFile

Going = Literal["down", "up"]
Floats = NDArray[np.float64]
Indices = NDArray[np.intp]


@dataclass(frozen=True, slots=True)
class Switch:
    """A place along the scroll from which a look is worn.

    Attributes:
        look: The index of the look.
        start: The scroll position in px from which it is worn going down; -inf for the first.
        back: The position below which it is given up going up; -inf for the first.
        blend: Over how many px it comes; 0 where it does not come with the scroll.
    """

    look: int
    start: float
    back: float
    blend: float


@dataclass(frozen=True, slots=True)
class Worn:
    """Which looks are worn at some scroll positions; arrays of one shape.

    Attributes:
        before: The index of the look that is left; the same as ``look`` where that is complete.
        look: The index of the look that is worn or comes.
        progress: The eased share of it, 1 where it is complete.
    """

    before: Indices
    look: Indices
    progress: Floats


@dataclass(frozen=True, slots=True)
class Switches:
    """All switches of a header on a page, in the order of the scroll.

    Attributes:
        header: The header.
        steps: Where looks start; none before its forerunner. The first is worn at the top.
        max_scroll: The last scroll position that a reader reaches going down, in px.
    """

    header: HeaderBox
    steps: tuple[Switch, ...]
    max_scroll: int

    def worn(self, scroll: Floats, going: Going = "down") -> Worn:
        """The looks at scroll positions, for a reader who came from the top or from the end.

        A look holds while ``s >= start``; going up it is given up where ``s < back``.
        """
        starts = np.array([step.start for step in self.steps])
        if going == "down":
            index = np.searchsorted(starts, scroll, side="right") - 1
        else:
            reached = int(np.searchsorted(starts, self.max_scroll, side="right"))
            backs = np.array([step.back for step in self.steps[:reached]])
            held = scroll[..., None] >= backs
            index = reached - 1 - np.argmax(held[..., ::-1], axis=-1)
        return self.at_steps(index, scroll)

    def at_steps(self, index: Indices, scroll: Floats) -> Worn:
        """The looks where it is known which step holds.

        Args:
            index: Indices into the steps.
            scroll: Scroll positions, of the same shape.
        """
        progress = np.ones_like(scroll)
        for place in range(1, len(self.steps)):
            here = index == place
            if self.steps[place].blend > 0 and here.any():
                progress[here] = self.eased(place, self.share(place, scroll[here]))
        looks = np.array([step.look for step in self.steps], dtype=np.intp)
        before = np.where(progress == 1, index, np.maximum(index - 1, 0))
        return Worn(looks[before], looks[index], progress)

    def share(self, place: int, scroll: Floats) -> Floats:
        """How far a blend has come, before it is eased. One that is cut short ends there."""
        step = self.steps[place]
        following = self.steps[place + 1].start if place + 1 < len(self.steps) else math.inf
        distance = min(step.blend, following - step.start)
        if distance <= 0:
            return np.ones_like(scroll)
        return np.clip((scroll - step.start) / distance, 0.0, 1.0)

    def change_at(self, place: int) -> Change:
        """How the look of a step comes."""
        return self.header.entry.change_to(self.header.looks[self.steps[place].look])

    def eased(self, place: int, share: Floats) -> Floats:
        """The eased share of the look of a step."""
        change = self.change_at(place)
        return change.easing(share) if isinstance(change, Blend) else np.ones_like(share)

    def after(self, place: int, scroll: float) -> int:
        """The step that holds at a position for a reader who comes from where another held."""
        while place + 1 < len(self.steps) and scroll >= self.steps[place + 1].start:
            place += 1
        while place > 0 and scroll < self.steps[place].back:
            place -= 1
        return place


def switches_of(page: PageBox, plan: PlanFile) -> Switches | None:
    """The switches of the header that a page gets, or None.

    Raises:
        PlanError: Where a look would be given up above the position where it starts.
    """
    header = page.header
    if header is None:
        return None
    if header.entry.under:
        steps = _steps_by_tone(page, header)
    else:
        steps = [Switch(0, -math.inf, -math.inf, 0.0)]
        for index, name in enumerate(header.looks[1:], 1):
            steps.append(_switch(page, header, index, steps[-1].start))
            _check_back(plan, page, header.name, name, steps[-1])
    return Switches(header, tuple(steps), _max_scroll(page, steps))


def _switch(page: PageBox, header: HeaderBox, index: int, earliest: float) -> Switch:
    look = header.entry.looks[header.looks[index]]
    start = page.flow.position(look.from_, index - 1) if look.from_ else 0.0
    start = max(start, earliest)
    back = page.flow.position(look.back, index - 1) if look.back else start
    return Switch(index, start, back, _blend(page, header, index, index - 1))


def _blend(page: PageBox, header: HeaderBox, look: int, before: int) -> float:
    change = header.entry.change_to(header.looks[look])
    if not isinstance(change, Blend):
        return 0.0
    whole = page.flow.ends(before)
    return max(change.distance.px(page.screen.basis(whole=whole)), 0.0)


def _steps_by_tone(page: PageBox, header: HeaderBox) -> list[Switch]:
    """A step wherever the middle of the header comes over a section of another tone.

    A section without a tone is taken for the one above it.
    """
    entry = header.entry
    middle = header.inset + header.styles[0].height / 2
    steps: list[Switch] = []
    for section in page.sections:
        tone = section.entry.tone
        name = entry.under.get(tone) if tone else None
        look = header.looks.index(name) if name else steps[-1].look if steps else 0
        if not steps:
            steps.append(Switch(look, -math.inf, -math.inf, 0.0))
        elif look != steps[-1].look:
            start = max(page.flow.room(steps[-1].look) + section.top - middle, steps[-1].start)
            steps.append(Switch(look, start, start, _blend(page, header, look, steps[-1].look)))
    return steps


def _max_scroll(page: PageBox, steps: list[Switch]) -> int:
    """The end of the page in the look that is worn there."""
    end = page.flow.ends(steps[0].look)
    for step in steps[1:]:
        if step.start > end:
            break
        end = page.flow.ends(step.look)
    return end


def _check_back(plan: PlanFile, page: PageBox, header: str, look: str, step: Switch) -> None:
    if step.back > step.start:
        path = ("headers", header, "looks", look, "back")
        raise PlanError(
            [
                Fault(
                    place_of(plan.root, path, plan.name),
                    f"on page '{page.page}' at '{page.viewport}' the look '{look}' would be given "
                    f"up at {step.back:g} px, beyond its start at {step.start:g} px",
                    "set 'back' to the position of 'from' or less",
                )
            ]
        )
