"""Sharing work among processes, of this machine or of a Dask cluster.

The results are the same, and in the same order, however many share it. Work is a function that
can be imported, and items that can be pickled.
"""

from __future__ import annotations

import asyncio
import logging
import os
import re
import threading
import time
import warnings
from collections.abc import Callable, Generator, Iterable, Iterator, Sequence
from concurrent.futures import CancelledError
from concurrent.futures.process import BrokenProcessPool
from contextlib import ExitStack
from functools import cache
from typing import Any, TypeVar

from rising_lantern.errors import LanternError, RequestError, quoted
from rising_lantern.outputs.interrupts import kept_to_this_process
from rising_lantern.plan.files.parcels import packed, unpacked

Item = TypeVar("Item")
Result = TypeVar("Result")

Jobs = int | str | None
"""A number of processes, the address of a Dask scheduler, or None for what is worth its time."""

Progress = Callable[[str, int, int], None]
"""Told what is being done, how many steps of it are complete, and how many there are."""

MOST_JOBS = 256
_ADDRESS = re.compile(r"(tcp|tls)://(\[[0-9a-fA-F:.]+\]|[^\s/:\[\]]+):\d{1,5}")
_PATIENCE = 10  # seconds for a scheduler to answer
_LOOK_S = 1.0  # seconds between two looks at whether the parent of a process is still there
_WORTH = 3.0  # seconds of work that are left, from which on starting processes is worth its time


def shared(
    work: Callable[[Item], Result], items: Sequence[Item], jobs: Jobs = None
) -> Iterator[Result]:
    """What some work makes of each item, in order, as soon as it is there.

    Args:
        work: The work.
        items: What it is done on.
        jobs: How many processes share it; 1 for this one alone. By default one for each core,
            where there is so much to do that they are worth starting. Or the address of the
            scheduler of a Dask cluster, such as ``tcp://10.0.0.2:8786``.

    Raises:
        RequestError: If the number of processes is not from 1 to 256, or no scheduler answers.
    """
    if isinstance(jobs, str):
        yield from _by_cluster(work, items, jobs)
        return
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
        progress: Called before each item.
        what: What is being done with an item, in words.
    """
    results = shared(work, items, jobs)
    for done, item in enumerate(items):
        if progress:
            progress(what(item), done, len(items))
        yield item, next(results)


def cores() -> int:
    """How many cores this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


def _by_cluster(
    work: Callable[[Item], Result], items: Sequence[Item], address: str
) -> Iterator[Result]:
    """What some work makes of each item, by a cluster, to which plans and pictures are sent."""
    if not _ADDRESS.fullmatch(address):
        raise RequestError(f"{quoted(address)} is not an address such as tcp://10.0.0.2:8786")
    try:
        from distributed import Client, KilledWorker  # noqa: PLC0415 - an extra
        from joblib import Parallel, delayed, parallel_config  # noqa: PLC0415 - as above
    except ImportError:
        raise RequestError(
            "a cluster needs the package 'distributed': install rising-lantern[cluster]"
        ) from None
    # What goes wrong there is reported once, by what is raised here.
    for name in ("distributed", "distributed.client", "tornado"):
        logging.getLogger(name).setLevel(logging.CRITICAL)
    _ask(address)
    client = Client(address, timeout=_PATIENCE, set_as_default=False)
    with client, parallel_config(backend="dask", client=client):
        share = Parallel(batch_size=1, return_as="generator", pre_dispatch="2 * n_jobs")
        try:
            yield from _in_order(
                share, (delayed(_run_parcel)(work, packed(item)) for item in items)
            )
        except (CancelledError, KilledWorker, OSError) as error:
            raise RequestError(f"the cluster at {address} was lost: {error}") from error


def _ask(address: str) -> None:
    """Ask whether a scheduler answers.

    Where nothing answers, Dask's client waits far longer than its timeout.

    Raises:
        RequestError: If it does not, or has no certificates to be asked with.
    """
    from distributed.comm import connect  # noqa: PLC0415 - an extra
    from distributed.security import Security  # noqa: PLC0415 - as above

    async def answered() -> None:
        own = Security().get_connection_args("client")
        comm = await asyncio.wait_for(connect(address, timeout=_PATIENCE, **own), _PATIENCE)
        comm.abort()

    try:
        asyncio.run(answered())
    except TypeError as error:
        raise RequestError(
            f"{address} needs certificates: name them in Dask's own configuration, under "
            "distributed.comm.tls"
        ) from error
    except (OSError, ValueError) as error:
        raise RequestError(
            f"no Dask scheduler answers at {address}; start one with 'dask scheduler', or correct "
            "the address"
        ) from error


def _run_parcel(
    work: Callable[[Any], Result], parcel: bytes
) -> tuple[Result, None] | tuple[None, LanternError]:
    """Do some work on an item that was sent."""
    return _attempt(work, unpacked(parcel))


def _attempt(
    work: Callable[[Item], Result], item: Item
) -> tuple[Result, None] | tuple[None, LanternError]:
    """What some work makes of an item, or the error that it raises: it waits for its turn."""
    try:
        return work(item), None
    except LanternError as error:
        return None, error


def _by_processes(
    work: Callable[[Item], Result], items: Sequence[Item], jobs: int
) -> Iterator[Result]:
    """What some work makes of each item, also where a process is killed meanwhile.

    The system does that where memory runs out. The item whose turn it was is then tried again by
    itself, and the rest is shared as before.

    Raises:
        RequestError: If an item ends its process once more.
    """
    done = 0
    while done < len(items):
        try:
            for result in _run_in_pool(work, items[done:], jobs):
                yield result
                done += 1
        except BrokenProcessPool:
            yield _alone(work, items[done])
            done += 1


def _alone(work: Callable[[Item], Result], item: Item) -> Result:
    """What some work makes of an item on which a process may have been killed."""
    try:
        (result,) = _run_in_pool(work, [item], 2)
    except BrokenProcessPool:
        page = getattr(item, "page", None)
        raise RequestError(
            f"the process that works on {f'the page {quoted(page)}' if page else 'this'} is ended "
            "again and again, most often because memory runs out; give it more, or make its "
            "pictures smaller"
        ) from None
    return result


def _run_in_pool(
    work: Callable[[Item], Result], items: Sequence[Item], jobs: int
) -> Iterator[Result]:
    """What some work makes of each item, in processes of this machine.

    Raises:
        BrokenProcessPool: If one of them is killed.
    """
    from joblib import Parallel, delayed  # noqa: PLC0415 - not where one process is enough

    # A process that has kept much is replaced by another one, which nobody needs to know.
    warnings.filterwarnings("ignore", message="A worker stopped while some jobs")
    # One item at a time, so that a slow one holds nothing up but itself.
    share = Parallel(n_jobs=jobs, batch_size=1, return_as="generator", pre_dispatch="2 * n_jobs")
    calls = (delayed(_run_in_worker)(os.getpid(), work, item) for item in items)
    yield from _in_order(share, calls)


def _run_in_worker(
    parent: int, work: Callable[[Item], Result], item: Item
) -> tuple[Result, None] | tuple[None, LanternError]:
    """Do some work in a process that ends when the one that started it does."""
    _follow(parent)
    return _attempt(work, item)


@cache
def _follow(parent: int) -> None:
    """End this process soon after its parent, whatever has ended that."""
    if hasattr(os, "getppid") and os.getppid() == parent:
        threading.Thread(target=_watch, args=(parent,), daemon=True).start()


def _watch(parent: int) -> None:
    while os.getppid() == parent:
        time.sleep(_LOOK_S)
    os._exit(1)


def _in_order(
    share: Callable[[Iterable[Any]], Generator[Any]], calls: Iterable[Any]
) -> Iterator[Any]:
    """Results up to the first error, which is raised when it is its turn."""
    with ExitStack() as end:
        with kept_to_this_process():
            results = share(calls)
            end.callback(_stop, results)
        for result, error in results:
            if error is not None:
                raise error
            yield result


def _stop(results: Generator[Any]) -> None:
    """End work that has been begun, and is meant to be lost."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", UserWarning)
        results.close()
