"""Telling the faults of a plan: as text, with the lines they stand on at a terminal, or as JSON."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path

import click

from rising_lantern.errors import Fault, LanternError, PlanError

_WIDEST = 110  # of a line that is shown; longer ones are cut around the place
_MOST_SHOWN = 60


def tell(error: LanternError, *, as_json: bool) -> None:
    """Tell what the library has refused."""
    faults = error.faults if isinstance(error, PlanError) else ()
    if as_json:
        rows = [_row(fault) for fault in faults] or [{"problem": str(error)}]
        click.echo(json.dumps(rows, indent=1, ensure_ascii=False))
    elif not faults:
        click.echo(str(error), err=True)
    elif sys.stderr.isatty():
        _tell_terminal(faults)
    else:
        for fault in faults:
            click.echo(str(fault), err=True)


def tell_remarks(remarks: Iterable[Fault], *, quiet: bool) -> None:
    """Say what is not wrong with a plan but probably not meant."""
    if not quiet:
        for remark in remarks:
            click.secho(str(remark), err=True, dim=True)


def _row(fault: Fault) -> dict[str, str | int]:
    place = fault.place
    return {
        "file": place.file,
        "line": place.line,
        "column": place.column,
        "problem": fault.problem,
        "remedy": fault.remedy,
    }


def _tell_terminal(faults: tuple[Fault, ...]) -> None:
    for fault in faults[:_MOST_SHOWN]:
        place = click.style(f"{fault.place}:", bold=True)
        click.echo(
            f"{place} {click.style(fault.problem, fg='bright_red')}; {fault.remedy}", err=True
        )
        _show_line(fault)
    if len(faults) > _MOST_SHOWN:
        click.echo(f"... and {len(faults) - _MOST_SHOWN} more", err=True)
    count = "one fault" if len(faults) == 1 else f"{len(faults)} faults"
    click.echo(click.style(count, bold=True), err=True)


def _show_line(fault: Fault) -> None:
    """The line that a fault stands on, with a mark under the place."""
    lines = _lines(fault.place.file)
    if not 1 <= fault.place.line <= len(lines):
        return
    line = lines[fault.place.line - 1]
    column = min(fault.place.column - 1, len(line))
    start = max(column - _WIDEST // 2, 0) if len(line) > _WIDEST else 0
    shown = "".join(c if c.isprintable() else " " for c in line[start : start + _WIDEST])
    click.echo(f"    {shown}", err=True)
    mark = click.style("^", fg="yellow", bold=True)
    click.echo(f"    {' ' * (column - start)}{mark}", err=True)


@lru_cache(maxsize=4)
def _lines(file: str) -> tuple[str, ...]:
    if file.startswith("--set "):
        return (file.removeprefix("--set "),)
    try:
        return tuple(Path(file).read_text("utf-8-sig").splitlines())
    except (OSError, UnicodeDecodeError, ValueError):
        return ()
