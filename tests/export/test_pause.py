"""The control that stops what runs: in frames and browsers, its colours, and what it covers."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import rising_lantern as rl
from chromium import Chromium
from findings import found
from pages import write_page
from pictures import paint_pictures
from plans import MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.css.colors import parse_color
from rising_lantern.css.contrast import contrast_of
from rising_lantern.layout.pause import PauseBox
from rising_lantern.proofs.serving import served
from thorough import examples

_RUNS = "layers: [{slides: [photo.png, noise.png], every: 4s}]"
_BESIDE = (
    f"a: {{height: 600px, {_RUNS}, content: [{{text: The river at night, size: 40px, at: 0% 100%, "
    "color: white}]}, b: {height: 900px}"
)
_ICON = "pause: {icon-only: true, background: '#16213e', color: '#fdf6e3', size: 22px}"


@pytest.fixture(scope="module")
def plain(tmp_path_factory: pytest.TempPathFactory) -> MakePlan:
    """Reads plans in a folder with pictures."""
    folder = tmp_path_factory.mktemp("pause")
    paint_pictures(folder)

    def made(text: str) -> Plan:
        (folder / "plan.yaml").write_text(text, "utf-8")
        return rl.read(folder / "plan.yaml")

    return made


def control(plan: Plan) -> PauseBox:
    """The control of a plan of one page."""
    pause = plan.view().scene.box.pause
    assert pause is not None
    return pause


def test_a_frame_without_it_is_told_apart(make_plan: MakePlan) -> None:
    text = plan_text(sections=_BESIDE)
    box = control(make_plan(text)).box
    shown = np.asarray(make_plan(text).view().frame(0)).astype(int)
    without = np.asarray(make_plan(text.replace("pages:", "pause: false\npages:")).view().frame(0))
    rows, columns = np.nonzero(np.abs(shown - without).max(axis=-1) > 8)
    assert (box.top, box.left) == pytest.approx((rows.min(), columns.min()), abs=1)
    assert (box.bottom, box.right) == pytest.approx((rows.max() + 1, columns.max() + 1), abs=1)


@pytest.mark.browser
def test_its_icon_has_a_name_and_shows_that_it_goes_on(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    view = make_plan(plan_text(before=_ICON, sections=_BESIDE)).view()
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        box = chromium.driver.find_element("css selector", ".lantern-pause input")
        assert box.accessible_name == "Pause the pictures"
        before = chromium.screenshot().astype(int)
        box.click()
        after = chromium.screenshot().astype(int)
    own = control_pixels(view.scene.box.pause, after - before)
    assert np.abs(own).max() > 100
    assert np.abs(after - before).sum() == pytest.approx(np.abs(own).sum(), rel=0.2)


def control_pixels(pause: PauseBox | None, frame: np.ndarray) -> np.ndarray:
    """What a frame of a section that starts at the top of the page shows of the control."""
    assert pause is not None
    box = pause.box
    return frame[int(box.top) : int(box.bottom) + 1, int(box.left) : int(box.right) + 1]


@given(
    st.integers(0, 0xFFFFFF),
    st.integers(0, 0xFFFFFF),
    st.sampled_from(["", "color: '#f00'", "background: '#0a0'", "color: '#777'"]),
)
@settings(max_examples=examples(60))
def test_it_stands_out_whatever_the_colours_of_the_page(
    plain: MakePlan, color: int, ground: int, own: str
) -> None:
    text = plan_text(
        background=f"#{ground:06x}",
        page=f"color: '#{color:06x}'",
        before=f"pause: {{{own}}}",
        sections=f"a: {{height: 600px, {_RUNS}}}",
    )
    pause = control(plain(text))
    assert contrast_of(pause.color, pause.background) >= 4.5
    page = parse_color(f"#{color:06x}"), parse_color(f"#{ground:06x}")
    if not own and contrast_of(*page) >= 4.5:
        assert (pause.color.bytes, pause.background.bytes) == (page[0].bytes, page[1].bytes)


@pytest.mark.parametrize(
    ("keys", "fault"),
    [
        ("{color: '#777', background: '#999'}", "the contrast of the control is 1.57"),
        ("{background: '#0008'}", "the background of the control lets something through"),
        ("{color: '#0008'}", "the colour of the control lets something through"),
        ("{text: ''}", "too short"),
        ("{radius: 50%}", "'50%' is a share of the box"),
        ("{font: unknown}", "unknown"),
        ("7", "'pause'"),
    ],
)
def test_a_control_that_nobody_could_read_is_refused(
    make_plan: MakePlan, keys: str, fault: str
) -> None:
    with pytest.raises(rl.PlanError, match=fault):
        make_plan(plan_text(before=f"pause: {keys}", sections=f"a: {{height: 600px, {_RUNS}}}"))


_PLACES = st.sampled_from(["0% 0%", "100% 0%", "50% 50%", "0% 100%", "100% 100%", "50% 100%"])
_TEXT = st.tuples(_PLACES, st.integers(12, 60), st.sampled_from([1, 0.6, 1.5]))


@given(st.lists(_TEXT, min_size=1, max_size=4), st.sampled_from(["", "at: 50% 50%"]))
@settings(max_examples=examples(40))
def test_it_covers_no_letter_where_no_finding_says_so(
    plain: MakePlan, texts: list[tuple[str, int, float]], own: str
) -> None:
    """Held against frames: letters that are there without the control are there with it."""
    content = ", ".join(
        f"{{text: Lanterns, size: {size}px, at: {place}, speed: {speed}, color: black}}"
        for place, size, speed in texts
    )
    sections = f"a: {{height: 500px, {_RUNS}, content: [{content}]}}, b: {{height: 900px}}"
    text = plan_text(sections=sections, before=f"pause: {{background: '#00ff00', {own}}}")
    plan = plain(text)
    bare = plain(text.replace("pause: {", "pause: false\ncheck: {} #"))
    covers = False
    for scroll in range(0, 480, 60):
        shown, letters = (np.asarray(item.view().frame(scroll)) for item in (plan, bare))
        box = control(plan).box.moved(0.0, -float(scroll))
        green = (shown[..., 1].astype(int) - shown[..., 0] > 200) & (shown[..., 2] < 60)
        covers = covers or bool((green & (letters.max(axis=-1) < 40)).any() and box.bottom > 0)
    findings = found(plan, "pause-covers")
    if covers:
        assert findings
    if findings:
        assert own or len(texts) > 1


def test_a_place_over_a_text_is_found(make_plan: MakePlan) -> None:
    section = f"a: {{height: 600px, {_RUNS}, content: [{{text: The river, size: 60px}}]}}"
    plan = make_plan(plan_text(before="pause: {at: 50% 50%}", sections=section))
    (finding,) = found(plan, "pause-covers")
    assert finding.message.endswith('px of "The river"')
    assert finding.measured == pytest.approx(41, abs=1)
    assert finding.place.line == 3
    assert found(make_plan(plan_text(sections=section)), "pause-covers") == []


def test_it_stands_where_something_runs_on_each_screen(make_plan: MakePlan) -> None:
    text = plan_text(
        viewports="laptop: 1000x600, phone: 390x844",
        before="pause: {for: {phone: {text: Stop}}}",
        sections=f"a: {{height: 600px}}, b: {{height: 900px, {_RUNS}}}",
    )
    plan = make_plan(text)
    assert plan.view(viewport="phone").scene.box.pause.items[0].words == "Stop"  # type: ignore[union-attr]
    html = rl.export(plan).text("page.html")
    assert html.count('class="lantern-pause"') == 2
    assert html.index('class="lantern-section lantern-b"') < html.index('class="lantern-pause"')
    still = make_plan(text.replace(", every: 4s", ""))
    assert still.view().scene.box.pause is None


def test_a_control_that_is_too_large_is_one_finding(make_plan: MakePlan) -> None:
    section = f"a: {{height: 100px, {_RUNS}}}, b: {{height: 900px}}"
    plan = make_plan(plan_text(before="pause: {padding: 200px}", sections=section))
    (finding,) = found(plan, "cut-off")
    assert finding.message.startswith("the section cuts off")
    assert finding.place.line == 3
