"""The preview of a plan: filmstrips, pages to scroll by hand, and a sheet that leads to them."""

from __future__ import annotations

import io
import shutil
import zlib
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING, Any

import jinja2
from PIL import Image

from rising_lantern.checks.findings import LEVELS, Level
from rising_lantern.exports.site import ASSETS, ExportOptions, site_of, write_files
from rising_lantern.layout.fonts import FontBook
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.report.animation import Form
from rising_lantern.report.board import size_words

if TYPE_CHECKING:
    from rising_lantern.report.charts import Form as ChartForm

INDEX = "index.html"
STRIPS = "filmstrips"
HEADERS = "headers"
PAGES = "pages"
PLAYS = "plays"
CHARTS = "charts"


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
        names += [f"{STRIPS}/{view}.png", f"{HEADERS}/{view}.png"]
        names += [f"{PAGES}/{view.split('.')[0]}.html"]
        names += [f"{CHARTS}/{view}.{chart}"] if chart else []
        names += [f"{PLAYS}/{play.file(view)}" for play in plays]
    return tuple(dict.fromkeys(names))


def write_preview(
    plan: PlanFile,
    pages: Iterable[tuple[PageBox, int]],
    folder: Path,
    plays: Sequence[Play] = (),
    chart: ChartForm | None = None,
    previews: Mapping[tuple[str, str], str] | None = None,
    counts: Mapping[tuple[str, str], Mapping[Level, int]] | None = None,
) -> None:
    """Write the pages of a preview, and the sheet that leads to all of it, into a folder.

    Args:
        plan: The plan.
        pages: Each page at each viewport, and how far it scrolls, in px.
        folder: Where.
        plays: The gestures whose moving pictures stand beside it; they are linked to.
        chart: The form of the scroll charts that stand beside it.
        previews: The preview page that shows each page at each viewport.
        counts: How many findings of each level these have.
    """
    (folder / PAGES / ASSETS).mkdir(parents=True, exist_ok=True)
    shown = list(pages)
    rows: dict[str, list[dict[str, Any]]] = {}
    for box, max_scroll in shown:
        row = _row(plan, box, max_scroll, plays, chart)
        key = box.page, box.viewport
        row["preview"] = (previews or {}).get(key)
        row["found"] = _count_words(counts[key]) if counts and key in counts else None
        rows.setdefault(box.page, []).append(row)
    # Pages open from a disk, where browsers load no modules.
    site = site_of(plan, [box for box, _ in shown], ExportOptions(script="classic"))
    write_files(site.files(), folder / PAGES)
    (folder / INDEX).write_text(_index(plan, rows, folder), "utf-8")


def png_bytes(image: Image.Image) -> bytes:
    """A picture as a PNG, packed by runs: of photographs faster than otherwise, and smaller."""
    packed = io.BytesIO()
    image.save(packed, "png", compress_type=zlib.Z_RLE)
    return packed.getvalue()


def _row(
    plan: PlanFile, box: PageBox, max_scroll: int, plays: Sequence[Play], chart: ChartForm | None
) -> dict[str, Any]:
    name = box.file_name
    return {
        "viewport": box.viewport,
        "size": size_words(plan, box.viewport),
        "max_scroll": f"{max_scroll:,}",
        "header": f"header {box.header.name}" if box.header else "no header",
        "strip": f"{STRIPS}/{name}.png",
        "close_ups": f"{HEADERS}/{name}.png" if box.header else None,
        "page": f"{PAGES}/{box.page}.html",
        "chart": f"{CHARTS}/{name}.{chart}" if chart else None,
        "plays": [(play.name, f"{PLAYS}/{play.file(name)}") for play in plays],
    }


def _count_words(counts: Mapping[Level, int]) -> str:
    """How many findings there are, the most serious first."""
    words = [
        f"{counts[level]} {level}{'s' * (counts[level] > 1)}"
        for level in LEVELS
        if counts.get(level)
    ]
    return ", ".join(words) or "nothing found"


def _index(plan: PlanFile, rows: dict[str, list[dict[str, Any]]], folder: Path) -> str:
    document = next(iter(plan.documents.values()))
    fonts = FontBook({})
    faces = {"sans": ("sans", 400), "bold": ("sans", 600), "serif": ("serif", 600)}
    addresses = {}
    for name, (font, weight) in faces.items():
        file = fonts.file(font, weight).path
        addresses[name] = f"{PAGES}/{ASSETS}/{file.name}"
        shutil.copyfile(file, folder / addresses[name])
    environment = jinja2.Environment(autoescape=True, undefined=jinja2.StrictUndefined)
    template = environment.from_string(
        files(__package__).joinpath(f"{INDEX}.j2").read_text("utf-8")
    )
    pages = [
        {"name": name, "path": ", ".join(document.pages[name].paths_as(name)), "views": views}
        for name, views in rows.items()
    ]
    return template.render(title=document.title or "Untitled plan", pages=pages, fonts=addresses)
