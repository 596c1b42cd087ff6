"""``rising-lantern preview``."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import groupby
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

import click

from rising_lantern.api.plans import Plan, read
from rising_lantern.checks.findings import Level
from rising_lantern.cli.faults import report_remarks
from rising_lantern.cli.options import (
    PREVIEW,
    force_option,
    jobs_options,
    options_as,
    output_option,
    page_option,
    plan_argument,
    quiet_option,
    second_option,
    set_option,
    viewport_option,
)
from rising_lantern.cli.terminal import counted, echo
from rising_lantern.cli.varying import read_positions, variants, vary_option
from rising_lantern.cli.waiting import progress_bar
from rising_lantern.errors import RequestError
from rising_lantern.jobs.job import Job, run_jobs, run_unknown
from rising_lantern.jobs.sharing import Jobs, Progress
from rising_lantern.layout.pages import file_name
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.plan.text.fingerprints import Fingerprints
from rising_lantern.previews.drawing import DrawTask, HeaderTask
from rising_lantern.previews.kept import KeptViews, made_of
from rising_lantern.previews.output_folder import INDEX, Play, files_of, write_preview
from rising_lantern.previews.previewing import AS_IT_IS, PreviewData, PreviewTask
from rising_lantern.scenes.scene import scene_of
from rising_lantern.scroll.gestures import named_or_recorded
from rising_lantern.scroll.stops import MOST_FRAMES

if TYPE_CHECKING:
    from rising_lantern.report.animation import Form
    from rising_lantern.report.charts import Form as ChartForm

_MOST_VIEWS = 60  # in one preview page; larger plans get one for each page of theirs
_PREVIEWS = "previews"


@dataclass(frozen=True, slots=True, kw_only=True)
class _Options:
    """What is asked of the command."""

    plan: Path
    of: Literal["everything", "header"]
    pages: tuple[str, ...]
    viewports: tuple[str, ...]
    values: dict[str, str]
    varied: tuple[str, ...]
    positions: str | None
    second: float | None
    gestures: tuple[str, ...]
    form: Form
    chart: ChartForm
    findings: bool
    without: str | None
    output: Path | None
    jobs: Jobs
    force: bool
    quiet: bool


@click.command("preview")
@plan_argument
@click.option(
    "--of",
    type=click.Choice(["everything", "header"]),
    default="everything",
    show_default=True,
    help="Draw everything, or only the header at full size at each switch.",
)
@page_option
@viewport_option
@set_option
@vary_option
@click.option(
    "--at",
    "positions",
    metavar="PX,PX,...",
    help="The scroll positions of the filmstrips; by default those that tell most.",
)
@second_option
@click.option(
    "--play",
    "gestures",
    multiple=True,
    metavar="GESTURE",
    help="Also write what a reader sees while scrolling as a moving picture: reading, wheel, "
    "flick, down-and-up, page-down, jump, 'jump SECTION', or a CSV file of seconds and px. "
    "Repeatable.",
)
@click.option(
    "--play-as",
    "form",
    type=click.Choice(["webp", "gif", "mp4"]),
    default="webp",
    show_default=True,
    help="The format of moving pictures.",
)
@click.option(
    "--chart-as",
    "chart",
    type=click.Choice(["png", "svg", "pdf"]),
    default="png",
    show_default=True,
    help="The format of scroll charts.",
)
@click.option("--findings", is_flag=True, help="Mark in the charts what check finds.")
@click.option(
    "--without",
    type=click.Choice(["pages"]),
    help="Leave the running pages out of preview.html, which makes it light.",
)
@output_option("The folder to write; PLAN-preview beside you by default.")
@jobs_options
@force_option
@quiet_option
@options_as(_Options)
def command(asked: _Options) -> None:
    """Draw PLAN along its scroll.

    Writes preview.html, one file in which every page can be scrolled and judged; and beside it,
    for each page and viewport, a filmstrip, a scroll chart, the header at full size at each
    switch, and a page of plain HTML, with an index.html that links them all.
    """
    folder = asked.output or Path(f"{asked.plan.stem}-preview")
    loaded = read(asked.plan, asked.values)
    report_remarks(loaded.remarks, quiet=asked.quiet)
    plays = [_play(gesture, asked.form) for gesture in dict.fromkeys(asked.gestures)]
    at = _frames_at(asked.positions)
    views = loaded.view_names(asked.pages, asked.viewports)
    if asked.of == "header":
        work = [Job(loaded.file, *view, HeaderTask(asked.second)) for view in views]
        _draw_headers(work, folder, jobs=asked.jobs, force=asked.force, quiet=asked.quiet)
        return
    plans = {AS_IT_IS: loaded, **(variants(loaded, asked.varied) if asked.varied else {})}
    task = DrawTask(tuple(plays), asked.chart, asked.findings, at, asked.second)
    drawing = Previewing(plans, views, task, with_pages=asked.without is None)
    drawing.write(folder, jobs=asked.jobs, force=asked.force, quiet=asked.quiet)


def _frames_at(text: str | None) -> tuple[int, ...] | None:
    at = read_positions(text)
    if at is not None and len(at) > MOST_FRAMES:
        raise RequestError(f"a filmstrip shows up to {MOST_FRAMES} positions, not {len(at)}")
    return at


def _play(text: str, form: Form) -> Play:
    """A gesture by its name, or as it was recorded in a CSV file."""
    gesture = named_or_recorded(text)
    return Play(text if gesture == text else Path(text).name, gesture, form)


def _draw_headers(
    work: Sequence[Job[dict[str, bytes]]], folder: Path, *, jobs: Jobs, force: bool, quiet: bool
) -> None:
    """Write the header of some views at full size, and say where it is."""
    written: list[str] = []
    with filled_folder(folder, force=force) as scratch, progress_bar(quiet=quiet) as show:
        for _, made in run_jobs(work, jobs, show):
            _put(scratch, made)
            written += made
        if show:
            show("Drawn", len(work), len(work))
        if not written:
            raise RequestError("none of these pages has a header")
    if not quiet:
        echo(f"{counted(len(written), 'header strip', 'header strips')} in {folder}")
        echo(f"Open: {folder / written[0]}")


@dataclass
class Previewing:
    """Writes the preview of some views of a plan.

    Attributes:
        plans: The plan and its variants, by their names, the plan first.
        views: Each page with each viewport.
        task: What is drawn of each.
        with_pages: Whether the running pages are in the preview page.
    """

    plans: Mapping[str, Plan]
    views: Sequence[tuple[str, str]]
    task: DrawTask = field(default_factory=DrawTask)
    with_pages: bool = True
    counts: dict[tuple[str, str], Counter[Level]] = field(default_factory=dict)
    made: dict[str, dict[str, Any]] = field(default_factory=dict)

    def write(self, folder: Path, *, jobs: Jobs, force: bool, quiet: bool) -> None:
        """Write it into a folder, and say what is there."""
        plan, count = next(iter(self.plans.values())), len(self.views) * len(self.plans)
        bar = progress_bar(quiet=quiet)
        filled = filled_folder(folder, self._names, force=force, made=self.made)
        with filled as scratch, bar as show:
            for name, html in self._documents(KeptViews(folder), scratch, jobs, show):
                _put(scratch, {name: html.encode()})
            if show:
                show("Writing pages", count, count)
            scenes = (scene_of(plan.file, *view) for view in self.views)
            boxes = ((scene.box, scene.max_scroll) for scene in scenes)
            links = {view: self._document_of(view[0]) for view in self.views}
            plays, chart = self.task.plays, self.task.chart
            write_preview(plan.file, boxes, scratch, plays, chart, links, self.counts)
        if quiet:
            return
        parts = "filmstrip, chart and page", "filmstrips, charts and pages"
        echo(f"{counted(len(self.views), *parts)} in {folder}")
        if self.task.plays:
            moving = len(self.views) * len(self.task.plays)
            echo(f"{counted(moving, 'moving picture', 'moving pictures')} in {folder / 'plays'}")
        echo(f"Open: {folder / (PREVIEW if self._is_one else INDEX)}")

    @property
    def _is_one(self) -> bool:
        """Whether one preview page shows all pages."""
        return len(self.views) * len(self.plans) <= _MOST_VIEWS

    def _document_of(self, page: str) -> str:
        return PREVIEW if self._is_one else f"{_PREVIEWS}/{page}.html"

    @property
    def _names(self) -> tuple[str, ...]:
        views = [file_name(*view) for view in self.views]
        documents = dict.fromkeys(self._document_of(page) for page, _ in self.views)
        return (*files_of(views, self.task.plays, self.task.chart), *documents)

    def _documents(
        self, kept: KeptViews, scratch: Path, jobs: Jobs, show: Progress | None
    ) -> Iterator[tuple[str, str]]:
        """Each preview page, once all of its views have been drawn; their other files are put.

        What was drawn before, from the same, is taken over.
        """
        total = len(self.views) * len(self.plans)
        start = 0
        first, *others = (plan.file for plan in self.plans.values())
        prints = Fingerprints(first)
        for name, group in groupby(self.views, lambda view: self._document_of(view[0])):
            views = list(group)
            data = PreviewData(self.plans, views, self.with_pages)
            own = show and _Shifted(show, start, total)
            asked = {view: prints.of(*view, self.task) for view in views}
            known = [kept.drawing(first, *view, asked[view]) for view in views]
            work = [Job(first, *view, self.task) for view in views]
            drawn = run_unknown(work, known, jobs, own)
            for view, drawing in zip(views, drawn, strict=True):
                _put(scratch, drawing.files)
                self.counts[view] = drawing.counts
                self.made[".".join(view)] = made_of(drawing, asked[view], name)
                data.add(0, drawing.data)
            start += len(views)
            own = show and _Shifted(show, start, total)
            varied = [
                Job(plan, *view, PreviewTask(variant))
                for variant, plan in enumerate(others, 1)
                for view in views
            ]
            for _, made in run_jobs(varied, jobs, own):
                data.add(*made)
            start += len(varied)
            yield name, data.html()


@dataclass(frozen=True)
class _Shifted:
    """Progress of a part of some work, as progress of all of it."""

    show: Progress
    start: int
    total: int

    def __call__(self, what: str, done: int, count: int) -> None:
        del count
        self.show(what, self.start + done, self.total)


def _put(scratch: Path, made: Mapping[str, bytes]) -> None:
    for name, data in made.items():
        (scratch / name).parent.mkdir(exist_ok=True)
        (scratch / name).write_bytes(data)
