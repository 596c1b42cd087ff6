"""A process beside the server's that measures, and is ended where its work is out of date."""

from __future__ import annotations

import multiprocessing
import threading
from multiprocessing.connection import Connection
from typing import Any, TypeVar

from rising_lantern.errors import LanternError
from rising_lantern.jobs.job import Job
from rising_lantern.outputs.interrupts import kept_to_this_process

Result = TypeVar("Result")

_CONTEXT = multiprocessing.get_context("spawn")


class OutOfDateError(Exception):
    """Raised when work was dropped because the plan has changed since."""


class Helper:
    """Runs one piece of work after another in a process of its own.

    The process is started with the first piece, and stays for the next ones.
    """

    def __init__(self) -> None:
        self._lock = threading.Lock()
        self._process: Any = None
        self._pipe: Connection | None = None
        self._ended = False

    def run(self, work: Job[Result]) -> Result:
        """What a job makes, when the work before it is complete.

        Raises:
            LanternError: Where the work raises it.
            OutOfDateError: If the process was ended meanwhile.
        """
        with self._lock:
            if self._ended:
                raise OutOfDateError
            pipe = self._start()
            try:
                pipe.send(work)
                result, error = pipe.recv()
            except (EOFError, OSError):
                self._forget()
                raise OutOfDateError from None
        if error is not None:
            raise error
        made: Result = result
        return made

    def drop(self) -> None:
        """End the process, and the work that it does; the next piece starts another one."""
        process = self._process
        if process is not None and process.is_alive():
            process.terminate()

    def end(self) -> None:
        """End the process for good."""
        self._ended = True
        self.drop()

    def _start(self) -> Connection:
        if self._pipe is None or not self._process.is_alive():
            self._forget()
            self._pipe, other = _CONTEXT.Pipe()
            self._process = _CONTEXT.Process(target=_serve, args=(other,), daemon=True)
            with kept_to_this_process():
                self._process.start()
            other.close()
        return self._pipe

    def _forget(self) -> None:
        if self._pipe is not None:
            self._pipe.close()
        self._pipe = None


def _serve(pipe: Connection) -> None:
    """Do each piece of work that comes, until the other end is closed."""
    while True:
        try:
            work = pipe.recv()
        except EOFError:
            return
        try:
            pipe.send((work.run(), None))
        except LanternError as error:
            pipe.send((None, error))
