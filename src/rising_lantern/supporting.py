"""What readers get whose browsers lack a feature that the plan uses."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from rising_lantern.api import Plan, check
from rising_lantern.arguments import Names
from rising_lantern.checks.findings import Finding
from rising_lantern.exports.site import ExportOptions, code_in, site_of
from rising_lantern.exports.support import Support, support_of
from rising_lantern.parallel import Jobs, Progress
from rising_lantern.plan.text.nodes import Key, walk

_READABLE = ("unreadable-part", "unreadable-content", "part-left-behind", "runs-under")


@dataclass(frozen=True, slots=True)
class Effect:
    """An effect that a browser may lack.

    Attributes:
        feature: The feature, as exports use it.
        key: The key of the plan that asks for it.
        absent: The value of that key that asks for nothing.
    """

    feature: str
    key: str
    absent: str


EFFECTS = (
    Effect("mix-blend-mode", "blend", "normal"),
    Effect("filter", "filter", "none"),
    Effect("backdrop-filter", "blur", "0px"),
)
"""Effects without which the contrast of texts and parts may be another."""


def browser_support(plan: Plan, pages: Names = ()) -> list[Support]:
    """Return the features that the export of a plan uses, with the browsers that have them.

    Args:
        plan: The plan.
        pages: The pages to include; by default all.

    Raises:
        PlanError: If a page cannot be laid out.
        RequestError: If the plan has no such page.
    """
    boxes = [view.box for view in plan.views(pages)]
    return list(support_of(code_in(site_of(plan.file, boxes, ExportOptions()).files())))


def iter_check_without(
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    jobs: Jobs = None,
    progress: Progress | None = None,
) -> Iterator[Finding]:
    """Yield what cannot be read only where a browser lacks an effect of the plan.

    Args:
        plan: The plan.
        pages: The pages to check; by default all.
        viewports: The viewports to check; by default all.
        jobs: As in :func:`rising_lantern.check`.
        progress: Called before each view and at the end.

    Raises:
        PlanError: If a page cannot be laid out.
        RequestError: If the plan has no such page or viewport.
    """
    known = None
    for effect in EFFECTS:
        values = {".".join(map(str, path)): effect.absent for path in _uses(plan, effect.key)}
        if not values:
            continue
        if known is None:
            found = check(plan, pages, viewports, only=_READABLE, jobs=jobs, progress=progress)
            known = {item.about for item in found}
        bare = plan.replace(values)
        for item in check(bare, pages, viewports, only=_READABLE, jobs=jobs, progress=progress):
            if item.about not in known:
                words = f"without {effect.feature}, {item.message}"
                yield replace(item, level="warning", message=words)


def _uses(plan: Plan, key: str) -> Iterator[tuple[Key, ...]]:
    """Where the plan asks for an effect."""
    for path, _ in walk(plan.file.root):
        if path and path[-1] == key and path[0] in {"pages", "headers"}:
            yield path
