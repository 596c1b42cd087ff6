"""Readers whose browsers lack an effect that the plan uses."""

from __future__ import annotations

from collections.abc import Container, Iterator
from dataclasses import replace

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.readers import EFFECTS, Without
from rising_lantern.jobs.job import Job, run_jobs
from rising_lantern.plan.edits.edits import path_words
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.text.nodes import Key, walk
from rising_lantern.readers.own_screens import CheckTask
from rising_lantern.readers.seeking import Seeking

READABLE = ("unreadable-part", "unreadable-content", "part-left-behind", "runs-under")
"""The rules that say whether something can be read."""


def findings_without(
    seeking: Seeking,
    reader: Without,
    known: Container[tuple[str, ...]],
    contrast: Conformance | None,
) -> Iterator[Finding]:
    """Yield what cannot be read only where a browser lacks an effect of the plan.

    Args:
        seeking: What is looked for; of its rules, those count that say whether something is read.
        reader: The reader.
        known: What is found with the effect, which is left out.
        contrast: The level of WCAG 2.2, or None for the plan's.

    Raises:
        PlanError: If a page cannot be laid out.
    """
    rules = seeking.rules_of(READABLE)
    key, absent = EFFECTS[reader.feature]
    values = {path_words(path): absent for path in _uses(seeking.plan, key)}
    if not values or not rules:
        return
    bare = seeking.plan.replace(values)
    work = [
        Job(bare.file, *view, CheckTask(rules, contrast, alike=alike))
        for view, alike in seeking.views.items()
    ]
    for _, found in run_jobs(work, seeking.jobs, seeking.progress):
        for item in found:
            if item.about not in known:
                yield replace(item, level="warning", reader=reader)


def _uses(plan: Plan, key: str) -> Iterator[tuple[Key, ...]]:
    """Where the plan asks for an effect."""
    for path, _ in walk(plan.file.root):
        if path and path[-1] == key and path[0] in {"pages", "headers"}:
            yield path
