"""``rising-lantern check``."""

from __future__ import annotations

import json
import sys
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, fields
from itertools import groupby
from pathlib import Path
from typing import Any

import click

from rising_lantern.api.plans import Plan
from rising_lantern.checks.findings import LEVELS, Finding
from rising_lantern.checks.readers import (
    EFFECTS,
    FONTS,
    PICTURES,
    TRANSPARENCY,
    WHOLE,
    ContentLength,
    LongerWords,
    Reader,
    TextSize,
    Widths,
    Without,
    Zoom,
)
from rising_lantern.checks.running import idle_silences, rules
from rising_lantern.cli.faults import report_remarks
from rising_lantern.cli.options import (
    PREVIEW,
    RuleOptions,
    force_option,
    jobs_options,
    options_as,
    output_option,
    page_option,
    quiet_option,
    rule_options,
    set_option,
    viewport_option,
    wrapped,
)
from rising_lantern.cli.plans import STANDARD_INPUT, read_plan
from rising_lantern.cli.terminal import echo, style, unstyled
from rising_lantern.cli.waiting import clear_bar, progress_bar
from rising_lantern.errors import listed, quoted
from rising_lantern.exports.support import Support, data_date, support_table
from rising_lantern.jobs.sharing import Jobs
from rising_lantern.outputs.files import whole_file
from rising_lantern.readers.checking import in_plan_order, iter_check
from rising_lantern.report.earlier import Earlier
from rising_lantern.report.sarif import sarif

COLORS = {"error": "bright_red", "warning": "yellow", "note": "cyan", "silenced": "bright_black"}


@dataclass(frozen=True, slots=True, kw_only=True)
class _Options(RuleOptions):
    """What is asked of the command."""

    plans: tuple[Path, ...]
    fail_on: str
    browsers: bool
    zoom: tuple[Zoom, ...]
    text_size: tuple[TextSize, ...]
    widths: tuple[Widths, ...]
    content: tuple[ContentLength, ...]
    longer: tuple[LongerWords, ...]
    without: tuple[Without, ...]
    since: Path | None
    form: str
    output: Path | None
    values: dict[str, str]
    jobs: Jobs
    force: bool
    quiet: bool

    @property
    def readers(self) -> tuple[Reader, ...]:
        """Those for whom the plans are checked as well."""
        effects = tuple(Without(feature) for feature in EFFECTS if self.browsers)
        asked: tuple[Reader, ...] = (*self.widths, *self.zoom, *self.text_size)
        asked = (*asked, *self.content, *self.longer, *effects, *self.without)
        return tuple(dict.fromkeys(asked))

    @property
    def printed(self) -> bool:
        """Whether findings are printed as they are found."""
        return self.form == "text" and not self.output

    @property
    def is_partial(self) -> bool:
        """Whether some pages, screens or rules are left out."""
        return bool(self.pages or self.viewports or self.only or self.skip)

    def found_in(self, plan: Plan, earlier: Earlier | None) -> list[Finding]:
        """What is found in a plan, with remarks on it; findings are printed page by page.

        Args:
            plan: The plan.
            earlier: What was found earlier, and is neither printed nor returned.
        """
        report_remarks((*plan.remarks, *plan.unused_pictures()), quiet=self.quiet)
        with progress_bar(quiet=self.quiet) as show:
            found = iter_check(
                plan,
                **self.scope,
                readers=self.readers,
                silenced=True,
                jobs=self.jobs,
                progress=show,
            )
            findings = _gather(plan, found, earlier, printed=self.printed)
        if not self.is_partial:
            report_remarks(idle_silences(plan.file, findings), quiet=self.quiet)
        return [item for item in findings if not _is_old(item, earlier)]


@click.command("check")
@click.argument(
    "plans", metavar="PLAN...", nargs=-1, required=True, type=click.Path(path_type=Path)
)
@click.option(
    "--explain",
    is_eager=True,
    expose_value=False,
    metavar="RULE",
    callback=lambda context, _option, name: _explain(context, name),
    help="Explain what a rule measures; 'all' explains every rule.",
)
@click.option(
    "--fail-on",
    type=click.Choice(["error", "warning", "note"]),
    default="error",
    show_default=True,
    help="The lowest level of finding that makes the exit status 1.",
)
@rule_options
@click.option(
    "--browsers",
    is_flag=True,
    help="Also list the features that the export uses with the browsers that have them, and check "
    "what readers get whose browsers lack a blend, a filter or a blur.",
)
@click.option(
    "--zoom",
    callback=lambda _context, _option, text: tuple(map(Zoom, _percentages(text))),
    metavar="PERCENT[,PERCENT]",
    help="Also check what no longer fits for readers who zoom in, such as 200,400.",
)
@click.option(
    "--text-size",
    callback=lambda _context, _option, text: tuple(map(TextSize, _percentages(text)[:1])),
    metavar="PERCENT",
    help="Also check what no longer fits for readers who have larger text, such as 200%.",
)
@click.option(
    "--widths",
    is_flag=False,
    flag_value="",
    callback=lambda _context, _option, text: _widths(text),
    metavar="[LOW..HIGH]",
    help="Also check at every width between the viewports at which something changes, such as "
    "320..1600; by default from 320 px to the widest viewport.",
)
@click.option(
    "--content",
    callback=lambda _context, _option, text: tuple(map(ContentLength, _both_ends(text))),
    metavar="LOW..HIGH",
    help="Also check what breaks where editors write less or more than planned, such as "
    "80%..130%: heights in px and texts that flow are changed by it.",
)
@click.option(
    "--longer",
    callback=lambda _context, _option, text: tuple(map(LongerWords, _percentages(text)[:1])),
    metavar="PERCENT",
    help="Also check what no longer fits where words of menus and buttons are longer, as in other "
    "languages, such as 40%.",
)
@click.option(
    "--without",
    callback=lambda _context, _option, text: tuple(map(Without, _left_out(text))),
    metavar="NAME[,NAME]",
    help=f"Also check what readers get to whom {PICTURES} or {FONTS} have not come, who prefer "
    f"less {TRANSPARENCY}, or whose browsers lack {listed(tuple(EFFECTS))}.",
)
@click.option(
    "--since",
    type=click.Path(path_type=Path),
    metavar="FILE",
    help="Only print, write and count what is not in an earlier result, in JSON or SARIF.",
)
@click.option("--format", "form", type=click.Choice(["text", "json", "sarif"]), default="text")
@output_option("The file to write; by default findings are printed.")
@page_option
@viewport_option
@set_option
@jobs_options
@force_option
@quiet_option
@options_as(_Options)
def command(asked: _Options) -> None:
    """Measure where each PLAN fails; - reads one from standard input.

    The exit status is 0 if nothing is found at or above --fail-on, 1 if something is, and 2 if
    a plan cannot be read.
    """
    earlier = Earlier(asked.since) if asked.since else None
    checked = [read_plan(plan, asked.values) for plan in asked.plans]
    findings: list[Finding] = []
    for plan in checked:
        findings += asked.found_in(plan, earlier)
        if asked.browsers and asked.printed and not asked.quiet:
            _print_support(plan.browser_support(asked.pages))
    if asked.output:
        text = _write_result(findings, asked.form, quiet=asked.quiet)
        with whole_file(asked.output, force=asked.force) as scratch:
            scratch.write_text(unstyled(text) + "\n", "utf-8")
    elif asked.form != "text":
        echo(_write_result(findings, asked.form, quiet=asked.quiet))
    elif not asked.quiet:
        echo(_summary(findings, "new " if earlier else ""))
        if earlier:
            # What was not looked at may be there still.
            gone = "" if asked.is_partial else f", {earlier.gone} not found any more"
            echo(style(f"{earlier.known} as before{gone}", dim=True))
        _say_screens(checked, asked.viewports)
        if any(finding.silenced is None for finding in findings):
            _say_where_to_see(asked.plans)
    failing = LEVELS[: LEVELS.index(asked.fail_on) + 1]
    if any(finding.level in failing and finding.silenced is None for finding in findings):
        raise click.exceptions.Exit(1)


def _percentages(text: str | None) -> tuple[int, ...]:
    """The numbers of an option such as ``200,400%``."""
    words = [word.strip().removesuffix("%") for word in (text or "").split(",")] if text else []
    for word in words:
        if not word.isascii() or not word.isdigit():
            raise click.BadParameter(f"{quoted(word)} is not a percentage; write 200 or 200,400")
    return tuple(int(word) for word in words)


def _both_ends(text: str | None) -> tuple[int, ...]:
    """The numbers of an option such as ``80%..130%``, without 100, which is the plan itself."""
    found = _percentages((text or "").replace("..", ","))
    if len(found) > 2:  # noqa: PLR2004 - two ends
        raise click.BadParameter(f"{quoted(text or '')} is not a range; write 80%..130%")
    return tuple(percent for percent in found if percent != WHOLE)


def _left_out(text: str | None) -> tuple[str, ...]:
    """Names such as ``pictures,fonts``."""
    return tuple(word.strip() for word in text.split(",")) if text else ()


def _widths(text: str | None) -> tuple[Widths, ...]:
    """Two widths such as ``320..1600``; an empty text for the default, None for none."""
    if not text:
        return () if text is None else (Widths(),)
    low, _, high = (word.strip() for word in text.partition(".."))
    if not all(word.isascii() and word.isdigit() for word in (low, high)):
        raise click.BadParameter(f"{quoted(text)} is not a range of widths; write 320..1600")
    return (Widths(int(low), int(high)),)


def _say_screens(plans: list[Plan], viewports: tuple[str, ...]) -> None:
    """Say which viewports were checked, with the widths that they stand for."""
    for plan in plans:
        table = plan.screen_table(viewports)
        screens = zip(table["viewport"], table["widths"], strict=True)
        words = ", ".join(f"{name} ({widths})" for name, widths in screens)
        echo(style(f"Checked on {words}", dim=True))


def _say_where_to_see(plans: tuple[Path, ...]) -> None:
    """Say what shows findings in place, of the first plan that is a file."""
    for plan in plans:
        if plan != STANDARD_INPUT:
            page = Path(f"{plan.stem}-preview") / PREVIEW
            echo(f"See them in {page}, which 'rising-lantern preview {plan}' writes")
            return


def _print_support(support: list[Support]) -> None:
    """The features in use, with the first version of each browser that has them."""
    rows = support_table(support)
    widths = [max(len(row[column]) for row in rows) for column in range(len(rows[0]) - 1)]
    echo("")
    echo(f"features in use, with the first versions that have them, as of {data_date()}")
    for index, row in enumerate(rows):
        cells = (cell.ljust(width) for cell, width in zip(row, [*widths, 0], strict=True))
        line = "  ".join(cells).rstrip()
        echo(style(line, bold=True) if index == 0 else line)
    echo("")


def _gather(
    plan: Plan, found: Iterator[Finding], earlier: Earlier | None, *, printed: bool
) -> list[Finding]:
    """All findings of a plan, in its order; a page's are printed when all of it has been checked.

    Those whose cause is elsewhere as well come at the end, each with its places, and then those
    that the plan silences.
    """
    findings: list[Finding] = []
    try:
        for _, own in groupby(found, key=lambda finding: finding.page):
            page: list[Finding] = []
            try:
                page.extend(own)
            finally:
                # Also where Ctrl-C has ended it.
                findings += page
                shown = [item for item in page if not (_waits(item) or _is_old(item, earlier))]
                _print(in_plan_order(plan, shown), printed=printed)
    finally:
        findings = in_plan_order(plan, findings)
        late = [item for item in findings if _waits(item) and not _is_old(item, earlier)]
        _print(late, printed=printed)
    return findings


def _is_old(finding: Finding, earlier: Earlier | None) -> bool:
    """Whether a finding was there in an earlier result."""
    return earlier is not None and earlier.has(finding)


def _waits(finding: Finding) -> bool:
    """Whether a finding is shown once all pages have been checked."""
    return bool(finding.cause) or finding.silenced is not None


def _print(findings: list[Finding], *, printed: bool) -> None:
    if printed and findings:
        clear_bar()
        for line in _lines(findings):
            echo(line)
        sys.stdout.flush()


def _explain(context: click.Context, name: str | None) -> None:
    if name is None:
        return
    known = rules()
    if name != "all" and name not in known:
        raise click.BadParameter(f"there is no rule {quoted(name)}; there are: {listed(known)}")
    for rule in known.values() if name == "all" else [known[name]]:
        echo(f"{style(rule.name, bold=True)} ({rule.level})  {rule.explanation}")
    context.exit()


def _write_result(findings: list[Finding], form: str, *, quiet: bool) -> str:
    if form == "json":
        return json.dumps([_data(finding) for finding in findings], indent=1)
    if form == "sarif":
        return json.dumps(sarif(findings, rules()), indent=1)
    lines = [
        line
        for _, own in groupby(findings, key=lambda finding: (finding.place.file, finding.page))
        for line in _lines(finding for finding in own if not _waits(finding))
    ]
    for _, own in groupby(findings, key=lambda finding: finding.place.file):
        lines += _lines(finding for finding in own if _waits(finding))
    return "\n".join(lines if quiet else [*lines, _summary(findings)])


def _data(finding: Finding) -> dict[str, Any]:
    """A finding as JSON data."""
    texts = {
        "subject": str(finding.subject),
        "path": finding.key,
        "place": str(finding.place),
        "reader": finding.reader.data if finding.reader else None,
        "remedy": finding.remedy.words,
        "settings": [setting.data for setting in finding.remedy.settings],
    }
    return {field.name: getattr(finding, field.name) for field in fields(finding)} | texts


def _lines(findings: Iterable[Finding]) -> Iterator[str]:
    """Findings as lines, the worst first; those of several viewports, or of one cause, as one."""
    for same in sorted(_rows(findings), key=_badness):
        yield from _description(same)


def _rows(findings: Iterable[Finding]) -> list[list[Finding]]:
    """Findings that are one for whoever reads them: what is wrong is the same, and its cure."""
    rows: dict[tuple[str | None, ...], list[Finding]] = {}
    for finding in findings:
        kind = (finding.place.file, finding.silenced, finding.level, finding.rule)
        about = finding.page, str(finding.subject), _without_figures(finding.remedy.words)
        one = (finding.cause,) if finding.cause else (*about, *finding.alike)
        rows.setdefault((*kind, *one), []).append(finding)
    return list(rows.values())


def _badness(same: list[Finding]) -> tuple[bool, int, float]:
    """Sorts the findings of a row before those of another that is less bad."""
    worst = max(same, key=lambda finding: finding.excess)
    return worst.silenced is not None, LEVELS.index(worst.level), -worst.excess


def _summary(findings: list[Finding], kind: str = "") -> str:
    rows = _rows(findings)
    silenced = sum(row[0].silenced is not None for row in rows)
    count = len(rows) - silenced
    none = f"nothing {kind or 'found'}".strip()
    summary = none if not count else f"{count} {kind}finding" + "s" * (count > 1)
    return summary + (f", {silenced} silenced by the plan" if silenced else "")


def _description(same: list[Finding]) -> Iterable[str]:
    """One finding, or the same on several viewports, with the figures of the worst."""
    worst = max(same, key=lambda finding: finding.excess)
    label = "silenced" if worst.silenced is not None else worst.level
    level = style(f"{label:8}", fg=COLORS[label], bold=True)
    low, high = worst.scroll
    stretch = f"{low:.0f} px" if low == high else f"{low:.0f} to {high:.0f} px"
    place = style(str(worst.place), dim=True)
    where = f"{_where(worst, same)}, {stretch}  {place}"
    others = {str(one.place): one for one in same if one.place != worst.place}
    yield f"{level} {style(worst.rule, bold=True)}  {where}"
    if worst.silenced is not None:
        yield wrapped(f"{worst.message}; silenced: {worst.silenced}", 9)
        return
    note = f" (on {worst.screen_words})" if len({one.screen_words for one in same}) > 1 else ""
    yield wrapped(f"{worst.message}{note}; {worst.remedy.words}", 9)
    for place, one in others.items():
        same_place = [finding for finding in same if str(finding.place) == place]
        yield f"         also {_where(one, same_place)}  {style(place, dim=True)}"


def _where(finding: Finding, same: Iterable[Finding]) -> str:
    """The pages, the screens and what a finding is about, in words."""
    screens: dict[str, list[str]] = {}
    for one in same:
        if one.place == finding.place:
            words = f" {one.reader.words}" if one.reader else ""
            screens.setdefault(words, []).append(one.viewport)
    groups = "; ".join(f"{joined(names)}{words}" for words, names in screens.items())
    return f"{finding.page_words} on {groups}, {finding.subject}"


def _without_figures(text: str) -> str:
    return "".join(sign for sign in text if not sign.isdigit())


def joined(names: Iterable[str]) -> str:
    """Names with commas between, each once."""
    return ", ".join(dict.fromkeys(names))
