"""What reading a header at every px of scroll costs, as a multiple of copying a frame.

A page of 10,000 px at 1280 x 800, four parts, two looks, over plain, fixed and moving pictures.
"""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from PIL import Image

import rising_lantern as rl

_PLAN = """
rising-lantern: 1
viewports: {laptop: 1280x800}
headers:
  main:
    height: 80px
    color: white
    parts:
      brand: {text: Saltmere, weight: 700, side: start}
      menu: {text: [Programme, Lanterns, Visit, Journal], side: center}
      search: {text: Search, side: end}
      tickets: {text: Tickets, side: end}
    looks:
      clear: {}
      tinted: {from: 5000px, background: rgb(10 20 40 / .6)}
pages:
  page:
    sections:
"""
_KINDS = (
    "layers: [{image: a.jpg}]",
    "layers: [{image: a.jpg, attachment: fixed}]",
    "layers: [{image: a.jpg, speed: 0.4}]",
)


def main() -> None:
    """Measure and print the ratios."""
    rng = np.random.default_rng(1)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        noise = rng.integers(0, 255, (1200, 1800, 3), dtype=np.uint8)
        Image.fromarray(noise).save(folder / "a.jpg")
        rows = [f"      s{i}: {{height: 800px, {_KINDS[i % 3]}}}\n" for i in range(12)]
        (folder / "plan.yaml").write_text(_PLAN + "".join(rows) + "      end: {height: 400px}\n")
        view = rl.read(folder / "plan.yaml").view()
        for scroll in range(0, view.max_scroll, 400):
            view.pixels(scroll)
        frame = view.pixels(0)
        m = min(_timed(lambda: np.copyto(np.empty_like(frame), frame)) for _ in range(50))
        took = min(_timed(view.readability) for _ in range(3))
        print(f"m, a frame copied: {m * 1000:.3f} ms; {view.max_scroll + 1} positions")
        each = took / (view.max_scroll + 1)
        print(f"readability at every px: {took / m:.0f} m, {each / m:.2f} m a position")


def _timed(call: Callable[[], object]) -> float:
    start = time.perf_counter()
    call()
    return time.perf_counter() - start


if __name__ == "__main__":
    main()
