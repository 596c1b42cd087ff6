"""The preview of a plan: filmstrips, pages to scroll by hand, and a sheet that leads to them."""

from __future__ import annotations

import io
import shutil
import zlib
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from importlib.resources import files
from pathlib import Path
from typing import TYPE_CHECKING, Any

import jinja2
import numpy as np
from PIL import Image

from rising_lantern.checks.findings import LEVELS, Level
from rising_lantern.css.compositing import Bytes
from rising_lantern.exports.site import ASSETS, ExportOptions, site_of, write_files
from rising_lantern.layout.fonts import FontBook
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.report.animation import Form
from rising_lantern.report.filmstrip import Shot, compose
from rising_lantern.report.header_strip import HeaderShot, compose_header_strip
from rising_lantern.scroll.bands import Band
from rising_lantern.scroll.moments import Moment
from rising_lantern.scroll.stops import MOST_FRAMES, Stop, fewer

if TYPE_CHECKING:
    from rising_lantern.report.charts import Form as ChartForm

INDEX = "index.html"
STRIPS = "filmstrips"
HEADERS = "headers"
PAGES = "pages"
PLAYS = "plays"
CHARTS = "charts"
_SQUARES = 64  # across the shorter side of a frame, whose mean colours are compared
_ALIKE = 10  # of 255: frames of which no square differs by more look alike
_NEAR = 0.06  # of a screen


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
    shoot: Callable[[Sequence[Stop]], Iterator[tuple[Moment, Bytes]]],
    in_time: Sequence[tuple[Stop, Moment, Bytes]] = (),
) -> Previewed:
    """The frames of a filmstrip with all that a preview says of them.

    Args:
        box: The page as it is laid out.
        max_scroll: The last scroll position, in px.
        bands: Where each look of its header is current.
        known: The positions worth looking at.
        positions: The positions to show; by default those, the most important ones.
        shoot: The moment and the frame at each of some stops.
        in_time: More frames, of what is there for a time only; each is shown, up to half of all.
    """
    in_time = in_time[: MOST_FRAMES // 2]
    stops = fewer(known, MOST_FRAMES - len(in_time))
    left_out = len(known) - len(stops)
    if positions is not None:
        reasons = {stop.scroll_px: stop.reasons for stop in known if stop.going == "down"}
        stops = tuple(Stop(int(scroll), reasons.get(int(scroll), ())) for scroll in positions)
        left_out = 0
    taken = shoot(stops)
    shots = [Shot(stop, *shot) for stop, shot in zip(stops, taken, strict=True)]
    if positions is None:
        shots = sorted(
            [*unlike(shots), *(Shot(*shot) for shot in in_time)],
            key=lambda shot: shot.stop.scroll_px,
        )
    return Previewed(box, max_scroll, bands, shots, left_out)


def unlike(shots: Sequence[Shot]) -> list[Shot]:
    """Frames of which no two look alike: of those that do, the first stays.

    They look alike where no small square of them differs, or where the same look is complete in
    both and the page has hardly moved.
    """
    chosen: list[tuple[Shot, np.ndarray]] = []
    for shot in shots:
        image = Image.fromarray(shot.pixels)
        small = np.asarray(image.reduce(max(min(image.size) // _SQUARES, 1)), dtype=np.int16)
        near = _NEAR * image.height
        if not any(
            np.abs(small - other).max() < _ALIKE or _is_near(shot, item, near)
            for item, other in chosen
        ):
            chosen.append((shot, small))
    return [shot for shot, _ in chosen]


def _is_near(shot: Shot, other: Shot, distance: float) -> bool:
    """Whether two frames have the same look, complete, and are no more than some px apart."""
    same = shot.moment.look == other.moment.look
    complete = shot.moment.progress == other.moment.progress == 1
    return same and complete and abs(shot.stop.scroll_px - other.stop.scroll_px) <= distance


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


def strip_of(plan: PlanFile, view: Previewed) -> Image.Image:
    """The filmstrip of a view."""
    document = plan.documents[view.box.viewport]
    subtitle = f"{view.box.page} · {view.box.viewport} {_size(plan, view.box.viewport)}"
    if view.left_out:
        subtitle += f" · {len(view.shots)} of {len(view.shots) + view.left_out} positions"
    title = document.title or "Untitled plan"
    return compose(title, subtitle, view.shots, view.bands, view.box, view.max_scroll)


def header_strip_of(plan: PlanFile, box: PageBox, shots: Sequence[HeaderShot]) -> Image.Image:
    """The header strip of a view.

    Args:
        plan: The plan.
        box: The page as it is laid out.
        shots: Its header at each stage of each switch; at least one.
    """
    name = box.header.name if box.header else ""
    subtitle = f"{box.page} · {box.viewport} {_size(plan, box.viewport)} · header {name}"
    title = plan.documents[box.viewport].title or "Untitled plan"
    return compose_header_strip(title, subtitle, shots)


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
        row["found"] = _counted(counts[key]) if counts and key in counts else None
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
        "size": _size(plan, box.viewport),
        "max_scroll": f"{max_scroll:,}",
        "header": f"header {box.header.name}" if box.header else "no header",
        "strip": f"{STRIPS}/{name}.png",
        "close_ups": f"{HEADERS}/{name}.png" if box.header else None,
        "page": f"{PAGES}/{box.page}.html",
        "chart": f"{CHARTS}/{name}.{chart}" if chart else None,
        "plays": [(play.name, f"{PLAYS}/{play.file(name)}") for play in plays],
    }


def _counted(counts: Mapping[Level, int]) -> str:
    """How many findings there are, the most serious first."""
    words = [
        f"{counts[level]} {level}{'s' * (counts[level] > 1)}"
        for level in LEVELS
        if counts.get(level)
    ]
    return ", ".join(words) or "nothing found"


def _size(plan: PlanFile, viewport: str) -> str:
    size = plan.viewport(viewport)
    return f"{size.width} × {size.height}"


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
