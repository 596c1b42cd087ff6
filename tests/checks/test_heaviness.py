"""How long a picture of the screen takes, from what is on it."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from pictures import paint_pictures
from plans import MakePlan, plan_text
from random_plans import write_random_plan
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.heaviness import LIMIT_MS, shares_of, total_ms
from rising_lantern.checks.subjects import Subject
from rising_lantern.plan.models.limits import Check

_LIGHT = "opening: {height: 600px, layers: [{image: photo.png}]}, rest: {height: 900px}"


def milliseconds(plan: rl.Plan) -> np.ndarray:
    """The time for a picture at each px of a plan's only page."""
    context = CheckContext(plan.view().scene, Check())
    return total_ms(context, shares_of(context))


def with_layers(*layers: str) -> str:
    """A plan whose first section, as large as the screen of 1000 x 600 px, has some layers."""
    return plan_text(
        sections=f"opening: {{height: 600px, layers: [{', '.join(layers)}]}}, rest: {{height: 900px}}"
    )


def test_what_stays_in_its_place_costs_nothing_more(make_plan: MakePlan) -> None:
    times = milliseconds(make_plan(plan_text(sections=_LIGHT)))
    assert len(set(times)) == 1
    assert rl.check(make_plan(plan_text(sections=_LIGHT)), only="heavy") == []


def test_what_moves_costs_by_its_area_on_the_screen(make_plan: MakePlan) -> None:
    plain = milliseconds(make_plan(plan_text(sections=_LIGHT)))[0]
    one = milliseconds(make_plan(with_layers("{image: photo.png, speed: 0.5}"))) - plain
    two = milliseconds(make_plan(with_layers(*["{image: photo.png, speed: 0.5}"] * 2))) - plain
    assert two == pytest.approx(2 * one)
    assert one[300] == pytest.approx(one[0] / 2)
    assert one[600:] == pytest.approx(0)


def test_what_blends_costs_all_of_the_screen_once(make_plan: MakePlan) -> None:
    plain = milliseconds(make_plan(plan_text(sections=_LIGHT)))[0]
    layer = "{image: photo.png, blend: multiply}"
    one, two = (milliseconds(make_plan(with_layers(*[layer] * n))) - plain for n in (1, 2))
    assert one == pytest.approx(two)
    assert one[0] == pytest.approx(one[599])
    assert one[0] > 0
    assert one[600:] == pytest.approx(0)


def test_a_heavy_page_is_found_with_what_costs_most(make_plan: MakePlan) -> None:
    moving = [f"{{image: photo.png, speed: {speed}}}" for speed in (0.2, 0.4, 0.6, 0.7)]
    text = with_layers("{image: noise.png, blend: screen}", *moving, "{image: photo.png}")
    (found,) = rl.check(make_plan(text), only="heavy")
    times = milliseconds(make_plan(text))
    assert found.level == "note"
    assert found.measured == pytest.approx(times.max())
    over = np.flatnonzero(times > LIMIT_MS)
    assert found.scroll == (over[0], over[-1])
    assert found.worst == np.argmax(times)
    assert found.subject.section == "opening"
    assert f"{times.max():.0f} ms to put together" in found.message
    assert times[int(found.scroll[1]) + 1] <= LIMIT_MS


@pytest.mark.parametrize("seed", range(4))
def test_a_moment_by_itself_has_what_is_seen_at_its_position(tmp_path: Path, seed: int) -> None:
    """On random pages, each layer has a share where the moment at that position shows it."""
    paint_pictures(tmp_path)
    write_random_plan(tmp_path, seed)
    view = rl.read(tmp_path / "plan.json").view()
    context = CheckContext(view.scene, Check())
    shares = shares_of(context)
    times, base = total_ms(context, shares), total_ms(context, ())
    layers = {share.subject: share for share in shares if share.kind != "blends"}
    for position in np.random.default_rng(seed).integers(0, view.max_scroll + 1, 12):
        added = sum(share.at(position) for share in shares)
        assert times[position] == pytest.approx(base[position] + added)
        for moment in view.at(float(position)).layers:
            share = layers.get(Subject(moment.section, moment.index))
            if share:
                seen = moment.visible_px > 0 and moment.opacity > 0
                assert (share.at(position) > 0) == seen


@pytest.mark.parametrize(("selector", "kinds"), [("", []), (", selector: '#sky'", ["stays"])])
def test_what_stays_behind_the_page_costs_where_it_is_an_element_of_the_site(
    make_plan: MakePlan, selector: str, kinds: list[str]
) -> None:
    plan = make_plan(plan_text(under=f"{{image: photo.png, attachment: fixed{selector}}}"))
    shares = shares_of(CheckContext(plan.view().scene, Check()))
    assert [share.kind for share in shares] == kinds
