"""Modes and owners of files that are replaced, and the message where one cannot be written."""

from __future__ import annotations

import os
import stat
from contextlib import suppress
from pathlib import Path

from rising_lantern.errors import RequestError


def keep_access(place: Path, source: Path) -> None:
    """Give a file the mode and, where that is allowed, the owner of the one at some place.

    Where there is none, it gets those of a new file.
    """
    try:
        known = place.stat()
    except OSError:
        masked = os.umask(0)
        os.umask(masked)
        source.chmod(0o666 & ~masked)
        return
    source.chmod(stat.S_IMODE(known.st_mode))
    with suppress(PermissionError):
        os.chown(source, known.st_uid, known.st_gid)


def refused(target: Path, error: OSError) -> RequestError:
    """The message for a place that cannot be written."""
    reason = (error.strerror or "the disk may be full").lower()
    return RequestError(f"{target} cannot be written: {reason}")
