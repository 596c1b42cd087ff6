"""Parcels: what is sent to another machine, with the pictures and fonts of its plan in it."""

from __future__ import annotations

import hashlib
import io
import pickle
from dataclasses import replace
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from rising_lantern.plan.files.catalog import Files
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.files.source_files import SourceFile


def packed(item: object) -> bytes:
    """Something as bytes, with what is in the files of its plans.

    Raises:
        PlanError: If a picture is not there any more.
    """
    parcel = io.BytesIO()
    _Packer(parcel, protocol=pickle.HIGHEST_PROTOCOL).dump(item)
    return parcel.getvalue()


def unpacked(parcel: bytes) -> Any:
    """What was packed; its files are in a folder that this process removes at its end."""
    return _Unpacker(io.BytesIO(parcel)).load()


class _Packer(pickle.Pickler):
    def persistent_id(self, obj: object) -> tuple[object, ...] | None:
        """The files of a plan as what is in them; anything else as itself."""
        if not isinstance(obj, Files):
            return None
        pictures = {name: (picture, _held(picture)) for name, picture in obj.pictures.items()}
        fonts = {name: (font.path.suffix, font.read_bytes()) for name, font in obj.fonts.items()}
        return pictures, fonts


class _Unpacker(pickle.Unpickler):
    def persistent_load(self, pid: Any) -> Files:
        """The files of a plan, written into this process's own folder."""
        pictures, fonts = pid
        return Files(
            _folder(),
            {name: _placed(picture, data) for name, (picture, data) in pictures.items()},
            {
                name: SourceFile.of(_write_file(suffix, data))
                for name, (suffix, data) in fonts.items()
            },
        )


def _held(picture: Picture) -> bytes:
    with picture.opened() as file:
        return file.read()


def _placed(picture: Picture, data: bytes) -> Picture:
    return replace(picture, file=SourceFile.of(_write_file(picture.path.suffix, data)))


def _write_file(suffix: str, data: bytes) -> Path:
    path = _folder() / f"{hashlib.sha256(data).hexdigest()}{suffix}"
    if not path.exists():
        path.write_bytes(data)
    return path


def _folder() -> Path:
    return Path(_scratch().name)


@cache
def _scratch() -> TemporaryDirectory[str]:
    return TemporaryDirectory(prefix="rising-lantern-")
