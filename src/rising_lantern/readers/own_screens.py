"""The check of a page on a screen of the plan, with the bar of a phone's browser and without."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import Finding
from rising_lantern.plan.models.limits import Conformance


@dataclass(frozen=True, slots=True)
class ViewCheck:
    """The check of one page at one viewport, which another process can do.

    Attributes:
        plan: The plan; another process is given this page of it only.
        page: The page's name.
        viewport: The viewport's name.
        rules: The names of the rules to apply.
        contrast: The level of WCAG 2.2, or None for the plan's.
        silenced: Whether to include the findings that the plan silences.
        alike: Other pages that are the same but for their names and paths.
    """

    plan: Plan
    page: str
    viewport: str
    rules: tuple[str, ...]
    contrast: Conformance | None = None
    silenced: bool = False
    alike: tuple[str, ...] = ()

    def findings(self) -> list[Finding]:
        """What is found."""
        found = self._found(self.plan)
        if self.plan.file.hides_bar(self.viewport):
            found = _in_both(found, self._found(self.plan.with_bars()))
        return [replace(finding, alike=self.alike) for finding in found] if self.alike else found

    def _found(self, plan: Plan) -> list[Finding]:
        if not self.rules:
            return []
        view = plan.view(self.page, self.viewport)
        return view.check(self.rules, contrast=self.contrast, silenced=self.silenced)

    def words(self) -> str:
        """What is being done with it."""
        return f"Checking {self.page} on {self.viewport}"

    def __reduce__(self) -> tuple[Any, ...]:
        plan = Plan(self.plan.file.of_page(self.page))
        limits = self.rules, self.contrast, self.silenced
        return ViewCheck, (plan, self.page, self.viewport, *limits, self.alike)


def _in_both(hidden: list[Finding], shown: list[Finding]) -> list[Finding]:
    """What is found without and with a browser's bars; what is found in one case says in which."""
    other = {finding.about: finding for finding in shown}
    known = {finding.about for finding in hidden}
    result: list[Finding] = []
    for finding in hidden:
        twin = other.get(finding.about)
        if twin is None:
            words = f"{finding.message}, while the browser's bar is hidden"
            result.append(replace(finding, message=words))
        else:
            result.append(max(finding, twin, key=lambda item: item.excess))
    return result + [
        replace(finding, message=f"{finding.message}, while the browser's bar is shown")
        for finding in shown
        if finding.about not in known
    ]
