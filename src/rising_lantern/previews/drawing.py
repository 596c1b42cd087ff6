"""What commands draw of one view, which another process can do."""

from __future__ import annotations

import io
from collections import Counter
from dataclasses import dataclass, field
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import TYPE_CHECKING

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import Level
from rising_lantern.layout.pages import file_name
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.previews.output_folder import CHARTS, HEADERS, PLAYS, STRIPS, Play, png_bytes
from rising_lantern.previews.view_data import ViewData, slides_data

if TYPE_CHECKING:
    from rising_lantern.report.charts import Form as ChartForm


@dataclass(frozen=True)
class Drawing:
    """What has been drawn of one page at one viewport.

    Attributes:
        files: Filmstrip, chart, header strip and moving pictures, by their names in the folder.
        data: What the preview page shows of it, once with each picture of its slides.
        counts: How many findings of each level there are, those that are silenced left out.
    """

    files: dict[str, bytes] = field(repr=False)
    data: list[ViewData] = field(repr=False)
    counts: Counter[Level]


@dataclass(frozen=True, slots=True)
class DrawTask:
    """What a preview shows of a page at a viewport.

    Attributes:
        plays: The gestures that are shown as moving pictures.
        chart: The form of the scroll chart.
        findings: Whether the chart marks what is wrong.
        positions: The scroll positions that the filmstrip shows; None for those that tell most.
        second: The time at which filmstrip and header show slides that run and videos; None where
            they stand.
    """

    plays: tuple[Play, ...] = ()
    chart: ChartForm = "png"
    findings: bool = False
    positions: tuple[int, ...] | None = None
    second: float | None = None

    def run(self, plan: PlanFile, page: str, viewport: str) -> Drawing:
        """Return all of it."""
        from rising_lantern.report.charts import chart_of, draw, save  # noqa: PLC0415
        from rising_lantern.report.header_strip import header_shots, header_strip_of  # noqa: PLC0415
        from rising_lantern.report.previewed import filmstrip_of, previewed  # noqa: PLC0415

        view = Plan(plan).view(page, viewport)
        found = view.check(silenced=True)
        open_ones = [finding for finding in found if finding.silenced is None]
        name, chart = file_name(page, viewport), io.BytesIO()
        positions = _within(self.positions, view.max_scroll)
        data, drawn = slides_data(
            view.scene, found, positions, {play.name: play.gesture for play in self.plays}
        )
        measured = drawn.positions, drawn.curves
        strip, close_ups = drawn.shown, drawn.close_ups
        if self.second is not None:
            timed = view.showing(second=self.second).scene
            at = [shot.stop.scroll_px for shot in strip.shots]
            strip, close_ups = previewed(timed, at), header_shots(timed)
        save(
            draw(chart_of(view.scene, open_ones if self.findings else (), measured)),
            chart,
            self.chart,
        )
        made = {
            f"{STRIPS}/{name}.png": png_bytes(filmstrip_of(strip)),
            f"{CHARTS}/{name}.{self.chart}": chart.getvalue(),
        }
        if close_ups:
            header = header_strip_of(view.scene, close_ups)
            made[f"{HEADERS}/{name}.png"] = png_bytes(header)
        for play in self.plays:
            with TemporaryDirectory() as folder:
                path = Path(folder) / f"play.{play.form}"
                view.animation(play.gesture, path, play.form)
                made[f"{PLAYS}/{play.file(name)}"] = path.read_bytes()
        return Drawing(made, data, Counter(finding.level for finding in open_ones))

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        return f"Drawing {page} on {viewport}"


@dataclass(frozen=True, slots=True)
class HeaderTask:
    """The header strip of a page at a viewport.

    Attributes:
        second: The time at which it shows slides that run and videos; None where they stand.
    """

    second: float | None = None

    def run(self, plan: PlanFile, page: str, viewport: str) -> dict[str, bytes]:
        """Return it under the name of its file; nothing where the page has no header."""
        view = Plan(plan).view(page, viewport).showing(second=self.second)
        if view.scene.switches is None:
            return {}
        return {f"{HEADERS}/{file_name(page, viewport)}.png": png_bytes(view.header_strip())}

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        return f"Drawing {page} on {viewport}"


def _within(positions: tuple[int, ...] | None, end: int) -> list[float] | None:
    """Positions that were asked for, those beyond the end of the page at its end."""
    if positions is None:
        return None
    return sorted({float(min(position, end)) for position in positions})
