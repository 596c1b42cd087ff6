"""``rising-lantern schema``."""

from __future__ import annotations

from pathlib import Path

import click

from rising_lantern.cli.options import force_option, output_option
from rising_lantern.cli.terminal import echo
from rising_lantern.outputs.files import whole_file
from rising_lantern.plan.generated.schema import schema_text


@click.command("schema")
@output_option("The file to write; the terminal by default.")
@force_option
def command(*, output: Path | None, force: bool) -> None:
    """Print the JSON Schema of plans.

    Editors use it to complete and check a plan whose first line names it in a comment, like the
    plans of `new` and `demo`.
    """
    if output is None:
        echo(schema_text(), nl=False)
        return
    with whole_file(output, force=force) as scratch:
        scratch.write_text(schema_text(), "utf-8")
