"""``rising-lantern trace``."""

from __future__ import annotations

from dataclasses import dataclass
from importlib.util import find_spec
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click
from click.core import ParameterSource

from rising_lantern.cli.options import (
    force_option,
    options_as,
    output_option,
    page_option,
    plan_argument,
    quiet_option,
    second_option,
    set_option,
    viewport_option,
)
from rising_lantern.cli.plans import read_plan
from rising_lantern.cli.terminal import counted, echo
from rising_lantern.cli.waiting import progress
from rising_lantern.errors import RequestError
from rising_lantern.outputs.files import whole_file
from rising_lantern.scroll.gestures import named_or_recorded

if TYPE_CHECKING:
    import pandas as pd

_ENDINGS = (".csv", ".json", ".parquet")


@dataclass(frozen=True, slots=True, kw_only=True)
class _Options:
    """What is asked of the command."""

    plan: Path
    of: Any
    every: float
    going: Any
    gesture: str | None
    second: float | None
    pages: tuple[str, ...]
    viewports: tuple[str, ...]
    values: dict[str, str]
    output: Path | None
    force: bool
    quiet: bool


@click.command("trace")
@plan_argument
@click.option(
    "--of",
    type=click.Choice(["header", "layers"]),
    default="header",
    show_default=True,
    help="What to trace.",
)
@click.option(
    "--every",
    type=float,
    default=1.0,
    show_default=True,
    metavar="PX",
    help="The distance from one scroll position to the next, in px.",
)
@click.option(
    "--going",
    type=click.Choice(["down", "up"]),
    default="down",
    show_default=True,
    help="Whether the reader comes from the top or from the end.",
)
@click.option(
    "--play",
    "gesture",
    metavar="GESTURE",
    help="Trace the header in time instead, 60 times a second, while a reader scrolls: reading, "
    "wheel, flick, down-and-up, page-down, jump, 'jump SECTION', or a CSV file of seconds and px.",
)
@second_option
@page_option
@viewport_option
@set_option
@output_option("The file to write: .csv, .json or .parquet. CSV on the terminal by default.")
@force_option
@quiet_option
@options_as(_Options)
def command(asked: _Options) -> None:
    """Write what PLAN's headers or layers do along the scroll, or in time, as a table."""
    if asked.output and asked.output.suffix.lower() not in _ENDINGS:
        raise click.UsageError(f"{asked.output} must end in one of {', '.join(_ENDINGS)}")
    if asked.output and asked.output.suffix.lower() == ".parquet" and find_spec("pyarrow") is None:
        raise RequestError(
            "Parquet needs another package: install rising-lantern[parquet], or write .csv or .json"
        )

    if asked.gesture is not None:
        _refuse_along_scroll("of", "every", "going", "second")
    found = read_plan(asked.plan, asked.values).views(asked.pages, asked.viewports)
    views = [view.showing(second=asked.second) for view in found]
    if asked.gesture is None:
        tables = (view.trace(asked.every, asked.of, asked.going) for view in views)
    else:
        path = named_or_recorded(asked.gesture)
        tables = (view.play(path) for view in views)
    result = list(progress(tables, len(views), "Tracing", quiet=asked.quiet))
    _write(_join_views(result), asked.output, force=asked.force)
    if asked.output and not asked.quiet:
        rows = sum(len(table) for table in result)
        counted_views = counted(len(views), "view", "views")
        echo(f"{counted(rows, 'row', 'rows')} of {counted_views} in {asked.output}")


def _refuse_along_scroll(*names: str) -> None:
    """Refuse options that say where along the scroll to look, beside one that says when."""
    context = click.get_current_context()
    for name in names:
        if context.get_parameter_source(name) is ParameterSource.COMMANDLINE:
            raise click.UsageError(f"name --play or --{name}, not both")


def _join_views(tables: list[pd.DataFrame]) -> pd.DataFrame:
    import pandas as pd  # noqa: PLC0415 - help needs no tables

    filled = [table for table in tables if len(table)]
    return pd.concat(filled, ignore_index=True) if filled else tables[0]


def _write(table: pd.DataFrame, output: Path | None, *, force: bool) -> None:
    if output is None:
        echo(table.to_csv(index=False, float_format="%.6g"), nl=False)
        return

    with whole_file(output, force=force) as scratch:
        match output.suffix.lower():
            case ".csv":
                table.to_csv(scratch, index=False, float_format="%.6g")
            case ".json":
                table.to_json(scratch, orient="records", indent=1, double_precision=6)
            case _:
                table.to_parquet(scratch, engine="pyarrow", index=False)
