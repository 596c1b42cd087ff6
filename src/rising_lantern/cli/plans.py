"""Plans that commands read: from a file, or from standard input."""

from __future__ import annotations

import sys
from pathlib import Path

from rising_lantern.api.plans import Plan, read, read_text

STANDARD_INPUT = Path("-")
_MOST_INPUT = 16_000_001  # bytes; a plan with more is refused


def read_plan(plan: Path, values: dict[str, str]) -> Plan:
    """The plan of a command: from its file, or from standard input for ``-``.

    Pictures of a plan from standard input are looked for in the current folder.

    Raises:
        PlanError: With all faults of the plan, each with its place.
    """
    if plan == STANDARD_INPUT:
        return read_text(sys.stdin.buffer.read(_MOST_INPUT), name="<stdin>", values=values)
    return read(plan, values)
