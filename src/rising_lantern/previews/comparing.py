"""Variants side by side: frames, a chart and a table for each page at each viewport."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any

from rising_lantern.api.plans import Plan
from rising_lantern.comparisons.comparison import compare
from rising_lantern.jobs.job import Job, run_unknown
from rising_lantern.jobs.sharing import Jobs, Progress
from rising_lantern.layout.pages import file_name
from rising_lantern.outputs.kept import KeptResults
from rising_lantern.outputs.spreadsheets import sheet_text
from rising_lantern.plan.text.fingerprints import Fingerprints
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.previews.output_folder import png_bytes

if TYPE_CHECKING:
    import pandas as pd

View = tuple[str, str]
"""A page and a viewport."""


@dataclass(frozen=True, slots=True)
class Compared:
    """Variants on a page at a viewport, as they are shown.

    Attributes:
        files: The frames, the chart and the table, by their names.
        rows: The table in words, its head first.
        in_time: Whether the variants differ in time only.
    """

    files: Mapping[str, bytes]
    rows: Sequence[Sequence[str]]
    in_time: bool


@dataclass(frozen=True, slots=True)
class CompareTask:
    """Variants of a plan on a page at a viewport, side by side.

    Attributes:
        names: The names of the variants, the plan's own first.
        others: The other variants, with all that the page needs.
        positions: The scroll positions to show, in px; None for those that tell most.
    """

    names: tuple[str, ...]
    others: tuple[PlanFile, ...]
    positions: tuple[int, ...] | None

    def run(self, plan: PlanFile, page: str, viewport: str) -> Compared:
        """Return its frames, chart and table, and what is printed of it."""
        from rising_lantern.report.charts import save  # noqa: PLC0415

        plans = dict(zip(self.names, map(Plan, (plan, *self.others)), strict=True))
        (item,) = compare(plans, page, viewport)
        chart, table = io.BytesIO(), item.table()
        save(item.chart(), chart)
        frames, contrast, figures = file_names(page, viewport)
        made = {
            frames: png_bytes(item.sheet(self.positions)),
            contrast: chart.getvalue(),
            figures: sheet_text(table.reset_index()).encode("utf-8"),
        }
        return Compared(made, list(_rows(table)), item.differs_in_time_only)

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        return f"Comparing {page} on {viewport}"


def file_names(page: str, viewport: str) -> tuple[str, str, str]:
    """The names of the files of a page at a viewport: frames, chart and table."""
    name = file_name(page, viewport)
    return f"{name}.frames.png", f"{name}.contrast.png", f"{name}.csv"


class Comparing:
    """The comparison of some variants on some views; those that a folder shows are taken over.

    Args:
        plans: The variants by their names.
        views: The pages with the viewports.
        positions: As in :class:`CompareTask`.
        folder: The folder, in which an earlier comparison may be.
    """

    def __init__(
        self,
        plans: Mapping[str, Plan],
        views: Iterable[View],
        positions: tuple[int, ...] | None,
        folder: Path,
    ) -> None:
        self._plans = {name: plan.file for name, plan in plans.items()}
        self._views = tuple(views)
        self._positions = positions
        self._kept = KeptResults(folder)
        self.made: dict[str, dict[str, Any]] = {}
        """What each view is made from, for the record of the folder."""

    def run(self, jobs: Jobs, progress: Progress | None) -> Iterator[tuple[View, Compared]]:
        """Yield each view with what is shown of it.

        Args:
            jobs: Who shares the work; see :func:`rising_lantern.check`.
            progress: Called before each view, and at the end.
        """
        prints = [Fingerprints(plan) for plan in self._plans.values()]
        asked = tuple(self._plans), self._positions
        made_from = {view: [item.of(*view, asked) for item in prints] for view in self._views}
        known = [self._earlier(*item) for item in made_from.items()]
        work = [self._job(view) for view in made_from]
        results = run_unknown(work, known, jobs, progress)
        for (view, own), result in zip(made_from.items(), results, strict=True):
            entry = {"from": own, "rows": result.rows, "in_time": result.in_time}
            self.made[_entry(view)] = entry
            yield view, result
        if progress:
            progress("Compared", len(work), len(work))

    def _job(self, view: View) -> Job[Compared]:
        first, *others = self._plans.values()
        needed = tuple(other.of_page(view[0]) for other in others)
        return Job(first, *view, CompareTask(tuple(self._plans), needed, self._positions))

    def _earlier(self, view: View, prints: list[str]) -> Compared | None:
        """A view as the folder has it, if it is made from the same."""
        entry = self._kept.recorded(_entry(view), prints)
        if entry is None:
            return None
        try:
            files = {name: self._kept.content(name) for name in file_names(*view)}
            rows = [[str(cell) for cell in row] for row in entry["rows"]]
            return Compared(files, rows, bool(entry["in_time"])) if rows else None
        except (OSError, LookupError, TypeError, ValueError):
            return None


def _entry(view: View) -> str:
    """The name of a view in the record of a folder, where a preview may be as well."""
    return f"compare {'.'.join(view)}"


def _rows(table: pd.DataFrame) -> Iterator[list[str]]:
    """A table in words, its head first; a figure that there is none of is left blank."""
    yield ["variant", *table.columns]
    for name, row in table.iterrows():
        yield [str(name), *("" if cell != cell else _figure(cell) for cell in row)]  # noqa: PLR0124


def _figure(cell: object) -> str:
    return f"{cell:.10g}" if isinstance(cell, float) else str(cell)
