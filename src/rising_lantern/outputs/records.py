"""The record of what was written into a folder, by which a file is known as ours and unchanged."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

from rising_lantern.errors import RequestError

RECORD = ".rising-lantern.json"
_MOST_BYTES = 16_000_000
_ABOUT = (
    "Files that Rising Lantern wrote here, with their SHA-256. One that has another digest by now "
    "was changed by someone, and is not replaced without --force."
)


@dataclass(frozen=True, slots=True)
class Record:
    """What was written into a folder.

    Attributes:
        folder: The folder.
        digests: The SHA-256 of each file as it was written, by its name: its path inside the
            folder, with forward slashes.
        made: What results of several files were made from, by their names; as it was read, which
            may be anything.
    """

    folder: Path
    digests: Mapping[str, str]
    made: Mapping[str, Any] = field(default_factory=dict)

    def including(self, digests: Mapping[str, str], made: Mapping[str, Any]) -> Record:
        """The record with some more files and results, or others of the same names."""
        return Record(self.folder, {**self.digests, **digests}, {**self.made, **made})

    def text(self) -> str:
        """The record as it is kept in its file."""
        files = dict(sorted(self.digests.items()))
        data = {"about": _ABOUT, "files": files} | ({"made": self.made} if self.made else {})
        return json.dumps(data, indent=1) + "\n"

    def is_unchanged(self, name: str) -> bool:
        """Whether a file of the folder is one that was written here, and has not changed since."""
        known = self.digests.get(name)
        path = self.folder / name
        return known is not None and not path.is_symlink() and known == digest_of(path)


def record_of(folder: Path) -> Record:
    """The record of a folder: an empty one where there is none, or none that can be read."""
    path = folder / RECORD
    data: object = None
    with suppress(OSError, ValueError, RecursionError):
        if path.is_file() and path.stat().st_size <= _MOST_BYTES:
            data = json.loads(path.read_bytes())
    files, made = (data.get("files"), data.get("made")) if isinstance(data, dict) else (None, None)
    known = files if isinstance(files, dict) else {}
    digests = {name: digest for name, digest in known.items() if isinstance(digest, str)}
    return Record(folder, digests, made if isinstance(made, dict) else {})


def digest_of(path: Path) -> str | None:
    """The SHA-256 of a file; None where there is none to read."""
    try:
        if not path.is_file():
            return None
        with path.open("rb") as opened:
            return hashlib.file_digest(opened, "sha256").hexdigest()
    except OSError:
        return None


def refuse_foreign(
    record: Record, names: Iterable[str], made: Mapping[str, str] | None = None
) -> None:
    """Refuse to replace files that were not written here, or that were changed since.

    Args:
        record: What was written into the folder.
        names: The names of the files that are to be written into it.
        made: Their digests, as far as they are known: identical files are not a loss.

    Raises:
        RequestError: If there is such a file; it says which, and what can be done.
    """
    foreign = [
        name
        for name in names
        if _is_there(record.folder / name)
        and not record.is_unchanged(name)
        and not (made and made.get(name) == digest_of(record.folder / name))
    ]
    if not foreign:
        return
    first = foreign[0]
    why = (
        "has changed since Rising Lantern wrote it"
        if first in record.digests
        else "was not written by Rising Lantern"
    )
    more = f" (and so on for {len(foreign) - 1} more)" if foreign[1:] else ""
    raise RequestError(
        f"{record.folder / first} {why}{more}; "
        "move it, choose another output, or add --force to replace it"
    )


def _is_there(path: Path) -> bool:
    return path.exists() or path.is_symlink()
