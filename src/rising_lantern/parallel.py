"""Sharing work among processes: the results are the same, and in the same order, for any number.

Work is a function at the top of a module, and items that can be pickled.
"""

from __future__ import annotations

import os
import time
import warnings
from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

from rising_lantern.errors import RequestError

Item = TypeVar("Item")
Result = TypeVar("Result")

MOST_JOBS = 256
_WORTH = 3.0  # seconds of work that are left, from which on starting processes is worth its time


def shared(
    work: Callable[[Item], Result], items: Sequence[Item], jobs: int | None = None
) -> Iterator[Result]:
    """What some work makes of each item, in order, as soon as it is there.

    Args:
        work: The work.
        items: What it is done on.
        jobs: How many processes share it; 1 for this one alone. By default one for each core,
            where there is so much to do that they are worth starting.

    Raises:
        RequestError: If the number of processes is not from 1 to 256.
    """
    if jobs is not None and not 1 <= jobs <= MOST_JOBS:
        raise RequestError(f"work is shared among 1 to {MOST_JOBS} processes, not {jobs}")
    wanted = cores() if jobs is None else jobs
    done, start = 0, time.perf_counter()
    while done < len(items):
        left = len(items) - done
        expected = left * (time.perf_counter() - start) / done if done else 0.0
        if wanted > 1 and left > 1 and (jobs is not None or expected > _WORTH):
            break
        yield work(items[done])
        done += 1
    if done < len(items):
        yield from _by_processes(work, items[done:], min(wanted, len(items) - done))


def cores() -> int:
    """How many cores this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


def _by_processes(
    work: Callable[[Item], Result], items: Sequence[Item], jobs: int
) -> Iterator[Result]:
    from joblib import Parallel, delayed  # noqa: PLC0415 - not where one process is enough

    # A process that has kept much is replaced by another one, which nobody needs to know.
    warnings.filterwarnings("ignore", message="A worker stopped while some jobs")
    # One item at a time, so that a slow one holds nothing up but itself.
    share = Parallel(n_jobs=jobs, batch_size=1, return_as="generator", pre_dispatch="2 * n_jobs")
    results = share(delayed(work)(item) for item in items)
    try:
        yield from results
    finally:
        with warnings.catch_warnings():
            # Where somebody stops, work that has been begun is meant to be lost.
            warnings.simplefilter("ignore", UserWarning)
            results.close()
