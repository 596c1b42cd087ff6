"""What is done with an input: values, plans, drawings, pictures, fonts and command lines."""

from __future__ import annotations

import io
from collections.abc import Callable
from contextlib import redirect_stderr, redirect_stdout, suppress

from inputs import FONT, PICTURES, damaged
from patience import COUNTS, FOLDER, watched

import rising_lantern as rl
from rising_lantern.css.backgrounds import parse_position, parse_repeat, parse_size
from rising_lantern.css.borders import parse_border
from rising_lantern.css.colors import parse_color
from rising_lantern.css.easings import parse_easing
from rising_lantern.css.filters import parse_filters
from rising_lantern.css.gradients import parse_gradient
from rising_lantern.css.length_parsing import parse_length
from rising_lantern.css.lengths import Basis
from rising_lantern.css.shadows import parse_shadows, parse_text_shadows
from rising_lantern.css.syntax import CssError
from rising_lantern.css.times import parse_time
from rising_lantern.paint.pictures import premultiplied
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.pictures import find_picture
from rising_lantern.plan.models.changes import parse_change
from rising_lantern.plan.models.thresholds import parse_threshold

MOST_PIXELS = 4_000_000  # of what is drawn or decoded
MOST_SCREEN = 300_000  # px of a screen that is painted
MOST_SCROLL = 2_000  # px of a page that is checked at every one of them

# --- values --------------------------------------------------------------------------------------

PARSERS: list[Callable[[str], object]] = [
    parse_length, parse_color, parse_gradient, parse_shadows, parse_text_shadows, parse_filters,
    parse_time, parse_border, parse_size, parse_position, parse_repeat, parse_easing, parse_change,
    parse_threshold,
]  # fmt: skip
BASIS = Basis(1000, 600, 16, 16, 400)


def value(text: str) -> None:
    """Every parser on one text; what can be read can be computed and written again."""
    with watched("values"):
        for parse in PARSERS:
            with suppress(CssError):
                result = parse(text)
                if parse is parse_length:
                    result.px(BASIS)  # type: ignore[attr-defined]
                    parse_length(result.css())  # type: ignore[attr-defined]
                if parse is parse_gradient:
                    result.pixels(7, 5, BASIS)  # type: ignore[attr-defined]


# --- plans ---------------------------------------------------------------------------------------


def plan(text: str) -> None:
    """A plan is refused, or can be looked at on every screen."""
    with watched("plans"), suppress(rl.LanternError):
        (FOLDER / "plan.yaml").write_text(text, "utf-8", errors="replace")
        result = rl.read(FOLDER / "plan.yaml")
        COUNTS["plans that can be read"] += 1
        for view in list(result.views())[:2]:
            view.trace(max(view.max_scroll / 3, 1.0), of="layers")
            size = result.file.viewport(view.viewport)
            if size.width * size.height < MOST_SCREEN and view.max_scroll < 10 * MOST_SCROLL:
                for scroll in (0, view.max_scroll):
                    view.frame(scroll)
                if view.max_scroll < MOST_SCROLL:
                    view.check()


# --- drawings, pictures and fonts ----------------------------------------------------------------


def drawing(text: str) -> None:
    """A drawing is refused, or drawn at its own size where that is not large."""
    with watched("drawings"), suppress(FileFault, rl.LanternError):
        (FOLDER / "fuzzed.svg").write_text(text, "utf-8", errors="replace")
        found = find_picture(FOLDER, "fuzzed.svg")
        if found.width * found.height < MOST_PIXELS:
            premultiplied(found)
            COUNTS["drawings that were drawn"] += 1


def picture(index: int, damage: list[tuple[float, bytes, int]]) -> None:
    """A damaged picture is refused, or its pixels are there."""
    with watched("pictures"), suppress(FileFault, rl.LanternError):
        (FOLDER / "fuzzed.png").write_bytes(damaged(PICTURES[index], damage))
        found = find_picture(FOLDER, "fuzzed.png")
        if found.width * found.height < MOST_PIXELS:
            premultiplied(found.at(found.frames - 1))
            COUNTS["pictures that were decoded"] += 1


def font(damage: list[tuple[float, bytes, int]]) -> None:
    """A plan with a damaged font is refused, or its text is drawn."""
    with watched("fonts"), suppress(rl.LanternError):
        (FOLDER / "fuzzed.ttf").write_bytes(damaged(FONT, damage))
        (FOLDER / "font.yaml").write_text(
            "rising-lantern: 1\nviewports: {laptop: 300x200}\nfonts: {own: fuzzed.ttf}\n"
            "pages: {page: {sections: {a: {height: 200px, content: [{text: Saltmere Regatta, font: own}]}}}}\n",
            "utf-8",
        )
        rl.read(FOLDER / "font.yaml").view().frame(0)
        COUNTS["fonts that were drawn with"] += 1


# --- command lines -------------------------------------------------------------------------------

# These take long on any plan, and are tried with help only.
SLOW = {"demo", "new", "preview", "compare", "tune"}


def command_line(words: list[str]) -> None:
    """A call ends with one of the statuses that mean something."""
    from rising_lantern.cli import commands  # noqa: PLC0415 - most targets need none
    from rising_lantern.cli.running import run  # noqa: PLC0415

    if SLOW & set(words) and "--help" not in words:
        return
    result, faults = io.StringIO(), io.StringIO()
    with watched("command lines"), redirect_stdout(result), redirect_stderr(faults):
        status = run(commands, [word for word in words if "\0" not in word])
    said = result.getvalue() + faults.getvalue()
    if status not in {0, 1, 2} or "fault of its own" in said:
        raise AssertionError(f"status {status}: {said[-2000:]}")
    if {sign for sign in said if not sign.isprintable()} - set("\n\t\u200c\u200d"):
        raise AssertionError(f"a control character was printed: {said[-2000:]!r}")
