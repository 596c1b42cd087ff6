"""Headers of rows: against a page written by hand, in browsers, and in what check says."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from plans import MakePlan, plan_text
from rising_lantern.proofs.serving import served
from sheets import sheet_of
from thorough import some

_SECTIONS = (
    "hero: {height: 700px, background: '#16213e'}, more: {height: 1300px, background: '#eef'}"
)
_ROWS = (
    "padding: 40px, rows: {upper: {height: 36px, background: '#456', border: 2px solid red, color: white}, "
    "lower: {height: 80px, padding: 24px}}, color: '#fdf6e3', parts: {"
    "phone: {text: 01 555 0100, size: 14px}, lang: {text: [English, Cymraeg], size: 14px, side: end}, "
    "brand: {image: logo-light.png, width: 120px, row: lower}, menu: {text: [Boats, Tides], side: end, row: lower}}, "
)
_LOOKS = (
    "looks: {{open: {{}}, shut: {{from: past hero, rows: {{upper: {{hidden: true}}, "
    "lower: {{height: 60px, background: '#fdf6e3', padding: 12px}}}}, color: '#16213e', change: '{}'}}}}"
)


def test_rows_stand_below_each_other_and_leave(make_plan: MakePlan) -> None:
    view = make_plan(plan_text(header=_ROWS + _LOOKS.format("cut"), sections=_SECTIONS)).view()
    before, after = view.at(0), view.at(700)
    assert before.header is not None
    assert after.header is not None
    assert (before.header.box.height, after.header.box.height) == (116, 60)
    assert set(before.parts) == {"phone", "lang", "brand", "menu"}
    assert set(after.parts) == {"brand", "menu"}
    assert before.parts["phone"].left == 42
    assert before.parts["phone"].top + before.parts["phone"].height / 2 == pytest.approx(18)
    assert before.parts["brand"].left == 24
    assert before.parts["brand"].top == pytest.approx(36 + (80 - 40) / 2)
    assert after.parts["brand"].left == 12
    assert after.parts["brand"].top == pytest.approx(10)
    # The hero's lower edge meets that of the header as it is before.
    assert view.scene.switches is not None
    assert view.scene.switches.steps[1].start == 700 - 116


@pytest.mark.browser
def test_a_frame_is_a_header_written_by_hand(
    chromium: Chromium, make_plan: MakePlan, folder: Path
) -> None:
    """Boxes and colours; letters stand elsewhere by fractions of a px."""
    view = make_plan(plan_text(header=_ROWS + _LOOKS.format("cut"), sections=_SECTIONS)).view()
    (folder / "hand.html").write_text(
        "<!doctype html><style>* {box-sizing: border-box; margin: 0} header, div {position: relative}"
        "header {position: fixed; left: 0; right: 0; top: 0; z-index: 2}</style>"
        "<body style='background: #16213e; height: 3000px'><header>"
        "<div style='height: 36px; background: #456; border: 2px solid red'></div>"
        "<div style='height: 80px'><img src='logo-light.png' style='position: absolute; left: 24px;"
        " top: 20px; width: 120px; height: 40px'></div></header>",
        "utf-8",
    )
    with served(folder) as url:
        chromium.open(f"{url}/hand.html", 1000, 600)
        shot = chromium.screenshot()
    frame = view.pixels(0)
    for name in ("phone", "lang", "menu"):
        box = view.at(0).parts[name]
        area = np.s_[int(box.top) : int(box.bottom) + 1, int(box.left) - 1 : int(box.right) + 2]
        frame = frame.copy()
        frame[area] = shot[area]
    assert np.abs(frame[:120].astype(int) - shot[:120]).max() <= 4


@pytest.mark.browser
@pytest.mark.parametrize("change", some(["blend 200px", "fade 300ms ease", "cut"], 3))
def test_rows_are_proved(make_plan: MakePlan, change: str) -> None:
    """One with pictures leaves, and a third one comes."""
    night = "layers: [{fill: 'linear-gradient(90deg, #0b1026, #0000)'}, {image: photo.png}]"
    tide = "tide: {hidden: true, height: 30px, background: '#f4a259'}"
    rows = _ROWS.replace("upper: {", f"{tide}, upper: {{{night}, ")
    looks = _LOOKS.format(change).replace("rows: {", "rows: {tide: {hidden: false}, ")
    plan = make_plan(plan_text(header=rows + looks, sections=_SECTIONS))
    assert {item.found for item in rl.prove(plan, engines="chromium").views} == {()}


def test_each_row_has_room_for_its_own_parts(make_plan: MakePlan) -> None:
    plan = make_plan(
        plan_text(
            header=_ROWS + _LOOKS.format("cut"), sections=_SECTIONS, viewports="phone: 260x600"
        )
    )
    (finding,) = [item for item in rl.check(plan) if item.rule == "crowded-header"]
    look = plan.view().scene.box.header.looks[0]  # type: ignore[union-attr]
    phone, lang = (look.parts[name].box.width for name in ("phone", "lang"))
    assert finding.measured == pytest.approx(phone + lang - (260 - 2 * 42), abs=0.01)


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ("row: lower}, menu", "row: lwer}, menu", "in a row 'lwer' that the header does not have"),
        ("padding: 40px, rows", "height: 90px, rows", "the header has a height, and the header has"),
        ("rows: {{upper: {{hidden", "rows: {{uper: {{hidden", "the look 'shut' names a row 'uper'"),
        ("from: past hero, rows", "from: past hero, border: 1px solid red, rows", "'shut' has a border"),
        ("upper: {height: 36px, ", "upper: {", "'upper' has no 'height'"),
    ],
)  # fmt: skip
def test_rows_that_cannot_be_are_faults(
    make_plan: MakePlan, old: str, new: str, words: str
) -> None:
    assert old in _ROWS + _LOOKS
    header = _ROWS.replace(old, new) + _LOOKS.replace(old, new).format("cut")
    with pytest.raises(rl.PlanError, match=words):
        make_plan(plan_text(header=header, sections=_SECTIONS))


def test_a_row_s_height_is_one_number_of_the_style_sheet(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(header=_ROWS + _LOOKS.format("cut"), sections=_SECTIONS))
    css = sheet_of(rl.export(plan))
    # Sections are not in the header, whose numbers they cannot read: targets of links repeat them.
    assert sum("36px" in line for line in css.splitlines() if "scroll-margin" not in line) == 1
    assert "--lantern-shut-height: var(--lantern-shut-row-lower-height);" in css
    settings = plan.settings()
    said = settings[(settings["state"] == "shut") & (settings["setting"] == "shown")]
    assert said["thing"].tolist() == ["header main, row upper"]


def test_a_text_in_a_row_is_fixed_by_the_row_s_own_values(make_plan: MakePlan) -> None:
    rows = _ROWS.replace("color: white}", "color: '#567'}").replace(
        "120px,", "120px, tint: current,"
    )
    header = rows + _LOOKS.format("cut")
    plan = make_plan(plan_text(header=header, sections=_SECTIONS))
    found = [item for item in rl.check(plan) if item.rule == "unreadable-part"]
    assert {item.subject.part for item in found} == {"phone", "lang"}
    changes = {fix.key: fix.value for item in rl.tune(plan) for fix in item.fixes}
    assert changes.keys() == {"headers.main.rows.upper.color", "headers.main.looks.open.rows"}
    fixed = plan.replace(changes)
    assert not [item for item in rl.check(fixed) if item.rule == "unreadable-part"]
