"""Arguments of public calls: checked at once, and refused with what would be right."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from numbers import Real

from rising_lantern.errors import RequestError, quoted

Names = str | Iterable[str]
"""One name, or several."""

Value = str | float | bool
"""A value of a plan: text, as the plan writes it, or a number."""


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


def names(value: str | Iterable[str]) -> tuple[str, ...]:
    """Some names, or one by itself.

    >>> names("home"), names(["home", "visit"])
    (('home',), ('home', 'visit'))
    """
    return (value,) if isinstance(value, str) else tuple(value)


def number(what: str, value: object) -> float:
    """One number.

    Raises:
        RequestError: If it is anything else.
    """
    if isinstance(value, bool) or not isinstance(value, Real):
        raise RequestError(f"{what} is {quoted(value)}; a single number is needed")
    return float(value)


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
