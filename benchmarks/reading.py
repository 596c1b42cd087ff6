"""What reading a large plan costs, over what parsing its YAML alone costs, in one run.

    python benchmarks/reading.py

The plan has 1,000 pages and 8,000 sections, some of them different on a phone.
"""

from __future__ import annotations

import tempfile
from pathlib import Path

import yaml

import rising_lantern as rl
from figures import Report, timed
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
        report = Report("reading")
        alone = [timed(lambda: yaml.load(text, Loader=loader)) for _ in range(3)]  # noqa: S506 - safe
        placed = [timed(lambda: parse(text, "plan.yaml")) for _ in range(3)]
        read = [timed(lambda: rl.read(path)) for _ in range(3)]
    print(
        f"{len(text) / 1e6:.1f} MB, 1,000 pages, 8,000 sections; its YAML alone {min(alone):.2f} s"
    )
    for name, took in (("YAML with places", placed), ("read and checked whole", read)):
        ratios = [one / other for one, other in zip(took, alone, strict=True)]
        report.add(name, ratios, "times the YAML alone")
    report.write()


if __name__ == "__main__":
    main()
