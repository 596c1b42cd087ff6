"""Work for processes: they can import what is here, not what is in a test."""

from __future__ import annotations

import os
import signal
import time
from pathlib import Path

from rising_lantern.errors import Fault, Place, PlanError


def doubled(number: int) -> int:
    """Twice a number; one below zero is refused."""
    if number < 0:
        raise PlanError([Fault(Place("plan.yaml", 3, 1), "too low", "raise it")])
    return 2 * number


def hears_ctrl_c(folder: str) -> tuple[int, bool]:
    """The process that does this, and whether Ctrl-C reaches it.

    Args:
        folder: Where processes say that they have come here; two have to.
    """
    (Path(folder) / str(os.getpid())).touch()
    while len(list(Path(folder).iterdir())) < 2:
        time.sleep(0.02)
    return os.getpid(), signal.SIGINT not in signal.pthread_sigmask(signal.SIG_BLOCK, ())


def named(item: tuple[str, int]) -> int:
    """A number, which is noted in a folder."""
    folder, number = item
    (Path(folder) / str(number)).touch()
    return number


def broken(_: int) -> None:
    """Work that is a mistake of ours."""
    raise ZeroDivisionError


class Deadly:
    """An item of work on which its process is killed, for the first times.

    Args:
        page: The page that it is about.
        folder: Where the times are counted, and the processes that worked on it are named.
        times: How often; never where the items were made.
        awaited: The page of the item that another process has to begin before any is done there.
    """

    def __init__(self, page: str, folder: str, times: int, awaited: str) -> None:
        self.page, self.folder, self.times = page, folder, times
        self.awaited = Path(folder) / f"{awaited}.0"
        self.home = os.getpid()


def survived(item: Deadly) -> str:
    """The page of an item, once its process has been killed often enough."""
    if os.getpid() == item.home:
        while not item.awaited.exists():
            time.sleep(0.02)
        return item.page
    before = len(list(Path(item.folder).glob(f"{item.page}.*")))
    (Path(item.folder) / f"{item.page}.{before}").write_text(str(os.getpid()), "utf-8")
    if before < item.times:
        os.kill(os.getpid(), signal.SIGKILL)
    return item.page


def slept(folder: str) -> None:
    """Work for a long time; the process is named in a folder."""
    (Path(folder) / f"pid.{os.getpid()}").write_text("", "utf-8")
    time.sleep(120)
