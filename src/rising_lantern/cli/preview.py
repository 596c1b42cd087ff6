"""``rising-lantern preview``."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

import click

from rising_lantern.api import Plan, read
from rising_lantern.cli.faults import report_remarks
from rising_lantern.cli.options import (
    force_option,
    output_option,
    page_option,
    plan_argument,
    progress,
    quiet_option,
    set_option,
    viewport_option,
)
from rising_lantern.cli.terminal import echo
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.scroll.gestures import read_gesture
from rising_lantern.view import View

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
    plays = [_play(fromkey, form) for fromkey in dict.fromkeys(gestures)]
    views = list(loaded.views(pages, viewports))
    preview(
        loaded, views, folder, plays=plays, chart=chart, findings=findings, force=force, quiet=quiet
    )


def _play(text: str, form: Form) -> Play:
    """A gesture by its name, or as it was recorded in a CSV file."""
    from rising_lantern.report.preview import Play  # noqa: PLC0415 - few ask to play

    if text.lower().endswith(".csv"):
        return Play(Path(text).name, read_gesture(Path(text)), form)
    return Play(text, text, form)


def preview(  # noqa: PLR0913 - what the options say
    plan: Plan,
    views: Sequence[View],
    folder: Path,
    *,
    plays: Sequence[Play] = (),
    chart: ChartForm = "png",
    findings: bool = False,
    force: bool,
    quiet: bool,
) -> None:
    """Write the preview of a plan into a folder, and say where it is."""
    from rising_lantern.report.charts import draw, save  # noqa: PLC0415
    from rising_lantern.report.preview import (  # noqa: PLC0415
        CHARTS,
        INDEX,
        PLAYS,
        files_of,
        write_preview,
    )

    names = files_of([view.box for view in views], plays, chart)
    with filled_folder(folder, names, force=force) as scratch:
        shown = (view.previewed() for view in views)
        written = write_preview(plan.file, shown, scratch, plays, chart)
        for _ in progress(written, len(views) + 1, "Drawing", quiet=quiet):
            pass
        (scratch / CHARTS).mkdir()
        for view in progress(views, len(views), "Charting", quiet=quiet):
            file = scratch / CHARTS / f"{view.box.file_name}.{chart}"
            save(draw(view.charted(view.check() if findings else ())), file, chart)
        jobs = [(view, play) for view in views for play in plays]
        if jobs:
            (scratch / PLAYS).mkdir(exist_ok=True)
        for view, play in progress(iter(jobs), len(jobs), "Playing", quiet=quiet):
            file = scratch / PLAYS / play.file(view.box.file_name)
            view.animation(play.gesture, file, play.form)
    if not quiet:
        echo(
            f"{counted(len(views), 'filmstrip, chart and page', 'filmstrips, charts and pages')} "
            f"in {folder}"
        )
        if jobs:
            count = counted(len(jobs), "moving picture", "moving pictures")
            echo(f"{count} in {folder / PLAYS}")
        echo(f"Open first: {folder / INDEX}")


def counted(count: int, one: str, several: str) -> str:
    """A number of things, in words that fit it."""
    return f"{count} {one if count == 1 else several}"
