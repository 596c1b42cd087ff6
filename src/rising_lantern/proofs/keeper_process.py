"""The program that ends browsers whose owner has ended, whatever has ended that.

It is run without the rest of the library, and waits until its input is closed: by whoever started
it, or by the system once that process is no more. Then it ends all processes in whose environment
a mark stands, which is its argument.
"""

from __future__ import annotations

import os
import signal
import sys
import time
from collections.abc import Iterator
from pathlib import Path

_PATIENCE = 5.0  # seconds


def main(mark: str) -> None:
    """Wait, and end what is marked."""
    sys.stdin.buffer.read()
    deadline = time.monotonic() + _PATIENCE
    while time.monotonic() < deadline:
        found = list(_marked_processes(mark.encode()))
        if not found:
            return
        for pid in found:
            try:
                os.kill(pid, signal.SIGKILL)
            except OSError:
                continue  # it has ended by itself
        time.sleep(0.1)


def _marked_processes(mark: bytes) -> Iterator[int]:
    for path in Path("/proc").glob("[0-9]*"):
        try:
            environment = (path / "environ").read_bytes()
        except OSError:
            continue  # it has ended, or is somebody else's
        if mark in environment:
            yield int(path.name)


if __name__ == "__main__":
    main(sys.argv[1])
