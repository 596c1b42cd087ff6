"""Readers who get a page as another plan would have it: what is missing, longer or shorter."""

from __future__ import annotations

from collections.abc import Container, Iterator
from dataclasses import dataclass, replace

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import Finding, Level
from rising_lantern.checks.readers import FONTS, ContentLength, LongerWords, Widths, Without
from rising_lantern.jobs.job import Job, run_jobs
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.readers.lengths import plan_of_length, plan_of_words
from rising_lantern.readers.missing import plan_without
from rising_lantern.readers.own_screens import CheckTask
from rising_lantern.readers.seeking import Seeking
from rising_lantern.readers.widths import found_between
from rising_lantern.readers.zooming import FITTING

READABLE = ("unreadable-part", "unreadable-content", "part-left-behind", "runs-under")
"""The rules that say whether something can be read."""

_HOLDING = (
    *FITTING,
    "barely-scrolls",
    "covered-content",
    "early-switch",
    "focus-lost",
    "gap",
    "late-switch",
    "lets-go-early",
    "never-seen",
    "off-centre",
    *READABLE,
)
"""The rules that depend on how high sections are."""

Rewritten = ContentLength | LongerWords | Without
"""A reader for whom the plan says something else."""


def findings_rewritten(
    seeking: Seeking,
    reader: Rewritten,
    known: Container[tuple[str, ...]],
    contrast: Conformance | None,
) -> Iterator[Finding]:
    """Yield what is wrong only for a reader for whom the plan says something else.

    Args:
        seeking: What is looked for; of its rules, those count that what is different can matter to.
        reader: The reader.
        known: What is found on the plan's own screens, which is left out.
        contrast: The level of WCAG 2.2, or None for the plan's.

    Raises:
        PlanError: If a page cannot be laid out.
    """
    seen, names, level = _as_seen(seeking.plan, reader)
    rules = seeking.rules_of(names)
    if seen is seeking.plan or not rules:
        return
    work = [
        Job(seen.file, *view, RewrittenTask(CheckTask(rules, contrast, alike=alike), reader))
        for view, alike in seeking.views.items()
    ]
    for _, found in run_jobs(work, seeking.jobs, seeking.progress):
        for item in found:
            if item.about not in known:
                yield replace(item, level=level or item.level, reader=reader)
    if isinstance(reader, LongerWords):
        yield from _crowded_between(seeking, seen, reader)


def _crowded_between(seeking: Seeking, seen: Plan, reader: LongerWords) -> Iterator[Finding]:
    """Yield at which widths between the viewports a header is crowded by longer words only."""
    rules, widths = seeking.rules_of(("crowded-header",)), reader.at or Widths()
    planned = [
        (item.about, *_ends(item)) for item in found_between(seeking, seeking.plan, widths, rules)
    ]
    for item in found_between(seeking, seen, widths, rules):
        low, high = _ends(item)
        for about, first, last in planned:
            if about == item.about and first <= low <= last:
                low = last + 1
        if low <= high:
            yield replace(item, reader=replace(reader, at=Widths(low, high)))


def _ends(item: Finding) -> tuple[int, int]:
    """The least and the greatest width at which something is found."""
    at = item.reader
    assert isinstance(at, Widths)  # noqa: S101 - it is found at widths
    assert at.low is not None and at.high is not None  # noqa: S101, PT018 - both are said there
    return at.low, at.high


@dataclass(frozen=True, slots=True)
class RewrittenTask:
    """The check of a page as a reader has it, on the plan that says so.

    Attributes:
        check: The check.
        reader: The reader.
    """

    check: CheckTask
    reader: Rewritten

    def run(self, plan: PlanFile, page: str, viewport: str) -> list[Finding]:
        """Return what is found."""
        return self.check.run(plan, page, viewport)

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        return f"{self.check.words(page, viewport)} {self.reader.words}"


def _as_seen(plan: Plan, reader: Rewritten) -> tuple[Plan, tuple[str, ...], Level | None]:
    """The plan as a reader has it, the rules that count, and the level of what is found."""
    if isinstance(reader, ContentLength):
        return plan_of_length(plan, reader.percent / 100), _HOLDING, None
    if isinstance(reader, LongerWords):
        return plan_of_words(plan, 1 + reader.percent / 100), FITTING, None
    names = FITTING if reader.feature == FONTS else READABLE
    return plan_without(plan, reader.feature), names, "warning"
