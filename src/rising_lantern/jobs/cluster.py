"""Sharing work among the workers of a Dask cluster, which have none of the files."""

from __future__ import annotations

import asyncio
import logging
import re
import warnings
from collections.abc import Callable, Generator, Iterable, Iterator, Sequence
from concurrent.futures import CancelledError
from contextlib import ExitStack
from typing import Any

from rising_lantern.errors import RequestError, quoted
from rising_lantern.jobs.attempts import Attempt, Item, Result, attempt
from rising_lantern.outputs.interrupts import kept_to_this_process
from rising_lantern.plan.files.parcels import MissingFileError, Parcels, packed, unpacked

_ADDRESS = re.compile(r"(tcp|tls)://(\[[0-9a-fA-F:.]+\]|[^\s/:\[\]]+):\d{1,5}")
_PATIENCE = 10  # seconds for a scheduler to answer


def by_cluster(
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
    parcels = Parcels(len(client.scheduler_info()["workers"]))
    with client, parallel_config(backend="dask", client=client):
        calls = (delayed(_run_parcel)(work, parcels.pack(item)) for item in items)
        try:
            for item, answer in zip(items, _in_order(_parallel(Parallel), calls), strict=True):
                value, error = answer
                if isinstance(error, MissingFileError):
                    whole = [delayed(_run_parcel)(work, packed(item))]
                    value, error = next(_in_order(_parallel(Parallel), whole))
                if error is not None:
                    raise error
                yield value
        except (CancelledError, KilledWorker, OSError) as error:
            raise RequestError(f"the cluster at {address} was lost: {error}") from error


def _parallel(kind: Any) -> Any:
    """What sends calls, one at a time, and yields their results in order."""
    return kind(batch_size=1, return_as="generator", pre_dispatch="2 * n_jobs")


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


def _run_parcel(work: Callable[[Any], Result], parcel: bytes) -> Attempt[Result]:
    """Do some work on an item that was sent, if all of its files have come."""
    try:
        item = unpacked(parcel)
    except MissingFileError as error:
        return None, error
    return attempt(work, item)


def _in_order(
    share: Callable[[Iterable[Any]], Generator[Any]], calls: Iterable[Any]
) -> Iterator[Any]:
    """What comes of some calls, in order; what has been begun at an end before that is lost."""
    with ExitStack() as end:
        with kept_to_this_process():
            results = share(calls)
            end.callback(_stop, results)
        yield from results


def _stop(results: Generator[Any]) -> None:
    """End work that has been begun, and is meant to be lost."""
    with warnings.catch_warnings():
        warnings.simplefilter("ignore", UserWarning)
        results.close()
