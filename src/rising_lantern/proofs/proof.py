"""The proof of an export: what every browser says of every view, as data and as files."""

from __future__ import annotations

import json
import math
from dataclasses import asdict, dataclass
from os import PathLike
from typing import TYPE_CHECKING, Any

from rising_lantern.base.arguments import path
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.proofs.proof_page import proof_page
from rising_lantern.proofs.results import ViewProof

if TYPE_CHECKING:
    import pandas as pd

PAGE, JSON = "proof.html", "proof.json"


@dataclass(frozen=True, eq=False, repr=False)
class Proof:
    """What browsers say of an export.

    Attributes:
        title: The plan's title.
        views: Each page at each viewport in each browser.
        missing: The programs that were not there, by the engine that needs them.
    """

    title: str
    views: tuple[ViewProof, ...]
    missing: dict[str, tuple[str, ...]]

    @property
    def agrees(self) -> bool:
        """Whether every browser does what was planned."""
        return all(view.agrees for view in self.views)

    def table(self) -> pd.DataFrame:
        """Return a row for each page, viewport and browser."""
        import pandas as pd  # noqa: PLC0415 - few calls need a table

        rows = [
            (
                *(view.page, view.viewport, view.engine, view.way or ""),
                *(view.positions, len(view.found)),
                *(view.shift, view.worst.difference if view.worst else math.nan),
            )
            for view in self.views
        ]
        columns = [
            "page",
            "viewport",
            "engine",
            "way",
            "positions",
            "disagreements",
            "layout_shift",
        ]
        return pd.DataFrame(rows, columns=[*columns, "picture_difference"])

    def data(self) -> dict[str, Any]:
        """The proof as plain data, pictures left out."""
        return {
            "title": self.title,
            "agrees": self.agrees,
            "missing": {name: list(programs) for name, programs in self.missing.items()},
            "views": [_plain(view) for view in self.views],
        }

    def save(self, folder: str | PathLike[str], *, force: bool = False) -> None:
        """Write ``proof.html`` and ``proof.json`` into a folder.

        Args:
            folder: The folder; it is made if it is not there.
            force: Whether to replace files that Rising Lantern did not write, or that have been
                changed since.

        Raises:
            RequestError: If the folder cannot be written, or holds a file that would be lost.
        """
        with filled_folder(path(folder), (PAGE, JSON), force=force) as scratch:
            text = json.dumps(self.data(), indent=1, ensure_ascii=False)
            (scratch / JSON).write_text(text + "\n", "utf-8")
            html = proof_page(self.title, self.views, self.missing)
            (scratch / PAGE).write_text(html, "utf-8")

    def __repr__(self) -> str:
        failing = sum(not view.agrees for view in self.views)
        return f"<Proof: {len(self.views)} views, {failing} of them disagree>"


def _plain(view: ViewProof) -> dict[str, Any]:
    found = [
        asdict(item) | {"by": item.by if math.isfinite(item.by) else None} for item in view.found
    ]
    return {
        "page": view.page,
        "viewport": view.viewport,
        "engine": view.engine,
        "way": view.way,
        "positions": view.positions,
        "disagreements": found,
        "causes": list(view.causes),
        "layout_shift": view.shift,
        "longest_task_ms": view.task_ms,
        "picture_difference": view.worst.difference if view.worst else None,
    }
