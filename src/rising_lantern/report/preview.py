"""The preview of a plan: filmstrips, pages to scroll by hand, and a sheet that leads to them."""

from __future__ import annotations

import io
import shutil
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING, Any

import jinja2
from PIL import Image

from rising_lantern.css.compositing import Bytes
from rising_lantern.exports.site import ASSETS, ExportOptions, site_of, write_files
from rising_lantern.layout.fonts import FontBook
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.report.animation import Form
from rising_lantern.report.filmstrip import Shot, compose
from rising_lantern.scroll.bands import Band
from rising_lantern.scroll.moments import Moment
from rising_lantern.scroll.stops import MOST_FRAMES, Stop, fewer

if TYPE_CHECKING:
    from rising_lantern.report.charts import Form as ChartForm

INDEX = "index.html"
STRIPS = "filmstrips"
PAGES = "pages"
PLAYS = "plays"
CHARTS = "charts"
_PNG_LEVEL = 4  # a filmstrip at the highest level takes six times as long, for a tenth less


@dataclass(frozen=True, slots=True)
class Previewed:
    """A view as the preview shows it.

    Attributes:
        box: The page as it is laid out.
        max_scroll: How far it scrolls, in px.
        bands: Where each look of its header is current.
        shots: The frames of its filmstrip.
        left_out: How many positions worth looking at it has no frame for.
    """

    box: PageBox
    max_scroll: int
    bands: Sequence[Band]
    shots: Sequence[Shot]
    left_out: int = 0


def shown(
    box: PageBox,
    max_scroll: int,
    bands: Sequence[Band],
    known: Sequence[Stop],
    positions: Sequence[float] | None,
    shoot: Callable[[Sequence[float]], Iterator[tuple[Moment, Bytes]]],
) -> Previewed:
    """The frames of a filmstrip with all that a preview says of them.

    Args:
        box: The page as it is laid out.
        max_scroll: The last scroll position, in px.
        bands: Where each look of its header is current.
        known: The positions worth looking at.
        positions: The positions to show; by default those, the most important ones.
        shoot: The moment and the frame at each of some scroll positions.
    """
    stops = fewer(known, MOST_FRAMES)
    left_out = len(known) - len(stops)
    if positions is not None:
        reasons = {stop.scroll_px: stop.reasons for stop in known}
        stops = tuple(Stop(int(scroll), reasons.get(int(scroll), ())) for scroll in positions)
        left_out = 0
    taken = shoot([stop.scroll_px for stop in stops])
    shots = [Shot(stop, *shot) for stop, shot in zip(stops, taken, strict=True)]
    return Previewed(box, max_scroll, bands, shots, left_out)


@dataclass(frozen=True, slots=True)
class Play:
    """A gesture that is shown as a moving picture.

    Attributes:
        name: What people call it.
        gesture: The gesture: a name, or pairs of seconds and px.
        form: How it is packed.
    """

    name: str
    gesture: str | Sequence[tuple[float, float]]
    form: Form

    def file(self, view: str) -> str:
        """The name of the file for a view."""
        return f"{view}.{self.name.replace(' ', '-')}.{self.form}"


def files_of(
    views: Iterable[str], plays: Sequence[Play], chart: ChartForm | None
) -> tuple[str, ...]:
    """The names of the files that a preview of some views consists of, assets left out.

    Args:
        views: What files about each view are called.
        plays: The gestures that are shown.
        chart: The form of the scroll charts.
    """
    names = [INDEX]
    for view in views:
        names += [f"{STRIPS}/{view}.png", f"{PAGES}/{view.split('.')[0]}.html"]
        names += [f"{CHARTS}/{view}.{chart}"] if chart else []
        names += [f"{PLAYS}/{play.file(view)}" for play in plays]
    return tuple(dict.fromkeys(names))


def strip_of(plan: PlanFile, view: Previewed) -> Image.Image:
    """The filmstrip of a view."""
    document = plan.documents[view.box.viewport]
    subtitle = f"{view.box.page} · {view.box.viewport} {_size(plan, view.box.viewport)}"
    if view.left_out:
        subtitle += f" · {len(view.shots)} of {len(view.shots) + view.left_out} positions"
    title = document.title or "Untitled plan"
    return compose(title, subtitle, view.shots, view.bands, view.box, view.max_scroll)


def write_preview(
    plan: PlanFile,
    pages: Iterable[tuple[PageBox, int]],
    folder: Path,
    plays: Sequence[Play] = (),
    chart: ChartForm | None = None,
) -> None:
    """Write the pages of a preview, and the sheet that leads to all of it, into a folder.

    Args:
        plan: The plan.
        pages: Each page at each viewport, and how far it scrolls, in px.
        folder: Where.
        plays: The gestures whose moving pictures stand beside it; they are linked to.
        chart: The form of the scroll charts that stand beside it.
    """
    (folder / PAGES / ASSETS).mkdir(parents=True, exist_ok=True)
    shown = list(pages)
    rows: dict[str, list[dict[str, Any]]] = {}
    for box, max_scroll in shown:
        rows.setdefault(box.page, []).append(_row(plan, box, max_scroll, plays, chart))
    # Pages open from a disk, where browsers load no modules.
    site = site_of(plan, [box for box, _ in shown], ExportOptions(script="classic"))
    write_files(site.files(), folder / PAGES)
    (folder / INDEX).write_text(_index(plan, rows, folder), "utf-8")


def strip_bytes(plan: PlanFile, view: Previewed) -> bytes:
    """The filmstrip of a view as a PNG."""
    packed = io.BytesIO()
    strip_of(plan, view).save(packed, "png", compress_level=_PNG_LEVEL)
    return packed.getvalue()


def _row(
    plan: PlanFile, box: PageBox, max_scroll: int, plays: Sequence[Play], chart: ChartForm | None
) -> dict[str, Any]:
    name = box.file_name
    return {
        "viewport": box.viewport,
        "size": _size(plan, box.viewport),
        "max_scroll": f"{max_scroll:,}",
        "header": f"header {box.header.name}" if box.header else "no header",
        "strip": f"{STRIPS}/{name}.png",
        "page": f"{PAGES}/{box.page}.html",
        "chart": f"{CHARTS}/{name}.{chart}" if chart else None,
        "plays": [(play.name, f"{PLAYS}/{play.file(name)}") for play in plays],
    }


def _size(plan: PlanFile, viewport: str) -> str:
    size = plan.viewport(viewport)
    return f"{size.width} × {size.height}"


def _index(plan: PlanFile, rows: dict[str, list[dict[str, Any]]], folder: Path) -> str:
    document = next(iter(plan.documents.values()))
    fonts = FontBook({})
    faces = {"sans": ("sans", 400), "bold": ("sans", 600), "serif": ("serif", 600)}
    addresses = {}
    for name, (font, weight) in faces.items():
        file = fonts.file(font, weight)
        addresses[name] = f"{PAGES}/{ASSETS}/{file.name}"
        shutil.copyfile(file, folder / addresses[name])
    environment = jinja2.Environment(autoescape=True, undefined=jinja2.StrictUndefined)
    template = environment.from_string(
        files(__package__).joinpath(f"{INDEX}.j2").read_text("utf-8")
    )
    pages = [
        {"name": name, "path": document.pages[name].path or f"/{name}", "views": views}
        for name, views in rows.items()
    ]
    return template.render(title=document.title or "Untitled plan", pages=pages, fonts=addresses)
