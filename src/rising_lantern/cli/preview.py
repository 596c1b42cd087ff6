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


@click.command("preview")
@plan_argument
@page_option
@viewport_option
@set_option
@output_option("The folder to write; PLAN-preview beside you by default.")
@quiet_option
def command(
    *,
    plan: Path,
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    values: dict[str, str],
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
    preview(made, folder, pages, viewports, quiet=quiet)


def preview(
    plan: Plan, folder: Path, pages: tuple[str, ...], viewports: tuple[str, ...], *, quiet: bool
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
    if not quiet:
        click.echo(f"{len(views)} filmstrips and pages in {folder}")
        click.echo(f"Open first: {folder / INDEX}")
