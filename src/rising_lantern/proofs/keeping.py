"""Programs that end with this process, whatever ends it."""

from __future__ import annotations

import os
import secrets
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from importlib.resources import files

_MARK = "RISING_LANTERN_OWNER"
_PATIENCE = 10  # seconds


@dataclass(frozen=True)
class Keeper:
    """Ends the programs that were started in its environment, and what those have started.

    Attributes:
        environment: The variables to start them with.
        process: The process that ends them once its input is closed.
    """

    environment: dict[str, str]
    process: subprocess.Popen[bytes]

    def end(self) -> None:
        """End the programs now; can be called more than once, and from another thread."""
        assert self.process.stdin is not None  # noqa: S101 - it was asked for
        self.process.stdin.close()


@contextmanager
def kept() -> Iterator[Keeper]:
    """Programs that are ended at the end of a block.

    A process of its own sees to that, so that it also holds where this process is killed. It needs
    ``/proc``, and does nothing where that is not there.
    """
    mark = f"{_MARK}={secrets.token_hex(16)}"
    program = str(files(__package__).joinpath("keeper_process.py"))
    process = subprocess.Popen(  # noqa: S603 - our own program, and no shell
        [sys.executable, "-I", "-S", program, mark],
        stdin=subprocess.PIPE,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        start_new_session=True,  # a Ctrl-C of the terminal is for this process
    )
    name, _, value = mark.partition("=")
    keeper = Keeper({**os.environ, name: value}, process)
    try:
        yield keeper
    finally:
        keeper.end()
        keeper.process.wait(_PATIENCE)
