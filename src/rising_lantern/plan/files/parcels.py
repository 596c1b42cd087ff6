"""Parcels: what is sent to another machine, with the pictures and fonts of its plan in it."""

from __future__ import annotations

import io
import pickle
from collections import Counter
from collections.abc import Container
from dataclasses import replace
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import IO, Any

from rising_lantern.plan.files.catalog import Files
from rising_lantern.plan.files.source_files import SourceFile


class MissingFileError(Exception):
    """A parcel names a file that has not come to this process yet."""


class Parcels:
    """Parcels for a number of workers: a file is in as many of them, and then only named.

    So each worker is likely to have it. One that does not says so by :class:`MissingFileError`,
    and needs the parcel whole.

    Args:
        workers: How many there are.
    """

    def __init__(self, workers: int) -> None:
        self._workers = workers
        self._sent: Counter[str] = Counter()

    def pack(self, item: object) -> bytes:
        """Something as bytes, with what is in those files that have not been sent often enough.

        Raises:
            PlanError: If a picture is not there any more.
        """
        known = {digest for digest, count in self._sent.items() if count >= self._workers}
        parcel = io.BytesIO()
        packer = _Packer(parcel, known)
        packer.dump(item)
        self._sent.update(packer.held)
        return parcel.getvalue()


def packed(item: object) -> bytes:
    """Something as bytes, with what is in the files of its plans.

    Raises:
        PlanError: If a picture is not there any more.
    """
    return Parcels(1).pack(item)


def unpacked(parcel: bytes) -> Any:
    """What was packed; its files are in a folder that this process removes at its end.

    Raises:
        MissingFileError: If one of them was only named, and has not come here before.
    """
    return _Unpacker(io.BytesIO(parcel)).load()


class _Packer(pickle.Pickler):
    """Puts what is in files into a parcel, but for those whose digests are known."""

    def __init__(self, parcel: IO[bytes], known: Container[str]) -> None:
        super().__init__(parcel, protocol=pickle.HIGHEST_PROTOCOL)
        self._known = known
        self.held: set[str] = set()

    def persistent_id(self, obj: object) -> tuple[object, ...] | None:
        """The files of a plan as what is in them; anything else as itself."""
        if not isinstance(obj, Files):
            return None
        pictures = {name: (item, self._content(item.file)) for name, item in obj.pictures.items()}
        fonts = {name: (item, self._content(item)) for name, item in obj.fonts.items()}
        return pictures, fonts

    def _content(self, file: SourceFile) -> bytes | None:
        if file.digest in self._known:
            return None
        self.held.add(file.digest)
        return file.read_bytes()


class _Unpacker(pickle.Unpickler):
    def persistent_load(self, pid: Any) -> Files:
        """The files of a plan, written into this process's own folder."""
        pictures, fonts = pid
        return Files(
            _folder(),
            {
                name: replace(item, file=_placed(item.file, data))
                for name, (item, data) in pictures.items()
            },
            {name: _placed(item, data) for name, (item, data) in fonts.items()},
        )


def _placed(file: SourceFile, data: bytes | None) -> SourceFile:
    """A file in this process's own folder."""
    path = _folder() / f"{file.digest}{file.path.suffix}"
    if not path.exists():
        if data is None:
            raise MissingFileError(file.digest)
        path.write_bytes(data)
    return SourceFile.of(path)


def _folder() -> Path:
    return Path(_scratch().name)


@cache
def _scratch() -> TemporaryDirectory[str]:
    return TemporaryDirectory(prefix="rising-lantern-")
