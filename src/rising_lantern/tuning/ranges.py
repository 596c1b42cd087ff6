"""The range of one value of a plan: the intervals in which every rule holds, and what ends them."""

from __future__ import annotations

import itertools
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from rising_lantern.api.plans import Plan, as_plan
from rising_lantern.base.arguments import Names, names, text
from rising_lantern.checks.findings import LEVELS, Finding
from rising_lantern.checks.running import chosen_rules
from rising_lantern.errors import PlanError, RequestError
from rising_lantern.jobs.sharing import Progress
from rising_lantern.plan.edits.edits import path_words
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.scenes.scene import Scene
from rising_lantern.tuning.scales import Scale, scale_of, value_path
from rising_lantern.tuning.trials import Identity, Trials, ViewName, identity

if TYPE_CHECKING:
    from matplotlib.figure import Figure

_COARSE = 12  # values between the ends that are tried first
_STEP_PX = 8.0  # of scroll, from one contrast to the next


@dataclass(frozen=True, slots=True)
class Interval:
    """Values in which every rule holds.

    Attributes:
        low: The least of them.
        high: The greatest.
        below: What is found one step below; None where that is as far as was tried.
        above: What is found one step above.
    """

    low: float
    high: float
    below: Finding | None
    above: Finding | None


@dataclass(frozen=True, slots=True)
class Stretch:
    """Values in which the same thing is found.

    Attributes:
        low: The least of them.
        high: The greatest.
        found: What matters most of what is found there.
    """

    low: float
    high: float
    found: Finding


@dataclass(frozen=True, slots=True, repr=False)
class ValueRange:
    """Where one value of a plan may lie.

    Attributes:
        key: The value's path, as ``--set`` takes it.
        current: The author's number.
        low: The least number that was tried.
        high: The greatest.
        unit: What the numbers count: px, vh, ms and so on.
        intervals: Where every rule holds, from low to high.
        stretches: Where there is no such value: what is found with the ones that were tried.
        always: What is found with every value that was tried, and does not count.
        tried: Numbers that were tried, in order.
        text: A number as the plan writes it there.
        contrast: The contrast with a number that is furthest below its limit, or least above, as
            a multiple of that; not a number where there is nothing to read.
    """

    key: str
    current: float
    low: float
    high: float
    unit: str
    intervals: tuple[Interval, ...]
    stretches: tuple[Stretch, ...]
    always: tuple[Finding, ...]
    tried: tuple[float, ...]
    text: Callable[[float], str] = field(compare=False)
    contrast: Callable[[float], float] = field(compare=False)

    def __repr__(self) -> str:
        spans = [
            f"{self.text(interval.low)} to {self.text(interval.high)}"
            for interval in self.intervals
        ]
        return f"ValueRange({self.key!r}, {spans!r})"

    @property
    def within(self) -> Interval | None:
        """The interval that the author's value lies in; None where it lies in none."""
        found = (
            interval for interval in self.intervals if interval.low <= self.current <= interval.high
        )
        return next(found, None)

    def chart(self) -> Figure:
        """The worst contrast over the value, with the intervals in which every rule holds."""
        from rising_lantern.report.ranges import RangeChart, draw_range  # noqa: PLC0415 - it draws

        return draw_range(
            RangeChart(
                f"{self.key}{', ' + self.unit if self.unit else ''}",
                (self.low, self.high),
                (self.current, self.text(self.current)),
                [
                    (
                        (
                            interval.low,
                            f"{self.text(interval.low)}\n{interval.below.rule}"
                            if interval.below
                            else "",
                        ),
                        (
                            interval.high,
                            f"{self.text(interval.high)}\n{interval.above.rule}"
                            if interval.above
                            else "",
                        ),
                    )
                    for interval in self.intervals
                ],
                self.tried,
                [self.contrast(item) for item in self.tried],
            )
        )


def value_range(  # noqa: PLR0913 - what to try, where, and by what
    plan: Plan,
    key: str,
    pages: Names = (),
    viewports: Names = (),
    *,
    only: Names = (),
    skip: Names = (),
    contrast: Conformance | None = None,
    progress: Progress | None = None,
) -> ValueRange:
    """The intervals of one value in which every rule holds, on all pages and viewports.

    What is found at every value is not caused by it and does not count; nor do notes.

    Args:
        plan: The plan.
        key: The value's path, as ``--set`` takes it: a length, a threshold, a time, a number or a
            colour, of which ``.alpha`` or ``.lightness`` after it says which of its figures.
        pages: The pages to look at; by default all.
        viewports: The viewports to look at; by default all.
        only: The rules that are to hold; by default all.
        skip: Rules that need not hold.
        contrast: The level of WCAG 2.2 to apply; by default the plan's.
        progress: Called before each of the values that are tried first, and at their end.

    Raises:
        RequestError: If the plan has no such value, it is not a number, or there is no rule with
            a name.
        PlanError: As :func:`rising_lantern.check`.
    """
    trials = Trials(plan, tuple(as_plan(plan).view_names(pages, viewports)), contrast)
    text("a path", key, "headers.main.looks.solid.from")
    path, _ = value_path(plan, key)
    affected = trials.affected(path)
    scale = scale_of(plan, key, [plan.view(*view).scene for view in affected])
    rules = tuple(rule.name for rule in chosen_rules(names(only), names(skip)))
    searched = _Search(trials, path_words(path), scale, affected, rules)
    steps = round((scale.high - scale.low) / scale.step)
    marks = {scale.low + round(steps * n / _COARSE) * scale.step for n in range(_COARSE + 1)}
    first = sorted({*marks, scale.current})
    for done, value in enumerate(first):
        if progress:
            progress(f"Trying {scale.text(value)}", done, len(first))
        searched.found(value)
    if progress:
        progress("Tried", len(first), len(first))
    values = sorted(searched.known)
    intervals = tuple(_intervals(searched, values, scale))
    stretches = () if intervals else tuple(_stretches(searched, values, scale))
    values = sorted(searched.known)
    return ValueRange(
        key,
        scale.current,
        scale.low,
        scale.high,
        scale.unit,
        intervals,
        stretches,
        searched.everywhere(),
        tuple(values),
        scale.text,
        searched.worst_contrast,
    )


class _Search:
    """Values of a plan that have been tried, with what is found for each."""

    def __init__(
        self,
        trials: Trials,
        key: str,
        scale: Scale,
        views: Sequence[ViewName],
        rules: tuple[str, ...],
    ) -> None:
        self._trials, self._key, self._scale, self._views = trials, key, scale, views
        self._rules = rules
        self.known: dict[float, dict[Identity, Finding] | None] = {}

    def found(self, value: float) -> dict[Identity, Finding] | None:
        """What is found with a value; None where the plan does not take it."""
        value = round(value, 6)
        if value not in self.known:
            self.known[value] = self._findings_with(value, self._rules)
        return self.known[value]

    def _findings_with(
        self, value: float, rules: tuple[str, ...]
    ) -> dict[Identity, Finding] | None:
        """What some rules find with a value; None where the plan does not take it."""
        try:
            plan = self._plan(value)
            return {
                identity(item): item
                for view in self._views
                for item in self._trials.check(plan, view, rules)
                if _counts(item)
            }
        except (PlanError, RequestError):
            return None

    def holds(self, value: float) -> bool:
        """Whether nothing is found with a value that is not found with every one."""
        found = self.found(value)
        return found is not None and not set(found) - self.always

    def passes(self, value: float, rules: tuple[str, ...]) -> bool:
        """Whether some rules find nothing with a value that is not found with every one."""
        found = self._findings_with(value, rules)
        return found is not None and not set(found) - self.always

    def binding(self, value: float) -> tuple[str, ...]:
        """The rules that a value does not hold to; none where the plan does not take it."""
        found = self.found(value) or {}
        return tuple({known[0]: None for known in found if known not in self.always})

    def everywhere(self) -> tuple[Finding, ...]:
        """What is found with every value."""
        some = next((found for found in self.known.values() if found is not None), {})
        return tuple(item for known, item in some.items() if known in self.always)

    @property
    def always(self) -> set[Identity]:
        """What is found whatever the value is."""
        result = [set(found) for found in self.known.values() if found is not None]
        return set.intersection(*result) if result else set()

    def first(self, value: float) -> Finding | None:
        """What matters most of what is found with a value."""
        found, always = self.found(value) or {}, self.always
        own = [item for known, item in found.items() if known not in always]
        return min(own, key=lambda one: LEVELS.index(one.level), default=None)

    def worst_contrast(self, value: float) -> float:
        """The contrast that is furthest below its limit, as a multiple of it."""
        if self.found(value) is None:
            return math.nan
        plan = self._plan(value)
        shares = [_worst_share(plan.view(*view).scene) for view in self._views]
        known = [share for share in shares if not math.isnan(share)]
        return min(known, default=math.nan)

    def _plan(self, value: float) -> Plan:
        return self._trials.plan.replace({self._key: self._scale.text(value)})


def _counts(finding: Finding) -> bool:
    return finding.silenced is None and finding.level != "note"


def _worst_share(scene: Scene) -> float:
    scroll = scene.positions(_STEP_PX)
    curves = scene.worst_part(scroll), scene.worst_text(scroll)
    shares = np.concatenate([curve.contrast / curve.limit for curve in curves])
    known = shares[np.isfinite(shares)]
    return float(known.min()) if known.size else math.nan


def _intervals(searched: _Search, values: Sequence[float], scale: Scale) -> Iterator[Interval]:
    """Runs of values in which all holds, their ends found by bisection to the last step."""
    start: tuple[float, Finding | None] | None = None
    for index, value in enumerate(values):
        holds = searched.holds(value)
        if holds and start is None:
            if index == 0:
                start = value, None
            else:
                outside, inside = _edge(searched, values[index - 1], value, scale)
                start = inside, searched.first(outside)
        elif not holds and start is not None:
            outside, inside = _edge(searched, value, values[index - 1], scale)
            yield Interval(start[0], inside, start[1], searched.first(outside))
            start = None
    if start is not None:
        yield Interval(start[0], values[-1], start[1], None)


def _stretches(searched: _Search, values: Sequence[float], scale: Scale) -> Iterator[Stretch]:
    """Runs of values with which the same matters most, their ends found by bisection."""
    start, found = values[0], searched.first(values[0])
    for before, value in itertools.pairwise(values):
        following = searched.first(value)
        if not _differs(searched, found, value):
            continue
        differs = partial(_differs, searched, found)
        end, begin = _bisect(differs, before, value, scale)
        if found:
            yield Stretch(start, end, found)
        start, found = begin, following
    if found:
        yield Stretch(start, values[-1], found)


def _differs(searched: _Search, found: Finding | None, value: float) -> bool:
    """Whether with a value something else matters most than what was found."""
    other = searched.first(value)
    return (found and identity(found)) != (other and identity(other))


def _edge(searched: _Search, outside: float, inside: float, scale: Scale) -> tuple[float, float]:
    """Two neighbouring values, the first of which does not hold and the second does.

    What is found outside is looked for alone, which is quicker; then all is proved.
    """
    rules = searched.binding(outside)
    if rules:
        near = partial(searched.passes, rules=rules)
        one, other = _bisect(near, outside, inside, scale)
        if searched.holds(other) and not searched.holds(one):
            return one, other
    return _bisect(searched.holds, outside, inside, scale)


def _bisect(
    holds: Callable[[float], bool], outside: float, inside: float, scale: Scale
) -> tuple[float, float]:
    """Two neighbouring values by bisection, the first outside and the second inside."""
    while abs(inside - outside) > scale.step * 1.5:
        steps = round((inside - outside) / scale.step)
        middle = round(outside + int(steps / 2) * scale.step, 6)
        if holds(middle):
            inside = middle
        else:
            outside = middle
    return outside, inside
