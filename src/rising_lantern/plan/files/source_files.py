"""Files that were read: known again by their state on the disk, or by what is in them."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from functools import lru_cache
from pathlib import Path
from typing import IO

from rising_lantern.base.opening import NotAFileError, opened_file
from rising_lantern.errors import Fault, Place, PlanError
from rising_lantern.plan.files.locate import Stamp, stamp_from, stamp_of


@dataclass(frozen=True, slots=True)
class SourceFile:
    """A file as it was when the plan was read.

    Attributes:
        path: Where it is.
        stamp: Its state then. Another state can have the same content: a link was made to the
            file, or its times were set.
        digest: The SHA-256 of its content, in hex.
    """

    path: Path
    stamp: Stamp
    digest: str

    @classmethod
    def of(cls, path: Path) -> SourceFile:
        """The file at a path.

        Raises:
            NotAFileError: If it is a folder, pipe, device or socket.
            OSError: If it cannot be read.
        """
        return _read_source(path, stamp_of(path))

    @property
    def size(self) -> int:
        """Its size in bytes."""
        return self.stamp[2]

    @contextmanager
    def opened(self) -> Iterator[IO[bytes]]:
        """The file, open for reading.

        Raises:
            PlanError: If something else is there by now, or nothing that can be read.
        """
        with ExitStack() as held:
            try:
                opened = held.enter_context(opened_file(self.path))
                same = stamp_from(os.fstat(opened.fileno())) == self.stamp
                if not same and hashlib.file_digest(opened, "sha256").hexdigest() != self.digest:
                    raise self.fault("the file has changed since the plan was read")
                opened.seek(0)
            except NotAFileError as error:
                raise self.fault(f"the file is now {error}") from None
            except FileNotFoundError:
                raise self.fault("the file no longer exists") from None
            except OSError:
                raise self.fault("the file can no longer be read") from None
            yield opened

    def read_bytes(self) -> bytes:
        """What is in it.

        Raises:
            PlanError: As by :meth:`opened`.
        """
        with self.opened() as opened:
            return opened.read()

    def fault(
        self, problem: str, remedy: str = "run this again, and leave the file alone meanwhile"
    ) -> PlanError:
        """The error for something that is wrong with the file."""
        return PlanError([Fault(Place(str(self.path)), problem, remedy)])


@lru_cache(maxsize=2048)
def _read_source(path: Path, stamp: Stamp) -> SourceFile:
    """A file, its content read once for each state of it."""
    del stamp  # another state of the file is read again
    with opened_file(path) as opened:
        digest = hashlib.file_digest(opened, "sha256").hexdigest()
        return SourceFile(path, stamp_from(os.fstat(opened.fileno())), digest)
