"""What reading a large plan costs, over what parsing its YAML alone costs, in one run.

    python benchmarks/reading.py

The plan has 1,000 pages and 8,000 sections, some of them different on a phone.
"""

from __future__ import annotations

import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import yaml

import rising_lantern as rl
from rising_lantern.plan.text.nodes import parse

_HEAD = """\
rising-lantern: 1
viewports: {laptop: 1280x800, phone: 390x844@3}
colors: {ink: "#16213e", paper: "#fdf6e3"}
headers:
  main:
    looks: {clear: {}, solid: {from: past section-0, background: paper, color: ink}}
pages:
"""
_SECTION = """\
      section-{index}:
        height: calc(100vh - {index}px)
        background: paper
        layers:
          - {{fill: "linear-gradient(ink, transparent 60%)", speed: 0.4}}
        content:
          - {{text: The river carries the light, size: 40px, color: ink, at: 50% 40%}}
"""


def main() -> None:
    """Write a large plan, read it in both ways, and print the ratio."""
    pages = []
    for page in range(1000):
        pages.append(f"  page-{page}:\n    path: /journal/{page}\n    sections:\n")
        pages += [_SECTION.format(index=index) for index in range(8)]
        if page % 10 == 0:
            pages.append("        for: {phone: {height: 600px}}\n")
    text = _HEAD + "".join(pages)
    with tempfile.TemporaryDirectory() as name:
        path = Path(name) / "plan.yaml"
        path.write_text(text, "utf-8")
        loader = getattr(yaml, "CSafeLoader", yaml.SafeLoader)
        alone = _timed(lambda: yaml.load(text, Loader=loader))  # noqa: S506 - a safe loader
        placed = _timed(lambda: parse(text, "plan.yaml"))
        read = _timed(lambda: rl.read(path))
    print(f"{len(text) / 1e6:.1f} MB, 1,000 pages, 8,000 sections, two viewports")
    print(f"its YAML alone          {alone:6.2f} s")
    print(f"YAML with places        {placed / alone:6.2f} times that")
    print(f"read and checked whole  {read / alone:6.2f} times that ({read:.2f} s)")


def _timed(call: Callable[[], object]) -> float:
    taken = []
    for _ in range(3):
        start = time.perf_counter()
        call()
        taken.append(time.perf_counter() - start)
    return min(taken)


if __name__ == "__main__":
    main()
