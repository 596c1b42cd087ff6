"""Trying changes of a plan, and proving by ``check`` what each of them clears."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, field, replace

from rising_lantern.api.plans import Plan
from rising_lantern.base.notebook import html_table
from rising_lantern.base.solving import least
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.running import check_scene, rules
from rising_lantern.checks.subjects import Subject
from rising_lantern.errors import PlanError, RequestError
from rising_lantern.jobs.job import Job, quickest_first, run_jobs
from rising_lantern.jobs.sharing import Jobs, Progress
from rising_lantern.plan.edits.drafts import Draft
from rising_lantern.plan.edits.edits import Set, path_words
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.text.likeness import followers
from rising_lantern.plan.text.nodes import NEW, Key
from rising_lantern.plan.text.set_values import placed_value
from rising_lantern.readers.own_screens import CheckTask
from rising_lantern.tuning.knobs import Knob

ViewName = tuple[str, str]
"""A page and a viewport."""

Identity = tuple[str, str, str, Subject]
"""What makes a finding the same before and after a change: rule, page, viewport and subject."""


@dataclass(frozen=True, slots=True, repr=False)
class Fix:
    """A change of one value of a plan, and the findings that it is proved to clear.

    Attributes:
        what: What is changed, in words.
        key: Where it stands, as ``--set`` takes it.
        before: What stands there, or what is inherited; None where that is nothing.
        after: The value that clears the findings, written as in the plan.
        short: The value one step before it, with which a finding is still there; None where that
            is what stands there already, or where the value is one of several to choose from.
        value: The value as it is set, quoted where it has to be.
        path: The keys that lead to the value, where ``key`` may stop at what is not there yet.
        cost: How far the value is from what stands there; 0 for one of several to choose from.
        clears: The findings that are gone with it.
    """

    what: str
    key: str
    before: str | None
    after: str
    short: str | None
    value: str
    path: tuple[Key, ...] = ()
    cost: float = 0.0
    clears: tuple[Finding, ...] = ()

    @property
    def words(self) -> str:
        """What it does, such as ``set headers.main.height to 80px``."""
        return self._edit.words

    def made_in(self, draft: Draft) -> Draft:
        """Return a draft with the change made; see ``Plan.apply``."""
        return self._edit.made_in(draft)

    @property
    def _edit(self) -> Set:
        return Set(self.key, self.value)

    def __repr__(self) -> str:
        return f"Fix({self.key!r}, {self.before!r}, {self.after!r})"

    def _repr_html_(self) -> str:
        cleared = ", ".join(dict.fromkeys(finding.rule for finding in self.clears))
        rows = [
            (self.key, f"{'not set' if self.before is None else self.before} → {self.after}"),
            ("clears", cleared or "nothing that is counted"),
        ]
        return html_table(self.what, rows)


def identity(finding: Finding) -> Identity:
    """What makes a finding the same before and after a change."""
    return finding.rule, finding.page, finding.viewport, finding.subject


@dataclass(frozen=True)
class Trials:
    """A plan on which changes are tried.

    Attributes:
        plan: The plan.
        views: The pages and viewports to check.
        contrast: The level of WCAG 2.2, or None for the plan's.
    """

    plan: Plan
    views: tuple[ViewName, ...]
    contrast: Conformance | None = None
    _known: dict[ViewName, tuple[Finding, ...]] = field(default_factory=dict, compare=False)

    def found(self, view: ViewName) -> tuple[Finding, ...]:
        """What all rules find in the plan as it is, on one page and viewport."""
        if view not in self._known:
            self._known[view] = tuple(self.check(self.plan, view))
        return self._known[view]

    def find_all(self, jobs: Jobs, progress: Progress | None) -> Iterator[ViewName]:
        """Yield each page and viewport when what all rules find there is known, quick ones first.

        The work is shared among processes.
        """
        work = [
            Job(self.plan.file, *view, CheckTask(tuple(rules()), self.contrast, silenced=True))
            for view in self.views
        ]
        for item, found in run_jobs(quickest_first(work), jobs, progress):
            view = item.page, item.viewport
            self._known[view] = tuple(found)
            yield view

    def of_view(self, view: ViewName) -> Trials:
        """Return trials of the same plan on one page at one viewport only."""
        return Trials(self.plan, (view,), self.contrast, {view: self.found(view)})

    def check(
        self,
        plan: Plan,
        view: ViewName,
        only: tuple[str, ...] = (),
        focus: frozenset[tuple[Key, ...]] | None = None,
    ) -> list[Finding]:
        """What rules find in a plan on one page and viewport, silenced findings included."""
        return check_scene(
            plan.view(*view).scene,
            only,
            contrast=self.contrast,
            silenced=True,
            texts=focus,
            remedies=False,
        )

    def affected(self, path: tuple[Key, ...]) -> tuple[ViewName, ...]:
        """The pages and viewports on which a value of the plan counts."""
        views = self.views
        if path[0] in {"pages", "headers"}:
            names = followers(self.plan.file.root, str(path[0]), str(path[1]))
        if path[0] == "pages":
            views = tuple(view for view in views if view[0] in names)
        elif path[0] == "headers":
            documents = self.plan.file.documents
            views = tuple(
                (page, screen)
                for page, screen in views
                if not names.isdisjoint(documents[screen].headers_on(page, screen))
            )
        if "for" in path[:-1]:
            screen = path[path.index("for") + 1]
            views = tuple(view for view in views if view[1] == screen)
        return views

    def fix(
        self, findings: Sequence[Finding], knob: Knob, beside: Iterable[str] = ()
    ) -> Fix | None:
        """The least step of a knob that clears some findings of one rule, proved by all rules.

        Args:
            findings: The findings, which are to be gone.
            knob: What is turned.
            beside: Other rules that may not find more on the way.

        Returns:
            The change, or None where no step clears them, or one does but something new is found.
        """
        trial = _Trial(self, findings, knob, tuple(beside))
        if not knob.choices:
            step = least(trial.passes, 0, knob.steps)
            return None if step is None else trial.proved(step)
        for choice in range(1, knob.steps + 1):
            proved = trial.proved(choice) if trial.passes(choice) else None
            if proved:
                return proved
        return None

    def kept(self, fix: Fix, findings: Sequence[Finding]) -> Fix | None:
        """A change that was proved on another state of the plan, if it does on this one.

        Args:
            fix: The change.
            findings: What it has to clear, at least one.
        """
        path, value = placed_value(self.plan.file.root, fix.path, findings[0].viewport, fix.after)
        key = path_words(path)
        cleared = self.cleared_by({key: value}, path)
        does = {identity(item) for item in findings} <= {identity(item) for item in cleared}
        return replace(fix, key=key, value=value) if does else None

    def cleared_by(self, values: dict[str, str], path: tuple[Key, ...]) -> list[Finding]:
        """What is gone with a change, by all rules; nothing where something new is found.

        Args:
            values: The values to set, by their keys.
            path: The keys that lead to what is changed.
        """
        cleared: list[Finding] = []
        try:
            plan = self.plan.replace(values)
            for view in self.affected(path):
                before = self.found(view)
                after = identities_with(self.check(plan, view), path)
                if after - {identity(item) for item in before}:
                    return []
                cleared += [item for item in before if identity(item) not in after]
        except (PlanError, RequestError):
            return []
        return cleared


def identities_with(found: Iterable[Finding], path: tuple[Key, ...]) -> set[Identity]:
    """What is found with a change, about what it was about before it.

    Args:
        found: The findings.
        path: The keys that lead to what was changed.
    """
    if path[-1] != NEW:
        return {identity(item) for item in found}
    # Below a new layer the others have moved on by one.
    return {
        identity(replace(item, subject=replace(item.subject, layer=item.subject.layer - 1)))
        if item.subject.layer and item.path[: len(path) - 1] == path[:-1]
        else identity(item)
        for item in found
    }


class _Trial:
    """A knob that is turned to clear some findings."""

    def __init__(
        self, trials: Trials, findings: Sequence[Finding], knob: Knob, beside: tuple[str, ...]
    ) -> None:
        self._trials, self._knob = trials, knob
        self._rules = (findings[0].rule, *beside)
        self._viewport = findings[0].viewport
        self._wanted = {identity(finding) for finding in findings}
        self._order = list(dict.fromkeys((finding.page, finding.viewport) for finding in findings))
        texts = frozenset(finding.path for finding in findings if "content" in finding.path)
        self._focus = texts or None

    def passes(self, step: int) -> bool:
        """Whether none of the findings is left at a step, and nothing new that is like them."""
        if step == 0:
            return False
        try:
            plan = self._trials.plan.replace(self._values(step))
            for view in self._order:
                known = {identity(item) for item in self._trials.found(view)} - self._wanted
                found = self._trials.check(plan, view, self._rules, self._focus)
                if not identities_with(found, self._knob.path) <= known:
                    # Where it failed once it is likely to fail again.
                    self._order.remove(view)
                    self._order.insert(0, view)
                    return False
        except (PlanError, RequestError):
            return False
        return True

    def proved(self, step: int) -> Fix | None:
        """The change of a step with what it clears; None where a rule finds something new."""
        path, value = self._setting(step)
        cleared = self._trials.cleared_by(self._values(step), path)
        if not self._wanted <= {identity(item) for item in cleared}:
            return None
        return self._fix(step, path, value, cleared)

    def _fix(self, step: int, path: tuple[Key, ...], value: str, cleared: Sequence[Finding]) -> Fix:
        knob = self._knob
        node = self._trials.plan.file.written(path)
        before = knob.now if node is None or node.value is None else _value_text(node.plain())
        short = knob.text(step - 1) if step > 1 and not knob.choices else None
        counted = tuple(item for item in cleared if item.silenced is None)
        cost = 0.0 if knob.choices else knob.cost(step)
        return Fix(
            knob.what,
            path_words(path),
            before,
            knob.text(step),
            short,
            value,
            knob.path,
            cost,
            counted,
        )

    def _setting(self, step: int) -> tuple[tuple[Key, ...], str]:
        root = self._trials.plan.file.root
        return placed_value(root, self._knob.path, self._viewport, self._knob.text(step))

    def _values(self, step: int) -> dict[str, str]:
        path, value = self._setting(step)
        return {path_words(path): value}


def _value_text(value: object) -> str:
    """A value of the plan in one line."""
    text = str(value).replace("True", "true").replace("False", "false")
    return " ".join(text.split())
