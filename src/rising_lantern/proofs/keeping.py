"""Programs that end with this process, whatever ends it."""

from __future__ import annotations

import os
import secrets
import subprocess
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files

_MARK = "RISING_LANTERN_OWNER"
_PATIENCE = 10  # seconds


@contextmanager
def kept() -> Iterator[dict[str, str]]:
    """An environment for programs: they and what they start are ended at the end of the block.

    A process of its own sees to that, so that it also holds where this process is killed. It needs
    ``/proc``, and does nothing where that is not there.
    """
    mark = f"{_MARK}={secrets.token_hex(16)}"
    program = str(files(__package__).joinpath("keeper_process.py"))
    keeper = subprocess.Popen(  # noqa: S603 - our own program, and no shell
        [sys.executable, "-I", "-S", program, mark],
        stdin=subprocess.PIPE,
        stdout=subprocess.DEVNULL,
        stderr=subprocess.DEVNULL,
        start_new_session=True,  # a Ctrl-C of the terminal is for this process
    )
    try:
        name, _, value = mark.partition("=")
        yield {**os.environ, name: value}
    finally:
        assert keeper.stdin is not None  # noqa: S101 - it was asked for
        keeper.stdin.close()
        keeper.wait(_PATIENCE)
