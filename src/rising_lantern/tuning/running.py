"""Finding the smallest changes that mend a plan, and proving them."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from rising_lantern.api import Plan
from rising_lantern.checks.findings import Finding
from rising_lantern.errors import PlanError
from rising_lantern.plan.checks import Contrast
from rising_lantern.plan.nodes import Key
from rising_lantern.solving import least
from rising_lantern.tuning.knobs import Knob, in_plan
from rising_lantern.tuning.rules import MAKERS, SIBLINGS

Place = tuple[str, str]  # a page and a viewport


@dataclass(frozen=True, slots=True)
class Mend:
    """A value of the plan that mends some findings, and the proof of it.

    Attributes:
        what: What is changed, in words.
        key: Where it stands, as ``--set`` takes it.
        before: What stands there; None where nothing does.
        after: The value that mends them, written as in the plan.
        short: The value one step before it, with which a finding is still there; None where that
            is what stands there already.
        value: The value as it is set, quoted where it has to be.
    """

    what: str
    key: str
    before: str | None
    after: str
    short: str | None
    value: str


@dataclass(frozen=True, slots=True)
class Tuned:
    """Findings that share their cause, and what mends them.

    Attributes:
        findings: The same on several pages and viewports, the worst first.
        mends: Ways to mend them all, each by itself; none where no number does.
        apart: The viewport whose own value is set, where no value serves all of them.
    """

    findings: tuple[Finding, ...]
    mends: tuple[Mend, ...]
    apart: str | None = None


def tune(
    plan: Plan,
    pages: tuple[str, ...] = (),
    viewports: tuple[str, ...] = (),
    *,
    only: tuple[str, ...] = (),
    without: tuple[str, ...] = (),
    contrast: Contrast | None = None,
) -> Iterator[Tuned]:
    """The smallest changes of a plan that mend what ``check`` finds, each proved by it.

    A change mends all findings of a rule that share a place in the plan, on all of the views that
    are looked at, and lets no other finding of the rule come up.

    Args:
        plan: The plan.
        pages: Those to look at; by default all.
        viewports: The same.
        only: The rules to go by; by default all.
        without: Rules to leave out.
        contrast: The level of WCAG 2.2 to go by; by default the plan's.

    Raises:
        PlanError: As :func:`rising_lantern.check`.
        RequestError: The same.
    """
    views = list(plan.views(pages, viewports))
    findings = [found for view in views for found in view.check(only, without, contrast)]
    bench = Bench(plan, tuple((view.page, view.viewport) for view in views), contrast)
    yield from bench.tuned(bench.causes(findings))


def mended(
    plan: Plan, tuned: Sequence[Tuned], keys: frozenset[str], contrast: Contrast | None = None
) -> dict[str, str]:
    """The values to set, one finding after the other, each on the plan as it is mended by then.

    What an earlier change has mended already is left alone.

    Args:
        plan: The plan.
        tuned: What was found for it.
        keys: The keys that may be changed.
        contrast: As in :func:`tune`.

    Returns:
        Values by their keys, for ``Plan.with_`` and ``Plan.text_with``.
    """
    values: dict[str, str] = {}
    for one in tuned:
        chosen = [mend for mend in one.mends if mend.key in keys]
        if not chosen:
            continue
        now = plan.with_(values)
        places = tuple(dict.fromkeys((found.page, found.viewport) for found in one.findings))
        bench = Bench(now, places, contrast)
        for findings in bench.causes(bench.still(one.findings)):
            again = bench.mends(findings, one.apart)
            values |= {mend.key: mend.value for mend in again if mend.what == chosen[0].what}
    return values


@dataclass(frozen=True)
class Bench:
    """A plan on which changes are tried.

    Attributes:
        plan: The plan.
        places: The pages and viewports that are looked at.
        contrast: The level of WCAG 2.2, or None for the plan's.
    """

    plan: Plan
    places: tuple[Place, ...]
    contrast: Contrast | None

    def causes(self, findings: Iterable[Finding]) -> list[tuple[Finding, ...]]:
        """Findings that the plan does not silence, those of one cause together, worst first."""
        groups: dict[tuple[str, tuple[Key, ...]], list[Finding]] = {}
        for finding in findings:
            if finding.silenced is None:
                groups.setdefault((finding.rule, finding.path), []).append(finding)
        return [
            tuple(sorted(members, key=lambda one: -abs(one.measured - one.limit)))
            for members in groups.values()
        ]

    def tuned(self, causes: Iterable[tuple[Finding, ...]]) -> Iterator[Tuned]:
        """Findings by their causes, with what mends them: all at once, or screen by screen."""
        for findings in causes:
            mends = tuple(self.mends(findings))
            screens = list(dict.fromkeys(one.viewport for one in findings))
            if mends or len(screens) == 1:
                yield Tuned(findings, mends)
                continue
            for screen in screens:
                own = tuple(one for one in findings if one.viewport == screen)
                yield Tuned(own, tuple(self.mends(own, screen)), screen)

    def texts_beside(self, finding: Finding) -> frozenset[tuple[Key, ...]]:
        """The paths of all texts of the section that a finding is about."""
        if "content" not in finding.path:
            return frozenset()
        section = self.plan.view(finding.page, finding.viewport).box.section(str(finding.path[3]))
        count = len(section.content) if section else 0
        return frozenset((*finding.path[:5], place) for place in range(count))

    def still(self, findings: Sequence[Finding]) -> list[Finding]:
        """Those of some findings, of one rule, that there are."""
        known = {(one.page, one.viewport, one.subject) for one in findings}
        rule = findings[0].rule
        return [
            found
            for place in self.places
            for found in self.plan.view(*place).check((rule,), (), self.contrast)
            if (found.page, found.viewport, found.subject) in known
        ]

    def mends(self, findings: tuple[Finding, ...], apart: str | None = None) -> Iterator[Mend]:
        """What mends some findings of one cause.

        Args:
            findings: The findings, the worst first.
            apart: The viewport for which alone a value is to be set; by default for all.
        """
        maker = MAKERS.get(findings[0].rule)
        if maker is None:
            return
        first = findings[0]
        made: list[tuple[float, Mend]] = []
        for knob in maker(self.plan.view(first.page, first.viewport), findings):
            if apart:
                path = (*knob.path[:-1], "for", apart, knob.path[-1])
                knob = replace(knob, path=path)  # noqa: PLW2901 - the same knob, elsewhere
            trial = _Trial(self, findings, knob)
            step = least(trial.passes, 0, knob.steps)
            if step is not None and not trial.harms(step):
                made.append((knob.cost(step), trial.mend(step)))
        # Of two ways to turn one value, as lighter and darker, the shorter.
        shortest: dict[str, tuple[float, Mend]] = {}
        for cost, mend in made:
            if mend.key not in shortest or cost < shortest[mend.key][0]:
                shortest[mend.key] = cost, mend
        yield from (mend for _, mend in shortest.values())


class _Trial:
    """A knob that is turned to mend some findings."""

    def __init__(self, bench: Bench, findings: tuple[Finding, ...], knob: Knob) -> None:
        self._bench, self._knob = bench, knob
        self._rule = findings[0].rule
        # Only what stands in the same section can be harmed by what is changed there.
        self._near = bench.texts_beside(findings[0])
        self._viewport = findings[0].viewport
        self._subjects = {
            place: {one.subject for one in findings if (one.page, one.viewport) == place}
            for place in dict.fromkeys((one.page, one.viewport) for one in findings)
        }
        self._order = list(self._subjects)
        self._focus = frozenset(one.path for one in findings)

    def passes(self, step: int) -> bool:
        """Whether none of the findings is left at a step."""
        if step == 0:
            return False
        try:
            plan = self._bench.plan.with_(self._values(step))
            for place in self._order:
                found = plan.view(*place).check(
                    (self._rule,), (), self._bench.contrast, self._focus
                )
                if any(one.subject in self._subjects[place] for one in found):
                    # Where it failed once it is likely to fail again.
                    self._order.remove(place)
                    self._order.insert(0, place)
                    return False
        except PlanError:
            return False
        return True

    def harms(self, step: int) -> bool:
        """Whether there is a finding at a step that was not there before."""
        rules = (self._rule, *SIBLINGS.get(self._rule, ()))
        changed = self._bench.plan.with_(self._values(step))
        return any(
            self._told(changed, place, rules) - self._told(self._bench.plan, place, rules)
            for place in self._bench.places
        )

    def mend(self, step: int) -> Mend:
        """The change of a step."""
        knob, root = self._knob, self._bench.plan.file.root
        path, value = self._set(step)
        node = root.at(path)
        before = node.plain() if node else None
        return Mend(
            knob.what,
            ".".join(str(key) for key in path),
            None if before is None else _written(before),
            knob.text(step),
            knob.text(step - 1) if step > 1 else None,
            value,
        )

    def _told(self, plan: Plan, place: Place, rules: tuple[str, ...]) -> set[tuple[str, str]]:
        found = plan.view(*place).check(rules, (), self._bench.contrast, self._near)
        return {(one.rule, one.subject) for one in found}

    def _set(self, step: int) -> tuple[tuple[Key, ...], str]:
        root = self._bench.plan.file.root
        return in_plan(root, self._knob.path, self._viewport, self._knob.text(step))

    def _values(self, step: int) -> dict[str, str]:
        path, value = self._set(step)
        return {".".join(str(key) for key in path): value}


def _written(value: object) -> str:
    """A value of the plan in one line."""
    text = str(value).replace("True", "true").replace("False", "false")
    return " ".join(text.split())
