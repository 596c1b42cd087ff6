"""What a frame costs, over what copying its pixels costs, in one run.

    python benchmarks/frames.py

Prints what a frame of each kind of page takes among others, as a multiple of m, the time to copy
one 1280 x 800 x 3 frame. The aims: 2.3 m for plain, fixed and moving pictures with a see-through
header, 7 m with content that moves differently from what is behind it.
"""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from functools import partial
from itertools import cycle
from pathlib import Path

import numpy as np
from PIL import Image

import rising_lantern as rl
from figures import Report
from rising_lantern.api.views import View

_HEAD = """
rising-lantern: 1
viewports: {laptop: 1280x800}
headers:
  main:
    height: 80px
    background: rgb(10 20 40 / .5)
    color: white
    parts:
      brand: {text: Saltmere, weight: 700, side: start}
      menu: {text: [Programme, Tickets, Visit, Journal], side: end}
pages:
  page:
    sections:
"""
_PLAIN = "height: 800px, background: '#405060'"
_MOVING = "height: 800px, layers: [{image: a.jpg, speed: 0.4}]"
_TINTED = (
    "height: 800px, layers: [{fill: 'linear-gradient(#0008, #0000)'}, {image: a.jpg, speed: 0.4}]"
)
_TEXT = "content: [{text: 'The river carries the light', size: 60px, color: white}]"
_KINDS = {
    "plain sections, no header": _PLAIN,
    "plain sections": _PLAIN,
    "fixed pictures": "height: 800px, layers: [{image: a.jpg, attachment: fixed}]",
    "pictures at speed 0.4": _MOVING,
    "speed 0.4 under text": f"{_MOVING}, {_TEXT}",
    "speed 0.4 under gradient and text": f"{_TINTED}, {_TEXT}",
}


_RUN = 60  # frames one after the other: a second of an animation


def main() -> None:
    """Measure each kind of page and print the ratios."""
    report = Report("frames")
    rng = np.random.default_rng(1)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        noise = rng.integers(0, 255, (1200, 1800, 3), dtype=np.uint8)
        Image.fromarray(noise).save(folder / "a.jpg")
        for kind, section in _KINDS.items():
            view = _view(folder, kind, section)
            report.measure(f"12 sections painted, {kind}", partial(_painted, view), 1)
            positions = cycle(range(0, view.max_scroll, 37))
            report.measure(f"a frame, {kind}", partial(_next_frame, view, positions), 9, _RUN)
    report.write()


def _painted(view: View) -> None:
    """Have all of a page painted: each section once."""
    for scroll in range(0, view.max_scroll, 400):
        view.pixels(scroll)


def _next_frame(view: View, positions: Iterator[int]) -> None:
    view.pixels(float(next(positions)))


def _view(folder: Path, kind: str, section: str) -> View:
    """A page of twelve like sections."""
    head, pages = _HEAD.split("pages:")
    if "no header" in kind:
        head = head.split("headers:", maxsplit=1)[0]
    rows = [f"      s{index}: {{{section}}}\n" for index in range(12)]
    plan = folder / "plan.yaml"
    plan.write_text(f"{head}pages:{pages}{''.join(rows)}", "utf-8")
    return rl.read(plan).view()


if __name__ == "__main__":
    main()
