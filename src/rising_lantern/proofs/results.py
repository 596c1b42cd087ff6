"""What browsers say of an export, as data and as files."""

from __future__ import annotations

import math
from dataclasses import asdict, dataclass, field
from typing import TYPE_CHECKING, Any

from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.headers import Going
from rising_lantern.proofs.comparing import Disagreement

if TYPE_CHECKING:
    import pandas as pd


@dataclass(frozen=True, eq=False)
class Pair:
    """A picture of a browser beside the frame that was predicted.

    Attributes:
        scroll: The scroll position in px.
        going: The way the reader came.
        difference: The mean difference of their pixels, of 255.
        shot: The browser's picture.
        frame: The predicted frame.
    """

    scroll: float
    going: Going
    difference: float
    shot: Bytes = field(repr=False)
    frame: Bytes = field(repr=False)


@dataclass(frozen=True, eq=False)
class ViewProof:
    """What a browser says of a page at a viewport.

    Attributes:
        page: The page's name.
        viewport: The viewport's name.
        engine: The browser, with its version.
        positions: How many positions were compared, down and up.
        found: What disagrees, each thing where it is worst.
        causes: What may be the cause of it.
        shift: The layout shift of the page over the whole scroll, the parts of its header left
            out; None where the browser does not count it.
        task_ms: The longest task over the whole scroll, in ms; 0 for none above 50 ms.
        worst: The pair of pictures that differ most; None where none were compared.
    """

    page: str
    viewport: str
    engine: str
    positions: int
    found: tuple[Disagreement, ...]
    causes: tuple[str, ...]
    shift: float | None
    task_ms: float
    worst: Pair | None

    @property
    def agrees(self) -> bool:
        """Whether nothing disagrees."""
        return not self.found


@dataclass(frozen=True, eq=False)
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
                *(view.page, view.viewport, view.engine, view.positions, len(view.found)),
                *(view.shift, view.worst.difference if view.worst else math.nan),
            )
            for view in self.views
        ]
        columns = ["page", "viewport", "engine", "positions", "disagreements", "layout_shift"]
        return pd.DataFrame(rows, columns=[*columns, "picture_difference"])

    def data(self) -> dict[str, Any]:
        """The proof as plain data, pictures left out."""
        return {
            "title": self.title,
            "agrees": self.agrees,
            "missing": {name: list(programs) for name, programs in self.missing.items()},
            "views": [_plain(view) for view in self.views],
        }


def _plain(view: ViewProof) -> dict[str, Any]:
    found = [
        asdict(item) | {"by": item.by if math.isfinite(item.by) else None} for item in view.found
    ]
    return {
        "page": view.page,
        "viewport": view.viewport,
        "engine": view.engine,
        "positions": view.positions,
        "disagreements": found,
        "causes": list(view.causes),
        "layout_shift": view.shift,
        "longest_task_ms": view.task_ms,
        "picture_difference": view.worst.difference if view.worst else None,
    }
