"""The range of one value of a plan: the intervals in which every rule holds, and what ends them."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from typing import TYPE_CHECKING

import numpy as np

from rising_lantern.api import Plan
from rising_lantern.arguments import Names
from rising_lantern.checks.findings import LEVELS, Finding
from rising_lantern.css.lengths import Term
from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import CssError
from rising_lantern.errors import PlanError, RequestError, quoted
from rising_lantern.parallel import Progress
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.models.thresholds import Threshold, parse_threshold
from rising_lantern.tuning.knobs import shifted
from rising_lantern.tuning.trials import Identity, Trials, ViewName, identity
from rising_lantern.view import View

if TYPE_CHECKING:
    from matplotlib.figure import Figure

_COARSE = 12  # values between the ends that are tried first
_STEP_PX = 8.0  # of scroll, from one contrast to the next
_TIME = re.compile(r"(\d*\.?\d+)(m?s)\b", re.IGNORECASE)
_FINE = 0.01  # from one plain number to the next


@dataclass(frozen=True, slots=True)
class Scale:
    """A value of a plan as a number, and back.

    Attributes:
        current: The author's number.
        low: The least number to try.
        high: The greatest.
        step: The finest difference.
        unit: What it counts.
        text: A number as the plan writes it there.
    """

    current: float
    low: float
    high: float
    step: float
    unit: str
    text: Callable[[float], str]


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
    always: tuple[Finding, ...]
    tried: tuple[float, ...]
    text: Callable[[float], str]
    contrast: Callable[[float], float]

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


def value_range(
    plan: Plan,
    key: str,
    pages: Names = (),
    viewports: Names = (),
    *,
    conformance: Conformance | None = None,
    progress: Progress | None = None,
) -> ValueRange:
    """The intervals of one value in which every rule holds, on all pages and viewports.

    What is found at every value is not caused by it and does not count; nor do notes.

    Args:
        plan: The plan.
        key: The value's path, as ``--set`` takes it: a length, a threshold, a time or a number.
        pages: The pages to look at; by default all.
        viewports: The viewports to look at; by default all.
        conformance: The level of WCAG 2.2 to apply; by default the plan's.
        progress: Called before each of the values that are tried first, and at their end.

    Raises:
        RequestError: If the plan has no such value, or it is not a number.
        PlanError: As :func:`rising_lantern.check`.
    """
    trials = Trials(plan, tuple(plan.view_names(pages, viewports)), conformance)
    path = plan.path_of(key)
    affected = trials.affected(path)
    scale = _scale(plan, key, path, [plan.view(*view) for view in affected])
    searched = _Search(trials, key, scale, affected)
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
    return ValueRange(
        key,
        scale.current,
        scale.low,
        scale.high,
        scale.unit,
        intervals,
        searched.everywhere(),
        tuple(values),
        scale.text,
        searched.worst_contrast,
    )


class _Search:
    """Values of a plan that have been tried, with what is found for each."""

    def __init__(self, trials: Trials, key: str, scale: Scale, views: Sequence[ViewName]) -> None:
        self._trials, self._key, self._scale, self._views = trials, key, scale, views
        self.known: dict[float, dict[Identity, Finding] | None] = {}

    def found(self, value: float) -> dict[Identity, Finding] | None:
        """What is found with a value; None where the plan does not take it."""
        value = round(value, 6)
        if value not in self.known:
            self.known[value] = self._looked(value, ())
        return self.known[value]

    def _looked(self, value: float, rules: tuple[str, ...]) -> dict[Identity, Finding] | None:
        """What some rules, or all, find with a value; None where the plan does not take it."""
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
        found = self._looked(value, rules)
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
        shares = [_worst_share(plan.view(*view)) for view in self._views]
        known = [share for share in shares if not math.isnan(share)]
        return min(known, default=math.nan)

    def _plan(self, value: float) -> Plan:
        return self._trials.plan.replace({self._key: self._scale.text(value)})


def _counts(finding: Finding) -> bool:
    return finding.silenced is None and finding.level != "note"


def _worst_share(view: View) -> float:
    scroll = view.positions(_STEP_PX)
    curves = view.worst_part(scroll), view.worst_text(scroll)
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


def _edge(searched: _Search, outside: float, inside: float, scale: Scale) -> tuple[float, float]:
    """Two neighbouring values, the first of which does not hold and the second does.

    What is found outside is looked for alone, which is quicker; then all is proved.
    """
    rules = searched.binding(outside)
    if rules:
        near = partial(searched.passes, rules=rules)
        one, other = _halved(near, outside, inside, scale)
        if searched.holds(other) and not searched.holds(one):
            return one, other
    return _halved(searched.holds, outside, inside, scale)


def _halved(
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


def _scale(plan: Plan, key: str, path: tuple[str | int, ...], views: Sequence[View]) -> Scale:
    """The scale of a value, by how it is written.

    Raises:
        RequestError: If it is not a number.
    """
    node = plan.file.written(path)
    value = None if node is None else node.value
    if isinstance(value, int | float) and not isinstance(value, bool):
        return _plain_scale(float(value), whole=path[-1] == "z")
    if isinstance(value, str):
        found = _threshold_scale(value, path, views) or _time_scale(value)
        if found:
            return found
    raise RequestError(
        f"{quoted(key)} is not a number: name a length, a threshold, a time or a plain number"
    )


def _plain_scale(value: float, *, whole: bool) -> Scale:
    if whole:
        return Scale(value, value - 50, value + 50, 1.0, "", lambda one: str(round(one)))
    return Scale(
        value,
        round(value - 1, 2),
        round(value + 1, 2),
        _FINE,
        "",
        lambda one: number(round(one, 2)),
    )


def _threshold_scale(text: str, path: tuple[str | int, ...], views: Sequence[View]) -> Scale | None:
    """A length, or the length that is added to an edge."""
    try:
        threshold = parse_threshold(text)
    except CssError:
        return None
    expression = threshold.offset.expression
    if threshold.edge:
        return _edge_scale(threshold, views)
    if not isinstance(expression, Term):
        return None
    unit, value = expression.unit, expression.value
    least = -abs(value) if value < 0 else 0.0
    greatest = max(2 * abs(value), {"px": 400.0, "em": 4.0, "rem": 4.0}.get(unit, 100.0))
    if path[-1] in {"from", "back", "at", "settle"} and unit == "px":
        greatest = float(max(value, *(view.max_scroll for view in views)))
    step = 0.1 if unit in {"em", "rem"} else 1.0
    low = value - math.floor((value - least) / step) * step
    return Scale(value, round(low, 6), greatest, step, unit, lambda one: f"{number(one)}{unit}")


def _edge_scale(threshold: Threshold, views: Sequence[View]) -> Scale | None:
    """What is added to an edge, from where that meets the top of the page to its end."""
    expression = threshold.offset.expression
    if not isinstance(expression, Term) or (expression.unit != "px" and expression.value):
        return None
    value = expression.value
    places = [(round(view.box.flow.position(threshold, 0)), view.max_scroll) for view in views]
    low = value - max(max(index, 0) for index, _ in places)
    high = value + max(max(end - index, 0) for index, end in places)
    return Scale(value, low, high, 1.0, "px", partial(_moved, threshold, value))


def _moved(threshold: Threshold, value: float, one: float) -> str:
    return shifted(threshold, one - value)


def _time_scale(text: str) -> Scale | None:
    """The first time of a change, in ms."""
    found = _TIME.search(text)
    if found is None:
        return None
    value = float(found[1]) * (1.0 if found[2].lower() == "ms" else 1000.0)
    return Scale(
        value,
        value % 10,
        max(2 * value, 1000.0),
        10.0,
        "ms",
        lambda one: _TIME.sub(f"{number(one)}ms", text, count=1),
    )
