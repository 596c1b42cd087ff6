"""A plan on disk that is read again whenever it, or a file that it uses, changes."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from rising_lantern.api.plans import Plan, read
from rising_lantern.errors import Fault, LanternError, PlanError

Identity = tuple[int, int]
"""What a folder is to the system: its device and its number there."""


@dataclass(frozen=True)
class LiveState:
    """What holds since the plan was last read.

    Attributes:
        revision: Counts the states.
        plan: The plan as it was when it last had no faults.
        faults: What is wrong with the file now.
        message: What prevents it from being read, if it is not its content.
    """

    revision: int
    plan: Plan
    faults: tuple[Fault, ...] = ()
    message: str = ""

    def data(self) -> dict[str, object]:
        """What the page receives."""
        faults = fault_data(self.faults)
        if self.message:
            faults.append({"place": "", "text": self.message, "remedy": ""})
        return {"revision": self.revision, "faults": faults}


def fault_data(faults: Iterable[Fault]) -> list[dict[str, str]]:
    """Faults as the page receives them."""
    return [
        {"place": str(item.place), "text": item.problem, "remedy": item.remedy} for item in faults
    ]


class WatchedPlan:
    """A plan's file, and the last state in which it could be read.

    Args:
        path: The file.
        values: Values that replace those of the file, as ``--set`` does.

    Raises:
        PlanError: If it has faults at the start.
        RequestError: If it cannot be read.
    """

    def __init__(self, path: Path, values: Mapping[str, str]) -> None:
        self.path = path
        self._values = dict(values)
        self.state = LiveState(0, read(path, self._values))

    def reload(self) -> LiveState:
        """Read it again; where that fails, the last plan stays, with what is wrong."""
        before = self.state
        number = before.revision + 1
        try:
            plan = read(self.path, self._values)
        except PlanError as error:
            self.state = LiveState(number, before.plan, tuple(error.faults))
        except LanternError as error:
            self.state = LiveState(number, before.plan, (), str(error))
        else:
            self.state = LiveState(number, plan)
        return self.state

    def folders(self) -> dict[Path, Identity]:
        """The folders in which something that the plan uses may change, each as it is now.

        One that was renamed, deleted or made again is another one at the same path.
        """
        used = {path.parent for path in self._files_in_use()}
        own = self.path.parent.resolve(), self.path.resolve().parent
        found: dict[Path, Identity] = {}
        for folder in {*own, *used}:
            with suppress(OSError):
                if folder.is_dir():
                    status = folder.stat()
                    found[folder] = status.st_dev, status.st_ino
        return found

    def concerns(self, path: Path) -> bool:
        """Whether a change of a file may change what is shown."""
        wanted = {item.name for item in self._files_in_use()} | {
            self.path.name,
            self.path.resolve().name,
        }
        # While there are faults, a picture may be what is missing.
        return path.name in wanted or bool(self.state.faults)

    def _files_in_use(self) -> set[Path]:
        """The files beside the plan that it uses."""
        files = self.state.plan.file.files
        used = {picture.path for picture in files.pictures.values()}
        used |= {font.path for font in files.fonts.values()}
        return used | ({files.tokens[0]} if files.tokens else set())
