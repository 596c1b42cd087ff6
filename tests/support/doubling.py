"""Work for processes: they can import what is here, not what is in a test."""

from __future__ import annotations

import signal

from rising_lantern.errors import Fault, Place, PlanError


def doubled(number: int) -> int:
    """Twice a number; one below zero is refused."""
    if number < 0:
        raise PlanError([Fault(Place("plan.yaml", 3, 1), "too low", "raise it")])
    return 2 * number


def hears_ctrl_c(_: int) -> bool:
    """Whether Ctrl-C reaches the process that does this."""
    return signal.SIGINT not in signal.pthread_sigmask(signal.SIG_BLOCK, ())
