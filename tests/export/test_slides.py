"""Slides that run: in Chromium at any time, in frames, and the control that stops them."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from findings import found
from pages import write_page
from plans import MakePlan, plan_text
from rising_lantern.api.views import View
from rising_lantern.layout.slides import SlideTiming
from rising_lantern.proofs.serving import served
from thorough import some

_SLIDES = "slides: [red.png, green.png, blue.png]"
_SET = (
    "for (const item of document.getAnimations()) if (/-slides-/.test(item.animationName))"
    " { item.pause(); item.currentTime = arguments[0] }"
)


@pytest.fixture
def slides(folder: Path) -> Path:
    """A folder with three pictures of different shapes and colours."""
    from PIL import Image  # noqa: PLC0415

    for name, size, color in (
        ("red", (400, 300), (200, 30, 20)),
        ("green", (300, 300), (20, 160, 60)),
        ("blue", (300, 400), (30, 60, 190)),
    ):
        ramp = np.linspace(0.4, 1, size[0])[None, :, None] * np.ones((size[1], 1, 1))
        Image.fromarray((ramp * color).astype(np.uint8)).save(folder / f"{name}.png")
    return folder


def view_of(folder: Path, layer: str) -> View:
    """The view of a page with a layer below a tint."""
    layers = f"[{{fill: 'linear-gradient(#0006, #0000)'}}, {{{_SLIDES}, {layer}}}]"
    section = f"a: {{height: 500px, width: 90%, layers: {layers}}}, b: {{height: 900px}}"
    (folder / "plan.yaml").write_text(plan_text(sections=section), "utf-8")
    return rl.read(folder / "plan.yaml").view()


@pytest.mark.browser
@pytest.mark.parametrize(
    "layer",
    some(
        [
            "every: 4s, change: fade 1s ease-in",
            "every: 2s",
            "every: 3s, change: fade 3s linear, speed: 0.5, opacity: .8",
            "every: 4s, change: fade 800ms, size: 40% auto, repeat: repeat-x, position: 20% 80%",
        ],
        2,
    ),
)
def test_slides_run_in_a_browser_as_in_the_frames(
    chromium: Chromium, slides: Path, tmp_path: Path, layer: str
) -> None:
    view = view_of(slides, layer)
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        for second in (0.0, 1.9, 2.2, 3.4, 3.9, 5.0, 7.7, 11.6, 13.0):
            chromium.run(_SET, second * 1000)
            chromium.run("return new Promise((done) => requestAnimationFrame(() => done()))")
            # The control stands over the page.
            shot = chromium.screenshot()[:500].astype(int)
            frame = np.asarray(view.frame(0, second=second)).astype(int)[:500]
            assert np.abs(shot - frame).mean() < 2, second


@pytest.mark.browser
def test_the_control_stops_them_by_keyboard_and_not_for_less_motion(
    chromium: Chromium, slides: Path, tmp_path: Path
) -> None:
    page = write_page(view_of(slides, "every: 4s, change: fade 1s"), tmp_path / "out")
    states = (
        "return [...new Set(document.getAnimations().filter((item) =>"
        " /-slides-/.test(item.animationName)).map((item) => item.playState))]"
    )
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        assert chromium.run(states) == ["running"]
        box = chromium.driver.find_element("css selector", ".lantern-pause input")
        assert box.accessible_name == "Pause the pictures"
        box.send_keys(" ")
        assert chromium.run(states) == ["paused"]
        box.send_keys(" ")
        assert chromium.run(states) == ["running"]
        less = {"features": [{"name": "prefers-reduced-motion", "value": "reduce"}]}
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", less)
        try:
            assert chromium.run(states) == []
            assert not box.is_displayed()
        finally:
            chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})


def test_a_slide_is_there_until_the_next_has_faded_in() -> None:
    run = SlideTiming(4000, 1000)
    assert [run.at(time) for time in (0, 2999, 3000, 3500, 4000, 7750)] == [
        (0, 0.0),
        (0, 0.0),
        (0, 0.0),
        (0, 0.5),
        (1, 0.0),
        (1, 0.75),
    ]


@pytest.mark.parametrize(
    ("layer", "fault"),
    [
        ("image: red.png, every: 4s", "'every' needs several slides"),
        (f"{_SLIDES}, change: fade 1s", "'change' needs 'every'"),
        (f"{_SLIDES}, every: 200ms", "the slides change too fast; write at least 500ms"),
        (f"{_SLIDES}, every: 2s, change: fade 3s", "the fade is longer than a slide is there"),
        (f"{_SLIDES}, every: 2s, change: blend 30px", "slides cut or fade"),
        (f"{_SLIDES}, every: 2s, change: fade 1s ease 1s", "slides cut or fade, without a delay"),
    ],
)
def test_slides_that_cannot_run_are_refused(slides: Path, layer: str, fault: str) -> None:
    section = f"a: {{height: 500px, layers: [{{{layer}}}]}}"
    (slides / "plan.yaml").write_text(plan_text(sections=section), "utf-8")
    with pytest.raises(rl.PlanError) as caught:
        rl.read(slides / "plan.yaml")
    assert fault in str(caught.value)


@pytest.mark.usefixtures("slides")
def test_what_runs_by_itself_can_be_paused_or_is_found(make_plan: MakePlan) -> None:
    text = plan_text(
        sections=f"a: {{height: 500px, layers: [{{{_SLIDES}, every: 4s}}]}}, b: {{height: 900px}}"
    )
    assert found(make_plan(text), "cannot-pause") == []
    (finding,) = found(make_plan(text.replace("pages:", "pause: false\npages:")), "cannot-pause")
    assert (finding.measured, str(finding.subject)) == (12, "a, layer 0")
    still = text.replace(", every: 4s", "").replace("pages:", "pause: false\npages:")
    assert found(make_plan(still), "cannot-pause") == []
    html = rl.export(make_plan(text.replace("pages:", "pause: Stop & look\npages:"))).text(
        "page.html"
    )
    assert "Stop &amp; look</label>" in html
    assert 'class="lantern-pause"' not in rl.export(make_plan(still)).text("page.html")


@pytest.mark.browser
def test_a_page_with_the_control_is_proved_on_a_small_screen(slides: Path) -> None:
    layer = f"{_SLIDES}, every: 2s, change: fade 400ms"
    section = f"a: {{height: 500px, layers: [{{{layer}}}]}}, b: {{height: 300px}}"
    text = plan_text(sections=section, viewports="phone: 320x240")
    (slides / "plan.yaml").write_text(text, "utf-8")
    proof = rl.prove(rl.read(slides / "plan.yaml"), engines=["chromium"])
    assert [item for view in proof.views for item in view.found] == []


@pytest.mark.parametrize(
    ("second", "words"),
    [
        ("background: white, color: black", "solid, can be read on every position"),
        ("background: 'rgb(255 255 255 / .1)'", "no look passes everywhere"),
    ],
)
def test_the_look_without_a_script_is_one_that_can_be_read_over_every_slide(
    folder: Path, second: str, words: str
) -> None:
    """White texts can be read over the dark slide and not over the light one."""
    from PIL import Image  # noqa: PLC0415

    for name, color in (("dark", "#111"), ("light", "#eee")):
        Image.new("RGB", (400, 300), color).save(folder / f"{name}.png")
    looks = f"looks: {{clear: {{}}, solid: {{from: 500px, {second}}}}}"
    header = (
        f"position: fixed, height: 60px, color: white, parts: {{menu: {{text: [Visit]}}}}, {looks}"
    )
    sections = "a: {height: 1500px, layers: [{slides: [dark.png, light.png], every: 4s}]}"
    (folder / "plan.yaml").write_text(plan_text(header=header, sections=sections), "utf-8")
    notes = rl.export(rl.read(folder / "plan.yaml"), jobs=1).files["notes.md"]
    assert isinstance(notes, bytes)
    line = next(
        line for line in notes.decode().splitlines() if line.startswith("- page, header main:")
    )
    assert words in line
