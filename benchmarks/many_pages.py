"""What a plan of many different pages costs, and how that grows with their number.

    python benchmarks/many_pages.py 10 30 100

Each page has eight sections, and there are three screens. For each number of pages, what it takes
to read the plan, to check it, to list it, and to preview and compare one page, is printed per
page, with the greatest memory of a process that checks all of it.
"""

from __future__ import annotations

import subprocess
import sys
import tempfile
from pathlib import Path

import numpy as np
from PIL import Image

import rising_lantern as rl
from figures import Report
from rising_lantern.jobs.job import Job
from rising_lantern.previews.comparing import Comparing
from rising_lantern.previews.drawing import DrawTask

_HEAD = """
rising-lantern: 1
viewports: {laptop: 1280x800, tablet: 820x1180, phone: 390x844}
headers:
  main:
    height: 80px
    position: sticky
    color: white
    background: rgb(11 16 38 / .4)
    parts: {brand: {text: Saltmere, weight: 700, side: start}, menu: {text: [Visit], side: end}}
    looks: {clear: {}, solid: {from: 300px, background: "#0b1026"}}
pages:
"""
_MEMORY = """
import resource, sys
import rising_lantern as rl
list(rl.iter_check(rl.read(sys.argv[1]), jobs=1))
print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)
"""


def plan_of(count: int) -> str:
    """A plan of a number of pages, all of them different."""
    return _HEAD + "".join(_page(number) for number in range(count))


def _page(number: int) -> str:
    """One page: pictures, tints and texts whose sizes and colours are its own."""
    rows = [f"  p{number}:\n    sections:\n"]
    for place in range(8):
        height = 420 + (number * 37 + place * 53) % 400
        kind, color = (
            (f"background: 'hsl({(number * 17 + place * 40) % 360} 40% 20%)'", "white"),
            ("layers: [{image: river.jpg, speed: 0.4}]", "white"),
            ("layers: [{fill: 'linear-gradient(#000a, #0003)'}, {image: river.jpg}]", "white"),
            ("background: '#fdf6e3'", "'#16213e'"),
        )[place % 4]
        text = f"{{text: Boat {number} of the night, size: {28 + number % 20}px, color: {color}}}"
        rows.append(f"      s{place}: {{height: {height}px, {kind}, content: [{text}]}}\n")
    return "".join(rows)


def main(counts: list[int]) -> None:
    """Measure plans of some numbers of pages."""
    report = Report("pages")
    rng = np.random.default_rng(3)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        noise = rng.integers(20, 90, (60, 90, 3), dtype=np.uint8)
        Image.fromarray(noise).resize((1800, 1200)).save(folder / "river.jpg")
        for count in counts:
            path = folder / f"plan{count}.yaml"
            path.write_text(plan_of(count), "utf-8")
            _measure(report, path, count)
    report.write()


def _measure(report: Report, path: Path, count: int) -> None:
    read = report.measure(f"{count} pages: read", lambda: rl.read(path), 1)
    plan = rl.read(path)
    check = report.measure(f"{count} pages: check", lambda: rl.check(plan, jobs=1), 1)
    listed = report.measure(f"{count} pages: list --of switches", plan.switch_table, 1)
    page = f"p{count - 1}"
    report.measure(
        f"{count} pages: preview --page", Job(plan.file, page, "phone", DrawTask()).run, 1
    )
    pair = (("current", plan), ("slower", plan))
    comparing = Comparing(dict(pair), [(page, "phone")], None, path.parent)
    report.measure(f"{count} pages: compare --page", lambda: list(comparing.run(1, None)), 1)
    memory = subprocess.run(  # noqa: S603 - our own interpreter
        [sys.executable, "-c", _MEMORY, str(path)], capture_output=True, text=True, check=True
    )
    each = "  ".join(
        f"{what} {seconds / count * 1000:.1f} ms"
        for what, seconds in (("read", read), ("check", check), ("list", listed))
    )
    print(f"  a page: {each}; {int(memory.stdout) / 1000:.0f} MB at most")


if __name__ == "__main__":
    main([int(word) for word in sys.argv[1:]] or [10, 30, 100])
