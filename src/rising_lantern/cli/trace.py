"""``rising-lantern trace``."""

from __future__ import annotations

from importlib.util import find_spec
from pathlib import Path
from typing import TYPE_CHECKING, Any

import click

from rising_lantern.cli.options import (
    force_option,
    output_option,
    page_option,
    plan_argument,
    progress,
    quiet_option,
    read_plan,
    set_option,
    viewport_option,
)
from rising_lantern.cli.terminal import echo
from rising_lantern.errors import RequestError
from rising_lantern.outputs.files import whole_file

if TYPE_CHECKING:
    import pandas as pd

_ENDINGS = (".csv", ".json", ".parquet")


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
@page_option
@viewport_option
@set_option
@output_option("The file to write: .csv, .json or .parquet. CSV on the terminal by default.")
@force_option
@quiet_option
def command(  # noqa: PLR0913 - one argument for each option
    *,
    plan: Path,
    of: Any,
    every: float,
    going: Any,
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    values: dict[str, str],
    output: Path | None,
    force: bool,
    quiet: bool,
) -> None:
    """Write what PLAN's headers or layers do along the scroll as a table."""
    if output and output.suffix.lower() not in _ENDINGS:
        raise click.UsageError(f"{output} must end in one of {', '.join(_ENDINGS)}")
    if output and output.suffix.lower() == ".parquet" and find_spec("pyarrow") is None:
        raise RequestError(
            "Parquet needs another package: install rising-lantern[parquet], or write .csv or .json"
        )

    views = list(read_plan(plan, values).views(pages, viewports))
    tables = (view.trace(every, of, going) for view in views)
    result = list(progress(tables, len(views), "Tracing", quiet=quiet))
    _write(_joined(result), output, force=force)
    if output and not quiet:
        rows = sum(len(table) for table in result)
        echo(f"{rows:,} rows of {len(views)} views in {output}")


def _joined(tables: list[pd.DataFrame]) -> pd.DataFrame:
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
