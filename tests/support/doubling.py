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


def hears_ctrl_c(_: int) -> bool:
    """Whether Ctrl-C reaches the process that does this."""
    return signal.SIGINT not in signal.pthread_sigmask(signal.SIG_BLOCK, ())


class Deadly:
    """An item of work on which its process is killed, for the first times.

    Args:
        page: The page that it is about.
        folder: Where the times are counted, and the processes that worked on it are named.
        times: How often.
    """

    def __init__(self, page: str, folder: str, times: int) -> None:
        self.page, self.folder, self.times = page, folder, times


def survived(item: Deadly) -> str:
    """The page of an item, once its process has been killed often enough."""
    before = len(list(Path(item.folder).glob(f"{item.page}.*")))
    (Path(item.folder) / f"{item.page}.{before}").write_text(str(os.getpid()), "utf-8")
    if before < item.times:
        os.kill(os.getpid(), signal.SIGKILL)
    return item.page


def slept(folder: str) -> None:
    """Work for a long time; the process is named in a folder."""
    (Path(folder) / f"pid.{os.getpid()}").write_text("", "utf-8")
    time.sleep(120)
