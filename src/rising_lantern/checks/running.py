"""Running rules over views.

The rules of all modules are registered once this module is imported.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import replace

from rising_lantern.checks import (  # noqa: F401 - importing these registers their rules
    backgrounds,
    directions,
    edges,
    fitting,
    focus,
    headers,
    heaviness,
    legibility,
    motion,
    parts,
    passing,
    stacking,
    stepping,
    switching,
)
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import LEVELS, Finding
from rising_lantern.checks.rules import RULES, Rule
from rising_lantern.errors import Fault, PlanError, RequestError, listed, quoted
from rising_lantern.plan.models.base import nearest
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.text.nodes import Key
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scenes.scene import Scene


def rules() -> Mapping[str, Rule]:
    """All rules by their names."""
    return RULES


def chosen_rules(only: Iterable[str] = (), without: Iterable[str] = ()) -> tuple[Rule, ...]:
    """The rules of some names, or all, without those of others.

    Raises:
        RequestError: If there is no rule with a name.
    """
    only, without = tuple(only), tuple(without)
    for name in (*only, *without):
        if name not in RULES:
            raise RequestError(f"there is no rule {quoted(name)}; there are: {listed(RULES)}")
    return tuple(
        rule for name, rule in RULES.items() if name in (only or RULES) and name not in without
    )


def check_silences(plan: PlanFile) -> None:
    """Check that a plan silences only rules that exist.

    Raises:
        PlanError: If there is no rule with a name.
    """
    faults = {
        Fault(
            plan.place_of(("check", "silence", place, "rule")),
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
        for finding in findings
        if finding.viewport == viewport
        and silence.covers(finding.rule, finding.page, finding.viewport, str(finding.subject))
    }
    most = max(len(document.check.silence) for document in plan.documents.values())
    return [
        Fault(
            plan.place_of(("check", "silence", place)),
            "this entry matches no finding",
            "remove it, or correct its rule, page, viewport or subject",
        )
        for place in range(most)
        if place not in used
    ]


def check_scene(
    scene: Scene,
    only: Iterable[str] = (),
    skip: Iterable[str] = (),
    *,
    contrast: Conformance | None = None,
    silenced: bool = False,
    texts: frozenset[tuple[Key, ...]] | None = None,
    remedies: bool = True,
) -> list[Finding]:
    """What is measured to be wrong with a scene.

    Args:
        scene: The scene.
        only: The rules to apply; by default all.
        skip: Rules to leave out.
        contrast: The level of WCAG 2.2 to apply; by default the plan's.
        silenced: Whether to include the findings that the plan silences.
        texts: The paths in the plan of the texts to check; by default all.
        remedies: Whether to work out remedies that take a search.

    Raises:
        PlanError: If the plan silences a rule that does not exist.
        RequestError: If there is no such rule.
    """
    chosen = chosen_rules(only, skip)
    check_silences(scene.plan)
    found = findings_of(contexts_of(scene, contrast, texts, remedies=remedies), chosen)
    return [finding for finding in found if silenced or finding.silenced is None]


def contexts_of(
    scene: Scene,
    contrast: Conformance | None = None,
    texts: frozenset[tuple[Key, ...]] | None = None,
    *,
    remedies: bool = True,
) -> Iterator[CheckContext]:
    """A scene as rules look at it: once with each picture of its slides showing.

    Args and errors are those of :func:`check_scene`.
    """
    limits = scene.document.check
    if contrast is not None:
        limits = limits.model_copy(update={"conformance": contrast})
    for index, slide in enumerate((*scene.slides(), *scene.hardest_frames())):
        # Where a slide has a tone of its own, the header may look otherwise everywhere.
        known = index and slide.box.tones == scene.box.tones
        fresh = slide.box.unlike(scene.box) if known else None
        yield CheckContext(slide, limits, fresh, texts, remedies)


def findings_of(contexts: Iterable[CheckContext], chosen: Iterable[Rule]) -> Iterator[Finding]:
    """What some rules find on a view, the most serious first.

    Args:
        contexts: The view, once with each picture of its slides showing.
        chosen: The rules.

    Yields:
        Findings, each once; those that the plan silences have its reason.
    """
    chosen = tuple(chosen)
    checked = [
        (context, dict.fromkeys(item for rule in chosen for item in rule.find(context, rule)))
        for context in contexts
    ]
    known: set[Finding] = set()
    for context, found in _worst_of_pictures(checked):
        # A page is checked once with each slide showing; most of it is the same each time.
        fresh = [finding for finding in found if finding not in known]
        known.update(fresh)
        for finding in sorted(fresh, key=lambda one: LEVELS.index(one.level)):
            yield _silence(_with_slide(finding, context, checked), context)


def _worst_of_pictures(
    checked: Sequence[tuple[CheckContext, dict[Finding, None]]],
) -> Iterator[tuple[CheckContext, dict[Finding, None]]]:
    """What is found; on several slides or frames of a video, only where it is worst."""
    worst: dict[tuple[str, ...], tuple[float, int]] = {}
    for place, (_, found) in enumerate(checked):
        for item in found:
            about = (*item.about, item.cause)
            if about not in worst or item.excess > worst[about][0]:
                worst[about] = item.excess, place
    for place, (context, found) in enumerate(checked):
        kept = (item for item in found if worst[*item.about, item.cause][1] == place)
        yield context, dict.fromkeys(kept)


def _with_slide(
    finding: Finding,
    context: CheckContext,
    checked: Sequence[tuple[CheckContext, dict[Finding, None]]],
) -> Finding:
    """A finding with the picture that shows where it is found, if it depends on that."""
    others = [
        found for item, found in checked if item is not context and item.has_slides_at(finding)
    ]
    if not context.has_slides_at(finding) or all(finding in found for found in others):
        return finding
    if any(name in finding.message for name in context.shown):
        return finding
    return replace(finding, message=f"{finding.message}, {context.when}")


def _silence(finding: Finding, context: CheckContext) -> Finding:
    """A finding with the reason for which the plan silences it, if it does."""
    reasons = [
        silence.reason
        for silence in context.limits.silence
        if silence.covers(finding.rule, finding.page, finding.viewport, str(finding.subject))
    ]
    return replace(finding, silenced=reasons[0]) if reasons else finding
