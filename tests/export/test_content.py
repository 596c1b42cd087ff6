"""Texts, pictures and boxes that flow: held against pages written by hand, in Chromium."""

from __future__ import annotations

import json
from pathlib import Path

import numpy as np
import pytest

from chromium import Chromium
from pages import assert_agrees, far, read, write_page
from plans import MakePlan, plan_text
from rising_lantern.layout.fonts import FontBook
from rising_lantern.proofs.comparing import content_box
from rising_lantern.proofs.serving import served

pytestmark = pytest.mark.browser

_STYLE = """
@font-face { font-family: S; src: url(sans.ttf) }
@font-face { font-family: S; font-weight: 700; src: url(bold.ttf) }
* { box-sizing: border-box; margin: 0 }
body { font: 18px/25px S; text-rendering: geometricPrecision; font-variant-ligatures: none }
section { position: relative; overflow: clip; display: grid; align-content: start }
section > *, article > * { justify-self: start; align-self: start }
article { display: grid; align-content: start; justify-self: stretch; align-self: stretch }
img { display: block; object-fit: cover; max-width: 100% }
"""
_WORDS = "Four hundred boats and a lantern for everyone who comes down to the quay"

_BROKEN = [
    "Ask the lock-keeper at noon",
    "from 12–14 September on",
    "river—and the salt—sea",
    "well… then and now…soon",
    "why not?because of this",
    "boat/quay and/or jetty|mill",
    "all five\u00a0boats go by",
    "(half-way) there, e-mail-us!",
]

# A section of a plan, and the same by hand; what is compared is marked with an x, in its order.
PAGES = {
    "a column": (
        (
            "height: auto, padding: 60px 8vw 30px, gap: 20px, content: ["
            f"{{text: {_WORDS}, width: 300px}}, {{text: Saltmere, align: end}}, "
            "{image: photo.png, width: 50%, align: center}]"
        ),
        (
            "<section style='padding: 60px 8vw 30px; gap: 20px'>"
            f"<p x style='max-width: 300px'>{_WORDS}</p><p x style='justify-self: end'>Saltmere</p>"
            "<img x src=photo.png style='width: 50%; justify-self: center'></section>"
        ),
    ),
    "columns of a share and a length": (
        (
            "columns: 2fr 240px 1fr, gap: 10px 24px, content: ["
            f"{{text: {_WORDS}}}, {{text: {_WORDS}}}, {{text: Low tide}}, {{text: High tide}}]"
        ),
        (
            "<section style='grid-template-columns: minmax(0, 2fr) 240px minmax(0, 1fr);"
            f"gap: 10px 24px'><p x>{_WORDS}</p><p x>{_WORDS}</p><p x>Low tide</p><p x>High tide</p>"
            "</section>"
        ),
    ),
    "a box as high as its row": (
        (
            "padding: 40px, columns: 1fr 1fr, gap: 30px, content: ["
            "{box: {border: 4px solid red, padding: 10% 20px, gap: 8px, content: ["
            f"{{text: Moorings, weight: 700}}, {{text: {_WORDS}}}]}}}}, "
            "{box: {background: '#fdf6e3', radius: 12px, content: ["
            "{image: photo.png, height: 90px}]}}]"
        ),
        (
            "<section style='padding: 40px; grid-template-columns: 1fr 1fr; gap: 30px'>"
            "<article x style='border: 4px solid red; padding: 10% 20px; gap: 8px'>"
            f"<p x style='font-weight: 700'>Moorings</p><p x>{_WORDS}</p></article>"
            "<article x style='background: #fdf6e3; border-radius: 12px; overflow: clip'>"
            "<img x src=photo.png style='height: 90px'></article></section>"
        ),
    ),
    "hyphens, dashes and spaces that hold": (
        (
            "padding: 20px, gap: 4px, content: ["
            + ", ".join(f"{{text: {json.dumps(words)}, width: 96px}}" for words in _BROKEN)
            + "]"
        ),
        (
            "<section style='padding: 20px; gap: 4px'>"
            + "".join(f"<p x style='max-width: 96px'>{words}</p>" for words in _BROKEN)
            + "</section>"
        ),
    ),
    "a least height": (
        (
            "min-height: 70vh, padding: 20px, background: '#16213e', "
            "content: [{text: Saltmere, color: white}]"
        ),
        (
            "<section style='min-height: 70vh; padding: 20px; background: #16213e; color: white'>"
            "<p x>Saltmere</p></section>"
        ),
    ),
}


def _by_hand(folder: Path, html: str) -> None:
    for name, weight in (("sans", 400), ("bold", 700)):
        face = FontBook({}).face("sans", weight)
        (folder / f"{name}.ttf").write_bytes(face.file.read_bytes())
    text = f"<!doctype html><meta charset=utf-8><style>{_STYLE}</style><body>{html}"
    (folder / "hand.html").write_text(text, "utf-8")


@pytest.mark.parametrize("name", PAGES)
def test_what_flows_stands_as_on_a_page_written_by_hand(
    chromium: Chromium, make_plan: MakePlan, folder: Path, name: str
) -> None:
    section, html = PAGES[name]
    view = make_plan(plan_text(sections=f"a: {{{section}}}, b: {{height: 900px}}")).view()
    _by_hand(folder, html)
    with served(folder) as url:
        chromium.open(f"{url}/hand.html", 1000, 600)
        found = chromium.run(
            "return document.fonts.ready.then(() => [...document.querySelectorAll('section, [x]')]"
            ".map(item => { const b = item.getBoundingClientRect();"
            " return [b.left, b.top, b.width, b.height] }))"
        )
        shot = chromium.screenshot().astype(int)
    own = view.scene.box.sections[0]
    boxes = [own.box, *(content_box(item, 0.0, 0.0) for item in own.items)]
    assert len(found) == len(boxes)
    for rectangle, box in zip(found, boxes, strict=True):
        assert far(rectangle, box) <= 0.5
    assert np.abs(shot - view.pixels(0)).mean() < 3


CONTENTS = {
    "lines that fill their width": (
        "padding: 30px, columns: 1fr 2fr, gap: 20px, content: ["
        "{text: River, size: one-line}, {text: 'River of\nlight', size: one-line, width: 70%}, "
        "{text: Tides, size: one-line 40px, align: center}, "
        "{text: Quay, size: one-line, panel: {color: red, padding: 20px}, align: end}]"
    ),
    "a placed line": (
        "height: 500px, width: 80%, content: ["
        "{text: The river carries the light, size: one-line, at: 30% 20%}, "
        "{text: Saltmere, size: one-line 90px, at: 50% 60%, panel: {color: red}}, "
        "{text: Lanterns, size: one-line, width: 300px, at: 90% 90%}]"
    ),
    "placed pictures and boxes": (
        "height: 700px, content: [{image: photo.png, at: 30% 40%, radius: 20px, speed: 0.8}, "
        "{image: photo.png, width: 120%, height: 20vh, at: right 10px bottom 5%}, "
        "{box: {background: white, padding: 20px, gap: 8px, content: [{text: Low tide}, "
        "{box: {border: 2px solid red, content: [{text: Within}]}}]}, width: 40%, at: 80% 20%, "
        "z: 3}]"
    ),
    "what flows below what is placed": (
        "padding: 40px, content: [{text: Placed, at: 90% 10%}, {text: Flowing, speed: 1.2}, "
        "{box: {content: [{text: In a box}], color: red}, speed: 0.7, width: 50%, align: center}]"
    ),
}


@pytest.mark.parametrize("name", CONTENTS)
@pytest.mark.parametrize("width", [1000, 700])
def test_an_exported_section_shows_its_content_in_its_place(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, name: str, width: int
) -> None:
    sections = f"a: {{{CONTENTS[name]}}}, b: {{height: 900px}}"
    plan = make_plan(plan_text(sections=sections, viewports=f"laptop: {width}x600"))
    page = write_page(plan.view(), tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", width, 600)
        for scroll in (0, 150):
            chromium.scroll(scroll)
            assert_agrees(read(chromium, plan.view()), plan.view(), scroll)


@pytest.mark.parametrize("hold", ["true", "false"])
@pytest.mark.parametrize("height", ["auto", "500px"])
def test_a_header_in_a_section_that_flows_takes_none_of_its_room(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, height: str, hold: str
) -> None:
    header = (
        f"position: sticky, inside: a, height: 90px, hold-space: {hold}, "
        "looks: {tall: {}, low: {from: 120px, height: 50px}}"
    )
    section = f"height: {height}, padding: 120px 40px, content: [{{text: {_WORDS}, size: 60px}}]"
    text = plan_text(
        sections=f"z: {{height: 200px}}, a: {{{section}}}, b: {{height: 900px}}", header=header
    )
    view = make_plan(text).view()
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        for scroll in (0, 110, 250, 560):
            assert chromium.scroll(scroll) == scroll
            assert_agrees(read(chromium, view), view, scroll)


_OVERLAPS = (
    "a: {padding: 40px, background: '#16213e', content: [{text: Saltmere, color: white}]}, "
    "b: {overlap: 60px, padding: 90px 20px, width: 80%, "
    "layers: [{fill: 'linear-gradient(#f4a259, transparent)'}], content: [{text: Lanterns}]}, "
    "c: {overlap: 2000px, height: 300px, z: -1, layers: [{image: photo.png, speed: 0.6}]}, "
    "d: {height: 900px, overlap: 5vh, background: '#fdf6e3'}"
)


@pytest.mark.parametrize("width", [1000, 520])
def test_sections_lie_over_their_neighbours(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, width: int
) -> None:
    """Also in a window of another size, where the script measures what CSS cannot know."""
    plan = make_plan(plan_text(sections=_OVERLAPS, viewports="laptop: 1000x600"))
    page = write_page(plan.view(), tmp_path / "out")
    view = plan.replace({"viewports.laptop": f"{width}x600"}).view()
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", width, 600)
        for scroll in (0, 90, 210):
            chromium.scroll(scroll)
            assert_agrees(read(chromium, view), view, scroll)
            shot = chromium.screenshot().astype(int)
            assert np.abs(shot - view.pixels(scroll)).mean() < 3
