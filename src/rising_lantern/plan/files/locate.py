"""The plan's folder: files that a plan names are found inside it and nowhere else."""

from __future__ import annotations

import os
from difflib import get_close_matches
from pathlib import Path

from rising_lantern.base.opening import NotAFileError, refuse_special
from rising_lantern.errors import quoted

Stamp = tuple[int, int, int, int]
"""What identifies the state of a file: its device, inode, size and time of last change."""

_INSIDE = "name a file inside the plan's folder"
_READABLE = "change its permissions"


class FileFault(ValueError):  # noqa: N818 - a fault is what a plan has
    """A file that the plan names and that cannot be used.

    Attributes:
        problem: What is wrong.
        remedy: What would be right.
    """

    def __init__(self, problem: str, remedy: str) -> None:
        super().__init__(f"{problem}; {remedy}")
        self.problem = problem
        self.remedy = remedy


def stamp_of(path: Path) -> Stamp:
    """The state of a file.

    Raises:
        OSError: If it cannot be reached.
    """
    return stamp_from(path.stat())


def stamp_from(found: os.stat_result) -> Stamp:
    """The state of a file, from what the system says of it."""
    # The time of the last change of a file cannot be set by its owner, that of writing can.
    return found.st_dev, found.st_ino, found.st_size, found.st_ctime_ns


def locate(folder: Path, name: str) -> Path:
    """The file that a name in a plan stands for.

    Args:
        folder: The plan's folder.
        name: A path relative to it, with forward slashes.

    Raises:
        FileFault: If the name leads out of the folder, or to nothing.
    """
    if "://" in name or name.startswith(("//", "data:")):
        raise FileFault(f"{quoted(name)} is a web address", _INSIDE)
    if not name or "\0" in name or "\\" in name:
        raise FileFault(f"{quoted(name)} is not a file name", _INSIDE)
    relative = Path(name)
    if relative.is_absolute() or ".." in relative.parts:
        raise FileFault(f"{quoted(name)} is outside the plan's folder", _INSIDE)
    root = folder.resolve()
    try:
        path = (root / relative).resolve()
        if not path.is_relative_to(root):
            problem = f"{quoted(name)} is a link to a place outside the plan's folder"
            raise FileFault(problem, _INSIDE)
        refuse_special(path.stat().st_mode)
    except FileNotFoundError:
        remedy = _near(root, relative)
        raise FileFault(f"there is no file {quoted(name)} beside the plan", remedy) from None
    except NotAFileError as error:
        raise FileFault(f"{quoted(name)} is {error}", _INSIDE) from None
    except PermissionError:
        raise FileFault(f"{quoted(name)} cannot be read: permission denied", _READABLE) from None
    except (OSError, RuntimeError):
        raise FileFault(f"{quoted(name)} cannot be reached", _INSIDE) from None
    if not os.access(path, os.R_OK):
        raise FileFault(f"{quoted(name)} cannot be read: permission denied", _READABLE)
    return path


def _near(root: Path, relative: Path) -> str:
    beside = (root / relative).parent
    try:
        names = sorted(path.name for path in beside.iterdir())[:2000] if beside.is_dir() else []
    except OSError:
        names = []
    close = get_close_matches(relative.name, names, 1)
    return f"did you mean '{(relative.parent / close[0]).as_posix()}'?" if close else _INSIDE
