"""Readers who zoom in, or have larger text: WCAG 2.2, 1.4.4 and 1.4.10."""

from __future__ import annotations

from collections.abc import Container, Iterator, Sequence
from dataclasses import dataclass, replace

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.readers import WHOLE, TextSize, Zoom
from rising_lantern.parallel import followed
from rising_lantern.plan.text.screen_widths import ScreenRange, screen_ranges
from rising_lantern.readers.own_screens import ViewCheck
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
        ReaderCheck(ViewCheck(seen, page, donor, rules, alike=alike), viewport, reader)
        for (page, viewport), alike in seeking.views.items()
        for reader in changed
        for seen, donor in [as_seen(seeking.plan, viewport, reader)]
    ]
    words = ReaderCheck.words
    checked = followed(ReaderCheck.findings, work, seeking.jobs, seeking.progress, words)
    for _, found in checked:
        yield from (item for item in found if item.about not in known)


@dataclass(frozen=True, slots=True)
class ReaderCheck:
    """The check of a page as a reader has it, which another process can do.

    Attributes:
        own: The check, of a plan in which the viewport is as the reader has it.
        viewport: The name of the viewport that the reader has.
        reader: The reader.
    """

    own: ViewCheck
    viewport: str
    reader: Zoom | TextSize

    def findings(self) -> list[Finding]:
        """What is found."""
        return [
            replace(finding, viewport=self.viewport, reader=self.reader)
            for finding in self.own.findings()
        ]

    def words(self) -> str:
        """What is being done with it."""
        return f"Checking {self.own.page} on {self.viewport} {self.reader.words}"


def as_seen(plan: Plan, viewport: str, reader: Zoom | TextSize) -> tuple[Plan, str]:
    """A plan as a reader has it, and the viewport of it whose values the reader gets.

    Args:
        plan: The plan.
        viewport: The reader's viewport.
        reader: The reader.

    Returns:
        The plan, in which the named viewport has the size that the reader has.
    """
    file = plan.file
    if isinstance(reader, TextSize):
        return Plan(replace(file, text_scale=reader.percent / WHOLE)), viewport
    screen = file.viewport(viewport)
    width, height, scrollbar = (
        max(round(side * WHOLE / reader.percent), least)
        for side, least in ((screen.width, 1), (screen.height, 1), (screen.scrollbar, 0))
    )
    ranges = screen_ranges(file, plan.viewport_names())
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
    return Plan(seen), donor


def _holds(item: ScreenRange, width: int) -> bool:
    """Whether the values of a viewport hold at a width."""
    return item.low <= width and (item.high is None or width < item.high)
