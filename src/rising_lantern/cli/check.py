"""``rising-lantern check``."""

from __future__ import annotations

import json
from collections.abc import Iterable
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING

import click

from rising_lantern.cli.options import (
    page_option,
    plan_argument,
    quiet_option,
    set_option,
    viewport_option,
)

if TYPE_CHECKING:
    from rising_lantern.checks.findings import Finding

_COLORS = {"error": "bright_red", "warning": "yellow", "note": "cyan"}


@click.command("check")
@plan_argument
@click.option(
    "--explain",
    is_eager=True,
    expose_value=False,
    metavar="RULE",
    callback=lambda context, _option, name: _explain(context, name),
    help="Say what a rule measures, or all of them for 'all'.",
)
@click.option(
    "--fail-on",
    type=click.Choice(["error", "warning", "note"]),
    default="error",
    show_default=True,
    help="The least level of a finding that ends with status 1.",
)
@click.option("--only", multiple=True, metavar="RULE", help="Go by this rule alone; repeatable.")
@click.option(
    "--except", "without", multiple=True, metavar="RULE", help="Leave a rule out; repeatable."
)
@click.option("--format", "form", type=click.Choice(["text", "json"]), default="text")
@page_option
@viewport_option
@set_option
@quiet_option
def command(  # noqa: PLR0913 - each option is an argument
    *,
    plan: Path,
    fail_on: str,
    only: tuple[str, ...],
    without: tuple[str, ...],
    form: str,
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    values: dict[str, str],
    quiet: bool,
) -> None:
    """Measure where PLAN fails.

    Ends with status 0 where nothing is found, 1 where something at or above --fail-on is, and 2
    where the plan cannot be read.
    """
    from rising_lantern.api import check, read  # noqa: PLC0415 - help needs no plan
    from rising_lantern.checks.findings import LEVELS  # noqa: PLC0415

    made = read(plan, values)
    findings = check(made, pages, viewports, only=only, without=without)
    if form == "json":
        click.echo(json.dumps([asdict(finding) for finding in findings], indent=1))
    else:
        _tell(findings, quiet=quiet)
    grave = LEVELS[: LEVELS.index(fail_on) + 1]
    if any(finding.level in grave for finding in findings):
        raise click.exceptions.Exit(1)


def _explain(context: click.Context, name: str | None) -> None:
    if name is None:
        return
    from rising_lantern.checks.running import rules  # noqa: PLC0415 - help needs no rules

    known = rules()
    if name != "all" and name not in known:
        raise click.BadParameter(f"there is no rule '{name}'; there are: {', '.join(known)}")
    for rule in known.values() if name == "all" else [known[name]]:
        click.echo(f"{click.style(rule.name, bold=True)} ({rule.level})  {rule.explanation}")
    context.exit()


def _tell(findings: list[Finding], *, quiet: bool) -> None:
    """Findings as lines; those that are equal on several viewports are one."""
    rows: dict[tuple[str, ...], list[Finding]] = {}
    for finding in findings:
        key = (finding.level, finding.rule, finding.page, finding.subject, finding.remedy)
        rows.setdefault(key, []).append(finding)
    for same in rows.values():
        first = same[0]
        where = f"{first.page} on {_joined(one.viewport for one in same)}, {first.subject}"
        stretch = f"{first.scroll[0]:.0f} to {first.scroll[1]:.0f} px"
        level = click.style(f"{first.level:7}", fg=_COLORS[first.level], bold=True)
        click.echo(f"{level} {click.style(first.rule, bold=True)}  {where}, {stretch}")
        click.echo(f"        {first.message}; {first.remedy}")
    if not quiet:
        count = len(findings)
        click.echo(
            "nothing found" if not count else f"{count} findings" if count > 1 else "1 finding"
        )


def _joined(names: Iterable[str]) -> str:
    return ", ".join(dict.fromkeys(names))
