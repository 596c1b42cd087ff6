"""The check of a page on a screen of the plan, with the bar of a phone's browser and without."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rising_lantern.checks.findings import Finding
from rising_lantern.checks.running import check_scene
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scenes.scene import scene_of


@dataclass(frozen=True, slots=True)
class CheckTask:
    """The check of a page at a viewport.

    Attributes:
        rules: The names of the rules to apply.
        contrast: The level of WCAG 2.2, or None for the plan's.
        silenced: Whether to include the findings that the plan silences.
        alike: Other pages that are the same but for their names and paths.
    """

    rules: tuple[str, ...]
    contrast: Conformance | None = None
    silenced: bool = False
    alike: tuple[str, ...] = ()

    def run(self, plan: PlanFile, page: str, viewport: str) -> list[Finding]:
        """Return what is found."""
        found = self._find(plan, page, viewport)
        if plan.hides_bar(viewport):
            shown = replace(plan, bars_shown=True)
            found = _in_both(found, self._find(shown, page, viewport))
        return [replace(finding, alike=self.alike) for finding in found] if self.alike else found

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        return f"Checking {page} on {viewport}"

    def _find(self, plan: PlanFile, page: str, viewport: str) -> list[Finding]:
        if not self.rules:
            return []
        scene = scene_of(plan, page, viewport)
        return check_scene(scene, self.rules, contrast=self.contrast, silenced=self.silenced)


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
