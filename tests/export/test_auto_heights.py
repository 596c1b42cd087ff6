"""Headers and rows as high as their parts: in numbers, against a page by hand, and in browsers."""

from __future__ import annotations

from pathlib import Path

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
_PARTS = (
    "parts: {{brand: {{image: logo-light.png, width: 120px, {0}}}, "
    "menu: {{text: [Boats, Tides], size: calc(100% + 14px), side: end, {0}}}}}"
)
_HEADER = (
    "height: auto, padding: 18px 40px, border: 2px solid red, color: white, background: '#16213e'"
)
_LOOKS = (
    "looks: {{open: {{}}, slim: {{from: 150px, padding: 6px 40px, parts: {{brand: {{width: 60px}}}}, change: '{0}'}}, "
    "bare: {{from: past hero, parts: {{menu: {{hidden: true}}}}, change: '{0}'}}, tall: {{from: 1200px, height: 110px}}}}"
)
_ROWS = (
    "rows: {upper: {height: auto, padding: 4px 20px, border: 1px solid red, background: '#456'}, "
    "lower: {height: auto, padding: 12px}}, color: white, "
)


@pytest.mark.browser
def test_a_header_is_as_high_as_one_written_by_hand(
    chromium: Chromium, make_plan: MakePlan, folder: Path
) -> None:
    view = make_plan(plan_text(header=f"{_HEADER}, {_PARTS.format('')}", sections=_SECTIONS)).view()
    (folder / "hand.html").write_text(
        "<!doctype html><style>* {box-sizing: border-box; margin: 0} header {position: fixed; left: 0;"
        "right: 0; top: 0; padding: 18px 40px; border: 2px solid red; display: flex; align-items: center;"
        "justify-content: space-between} span {font-size: 30px; line-height: 1.4}</style><header>"
        "<img src='logo-light.png' style='width: 120px'><span>Boats</span></header>",
        "utf-8",
    )
    with served(folder) as url:
        chromium.open(f"{url}/hand.html", 1000, 600)
        header, image, text = (
            chromium.run(f"const r = document.querySelector('{name}').getBoundingClientRect(); return [r.top, r.height]")
            for name in ("header", "img", "span")
        )  # fmt: skip
    moment = view.at(0)
    assert moment.header is not None
    assert moment.header.box.height == pytest.approx(header[1], abs=0.02)
    for name, hand in (("brand", image), ("menu", text)):
        box = moment.parts[name]
        assert (box.top, box.height) == pytest.approx(hand, abs=0.5)


def test_each_look_is_as_high_as_what_it_shows(make_plan: MakePlan) -> None:
    header = f"{_HEADER}, {_PARTS.format('')}, {_LOOKS.format('cut')}"
    view = make_plan(plan_text(header=header, sections=_SECTIONS)).view()
    assert view.scene.box.header is not None
    heights = [look.height for look in view.scene.box.header.looks]
    # 120 px wide the logo is 40 high, and a line of the menu 42.
    assert heights == pytest.approx([42 + 36 + 4, 42 + 12 + 4, 40 + 36 + 4, 110])


def test_rows_are_as_high_as_their_own_parts(make_plan: MakePlan) -> None:
    parts = _PARTS.format("row: lower").replace("{brand", "{tide: {text: High water}, brand")
    looks = "looks: {open: {}, shut: {from: 200px, rows: {upper: {hidden: true}, lower: {padding: 2px 9px}}}}"
    view = make_plan(plan_text(header=f"{_ROWS}{parts}, {looks}", sections=_SECTIONS)).view()
    first, second = view.at(0), view.at(300)
    assert first.header is not None
    assert second.header is not None
    upper, lower = 16 * 1.4 + 8 + 2, 42 + 24
    assert first.header.box.height == pytest.approx(upper + lower)
    assert first.parts["menu"].top == pytest.approx(upper + 12)
    assert second.header.box.height == pytest.approx(42 + 4)
    assert second.parts["brand"].left == 9


@pytest.mark.browser
@pytest.mark.parametrize("change", some(["blend 100px", "fade 300ms ease", "cut"], 3))
@pytest.mark.parametrize("position", some(["fixed", "sticky"], 2))
def test_automatic_heights_are_proved(make_plan: MakePlan, change: str, position: str) -> None:
    header = f"{_HEADER}, position: {position}, hold-space: true, {_PARTS.format('')}"
    plan = make_plan(plan_text(header=f"{header}, {_LOOKS.format(change)}", sections=_SECTIONS))
    assert {item.found for item in rl.prove(plan, engines="chromium").views} == {()}


def test_a_header_without_parts_is_its_padding(make_plan: MakePlan) -> None:
    view = make_plan(plan_text(header="height: auto, padding: 15px", sections=_SECTIONS)).view()
    assert view.scene.box.header is not None
    assert view.scene.box.header.looks[0].height == 30


def test_a_style_sheet_says_what_the_height_follows(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(header=f"{_HEADER}, {_PARTS.format('')}", sections=_SECTIONS))
    css = " ".join(sheet_of(rl.export(plan)).split())
    assert "--lantern-height: calc(max(" in css
    assert "var(--lantern-menu-size) * 1.4" in css
    settings = plan.settings()
    said = settings[(settings["thing"] == "header main") & (settings["setting"] == "height")]
    assert "that of its parts and padding" in said.iloc[0].tolist()


def test_parts_stand_between_what_is_above_and_below(make_plan: MakePlan) -> None:
    """A notch above: the header reaches up to the screen's edge, and its parts stay below it."""
    view = make_plan(
        plan_text(
            header=f"height: auto, padding: calc(10px + env(safe-area-inset-top)) 20px 4px, {_PARTS.format('')}",
            viewports="phone: {size: 390x700, safe-area: 47px 0 0}",
        )
    ).view()
    moment = view.at(0)
    assert moment.header is not None
    assert moment.header.box.height == pytest.approx(10 + 47 + 42 + 4)
    assert moment.parts["menu"].top == pytest.approx(57)


@pytest.mark.browser
@pytest.mark.parametrize("change", some(["blend 100px", "fade 300ms ease"], 2))
def test_uneven_paddings_are_proved(make_plan: MakePlan, change: str) -> None:
    rows = "rows: {upper: {height: auto, padding: 30px 20px 4px}, lower: {height: 70px}}, padding: 20px 30px 4px"
    looks = (
        "looks: {open: {}, slim: {from: 150px, padding: 2px 30px 9px, rows: {upper: {padding: 3px 20px 8px}}, "
        f"change: {change}}}}}"
    )
    parts = _PARTS.format("row: lower").replace("{brand", "{tide: {text: High water}, brand")
    header = f"background: '#16213e', color: white, {rows}, {parts}, {looks}"
    plan = make_plan(plan_text(header=header, sections=_SECTIONS))
    assert {item.found for item in rl.prove(plan, engines="chromium").views} == {()}


def test_a_padding_is_the_same_on_the_left_and_right(make_plan: MakePlan) -> None:
    with pytest.raises(rl.PlanError, match="write up to three lengths"):
        make_plan(plan_text(header="height: auto, padding: 1px 2px 3px 4px"))


@pytest.mark.browser
# Switched by CSS, and by the script.
@pytest.mark.parametrize("change", ["cut", "blend 1px linear lag 1ms"])
def test_a_threshold_follows_a_section_that_grows_after_loading(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, change: str
) -> None:
    header = (
        f"position: fixed, height: 60px, color: white, change: {change}, "
        "looks: {clear: {background: '#102030'}, solid: {from: past a, background: '#405060'}}"
    )
    sections = (
        "a: {padding: 80px, min-height: 500px, content: [{text: Afloat}]}, b: {height: 2000px}"
    )
    rl.export(make_plan(plan_text(header=header, sections=sections))).save(tmp_path / "out")

    def is_switched_at(threshold: float) -> None:
        """Wait until the header has one look above a position, and the other below it."""
        for scroll, color in (
            (threshold - 10, "rgb(16, 32, 48)"),
            (threshold + 10, "rgb(64, 80, 96)"),
        ):
            chromium.scroll(scroll)
            own = "getComputedStyle(document.querySelector('header')).backgroundColor"
            assert chromium.when(f"{own} === '{color}'")

    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        is_switched_at(440)
        chromium.run(
            "const more = document.createElement('p'); more.style.height = '500px';"
            "document.querySelector('.lantern-a .lantern-text').after(more)"
        )
        high = chromium.run(
            "return document.querySelector('.lantern-a').getBoundingClientRect().height"
        )
        assert high > 600
        is_switched_at(high - 60)
        chromium.run("document.querySelector('.lantern-a').style.minHeight = '1100px'")
        is_switched_at(1040)
