"""Looks that hold in one direction: against a reader who goes px by px, and against browsers."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import rising_lantern as rl
from plans import MakePlan, plan_text
from rising_lantern.report.header_strip import header_shots
from rising_lantern.scroll.switches import Direction
from thorough import some

SLIDES = (
    "position: absolute, height: 90px, color: '#fdf6e3', parts: {menu: {text: [Boats], side: end}}, "
    "looks: {open: {}, back: {from: 240px, going: up, after: 24px, arrive: slide, "
    "change: fade 200ms, height: 60px, background: '#fdf6e3', color: '#16213e'}}"
)
CHANGES = (
    "height: 90px, background: '#16213e', color: '#fdf6e3', change: 'fade 200ms', "
    "parts: {menu: {text: [Boats], side: end}}, looks: {open: {}, solid: {from: 180px, height: 70px}, "
    "slim: {from: 60px, back: 30px, going: down, after: 12px, height: 40px}}"
)
SECTIONS = (
    "hero: {height: 700px, background: '#16213e'}, more: {height: 1300px, background: '#eef'}"
)


def held_along(end: int, look: tuple[str, float, float, float]) -> dict[str, list[bool]]:
    """Whether the look holds at each px, for a reader who goes px by px, in plain words."""
    going, start, back, after = look
    here, way, extreme, held = 0, "down", 0, False
    found: dict[str, list[bool]] = {"down": [], "up": []}
    for leg, path in (("down", range(end + 1)), ("up", range(end, -1, -1))):
        for here in path:
            if (here > extreme) == (way == "down") and here != extreme:
                extreme = here
            elif here != extreme and abs(here - extreme) >= after:
                extreme, way = here, "up" if way == "down" else "down"
            held = way == going and here >= (back if held else start)
            found[leg].append(held)
    found["up"].reverse()
    return found


@given(
    going=st.sampled_from(["up", "down"]),
    start=st.integers(0, 700),
    less=st.integers(0, 80),
    after=st.integers(0, 400),
)
def test_a_sweep_is_what_a_reader_sees_who_goes_px_by_px(
    going: str, start: int, less: int, after: int
) -> None:
    back = max(start - less, 0)
    header = (
        "parts: {menu: {text: Boats}}, looks: {open: {}, other: {color: red, "
        f"from: {start}px, back: {back}px, going: {going}, after: {after}px}}}}"
    )
    view = rl.read_text(plan_text(header=header, sections="a: {height: 1100px}")).view()
    expected = held_along(view.max_scroll, (going, start, back, after))
    for way in ("down", "up"):
        swept = view.scene.sweep(np.arange(view.max_scroll + 1.0), way)
        assert swept.header is not None
        assert (swept.header.look == 1).tolist() == expected[way]


@given(
    st.floats(0, 60),
    st.lists(st.floats(0, 400), min_size=2, max_size=30),
)
def test_a_direction_turns_only_after_its_distance(after: float, path: list[float]) -> None:
    direction = Direction(after, path[0])
    for index, scroll in enumerate(path[1:], 1):
        before = direction.going
        direction.follow(scroll)
        if direction.going != before:
            way = 1 if before == "down" else -1
            furthest = max(way * place for place in path[:index]) * way
            assert abs(furthest - scroll) >= after or after == 0


@pytest.mark.browser
@pytest.mark.parametrize(
    "header",
    some(
        [
            SLIDES,
            CHANGES,
            SLIDES.replace("absolute", "static, hold-space: true"),
            f"position: sticky, hold-space: true, {CHANGES}",
            SLIDES.replace("absolute", "sticky, hold-space: true"),
        ],
        4,
    ),
)
def test_a_look_for_one_direction_is_proved(make_plan: MakePlan, header: str) -> None:
    plan = make_plan(plan_text(header=header, sections=SECTIONS))
    view = plan.view()
    assert view.at(700, "down").look != view.at(700, "up").look
    proof = rl.prove(plan, engines="chromium")
    assert {item.found for item in proof.views} == {()}


def test_what_fails_in_one_direction_only_is_found(make_plan: MakePlan) -> None:
    plan = make_plan(
        plan_text(header=SLIDES.replace("color: '#16213e'", "color: '#eee'"), sections=SECTIONS)
    )
    (finding,) = [item for item in rl.check(plan) if item.rule == "unreadable-part"]
    assert finding.subject.look == "back"
    assert finding.scroll == (240.0, 1376.0)
    assert "going up" in finding.message


@pytest.mark.parametrize(
    ("old", "new", "rule", "measured", "fix"),
    [
        ("after: 24px, ", "", "restless", 0, "60px"),
        ("after: 24px", "after: 9px", "restless", 9, "60px"),
        ("after: 24px", "after: 24px", "covers-return", 36, "60px"),
        ("from: 240px", "from: 1390px", "never-reached", 1390, None),
    ],
)
def test_what_a_direction_does_wrong_is_measured_and_fixed(
    make_plan: MakePlan, old: str, new: str, rule: str, measured: float, fix: str | None
) -> None:
    plan = make_plan(plan_text(header=SLIDES.replace(old, new), sections=SECTIONS))
    found = {item.rule: item.measured for item in rl.check(plan)}
    assert found[rule] == measured
    fixes = {item.key: item.value for proposal in rl.tune(plan) for item in proposal.fixes}
    if fix:
        assert fixes["headers.main.looks.back.after"] == fix
    else:
        assert fixes["headers.main.looks.back.from"] == "1376px"


@pytest.mark.parametrize(
    ("old", "new", "words"),
    [
        ("going: up, ", "", "has an 'after', and no 'going'"),
        (
            "position: absolute",
            "position: sticky",
            "and would move the page with it; set 'hold-space",
        ),
        (
            "looks: {open: {}, back: {from: 240px, ",
            "under: {dark: open}, looks: {open: {}, back: {",
            "and the header has 'under'",
        ),
        ("change: fade 200ms", "change: blend 90px", "has both a blend and a 'going'"),
        ("color: '#16213e'}", "color: red}, far: {from: 900px}", "'going', and is not the last"),
        ("going: up", "going: left", "'left' is not valid for 'going'"),
    ],
)
def test_a_direction_that_cannot_be_is_a_fault(
    make_plan: MakePlan, old: str, new: str, words: str
) -> None:
    with pytest.raises(rl.PlanError, match=words):
        make_plan(plan_text(header=SLIDES.replace(old, new), sections=SECTIONS))


def test_lists_and_settings_say_the_direction(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(header=SLIDES, sections=SECTIONS))
    table = plan.switch_table()
    assert table["going"].tolist() == ["", "up"]
    settings = plan.settings()
    said = settings[settings["state"] == "back"].set_index("setting")["laptop"]
    assert said["holds going up"] == "at or beyond 240 px"
    assert said["after turning round by"] == "24 px"
    shots = header_shots(plan.view().scene)
    assert [shot.stage.kind for shot in shots] == ["at the top", "before", "after"]


def test_the_script_for_directions_is_written_where_it_is_needed(make_plan: MakePlan) -> None:
    with_it = rl.export(make_plan(plan_text(header=SLIDES, sections=SECTIONS)))
    assert "lantern-direction.js" in with_it.files
    assert with_it.text("page.html").index("lantern-direction.js") < with_it.text(
        "page.html"
    ).index('"lantern.js"')
    without = rl.export(make_plan(plan_text(header=SLIDES.replace("going: up, after: 24px, ", ""))))
    assert "lantern-direction.js" not in without.files
