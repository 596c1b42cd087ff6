"""What commands draw of one view, which another process can do."""

from __future__ import annotations

import io
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING, Any

from rising_lantern.api import Plan
from rising_lantern.comparison import compare
from rising_lantern.layout.pages import file_name

if TYPE_CHECKING:
    import pandas as pd

    from rising_lantern.report.charts import Form as ChartForm
    from rising_lantern.report.preview import Play


@dataclass(frozen=True, slots=True)
class ViewDrawing:
    """What a preview shows of one page at one viewport.

    Attributes:
        plan: The plan; another process is given this page of it only.
        page: The page's name.
        viewport: The viewport's name.
        plays: The gestures that are shown as moving pictures.
        chart: The form of the scroll chart.
        findings: Whether the chart marks what is wrong.
    """

    plan: Plan
    page: str
    viewport: str
    plays: tuple[Play, ...] = ()
    chart: ChartForm = "png"
    findings: bool = False

    def files(self) -> dict[str, bytes]:
        """Its filmstrip, chart and moving pictures, by their names in the preview's folder."""
        from rising_lantern.report.charts import draw, save  # noqa: PLC0415
        from rising_lantern.report.preview import (  # noqa: PLC0415
            CHARTS,
            PLAYS,
            STRIPS,
            strip_bytes,
        )

        view = self.plan.view(self.page, self.viewport)
        name, chart = file_name(self.page, self.viewport), io.BytesIO()
        save(draw(view.charted(view.check() if self.findings else ())), chart, self.chart)
        made = {
            f"{STRIPS}/{name}.png": strip_bytes(view.plan, view.previewed()),
            f"{CHARTS}/{name}.{self.chart}": chart.getvalue(),
        }
        for play in self.plays:
            with TemporaryDirectory() as folder:
                path = Path(folder) / f"play.{play.form}"
                view.animation(play.gesture, path, play.form)
                made[f"{PLAYS}/{play.file(name)}"] = path.read_bytes()
        return made

    def words(self) -> str:
        """What is being done with it."""
        return f"Drawing {self.page} on {self.viewport}"

    def __reduce__(self) -> tuple[type[ViewDrawing], tuple[Any, ...]]:
        plan = Plan(self.plan.file.of_page(self.page))
        asked = self.plays, self.chart, self.findings
        return ViewDrawing, (plan, self.page, self.viewport, *asked)


@dataclass(frozen=True, slots=True)
class ComparisonDrawing:
    """Variants of a plan on one page at one viewport, side by side.

    Attributes:
        plans: The plans by their names; another process is given this page of them only.
        page: The page's name.
        viewport: The viewport's name.
        positions: The scroll positions to show, in px; None for those that tell most.
    """

    plans: tuple[tuple[str, Plan], ...]
    page: str
    viewport: str
    positions: tuple[int, ...] | None

    def files(self) -> tuple[dict[str, bytes], pd.DataFrame]:
        """Its frames, chart and table, by the names of their files; and the table itself."""
        from rising_lantern.report.charts import save  # noqa: PLC0415

        (item,) = compare(dict(self.plans), self.page, self.viewport)
        frames, chart, table = io.BytesIO(), io.BytesIO(), item.table()
        item.sheet(self.positions).save(frames, "png", compress_level=4)
        save(item.chart(), chart)
        name = file_name(self.page, self.viewport)
        made = {
            f"{name}.frames.png": frames.getvalue(),
            f"{name}.contrast.png": chart.getvalue(),
            f"{name}.csv": table.to_csv().encode("utf-8"),
        }
        return made, table

    def words(self) -> str:
        """What is being done with it."""
        return f"Comparing {self.page} on {self.viewport}"

    def __reduce__(self) -> tuple[type[ComparisonDrawing], tuple[Any, ...]]:
        plans = tuple((name, Plan(plan.file.of_page(self.page))) for name, plan in self.plans)
        return ComparisonDrawing, (plans, self.page, self.viewport, self.positions)
