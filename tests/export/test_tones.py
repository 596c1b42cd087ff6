"""Slides that have tones of their own: the header follows them, in frames, checks and browsers."""

from __future__ import annotations

import json
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

import rising_lantern as rl
from chromium import Chromium
from findings import found
from pages import write_page
from plans import MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.exports.site import ExportOptions, site_of
from rising_lantern.layout.slides import SlideTiming
from rising_lantern.proofs.serving import served
from rising_lantern.scroll.gestures import Gesture

_HEADER = (
    "height: 80px, over: true, background: 'rgb(0 0 0 / 0)', parts: {brand: {text: Saltmere, size: "
    "20px}}, under: {dark: bright, light: inked}, looks: {bright: {color: white}, inked: {color: "
    "black, height: 60px, change: fade 400ms linear}}"
)
_SECTIONS = (
    "a: {{height: 600px, tone: dark, layers: [{{slides: [night.png, {{image: day.png, tone: {tone}}}, "
    "night.png], every: 4s, change: fade 1s linear}}]}}, b: {{height: 900px, tone: light}}"
)
MakeToned = MakePlan


@pytest.fixture
def make(make_plan: MakePlan, folder: Path) -> MakeToned:
    """A plan whose second slide has a tone."""
    for name, color in (("night", "#101830"), ("day", "#f4e8c8")):
        Image.new("RGB", (400, 240), color).save(folder / f"{name}.png")
    return lambda tone: make_plan(
        plan_text(header=_HEADER, sections=_SECTIONS.format(tone=tone), before="pause: false")
    )


def test_the_look_is_that_of_the_slide_that_shows(make: MakeToned) -> None:
    view = make("light").view()
    assert [view.showing(slide).at(0).look for slide in (0, 1, 2)] == ["bright", "inked", "bright"]
    assert [view.showing(slide).at(700).look for slide in (0, 1, 2)] == ["inked"] * 3
    seconds = (0, 3.4, 3.6, 7.4, 7.6, 11.9, 12.1)
    looks = [view.showing(second=second).at(0).look for second in seconds]
    assert looks == ["bright", "bright", "inked", "inked", "bright", "bright", "bright"]


def test_a_slide_leads_from_the_middle_of_its_fade_on() -> None:
    assert [SlideTiming(4000, 1000).leading(time) for time in (0, 3490, 3510, 4000, 7490, 7510)] == [
        0, 0, 1, 1, 1, 2,
    ]  # fmt: skip
    assert [SlideTiming(4000).leading(time) for time in (0, 3999, 4000)] == [0, 0, 1]


def test_in_time_the_look_fades_from_the_middle_of_the_slides_fade_on(make: MakeToned) -> None:
    """While nobody scrolls: letters go from white to black in 400 ms, where half a slide is there."""
    view = make("light").view()
    table = view.play([(0, 0), (6, 0)])
    still, fading = table[table.time_s < 3.48], table[(table.time_s > 3.52) & (table.time_s < 4)]
    assert set(still.look) == {"bright"}
    assert set(still.color) == {"#ffffffff"}
    shares = np.clip((fading.time_s - fading.time_s.iloc[0]) / 0.4 + fading.progress.iloc[0], 0, 1)
    assert fading.progress.to_numpy() == pytest.approx(shares.to_numpy(), abs=1e-6)
    assert fading.header_height_px.to_numpy() == pytest.approx(80 - 20 * shares.to_numpy())
    assert table.color.iloc[-1] == "#000000ff"
    gesture = Gesture(np.arange(0, 4, 1 / 60), np.zeros(240))
    before, after = (item[:60, :200] for item in view.scene.frames_in_time(gesture, [204, 238]))
    assert before.max() == 255
    assert after.min() < 40


@pytest.mark.parametrize(("tone", "bad"), [("light", []), ("dark", ["day.png"])])
def test_findings_judge_each_slide_with_its_own_look(
    make: MakeToned, make_plan: MakePlan, tone: str, bad: list[str]
) -> None:
    make(tone)  # paints the pictures
    section = _SECTIONS.format(tone=tone).partition(", b:")[0].replace("600px", "1500px")
    findings = found(make_plan(plan_text(header=_HEADER, sections=section)), "unreadable-part")
    assert [item.message.split()[-2] for item in findings] == bad
    assert all(item.measured < 1.5 for item in findings)


def test_tones_that_make_too_many_looks_are_refused(make_plan: MakePlan, make: MakeToned) -> None:
    make("light")  # paints the pictures
    layer = (
        "{slides: [" + ", ".join(["{image: day.png, tone: light}"] * 9) + "], every: 2s, size: 9px}"
    )
    sections = f"a: {{height: 600px, layers: [{layer}, {layer}]}}"
    with pytest.raises(rl.PlanError, match="81"):
        make_plan(plan_text(header=_HEADER, sections=sections))


_STATE = (
    "const [, time, state] = arguments; for (const item of document.getAnimations()) { if "
    "(!/-slides-/.test(item.animationName)) continue; item.pause(); item.currentTime = time; }"
    "dispatchEvent(new Event('scroll')); const header = document.querySelector('header');"
    "return new Promise((done) => setTimeout(() => done(["
    "header.dataset.look, getComputedStyle(header.querySelector('.lantern-part')).color]), 600))"
)


@pytest.mark.browser
def test_a_browser_follows_the_slides(chromium: Chromium, make: MakeToned, tmp_path: Path) -> None:
    plan: Plan = make("light")
    view = plan.view()
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        for second in (0.0, 3.4, 3.6, 7.4, 7.6, 12.1):
            look, color = chromium.run(_STATE, 0, second * 1000)
            moment = view.showing(second=second).at(0)
            assert look == moment.look
            assert color == {"bright": "rgb(255, 255, 255)", "inked": "rgb(0, 0, 0)"}[look]
        assert chromium.scroll(700.0) == 700
        assert chromium.run(_STATE, 0, 0)[0] == "inked"


@pytest.mark.browser
def test_it_follows_by_itself_and_stands_for_readers_who_ask_for_less_motion(
    chromium: Chromium, make: MakeToned, tmp_path: Path
) -> None:
    page = write_page(make("light").view(), tmp_path / "out")
    wait = (
        "return new Promise((done) => { const header = document.querySelector('header');"
        "new MutationObserver(() => { if (header.dataset.look === 'inked') done("
        "document.getAnimations().find((item) => /-slides-/.test(item.animationName)).currentTime) })"
        ".observe(header, { attributes: true }); })"
    )
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        assert chromium.run(wait) >= 3500
        less = {"features": [{"name": "prefers-reduced-motion", "value": "reduce"}]}
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", less)
        try:
            chromium.open(f"{url}/{page}", 1000, 600)
            look = "return document.querySelector('header').dataset.look"
            assert chromium.run(look) == "bright"
        finally:
            chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})


def test_frames_show_the_colours_of_the_look(make: MakeToned) -> None:
    view = make("light").view()
    for slide, letters in ((0, 255), (1, 0)):
        frame = np.asarray(view.showing(slide).frame(0))[:80]
        assert (frame.min() == 0) if letters == 0 else (frame.max() == 255)


@pytest.mark.parametrize(
    ("slides", "fault"),
    [
        ("[{tone: dark}, day.png]", "number 1 of 'slides' has no 'image'"),
        ("[night.png, {image: day.png, tone: grey}]", "'grey' is not valid for 'tone'"),
        ("[{image: nothing.png, tone: dark}]", "there is no file 'nothing.png'"),
        ("[{image: day.png, colour: red}]", "unknown key 'colour'"),
    ],
)
def test_what_is_wrong_with_a_slide_is_said(
    make: MakeToned, make_plan: MakePlan, slides: str, fault: str
) -> None:
    make("light")  # paints the pictures
    with pytest.raises(rl.PlanError, match=fault):
        make_plan(plan_text(sections=f"a: {{height: 600px, layers: [{{slides: {slides}}}]}}"))


@pytest.mark.parametrize("runs", [True, False])
def test_the_page_of_a_preview_has_the_look_of_the_slide_that_it_shows(
    make: MakeToned, make_plan: MakePlan, runs: bool
) -> None:
    """Also where slides stand, and where the one that is chosen comes first."""
    make("light")  # paints the pictures
    sections = _SECTIONS.format(tone="light").replace("night.png]", "night.png, night.png]")
    if not runs:
        sections = sections.replace(", every: 4s, change: fade 1s linear", "")
    plan = make_plan(plan_text(header=_HEADER, sections=sections, before="pause: false"))
    for slide, looks in ((0, "bibb"), (1, "ibbb")):
        box = plan.view().showing(slide).scene.box
        html = site_of(plan.file, [box], ExportOptions()).files()["page.html"]
        assert isinstance(html, bytes)
        (text,) = re.findall(r'data-lantern="plan">(.*?)</script>', html.decode())
        header = json.loads(text)["screens"][0]["header"]
        assert header["steps"][0] == [{"b": "bright", "i": "inked"}[looks[0]]]
        found = "".join(item[0][0][0] for item in header.get("sets", ()))
        assert found == (looks if runs else "")
