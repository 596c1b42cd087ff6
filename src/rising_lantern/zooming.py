"""Readers who zoom in, or have larger text: WCAG 2.2, 1.4.4 and 1.4.10."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from rising_lantern.api import Plan, ViewCheck, check
from rising_lantern.arguments import Names, names
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.running import chosen_rules
from rising_lantern.errors import RequestError
from rising_lantern.parallel import Jobs, Progress, followed
from rising_lantern.plan.text.screen_widths import ScreenRange, screen_ranges

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

_LEAST, _MOST = 100, 500  # per cent
_WHOLE = 100


@dataclass(frozen=True, slots=True)
class Reader:
    """How a reader has a page.

    Attributes:
        zoom: The zoom of the browser, in per cent; it scales every length.
        text_size: The size of text alone, in per cent.
    """

    zoom: int = _WHOLE
    text_size: int = _WHOLE

    @property
    def words(self) -> str:
        """What is different, in words."""
        return f"{self.zoom}% zoom" if self.zoom != _WHOLE else f"{self.text_size}% text"


def iter_check_zoomed(  # noqa: PLR0913 - what to check, and by what
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    only: Names = (),
    without: Names = (),
    zoom: Sequence[int] = (200, 400),
    text_size: int | None = None,
    jobs: Jobs = None,
    progress: Progress | None = None,
) -> Iterator[Finding]:
    """Yield what no longer fits for readers who zoom in, or who have larger text.

    A page that is zoomed is laid out as browsers do: on a viewport whose sides are divided, and
    whose pixel ratio is multiplied, by the zoom, with the values of the viewport that has its
    width. Larger text leaves the viewport as it is. What is found without either is left out.

    Args:
        plan: The plan.
        pages: The pages to check; by default all.
        viewports: The viewports to check; by default all.
        only: The rules to apply, of those in ``FITTING``; by default all of these.
        without: Rules to leave out.
        zoom: The zooms to check, 100 to 500 per cent.
        text_size: The size of text to check, 100 to 500 per cent; by default none.
        jobs: As in :func:`rising_lantern.check`.
        progress: Called before each view and at the end.

    Raises:
        PlanError: If a page cannot be laid out.
        RequestError: If the plan has no such page, viewport or rule, or a size is out of range.
    """
    readers = [Reader(zoom=percent) for percent in zoom if percent != _WHOLE]
    if text_size not in {None, _WHOLE}:
        readers.append(Reader(text_size=text_size or _WHOLE))
    for percent in (*zoom, text_size or _WHOLE):
        if not _LEAST <= percent <= _MOST:
            raise RequestError(f"{percent}% is not {_LEAST}% to {_MOST}%")
    if not readers:
        return
    chosen = names(only), names(without)
    rules = tuple(rule.name for rule in chosen_rules(*chosen) if rule.name in FITTING)
    if not rules:
        return
    found = check(plan, pages, viewports, only=rules, jobs=jobs, progress=progress)
    known = {item.about for item in found}
    work = [
        ReaderCheck(
            ViewCheck(seen, page, donor, rules, (), None, silenced=False, alike=alike),
            viewport,
            reader,
        )
        for (page, viewport), alike in plan.alike_views(pages, viewports).items()
        for reader in readers
        for seen, donor in [as_seen(plan, viewport, reader)]
    ]
    checked = followed(ReaderCheck.findings, work, jobs, progress, ReaderCheck.words)
    for item, own in checked:
        for finding in own:
            if replace(finding, viewport=item.viewport).about not in known:
                yield replace(finding, viewport=f"{item.viewport} at {item.reader.words}")


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
    reader: Reader

    def findings(self) -> list[Finding]:
        """What is found."""
        return self.own.findings()

    def words(self) -> str:
        """What is being done with it."""
        return f"Checking {self.own.page} on {self.viewport} at {self.reader.words}"


def as_seen(plan: Plan, viewport: str, reader: Reader) -> tuple[Plan, str]:
    """A plan as a reader has it, and the viewport of it whose values the reader gets.

    Args:
        plan: The plan.
        viewport: The reader's viewport.
        reader: The reader.

    Returns:
        The plan, in which the named viewport has the size that the reader has.
    """
    file = plan.file
    if reader.zoom == _WHOLE:
        return Plan(replace(file, text_scale=reader.text_size / _WHOLE)), viewport
    screen = file.viewport(viewport)
    width, height, scrollbar = (
        max(round(side * _WHOLE / reader.zoom), least)
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
        ratio=screen.ratio * reader.zoom / _WHOLE,
        touch=screen.touch,
        scheme=screen.scheme,
    )
    return Plan(seen), donor


def _holds(item: ScreenRange, width: int) -> bool:
    """Whether the values of a viewport hold at a width."""
    return item.low <= width and (item.high is None or width < item.high)
