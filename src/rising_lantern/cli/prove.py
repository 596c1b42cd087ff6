"""``rising-lantern prove``."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import click

from rising_lantern.api.plans import Plan, read
from rising_lantern.cli.faults import report_remarks
from rising_lantern.cli.options import (
    force_option,
    options_as,
    output_option,
    page_option,
    plan_argument,
    quiet_option,
    set_option,
    viewport_option,
)
from rising_lantern.cli.terminal import echo, style
from rising_lantern.cli.waiting import clear_bar, progress_bar
from rising_lantern.exports.support import driven_since
from rising_lantern.exports.weights import Weight
from rising_lantern.proofs.engines import ENGINES
from rising_lantern.proofs.proof import PAGE, Proof
from rising_lantern.proofs.proving import absent, iter_prove
from rising_lantern.proofs.results import ViewProof
from rising_lantern.proofs.smoothness import iter_smoothness, save_smoothness, smoothness_lines

_MOST = 4  # disagreements of one view that are printed


@dataclass(frozen=True, slots=True, kw_only=True)
class _Options:
    """What is asked of the command."""

    plan: Path
    pages: tuple[str, ...]
    viewports: tuple[str, ...]
    values: dict[str, str]
    engines: tuple[str, ...]
    into: Path | None
    weight: Weight | None
    smooth: bool
    output: Path | None
    force: bool
    quiet: bool


@click.command("prove")
@plan_argument
@page_option
@viewport_option
@set_option
@click.option(
    "--engine",
    "engines",
    type=click.Choice(ENGINES),
    multiple=True,
    help="A browser engine; repeat for more. By default those that are on this machine.",
)
@click.option(
    "--into",
    type=click.Path(path_type=Path),
    metavar="HOST.html",
    help="Paste the export into a page of your site first, and prove it there.",
)
@click.option(
    "--weight",
    type=click.Choice(["layer", "specific", "important"]),
    help="As export has it.",
)
@click.option(
    "--smooth",
    is_flag=True,
    help="Measure in Chromium, with the processor slowed four times, what loading and scrolling "
    "cost beside a bare page with the same pictures, in place of comparing; with --output, "
    "smoothness.json has the figures.",
)
@output_option("The folder for proof.html and proof.json; PLAN-proof beside you by default.")
@force_option
@quiet_option
@options_as(_Options)
def command(asked: _Options) -> None:
    """Open the export of PLAN in real browsers, and compare it with the prediction.

    The exit status is 0 if every browser does what was planned, 1 if one does not, and 2 if
    there is no browser.
    """
    if asked.smooth:
        _refuse_what_is_not_measured(asked)
    folder = asked.output or Path(f"{asked.plan.stem}-proof")
    loaded = read(asked.plan, asked.values)
    report_remarks(loaded.remarks, quiet=asked.quiet)
    if asked.smooth:
        _measure(loaded, asked)
        return
    proofs: list[ViewProof] = []
    with progress_bar(quiet=asked.quiet) as show:
        found = iter_prove(
            loaded,
            asked.pages,
            asked.viewports,
            engines=asked.engines,
            into=asked.into,
            weight=asked.weight,
            progress=show,
        )
        for item in found:
            proofs.append(item)
            if not asked.quiet:
                clear_bar()
                _print(item)
    proof = Proof(loaded.title, tuple(proofs), absent(asked.engines))
    proof.save(folder, force=asked.force)
    if not asked.quiet:
        _summary(proof, folder)
    if not proof.agrees:
        raise click.exceptions.Exit(1)


def _measure(plan: Plan, asked: _Options) -> None:
    """What loading and scrolling cost, a table for each page at each viewport."""
    found = []
    with progress_bar(quiet=asked.quiet) as show:
        for item in iter_smoothness(plan, asked.pages, asked.viewports, progress=show):
            found.append(item)
            clear_bar()
            for line in smoothness_lines(item):
                echo(line)
    if asked.output:
        save_smoothness(found, asked.output, force=asked.force)


def _refuse_what_is_not_measured(asked: _Options) -> None:
    """Options that ask for what ``--smooth`` does not do."""
    given = {
        "--into": asked.into is not None,
        "--weight": asked.weight is not None,
        "--engine": any(engine != "chromium" for engine in asked.engines),
    }
    for name, is_given in given.items():
        if is_given:
            raise click.UsageError(f"--smooth measures our own page in Chromium; leave out {name}")


def _print(view: ViewProof) -> None:
    """One page at a viewport in a browser."""
    place = f"{view.page}  {view.viewport}  {view.browser}"
    if view.agrees:
        echo(f"{place}  {view.positions} positions  {style('agrees', fg='green')}")
        return
    echo(f"{place}  {view.positions} positions  {style('disagrees', fg='bright_red')}")
    for item in sorted(view.found, key=lambda item: -item.by)[:_MOST]:
        where = f"at {item.scroll:.0f} px, going {item.going}"
        echo(f"  {item.what}, {item.measure} {where}: {item.expected} planned, {item.found}")
    if len(view.found) > _MOST:
        echo(f"  and {len(view.found) - _MOST} more")
    for cause in view.causes:
        echo(f"  possible cause: {cause}")


def _agreeing(agreeing: int, count: int) -> str:
    """How many views agree, in words."""
    if count == 1:
        return "the view agrees" if agreeing else "the view disagrees"
    if agreeing == count:
        return f"all {count} views agree"
    return f"{agreeing} of {count} views {'agrees' if agreeing == 1 else 'agree'}"


def _summary(proof: Proof, folder: Path) -> None:
    """A line for each browser, and what to open."""
    echo("")
    for browser in dict.fromkeys(view.browser for view in proof.views):
        own = [view for view in proof.views if view.browser == browser]
        agreeing = sum(view.agrees for view in own)
        shifts = [view.shift for view in own if view.shift is not None]
        shift = f", layout shift at most {max(shifts):.3f}" if shifts else ""
        echo(f"{browser}: {_agreeing(agreeing, len(own))}{shift}")
    if any(view.way for view in proof.views):
        echo(f"By CSS from {driven_since()} on, by the script elsewhere")
    for name, programs in proof.missing.items():
        echo(f"{name}: not tried, since {', '.join(programs)} cannot be found")
    echo(f"Open: {folder / PAGE}")
