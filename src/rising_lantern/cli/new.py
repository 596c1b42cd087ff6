"""``rising-lantern new``."""

from __future__ import annotations

from pathlib import Path

import click

from rising_lantern.cli.options import force_option
from rising_lantern.cli.terminal import echo
from rising_lantern.errors import quoted
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.start.first_plan import FILES, PLAN, refuse_taken, write_start
from rising_lantern.start.screenshot import write_from_screenshot


@click.command("new")
@click.argument("folder", type=click.Path(path_type=Path))
@click.option(
    "--picture",
    type=click.Path(path_type=Path),
    metavar="PAGE.png",
    help="Start from a full-page screenshot: its bands become sections.",
)
@click.option(
    "--cut",
    "cuts",
    metavar="PX,PX,...",
    callback=lambda _context, _option, text: _positions(text),
    help="Where to cut the screenshot, in px from its top, instead of where its rows change.",
)
@click.option(
    "--header",
    "band",
    metavar="TOP,BOTTOM",
    callback=lambda _context, _option, text: _band(text),
    help="Where the screenshot shows the site's own header, in px: 0,96. It is cut off, because "
    "the plan draws one; by default a band at the top that looks like a header.",
)
@force_option
def command(
    *,
    folder: Path,
    picture: Path | None,
    cuts: tuple[int, ...] | None,
    band: tuple[int, int] | None,
    force: bool,
) -> None:
    """Write a short plan with comments and pictures into FOLDER, to start from.

    The plan can be previewed at once. Existing files are replaced only with --force.
    """
    if cuts is not None and picture is None:
        raise click.UsageError("--cut needs a screenshot; name it with --picture")
    if band is not None and picture is None:
        raise click.UsageError("--header needs a screenshot; name it with --picture")

    if not force:
        refuse_taken(folder)
    names = FILES if picture is None else (PLAN,)
    with filled_folder(folder, names, force=force) as scratch:
        if picture is None:
            write_start(scratch)
        else:
            write_from_screenshot(picture, cuts, scratch, band)
    plan = folder / PLAN
    echo(f"The plan is {plan}. Change a number in it, then look:")
    echo(f"  rising-lantern preview {plan}")


def _positions(text: str | None) -> tuple[int, ...] | None:
    if text is None:
        return None
    words = [word.strip() for word in text.split(",")]
    if not all(word.isdigit() and len(word) <= 7 for word in words):  # noqa: PLR2004 - a million
        raise click.BadParameter(f"{quoted(text)} is not a list of positions; write 0,820,1640")
    return tuple(int(word) for word in words)


def _band(text: str | None) -> tuple[int, int] | None:
    edges = _positions(text)
    if edges is None:
        return None
    if len(edges) != 2 or edges[0] >= edges[1]:  # noqa: PLR2004 - an upper and a lower edge
        raise click.BadParameter(
            f"{quoted(text)} is not a band; write its upper and lower edge: 0,96"
        )
    return edges[0], edges[1]
