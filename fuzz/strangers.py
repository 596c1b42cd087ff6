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
from argparse import ArgumentParser, Namespace, RawDescriptionHelpFormatter
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
from patience import COUNTS, FOLDER, MEMORY, PATIENCE
from PIL import Image
from surroundings import GESTURES, HOSTS, REQUESTS, TOKENS, gesture, host, requests, tokens, video
from targets import command_line, drawing, font, picture, plan, value

_SHARE = 0.05  # of a round's inputs that are tried with a seed
_ENOUGH = 20  # faults to work on

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


def passes(name: str, number: int, share: float = 1.0) -> bool:
    """Whether a target does with inputs of a seed; what it does not with is printed.

    Args:
        name: The target.
        number: The seed.
        share: How many of its examples are tried, as a share of one round's.
    """
    target, given, count = TARGETS[name]
    tried = settings(
        max_examples=max(round(count * share), 1),
        deadline=None,
        database=None,
        suppress_health_check=list(HealthCheck),
        phases=(Phase.generate, Phase.shrink),
    )(seed(number)(given_(st.tuples(*given))(_copy(target))))
    try:
        tried()
    except Exception:  # noqa: BLE001 - this is what is looked for
        print(f"--- {name}, seed {number}\n{traceback.format_exc()[-4000:]}", flush=True)
        return False
    return True


def main(arguments: Namespace) -> int:
    """Run the targets in turn until the time is over; with a seed, a part of one round."""
    prepare()
    names = arguments.target or list(TARGETS)
    end, found = time.monotonic() + 60 * arguments.minutes, 0
    if arguments.seed is not None:
        PATIENCE["seconds"] = 600  # whoever gives a seed asks what is found, on any machine
        found = sum(not passes(name, arguments.seed, _SHARE) for name in names)
    while arguments.seed is None and time.monotonic() < end and found < _ENOUGH:
        for name in names:
            if time.monotonic() < end:
                found += not passes(name, random.SystemRandom().randrange(2**32))
        print(f"{time.strftime('%H:%M:%S')} {json.dumps(COUNTS)}", flush=True)
    shutil.rmtree(FOLDER, ignore_errors=True)
    print(f"{found} found in {sum(COUNTS.values()):,} inputs")
    return 1 if found else 0


def arguments() -> Namespace:
    """What was asked for on the command line."""
    parser = ArgumentParser(description=__doc__, formatter_class=RawDescriptionHelpFormatter)
    parser.add_argument("minutes", nargs="?", type=float, default=10.0)
    parser.add_argument("--target", action="append", choices=TARGETS, help="one of what is tried")
    parser.add_argument("--seed", type=int, help="try a few inputs of this seed, and end")
    return parser.parse_args()


if __name__ == "__main__":
    sys.exit(main(arguments()))
