"""Writing one file: whole, through links, with its mode, owner and hard links kept."""

from __future__ import annotations

import errno
import os
import re
import shutil
import stat
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from pathlib import Path

from rising_lantern.errors import RequestError
from rising_lantern.outputs.access import keep_access, refused
from rising_lantern.outputs.interrupts import held_back
from rising_lantern.outputs.records import RECORD, digest_of, record_of, refuse_foreign
from rising_lantern.outputs.scratch import scratch_folder

_DESCRIPTORS = re.compile(r"/proc/\d+/(task/\d+/)?fd|/dev/fd")
_MOST_LINKS = 40


@contextmanager
def whole_file(target: Path, *, force: bool = False, is_own: bool = False) -> Iterator[Path]:
    """A file to write, with the target's ending, that takes its place when it is complete.

    For a link, what the link points to is written. A file with several names keeps them; pipes and
    devices are written to.

    Args:
        target: The file to write; folders above it are made.
        force: Whether a file that is not ours, or was changed since it was written, is replaced.
        is_own: Whether the user wants to change a file of theirs: it is neither refused nor
            recorded.

    Raises:
        RequestError: If the target cannot be written, or would be lost.
    """
    try:
        if target.is_dir():
            raise RequestError(f"{target} is a folder; name a file to write")
        if _is_special(target):
            with _copy_to(target) as scratch:
                yield scratch
            return
        place = target.resolve()
        if not (force or is_own):
            refuse_foreign(record_of(place.parent), [place.name])
        place.parent.mkdir(parents=True, exist_ok=True)
        if place.exists() and not _is_writable(place):
            raise PermissionError(errno.EACCES, "it is read-only")
        if not place.exists() and not os.access(place.parent, os.W_OK):
            raise PermissionError(errno.EACCES, "permission denied")
        with _made(place) as scratch:
            yield scratch
            digests = {place.name: digest_of(scratch) or ""}
            if not (force or is_own):
                refuse_foreign(record_of(place.parent), digests, digests)
            record = None if is_own else record_of(place.parent).including(digests, {}).text()
            with held_back():
                _put(scratch, place)
                if record is not None:
                    _keep(record, place.parent / RECORD)
    except OSError as error:
        raise refused(target, error) from error


def _is_special(target: Path) -> bool:
    """Whether writing means to write to it, not to replace it: a pipe, a device, a descriptor."""
    try:
        return not stat.S_ISREG(target.stat().st_mode) or _is_descriptor(target)
    except FileNotFoundError:
        return False


def _is_descriptor(target: Path) -> bool:
    """Whether a path is an open descriptor, such as standard output, by itself or by links.

    What that leads to may be a file, which whoever opened it wants to be written on.
    """
    for _ in range(_MOST_LINKS):
        if _DESCRIPTORS.fullmatch(os.path.realpath(target.parent)):
            return True
        if not target.is_symlink():
            return False
        target = target.parent / target.readlink()
    return False


def _is_writable(place: Path) -> bool:
    # An administrator may write anything; a file that nobody may write is meant to stay.
    return os.access(place, os.W_OK) and bool(place.stat().st_mode & 0o222)


@contextmanager
def _copy_to(target: Path) -> Iterator[Path]:
    with tempfile.TemporaryDirectory() as folder:
        scratch = Path(folder) / f"made{target.suffix}"
        yield scratch
        # A file behind a descriptor holds what was written to it before.
        mode = "ab" if target.is_file() else "wb"
        with scratch.open("rb") as source, target.open(mode, buffering=0) as sink:
            shutil.copyfileobj(source, sink)


@contextmanager
def _made(place: Path) -> Iterator[Path]:
    """A scratch file beside a place; elsewhere where only the file itself may be written."""
    if os.access(place.parent, os.W_OK):
        with scratch_folder(place.parent) as folder:
            yield folder / f"made{place.suffix}"
    else:
        with tempfile.TemporaryDirectory() as name:
            yield Path(name) / f"made{place.suffix}"


def _put(scratch: Path, place: Path) -> None:
    linked = place.exists() and place.stat().st_nlink > 1
    if linked or not os.access(place.parent, os.W_OK):
        _overwrite(place, scratch)
        return
    keep_access(place, scratch)
    scratch.replace(place)


def _overwrite(place: Path, scratch: Path) -> None:
    """Give a file other contents in place; where that fails it gets its own again."""
    before, after = place.read_bytes(), scratch.read_bytes()
    with place.open("r+b", buffering=0) as opened:
        try:
            _fill(opened.fileno(), after)
        except OSError:
            _fill(opened.fileno(), before)
            raise


def _fill(descriptor: int, data: bytes) -> None:
    os.lseek(descriptor, 0, os.SEEK_SET)
    left = memoryview(data)
    while left:
        left = left[os.write(descriptor, left) :]
    os.ftruncate(descriptor, len(data))


def _keep(record: str, path: Path) -> None:
    """Write a record beside a file. Where that cannot be, the file itself is what matters."""
    with suppress(OSError), scratch_folder(path.parent) as folder:
        result = folder / RECORD
        result.write_text(record, "utf-8")
        keep_access(path, result)
        result.replace(path)
