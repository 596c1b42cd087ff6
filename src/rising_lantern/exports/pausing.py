"""The control that stops what runs by itself, as CSS and for the markup."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.css.numbers import number
from rising_lantern.exports.content import tracks
from rising_lantern.exports.names import Naming
from rising_lantern.exports.rules import (
    FORCED,
    LESS_MOTION,
    PRINT,
    CssRule,
    Statement,
    family,
)
from rising_lantern.exports.values import Palette
from rising_lantern.layout.pause import BAR, GAP, LEADING, PauseBox
from rising_lantern.plan.models.content import PLACED_WIDTH
from rising_lantern.plan.models.pause import Pause


def pause_rules(
    place: str, pause: PauseBox, entry: Pause, naming: Naming, palette: Palette
) -> Iterator[Statement]:
    """Where the control of a page stands, and its colours and font.

    Args:
        place: The selector of what it is placed by.
        pause: The control as it is laid out.
        entry: Its values in the plan.
        naming: How everything is named.
        palette: How colours are written.
    """
    columns, left = tracks(pause.at.x, f"fit-content({PLACED_WIDTH.css()})", pause.box.left)
    rows, top = tracks(pause.at.y, "auto", pause.box.top)
    standing = {"grid-template-columns": columns, "grid-template-rows": rows}
    layer = {"z-index": str(pause.z)} if pause.z else {}
    yield CssRule(place, {"font-size": entry.size.css()} | standing | layer)
    look = {
        "padding": entry.padding.css(),
        "border-radius": entry.radius.css(),
        "color": palette.color(pause.color),
        "background-color": palette.color(pause.background),
        "font-family": family(entry.font, naming.prefix),
        "font-weight": str(entry.weight),
    }
    moved = {} if (left, top) == ("0px", "0px") else {"left": left, "top": top}
    yield CssRule(f"{place} > {naming.kind('pause')}", look | moved)


def shared_pause_rules(naming: Naming) -> Iterator[Statement]:
    """What all controls have in common: a checkbox, which works by keyboard and without a script.

    Source: https://www.w3.org/TR/WCAG22/#pause-stop-hide
    """
    root, kind = naming.any_page, naming.kind
    control = f"{root} {kind('pause')}"
    bar = f"var({naming.variable('bar')})"
    label = {
        naming.variable("bar"): f"max(1px, round({number(BAR)}em, 1px))",
        "position": "relative",
        "display": "flex",
        "align-items": "start",
        "gap": f"{number(GAP)}em",
        "line-height": number(LEADING),
        "cursor": "pointer",
    }
    yield CssRule(control, label)
    beside = f"round(down, calc((1lh - 3 * {bar}) / 2), 1px)"
    icon = {
        "content": '""',
        "box-sizing": "content-box",
        "flex": "none",
        "width": bar,
        "height": f"calc(3 * {bar})",
        "margin-top": beside,
        "border": "solid currentcolor",
        "border-width": f"0 {bar}",
    }
    yield CssRule(f"{control}::before", icon)
    playing = {
        "width": f"calc(3 * {bar})",
        "border": "0",
        "background": "currentcolor",
        "clip-path": "polygon(0 0, 100% 50%, 0 100%)",
    }
    yield CssRule(f"{control}:has(:checked)::before", playing)
    # The ground of an icon alone is a square, as high as a line.
    whole = {"box-sizing": "content-box", "width": "1lh", "height": "1lh"}
    yield CssRule(f"{control}[data-icon]", whole)
    yield CssRule(f"{control}[data-icon]::before", {"margin-inline": beside})
    yield CssRule(control, {"outline": "1px solid"}, (FORCED,))
    inked = {"forced-color-adjust": "none", "background": "CanvasText"}
    yield CssRule(f"{control}:has(:checked)::before", inked, (FORCED,))
    box = {"position": "absolute", "inset": "0", "width": "100%", "height": "100%"}
    hidden = {"opacity": "0", "cursor": "inherit"}
    yield CssRule(f"{control} > input", box | hidden)
    ring = {"outline": "2px solid currentcolor", "outline-offset": "3px"}
    yield CssRule(f"{control}:has(:focus-visible)", ring)
    for within in (LESS_MOTION, PRINT):
        yield CssRule(control, {"display": "none"}, (within,))
