"""The pages that a preview writes, in Chromium: they do what the moments say."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import product
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from chromium import Chromium
from pages import assert_agrees, read, write_pages
from plans import MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.proofs.proving import without_timelines
from rising_lantern.proofs.serving import served
from thorough import examples, some

pytestmark = pytest.mark.browser

POSITIONS = examples(20)


@pytest.fixture(scope="module")
def address(regatta: Plan, tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The sample site's preview, served on the loopback."""
    folder = tmp_path_factory.mktemp("preview")
    write_pages(regatta.views(), folder)
    strips = folder / "filmstrips"
    strips.mkdir()
    for view in regatta.views():
        Image.new("RGB", (8, 8)).save(strips / f"{view.scene.box.file_name}.png")
    with served(folder) as url:
        yield f"{url}/pages"


SAMPLE = [
    (page, viewport)
    for viewport in ("laptop", "tablet", "phone")
    for page in ("home", "lanterns", "programme", "visit", "journal")
]


@pytest.mark.parametrize(("page", "viewport"), some(SAMPLE, 8))
def test_a_sample_page_does_what_its_moments_say(
    chromium: Chromium, regatta: Plan, address: str, page: str, viewport: str
) -> None:
    view = regatta.view(page, viewport)
    screen = view.scene.box.screen
    chromium.leave()
    chromium.open(f"{address}/{page}.html", screen.width, screen.height, screen.safe_area)
    for scroll in np.linspace(0, view.max_scroll, POSITIONS).round():
        assert chromium.scroll(scroll) == scroll
        assert_agrees(read(chromium, view), view, scroll)
    assert chromium.scroll(1e6) == view.max_scroll
    assert chromium.log() == []
    own = address.rsplit("/", 1)[0]
    assert [url for url in chromium.requests() if not url.startswith((own, "data:"))] == []


HEADERS = {
    "fixed, three looks, blends that meet": (
        "height: 90px, change: blend 300px ease, looks: {a: {}, "
        "b: {from: 15vh, background: '#123a', color: white}, "
        "c: {from: past opening - 200px, height: 50px, background: '#fff', shadow: 0 2px 8px black}}"
    ),
    "sticky, in the flow": "position: sticky, top: 12px, height: 80px, background: white",
    "sticky, holding its space": (
        "position: sticky, height: 100px, hold-space: true, looks: {tall: {}, "
        "slim: {from: reach second, height: 40px, background: '#abc'}}"
    ),
    "static": "position: static, height: 70px, background: '#eee', looks: {a: {}, b: {from: 30%, color: red}}",
    "absolute": "position: absolute, top: 5vh, height: 70px",
    "sticky within a section": (
        "position: sticky, top: 8px, inside: second, height: 60px, background: white, hold-space: true, "
        "looks: {a: {}, b: {from: reach second, height: 40px, background: '#abc'}}"
    ),
    "sticky within a container": "position: sticky, height: 60px, background: white, inside: 900px",
    "sticky over the first section": "position: sticky, height: 90px, over: true, background: '#fff8'",
    "fixed above the first section": "height: 90px, top: 10px, over: false, looks: {a: {}, b: {from: past opening}}",
    "boxed, bordered, padded": (
        "height: 80px, width: 820px, top: 12px, border: 3px solid red, padding: 20px, looks: {a: {}, "
        "b: {from: 200px, change: blend 200px, border: 7px solid blue, padding: 60px, blur: 6px, height: 60px}}"
    ),
    "by what is under it": (
        "height: 70px, under: {dark: a, light: b}, change: blend 90px ease-in, looks: {a: {color: white}, "
        "b: {background: white, height: 50px}}"
    ),
    "a part that is left out": (
        "height: 70px, looks: {a: {}, b: {from: 300px, parts: {menu: {hidden: true}, tickets: {color: '#00f'}}}}"
    ),
    "a fade, at rest": (
        "height: 80px, change: fade 200ms ease-in 50ms, looks: {a: {}, "
        "b: {from: calc(20% + 30px), background: '#8888', height: 44px}}"
    ),
}


@pytest.mark.parametrize("header", some(HEADERS.values(), 4), ids=HEADERS.keys())
def test_every_kind_of_header_does_what_its_moments_say(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, header: str
) -> None:
    parts = (
        "parts: {brand: {image: logo-dark.png, width: 90px}, menu: {text: [Programme, Visit], "
        "side: center, size: 18px}, tickets: {text: Tickets, side: end, color: '#a00'}}"
    )
    sections = (
        "opening: {height: 80vh, tone: dark, layers: [{image: photo.png, speed: 0.35}]}, second: {height: 700px, tone: light}, "
        "third: {height: 50vh, tone: dark, layers: [{fill: 'linear-gradient(red, blue)', speed: 0.8}]}, last: {height: 640px}"
    )
    plan = make_plan(plan_text(header=f"{header}, {parts}", sections=sections))
    view = plan.view()
    folder = tmp_path / "out"
    folder.mkdir()
    write_pages([view], folder)
    with served(folder) as url:
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        for scroll in np.linspace(0, view.max_scroll, POSITIONS).round():
            assert chromium.scroll(scroll) == scroll
            assert_agrees(read(chromium, view), view, scroll)


def test_a_look_is_kept_to_its_back_going_up(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    header = "looks: {a: {}, b: {from: 400px, back: 250px}, c: {from: 900px, back: 500px}}"
    plan = make_plan(plan_text(header=header))
    view = plan.view()
    write_pages([view], tmp_path)
    with served(tmp_path) as url:
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        chromium.scroll(view.max_scroll)
        for scroll in range(1600, -1, -100):
            chromium.scroll(scroll)
            assert read(chromium, view)["look"] == view.at(scroll, "up").look


MOVING = [
    "image: photo.png, speed: 0.4",
    "image: photo.png, speed: -0.3",
    "image: photo.png, speed: 1.4",
    "image: photo.png, drift: 0.2",
    "image: photo.png, speed: 0.5, drift: -0.35",
    "image: photo.png, size: 200px auto, position: 20% 30%, speed: 1.5, settle: reach a - 100px",
    "image: photo.png, attachment: fixed, opacity: .8, path: [{at: reach a}, {at: past a, opacity: .2, easing: ease}]",
    "image: photo.png, speed: .6, path: [{at: 350px, easing: 'cubic-bezier(.3, -.6, .6, 1.7)'}, {at: past a, y: 90px, x: 5vw, scale: 1.4}]",
    "fill: '#804020', before: 0.2, after: 1.5, path: [{at: 300px, y: -20px}, {at: 600px, y: 40px}, {at: 600px}, {at: 900px, opacity: .5}]",
    "image: photo.png, clip: padding-box, speed: 0.3",
    "image: photo.png, clip: padding-box, speed: 1.3, drift: .1",
]  # fmt: skip


@pytest.mark.parametrize(("motion", "by"), some(product(MOVING, ["style sheet", "script"]), 5))
def test_layers_move_as_their_moments_say(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, motion: str, by: str
) -> None:
    """By scroll-driven animations, and by the script where a browser lacks them."""
    sections = (
        f"x: {{height: 300px}}, a: {{height: 800px, width: 90%, border: 14px solid red, layers: [{{{motion}}}], content: "
        "[{text: Afloat, speed: 1.3, at: 30% 40%}, {text: Ashore, speed: 0.7, z: 3}]}, y: {height: 700px}"
    )
    plan = make_plan(
        plan_text(sections=sections, under=f"{{{MOVING[0]}}}, {{image: noise.png, speed: 1.2}}")
    )
    view = plan.view()
    write_pages([view], tmp_path)
    if by == "script":
        without_timelines(tmp_path)
    with served(tmp_path) as url:
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        for scroll in range(0, view.max_scroll, 97):
            chromium.scroll(scroll)
            assert_agrees(read(chromium, view), view, scroll)


def test_what_moves_stands_still_for_readers_who_ask_for_less_motion(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    """The page that they get is that of a plan in which all moves at the page's speed."""
    moving = (
        "a: {height: 700px, layers: [{fill: 'linear-gradient(#0006, #0000)', speed: 0.7}, {image: photo.png, speed: SPEED}], "
        "content: [{text: Afloat, size: 40px, color: white, speed: SPEED, at: 50% 70%}]}, b: {height: 900px}"
    )
    plan = make_plan(plan_text(sections=moving.replace("SPEED", "0.4")))
    still = make_plan(plan_text(sections=moving.replace("SPEED", "1").replace("0.7", "1"))).view()
    write_pages([plan.view()], tmp_path)
    features = [{"name": "prefers-reduced-motion", "value": "reduce"}]
    with served(tmp_path) as url:
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features})
        try:
            chromium.open(f"{url}/pages/page.html", 1000, 600)
            for scroll in (0, 130, 410):
                chromium.scroll(scroll)
                shot = chromium.screenshot().astype(int)
                assert np.abs(shot - still.pixels(scroll)).mean() < 3
                assert np.abs(shot - plan.view().pixels(scroll)).mean() > 5
        finally:
            chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})


def test_texts_arrive_when_they_come_onto_the_screen(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    content = "[{text: Afloat, enter: {x: -40px, y: 30px, opacity: .2, time: 10s, easing: linear}}]"
    sections = (
        f"a: {{height: 900px}}, b: {{height: 500px, content: {content}}}, c: {{height: 600px}}"
    )
    plan = make_plan(plan_text(sections=sections))
    write_pages([plan.view()], tmp_path)
    ask = "const s = getComputedStyle(document.querySelector('.lantern-text')); return [s.translate, s.opacity]"
    with served(tmp_path) as url:
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        chromium.scroll(0)
        assert chromium.run(ask) == ["-40px 30px", "0.2"]
        chromium.scroll(800)  # which also finishes what moves in time
        chromium.scroll(800)
        assert chromium.run(ask) == ["none", "1"]
        chromium.scroll(0)
        assert chromium.run(ask) == ["none", "1"]


def test_a_text_s_shadow_is_painted_as_in_the_browser(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    """Of a text that is clear itself, so that nothing but the shadow is seen."""
    content = (
        "{text: The river carries the light, size: 70px, weight: 700, color: transparent, "
        "shadow: '6px 10px 12px rgb(0 0 80 / .8), -4px 0 0 #c40'}"
    )
    plan = make_plan(plan_text(sections=f"a: {{height: 600px, content: [{content}]}}"))
    view = plan.view()
    write_pages([view], tmp_path)
    with served(tmp_path) as url:
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        chromium.scroll(0)
        difference = np.abs(chromium.screenshot().astype(int) - view.pixels(0))
    assert view.pixels(0).min() < 100
    assert difference.mean() < 1
    assert (difference.max(axis=-1) <= 24).mean() > 0.97


def test_the_index_shows_every_view(chromium: Chromium, address: str) -> None:
    chromium.leave()
    chromium.open(address.replace("/pages", "/index.html"), 1280, 800)
    missing = "return [...document.images].filter((i) => i.complete && !i.naturalWidth).length"
    assert chromium.run(missing) == 0
    assert chromium.run("return document.images.length") == 15
    assert chromium.log() == []
