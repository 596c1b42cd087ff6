"""Random input of every kind, for as long as is asked for.

``make fuzz MINUTES=10``. Whatever comes in, the library may refuse it with an error of its own, and
nothing else: no other exception, no crash, no call that takes longer than a user would wait. What is
found is printed with the input that shows it, reduced by Hypothesis, and the run ends with status 1.
"""

from __future__ import annotations

import json
import os
import random
import resource
import shutil
import sys
import time
import traceback
import warnings
from collections.abc import Callable
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
    MUCH,
    PICTURES,
    SEEDS,
    SMALL,
    VALUES,
    VARIED,
    WORDS,
    edited,
    varied,
)
from patience import COUNTS, FOLDER, MEMORY
from PIL import Image
from surroundings import GESTURES, HOSTS, REQUESTS, TOKENS, gesture, host, requests, tokens, video
from targets import command_line, drawing, font, picture, plan, value

# --- running -------------------------------------------------------------------------------------

# What is tried, what it is given, and how many examples of it are tried in turn.
TARGETS: dict[str, tuple[Callable[..., None], tuple[st.SearchStrategy[Any], ...], int]] = {
    "values": (value, (VALUES,), 400),
    "plans": (plan, (st.builds(edited, st.sampled_from([SMALL, MUCH, MUCH, *SEEDS]), EDITS),), 60),
    "odd plans": (plan, (st.builds(varied, VARIED),), 60),
    "drawings": (drawing, (DRAWINGS,), 60),
    "pictures": (picture, (st.integers(0, len(PICTURES) - 1), DAMAGE), 300),
    "fonts": (font, (DAMAGE,), 60),
    "command lines": (command_line, (st.lists(WORDS, max_size=7),), 60),
    "tokens": (tokens, (TOKENS,), 100),
    "gestures": (gesture, (GESTURES,), 100),
    "videos": (video, (DAMAGE,), 20),
    "hosts": (host, (HOSTS,), 200),
    "live": (requests, (REQUESTS,), 15),
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
