"""Results that an earlier run left in a folder, taken over where they are made from the same."""

from __future__ import annotations

from collections.abc import Mapping
from functools import cached_property
from pathlib import Path
from typing import Any

from rising_lantern.outputs.records import Record, record_of

_MOST_BYTES = 300_000_000


class KeptResults:
    """What the record of a folder says of results, and the files that belong to them.

    Whatever is wrong with the record or a file costs time only: the result is made again.

    Args:
        folder: The folder; None for no results.
    """

    def __init__(self, folder: Path | None) -> None:
        self._folder = folder

    def recorded(self, name: str, fingerprint: object) -> Mapping[str, Any] | None:
        """What is recorded of a result, if it was made from the same; as it was read.

        Args:
            name: The result's name.
            fingerprint: What it is made from.
        """
        made = self._record.made.get(name)
        is_same = isinstance(made, Mapping) and made.get("from") == fingerprint
        return made if is_same else None

    def content(self, name: object) -> bytes:
        """A file of the folder that is as it was written.

        Raises:
            ValueError: If it is not.
            OSError: If it cannot be read.
        """
        if not isinstance(name, str) or not self._record.is_unchanged(name):
            raise ValueError(name)
        path = self._record.folder / name
        if path.stat().st_size > _MOST_BYTES:
            raise ValueError(name)
        return path.read_bytes()

    def content_of(self, digest: object) -> bytes:
        """A file of the folder by its SHA-256, whatever its name is.

        Raises:
            ValueError: If there is none.
            OSError: If it cannot be read.
        """
        if not isinstance(digest, str):
            raise ValueError(digest)  # noqa: TRY004 - what is wrong with a record is one thing
        return self.content(self._names.get(digest))

    @cached_property
    def _record(self) -> Record:
        return Record(Path(), {}) if self._folder is None else record_of(self._folder)

    @cached_property
    def _names(self) -> dict[str, str]:
        """The names of the files by their digests."""
        return {digest: name for name, digest in self._record.digests.items()}
