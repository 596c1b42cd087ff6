"""Figures of one run: ratios to what something fixed takes at that moment.

The speed of a machine drifts while it is measured, so each measurement has the copy of a frame and
a loop of arithmetic beside it: memory and arithmetic slow down apart. A figure that is a tenth
worse than that of the last run which was written down, by both, is marked.
"""

from __future__ import annotations

import json
import os
import resource
import statistics
import subprocess
import sys
import time
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass, field
from functools import cache, cached_property, partial
from math import inf
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

_WORSE = 1.1  # times
RESULTS = Path(os.environ.get("BENCH_JSON", "bench.json"))


@dataclass(frozen=True, slots=True)
class Figure:
    """What something costs.

    Attributes:
        name: What was measured.
        unit: What its figures are multiples of; ``m`` for the copy of a frame of 1280 x 800 x 3.
        loops: The median as multiples of a fixed loop of arithmetic; None where there is none.
        median: The median of its runs.
        low: The lower quartile.
        high: The upper one.
        runs: How many there were.
    """

    name: str
    unit: str
    median: float
    low: float
    high: float
    runs: int
    loops: float | None = None

    def is_worse(self, earlier: Mapping[str, Any]) -> bool:
        """Whether it is a tenth worse than in an earlier run, however that is measured."""
        pairs = [(self.median, earlier.get("median")), (self.loops, earlier.get("loops"))]
        return all(now > _WORSE * then for now, then in pairs if now and then)


@dataclass
class Report:
    """The figures of one benchmark, printed as they come and written to a file at the end."""

    name: str
    figures: list[Figure] = field(default_factory=list)

    def measure(
        self, name: str, call: Callable[[], object], runs: int = 9, in_a_row: int = 1
    ) -> float:
        """Measure a call against m, and return the median of its seconds.

        Args:
            name: What is measured.
            call: The call.
            runs: How many times it is measured.
            in_a_row: How often it is called each time; its figure is the mean of these.
        """
        took, ratios, loops = [], [], []
        for _ in range(runs):
            m, loop = copy_of_a_frame(), loop_of_arithmetic()
            took.append(timed(lambda: [call() for _ in range(in_a_row)]) / in_a_row)
            ratios.append(took[-1] / m)
            loops.append(took[-1] / loop)
        self.add(name, ratios, loops=loops)
        return statistics.median(took)

    def measure_command(self, name: str, words: Sequence[str], runs: int) -> None:
        """Measure the CPU that a command takes, with all of its processes.

        Args:
            name: What is measured.
            words: The command.
            runs: How many times it is measured.
        """
        ratios, loops = [], []
        for _ in range(runs):
            start, loop = start_of_python(), loop_of_arithmetic()
            took = _cpu_of(words)
            ratios.append(took / start)
            loops.append(took / loop)
        self.add(name, ratios, "starts of Python", loops)

    def add(
        self,
        name: str,
        ratios: Sequence[float],
        unit: str = "m",
        loops: Sequence[float] = (),
    ) -> None:
        """Print figures of several runs, and keep them."""
        low, middle, high = (float(np.quantile(ratios, share)) for share in (0.25, 0.5, 0.75))
        other = statistics.median(loops) if loops else None
        figure = Figure(name, unit, middle, low, high, len(ratios), other)
        self.figures.append(figure)
        mark = "  WORSE" if figure.is_worse(self._earlier.get(name, {"median": inf})) else ""
        beside = f"; {other:.1f} loops" if other else ""
        print(f"{name:48} {middle:10.2f} {unit}  ({low:.2f} to {high:.2f}{beside}){mark}")

    @cached_property
    def _earlier(self) -> dict[str, Any]:
        """The figures of the last run that was written down, by their names."""
        return {figure["name"]: figure for figure in _known().get(self.name, [])}

    def write(self) -> None:
        """Put the figures into the file of all benchmarks."""
        known = _known()
        known[self.name] = [asdict(figure) for figure in self.figures]
        RESULTS.write_text(json.dumps(known, indent=1) + "\n", "utf-8")


def _known() -> dict[str, Any]:
    """What the file of all benchmarks has."""
    found: dict[str, Any] = json.loads(RESULTS.read_text("utf-8")) if RESULTS.exists() else {}
    return found


@cache
def _frames() -> list[NDArray[np.uint8]]:
    """As many frames as the pages of the benchmarks have sections: more than caches hold."""
    return [np.full((800, 1280, 3), level, dtype=np.uint8) for level in range(13)]


def copy_of_a_frame() -> float:
    """m: the seconds that copying a frame takes, of several in turn; the median of them."""
    room, *frames = _frames()
    return statistics.median(timed(partial(np.copyto, room, frame)) for frame in frames)


def loop_of_arithmetic() -> float:
    """The seconds that a fixed loop of arithmetic takes; the median of a few."""
    return statistics.median(timed(lambda: sum(i * i for i in range(100_000))) for _ in range(5))


def start_of_python() -> float:
    """The CPU seconds that Python alone takes to start and end; the median of a few."""
    return statistics.median(_cpu_of([sys.executable, "-c", "pass"]) for _ in range(5))


def _cpu_of(words: Sequence[str]) -> float:
    """The CPU seconds of a command, with all of its processes."""
    before = resource.getrusage(resource.RUSAGE_CHILDREN)
    ended = subprocess.run(words, capture_output=True, check=False)  # noqa: S603 - our own commands
    assert ended.returncode in {0, 1}, ended.stderr  # noqa: S101 - 1 says that something is found
    after = resource.getrusage(resource.RUSAGE_CHILDREN)
    return after.ru_utime + after.ru_stime - before.ru_utime - before.ru_stime


def timed(call: Callable[[], object]) -> float:
    """The seconds that a call takes."""
    start = time.perf_counter()
    call()
    return time.perf_counter() - start
