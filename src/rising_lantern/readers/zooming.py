"""Readers who zoom in, or have larger text: WCAG 2.2, 1.4.4 and 1.4.10."""

from __future__ import annotations

from collections.abc import Container, Iterator, Sequence
from dataclasses import dataclass, replace

from rising_lantern.checks.findings import Finding
from rising_lantern.checks.readers import WHOLE, TextSize, Zoom
from rising_lantern.jobs.job import Job, run_jobs
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.plan.text.screen_widths import ScreenRange, screen_ranges
from rising_lantern.readers.own_screens import CheckTask
from rising_lantern.readers.seeking import Seeking

FITTING = (
    "crowded-header",
    "crowds-screen",
    "covers-start",
    "cut-off",
    "never-reached",
    "overlapping-texts",
    "runs-under",
    "side-scroll",
)
"""The rules that say whether a page still fits."""


def findings_zoomed(
    seeking: Seeking, readers: Sequence[Zoom | TextSize], known: Container[tuple[str, ...]]
) -> Iterator[Finding]:
    """Yield what no longer fits for readers who zoom in, or who have larger text.

    Args:
        seeking: What is looked for; of its rules, those count that say whether a page fits.
        readers: The readers.
        known: What is found on the plan's own screens, which is left out.

    Raises:
        PlanError: If a page cannot be laid out.
    """
    rules = seeking.rules_of(FITTING)
    changed = [reader for reader in readers if reader.percent != WHOLE]
    if not rules or not changed:
        return
    work = [
        Job(seen, page, donor, ReaderTask(CheckTask(rules, alike=alike), viewport, reader))
        for (page, viewport), alike in seeking.views.items()
        for reader in changed
        for seen, donor in [as_seen(seeking.plan.file, viewport, reader)]
    ]
    for _, found in run_jobs(work, seeking.jobs, seeking.progress):
        yield from (item for item in found if item.about not in known)


@dataclass(frozen=True, slots=True)
class ReaderTask:
    """The check of a page as a reader has it, on a plan whose viewport is as the reader has it.

    Attributes:
        check: The check.
        viewport: The name of the viewport that the reader has.
        reader: The reader.
    """

    check: CheckTask
    viewport: str
    reader: Zoom | TextSize

    def run(self, plan: PlanFile, page: str, viewport: str) -> list[Finding]:
        """Return what is found."""
        found = self.check.run(plan, page, viewport)
        return [replace(item, viewport=self.viewport, reader=self.reader) for item in found]

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        del viewport
        return f"Checking {page} on {self.viewport} {self.reader.words}"


def as_seen(file: PlanFile, viewport: str, reader: Zoom | TextSize) -> tuple[PlanFile, str]:
    """A plan as a reader has it, and the viewport of it whose values the reader gets.

    Args:
        file: The plan.
        viewport: The reader's viewport.
        reader: The reader.

    Returns:
        The plan, in which the named viewport has the size that the reader has.
    """
    if isinstance(reader, TextSize):
        return replace(file, text_scale=reader.percent / WHOLE), viewport
    screen = file.viewport(viewport)
    width, height, scrollbar = (
        max(round(side * WHOLE / reader.percent), least)
        for side, least in ((screen.width, 1), (screen.height, 1), (screen.scrollbar, 0))
    )
    ranges = screen_ranges(file, file.viewport_names())
    schemes = {None, screen.scheme or "light"}
    fitting = [item for item in ranges if _holds(item, width) and item.scheme in schemes]
    donor = next((item.name for item in fitting if item.name == viewport), fitting[0].name)
    seen = file.with_viewport(
        donor,
        size=(width, height),
        scrollbar=scrollbar,
        ratio=screen.ratio * reader.percent / WHOLE,
        touch=screen.touch,
        scheme=screen.scheme,
    )
    return seen, donor


def _holds(item: ScreenRange, width: int) -> bool:
    """Whether the values of a viewport hold at a width."""
    return item.low <= width and (item.high is None or width < item.high)
