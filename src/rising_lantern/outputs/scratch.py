"""Folders in which results are made before they are put in place.

They stand where the results will, so that moving them is one step of the file system, and are
locked while their process lives: so what a killed process has left is known from what another
process is using.
"""

from __future__ import annotations

import os
import shutil
import time
from collections.abc import Iterable, Iterator, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import IO

try:
    import fcntl
except ImportError:  # where files are locked in another way, what was left stays
    fcntl = None  # type: ignore[assignment]

PREFIX = ".rising-lantern-"
_LOCK = "lock"
_STARTING = 60  # seconds within which another process may not have locked its folder yet

_in_use: set[Path] = set()
_new: list[Path] = []  # folders that were made for results, the innermost first


@contextmanager
def scratch_folder(parent: Path) -> Iterator[Path]:
    """An empty folder inside another one, gone at the end.

    What killed processes have left in the same place is removed first.

    Raises:
        OSError: If it cannot be made.
    """
    _remove_abandoned(parent)
    outer = parent / f"{PREFIX}{os.urandom(8).hex()}"
    try:
        # Known before it is there, so that no signal can come in between.
        _in_use.add(outer)
        outer.mkdir(mode=0o700)
        with (outer / _LOCK).open("w") as lock:
            with suppress(OSError):
                _lock(lock)
            inner = outer / "made"
            inner.mkdir()
            yield inner
    finally:
        shutil.rmtree(outer, ignore_errors=True)
        _in_use.discard(outer)


@contextmanager
def new_folders(folders: Sequence[Path]) -> Iterator[None]:
    """Folders that were made for results, the innermost first; gone if nothing comes of it."""
    _new[:0] = folders
    try:
        yield
    except BaseException:
        remove_empty(folders)
        raise
    finally:
        for folder in folders:
            _new.remove(folder)


def remove_all() -> None:
    """Remove the folders of this process, where it ends without leaving their contexts."""
    for outer in tuple(_in_use):
        shutil.rmtree(outer, ignore_errors=True)
    remove_empty(tuple(_new))


def remove_empty(folders: Iterable[Path]) -> None:
    """Remove those of some folders that are empty."""
    for folder in folders:
        with suppress(OSError):
            folder.rmdir()


def _remove_abandoned(parent: Path) -> None:
    for outer in parent.glob(f"{PREFIX}*"):
        if outer.is_symlink() or not outer.is_dir() or outer in _in_use:
            continue
        with suppress(OSError), _open_lock(outer) as lock:
            _lock(lock)
            shutil.rmtree(outer, ignore_errors=True)


@contextmanager
def _open_lock(outer: Path) -> Iterator[IO[str]]:
    """The lock of a folder; of one without a lock, that was killed between the two, a new one.

    Raises:
        BlockingIOError: Where its process may be about to lock it.
    """
    path = outer / _LOCK
    if not path.exists() and time.time() - outer.stat().st_mtime < _STARTING:
        raise BlockingIOError
    with path.open("a") as lock:
        yield lock


def _lock(opened: IO[str]) -> None:
    """Lock an open file for as long as it is open.

    Raises:
        OSError: If another process has locked it.
    """
    if fcntl is None:
        raise BlockingIOError
    fcntl.flock(opened, fcntl.LOCK_EX | fcntl.LOCK_NB)
