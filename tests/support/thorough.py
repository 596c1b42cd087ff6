"""Which of many cases alike are tried in every run, and which only where all are asked for.

``pytest --thorough`` tries all of them, and more random ones.
"""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import pytest
from hypothesis import settings

thorough = pytest.mark.thorough
"""Marks what is tried only where all is asked for."""

FEW, MANY = 20, 60  # random examples of a test


def some(cases: Iterable[Any], of: int) -> list[Any]:
    """Cases of a parametrized test: the first of each few is tried in every run.

    Args:
        cases: The cases; tuples have a value for each parameter.
        of: One of how many is tried in every run.
    """
    return [
        _case(case) if index % of == 0 else _case(case, thorough)
        for index, case in enumerate(cases)
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
