"""The check of a plan: on its own screens, then for readers who have its pages otherwise."""

from __future__ import annotations

from collections.abc import Iterable, Iterator

from rising_lantern.api.plans import Plan, as_plan
from rising_lantern.base.arguments import Names, given, names, one_of
from rising_lantern.checks.findings import Finding, Findings
from rising_lantern.checks.readers import Reader, TextSize, Widths, Zoom
from rising_lantern.checks.running import check_silences, chosen_rules
from rising_lantern.errors import RequestError
from rising_lantern.jobs.job import Job, quickest_first, run_jobs
from rising_lantern.jobs.sharing import Jobs, Progress
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.readers.own_screens import CheckTask
from rising_lantern.readers.rewritten import Rewritten, findings_rewritten
from rising_lantern.readers.seeking import Seeking
from rising_lantern.readers.widths import findings_at_widths
from rising_lantern.readers.zooming import findings_zoomed


def check(  # noqa: PLR0913 - what to check, by what, and for whom
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    only: Names = (),
    skip: Names = (),
    contrast: Conformance | None = None,
    readers: Reader | Iterable[Reader] = (),
    silenced: bool = False,
    jobs: Jobs = None,
    progress: Progress | None = None,
) -> Findings:
    """Return what is measured to be wrong with a plan: where, by how much, and what fixes it.

    Args:
        plan: The plan.
        pages: The pages to check; by default all.
        viewports: The viewports to check; by default all.
        only: The rules to apply; by default all.
        skip: Rules to leave out.
        contrast: The level of WCAG 2.2 to apply, ``AA`` or ``AAA``; by default the plan's.
        readers: A reader for whom to check as well, or several: :class:`Zoom`,
            :class:`TextSize`, :class:`Widths`, :class:`ContentLength`, :class:`LongerWords`,
            :class:`Without`. What is found for them only is added, each with its reader; rules
            that depend on nothing of theirs are not applied.
        silenced: Whether to include the findings that the plan silences.
        jobs: How many processes share the views; by default as many as there are cores, where it
            takes more than some seconds. Or the address of the scheduler of a Dask cluster.
        progress: Called before each view and at the end.

    Raises:
        PlanError: If a page cannot be laid out, or the plan silences a rule that does not exist.
        RequestError: If the plan has no such page or viewport, there is no such rule, or something
            else is given as a reader.
    """
    found = iter_check(
        plan,
        pages,
        viewports,
        only=only,
        skip=skip,
        contrast=contrast,
        readers=readers,
        silenced=silenced,
        jobs=jobs,
        progress=progress,
    )
    return Findings(in_plan_order(plan, found))


def iter_check(  # noqa: PLR0913 - what to check, by what, and for whom
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    only: Names = (),
    skip: Names = (),
    contrast: Conformance | None = None,
    readers: Reader | Iterable[Reader] = (),
    silenced: bool = False,
    jobs: Jobs = None,
    progress: Progress | None = None,
) -> Iterator[Finding]:
    """Yield what :func:`check` finds, view by view, as soon as each view has been checked.

    Pages with the fewest layers come first, and of each its smallest viewport: what takes the
    least time.

    Args and errors are those of :func:`check`; errors in what is asked for are raised at once.
    """
    if contrast is not None:
        one_of("contrast", contrast, ("AA", "AAA"))
    check_silences(as_plan(plan).file)
    chosen = chosen_rules(names(only), names(skip))
    rules = tuple(rule.name for rule in chosen)
    views = plan.alike_views(pages, viewports)
    seeking = Seeking(plan, views, rules, jobs, progress)
    return _find(seeking, _check_readers(readers), contrast, silenced=silenced)


def in_plan_order(plan: Plan, findings: Iterable[Finding]) -> list[Finding]:
    """Findings by page and viewport as the plan has them, before those for readers only."""
    places = {view: place for place, view in enumerate(plan.view_names())}

    def place_of(finding: Finding) -> int:
        return len(places) if finding.reader else places[finding.page, finding.viewport]

    return sorted(findings, key=place_of)


def _check_readers(readers: Reader | Iterable[Reader]) -> tuple[Reader, ...]:
    """The readers.

    Raises:
        RequestError: If one of them is something else.
    """
    found = tuple(readers) if isinstance(readers, Iterable) else (readers,)
    for reader in found:
        if not isinstance(reader, Reader):
            raise RequestError(
                f"{given(reader)} is not a reader; write Zoom(400), TextSize(200), Widths(), "
                "ContentLength(130), LongerWords(40) or Without('pictures')"
            )
    return found


def _find(
    seeking: Seeking,
    readers: tuple[Reader, ...],
    contrast: Conformance | None,
    *,
    silenced: bool,
) -> Iterator[Finding]:
    """What is found on the plan's screens, and then for readers only."""
    known: set[tuple[str, ...]] = set()
    for finding in _on_screens(seeking, contrast, silenced=silenced):
        known.add(finding.about)
        yield finding
    for reader in readers:
        if isinstance(reader, Widths):
            yield from findings_at_widths(seeking, reader)
    zoomed = [reader for reader in readers if isinstance(reader, Zoom | TextSize)]
    yield from findings_zoomed(seeking, zoomed, known)
    for reader in readers:
        if isinstance(reader, Rewritten):
            yield from findings_rewritten(seeking, reader, known, contrast)


def _on_screens(
    seeking: Seeking, contrast: Conformance | None, *, silenced: bool
) -> Iterator[Finding]:
    work = [
        Job(seeking.plan.file, *view, CheckTask(seeking.rules, contrast, silenced, alike))
        for view, alike in seeking.views.items()
    ]
    for _, found in run_jobs(quickest_first(work), seeking.jobs, seeking.progress):
        yield from found
    if seeking.progress:
        seeking.progress("Checked", len(work), len(work))
