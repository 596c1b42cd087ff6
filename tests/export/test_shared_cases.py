"""Room, reach, areas and thresholds are said in Python, in CSS and in scripts: one table for all."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

from chromium import Chromium
from pages import write_page
from plans import MakePlan, plan_text
from rising_lantern.api.views import View
from rising_lantern.proofs.proving import without_timelines
from rising_lantern.proofs.serving import served

CASES = json.loads((Path(__file__).parents[1] / "data" / "geometry.json").read_text("utf-8"))
_HEIGHTS = {"a": 600, "b": 900, "c": 700}
_NEAR = 0.01

# What the script has worked out, as it says whenever the page is laid out anew.
_FLOW = """
const root = document.querySelector('[data-lantern-page]');
const [thresholds] = arguments;
const laidOut = new Promise((done) => {
    root.addEventListener('lantern', (event) => done(event.detail), { once: true });
});
dispatchEvent(new Event('resize'));
return laidOut.then((flow) => ({
    room: flow.room(flow.looks[0]),
    range: flow.range(flow.looks[0]),
    places: thresholds.map((threshold) => flow.place(threshold)),
}));
"""
_AREA = """
const { offsetLeft, offsetTop, offsetWidth, offsetHeight } =
    document.querySelector('.lantern-layer');
return [offsetLeft, offsetTop, offsetWidth, offsetHeight];
"""


def _view(make_plan: MakePlan, header: str, layers: dict[str, str] | None = None) -> View:
    sections = ", ".join(
        f"{name}: {{height: {height}px{(layers or {}).get(name, '')}}}"
        for name, height in _HEIGHTS.items()
    )
    return make_plan(plan_text(header=header, sections=sections)).view()


def _with_looks(header: str, thresholds: list[str]) -> str:
    """A header with a look for each threshold."""
    looks = [f"look-{index}: {{from: '{item}'}}" for index, item in enumerate(thresholds)]
    return f"{header}, looks: {{first: {{}}, {', '.join(looks)}}}" if looks else header


@pytest.mark.parametrize("case", CASES["headers"], ids=lambda case: case["header"] or "none")
def test_moments_have_the_room_and_thresholds_of_the_table(
    make_plan: MakePlan, case: dict[str, Any]
) -> None:
    thresholds = list(case["thresholds"])
    view = _view(make_plan, _with_looks(case["header"], thresholds))
    box = view.scene.box
    assert (box.flow.room(0), view.max_scroll) == (case["room"], case["range"])
    for index, text in enumerate(thresholds):
        # Each by itself: a look that would start before the one above it starts with it.
        alone = _view(make_plan, _with_looks(case["header"], [text])).scene.switches
        assert alone is not None
        start = alone.steps[1].start
        assert start == pytest.approx(case["thresholds"][text], abs=_NEAR), (index, text)


@pytest.mark.browser
@pytest.mark.parametrize("case", CASES["headers"], ids=lambda case: case["header"] or "none")
def test_the_script_has_the_room_and_thresholds_of_the_table(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, case: dict[str, Any]
) -> None:
    thresholds = list(case["thresholds"])
    layers = {"a": ", layers: [{image: photo.png, speed: 1.4}]"}
    view = _view(make_plan, _with_looks(case["header"], thresholds), layers)
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        found = chromium.run(_FLOW, thresholds)
    assert (found["room"], found["range"]) == (case["room"], case["range"])
    expected = list(case["thresholds"].values())
    assert found["places"] == pytest.approx(expected, abs=_NEAR)


@pytest.mark.parametrize("case", CASES["areas"], ids=lambda case: str(list(case.values())[:3]))
def test_moments_have_the_areas_of_the_table(make_plan: MakePlan, case: dict[str, Any]) -> None:
    section = _layer_view(make_plan, case).scene.box.section(case["section"])
    assert section is not None
    motion = section.layers[0].motion
    assert [motion.left, motion.top, motion.width, motion.height] == pytest.approx(case["area"])


@pytest.mark.browser
@pytest.mark.parametrize("by_script", [False, True], ids=["css", "script"])
@pytest.mark.parametrize("case", CASES["areas"], ids=lambda case: str(list(case.values())[:3]))
def test_an_exported_page_has_the_areas_of_the_table(
    chromium: Chromium,
    make_plan: MakePlan,
    tmp_path: Path,
    case: dict[str, Any],
    *,
    by_script: bool,
) -> None:
    page = write_page(_layer_view(make_plan, case), tmp_path / "out")
    if by_script:
        without_timelines(tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        assert chromium.run(_AREA) == pytest.approx(case["area"], abs=1)


def _layer_view(make_plan: MakePlan, case: dict[str, Any]) -> View:
    layer = f", layers: [{{image: photo.png, {case['layer']}}}]"
    return _view(make_plan, case["header"], {case["section"]: layer})
