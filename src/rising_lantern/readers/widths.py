"""Widths between the screens that a plan names: what no longer fits at some of them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.readers import Widths
from rising_lantern.checks.running import check_scene
from rising_lantern.jobs.job import Job, run_jobs
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.plan.text.screen_widths import screen_ranges
from rising_lantern.readers.seeking import Seeking
from rising_lantern.scenes.scene import scene_of

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

_OF_HEADERS = frozenset({"crowded-header", "crowds-screen"})
"""Those of them that look at no text of a section."""

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
    yield from found_between(seeking, seeking.plan, reader, seeking.rules_of(WIDTH_RULES))


def found_between(
    seeking: Seeking, plan: Plan, reader: Widths, rules: tuple[str, ...]
) -> Iterator[Finding]:
    """Yield what some rules find at other widths; see :func:`findings_at_widths`.

    Args:
        seeking: What is looked for.
        plan: Its plan, or what takes its place.
        reader: The widths.
        rules: The rules.
    """
    asked = _range_of(plan, reader)
    work = [
        Job(plan.file, page, viewport, WidthsTask(stretch, rules, alike))
        for (page, viewport), alike in seeking.views.items()
        for stretch in stretches_of(plan, viewport, asked)
        if rules
    ]
    for _, found in run_jobs(work, seeking.jobs, seeking.progress):
        yield from found
    if seeking.progress:
        seeking.progress("Checked", len(work), len(work))


def _range_of(plan: Plan, reader: Widths) -> tuple[int, int]:
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
class WidthsTask:
    """The check of a page at the widths of a viewport.

    Attributes:
        stretch: The least and the greatest width in CSS px.
        rules: The rules to apply.
        alike: Other pages that are the same but for their names and paths.
    """

    stretch: tuple[int, int]
    rules: tuple[str, ...]
    alike: tuple[str, ...] = ()

    def run(self, plan: PlanFile, page: str, viewport: str) -> list[Finding]:
        """Return what is found, each thing once for each stretch of width, where it is worst."""
        looked_at = _AtWidths(plan, page, viewport, self.rules)
        return [
            replace(finding, reader=Widths(first, last), alike=self.alike)
            for first, last, finding in _runs(looked_at, self.stretch)
        ]

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        del viewport
        return f"Checking {page} at {self.stretch[0]:,} to {self.stretch[1]:,} px of width"


def plan_at(plan: PlanFile, viewport: str, width: int) -> PlanFile:
    """A plan in which a viewport has another width, and else the same values."""
    return plan.with_viewport(viewport, size=(width, plan.viewport(viewport).height))


class _AtWidths:
    """A page at the widths of a viewport, each laid out and checked when it is first asked for."""

    def __init__(self, plan: PlanFile, page: str, viewport: str, rules: tuple[str, ...]) -> None:
        self._plan, self._page, self._viewport = plan, page, viewport
        self._rules = rules
        self._known: dict[int, tuple[dict[About, Finding], tuple[int, ...]]] = {}

    def found(self, width: int) -> dict[About, Finding]:
        """What is found at a width, by what tells it from others."""
        return self._at(width)[0]

    @property
    def own(self) -> dict[About, Finding]:
        """What is found at the viewport's own width."""
        return self.found(self._plan.viewport(self._viewport).width)

    def state(self, width: int) -> tuple[frozenset[About], tuple[int, ...]]:
        """What is found at a width, and how many lines each text has there."""
        found, lines = self._at(width)
        return frozenset(found), lines

    def _at(self, width: int) -> tuple[dict[About, Finding], tuple[int, ...]]:
        if width not in self._known:
            plan = plan_at(self._plan, self._viewport, width)
            scene = scene_of(plan, self._page, self._viewport)
            found = {finding.about: finding for finding in check_scene(scene, self._rules)}
            lines = () if _OF_HEADERS.issuperset(self._rules) else _lines_of(scene.box)
            self._known[width] = found, lines
        return self._known[width]


def _lines_of(page: PageBox) -> tuple[int, ...]:
    """How many lines each text of a page has."""
    return tuple(
        len(item.text.lines)
        for section in page.sections
        for item in section.items
        if isinstance(item, ContentBox)
    )


def _runs(page: _AtWidths, stretch: tuple[int, int]) -> Iterator[tuple[int, int, Finding]]:
    """What is found but at the viewport's own width, with the stretches on which it is."""
    runs: dict[About, list[tuple[int, int, Finding]]] = {}
    for first, last in _stretches(page, stretch):
        for about, finding in page.found(first).items():
            worst = max(finding, page.found(last)[about], key=lambda one: one.excess)
            mine = runs.setdefault(about, [])
            if mine and mine[-1][1] == first - 1:
                start, _, before = mine.pop()
                mine.append((start, last, max(before, worst, key=lambda one: one.excess)))
            else:
                mine.append((first, last, worst))
    for about, stretches in runs.items():
        if about not in page.own:
            yield from stretches


def _stretches(page: _AtWidths, whole: tuple[int, int]) -> list[tuple[int, int]]:
    """Stretches of width on which the same is found, in order.

    The wider its screen, the fewer lines a text has; with as many lines, what is found depends on
    lengths that only grow or only shrink with the width. So where both ends of a stretch are in
    the same state, all of it is.
    """
    result: list[tuple[int, int]] = []
    waiting = [whole]
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
