"""Reporting faults: as text, at a terminal with the lines they stand on, or as JSON."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path

from rising_lantern.base.opening import opened_file
from rising_lantern.cli.terminal import echo, style
from rising_lantern.errors import Fault, LanternError, PlanError

_WIDEST = 110  # of a line that is shown; longer ones are cut around the place
_MOST_SHOWN = 60
_MOST_BYTES = 16_000_000  # of a file whose lines are shown


def report(error: LanternError, *, as_json: bool) -> None:
    """Report what the library has refused."""
    faults = error.faults if isinstance(error, PlanError) else ()
    if not faults:
        report_problem(str(error), as_json=as_json)
    elif as_json:
        echo(json.dumps([_row(fault) for fault in faults], indent=1))
    elif sys.stderr.isatty():
        _report_on_terminal(faults)
    else:
        for fault in faults:
            echo(str(fault), err=True)


def report_problem(problem: str, *, as_json: bool) -> None:
    """Report something that has no place in a plan."""
    if as_json:
        echo(json.dumps([{"problem": problem}], indent=1))
    else:
        echo(problem, err=True)


def report_remarks(remarks: Iterable[Fault], *, quiet: bool) -> None:
    """Report what is not a fault of a plan, but probably not intended."""
    if not quiet:
        for remark in remarks:
            echo(style(str(remark), dim=True), err=True)


def _row(fault: Fault) -> dict[str, str | int]:
    place = fault.place
    return {
        "file": place.file,
        "line": place.line,
        "column": place.column,
        "problem": fault.problem,
        "remedy": fault.remedy,
    }


def _report_on_terminal(faults: tuple[Fault, ...]) -> None:
    for fault in faults[:_MOST_SHOWN]:
        place = style(f"{fault.place}:", bold=True)
        echo(f"{place} {style(fault.problem, fg='bright_red')}; {fault.remedy}", err=True)
        _show_line(fault)
    if len(faults) > _MOST_SHOWN:
        echo(f"... and {len(faults) - _MOST_SHOWN} more", err=True)
    count = "one fault" if len(faults) == 1 else f"{len(faults)} faults"
    echo(style(count, bold=True), err=True)


def _show_line(fault: Fault) -> None:
    """The line that a fault stands on, with a mark under the place."""
    lines = _lines(fault.place.file) if fault.place.line else ()
    if not 1 <= fault.place.line <= len(lines):
        return
    line = lines[fault.place.line - 1]
    column = min(fault.place.column - 1, len(line))
    start = max(column - _WIDEST // 2, 0) if len(line) > _WIDEST else 0
    shown = "".join(c if c.isprintable() else " " for c in line[start : start + _WIDEST])
    echo(f"    {shown}", err=True)
    mark = style("^", fg="yellow", bold=True)
    echo(f"    {' ' * (column - start)}{mark}", err=True)


@lru_cache(maxsize=4)
def _lines(file: str) -> tuple[str, ...]:
    if file.startswith("--set "):
        return (file.removeprefix("--set "),)
    try:
        with opened_file(Path(file)) as opened:
            return tuple(opened.read(_MOST_BYTES).decode("utf-8-sig").splitlines())
    except (OSError, UnicodeDecodeError, ValueError):
        return ()
