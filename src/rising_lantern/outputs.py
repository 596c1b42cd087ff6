"""Writing results: they appear whole or not at all, and never outside the folder asked for."""

from __future__ import annotations

import errno
import os
import shutil
import stat
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from rising_lantern.errors import RequestError


@contextmanager
def filled_folder(target: Path) -> Iterator[Path]:
    """A scratch folder whose files move into a target when all of them have been written.

    Files of the same names are replaced; others in the target stay. If anything goes wrong
    before the end, the target is as it was.

    Raises:
        RequestError: Where the target cannot be written.
    """
    parent = target.resolve().parent
    try:
        parent.mkdir(parents=True, exist_ok=True)
        scratch = Path(tempfile.mkdtemp(prefix=f".{target.name}-", dir=parent))
    except OSError as error:
        raise _refused(target, error) from None
    try:
        yield scratch
        _move(scratch, target)
    finally:
        shutil.rmtree(scratch, ignore_errors=True)


@contextmanager
def whole_file(target: Path) -> Iterator[Path]:
    """A scratch file, with the target's ending, that replaces the target when it is complete.

    Of a link it is what the link leads to; the mode and, where that is allowed, the owner stay.

    Raises:
        RequestError: Where the target cannot be written.
    """
    if target.is_dir():
        raise RequestError(f"{target} is a folder; name a file to write")
    place = target.resolve()
    parent = place.parent
    try:
        parent.mkdir(parents=True, exist_ok=True)
        if place.exists() and not os.access(place, os.W_OK):
            raise PermissionError(errno.EACCES, "it is read-only")
        handle, name = tempfile.mkstemp(prefix=".", suffix=target.suffix, dir=parent)
        os.close(handle)
    except OSError as error:
        raise _refused(target, error) from None
    scratch = Path(name)
    try:
        yield scratch
        _keep_access(place, scratch)
        scratch.replace(place)
    except OSError as error:
        raise _refused(target, error) from None
    finally:
        scratch.unlink(missing_ok=True)


def _keep_access(place: Path, scratch: Path) -> None:
    """Give a file the mode and the owner of another one, or those of a new file."""
    try:
        known = place.stat()
    except FileNotFoundError:
        masked = os.umask(0)
        os.umask(masked)
        scratch.chmod(0o666 & ~masked)
        return
    scratch.chmod(stat.S_IMODE(known.st_mode))
    with suppress(PermissionError):
        os.chown(scratch, known.st_uid, known.st_gid)


def _move(scratch: Path, target: Path) -> None:
    try:
        for path in sorted(scratch.rglob("*")):
            place = target / path.relative_to(scratch)
            if path.is_dir():
                place.mkdir(parents=True, exist_ok=True)
            else:
                place.parent.mkdir(parents=True, exist_ok=True)
                path.replace(place)
    except OSError as error:
        raise _refused(target, error) from None


def _refused(target: Path, error: OSError) -> RequestError:
    reason = (error.strerror or "it cannot be written").lower()
    return RequestError(f"{target} cannot be written: {reason}")
