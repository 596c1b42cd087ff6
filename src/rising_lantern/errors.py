"""The errors that the library raises.

LanternError
  PlanError       the plan is wrong: one fault for each thing to mend, with its place
  RequestError    the library or a command was called wrongly
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass


@dataclass(frozen=True, slots=True, order=True)
class Place:
    """A place in a file.

    Attributes:
        file: The file's name as it was given.
        line: Counted from 1; 0 for the file as a whole.
        column: Counted from 1, in characters; 0 for the file as a whole.
    """

    file: str
    line: int = 0
    column: int = 0

    def __str__(self) -> str:
        return f"{self.file}:{self.line}:{self.column}" if self.line else self.file


@dataclass(frozen=True, slots=True, order=True)
class Fault:
    """One thing in a plan that has to be mended.

    Attributes:
        place: Where it stands.
        problem: What is wrong.
        remedy: What would be right.
    """

    place: Place
    problem: str
    remedy: str

    def __str__(self) -> str:
        return f"{self.place}: {self.problem}; {self.remedy}"


class LanternError(Exception):
    """Whatever this library raises on purpose."""


class PlanError(LanternError):
    """A plan that cannot be used.

    Attributes:
        faults: All of its faults, in the order of the file.
    """

    def __init__(self, faults: Iterable[Fault]) -> None:
        self.faults = tuple(sorted(set(faults)))
        super().__init__("\n".join(str(fault) for fault in self.faults))


class RequestError(LanternError, ValueError):
    """A call that asks for what there is not: another page, a position that is no number."""
