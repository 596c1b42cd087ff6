"""Every rule about headers: a plan that triggers it, its nearest neighbour that does not."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import rising_lantern as rl
from findings import found
from plans import MakePlan, plan_text
from rising_lantern.checks.switching import _traps
from rising_lantern.scroll.switches import Switch

DARK_THEN_LIGHT = (
    "a: {height: 600px, background: '#102030', layers: [{fill: 'linear-gradient(#102030, #203040)'}]}, "
    "b: {height: 900px, background: white}, c: {height: 700px, background: white}"
)
_MENU = "menu: {text: [Programme, Visit], side: end}"


def looks(second: str, change: str = "cut") -> str:
    """A header that is clear with light texts, then wears another look."""
    return f"height: 80px, color: white, change: {change}, parts: {{{_MENU}}}, looks: {{clear: {{}}, solid: {{{second}}}}}"


def test_a_part_that_stays_white_on_white_is_left_behind(make_plan: MakePlan) -> None:
    header = (
        "height: 80px, color: white, parts: {icon: {image: logo-light.png, width: 60px, side: end}, "
        "go: {text: Go, color: white}}, looks: {clear: {}, solid: {from: past a, background: white, "
        "color: black, PARTS}}"
    )
    text = plan_text(sections=DARK_THEN_LIGHT, header=header)
    findings = found(make_plan(text.replace(", PARTS", "")), "part-left-behind")
    assert {str(finding.subject) for finding in findings} == {
        "main, icon in solid",
        "main, go in solid",
    }
    assert all(finding.measured < finding.limit for finding in findings)
    parts = "parts: {icon: {image: logo-dark.png}, go: {color: black}}"
    assert found(make_plan(text.replace("PARTS", parts)), "part-left-behind") == []


@pytest.mark.parametrize(
    ("start", "late", "early"),
    [
        ("past a", None, 31),
        ("past a + 40px", None, None),
        ("past a + 200px", 150, None),
        ("past a - 150px", None, 181),
    ],
)
def test_a_switch_is_measured_against_its_backdrop(
    make_plan: MakePlan, start: str, late: int | None, early: int | None
) -> None:
    """A see-through dark look over light sections: readable where the light one is not.

    The texts stand from 29 to 51 px in the header: a white one is lost from 551 px on, where the
    dark section's edge comes over them, and a black one is found from 570 px on.
    """
    header = looks(f"from: {start}, color: black")
    plan = make_plan(plan_text(sections=DARK_THEN_LIGHT, header=header))
    for rule, by in (("late-switch", late), ("early-switch", early)):
        findings = found(plan, rule)
        assert len(findings) == (by is not None), rule
        if by is not None:
            assert findings[0].measured == pytest.approx(by, abs=2)


STICKY = "position: sticky, height: 120px, background: white, looks: {tall: {}, slim: {from: FROM, back: BACK, height: 60px}}"


def sticky(start: int, back: int, extra: str = "") -> str:
    """A header in the flow that gets 60 px shorter."""
    return plan_text(
        header=STICKY.replace("FROM", f"{start}px").replace("BACK", f"{back}px") + extra
    )


def test_a_header_that_undoes_its_own_switch_flickers(make_plan: MakePlan) -> None:
    (finding,) = found(make_plan(sticky(100, 100)), "flicker")
    assert (finding.scroll, finding.measured) == ((100, 159), 60)
    assert "back' to 40px" in finding.remedy.words
    assert found(make_plan(sticky(100, 40)), "flicker") == []
    assert len(found(make_plan(sticky(100, 41)), "flicker")) == 1
    assert found(make_plan(sticky(100, 100, ", hold-space: true")), "flicker") == []
    thrown = found(make_plan(sticky(30, 30)), "flicker")
    assert [finding.scroll for finding in thrown] == [(61, 89), (30, 60)]
    (end,) = found(make_plan(sticky(1690, 1690)), "flicker")[1:]
    assert "unreachable" in end.message


@given(st.integers(1, 300), st.integers(0, 300), st.integers(1, 150), st.integers(100, 600))
def test_traps_are_those_that_a_reader_falls_into(
    start: int, less: int, lost: int, ends: int
) -> None:
    """Against a reader who is scrolled back by every loss, and forth by every gain."""
    back = max(start - less, 0)
    step = Switch(1, start, back, 0.0)
    found_ = {kind: (a, b) for kind, a, b in _traps(step, lost, ends, sticks=True)}
    for s in range(ends + 1):
        looping = s >= start and 0 < s - lost < back
        first, last = found_.get("flickers between the looks", (math.inf, -math.inf))
        assert looping == (first <= s <= last)
        thrown = start <= s <= lost
        first, last = found_.get("throws the reader to the top", (math.inf, -math.inf))
        assert thrown == (first <= s <= last)


def test_content_jumps_where_a_header_in_the_flow_changes_its_height(make_plan: MakePlan) -> None:
    (finding,) = found(make_plan(sticky(100, 40)), "jump")
    assert finding.measured == 60
    assert found(make_plan(sticky(100, 40, ", hold-space: true")), "jump") == []


def test_a_sticky_header_lets_go_where_its_container_ends(make_plan: MakePlan) -> None:
    header = "position: sticky, top: 10px, height: 80px, inside: {}"
    (finding,) = found(make_plan(plan_text(header=header.format("second"))), "lets-go-early")
    # The section ends at 1,500 px: minus the header and its inset.
    assert finding.measured == pytest.approx(1500 - 80 - 10, abs=1)
    (finding,) = found(make_plan(plan_text(header=header.format("100vh"))), "lets-go-early")
    assert finding.measured == pytest.approx(600 - 80 - 10, abs=1)
    whole = plan_text(header="position: sticky, height: 80px")
    assert found(make_plan(whole), "lets-go-early") == []


def test_a_header_over_a_text_is_found_at_the_top_and_after_a_jump(make_plan: MakePlan) -> None:
    content = "content: [{{text: Afloat, size: 20px, leading: 1, at: 0 {}}}]"
    sections = "a: {{height: 600px, {}}}, b: {{height: 900px, {}}}, c: {{height: 700px}}"
    for first, second, subjects in ((60, 60, ["a", "b"]), (80, 79, ["b"]), (80, 80, [])):
        inner = sections.format(content.format(f"{first}px"), content.format(f"{second}px"))
        findings = found(
            make_plan(plan_text(header="height: 80px", sections=inner)), "covers-start"
        )
        assert [str(finding.subject) for finding in findings] == subjects
        if first == 60:
            assert [finding.measured for finding in findings] == [20, 20]


@pytest.mark.parametrize("position", ["static", "absolute"])
@pytest.mark.parametrize("speed", [0.5, 1.5, -0.5])
def test_what_passes_behind_a_header_above_the_screen_does_not_count(
    make_plan: MakePlan, position: str, speed: float
) -> None:
    """The header scrolls away, and a text that moves more slowly meets it there or not at all."""
    header = f"position: {position}, height: 120px, background: 'rgb(255 255 255 / .3)', color: black, over: true, parts: {{{_MENU}}}"
    text = f"{{text: Lanterns on the river, size: 40px, color: black, at: 0% 30%, speed: {speed}}}"
    plan = make_plan(
        plan_text(
            header=header, sections=f"a: {{height: 900px, content: [{text}]}}, b: {{height: 900px}}"
        )
    )
    for item in rl.check(plan, only=("runs-under",)):
        assert item.worst is not None
        assert item.worst < 120


def test_a_logo_of_another_shape_moves_what_stands_beside_it(make_plan: MakePlan) -> None:
    header = (
        "height: 80px, parts: {{logo: {{image: logo-light.png}}, name: {{text: Saltmere}}}}, "
        "looks: {{a: {{}}, b: {{from: 300px, parts: {{logo: {{image: {}}}}}}}}}"
    )
    (finding,) = found(make_plan(plan_text(header=header.format("photo.png"))), "logo-shift")
    assert finding.measured == pytest.approx(600 - 120)
    assert found(make_plan(plan_text(header=header.format("logo-dark.png"))), "logo-shift") == []


def test_a_slow_fade_comes_with_the_time_that_is_short_enough(make_plan: MakePlan) -> None:
    """White on white, until the fade has come far enough for dark letters."""
    second = "from: past a, color: black, background: white"
    slow = plan_text(sections=DARK_THEN_LIGHT, header=looks(second, "fade 1500ms linear"))
    (finding,) = found(make_plan(slow), "slow-change")
    assert finding.measured > 300
    time = finding.remedy.words.split()[-1]
    quick = slow.replace("1500ms", time)
    assert found(make_plan(quick), "slow-change") == []


@pytest.mark.parametrize("distance", ["20px", "300px"])
def test_a_blend_that_lags_too_far_behind_comes_with_the_lag_that_is_short_enough(
    make_plan: MakePlan, distance: str
) -> None:
    header = (
        "height: 80px, background: black, color: white, parts: {m: {text: Boats}}, looks: {a: {}, "
        f"b: {{from: 100px, background: white, color: black, change: 'blend {distance} lag 3000ms'}}}}"
    )
    sections = "a: {height: 3000px, background: '#888'}"
    slow = plan_text(sections=sections, header=header)
    (finding,) = rl.check(make_plan(slow), only="slow-change")
    assert finding.measured > 300
    lag = finding.remedy.words.split()[-1]
    assert finding.remedy.words.startswith("shorten its lag to ")
    assert rl.check(make_plan(slow.replace("3000ms", lag)), only="slow-change") == []


def test_tune_shortens_the_lag_of_a_blend(make_plan: MakePlan) -> None:
    header = (
        "height: 80px, background: black, color: white, parts: {m: {text: Boats}}, looks: {a: {}, "
        "b: {from: 100px, background: white, color: black, change: 'blend 20px lag 900ms'}}"
    )
    plan = make_plan(plan_text(sections="a: {height: 1500px, background: '#888'}", header=header))
    (finding,) = rl.check(plan, only="slow-change")
    (proposal,) = rl.tune(plan, only="slow-change")
    assert proposal.fixes[0].after == f"blend 20px lag {finding.remedy.words.split()[-1]}"


def test_a_blend_that_follows_the_scroll_takes_no_time(make_plan: MakePlan) -> None:
    """However long its way is: what cannot be read on it is another rule's."""
    header = (
        "height: 80px, background: black, color: white, parts: {m: {text: Boats}}, looks: {a: {}, "
        "b: {from: 100px, background: white, color: black, change: blend 1400px}, "
        "c: {from: 1600px, change: fade 90ms}}"
    )
    plan = make_plan(plan_text(sections="a: {height: 9000px, background: '#888'}", header=header))
    assert found(plan, "slow-change") == []
    assert found(plan, "unreadable-part")


def test_a_clear_header_needs_something_to_stand_on(make_plan: MakePlan) -> None:
    header = f"height: 80px, color: white, parts: {{{_MENU}}}"
    sections = "a: {{height: 600px, background: {}}}, b: {{height: 900px}}"
    (finding,) = found(
        make_plan(plan_text(header=header, sections=sections.format("white"))), "no-picture-below"
    )
    assert finding.measured == pytest.approx(1)
    for fine in (
        plan_text(header=header, sections=sections.format("black")),
        plan_text(header=header + ", background: black", sections=sections.format("white")),
        plan_text(header=header + ", over: false", sections=sections.format("white")),
    ):
        assert found(make_plan(fine), "no-picture-below") == []


def test_two_headers_that_apply_are_noted(make_plan: MakePlan) -> None:
    text = plan_text().replace("pages:", "headers: {one: {}, two: {show: {only: [page]}}}\npages:")
    (finding,) = found(make_plan(text), "two-headers")
    assert finding.message == "one, two all apply here; one is shown"
    assert found(make_plan(text.replace("only", "except")), "two-headers") == []


def test_switches_and_headers_are_tables(make_plan: MakePlan) -> None:
    text = plan_text(
        header="looks: {a: {}, b: {from: 25%, back: 100px}, c: {from: 5000px}}",
        viewports="laptop: 1000x600, phone: 400x800",
    )
    table = make_plan(text).switch_table()
    rows = table[table["look"] == "b"]
    assert rows["start_px"].tolist() == [400, 350]
    assert np.isneginf(table["start_px"].iloc[0])
    assert (table["max_scroll"].iloc[2], table["start_px"].iloc[2]) == (1600, 5000)
    several = plan_text().replace(
        "pages:", "headers: {one: {show: {viewports: {only: [laptop]}}}}\npages:"
    )
    headers = make_plan(
        several.replace("laptop: 1000x600", "laptop: 1000x600, phone: 390x844")
    ).header_table()
    assert list(headers.loc["page"]) == ["one", "-"]
