"""The pictures of one view in a preview, which another process can draw."""

from __future__ import annotations

import io
from dataclasses import dataclass
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING, Any

from rising_lantern.api import Plan
from rising_lantern.layout.pages import file_name

if TYPE_CHECKING:
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

    def __reduce__(self) -> tuple[type[ViewDrawing], tuple[Any, ...]]:
        plan = Plan(self.plan.file.of_page(self.page))
        asked = self.plays, self.chart, self.findings
        return ViewDrawing, (plan, self.page, self.viewport, *asked)
