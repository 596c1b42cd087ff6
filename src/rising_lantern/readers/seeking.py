"""What a check was asked to look for."""

from __future__ import annotations

from collections.abc import Container, Mapping
from dataclasses import dataclass

from rising_lantern.api.plans import Plan
from rising_lantern.jobs.sharing import Jobs, Progress


@dataclass(frozen=True)
class Seeking:
    """What is looked for, where, and who shares the work.

    Attributes:
        plan: The plan.
        views: The pages and viewports, each with the other pages that are the same there.
        rules: The names of the rules to apply.
        jobs: As in :func:`rising_lantern.check`.
        progress: Called before each piece of work and at the end.
    """

    plan: Plan
    views: Mapping[tuple[str, str], tuple[str, ...]]
    rules: tuple[str, ...]
    jobs: Jobs
    progress: Progress | None

    def rules_of(self, some: Container[str]) -> tuple[str, ...]:
        """Those of the rules that are among some."""
        return tuple(name for name in self.rules if name in some)
