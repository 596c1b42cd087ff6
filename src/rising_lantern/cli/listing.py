"""``rising-lantern list``."""

from __future__ import annotations

from pathlib import Path
from typing import TYPE_CHECKING

import click

from rising_lantern.cli.options import page_option, plan_argument, set_option, viewport_option

if TYPE_CHECKING:
    from rising_lantern.api import Plan

_SOFT = 1.005  # an enlargement that rounding alone does not explain


@click.command("list")
@plan_argument
@click.option(
    "--of",
    type=click.Choice(["values", "pictures"]),
    default="values",
    show_default=True,
    help="values: the plan as it holds on each viewport, with what comes from a for: marked; "
    "pictures: the pixels that each picture has and needs.",
)
@page_option
@viewport_option
@set_option
def command(
    *,
    plan: Path,
    of: str,
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    values: dict[str, str],
) -> None:
    """List what holds where in PLAN."""
    from rising_lantern.api import read  # noqa: PLC0415 - help needs no plan

    made = read(plan, values)
    if of == "pictures":
        _list_pictures(made, pages, viewports)
    else:
        _list_values(made, plan.name, viewports)


def _list_values(plan: Plan, name: str, viewports: tuple[str, ...]) -> None:
    from rising_lantern.plan.held import held_text  # noqa: PLC0415 - help needs no plan

    for viewport in plan.chosen(viewports):
        click.echo(held_text(plan.file.root, viewport, name), nl=False)


def _list_pictures(plan: Plan, pages: tuple[str, ...], viewports: tuple[str, ...]) -> None:
    """A table: what each picture has, and what the place that asks most of it needs."""
    table = plan.pictures(pages, viewports)
    rows = [["picture", "has", "viewport", "needs", "enlarged", "most on"]]
    for name, width, height, screen, across, down, times, page, place in table.itertuples(
        index=False, name=None
    ):
        enlarged = f"{times:.2f}" + (" soft" if times > _SOFT else "")
        has, needs = f"{width} x {height}", f"{across} x {down}"
        rows.append([name, has, screen, needs, enlarged, f"{page}: {place}"])
    widths = [max(len(row[column]) for row in rows) for column in range(len(rows[0]))]
    last = ""
    for index, row in enumerate(rows):
        # A picture is named once, above what it needs on each screen.
        again = index > 0 and row[0] == last
        last = row[0]
        cells = [cell.ljust(width) for cell, width in zip(row, widths, strict=True)]
        if again:
            cells[:2] = [" " * width for width in widths[:2]]
        line = "  ".join(cells).rstrip()
        click.echo(click.style(line, bold=True) if index == 0 else line)
