"""The command line. Each command is a module that is loaded when it is called."""

from __future__ import annotations

import sys
from collections.abc import Sequence
from importlib import import_module
from typing import Any

import click

from rising_lantern._version import __version__

# The commands in the order in which people work, with what --help says of each, so that help
# and completion load none of them.
_COMMANDS = {
    "demo": "Write the sample site and preview it.",
    "preview": "One page to scroll and judge, filmstrips and charts.",
    "live": "The preview, drawn again whenever the plan is saved.",
    "check": "Findings: what is measured to be wrong.",
    "compare": "Variants side by side.",
    "tune": "The numbers that fix the findings.",
    "trace": "A table along the scroll.",
    "list": "What holds where.",
    "export": "CSS, a small script and pages, for any site.",
    "prove": "The export in real browsers, held against the prediction.",
    "new": "Start a plan.",
    "schema": "The JSON Schema of plans.",
}

# Modules whose command has the name of something in Python.
_MODULES = {"list": "listing"}


class _Commands(click.Group):
    """Loads a command's module when it is asked for."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        """The names of all commands."""
        del ctx
        return list(_COMMANDS)

    def get_command(self, ctx: click.Context, name: str) -> click.Command | None:
        """One command, or None."""
        del ctx
        if name not in _COMMANDS:
            return None
        module = _MODULES.get(name, name)
        command: click.Command = import_module(f"rising_lantern.cli.{module}").command
        return command

    def format_commands(self, ctx: click.Context, formatter: click.HelpFormatter) -> None:
        """The commands with a line each."""
        del ctx
        with formatter.section("Commands"):
            formatter.write_dl(list(_COMMANDS.items()))

    def invoke(self, ctx: click.Context) -> Any:
        """Run a command."""
        from rising_lantern.cli.running import Unread  # noqa: PLC0415 - help needs no errors

        try:
            return super().invoke(ctx)
        except BrokenPipeError as error:
            raise Unread from error  # click would end with status 1, which means findings


@click.group(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(__version__, prog_name="rising-lantern")
@click.option(
    "--faults",
    type=click.Choice(["text", "json"]),
    default="text",
    show_default=True,
    help="How faults are reported.",
)
def commands(faults: str) -> None:
    """Plan, see and measure what a page does while it scrolls."""
    del faults  # read where faults are reported


def main(words: Sequence[str] | None = None) -> None:
    """Run the command line and end the process with its status."""
    from rising_lantern.cli.running import run  # noqa: PLC0415 - only where it is called

    sys.exit(run(commands, sys.argv[1:] if words is None else words))
