"""``rising-lantern tune``."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from difflib import unified_diff
from pathlib import Path
from typing import TYPE_CHECKING

import click

from rising_lantern.cli.check import COLORS, joined
from rising_lantern.cli.options import (
    page_option,
    plan_argument,
    progress,
    quiet_option,
    rule_options,
    set_option,
    viewport_option,
    wrapped,
)

if TYPE_CHECKING:
    from rising_lantern.api import Plan
    from rising_lantern.plan.checks import Contrast
    from rising_lantern.tuning.running import Mend, Tuned

_DIFF_COLORS = {"+": "green", "-": "red", "@": "cyan"}


@click.command("tune")
@plan_argument
@rule_options
@click.option("--write", is_flag=True, help="Put the changes into PLAN, after showing them.")
@click.option(
    "--take",
    multiple=True,
    type=click.IntRange(1),
    metavar="NUMBER",
    help="With --write, the change of this number; repeatable. By default the first of each.",
)
@page_option
@viewport_option
@set_option
@quiet_option
def command(  # noqa: PLR0913 - each option is an argument
    *,
    plan: Path,
    only: tuple[str, ...],
    without: tuple[str, ...],
    contrast: Contrast | None,
    write: bool,
    take: tuple[int, ...],
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    values: dict[str, str],
    quiet: bool,
) -> None:
    """Compute the numbers that mend what check finds in PLAN.

    Each is the smallest change that does, and proved: with it the findings are gone, one step
    short of it one is still there. With --write the changes are put into PLAN, whose comments,
    order and layout stay.
    """
    from rising_lantern.api import read  # noqa: PLC0415 - help needs no plan
    from rising_lantern.tuning.running import Bench  # noqa: PLC0415

    if write and values:
        raise click.UsageError("--write puts changes into the file: leave out --set")
    if take and not write:
        raise click.UsageError("--take chooses what --write puts into the file: add --write")
    made = read(plan, values)
    views = list(made.views(pages, viewports))
    bar = progress(views, len(views), "Checking", quiet=quiet)
    findings = [found for view in bar for found in view.check(only, without, contrast)]
    bench = Bench(made, tuple((view.page, view.viewport) for view in views), contrast)
    groups = bench.causes(findings)
    tuned = list(progress(bench.tuned(groups), len(groups), "Tuning", quiet=quiet))
    numbered = _numbered(tuned)
    if not quiet:
        for line in _lines(tuned, numbered):
            click.echo(line)
    if write:
        _write(made, plan, tuned, _chosen(tuned, numbered, take), contrast, quiet=quiet)


def _numbered(tuned: Iterable[Tuned]) -> dict[int, Mend]:
    """All changes by their numbers."""
    mends = [mend for one in tuned for mend in one.mends]
    return dict(enumerate(mends, 1))


def _lines(tuned: list[Tuned], numbered: dict[int, Mend]) -> Iterator[str]:
    number = {id(mend): place for place, mend in numbered.items()}
    for one in tuned:
        if not one.mends:
            continue
        yield _head(one)
        for mend in one.mends:
            before = "not set" if mend.before is None else mend.before
            after = click.style(mend.after, fg="green", bold=True)
            yield f"  {number[id(mend)]:3}  {mend.what}: {before} → {after}"
            proof = f"; {mend.short} is not enough" if mend.short else ""
            yield click.style(f"       {mend.key}, proved{proof}", dim=True)
    others = [one for one in tuned if not one.mends]
    if others:
        yield "No number of the plan mends these:"
        for one in others:
            yield _head(one)
            yield wrapped(one.findings[0].remedy, 9)
    if not tuned:
        yield "nothing found"


def _head(one: Tuned) -> str:
    worst = one.findings[0]
    level = click.style(f"{worst.level:8}", fg=COLORS[worst.level], bold=True)
    pages = joined(found.page for found in one.findings)
    screens = joined(found.viewport for found in one.findings)
    figure = f"{worst.measured:.4g} where {worst.limit:.4g} is the limit"
    name = click.style(worst.rule, bold=True)
    return f"{level} {name}  {pages} on {screens}, {worst.subject}: {figure}"


def _chosen(tuned: list[Tuned], numbered: dict[int, Mend], take: tuple[int, ...]) -> frozenset[str]:
    """The keys that may be changed: those that are asked for, or the first of each finding."""
    unknown = [str(number) for number in take if number not in numbered]
    if unknown:
        raise click.UsageError(f"there is no change {', '.join(unknown)}")
    if take:
        return frozenset(numbered[number].key for number in take)
    return frozenset(one.mends[0].key for one in tuned if one.mends)


def _write(
    made: Plan,
    path: Path,
    tuned: list[Tuned],
    keys: frozenset[str],
    contrast: Contrast | None,
    *,
    quiet: bool,
) -> None:
    from rising_lantern.outputs import whole_file  # noqa: PLC0415 - few write
    from rising_lantern.plan.reading import text_of  # noqa: PLC0415
    from rising_lantern.tuning.running import mended  # noqa: PLC0415

    values = mended(made, tuned, keys, contrast)
    if not values:
        click.echo("nothing to write")
        return
    before, after = text_of(path), made.text_with(values)
    if not quiet:
        lines = unified_diff(
            before.splitlines(), after.splitlines(), str(path), str(path), n=1, lineterm=""
        )
        for line in lines:
            click.echo(click.style(line, fg=_DIFF_COLORS.get(line[:1])))
    with whole_file(path) as scratch:
        scratch.write_text(after, "utf-8", newline="")
    if not quiet:
        click.echo(f"written to {path}: {', '.join(values)}")
