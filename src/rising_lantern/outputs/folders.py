"""Filling a folder with results: all of them, or the folder stays as it was."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import Any

from rising_lantern.errors import RequestError
from rising_lantern.outputs.access import keep_access, refused
from rising_lantern.outputs.interrupts import held_back
from rising_lantern.outputs.records import RECORD, digest_of, record_of, refuse_foreign
from rising_lantern.outputs.scratch import new_folders, remove_empty, scratch_folder


@contextmanager
def filled_folder(
    target: Path,
    names: Iterable[str] = (),
    *,
    force: bool = False,
    made: Mapping[str, Any] | None = None,
) -> Iterator[Path]:
    """An empty folder whose files move into a target when all of them have been written.

    What was written into the target before and has not changed since is replaced; other files
    stay. If anything goes wrong before the end, the target is as it was.

    Args:
        target: The folder to fill; it is made if it is not there.
        names: What is going to be written, as far as it is known: whether it may be is found out
            before the work.
        force: Whether files that are not ours, or were changed, are replaced as well.
        made: What results were made from, for the record; read when the work is done.

    Raises:
        RequestError: If the target cannot be written, or holds a file that would be lost.
    """
    if target.exists() and not target.is_dir():
        raise RequestError(f"{target} is a file; name a folder")
    _check(target, tuple(names), {}, force=force)
    try:
        with new_folders(_make_folders(target)), scratch_folder(target) as scratch:
            yield scratch
            _move_files(scratch, target, made or {}, force=force)
    except OSError as error:
        if _is_about(target, error):
            raise refused(target, error) from error
        raise


def _is_about(target: Path, error: OSError) -> bool:
    """Whether a failure is one of writing; one of reading names another file."""
    if not isinstance(error.filename, str):
        return True
    return Path(error.filename).absolute().is_relative_to(target.absolute())


def _make_folders(folder: Path) -> list[Path]:
    """Make a folder and those above it; those that were not there, the innermost first."""
    missing: list[Path] = []
    for item in (folder, *folder.parents):
        if item.exists():
            break
        missing.append(item)
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        remove_empty(missing)
        raise refused(folder, error) from None
    return missing


def _check(target: Path, names: tuple[str, ...], digests: dict[str, str], *, force: bool) -> None:
    """Refuse what stands in the way, before anything is moved."""
    root = target.resolve()
    for name in names:
        place = target / name
        inner = [
            parent for parent in place.parents if parent.is_relative_to(target) and parent != target
        ]
        for folder in inner:
            if not folder.resolve().is_relative_to(root):
                raise RequestError(f"{folder} is a link to a place outside {target}; remove it")
            if folder.exists() and not folder.is_dir():
                raise RequestError(f"{folder} is a file where a folder is needed; move it")
        if place.is_dir():
            raise RequestError(f"{place} is a folder where a file is needed; move it")
    if not force:
        refuse_foreign(record_of(target), names, digests)


def _move_files(scratch: Path, target: Path, made: Mapping[str, Any], *, force: bool) -> None:
    """Move all files of a folder into another one, or none."""
    names = tuple(
        path.relative_to(scratch).as_posix()
        for path in sorted(scratch.rglob("*"))
        if path.is_file()
    )
    digests = {name: digest_of(scratch / name) or "" for name in names}
    _check(target, names, digests, force=force)
    (scratch / RECORD).write_text(record_of(target).including(digests, made).text(), "utf-8")
    replaced = scratch.parent / "replaced"
    replaced.mkdir()
    # The record comes last: until then what is new counts as not ours.
    moves = _Moves(target, replaced)
    with held_back():
        try:
            for name in (*names, RECORD):
                moves.move(scratch / name, name)
        except OSError:
            moves.undo()
            raise


class _Moves:
    """Files that have been moved into a folder, and how to take them out again."""

    def __init__(self, target: Path, replaced: Path) -> None:
        self._target = target
        self._replaced = replaced
        self._folders: list[Path] = []
        self._moved: list[tuple[Path, Path, Path | None]] = []

    def move(self, source: Path, name: str) -> None:
        """Move a file to a name in the folder; what has that name is kept aside."""
        place = self._target / name
        self._folders = _make_folders(place.parent) + self._folders
        kept = None
        if place.exists() or place.is_symlink():
            keep_access(place, source)
            kept = self._replaced / str(len(self._moved))
            place.rename(kept)
        self._moved.append((source, place, kept))
        source.rename(place)

    def undo(self) -> None:
        """Put everything back."""
        for _, place, kept in reversed(self._moved):
            with suppress(OSError):
                if kept is not None:
                    kept.replace(place)
                else:
                    place.unlink(missing_ok=True)
        remove_empty(self._folders)
