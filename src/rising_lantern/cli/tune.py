"""``rising-lantern tune``."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from difflib import unified_diff
from pathlib import Path
from typing import Any

import click

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import Finding
from rising_lantern.cli.check import COLORS, joined
from rising_lantern.cli.options import (
    RuleOptions,
    force_option,
    jobs_options,
    options_as,
    output_option,
    page_option,
    plan_argument,
    quiet_option,
    rule_options,
    set_option,
    viewport_option,
    wrapped,
)
from rising_lantern.cli.plans import STANDARD_INPUT, read_plan
from rising_lantern.cli.terminal import echo, style
from rising_lantern.cli.waiting import clear_bar, progress_bar
from rising_lantern.errors import RequestError
from rising_lantern.jobs.sharing import Jobs, Progress
from rising_lantern.outputs.files import whole_file
from rising_lantern.plan.edits.edits import Set
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.text.nodes import Key
from rising_lantern.plan.text.reading import bytes_of
from rising_lantern.tuning.choosing import Proposal, fewest, iter_tune, resolved
from rising_lantern.tuning.ranges import ValueRange, value_range
from rising_lantern.tuning.trials import Fix, identity

_DIFF_COLORS = {"+": "green", "-": "red", "@": "cyan"}
_MOST_FIXES = 4  # ways to clear the same findings that are shown


@dataclass(frozen=True, slots=True, kw_only=True)
class _Options(RuleOptions):
    """What is asked of the command."""

    plan: Path
    write: bool
    take: tuple[int, ...]
    key: str | None
    form: str
    output: Path | None
    values: dict[str, str]
    jobs: Jobs
    force: bool
    quiet: bool


@click.command("tune")
@plan_argument
@rule_options
@click.option("--write", is_flag=True, help="Show the changes, then write them into PLAN.")
@click.option(
    "--take",
    multiple=True,
    type=click.IntRange(1),
    metavar="NUMBER",
    help="With --write, the number of a change to write; repeatable. By default the first of each.",
)
@click.option(
    "--range",
    "key",
    metavar="KEY",
    help="Print the intervals of one value, by its path, in which no rule finds anything.",
)
@click.option(
    "--format",
    "form",
    type=click.Choice(["text", "json"]),
    default="text",
    help="With --range: the output format.",
)
@output_option("With --range: a picture to write, of the worst contrast over the value.")
@page_option
@viewport_option
@set_option
@jobs_options
@force_option
@quiet_option
@options_as(_Options)
def command(asked: _Options) -> None:
    """Compute the fewest changes that clear what check finds in PLAN.

    Each is proved by all rules on all pages and screens: with it, the findings are gone and nothing
    new is found; with one step less, a finding remains. With --write, the changes are written into
    PLAN, and its comments, order and layout stay as they are.
    """
    _refuse(asked.plan, write=asked.write, take=asked.take, key=asked.key, values=asked.values)
    if (asked.output or asked.form != "text") and not asked.key:
        raise click.UsageError("--format and --output need --range")
    loaded = read_plan(asked.plan, asked.values)
    if asked.key:
        with progress_bar(quiet=asked.quiet) as show:
            found = value_range(loaded, asked.key, progress=show, **asked.scope)
        _print_range(found, asked.form, asked.output, force=asked.force, quiet=asked.quiet)
        return
    with progress_bar(quiet=asked.quiet) as show:
        early = _show_early if show else None
        proved = iter_tune(loaded, jobs=asked.jobs, progress=show, first=early, **asked.scope)
        proposals = fewest(list(_show_proposals(proved, show)))
    numbered = _number_fixes(proposals)
    if not asked.quiet:
        for line in _lines(proposals, numbered):
            echo(line)
    if asked.write:
        paths = _paths_of_choice(proposals, numbered, asked.take)
        _write(loaded, asked.plan, proposals, paths, asked.contrast, quiet=asked.quiet)


def _refuse(
    plan: Path, *, write: bool, take: tuple[int, ...], key: str | None, values: dict[str, str]
) -> None:
    """Refuse options that do not go together."""
    if write and plan == STANDARD_INPUT:
        raise click.UsageError("--write needs a plan in a file")
    if write and values:
        raise click.UsageError("--write changes the file and cannot be combined with --set")
    if take and not write:
        raise click.UsageError("--take needs --write")
    if key and write:
        raise click.UsageError("--range cannot be combined with --write")


def _show_proposals(proposals: Iterable[Proposal], show: Progress | None) -> Iterator[Proposal]:
    """Pass proposals on; a person who waits is shown each change as soon as it is proved."""
    for proposal in proposals:
        if show and proposal.fixes:
            _say_fix("proved", proposal, "")
        yield proposal


def _show_early(proposal: Proposal) -> None:
    """Show a change that holds on one page at one viewport, before any is proved on all."""
    _say_fix("works", proposal, f" on {proposal.findings[0].viewport}; not proved elsewhere yet")


def _say_fix(verdict: str, proposal: Proposal, where: str) -> None:
    """Say in a line what clears some findings, beside the results."""
    fix, finding = proposal.fixes[0], proposal.findings[0]
    before = "not set" if fix.before is None else fix.before
    what = f"{fix.key}: {before} → {fix.after}, for {finding.rule} on {finding.page}{where}"
    clear_bar()
    echo(style(f"{verdict:8} {what}", dim=True), err=True)


def _number_fixes(proposals: Iterable[Proposal]) -> dict[int, Fix]:
    """All changes that are shown, by their numbers."""
    fixes = [fix for proposal in proposals for fix in proposal.fixes[:_MOST_FIXES]]
    return dict(enumerate(fixes, 1))


def _lines(proposals: list[Proposal], numbered: dict[int, Fix]) -> Iterator[str]:
    number = {id(fix): index for index, fix in numbered.items()}
    for proposal in proposals:
        if not proposal.fixes:
            continue
        for finding in _merge(proposal.findings):
            yield _head(finding)
        for fix in proposal.fixes[:_MOST_FIXES]:
            yield from _fix_lines(number[id(fix)], fix, proposal)
        yield ""
    others = [proposal for proposal in proposals if not proposal.fixes]
    if others:
        yield "None of the values that were tried clears these:"
        for same in _merge(finding for other in others for finding in other.findings):
            yield _head(same)
            yield wrapped(same[0].remedy.words, 9)
    if not proposals:
        yield "nothing found"


def _fix_lines(number: int, fix: Fix, proposal: Proposal) -> Iterator[str]:
    """A change, and its proof; of one that is not the first also how much of it it clears."""
    before = "not set" if fix.before is None else fix.before
    after = style(fix.after, fg="green", bold=True)
    cleared = {identity(clear) for clear in fix.clears}
    count = sum(identity(finding) in cleared for finding in proposal.findings)
    part = (
        "" if count == len(proposal.findings) else f", clears {count} of {len(proposal.findings)}"
    )
    either = "" if fix is proposal.fixes[0] else "or "
    yield f"  {number:3}  {either}{fix.what}: {before} → {after}{part}"
    proof = f"; {fix.short} is not enough" if fix.short else ""
    yield style(f"       {fix.key}, proved{proof}", dim=True)


def _merge(findings: Iterable[Finding]) -> list[list[Finding]]:
    """Findings of one rule about one thing together."""
    rows: dict[tuple[str, str, str], list[Finding]] = {}
    for finding in findings:
        rows.setdefault((finding.rule, finding.page, str(finding.subject)), []).append(finding)
    return list(rows.values())


def _head(same: list[Finding]) -> str:
    worst = max(same, key=lambda one: one.excess)
    level = style(f"{worst.level:8}", fg=COLORS[worst.level], bold=True)
    screens = joined(found.viewport for found in same)
    figure = f"{worst.measured:.4g}, limit {worst.limit:.4g}"
    name = style(worst.rule, bold=True)
    return f"{level} {name}  {worst.page} on {screens}, {worst.subject}: {figure}"


def _paths_of_choice(
    proposals: list[Proposal], numbered: dict[int, Fix], take: tuple[int, ...]
) -> frozenset[tuple[Key, ...]]:
    """The paths of the values to change: those of the numbers, or the first of each finding."""
    unknown = [str(number) for number in take if number not in numbered]
    if unknown:
        raise click.UsageError(f"there is no change {', '.join(unknown)}")
    if take:
        return frozenset(numbered[number].path for number in take)
    return frozenset(proposal.fixes[0].path for proposal in proposals if proposal.fixes)


def _write(
    made: Plan,
    path: Path,
    proposals: list[Proposal],
    paths: frozenset[tuple[Key, ...]],
    contrast: Conformance | None,
    *,
    quiet: bool,
) -> None:
    values = resolved(made, proposals, paths, contrast)
    if not values:
        echo("nothing to change")
        return
    before, after = (
        made.file.text,
        made.edited_text(Set(*pair) for pair in values.items()),
    )
    if bytes_of(path) != made.file.encoded(before):
        raise RequestError(f"{path} has changed since it was read; run this again")
    if not quiet:
        lines = unified_diff(
            before.splitlines(), after.splitlines(), str(path), str(path), n=1, lineterm=""
        )
        for line in lines:
            echo(style(line, fg=_DIFF_COLORS.get(line[:1])))
    with whole_file(path, is_own=True) as scratch:
        scratch.write_bytes(made.file.encoded(after))
    if not quiet:
        echo(f"written to {path}: {', '.join(values)}")


def _print_range(
    found: ValueRange, form: str, output: Path | None, *, force: bool, quiet: bool
) -> None:
    if output:
        from rising_lantern.report.charts import save  # noqa: PLC0415 - few draw

        with whole_file(output, force=force) as scratch:
            save(found.chart(), scratch)
    if form == "json":
        echo(json.dumps(_range_data(found), indent=1))
    elif not quiet:
        for line in _range_lines(found):
            echo(line)


def _range_data(found: ValueRange) -> dict[str, Any]:
    """The range of a value as JSON data."""
    return {
        "key": found.key,
        "current": found.current,
        "unit": found.unit,
        "tried": [found.low, found.high],
        "intervals": [
            {
                "low": interval.low,
                "high": interval.high,
                "below": _bound_data(interval.below),
                "above": _bound_data(interval.above),
            }
            for interval in found.intervals
        ],
        "stretches": [
            {"low": stretch.low, "high": stretch.high, "found": _bound_data(stretch.found)}
            for stretch in found.stretches
        ],
        "always": [_bound_data(alway) for alway in found.always],
    }


def _bound_data(bound: Finding | None) -> dict[str, Any] | None:
    if bound is None:
        return None
    return {
        "rule": bound.rule,
        "page": bound.page,
        "viewport": bound.viewport,
        "subject": str(bound.subject),
        "scroll": list(bound.scroll),
    }


def _range_lines(found: ValueRange) -> Iterator[str]:
    tried = f"{found.text(found.low)} to {found.text(found.high)}"
    yield style(f"{found.key}, tried from {tried}", bold=True)
    for interval in found.intervals:
        here = interval is found.within
        span = _span(found, interval.low, interval.high)
        mark = style("  every rule holds", fg="green")
        yield f"{span}{mark}{_where(found) if here else ''}"
        for words, bound in (("below", interval.below), ("above", interval.above)):
            yield f"  {words}: {_bound(bound)}"
    if not found.intervals:
        yield "there is no value at which every rule holds"
    for stretch in found.stretches:
        span = _span(found, stretch.low, stretch.high)
        yield f"{span}: {_bound(stretch.found)}"
    if found.always:
        rules = joined(alway.rule for alway in found.always)
        yield f"found with every one of these values, and not counted: {rules}"
    if found.within is None:
        yield f"now {found.text(found.current)}, where some rule does not hold"


def _span(found: ValueRange, low: float, high: float) -> str:
    return found.text(low) if low == high else f"{found.text(low)} to {found.text(high)}"


def _where(found: ValueRange) -> str:
    """Where in its interval the author's value lies."""
    within = found.within
    if within is None or within.high == within.low:
        return f", and this is the value now: {found.text(found.current)}"
    share = (found.current - within.low) / (within.high - within.low)
    return f"; now {found.text(found.current)}, {share:.0%} of the way up"


def _bound(bound: Finding | None) -> str:
    if bound is None:
        return "as far as was tried"
    return (
        f"{bound.rule} on {bound.page} on {bound.viewport}, {bound.subject}, "
        f"at {bound.scroll[0]:.0f} px"
    )
