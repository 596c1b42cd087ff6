"""``rising-lantern list``."""

from __future__ import annotations

import math
from collections.abc import Iterator
from pathlib import Path
from typing import TYPE_CHECKING

import click

from rising_lantern.api.plans import Plan
from rising_lantern.cli.faults import report_remarks
from rising_lantern.cli.options import (
    page_option,
    plan_argument,
    set_option,
    viewport_option,
)
from rising_lantern.cli.plans import read_plan
from rising_lantern.cli.tables import print_table
from rising_lantern.cli.terminal import echo
from rising_lantern.errors import quoted
from rising_lantern.exports.settings import drift_words, speed_from, speed_words
from rising_lantern.plan.text.on_viewport import held_text
from rising_lantern.plan.text.tokens import with_tokens

if TYPE_CHECKING:
    import pandas as pd

_SOFT = 1.005  # an enlargement that rounding alone does not explain


@click.command("list")
@plan_argument
@click.option(
    "--of",
    type=click.Choice(["values", "screens", "pictures", "switches", "headers", "settings"]),
    default="values",
    show_default=True,
    help="values: the plan as it applies on each viewport, with what comes from a for: marked; "
    "screens: the widths that each viewport stands for; pictures: the pixels that each picture "
    "has and needs; switches: where each look starts; headers: the header that each page gets; "
    "settings: every setting, for the dialogs of a site editor.",
)
@click.option(
    "--measured",
    metavar="PAGE,PICTURE[,ASIDE]",
    callback=lambda _context, _option, text: _measurement(text),
    help="With --of settings: the speed of a motion that was measured elsewhere, from how far the "
    "page was scrolled and how far the picture moved up meanwhile, in px: 400,160; and how far to "
    "the right, where it moves sideways: 400,160,40.",
)
@page_option
@viewport_option
@set_option
def command(
    *,
    plan: Path,
    of: str,
    measured: tuple[float, ...] | None,
    pages: tuple[str, ...],
    viewports: tuple[str, ...],
    values: dict[str, str],
) -> None:
    """List what applies where in PLAN."""
    if measured and of != "settings":
        raise click.UsageError("--measured needs --of settings")
    loaded = read_plan(plan, values)
    if measured:
        echo(f"speed {speed_words(speed_from(*measured[:2]))}")
        for aside in measured[2:]:
            echo(f"drift {drift_words(-speed_from(measured[0], -aside))}")
        return
    if of == "values":
        _list_values(loaded, plan.name, viewports)
    elif of == "settings":
        settings = loaded.settings(pages, viewports)
        print_table([list(settings.columns), *settings.astype(str).to_numpy().tolist()], 3)
    elif of == "screens":
        table = loaded.screen_table(viewports)
        print_table(
            [[*table.columns], *(row for _, row in _rows(table.set_index("viewport", drop=False)))]
        )
    elif of == "headers":
        table = loaded.header_table(pages, viewports)
        print_table([["page", *table.columns], *([name, *row] for name, row in _rows(table))], 0)
    else:
        if of == "pictures":
            report_remarks(loaded.unused_pictures(), quiet=False)
        rows = _pictures(loaded, pages, viewports)
        print_table(rows if of == "pictures" else _switches(loaded, pages, viewports), 2)


def _measurement(text: str | None) -> tuple[float, ...] | None:
    if text is None:
        return None
    try:
        found = tuple(float(word) for word in text.split(","))
    except ValueError:
        found = ()
    if len(found) not in {2, 3} or not all(map(math.isfinite, found)):
        raise click.BadParameter(f"{quoted(text)} is not two or three numbers; write 400,160")
    return found


def _rows(table: pd.DataFrame) -> Iterator[tuple[str, list[str]]]:
    for name, row in table.iterrows():
        yield str(name), [str(cell) for cell in row]


def _switches(plan: Plan, pages: tuple[str, ...], viewports: tuple[str, ...]) -> list[list[str]]:
    """Where each look starts, on every page and screen."""
    table = plan.switch_table(pages, viewports)
    rows = [
        [
            "page",
            "header",
            "viewport",
            "look",
            "starts",
            "ends going up",
            "blends over",
            "page ends",
        ]
    ]
    for page, header, viewport, look, start, back, blend, end, going in table.itertuples(
        index=False, name=None
    ):
        way = f", going {going}" if going else ""
        starts = "at the top" if start < 0 else f"{start:.0f} px{way}" + _never(start, end)
        ends_up = "" if start < 0 or back == start else f"{back:.0f} px"
        over = f"{blend:.0f} px" if blend else ""
        rows.append([page, header, viewport, look, starts, ends_up, over, f"{end} px"])
    return rows


def _never(start: float, end: int) -> str:
    return " never" if start > end else ""


def _list_values(plan: Plan, name: str, viewports: tuple[str, ...]) -> None:
    table = plan.screen_table(viewports)
    for viewport, widths in zip(table["viewport"], table["widths"], strict=True):
        root, _ = with_tokens(plan.file.root, plan.file.path.parent, name)
        echo(f"# {name} on {viewport}: {widths}")
        echo(held_text(root, viewport, name), nl=False)


def _pictures(plan: Plan, pages: tuple[str, ...], viewports: tuple[str, ...]) -> list[list[str]]:
    """What each picture has, and what the place that asks most of it needs."""
    table = plan.picture_table(pages, viewports)
    rows = [["picture", "has", "viewport", "needs", "enlarged", "waste", "focus seen", "most on"]]
    for *sizes, times, waste, page, place, focus in table.itertuples(index=False, name=None):
        name, width, height, screen, across, down = sizes
        enlarged = f"{times:.2f}" + (" soft" if times > _SOFT else "")
        picture = plan.file.files.pictures[name]
        has = "a vector" if picture.is_vector else f"{width} x {height}"
        if picture.clip:
            has += f", {picture.clip.seconds:.1f} s"
        needs = f"{across} x {down}"
        seen = "" if math.isnan(focus) else f"{focus:.0%}"
        rows.append([name, has, screen, needs, enlarged, f"{waste:.0%}", seen, f"{page}: {place}"])
    column = rows[0].index("focus seen")
    if not any(row[column] for row in rows[1:]):
        rows = [[*row[:column], *row[column + 1 :]] for row in rows]
    return rows
