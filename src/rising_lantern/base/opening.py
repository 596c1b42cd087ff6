"""Opening files that strangers name: regular files only, and without waiting for anybody."""

from __future__ import annotations

import io
import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

_KINDS = (
    (stat.S_ISDIR, "a folder"),
    (stat.S_ISFIFO, "a pipe"),
    (stat.S_ISCHR, "a device"),
    (stat.S_ISBLK, "a device"),
    (stat.S_ISSOCK, "a socket"),
)
# A pipe that nobody writes to would be waited for.
_FLAGS = os.O_RDONLY | getattr(os, "O_NONBLOCK", 0) | getattr(os, "O_BINARY", 0)


class NotAFileError(OSError):
    """What was to be read is something else than a file; the message says what."""


@contextmanager
def opened_file(path: Path) -> Iterator[io.BufferedReader]:
    """A regular file, open for reading.

    Raises:
        NotAFileError: If it is a folder, pipe, device or socket.
        OSError: If it cannot be opened.
    """
    descriptor = os.open(path, _FLAGS)
    try:
        refuse_special(os.fstat(descriptor).st_mode)
    except OSError:
        os.close(descriptor)
        raise
    with os.fdopen(descriptor, "rb") as opened:
        yield opened


def refuse_special(mode: int) -> None:
    """Refuse what is not a regular file, by its mode.

    Raises:
        NotAFileError: If it is something else.
    """
    for is_kind, name in _KINDS:
        if is_kind(mode):
            raise NotAFileError(name)
