"""Options that several commands share."""

from __future__ import annotations

import shutil
import sys
from collections.abc import Callable
from dataclasses import dataclass
from functools import wraps
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

import click

from rising_lantern.errors import quoted
from rising_lantern.jobs.sharing import MOST_JOBS

if TYPE_CHECKING:
    from rising_lantern.plan.models.limits import Conformance

Command = Callable[..., Any]

Options = TypeVar("Options")

plan_argument = click.argument("plan", type=click.Path(path_type=Path))

PREVIEW = "preview.html"
"""The file in a preview's folder that is opened first."""

page_option = click.option(
    "--page", "pages", multiple=True, metavar="NAME", help="A page of the plan; repeat for more."
)
viewport_option = click.option(
    "--viewport",
    "viewports",
    multiple=True,
    metavar="NAME",
    help="A viewport of the plan; repeat for more.",
)
set_option = click.option(
    "--set",
    "values",
    multiple=True,
    metavar="KEY=VALUE",
    help="Replace a value of the plan, by its path: headers.main.height=64px. Repeat for more.",
    callback=lambda _context, _option, given: _pairs(given),
)
second_option = click.option(
    "--second",
    type=click.FloatRange(min=0),
    metavar="S",
    help="The time since the page was opened, for videos and for slides that run; by default they "
    "stand.",
)
quiet_option = click.option("--quiet", is_flag=True, help="Print faults only.")
force_option = click.option(
    "--force",
    is_flag=True,
    help="Replace files that Rising Lantern did not write, or that have been changed since.",
)


@dataclass(frozen=True, slots=True, kw_only=True)
class RuleOptions:
    """What a plan is checked on, and by what."""

    pages: tuple[str, ...]
    viewports: tuple[str, ...]
    only: tuple[str, ...]
    skip: tuple[str, ...]
    contrast: Conformance | None

    @property
    def scope(self) -> dict[str, Any]:
        """What the public calls take, by the names of their arguments."""
        return {
            "pages": self.pages,
            "viewports": self.viewports,
            "only": self.only,
            "skip": self.skip,
            "contrast": self.contrast,
        }


def options_as(kind: type[Options]) -> Callable[[Callable[[Options], None]], Command]:
    """Pass all that a command is asked for as one object, whose fields are named as the options.

    Args:
        kind: The class of the object.
    """

    def gathering(command: Callable[[Options], None]) -> Command:
        @wraps(command)
        def gathered(**values: Any) -> None:
            command(kind(**values))

        return gathered

    return gathering


def jobs_options(command: Command) -> Command:
    """``--jobs`` and ``--cluster``: who shares the work; the command takes both as ``jobs``."""

    @wraps(command)
    def merged(*, jobs: int | None, cluster: str | None, **others: Any) -> Any:
        if jobs is not None and cluster is not None:
            raise click.UsageError("name --jobs or --cluster, not both")
        return command(jobs=jobs if cluster is None else cluster, **others)

    for option in (
        click.option(
            "--cluster",
            metavar="tcp://HOST:PORT",
            help="Share the work among the workers of a Dask cluster, by its scheduler's address.",
        ),
        click.option(
            "--jobs",
            type=click.IntRange(1, MOST_JOBS),
            metavar="N",
            help="How many processes share the work; by default one for each core, where it takes "
            "long.",
        ),
    ):
        merged = option(merged)
    return merged


def rule_options(command: Command) -> Command:
    """``--only``, ``--skip`` and ``--contrast``: what a plan is checked by."""
    for option in (
        click.option(
            "--contrast",
            type=click.Choice(["AA", "AAA"]),
            help="The WCAG 2.2 level to check against; by default the plan's.",
        ),
        click.option(
            "--skip",
            multiple=True,
            metavar="RULE",
            help="Skip a rule; repeatable.",
        ),
        click.option(
            "--only", multiple=True, metavar="RULE", help="Apply only this rule; repeatable."
        ),
    ):
        command = option(command)
    return command


def _pairs(given: tuple[str, ...]) -> dict[str, str]:
    """Paths and values of ``--set``."""
    for word in given:
        if "=" not in word:
            raise click.BadParameter(f"{quoted(word)} has no '='; write KEY=VALUE")
    return {word.split("=", 1)[0].strip(): word.split("=", 1)[1].strip() for word in given}


def output_option(text: str) -> Callable[[Command], Command]:
    """``-o``, with what it names."""
    return click.option(
        "-o", "--output", type=click.Path(path_type=Path), metavar="PATH", help=text
    )


def wrapped(text: str, indent: int) -> str:
    """A text some columns to the right; broken between words where a person is watching."""
    margin = " " * indent
    if not sys.stdout.isatty():
        return margin + text
    width = shutil.get_terminal_size().columns
    return click.formatting.wrap_text(text, width, margin, margin)
