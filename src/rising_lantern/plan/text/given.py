"""A plan that is given to a call."""

from __future__ import annotations

from typing import Protocol

from rising_lantern.base.arguments import given
from rising_lantern.errors import RequestError
from rising_lantern.plan.text.reading import PlanFile


class HasFile(Protocol):
    """What a plan is to those who need what was read only."""

    @property
    def file(self) -> PlanFile:
        """What was read of it."""
        ...


def file_of(plan: HasFile) -> PlanFile:
    """What was read of a plan that is given to a call.

    Raises:
        RequestError: If something else is given.
    """
    file = getattr(plan, "file", None)
    if not isinstance(file, PlanFile):
        raise RequestError(f"{given(plan)} is not a plan; write rising_lantern.read('plan.yaml')")
    return file
