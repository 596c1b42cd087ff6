"""Figures of one run: ratios to the time that copying one frame takes at that moment.

The speed of a machine drifts while it is measured, so each measurement has a copy beside it.
"""

from __future__ import annotations

import json
import os
import statistics
import time
from collections.abc import Callable, Sequence
from dataclasses import asdict, dataclass, field
from functools import cache, partial
from pathlib import Path

import numpy as np
from numpy.typing import NDArray

RESULTS = Path(os.environ.get("BENCH_JSON", "bench.json"))


@dataclass(frozen=True, slots=True)
class Figure:
    """What something costs.

    Attributes:
        name: What was measured.
        unit: What its figures are multiples of; ``m`` for the copy of a frame of 1280 x 800 x 3.
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
        took, ratios = [], []
        for _ in range(runs):
            m = copy_of_a_frame()
            took.append(timed(lambda: [call() for _ in range(in_a_row)]) / in_a_row)
            ratios.append(took[-1] / m)
        self.add(name, ratios)
        return statistics.median(took)

    def add(self, name: str, ratios: Sequence[float], unit: str = "m") -> None:
        """Print figures of several runs, and keep them."""
        low, middle, high = (float(np.quantile(ratios, share)) for share in (0.25, 0.5, 0.75))
        self.figures.append(Figure(name, unit, middle, low, high, len(ratios)))
        print(f"{name:48} {middle:10.2f} {unit}  ({low:.2f} to {high:.2f})")

    def write(self) -> None:
        """Put the figures into the file of all benchmarks."""
        known = json.loads(RESULTS.read_text("utf-8")) if RESULTS.exists() else {}
        known[self.name] = [asdict(figure) for figure in self.figures]
        RESULTS.write_text(json.dumps(known, indent=1) + "\n", "utf-8")


@cache
def _frames() -> list[NDArray[np.uint8]]:
    """As many frames as the pages of the benchmarks have sections: more than caches hold."""
    return [np.full((800, 1280, 3), level, dtype=np.uint8) for level in range(13)]


def copy_of_a_frame() -> float:
    """m: the seconds that copying a frame takes, of several in turn; the median of them."""
    room, *frames = _frames()
    return statistics.median(timed(partial(np.copyto, room, frame)) for frame in frames)


def timed(call: Callable[[], object]) -> float:
    """The seconds that a call takes."""
    start = time.perf_counter()
    call()
    return time.perf_counter() - start
