"""Arguments of public calls: checked at once, and refused with what would be right."""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from numbers import Real
from os import PathLike
from pathlib import Path

from rising_lantern.errors import RequestError, quoted

Names = str | Iterable[str]
"""One name, or several."""

Value = str | float | bool
"""A value of a plan: text, as the plan writes it, or a number."""


def given(value: object) -> str:
    """A value that was given, for a message: text in quotes, anything else as Python writes it.

    >>> given("home"), given(5), given([1, 2])
    ("'home'", '5', '[1, 2]')
    """
    return quoted(value) if isinstance(value, str) else quoted(repr(value))[1:-1]


def one_of(what: str, value: object, choices: Iterable[str]) -> None:
    """See that a value is one of some choices.

    Args:
        what: What it is, for the message.
        value: The value.
        choices: What it may be.

    Raises:
        RequestError: If it is none of them.

    >>> one_of("going", "down", ("down", "up"))
    """
    known = tuple(choices)
    if value not in known:
        raise RequestError(f"{what} is {quoted(value)}; it can be {' or '.join(map(repr, known))}")


def names(value: object) -> tuple[str, ...]:
    """Some names, or one by itself.

    Raises:
        RequestError: If it is anything else.

    >>> names("home"), names(["home", "visit"])
    (('home',), ('home', 'visit'))
    """
    if isinstance(value, str):
        return (value,)
    found = tuple(value) if isinstance(value, Iterable) else (value,)
    for name in found:
        if not isinstance(name, str):
            raise RequestError(f"{given(name)} is not a name; write one name, or several")
    return found


def number(what: str, value: object) -> float:
    """One number.

    Raises:
        RequestError: If it is anything else.
    """
    if isinstance(value, bool) or not isinstance(value, Real):
        raise RequestError(f"{what} is {given(value)}; a single number is needed")
    return float(value)


def numbers(what: str, values: object) -> list[float]:
    """Several numbers.

    Raises:
        RequestError: If it is anything else, or one of them is not finite.

    >>> numbers("a scroll position", [0, 20.5])
    [0.0, 20.5]
    """
    if isinstance(values, str) or not isinstance(values, Iterable):
        raise RequestError(f"{given(values)} is given; a list of numbers is needed: [0, 240]")
    found = [number(what, value) for value in values]
    for value in found:
        if not math.isfinite(value):
            raise RequestError(f"{what} is {value}; it has to be a finite number")
    return found


def text(what: str, value: object, example: str) -> str:
    """One text.

    Args:
        what: What it is, for the message.
        value: The value.
        example: What would be right.

    Raises:
        RequestError: If it is anything else.
    """
    if not isinstance(value, str):
        raise RequestError(f"{what} is {given(value)}; write text, such as {quoted(example)}")
    return value


def path(value: object) -> Path:
    """The path of a file or folder.

    Raises:
        RequestError: If it is anything else.
    """
    if not isinstance(value, str | PathLike):
        raise RequestError(f"{given(value)} is not the path of a file; write 'plan.yaml'")
    return Path(value)


def texts(values: object) -> dict[str, str]:
    """Values by their paths, each as a plan writes it.

    Raises:
        RequestError: If they are no mapping, or a value is neither text nor a number.

    >>> texts({"headers.main.z": 20, "headers.main.hold-space": True})
    {'headers.main.z': '20', 'headers.main.hold-space': 'true'}
    """
    if not isinstance(values, Mapping):
        raise RequestError(
            "values must be a mapping from paths to values: {'headers.main.height': '64px'}"
        )
    result: dict[str, str] = {}
    for path, value in values.items():
        if isinstance(value, bool):
            result[str(path)] = "true" if value else "false"
        elif isinstance(value, str | int | float):
            result[str(path)] = str(value)
        else:
            raise RequestError(f"{path} is {quoted(value)}; write it as text, as in the plan")
    return result
