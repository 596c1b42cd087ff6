"""Work for processes: they can import what is here, not what is in a test."""

from __future__ import annotations

from rising_lantern.errors import Fault, Place, PlanError


def doubled(number: int) -> int:
    """Twice a number; one below zero is refused."""
    if number < 0:
        raise PlanError([Fault(Place("plan.yaml", 3, 1), "too low", "raise it")])
    return 2 * number
