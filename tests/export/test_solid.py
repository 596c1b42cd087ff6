"""Headers for readers who prefer more contrast or less transparency: what they get, and see."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.typing import NDArray

import rising_lantern as rl
from chromium import Chromium
from plans import MakePlan, plan_text
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.contrast import luminance_of, ratio
from rising_lantern.plan.models.headers import Header
from rising_lantern.plan.models.solid import solid_color
from rising_lantern.proofs.serving import served
from rising_lantern.readers.missing import plan_without

SECTIONS = (
    "a: {height: 700px, layers: [{image: photo.png}]}, b: {height: 900px, background: '#fdf6e3'}, "
    "c: {height: 900px, background: '#123'}"
)
PARTS = "parts: {brand: {text: Saltmere, weight: 700}, menu: {text: [Programme, Visit], side: end}}"
HEADERS = {
    "by css": "position: fixed, height: 70px, color: white, looks: {clear: {}, tint: {from: 200px, background: 'rgb(11 16 38 / .7)', blur: 6px}, paper: {from: 800px, background: '#fdf6e3', color: '#16213e'}}",
    "blended by the script": "position: fixed, height: 70px, color: white, change: blend 90px lag 120ms, looks: {clear: {}, paper: {from: 40%, background: '#fdf6e3', color: '#16213e'}}",
    "a gradient and layers": "position: sticky, height: 70px, color: white, background: 'linear-gradient(#0009, #0003)', layers: [{image: noise.png, opacity: .2}], looks: {a: {}, b: {from: 300px, height: 50px}}",
    "by tone": "position: fixed, height: 70px, color: white, under: {dark: night, light: day}, looks: {night: {background: '#0004'}, day: {background: '#fff8', color: '#123', solid: '#fed'}}",
    "in rows": "position: fixed, color: white, rows: {upper: {height: 30px, background: '#0006'}, lower: {height: 60px}}, looks: {a: {}, b: {from: 300px, background: '#0b1026'}}",
}


@pytest.mark.browser
@pytest.mark.parametrize("asked", ["prefers-contrast", "prefers-reduced-transparency"])
@pytest.mark.parametrize("header", HEADERS.values(), ids=HEADERS.keys())
def test_readers_see_the_header_of_the_plan_that_says_so(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, header: str, asked: str
) -> None:
    plan = make_plan(plan_text(header=f"{header}, {PARTS}", sections=SECTIONS))
    rl.export(plan).save(tmp_path / "out")
    view = plan_without(plan, "transparency").view()
    value = {"prefers-contrast": "more"}.get(asked, "reduce")
    features = [{"name": asked, "value": value}]
    try:
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features})
        with served(tmp_path / "out") as url:
            for scroll in (0, 260, 720, 1250):
                chromium.open(f"{url}/page.html", 1000, 600)
                chromium.scroll(scroll)
                shot = _settled(chromium).astype(int)
                frame = view.pixels(scroll).astype(int)
                bar = view.at(scroll).header
                assert bar is not None
                band = slice(0, int(bar.box.height) - 1)
                assert np.abs(shot[band] - frame[band]).mean() < 2.5, scroll
    finally:
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})


def _settled(chromium: Chromium) -> NDArray[np.uint8]:
    """The window once nothing changes any more: what lags has arrived."""
    last = chromium.screenshot()
    while True:
        now = chromium.screenshot()
        if np.array_equal(now, last):
            return now
        last = now


COLORS = st.builds(Color, *(st.floats(0, 1),) * 3, st.sampled_from([0.0, 0.2, 0.55, 0.92, 1.0]))


@given(COLORS, COLORS.map(lambda color: Color(*color.rgba[:3], 1.0)), st.lists(COLORS, max_size=3))
def test_what_is_chosen_can_be_read_as_well_as_anything_can(
    ground: Color, ink: Color, named: list[Color]
) -> None:
    header = Header(background=ground, color=ink)
    found = solid_color(header, "", named)
    if ground.alpha == 1:
        assert found is None
        return
    assert found is not None
    assert found.alpha == 1

    def contrast(color: Color) -> float:
        return float(ratio(luminance_of(ink), luminance_of(color)))

    best = max(map(contrast, (parse_color("black"), parse_color("white"))))
    assert contrast(found) >= min(4.5, best) - 1e-9


def test_what_the_plan_says_comes_first(make_plan: MakePlan) -> None:
    text = plan_text(header=f"{HEADERS['by tone']}, {PARTS}", sections=SECTIONS)
    header = next(iter(make_plan(text).file.documents.values())).headers["main"]
    assert solid_color(header, "day") == parse_color("#fed")
    whole = make_plan(text.replace("color: white,", "color: white, solid: '#012',", 1))
    header = next(iter(whole.file.documents.values())).headers["main"]
    assert solid_color(header, "night") == parse_color("#012")
    with pytest.raises(rl.PlanError, match="make it opaque"):
        make_plan(text.replace("'#fed'", "'#fed8'"))


def test_a_solid_ground_that_nothing_can_be_read_on_is_found(make_plan: MakePlan) -> None:
    header = "position: fixed, height: 70px, color: white, solid: '#eee', background: '#0009'"
    plan = make_plan(
        plan_text(header=f"{header}, {PARTS}", sections="a: {height: 2000px, background: '#123'}")
    )
    assert not rl.check(plan, only="unreadable-part")
    found = rl.check(plan, only="unreadable-part", readers=rl.Without("transparency"))
    assert {str(item.subject) for item in found} == {"main, brand in plain", "main, menu in plain"}
    assert {item.screen_words for item in found} == {"laptop without transparency"}
    cleared = plan.replace({"headers.main.solid": "'#123'"})
    assert not rl.check(cleared, only="unreadable-part", readers=rl.Without("transparency"))


def test_a_header_that_lets_nothing_through_has_no_rules_for_it(make_plan: MakePlan) -> None:
    header = f"position: fixed, height: 70px, background: '#fff', {PARTS}"
    css = rl.export(make_plan(plan_text(header=header, sections=SECTIONS))).text("lantern.css")
    assert "prefers-contrast" not in css
