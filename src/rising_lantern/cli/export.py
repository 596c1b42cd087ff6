"""``rising-lantern export``."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import click

from rising_lantern.api.plans import read
from rising_lantern.cli.faults import report_remarks
from rising_lantern.cli.options import (
    force_option,
    jobs_options,
    options_as,
    output_option,
    page_option,
    plan_argument,
    quiet_option,
    set_option,
)
from rising_lantern.cli.terminal import counted, echo
from rising_lantern.cli.waiting import progress_bar
from rising_lantern.exports.exporting import NOTES, export
from rising_lantern.exports.site import ScriptKind
from rising_lantern.exports.weights import Weight
from rising_lantern.jobs.sharing import Jobs

_KB = 1000


@dataclass(frozen=True, slots=True, kw_only=True)
class _Options:
    """What is asked of the command."""

    plan: Path
    pages: tuple[str, ...]
    values: dict[str, str]
    prefix: str
    weight: Weight | None
    script: ScriptKind
    pictures: bool | None
    jobs: Jobs
    output: Path | None
    force: bool
    quiet: bool


@click.command("export")
@plan_argument
@page_option
@set_option
@click.option(
    "--prefix",
    default="lantern",
    show_default=True,
    metavar="NAME",
    help="What custom properties, key frames, attributes and files start with.",
)
@click.option(
    "--weight",
    type=click.Choice(["layer", "specific", "important"]),
    help="How the style sheet holds its own against the site's other rules: a cascade layer, "
    "specific selectors, or !important. By default a layer, and specific selectors where the plan "
    "has selectors of the site.",
)
@click.option(
    "--script",
    type=click.Choice(["module", "classic"]),
    default="module",
    show_default=True,
    help="classic: for sites that cannot run modules, and to open pages from a disk.",
)
@click.option(
    "--pictures/--no-pictures",
    default=None,
    help="Whether to write each background in the sizes that the screens need, as WebP. By "
    "default for whole pages, and not where the plan has selectors of the site.",
)
@jobs_options
@output_option("The folder to write; PLAN-export beside you by default.")
@force_option
@quiet_option
@options_as(_Options)
def command(asked: _Options) -> None:
    """Write code that does what PLAN says, for any site.

    Writes a style sheet, a small script, a complete page for each page of the plan, the settings
    for people who use a site editor, and notes on what goes where.
    """
    folder = asked.output or Path(f"{asked.plan.stem}-export")
    loaded = read(asked.plan, asked.values)
    report_remarks(loaded.remarks, quiet=asked.quiet)
    with progress_bar(quiet=asked.quiet) as show:
        made = export(
            loaded,
            asked.pages,
            prefix=asked.prefix,
            weight=asked.weight,
            script=asked.script,
            pictures=asked.pictures,
            earlier=folder,
            jobs=asked.jobs,
            progress=show,
        )
    made.save(folder, force=asked.force)
    if asked.quiet:
        return
    sizes = {name: (folder / name).stat().st_size for name in sorted(made.files)}
    assets = [size for name, size in sizes.items() if "/" in name]
    rows = {name: size for name, size in sizes.items() if "/" not in name}
    if assets:
        rows[counted(len(assets), "picture or font", "pictures and fonts")] = sum(assets)
    width = max(map(len, rows))
    for name, size in rows.items():
        echo(f"{name.ljust(width)}  {_size(size):>8}")
    echo(f"Read first: {folder / NOTES}")


def _size(count: int) -> str:
    return f"{count / _KB:.1f} kB" if count < _KB**2 else f"{count / _KB**2:.1f} MB"
