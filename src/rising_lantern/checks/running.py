"""Running rules over views."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import replace

from rising_lantern.checks import (
    backgrounds,
    edges,
    fitting,
    headers,
    motion,
    parts,
    passing,
    reading,
    stacking,
    switching,
)
from rising_lantern.checks.findings import LEVELS, RULES, Checked, Finding, Rule
from rising_lantern.errors import Fault, PlanError, RequestError, listed, quoted
from rising_lantern.plan.models.base import nearest
from rising_lantern.plan.text.messages import place_of
from rising_lantern.plan.text.reading import PlanFile

GROUPS = (
    backgrounds,
    edges,
    fitting,
    headers,
    motion,
    parts,
    passing,
    reading,
    stacking,
    switching,
)
"""The modules of rules; importing them registers what they hold."""


def rules() -> dict[str, Rule]:
    """All rules by their names."""
    return dict(RULES)


def chosen_rules(only: Iterable[str] = (), without: Iterable[str] = ()) -> tuple[Rule, ...]:
    """The rules of some names, or all, without those of others.

    Raises:
        RequestError: Where there is no rule of a name.
    """
    only, without = tuple(only), tuple(without)
    for name in (*only, *without):
        if name not in RULES:
            raise RequestError(f"there is no rule {quoted(name)}; there are: {listed(RULES)}")
    return tuple(
        of for of in RULES.values() if of.name in (only or RULES) and of.name not in without
    )


def check_silences(plan: PlanFile) -> None:
    """See that a plan silences rules that there are.

    Raises:
        PlanError: Where there is no rule of a name.
    """
    faults = {
        Fault(
            place_of(plan.root, ("check", "silence", place, "rule"), plan.name),
            f"there is no rule {quoted(silence.rule)}",
            nearest(silence.rule, RULES),
        )
        for document in plan.documents.values()
        for place, silence in enumerate(document.check.silence)
        if silence.rule not in RULES
    }
    if faults:
        raise PlanError(faults)


def idle_silences(plan: PlanFile, findings: Iterable[Finding]) -> list[Fault]:
    """The silences of a plan that cover none of its findings, each as a remark at its place.

    Args:
        plan: The plan.
        findings: All that is found on all of its pages and viewports.
    """
    findings = list(findings)
    used = {
        place
        for viewport, document in plan.documents.items()
        for place, silence in enumerate(document.check.silence)
        for one in findings
        if one.viewport == viewport
        and silence.covers(one.rule, one.page, one.viewport, one.subject)
    }
    most = max(len(document.check.silence) for document in plan.documents.values())
    return [
        Fault(
            place_of(plan.root, ("check", "silence", place), plan.name),
            "this silences nothing",
            "take it away, or name what it is for",
        )
        for place in range(most)
        if place not in used
    ]


def findings_of(checked: Iterable[Checked], chosen: Iterable[Rule]) -> Iterator[Finding]:
    """What some rules find on some views, view by view, the gravest first.

    Those that the plan silences are among them, with its reason.
    """
    chosen = tuple(chosen)
    looked = [
        (one, dict.fromkeys(finding for of in chosen for finding in of.find(one, of)))
        for one in checked
    ]
    told: set[Finding] = set()
    for one, found in looked:
        # A page is looked at once with each slide showing; most of it is the same each time.
        fresh = [finding for finding in found if finding not in told]
        told.update(fresh)
        for finding in sorted(fresh, key=lambda finding: LEVELS.index(finding.level)):
            yield _silenced(_with_slide(finding, one, looked), one)


def _with_slide(
    finding: Finding, checked: Checked, looked: Sequence[tuple[Checked, dict[Finding, None]]]
) -> Finding:
    """A finding with the picture that shows where it is found, if it depends on that."""
    others = [found for one, found in looked if one is not checked and one.has_slides_at(finding)]
    if not checked.has_slides_at(finding) or all(finding in found for found in others):
        return finding
    if checked.slides in finding.message:
        return finding
    return replace(finding, message=f"{finding.message}, while {checked.slides} shows")


def _silenced(finding: Finding, checked: Checked) -> Finding:
    """A finding with the reason for which the plan lets it pass, if it does."""
    reasons = [
        silence.reason
        for silence in checked.by.silence
        if silence.covers(finding.rule, finding.page, finding.viewport, finding.subject)
    ]
    return replace(finding, silenced=reasons[0]) if reasons else finding
