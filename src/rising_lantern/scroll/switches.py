"""Where a header switches from look to look, in px, and which look is current along the scroll."""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from rising_lantern.base.arrays import Floats, Indices
from rising_lantern.errors import Fault, PlanError
from rising_lantern.layout.headers import Going, HeaderBox, LookBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import SectionBox
from rising_lantern.plan.models.changes import Blend, Change
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scroll.states import HeaderState, between_looks, state_of

_LEAST_PX = 1e-9  # by which a reader turns round
# Edges that are so little below a position are met there. Engines lay out in 64ths and in 60ths of
# a px: this lies between 7 and 8 of either, so that they agree on which side of it an edge is.
_HAIR_PX = 0.1235


@dataclass(frozen=True, slots=True)
class Switch:
    """A position along the scroll at which a look starts.

    Attributes:
        look: The index of the look.
        start: The scroll position in px from which it is current going down; -inf for the first.
        back: The position below which it ends going up; -inf for the first.
        blend: The distance in px over which it comes; 0 where it does not come with the scroll.
    """

    look: int
    start: float
    back: float
    blend: float


@dataclass(frozen=True, slots=True)
class CurrentLooks:
    """The looks at some scroll positions; arrays of one shape.

    Attributes:
        before: The index of the look that ends; the same as ``look`` where that is complete.
        look: The index of the look that is current or comes.
        progress: The eased share of it, 1 where it is complete.
    """

    before: Indices
    look: Indices
    progress: Floats


@dataclass(slots=True)
class Direction:
    """Which way a reader goes, who has gone a distance that way since they last turned round.

    Attributes:
        after: The distance in px; at 0 any.
        going: The way; at first down.
        turned: The furthest position that they have reached that way.
    """

    after: float
    turned: float
    going: Going = "down"

    def follow(self, scroll: float) -> Going:
        """The way in which a reader goes who has come to a position."""
        way = 1 if self.going == "down" else -1
        gone = (scroll - self.turned) * way
        if gone > 0:
            self.turned = scroll
        elif gone < 0 and -gone >= self.after:
            self.turned = scroll
            self.going = "up" if self.going == "down" else "down"
        return self.going


@dataclass(frozen=True)
class Switches:
    """All switches of a header on a page, in the order of the scroll.

    Attributes:
        header: The header.
        steps: Where looks start, none before the step ahead of it. The first is that of the top.
        max_scroll: The last scroll position that a reader reaches going down, in px.
        directed: Where the look starts and ends that holds in one direction, in place of any
            other; None where there is none.
    """

    header: HeaderBox
    steps: tuple[Switch, ...]
    max_scroll: int
    directed: Switch | None = None

    @cached_property
    def all_steps(self) -> tuple[Switch, ...]:
        """The steps, and after them that of the look that holds in one direction."""
        return (*self.steps, *((self.directed,) if self.directed else ()))

    @cached_property
    def _starts(self) -> Floats:
        """Where each step starts."""
        return np.array([step.start for step in self.steps])

    @cached_property
    def _looks(self) -> Indices:
        """The look of each step."""
        return np.array([step.look for step in self.steps], dtype=np.intp)

    @property
    def directed_look(self) -> LookBox | None:
        """The look that holds in one direction."""
        return self.header.looks[self.directed.look] if self.directed else None

    @cached_property
    def states(self) -> tuple[HeaderState, ...]:
        """The state of the header in each of its looks."""
        return tuple(state_of(self.header, look) for look in self.header.looks)

    @property
    def directed_place(self) -> int | None:
        """A position half-way along those at which the look holds that holds in one direction."""
        look = self.directed_look
        if self.directed is None or look is None:
            return None
        first, end = max(math.ceil(self.directed.start), 0), math.floor(self.last_start(look))
        return (first + end) // 2 if first <= end else None

    def last_start(self, look: LookBox) -> float:
        """The last position at which a look can start, in px."""
        return self.turned_at if look.going == "up" else self.max_scroll

    @property
    def turned_at(self) -> float:
        """The last position at which a reader who comes back from the end goes up, in px."""
        look = self.directed_look
        return self.max_scroll - max(look.after if look else 0.0, _LEAST_PX)

    def look_of(self, step: int) -> LookBox:
        """The look that starts at a step."""
        return self.header.looks[self.all_steps[step].look]

    def looks_at(self, scroll: Floats, going: Going = "down") -> CurrentLooks:
        """The looks at scroll positions, for a reader who came from the top or from the end.

        A look holds while ``s >= start``; going up it ends where ``s < back``. One that holds
        in one direction replaces it, once the reader has turned round for long enough.
        """
        if going == "down":
            index = np.searchsorted(self._starts, scroll, side="right") - 1
        else:
            reached = int(np.searchsorted(self._starts, self.max_scroll, side="right"))
            backs = np.array([step.back for step in self.steps[:reached]])
            held = scroll[..., None] >= backs
            index = reached - 1 - np.argmax(held[..., ::-1], axis=-1)
        progress = np.ones_like(scroll)
        for step in range(1, len(self.steps)):
            here = index == step
            if self.steps[step].blend > 0 and here.any():
                progress[here] = self.eased(step, self.share(step, scroll[here]))
        before = np.where(progress == 1, index, np.maximum(index - 1, 0))
        before, current = self._looks[before], self._looks[index]
        held = self._directional_range(scroll, going)
        if self.directed and held.any():
            before, current = (np.where(held, self.directed.look, own) for own in (before, current))
            progress[held] = 1.0
        return CurrentLooks(before, current, progress)

    def _directional_range(self, scroll: Floats, going: Going) -> NDArray[np.bool_]:
        """Where the look holds that holds in one direction."""
        look = self.directed_look
        if self.directed is None or look is None:
            return np.zeros(scroll.shape, dtype=np.bool_)
        # At the end of the page nobody has turned round yet.
        turned = (scroll <= self.turned_at) & (going == "up")
        upward = look.going == "up"
        if self.directed.start > self.last_start(look):
            return np.zeros(scroll.shape, dtype=np.bool_)
        edge = self.directed.start if going == "down" else self.directed.back
        return np.asarray((turned == upward) & (scroll >= edge))

    def state(self, before: int, look: int, progress: float) -> HeaderState:
        """The state of the header while a look comes after another.

        Args:
            before: The index of the look that ends.
            look: The index of the look that comes.
            progress: Its eased share; 1 where it is complete.
        """
        if progress == 1:
            return self.states[look]
        # A second header that was there goes as it came: the first one changes from what it had.
        first = self.states[self.header.standing(before)]
        arrive = self.header.looks[look].arrive
        return between_looks(first, self.states[look], progress, arrive)

    def share(self, step: int, scroll: Floats) -> Floats:
        """How far a blend has come, before it is eased. One that is cut short ends there."""
        switch = self.all_steps[step]
        following = self.steps[step + 1].start if step + 1 < len(self.steps) else math.inf
        distance = min(switch.blend, following - switch.start)
        if distance <= 0:
            return np.ones_like(scroll)
        return np.clip((scroll - switch.start) / distance, 0.0, 1.0)

    def change_at(self, step: int) -> Change:
        """How the look of a step comes."""
        return self.look_of(step).change

    def eased(self, step: int, share: Floats) -> Floats:
        """The eased share of the look of a step."""
        change = self.change_at(step)
        return change.easing(share) if isinstance(change, Blend) else np.ones_like(share)

    def after(self, step: int, scroll: float) -> int:
        """The step that holds at a position for a reader who comes from where another held."""
        while step + 1 < len(self.steps) and scroll >= self.steps[step + 1].start:
            step += 1
        while step > 0 and scroll < self.steps[step].back:
            step -= 1
        return step


def switches_of(page: PageBox, plan: PlanFile) -> Switches | None:
    """The switches of the header that a page gets, or None.

    Raises:
        PlanError: If a look would end above the position where it starts.
    """
    switches = switches_on(page)
    for step in (switches.all_steps if switches else ())[1:]:
        _check_back(plan, page, step)
    return switches


def switches_on(page: PageBox) -> Switches | None:
    """The switches of the header of a page that has been found to be in order, or None."""
    header = page.header
    if header is None:
        return None
    if header.by_tone:
        steps = _steps_by_tone(page, header)
    else:
        steps = [Switch(0, -math.inf, -math.inf, 0.0)]
        for index, look in enumerate(header.looks[1:], 1):
            earliest = 0.0 if look.going else steps[-1].start
            steps.append(_switch(page, header, index, earliest))
    directed = steps.pop() if header.looks[steps[-1].look].going else None
    return Switches(header, tuple(steps), _max_scroll(page, steps), directed)


def look_at_target(page: PageBox, switches: Switches, section: SectionBox) -> LookBox | None:
    """The look of a pinned header that covers most of the screen where a link leads to a section.

    The browser stops with the section's upper edge at the header's lower one. Which look the
    header has there can depend on the way that the reader has come.

    Returns:
        The look; None where the header does not stay on the screen.
    """
    header = switches.header
    found: list[LookBox] = []
    for index, look in enumerate(header.looks):
        if not ((header.is_pinned and not header.sticks_within) or look.stays):
            continue
        place = page.flow.room(index) + section.top - header.inset - look.height
        at = np.array([min(max(place, 0.0), float(switches.max_scroll))])
        if any(int(switches.looks_at(at, way).look[0]) == index for way in ("down", "up")):
            found.append(look)
    return max(found, key=lambda look: look.height, default=None)


def _met(position: float) -> float:
    """Where an edge is met: at the whole px above which it is by less than engines agree on."""
    whole = math.floor(position)
    return whole if position - whole < _HAIR_PX else position


def _switch(page: PageBox, header: HeaderBox, index: int, earliest: float) -> Switch:
    look = header.looks[index]
    start = _met(page.flow.position(look.start, index - 1)) if look.start else 0.0
    start = max(start, earliest)
    back = _met(page.flow.position(look.back, index - 1)) if look.back else start
    return Switch(index, start, back, _blend(page, look, index - 1))


def _blend(page: PageBox, look: LookBox, before: int) -> float:
    if not isinstance(look.change, Blend):
        return 0.0
    whole = page.flow.ends(before)
    return max(look.change.distance.px(page.screen.basis(whole=whole)), 0.0)


def _steps_by_tone(page: PageBox, header: HeaderBox) -> list[Switch]:
    """A step wherever the middle of the header comes over a section of another tone.

    A section without a tone is taken for the one above it.
    """
    middle = header.inset + header.looks[0].height / 2
    steps: list[Switch] = []
    for section in page.sections:
        before = steps[-1].look if steps else 0
        look = header.by_tone.get(section.tone or "", before)
        if not steps:
            steps.append(Switch(look, -math.inf, -math.inf, 0.0))
        elif look != before:
            edge = _met(page.flow.room(before) + section.top - middle)
            start = max(edge, steps[-1].start)
            steps.append(Switch(look, start, start, _blend(page, header.looks[look], before)))
    return steps


def _max_scroll(page: PageBox, steps: list[Switch]) -> int:
    """The end of the page in the look that is current there."""
    end = page.flow.ends(steps[0].look)
    for step in steps[1:]:
        if step.start > end:
            break
        end = page.flow.ends(step.look)
    return end


def _check_back(plan: PlanFile, page: PageBox, step: Switch) -> None:
    """Refuse a look that would end above the position where it starts."""
    if page.header is not None and step.back > step.start:
        header, look = page.header.name, page.header.looks[step.look].name
        path = ("headers", header, "looks", look, "back")
        raise PlanError(
            [
                Fault(
                    plan.place_of(path),
                    f"on page '{page.page}' at '{page.viewport}' the look '{look}' would end at "
                    f"{step.back:g} px, beyond its start at {step.start:g} px",
                    "set 'back' to the position of 'from' or less",
                )
            ]
        )
