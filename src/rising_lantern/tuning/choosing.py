"""Choosing the fewest changes that clear the findings of a plan."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Container, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import chain

from rising_lantern.api.plans import Plan, as_plan
from rising_lantern.base.arguments import Names, names
from rising_lantern.checks.findings import LEVELS, Finding
from rising_lantern.checks.running import chosen_rules
from rising_lantern.jobs.sharing import Jobs, Progress, followed
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.text.nodes import Key
from rising_lantern.tuning import readable  # noqa: F401 - importing it registers its rules
from rising_lantern.tuning.cases import MAKERS, Case, is_column
from rising_lantern.tuning.knobs import Knob, one_of
from rising_lantern.tuning.rules import BESIDE
from rising_lantern.tuning.trials import Fix, Identity, Trials, ViewName, identity

Group = tuple[Finding, ...]
"""Findings of one rule and look that share their place in the plan, or their section."""

_EARLY_GROUPS = 2  # of a view, for which a change is looked for before the others are checked
_IN_COLUMNS = "unreadable-content"


@dataclass(frozen=True, slots=True, repr=False)
class Proposal:
    """Findings, and what clears them.

    Attributes:
        findings: The findings, the worst first; of several rules where one change clears them.
        fixes: Ways to clear them, each by itself, the best first; none where no change of a value
            does without anything new being found. The first clears all of the findings.
        viewport: The viewport whose own value is set, where no value serves all of them.
    """

    findings: tuple[Finding, ...]
    fixes: tuple[Fix, ...]
    viewport: str | None = None

    def __repr__(self) -> str:
        return f"Proposal(findings={len(self.findings)}, fixes={list(self.fixes)!r})"


def iter_tune(  # noqa: PLR0913 - what to tune, and by what
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    only: Names = (),
    skip: Names = (),
    contrast: Conformance | None = None,
    jobs: Jobs = None,
    progress: Progress | None = None,
    first: Callable[[Proposal], None] | None = None,
) -> Iterator[Proposal]:
    """Yield every proposal of :func:`tune` as soon as it is proved, before the fewest are chosen.

    Args and errors are those of :func:`tune`, and ``first``: called once, before any is yielded,
    with a proposal that is proved on one page at one viewport only.
    """
    trials = Trials(plan, tuple(as_plan(plan).view_names(pages, viewports)), contrast)
    wanted = frozenset(rule.name for rule in chosen_rules(names(only), names(skip)))
    for view in trials.find_all(jobs, progress):
        early = _early(trials.of_view(view), wanted) if first else None
        if first and early:
            first(early)
            first = None
    groups = _groups_of(trials, wanted)
    work = [(trials, group) for group in groups]
    tuned = followed(_proposals, work, jobs, progress, lambda item: f"Tuning {item[1][0].rule}")
    for _, proposals in tuned:
        yield from proposals
    if progress:
        progress("Tuned", len(groups), len(groups))


def tune(  # noqa: PLR0913 - what to tune, and by what
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    only: Names = (),
    skip: Names = (),
    contrast: Conformance | None = None,
    jobs: Jobs = None,
    progress: Progress | None = None,
) -> list[Proposal]:
    """Return the fewest changes of a plan that clear what ``check`` finds, each proved by it.

    A change is proved on all of the views that are checked, against all rules: what it is offered
    for is gone, and nothing new is found.

    Args:
        plan: The plan.
        pages: The pages to check; by default all.
        viewports: The viewports to check; by default all.
        only: The rules whose findings are to be cleared; by default all.
        skip: Rules whose findings may stay.
        contrast: The level of WCAG 2.2 to apply, ``AA`` or ``AAA``; by default the plan's.
        jobs: How many processes share the work; by default as many as there are cores, where it
            takes more than some seconds. Or the address of the scheduler of a Dask cluster.
        progress: Called before each view and each group of findings, and at the end.

    Raises:
        PlanError: As :func:`rising_lantern.check`.
        RequestError: As :func:`rising_lantern.check`.
    """
    return fewest(
        list(
            iter_tune(
                plan,
                pages,
                viewports,
                only=only,
                skip=skip,
                contrast=contrast,
                jobs=jobs,
                progress=progress,
            )
        )
    )


def _early(trials: Trials, wanted: Container[str]) -> Proposal | None:
    """What clears the worst findings of a view, if one change does."""
    for group in _groups_of(trials, wanted)[:_EARLY_GROUPS]:
        for fix in _each_fix(trials, group):
            return Proposal(group, (fix,))
    return None


def _groups_of(trials: Trials, wanted: Container[str]) -> list[Group]:
    """The findings of some rules that a plan does not silence, by their cause, errors first."""
    found = [finding for view in trials.views for finding in trials.found(view)]
    groups = _group(item for item in found if item.silenced is None and item.rule in wanted)
    return sorted([*groups, *_columns(groups)], key=lambda group: LEVELS.index(group[0].level))


def _group(findings: Iterable[Finding]) -> list[Group]:
    """Findings of one rule and look that share their place in the plan, the worst first."""
    groups: dict[tuple[str, tuple[Key, ...], str | None], list[Finding]] = {}
    for finding in findings:
        alike = finding.rule, finding.path, finding.subject.look
        groups.setdefault(alike, []).append(finding)
    return [_worst_first(members) for members in groups.values()]


def _worst_first(findings: Iterable[Finding]) -> Group:
    return tuple(sorted(findings, key=lambda one: -one.excess))


def _columns(groups: Iterable[Group]) -> list[Group]:
    """Findings about several texts of one section together, which one ground may clear."""
    columns: dict[tuple[Key, ...], list[Group]] = {}
    for group in groups:
        path = group[0].path
        if group[0].rule == _IN_COLUMNS and "content" in path:
            columns.setdefault(path[: path.index("content")], []).append(group)
    return [_worst_first(chain(*texts)) for texts in columns.values() if len(texts) > 1]


def _proposals(work: tuple[Trials, Group]) -> list[Proposal]:
    """What clears a group of findings; another process can find it."""
    return list(_fixes_for(*work))


def _fixes_for(trials: Trials, group: Group) -> Iterator[Proposal]:
    """What clears the findings of a group: one value for all, or one for each screen."""
    fixes = tuple(_fixes(trials, group))
    screens = list(dict.fromkeys(item.viewport for item in group))
    if is_column(group):
        # Its texts have groups of their own, which say so where nothing clears them.
        if fixes:
            yield Proposal(group, fixes)
        return
    if fixes or len(screens) == 1:
        yield Proposal(group, fixes)
        return
    for screen in screens:
        own = tuple(item for item in group if item.viewport == screen)
        yield Proposal(own, tuple(_fixes(trials, own, screen)), screen)


def _fixes(
    trials: Trials,
    group: Group,
    screen: str | None = None,
    only: tuple[Key, ...] | None = None,
) -> Iterator[Fix]:
    """Ways to clear a group, in the order in which a designer would try them.

    Args:
        trials: The plan.
        group: The findings.
        screen: The viewport for which alone a value is set; by default for all.
        only: The path of the one value to try; by default all.
    """
    result: dict[tuple[Key, ...], Fix] = {}
    for fix in _each_fix(trials, group, screen, only):
        # Of two ways to change one value, as lighter and darker, the shorter.
        if fix.path not in result or fix.cost < result[fix.path].cost:
            result[fix.path] = fix
    yield from result.values()


def _each_fix(
    trials: Trials,
    group: Group,
    screen: str | None = None,
    only: tuple[Key, ...] | None = None,
) -> Iterator[Fix]:
    """Ways to clear a group, each as soon as it is proved; see :func:`_fixes`."""
    first = group[0]
    for knob in _knobs(Case(trials.plan.view(first.page, first.viewport).scene, group)):
        if screen:
            path = (*knob.path[:-1], "for", screen, knob.path[-1])
            knob = replace(knob, path=path)  # noqa: PLW2901 - the same knob, elsewhere
        if only is not None and knob.path != only:
            continue
        fix = trials.fix(group, knob, BESIDE.get(first.rule, ()))
        if fix:
            yield fix


def _knobs(case: Case) -> Iterator[Knob]:
    """The values that may clear some findings: first those of their rule."""
    maker = MAKERS.get(case.worst.rule)
    own = list(maker(case)) if maker else []
    yield from own
    tried = {knob.path for knob in own}
    values: dict[tuple[Key, ...], list[str]] = {}
    for setting in chain.from_iterable(item.remedy.settings for item in case.findings):
        if setting.value is not None and setting.path not in tried:
            values.setdefault(setting.path, []).append(setting.value)
    for path, choices in values.items():
        yield from one_of(str(path[-1]), path, list(dict.fromkeys(choices)))


def fewest(tried: Sequence[Proposal]) -> list[Proposal]:
    """The fewest changes that clear all that can be cleared.

    Each time the one that clears most of what is left, errors before warnings before notes; of
    equals the one that a designer would try first. No value is changed twice, except where nothing
    else clears a finding, so that one of the two can be chosen.
    """
    left = {identity(finding): finding for proposal in tried for finding in proposal.findings}
    waiting = [proposal for proposal in tried if proposal.fixes]
    chosen: list[Proposal] = []
    taken: set[tuple[Key, ...]] = set()
    while waiting:
        options = [
            (fix.path not in taken, _weight(fix, left), -rank, -index, proposal, fix)
            for index, proposal in enumerate(waiting)
            for rank, fix in enumerate(proposal.fixes)
        ]
        best = max(options, key=lambda option: option[:4])
        proposal, fix = best[4:]
        taken.add(fix.path)
        cleared = [clear for clear in fix.clears if identity(clear) in left]
        others = [other for other in proposal.fixes if other is not fix]
        chosen.append(replace(proposal, findings=tuple(cleared), fixes=(fix, *others)))
        for item in cleared:
            left.pop(identity(item), None)
        waiting = [item for item in waiting if any(identity(f) in left for f in item.findings)]
    stuck = [item for item in tried if not item.fixes]
    for proposal in stuck:
        findings = tuple(finding for finding in proposal.findings if identity(finding) in left)
        if findings:
            chosen.append(replace(proposal, findings=findings))
    return chosen


def _weight(fix: Fix, left: dict[Identity, Finding]) -> tuple[int, ...]:
    """How many errors, warnings and notes of those that are left a change clears."""
    counts = Counter(clear.level for clear in fix.clears if identity(clear) in left)
    return tuple(counts[level] for level in LEVELS)


def resolved(
    plan: Plan,
    proposals: Iterable[Proposal],
    paths: frozenset[tuple[Key, ...]],
    contrast: Conformance | None = None,
) -> dict[str, str]:
    """The values to set for some changes, each computed on the plan with those before it.

    Skips what an earlier change has cleared already.

    Args:
        plan: The plan.
        proposals: What was proposed for it.
        paths: The paths of the values that may be changed.
        contrast: As in :func:`tune`.

    Returns:
        Values by their keys, for ``Plan.replace``.
    """
    values: dict[str, str] = {}
    done: set[tuple[Key, ...]] = set()
    views = tuple(plan.view_names())
    for proposal in proposals:
        for fix in proposal.fixes:
            if fix.path not in paths or fix.path in done:
                continue
            trials = Trials(plan.replace(values) if values else plan, views, contrast)
            again = _again(trials, proposal, fix)
            if again:
                values[again.key] = again.value
                done.add(fix.path)
    return values


def _again(trials: Trials, proposal: Proposal, fix: Fix) -> Fix | None:
    """A change on another state of its plan; None where nothing of it is left to clear."""
    wanted = {identity(finding) for finding in proposal.findings}
    still = [
        item
        for view in dict.fromkeys(_views_of(proposal.findings))
        for item in trials.found(view)
        if identity(item) in wanted
    ]
    kept = trials.kept(fix, still) if still else None
    if kept:
        return kept
    left = {identity(finding): finding for finding in still}
    others = [
        other
        for rule in dict.fromkeys(item.rule for item in still)
        if (other := _for_most(trials, proposal, fix, [one for one in still if one.rule == rule]))
    ]
    return max(others, key=lambda other: _weight(other, left), default=None)


def _for_most(
    trials: Trials, proposal: Proposal, fix: Fix, findings: Sequence[Finding]
) -> Fix | None:
    """Another value in the place of a fix that clears all findings of a rule, or some of them."""
    for group in dict.fromkeys((_worst_first(findings), *_group(findings))):
        for other in _fixes(trials, group, proposal.viewport, fix.path):
            return other
    return None


def _views_of(findings: Iterable[Finding]) -> Iterator[ViewName]:
    for finding in findings:
        yield finding.page, finding.viewport
