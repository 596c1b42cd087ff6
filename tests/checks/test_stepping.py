"""Where one screen's values give way to another's: what gets much larger by one px of width."""

from __future__ import annotations

import re

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

import rising_lantern as rl
from findings import found
from plans import MakePlan, plan_text
from rising_lantern.readers.widths import plan_at
from rising_lantern.scenes.scene import scene_of

_SCREENS = "wide: 1200x700, narrow: 400x700"
_TEXT = "a: {{height: 900px, content: [{{text: Afloat, size: {}px, at: 50% 50%, for: {{narrow: {{size: {}px}}}}}}]}}"


def steps(plan: rl.Plan) -> list[rl.Finding]:
    """What gets much larger."""
    return found(plan, "harsh-step")


def size_at(plan: rl.Plan, viewport: str, width: int) -> float:
    """The font size of the only text in a window of some width."""
    (text,) = (
        scene_of(plan_at(plan.file, viewport, width), "page", viewport).box.sections[0].content
    )
    return text.text.size


@settings(max_examples=12, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.integers(12, 90), st.integers(12, 90))
def test_a_text_that_grows_at_once_gets_the_line_between(
    make_plan: MakePlan, wide: int, narrow: int
) -> None:
    """What is given is what both screens have, at their widths, and no step in between."""
    plan = make_plan(plan_text(viewports=_SCREENS, sections=_TEXT.format(wide, narrow)))
    result = steps(plan)
    assert bool(result) == (max(wide, narrow) / min(wide, narrow) > 1.5)
    for finding in result:
        assert (finding.viewport, finding.level) == ("wide", "note")
        assert finding.measured == pytest.approx(max(wide, narrow) / min(wide, narrow))
        given_ = re.search(r"'(clamp\(.*?\))' on both", finding.remedy.words)
        assert given_ is not None
        key = "pages.page.sections.a.content.0"
        fluid = plan.replace(
            {f"{key}.size": f"'{given_[1]}'", f"{key}.for": f"{{narrow: {{size: '{given_[1]}'}}}}"}
        )
        assert steps(fluid) == []
        assert size_at(fluid, "wide", 1200) == pytest.approx(wide, abs=0.1)
        assert size_at(fluid, "narrow", 400) == pytest.approx(narrow, abs=0.1)


def test_a_step_is_where_the_wider_screen_s_values_start(make_plan: MakePlan) -> None:
    screens = "wide: {size: 1200x700, from: 900}, narrow: 400x700"
    plan = make_plan(plan_text(viewports=screens, sections=_TEXT.format(60, 30)))
    (finding,) = steps(plan)
    assert "where a window gets 900 px wide" in finding.message


def test_a_text_that_follows_the_window_steps_by_what_is_left(make_plan: MakePlan) -> None:
    """At 1,199 px it has grown to 48 px, and 60 px are no step."""
    sections = _TEXT.format(60, 30).replace("30px", "4vw")
    plan = make_plan(plan_text(viewports=_SCREENS, sections=sections))
    assert steps(plan) == []


def test_a_header_that_grows_at_once_is_found_in_each_look(make_plan: MakePlan) -> None:
    header = (
        "height: 100px, for: {narrow: {height: 60px}}, "
        "looks: {tall: {}, slim: {from: 200px, height: 50px}}"
    )
    plan = make_plan(plan_text(viewports=_SCREENS, header=header))
    (finding,) = steps(plan)
    assert finding.subject.look == "tall"
    assert finding.measured == pytest.approx(100 / 60)
    assert rl.check(plan, viewports="narrow", only="harsh-step") == []


def test_what_a_notch_takes_and_another_scheme_are_no_steps(make_plan: MakePlan) -> None:
    header = "height: calc(60px + env(safe-area-inset-top))"
    screens = "wide: 1200x700, narrow: {size: 400x700, safe-area: 59px 0 34px}"
    assert steps(make_plan(plan_text(viewports=screens, header=header))) == []
    screens = "wide: {size: 1200x700, scheme: dark}, narrow: 400x700"
    assert steps(make_plan(plan_text(viewports=screens, sections=_TEXT.format(60, 30)))) == []
