"""``rising-lantern preview``."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import click

from rising_lantern.api import read
from rising_lantern.cli.faults import report_remarks
from rising_lantern.cli.options import (
    force_option,
    jobs_options,
    output_option,
    page_option,
    plan_argument,
    progress_bar,
    quiet_option,
    set_option,
    viewport_option,
)
from rising_lantern.cli.terminal import echo
from rising_lantern.drawing import ViewDrawing
from rising_lantern.layout.pages import file_name
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.parallel import Jobs, followed
from rising_lantern.scroll.gestures import read_gesture

if TYPE_CHECKING:
    from rising_lantern.report.animation import Form
    from rising_lantern.report.charts import Form as ChartForm
    from rising_lantern.report.preview import Play


@click.command("preview")
@plan_argument
@page_option
@viewport_option
@set_option
@click.option(
    "--play",
    "gestures",
    multiple=True,
    metavar="GESTURE",
    help="Also write what a reader sees while scrolling as a moving picture: reading, wheel, "
    "flick, page-down, jump, 'jump SECTION', or a CSV file of seconds and px. Repeatable.",
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
@output_option("The folder to write; PLAN-preview beside you by default.")
@jobs_options
@force_option
@quiet_option
def command(  # noqa: PLR0913 - each option is an argument
    *,
    plan: Path,
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    values: dict[str, str],
    gestures: tuple[str, ...],
    form: Form,
    chart: ChartForm,
    findings: bool,
    output: Path | None,
    jobs: Jobs,
    force: bool,
    quiet: bool,
) -> None:
    """Draw PLAN along its scroll.

    Writes a filmstrip and a scroll chart for each page and viewport, a page of plain HTML
    for each that you can open and scroll, and an index.html that links them all.
    """
    folder = output or Path(f"{plan.stem}-preview")
    loaded = read(plan, values)
    report_remarks(loaded.remarks, quiet=quiet)
    plays = [_play(gesture, form) for gesture in dict.fromkeys(gestures)]
    work = [
        ViewDrawing(loaded, *view, tuple(plays), chart, findings)
        for view in loaded.view_names(pages, viewports)
    ]
    preview(work, folder, jobs=jobs, force=force, quiet=quiet)


def _play(text: str, form: Form) -> Play:
    """A gesture by its name, or as it was recorded in a CSV file."""
    from rising_lantern.report.preview import Play  # noqa: PLC0415 - few ask to play

    if text.lower().endswith(".csv"):
        return Play(Path(text).name, read_gesture(Path(text)), form)
    return Play(text, text, form)


def preview(
    work: Sequence[ViewDrawing], folder: Path, *, jobs: Jobs, force: bool, quiet: bool
) -> None:
    """Write the preview of some views of a plan into a folder, and say where it is."""
    from rising_lantern.report.preview import INDEX, PLAYS, files_of, write_preview  # noqa: PLC0415

    plan, plays, chart = work[0].plan, work[0].plays, work[0].chart
    names = files_of([file_name(item.page, item.viewport) for item in work], plays, chart)
    with filled_folder(folder, names, force=force) as scratch, progress_bar(quiet=quiet) as show:
        drawn = followed(ViewDrawing.files, work, jobs, show, ViewDrawing.words)
        for _, made in drawn:
            for name, data in made.items():
                (scratch / name).parent.mkdir(exist_ok=True)
                (scratch / name).write_bytes(data)
        if show:
            show("Writing pages", len(work), len(work))
        views = (plan.view(item.page, item.viewport) for item in work)
        boxes = ((view.box, view.max_scroll) for view in views)
        write_preview(plan.file, boxes, scratch, plays, chart)
    if quiet:
        return
    count = counted(len(work), "filmstrip, chart and page", "filmstrips, charts and pages")
    echo(f"{count} in {folder}")
    if plays:
        count = counted(len(work) * len(plays), "moving picture", "moving pictures")
        echo(f"{count} in {folder / PLAYS}")
    echo(f"Open first: {folder / INDEX}")


def counted(count: int, one: str, several: str) -> str:
    """A number of things, in words that fit it."""
    return f"{count} {one if count == 1 else several}"
