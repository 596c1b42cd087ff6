"""Sharing work among processes, of this machine or of a Dask cluster.

The results are the same, and in the same order, however many share it. Work is a function that
can be imported, and items that can be pickled.
"""

from __future__ import annotations

import os
import threading
import time
import warnings
from collections import deque
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import Future
from concurrent.futures.process import BrokenProcessPool
from functools import cache
from typing import Any, Generic, Self, cast

from rising_lantern.errors import RequestError, quoted
from rising_lantern.jobs.attempts import Attempt, Item, Result, attempt
from rising_lantern.jobs.cluster import by_cluster
from rising_lantern.outputs.interrupts import kept_to_this_process

Jobs = int | str | None
"""A number of processes, the address of a Dask scheduler, or None for what is worth its time."""

Progress = Callable[[str, int, int], None]
"""Told what is being done, how many steps of it are complete, and how many there are."""

Told = Callable[[Item, int], None]
"""Told which item is begun or waited for, and how many are done."""

MOST_JOBS = 256
_LOOK_S = 1.0  # seconds between two looks at whether the parent of a process is still there
_AHEAD = 64  # items that may be begun ahead of the one whose turn it is
_WORTH = 3.0  # seconds of work that are left, from which on starting processes is worth its time


def shared(
    work: Callable[[Item], Result],
    items: Sequence[Item],
    jobs: Jobs = None,
    told: Told[Item] | None = None,
) -> Iterator[Result]:
    """What some work makes of each item, in order, as soon as it is there.

    Args:
        work: The work.
        items: What it is done on.
        jobs: How many processes share it, this one among them. By default one for each core,
            where there is so much to do that they are worth starting. Or the address of the
            scheduler of a Dask cluster, such as ``tcp://10.0.0.2:8786``.
        told: Called with an item that is begun or waited for, and how many are done.

    Raises:
        RequestError: If the number of processes is not from 1 to 256, or no scheduler answers.
    """
    if isinstance(jobs, str):
        results = by_cluster(work, items, jobs)
        for done, item in enumerate(items):
            if told:
                told(item, done)
            yield next(results)
        return
    if jobs is not None and not 1 <= jobs <= MOST_JOBS:
        raise RequestError(f"work is shared among 1 to {MOST_JOBS} processes, not {jobs}")
    yield from _by_processes(work, items, jobs, told)


def followed(
    work: Callable[[Item], Result],
    items: Sequence[Item],
    jobs: Jobs,
    progress: Progress | None,
    what: Callable[[Item], str],
) -> Iterator[tuple[Item, Result]]:
    """Each item with what some work makes of it; see :func:`shared`.

    Args:
        work: The work.
        items: What it is done on.
        jobs: Who shares it.
        progress: Called with what is being done.
        what: What is being done with an item, in words.
    """

    def told(item: Item, done: int) -> None:
        if progress:
            progress(what(item), done, len(items))

    yield from zip(items, shared(work, items, jobs, told), strict=True)


def cores() -> int:
    """How many cores this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


def _by_processes(
    work: Callable[[Item], Result], items: Sequence[Item], jobs: int | None, told: Told[Item] | None
) -> Iterator[Result]:
    """What some work makes of each item: this process works, and others where they are worth it.

    Work on which another process is killed, as the system does where memory runs out, is tried
    again by itself; the rest is shared as before.

    Raises:
        RequestError: If an item ends its process once more.
    """
    others = (cores() if jobs is None else jobs) - 1
    start = time.perf_counter()
    with _Crew(work, items) as crew:
        for index, item in enumerate(items):
            crew.look_ahead(index)
            while (result := crew.take(index)) is None:
                left = len(items) - crew.done
                expected = left * (time.perf_counter() - start) / crew.done if crew.done else 0.0
                if left > 1 and (jobs is not None or expected > _WORTH):
                    crew.hire_up_to(min(others, left - 1))
                if told:
                    told(item, crew.done)
                crew.work_or_wait(index)
            value, error = _alone(work, item) if isinstance(result, _Lost) else result
            if error is not None:
                raise error
            yield cast("Result", value)


def _alone(work: Callable[[Item], Result], item: Item) -> Attempt[Result]:
    """What some work makes of an item on which a process may have been killed."""
    with _Crew(work, [item]) as crew:
        crew.look_ahead(0)
        crew.hire_up_to(1)
        while (result := crew.take(0)) is None:
            crew.work_or_wait(0)
    if isinstance(result, _Lost):
        page = getattr(item, "page", None)
        raise RequestError(
            f"the process that works on {f'the page {quoted(page)}' if page else 'this'} is ended "
            "again and again, most often because memory runs out; give it more, or make its "
            "pictures smaller"
        )
    return result


class _Lost:
    """In the place of a result: the process that worked on it has ended."""


class _Crew(Generic[Item, Result]):
    """This process, which takes work from the front, and others, which take it from the back.

    So results come in order while there is work, and what a process has painted serves what it
    does next. Few items are begun ahead of their turn, so that few results have to be kept.
    """

    def __init__(self, work: Callable[[Item], Result], items: Sequence[Item]) -> None:
        self._work = work
        self._items = items
        self._waiting: deque[int] = deque()
        self._ahead = 0
        self._results: dict[int, Attempt[Result] | _Lost] = {}
        self._others: list[Any] = []
        self._idle: list[Any] = []
        self._living = 0
        self._changed = threading.Condition()
        self.done = 0

    def __enter__(self) -> Self:
        return self

    def __exit__(self, *_: object) -> None:
        """End the other processes; work that they have begun is lost."""
        with self._changed:
            self._waiting.clear()
        for other in self._others:
            other.shutdown(wait=False, kill_workers=True)

    def look_ahead(self, index: int) -> None:
        """Let items wait up to some behind the one whose turn it is."""
        with self._changed:
            end = min(index + _AHEAD, len(self._items))
            self._waiting.extend(range(self._ahead, end))
            self._ahead = max(self._ahead, end)

    def hire_up_to(self, count: int) -> None:
        """Start other processes until this many work, each on one item after another."""
        while self._idle and self._waiting:
            self._send(self._idle.pop())
        if self._living >= count:
            return
        from joblib.externals.loky.process_executor import (  # noqa: PLC0415 - slow
            ProcessPoolExecutor,
        )

        # A process that has kept much is replaced by another one, which nobody needs to know.
        warnings.filterwarnings("ignore", message="A worker stopped while some jobs")
        with kept_to_this_process():
            while self._living < count:
                other = ProcessPoolExecutor(1)
                self._others.append(other)
                self._living += 1
                self._send(other)

    def take(self, index: int) -> Attempt[Result] | _Lost | None:
        """What has come of an item; None where nothing has yet."""
        with self._changed:
            return self._results.pop(index, None)

    def work_or_wait(self, index: int) -> None:
        """Do the first item that waits; without one, wait until something is done.

        Args:
            index: The item whose result is wanted.
        """
        with self._changed:
            if not self._waiting:
                if index not in self._results:
                    self._changed.wait()
                return
            first = self._waiting.popleft()
        self._keep(first, attempt(self._work, self._items[first]))

    def _send(self, other: Any) -> None:
        """Give another process the last item that waits, if there is one."""
        with self._changed:
            if not self._waiting:
                self._idle.append(other)
                return
            index = self._waiting.pop()
        answer = other.submit(_run_in_worker, os.getpid(), self._work, self._items[index])
        answer.add_done_callback(lambda answer: self._receive(other, index, answer))

    def _receive(self, other: Any, index: int, answer: Future[Attempt[Result]]) -> None:
        """Keep what another process answers, and give it the next item."""
        if answer.cancelled():
            return
        error = answer.exception()
        if isinstance(error, BrokenProcessPool):
            with self._changed:
                self._living -= 1
            self._keep(index, _Lost())
            return
        self._keep(index, (None, error) if error else answer.result())
        self._send(other)

    def _keep(self, index: int, result: Attempt[Result] | _Lost) -> None:
        with self._changed:
            self._results[index] = result
            self.done += 1
            self._changed.notify_all()


def _run_in_worker(parent: int, work: Callable[[Item], Result], item: Item) -> Attempt[Result]:
    """Do some work in a process that ends when the one that started it does."""
    _follow(parent)
    return attempt(work, item)


@cache
def _follow(parent: int) -> None:
    """End this process soon after its parent, whatever has ended that."""
    if hasattr(os, "getppid") and os.getppid() == parent:
        threading.Thread(target=_watch, args=(parent,), daemon=True).start()


def _watch(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(_LOOK_S)
    os._exit(1)
