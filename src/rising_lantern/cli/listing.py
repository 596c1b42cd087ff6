"""``rising-lantern list``."""

from __future__ import annotations

from pathlib import Path

import click

from rising_lantern.cli.options import plan_argument, set_option, viewport_option


@click.command("list")
@plan_argument
@click.option(
    "--of",
    type=click.Choice(["values"]),
    default="values",
    show_default=True,
    help="values: the plan as it holds on each viewport, with what comes from a for: marked.",
)
@viewport_option
@set_option
def command(*, plan: Path, of: str, viewports: tuple[str, ...], values: dict[str, str]) -> None:
    """List what holds where in PLAN."""
    del of  # there is one list yet
    from rising_lantern.api import read  # noqa: PLC0415 - help needs no plan
    from rising_lantern.errors import RequestError  # noqa: PLC0415
    from rising_lantern.plan.held import held_text  # noqa: PLC0415

    made = read(plan, values)
    for name in viewports:
        if name not in made.viewports:
            known = ", ".join(made.viewports)
            raise RequestError(f"the plan has no viewport '{name}'; it has: {known}")
    for name in viewports or made.viewports:
        click.echo(held_text(made.file.root, name, plan.name), nl=False)
