"""Which of many cases alike are tried in a run, and which only where all are asked for.

``pytest --thorough`` tries all of them, and more random ones. Without it they take turns, another
day others; what a run says at its top repeats its turn on any day.
"""

from __future__ import annotations

import os
from collections.abc import Iterable
from datetime import UTC, datetime
from typing import Any

import pytest
from hypothesis import settings

thorough = pytest.mark.thorough
"""Marks what is tried only where all is asked for."""

FEW, MANY = 20, 60  # random examples of a test


TURN = "RISING_LANTERN_TURN"
"""The variable that chooses whose turn it is; by default the day's number."""


def turn() -> int:
    """Whose turn it is. All processes of a run have the turn of the first, also past midnight."""
    return int(os.environ.setdefault(TURN, str(datetime.now(tz=UTC).toordinal())))


def some(cases: Iterable[Any], of: int) -> list[Any]:
    """Cases of a parametrized test, of which every one has its turn to be tried.

    Args:
        cases: The cases; tuples have a value for each parameter.
        of: One of how many is tried in a run.
    """
    listed = list(cases)
    now = turn() % min(of, max(len(listed), 1))
    return [
        _case(case) if index % of == now else _case(case, thorough)
        for index, case in enumerate(listed)
    ]


def _case(case: Any, *marks: pytest.MarkDecorator) -> Any:
    return pytest.param(*(case if isinstance(case, tuple) else (case,)), marks=marks)


def is_thorough() -> bool:
    """Whether all cases are asked for."""
    chosen = settings.default
    assert chosen is not None
    return chosen.max_examples >= MANY


def examples(many: int) -> int:
    """How many random examples a slow test takes, of the number that it has where all are tried."""
    return many if is_thorough() else max(many * FEW // MANY, 1)
