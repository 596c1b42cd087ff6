"""``rising-lantern preview``."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from rising_lantern.cli.faults import tell_remarks
from rising_lantern.cli.options import (
    output_option,
    page_option,
    plan_argument,
    progress,
    quiet_option,
    set_option,
    viewport_option,
)

if TYPE_CHECKING:
    from rising_lantern.api import Plan
    from rising_lantern.report.animation import Form


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
    help="Write what a reader sees while scrolling as a moving picture as well: reading, wheel, "
    "flick, page-down, jump, 'jump SECTION', or a CSV file of seconds and px. Repeatable.",
)
@click.option(
    "--play-as",
    "form",
    type=click.Choice(["webp", "gif", "mp4"]),
    default="webp",
    show_default=True,
    help="How moving pictures are packed.",
)
@output_option("The folder to write; PLAN-preview beside you by default.")
@quiet_option
def command(  # noqa: PLR0913 - each option is an argument
    *,
    plan: Path,
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    values: dict[str, str],
    gestures: tuple[str, ...],
    form: Form,
    output: Path | None,
    quiet: bool,
) -> None:
    """Draw PLAN along its scroll.

    Writes a filmstrip for each page and viewport, a page of plain HTML for each that can be
    opened and scrolled by hand, and index.html that leads to them all.
    """
    from rising_lantern.api import read  # noqa: PLC0415 - help needs no plan

    folder = output or Path(f"{plan.stem}-preview")
    made = read(plan, values)
    tell_remarks(made.remarks, quiet=quiet)
    played = {Path(one).stem: _gesture(one) for one in gestures}
    preview(made, folder, pages, viewports, played=played, form=form, quiet=quiet)


Gesture = str | list[tuple[float, float]]


def _gesture(text: str) -> Gesture:
    """A gesture by its name, or as it was recorded in a CSV file."""
    from rising_lantern.scroll.gestures import read_gesture  # noqa: PLC0415 - few ask to play

    return read_gesture(Path(text)) if text.lower().endswith(".csv") else text


def preview(
    plan: Plan,
    folder: Path,
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    *,
    played: dict[str, Gesture] | None = None,
    form: Form = "webp",
    quiet: bool,
) -> None:
    """Write the preview of a plan into a folder, and say where it is."""
    from rising_lantern.outputs import filled_folder  # noqa: PLC0415
    from rising_lantern.report.preview import INDEX, write_preview  # noqa: PLC0415

    views = list(plan.views(pages, viewports))
    with filled_folder(folder) as scratch:
        shown = (view.previewed() for view in views)
        written = write_preview(plan.file, shown, scratch)
        for _ in progress(written, len(views) + 1, "Drawing", quiet=quiet):
            pass
        jobs = [(view, name) for view in views for name in played or {}]
        (scratch / "plays").mkdir(exist_ok=True) if jobs else None
        for view, name in progress(iter(jobs), len(jobs), "Playing", quiet=quiet):
            file = f"{view.page}-{view.viewport}-{name.replace(' ', '-')}.{form}"
            view.animation((played or {})[name], scratch / "plays" / file, form)
    if not quiet:
        click.echo(f"{len(views)} filmstrips and pages in {folder}")
        if jobs:
            click.echo(f"{len(jobs)} moving pictures in {folder / 'plays'}")
        click.echo(f"Open first: {folder / INDEX}")
