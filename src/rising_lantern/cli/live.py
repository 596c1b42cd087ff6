"""``rising-lantern live``."""

from __future__ import annotations

import signal
import webbrowser
from pathlib import Path

import click

from rising_lantern.cli.faults import report_remarks
from rising_lantern.cli.options import plan_argument, quiet_option, set_option
from rising_lantern.cli.stopping import Stopped
from rising_lantern.cli.terminal import echo
from rising_lantern.errors import RequestError


@click.command("live")
@plan_argument
@click.option(
    "--port",
    type=click.IntRange(0, 65535),
    default=0,
    show_default="any that is free",
    help="The port of the loopback address to serve at.",
)
@click.option("--open", "opens", is_flag=True, help="Open it in your browser.")
@set_option
@quiet_option
def command(*, plan: Path, port: int, opens: bool, values: dict[str, str], quiet: bool) -> None:
    """Serve the preview of PLAN on this machine, and draw it again whenever you save.

    The last word of the first line is its address. It answers this machine only. Ctrl-C ends it.
    """
    try:
        from rising_lantern.live.serving import bound_socket, serve  # noqa: PLC0415 - an extra
        from rising_lantern.live.watched import WatchedPlan  # noqa: PLC0415 - as above
    except ImportError as error:
        raise RequestError(
            f"live needs the package {error.name!r}: install rising-lantern[live]"
        ) from None
    watched = WatchedPlan(plan, values)
    report_remarks(watched.state.plan.remarks, quiet=quiet)
    bound = bound_socket(port)

    def started(address: str) -> None:
        echo(f"Serving {plan} at {address}")
        if not quiet:
            echo("It is drawn again whenever you save. Ctrl-C ends it.")
        if opens:
            webbrowser.open(address)

    try:
        serve(watched, bound, started)
    except Stopped as stopped:
        # Ctrl-C is how it is meant to end.
        if stopped.number != signal.SIGINT:
            raise
        if not quiet:
            echo("Stopped")
