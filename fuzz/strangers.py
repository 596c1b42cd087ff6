"""Random plans, values, drawings, pictures, fonts and command lines, for as long as is asked for.

``make fuzz MINUTES=10``. Whatever comes in, the library may refuse it with an error of its own, and
nothing else: no other exception, no crash, no call that takes longer than a user would wait. What is
found is printed with the input that shows it, reduced by Hypothesis, and the run ends with status 1.
"""

from __future__ import annotations

import io
import json
import os
import random
import resource
import shutil
import signal
import sys
import tempfile
import time
import traceback
import warnings
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import contextmanager, redirect_stderr, redirect_stdout, suppress
from pathlib import Path
from typing import Any

import numpy as np
from hypothesis import HealthCheck, Phase, seed, settings
from hypothesis import given as given_
from hypothesis import strategies as st
from inputs import (
    DAMAGE,
    DRAWINGS,
    EDITS,
    FONT,
    PICTURES,
    SEEDS,
    SMALL,
    VALUES,
    VARIED,
    WORDS,
    damaged,
    edited,
    varied,
)
from PIL import Image

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

PATIENCE = 30  # seconds that one input may take
MOST_PIXELS = 4_000_000  # of what is drawn or decoded
MOST_SCREEN = 300_000  # px of a screen that is painted
MOST_SCROLL = 2_000  # px of a page that is checked at every one of them
MEMORY = 4_000_000_000
FOLDER = Path(tempfile.mkdtemp(prefix="fuzz-"))
COUNTS: Counter[str] = Counter()


class TooSlowError(Exception):
    """An input takes longer than a user would wait."""


@contextmanager
def watched(kind: str) -> Iterator[None]:
    """Count an input; end it where it takes too long."""

    def late(_number: int, _frame: object) -> None:
        raise TooSlowError(f"more than {PATIENCE} s")

    COUNTS[kind] += 1
    signal.signal(signal.SIGALRM, late)
    signal.alarm(PATIENCE)
    try:
        yield
    finally:
        signal.alarm(0)


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


# --- running -------------------------------------------------------------------------------------

# What is tried, what it is given, and how many examples of it are tried in turn.
TARGETS: dict[str, tuple[Callable[..., None], tuple[st.SearchStrategy[Any], ...], int]] = {
    "values": (value, (VALUES,), 400),
    "plans": (plan, (st.builds(edited, st.sampled_from([SMALL, SMALL, *SEEDS]), EDITS),), 60),
    "odd plans": (plan, (st.builds(varied, VARIED),), 60),
    "drawings": (drawing, (DRAWINGS,), 60),
    "pictures": (picture, (st.integers(0, len(PICTURES) - 1), DAMAGE), 300),
    "fonts": (font, (DAMAGE,), 60),
    "command lines": (command_line, (st.lists(WORDS, max_size=7),), 60),
}


def _copy(target: Callable[..., None]) -> Callable[..., None]:
    """A function of its own for each run, which Hypothesis marks."""

    def run(inputs: tuple[Any, ...]) -> None:
        target(*inputs)

    return run


def prepare() -> None:
    """Files that plans and command lines name."""
    os.chdir(FOLDER)
    warnings.simplefilter("error")
    Image.fromarray(np.random.default_rng(1).integers(0, 255, (90, 120, 3), np.uint8)).save(
        "photo.png"
    )
    Image.new("RGBA", (60, 20), (250, 240, 220, 255)).save("logo.png")
    Path("drawn.svg").write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="40" height="40"><path fill="red" d="M0 0h20v40z"/></svg>',
        "utf-8",
    )
    Path("small.yaml").write_text(SMALL, "utf-8")
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))


def main(minutes: float, only: list[str]) -> int:
    """Run the targets in turn until the time is over."""
    prepare()
    end = time.monotonic() + 60 * minutes
    found = 0
    while time.monotonic() < end and found < 20:  # noqa: PLR2004 - enough to work on
        for name, (target, given, count) in TARGETS.items():
            if (only and name not in only) or time.monotonic() > end:
                continue
            number = random.SystemRandom().randrange(2**32)
            tried = settings(
                max_examples=count,
                deadline=None,
                database=None,
                suppress_health_check=list(HealthCheck),
                phases=(Phase.generate, Phase.shrink),
            )(seed(number)(given_(st.tuples(*given))(_copy(target))))
            try:
                tried()
            except Exception:  # noqa: BLE001 - this is what is looked for
                found += 1
                print(f"--- {name}, seed {number}\n{traceback.format_exc()[-4000:]}", flush=True)
        print(f"{time.strftime('%H:%M:%S')} {json.dumps(COUNTS)}", flush=True)
    shutil.rmtree(FOLDER, ignore_errors=True)
    print(f"{found} found in {sum(COUNTS.values()):,} inputs")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main(float(sys.argv[1]) if len(sys.argv) > 1 else 10, sys.argv[2:]))
