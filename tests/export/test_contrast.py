"""Contrast as it is measured on a browser's own screenshots, on photographs."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from findings import order
from pages import write_pages
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.contrast import ink_of, ratios
from rising_lantern.proofs.serving import served
from thorough import examples, some

pytestmark = pytest.mark.browser

POSITIONS = examples(20)
PHOTOGRAPHS = ["dusk-river", "crowd-of-lights", "night-sky", "morning-river", "jetty-planks"]
PLAN = """
rising-lantern: 1
viewports: {screen: 900x600}
headers:
  main:
    height: 72px
    color: white
    parts:
      brand: {image: marks/logo-light.png, width: 150px}
      menu: {text: [Programme, Lanterns, Visit], side: end, size: 17px}
    looks:
      clear: {background: rgb(10 16 40 / .25)}
      paper: {from: past moving, background: rgb(253 246 227 / .7), color: "#16213e"}
pages:
  home:
    sections:
      moving: {height: 900px, layers: [{image: pictures/PHOTO.jpg, speed: 0.4}]}
      fixed: {height: 700px, layers: [{fill: "linear-gradient(#fff6, #0006)"}, {image: pictures/PHOTO.jpg, attachment: fixed}]}
      plain: {height: 800px, layers: [{image: pictures/PHOTO.jpg, position: 30% 70%}]}
"""


def measured(behind: Bytes, ink: Color) -> tuple[float, float]:
    """What 95 % of some pixels reach, and the median."""
    values = ratios(behind, ink).ravel()
    return order(values, 0.05), order(values, 0.5)


@pytest.mark.parametrize("name", some(PHOTOGRAPHS, 5))
def test_contrast_is_that_of_screenshots_without_the_letters(
    chromium: Chromium, site: Path, tmp_path: Path, name: str
) -> None:
    """Within 2 % of what is measured in Chromium, at 100 positions of five photographs.

    Positions are those at which the moving picture stands on whole px. What Chromium draws there
    without a graphics card is cut off where others round, so that a level more counts as well.
    """
    path = site / f"{name}.yaml"
    path.write_text(PLAN.replace("PHOTO", name), "utf-8")
    plan = rl.read(path)
    view = plan.view()
    write_pages([view], tmp_path)
    table = view.contrast().set_index(["part", "scroll_px"])
    header = view.scene.box.header
    assert header is not None
    with served(tmp_path) as url:
        chromium.open(f"{url}/pages/home.html", 900, 600)
        chromium.run(
            "for (const s of document.querySelectorAll('.lantern-side')) s.style.opacity = 0"
        )
        for scroll in np.linspace(0, view.max_scroll // 5, POSITIONS).round() * 5:
            chromium.scroll(scroll)
            shot = chromium.screenshot()
            moment = view.at(scroll)
            assert moment.header is not None
            cut = moment.sections["moving"].bottom > 0
            for part, box in moment.header.state.parts.items():
                edges = (box.box.top, box.box.bottom, box.box.left, box.box.right)
                first, last, left, right = (whole_px(edge) for edge in edges)
                behind = shot[first:last, left:right]
                ink = ink_of(box, plan.file.files.pictures)
                seen = measured(behind, ink)
                more = measured(np.minimum(behind, 254) + 1 if cut else behind, ink)
                result = table.loc[(part, scroll)]
                for ours, item, other in zip(
                    (result.contrast, result["median"]), seen, more, strict=True
                ):
                    low, high = sorted((item, other))
                    assert low * 0.98 <= ours <= high * 1.02, (part, scroll)
