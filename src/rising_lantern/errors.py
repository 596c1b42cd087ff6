"""The errors that the library raises.

LanternError
  PlanError         the plan is wrong: one fault for each thing to fix, with its place
    NoPlanError     there is no such plan; a FileNotFoundError as well
  RequestError      the library or a command was called wrongly; a ValueError as well
"""

from __future__ import annotations

import errno
from collections.abc import Iterable
from dataclasses import dataclass

_MOST_QUOTED = 80
_MOST_NAMED = 24
_MOST_SHORT = 28  # characters of a text on a page


def quoted(value: object) -> str:
    """A value as messages show it: in quotes, at most 80 characters, on one line.

    >>> quoted("12 px")
    "'12 px'"
    >>> len(quoted("long" * 1000))
    82
    """
    text = str(value)
    shown = repr(text if len(text) <= _MOST_QUOTED else text[: _MOST_QUOTED - 3] + "...")
    # Escapes of what cannot be shown have made it longer.
    return shown if len(shown) <= 2 * _MOST_QUOTED else f"{shown[: _MOST_QUOTED - 3]}...{shown[-1]}"


def listed(names: Iterable[object]) -> str:
    """Names with commas between, the first 24 of them.

    >>> listed(["home", "visit"])
    'home, visit'
    """
    known = [str(name) for name in names]
    more = f" and {len(known) - _MOST_NAMED} more" if len(known) > _MOST_NAMED else ""
    return ", ".join(known[:_MOST_NAMED]) + more


def shortened(text: str) -> str:
    """A text on one line, and only its beginning where it is long.

    >>> shortened("The river carries the light of lanterns")
    'The river carries the light…'
    """
    words = " ".join(text.split())
    return words if len(words) <= _MOST_SHORT else words[: _MOST_SHORT - 1].rstrip() + "…"


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
        file = self.file
        if len(file) > 2 * _MOST_QUOTED:
            file = f"{file[:_MOST_QUOTED]}...{file[-_MOST_QUOTED:]}"
        return f"{file}:{self.line}:{self.column}" if self.line else file


@dataclass(frozen=True, slots=True, order=True)
class Fault:
    """One thing in a plan that has to be fixed.

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
    """Base class for all errors that the library raises."""


class PlanError(LanternError):
    """Raised when a plan cannot be used.

    Attributes:
        faults: All faults of the plan, in the order of the file.
    """

    def __init__(self, faults: Iterable[Fault]) -> None:
        self.faults = tuple(sorted(set(faults)))
        super().__init__("\n".join(str(fault) for fault in self.faults))

    def __reduce__(self) -> tuple[type[PlanError], tuple[tuple[Fault, ...]]]:
        # So that it comes back from another process as it was raised there.
        return type(self), (self.faults,)


class NoPlanError(PlanError, FileNotFoundError):
    """Raised when the file of a plan does not exist."""

    def __init__(self, faults: Iterable[Fault]) -> None:
        super().__init__(faults)
        self.errno = errno.ENOENT
        self.filename = self.faults[0].place.file if self.faults else None

    def __str__(self) -> str:
        return "\n".join(map(str, self.faults))


class RequestError(LanternError, ValueError):
    """Raised when an argument is not valid, or names something that does not exist."""
