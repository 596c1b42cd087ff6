"""``rising-lantern compare``."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import click

from rising_lantern.api.plans import Plan, read
from rising_lantern.cli.options import (
    force_option,
    jobs_options,
    options_as,
    output_option,
    page_option,
    plan_argument,
    quiet_option,
    set_option,
    viewport_option,
)
from rising_lantern.cli.tables import print_table
from rising_lantern.cli.terminal import echo, style
from rising_lantern.cli.varying import read_positions, variants, vary_option
from rising_lantern.cli.waiting import clear_bar, progress_bar
from rising_lantern.comparisons.comparison import checked_variants
from rising_lantern.jobs.sharing import Jobs
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.previews.comparing import Comparing, file_names
from rising_lantern.previews.previewing import AS_IT_IS


@dataclass(frozen=True, slots=True, kw_only=True)
class _Options:
    """What is asked of the command."""

    plan: Path
    other: Path | None
    varied: tuple[str, ...]
    positions: str | None
    pages: tuple[str, ...]
    viewports: tuple[str, ...]
    values: dict[str, str]
    output: Path | None
    jobs: Jobs
    force: bool
    quiet: bool


@click.command("compare")
@plan_argument
@click.argument("other", type=click.Path(path_type=Path), required=False)
@vary_option
@click.option(
    "--at",
    "positions",
    metavar="PX,PX,...",
    help="The scroll positions to show; by default those at which the variants differ most.",
)
@page_option
@viewport_option
@set_option
@output_option("The folder to write; PLAN-compare beside you by default.")
@jobs_options
@force_option
@quiet_option
@options_as(_Options)
def command(asked: _Options) -> None:
    """Put variants of PLAN side by side, or PLAN and OTHER.

    Writes, for each page and viewport, a sheet of frames with a row for each variant and the same
    scroll positions for all, a chart of their contrast, and a table of their findings and figures.
    """
    plans = _plans(asked.plan, asked.other, asked.varied, asked.values)
    views = checked_variants(plans).view_names(asked.pages, asked.viewports)
    folder = asked.output or Path(f"{asked.plan.stem}-compare")
    at = read_positions(asked.positions)
    comparing = Comparing(plans, views, at, folder)
    files = [name for view in views for name in file_names(*view)]
    with (
        filled_folder(folder, files, force=asked.force, made=comparing.made) as scratch,
        progress_bar(quiet=asked.quiet) as show,
    ):
        for (page, viewport), result in comparing.run(asked.jobs, show):
            for name, data in result.files.items():
                (scratch / name).write_bytes(data)
            if not asked.quiet:
                clear_bar()
                echo(style(f"{page} on {viewport}", bold=True))
                if result.in_time:
                    echo("the same at rest; they differ in time, as the frames show")
                print_table(result.rows)
    if asked.quiet:
        return
    echo(f"Frames, charts and tables in {folder}")


def _plans(
    plan: Path, other: Path | None, varied: tuple[str, ...], values: dict[str, str]
) -> dict[str, Plan]:
    """The plans to compare, by the names of what is different in them."""
    if bool(other) == bool(varied):
        raise click.UsageError("name a second plan, or values with --vary, but not both")
    base = read(plan, values)
    if other:
        names = (plan.name, other.name) if plan.name != other.name else (str(plan), str(other))
        return {names[0]: base, names[1]: read(other, values)}

    plans = variants(base, varied)
    return plans if len(plans) > 1 else {AS_IT_IS: base, **plans}
