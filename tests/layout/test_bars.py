"""Browser bars that come and go, and what a screen's shape takes."""

from __future__ import annotations

from pathlib import Path

import pytest

import rising_lantern as rl
from chromium import Chromium
from commands import run
from pages import write_page
from plans import MakePlan, plan_text
from rising_lantern.css.length_parsing import parse_length
from rising_lantern.css.lengths import Basis

_PHONE = "phone: {size: 390x844, bar: 56px, safe-area: 47px 3px 34px}"
_SECTIONS = (
    "hero: {height: 100svh, background: '#16213e'}, band: {height: 100dvh}, more: {height: 100lvh}, "
    "end: {height: 50%}"
)


@pytest.mark.parametrize(
    ("text", "hidden", "shown"),
    [
        ("100vh", 844, 844),
        ("100lvh", 844, 844),
        ("100svh", 788, 788),
        ("100dvh", 844, 788),
        ("100vmax", 844, 844),
        ("100vmin", 390, 390),
        ("max(50dvh, 400px)", 422, 400),
        ("env(safe-area-inset-top)", 47, 47),
        ("calc(56px + env(safe-area-inset-bottom, 12px))", 90, 90),
        ("2 * env(safe-area-inset-left)", 6, 6),
    ],
)
def test_units_count_the_viewport_that_css_says(text: str, hidden: float, shown: float) -> None:
    """CSS Values and Units 4, 6.1.2: small, large and dynamic viewport; vh is the large one."""
    length = parse_length(text)
    area = (47.0, 3.0, 34.0, 3.0)
    assert length.px(Basis(390, 844, bar=56, safe_area=area)) == hidden
    assert length.px(Basis(390, 788, bar=56, bar_shown=True, safe_area=area)) == shown
    assert parse_length(length.css()).px(Basis(390, 844, bar=56, safe_area=area)) == hidden


def test_a_page_is_laid_out_in_both_states(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(header="height: 60px", sections=_SECTIONS, viewports=_PHONE))
    hidden, shown = (item.view("page", "phone") for item in (plan, plan.with_bars()))
    assert [section.height for section in hidden.scene.box.sections] == [788, 844, 844, 422]
    assert [section.height for section in shown.scene.box.sections] == [788, 788, 844, 422]
    assert hidden.max_scroll == 788 + 844 + 844 + 422 - 844
    assert shown.max_scroll == 788 + 788 + 844 + 422 - 788
    assert hidden.frame(0).size == (390, 844)
    assert shown.frame(0).size == (390, 788)


def test_what_is_found_in_one_state_only_says_in_which(make_plan: MakePlan, folder: Path) -> None:
    header = "height: 60px, looks: {a: {}, b: {from: 845px, background: white}}, parts: {m: {text: Boats}}"
    plan = make_plan(
        plan_text(
            header=header, sections="a: {height: 845px}, b: {height: 100dvh}", viewports=_PHONE
        )
    )
    # Of 1689 px with the bar hidden 845 can be scrolled; of 1633 px with it shown also 845.
    assert not [item for item in rl.check(plan) if item.rule == "never-reached"]
    other = plan.replace({"pages.page.sections.b.height": "100vh"})
    assert not [item for item in rl.check(other) if item.rule == "never-reached"]
    third = plan.replace(
        {"pages.page.sections.a.height": "800px", "pages.page.sections.b.height": "100vh"}
    )
    (finding,) = [item for item in rl.check(third) if item.rule == "never-reached"]
    assert finding.message.endswith("while the browser's bar is hidden")
    assert rl.check(third.with_bars(), only="never-reached") == []
    table = third.switch_table()
    assert table["viewport"].unique().tolist() == ["phone", "phone, bar shown"]
    assert table["max_scroll"].unique().tolist() == [800, 856]
    shown = run("list", folder / "plan.yaml", "--of", "switches").stdout
    assert "phone, bar shown" in shown


@pytest.mark.browser
def test_a_header_keeps_clear_of_the_screen_s_shape(
    chromium: Chromium, make_plan: MakePlan, folder: Path
) -> None:
    header = (
        "height: calc(56px + env(safe-area-inset-top)), padding: 20px, parts: {menu: {text: Boats}}"
    )
    view = make_plan(plan_text(header=header, viewports=_PHONE)).view()
    assert view.scene.box.header is not None
    name = write_page(view, folder / "out")
    chromium.open((folder / "out" / name).as_uri(), 390, 844, (47, 3, 34, 3))
    height = chromium.run("return document.querySelector('header').offsetHeight")
    assert height == view.scene.box.header.looks[0].height == 103
    assert "viewport-fit=cover" in (folder / "out" / name).read_text("utf-8")


@pytest.mark.parametrize(
    ("viewport", "words"),
    [
        ("{size: 390x844, bar: 10vh}", "the bar is '10vh'; write it in px"),
        ("{size: 390x844, bar: 500px}", "the bar takes up more than half of the screen"),
        ("{size: 390x844, safe-area: 5%}", "the safe-area is '5%'; write it in px"),
    ],
)
def test_bars_that_cannot_be_are_faults(make_plan: MakePlan, viewport: str, words: str) -> None:
    with pytest.raises(rl.PlanError, match=words):
        make_plan(plan_text(viewports=f"phone: {viewport}"))


def test_other_variables_of_the_screen_are_refused(make_plan: MakePlan) -> None:
    with pytest.raises(rl.PlanError, match="is unknown here; known: safe-area-inset-top"):
        make_plan(plan_text(header="height: env(keyboard-inset-top)"))


@pytest.mark.browser
def test_what_the_screen_s_shape_takes_is_proved_in_chromium(make_plan: MakePlan) -> None:
    header = (
        "height: auto, padding: calc(9px + env(safe-area-inset-top)) 20px 5px, background: '#a03020', "
        "color: white, parts: {menu: {text: Boats}}"
    )
    plan = make_plan(plan_text(header=header, sections=_SECTIONS, viewports=_PHONE))
    (proof,) = rl.prove(plan, engines="chromium").views
    assert proof.found == ()
    # The pictures have the header with the notch, which is 47 px higher.
    assert proof.worst is not None
    assert (proof.worst.frame[78, 300] == (160, 48, 32)).all()
