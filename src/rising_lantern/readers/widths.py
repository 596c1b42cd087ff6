"""Widths between the screens that a plan names: what no longer fits at some of them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.readers import Widths
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.parallel import followed
from rising_lantern.plan.text.screen_widths import screen_ranges
from rising_lantern.readers.seeking import Seeking

WIDTH_RULES = (
    "crowded-header",
    "crowds-screen",
    "covers-start",
    "cut-off",
    "never-reached",
    "overlapping-texts",
    "side-scroll",
    "soft-picture",
)
"""The rules that depend on the width of the screen."""

NARROWEST_PX = 320
"""The narrowest screen that is looked at by default: WCAG 2.2, 1.4.10."""

About = tuple[str, ...]


def findings_at_widths(seeking: Seeking, reader: Widths) -> Iterator[Finding]:
    """Yield what is wrong at widths that no viewport has.

    Each viewport's values hold from its width, or its ``from``, up to the next wider one's. In
    between, the page is laid out wherever something changes: a text takes another line, parts of
    a header meet, a threshold gets beyond the end of the page, a picture becomes soft. What is
    found at a viewport's own width is left out.

    Args:
        seeking: What is looked for; of its rules, those of ``WIDTH_RULES`` count.
        reader: The widths.

    Yields:
        A finding for each stretch of width, with the figures of the worst; its reader says from
        which width to which it holds.

    Raises:
        PlanError: If a page cannot be laid out.
    """
    rules, asked = seeking.rules_of(WIDTH_RULES), _asked(seeking.plan, reader)
    work = [
        WidthsCheck(seeking.plan, page, viewport, stretch, rules, alike)
        for (page, viewport), alike in seeking.views.items()
        for stretch in stretches_of(seeking.plan, viewport, asked)
        if rules
    ]
    words = WidthsCheck.words
    for _, found in followed(WidthsCheck.findings, work, seeking.jobs, seeking.progress, words):
        yield from found
    if seeking.progress:
        seeking.progress("Checked", len(work), len(work))


def _asked(plan: Plan, reader: Widths) -> tuple[int, int]:
    """The least and the greatest width."""
    sides = [plan.file.viewport(name).width for name in plan.viewports]
    low = min(NARROWEST_PX, *sides) if reader.low is None else reader.low
    return low, max(sides) if reader.high is None else reader.high


def stretches_of(plan: Plan, viewport: str, asked: tuple[int, int]) -> list[tuple[int, int]]:
    """The stretches of width on which a viewport's values hold, first and last px.

    Args:
        plan: The plan.
        viewport: The viewport.
        asked: The least and the greatest width that count.
    """
    own = [item for item in screen_ranges(plan.file, plan.viewports) if item.name == viewport]
    spans = {(item.low, asked[1] + 1 if item.high is None else item.high) for item in own}
    # Of schemes it has several, which may be within each other.
    widest = {low: max(high for first, high in spans if first == low) for low, _ in spans}
    cut = [(max(low, asked[0]), min(high - 1, asked[1])) for low, high in sorted(widest.items())]
    return [(first, last) for first, last in cut if first <= last]


@dataclass(frozen=True, slots=True)
class WidthsCheck:
    """The check of a page at the widths of a viewport, which another process can do.

    Attributes:
        plan: The plan; another process is given this page of it only.
        page: The page's name.
        viewport: The viewport's name.
        stretch: The least and the greatest width in CSS px.
        rules: The rules to apply.
        alike: Other pages that are the same but for their names and paths.
    """

    plan: Plan
    page: str
    viewport: str
    stretch: tuple[int, int]
    rules: tuple[str, ...]
    alike: tuple[str, ...] = ()

    def findings(self) -> list[Finding]:
        """What is found, each thing once for each stretch of width, where it is worst."""
        result = []
        for first, last, finding in _runs(_AtWidths(self)):
            result.append(replace(finding, reader=Widths(first, last), alike=self.alike))
        return result

    def words(self) -> str:
        """What is being done with it."""
        return f"Checking {self.page} at {self.stretch[0]:,} to {self.stretch[1]:,} px of width"

    def __reduce__(self) -> tuple[object, ...]:
        plan = Plan(self.plan.file.of_page(self.page))
        values = plan, self.page, self.viewport, self.stretch, self.rules, self.alike
        return WidthsCheck, values


def plan_at(plan: Plan, viewport: str, width: int) -> Plan:
    """A plan in which a viewport has another width, and else the same values."""
    size = width, plan.file.viewport(viewport).height
    return Plan(plan.file.with_viewport(viewport, size=size))


class _AtWidths:
    """A page at the widths of a viewport, each laid out and checked when it is first asked for."""

    def __init__(self, work: WidthsCheck) -> None:
        self.work = work
        self._known: dict[int, tuple[dict[About, Finding], tuple[int, ...]]] = {}

    def found(self, width: int) -> dict[About, Finding]:
        """What is found at a width, by what tells it from others."""
        return self._at(width)[0]

    def state(self, width: int) -> tuple[frozenset[About], tuple[int, ...]]:
        """What is found at a width, and how many lines each text has there."""
        found, lines = self._at(width)
        return frozenset(found), lines

    def _at(self, width: int) -> tuple[dict[About, Finding], tuple[int, ...]]:
        if width not in self._known:
            work = self.work
            view = plan_at(work.plan, work.viewport, width).view(work.page, work.viewport)
            found = {finding.about: finding for finding in view.check(work.rules)}
            self._known[width] = found, _lines_of(view.scene.box)
        return self._known[width]


def _lines_of(page: PageBox) -> tuple[int, ...]:
    """How many lines each text of a page has."""
    return tuple(
        len(item.text.lines)
        for section in page.sections
        for item in section.items
        if isinstance(item, ContentBox)
    )


def _runs(page: _AtWidths) -> Iterator[tuple[int, int, Finding]]:
    """What is found but at the viewport's own width, with the stretches on which it is."""
    work = page.work
    own = page.found(work.plan.file.viewport(work.viewport).width)
    runs: dict[About, list[tuple[int, int, Finding]]] = {}
    for first, last in _stretches(page):
        for about, finding in page.found(first).items():
            worst = max(finding, page.found(last)[about], key=lambda one: one.excess)
            mine = runs.setdefault(about, [])
            if mine and mine[-1][1] == first - 1:
                start, _, before = mine.pop()
                mine.append((start, last, max(before, worst, key=lambda one: one.excess)))
            else:
                mine.append((first, last, worst))
    for about, stretches in runs.items():
        if about not in own:
            yield from stretches


def _stretches(page: _AtWidths) -> list[tuple[int, int]]:
    """Stretches of width on which the same is found, in order.

    The wider its screen, the fewer lines a text has; with as many lines, what is found depends on
    lengths that only grow or only shrink with the width. So where both ends of a stretch are in
    the same state, all of it is.
    """
    result: list[tuple[int, int]] = []
    waiting = [page.work.stretch]
    while waiting:
        first, last = waiting.pop()
        if page.state(first) == page.state(last):
            result.append((first, last))
        elif last - first == 1:
            result += [(first, first), (last, last)]
        else:
            middle = (first + last) // 2
            waiting += [(middle, last), (first, middle - 1)]
    return result
