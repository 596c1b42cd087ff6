"""Writing results: they appear whole or not at all, and never outside the folder asked for."""

from __future__ import annotations

import os
import shutil
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
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

    Raises:
        RequestError: Where the target cannot be written.
    """
    if target.is_dir():
        raise RequestError(f"{target} is a folder; name a file to write")
    parent = target.resolve().parent
    try:
        parent.mkdir(parents=True, exist_ok=True)
        handle, name = tempfile.mkstemp(prefix=".", suffix=target.suffix, dir=parent)
        os.close(handle)
    except OSError as error:
        raise _refused(target, error) from None
    scratch = Path(name)
    try:
        yield scratch
        scratch.chmod(0o644)
        scratch.replace(target)
    except OSError as error:
        raise _refused(target, error) from None
    finally:
        scratch.unlink(missing_ok=True)


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
