"""Switches, moments and traces, against direct arithmetic and a reader who scrolls px by px."""

from __future__ import annotations

import math
import re
from pathlib import Path
from tempfile import TemporaryDirectory
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

import rising_lantern as rl
from plans import MakePlan, plan_text
from rising_lantern.api.views import View
from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.easings import parse_easing
from rising_lantern.layout.motion import Course, Motion, Reach, motion_of
from rising_lantern.layout.paths import Path as LayerPath
from rising_lantern.layout.paths import PathPoint
from rising_lantern.layout.screen import Screen
from rising_lantern.plan.models.show import Show
from rising_lantern.scroll.gestures import named_gesture, read_gesture
from rising_lantern.scroll.trace import HEADER_COLUMNS, LAYER_COLUMNS


class Row(SimpleNamespace):
    """A row of a table by the names of its columns."""

    def __init__(self, row: dict[Any, Any]) -> None:
        super().__init__(**row)

    def __getattr__(self, name: str) -> Any:
        """Only for type checkers: the columns are set by name."""
        raise AttributeError(name)


def view_of(text: str) -> View:
    """A view of a plan that needs no pictures; for generated plans."""
    with TemporaryDirectory() as name:
        path = Path(name) / "plan.yaml"
        path.write_text(text, "utf-8")
        return rl.read(path).view()


heights = st.integers(20, 200)
section_heights = st.lists(st.integers(100, 900), min_size=2, max_size=5)


@given(
    section_heights,
    heights,
    heights,
    st.sampled_from(["fixed", "sticky", "absolute", "static"]),
    st.sampled_from(["past", "reach"]),
    st.data(),
)
def test_a_section_s_edge_meets_the_header_s_edge_at_the_switch(
    sizes: list[int], tall: int, slim: int, position: str, edge: str, data: st.DataObject
) -> None:
    """Direct arithmetic: where the edge is on the page, less where the header's edge is."""
    index = data.draw(st.integers(0, len(sizes) - 1))
    offset = data.draw(st.integers(-150, 150))
    sections = ", ".join(f"s{i}: {{height: {size}px}}" for i, size in enumerate(sizes))
    threshold = f"{edge} s{index} {'+' if offset >= 0 else '-'} {abs(offset)}px"
    header = (
        f"position: {position}, top: 7px, looks: {{a: {{height: {tall}px}}, "
        f"b: {{from: {threshold}, height: {slim}px}}}}"
    )
    view = view_of(plan_text(header=header, sections=sections))
    top = sum(sizes[: index + (edge == "past")])
    in_flow = tall if position in {"static", "sticky"} else 0
    covered = 7 + tall if position in {"fixed", "sticky"} else 0
    assert view.scene.switches is not None
    assert view.scene.switches.steps[1].start == pytest.approx(in_flow + top - covered + offset)


@given(st.integers(600, 3000), st.floats(0, 100), st.floats(0, 90), st.integers(-40, 40))
def test_lengths_and_percentages_are_thresholds(
    height: int, percent: float, vh: float, px: int
) -> None:
    header = (
        f"looks: {{a: {{}}, b: {{from: calc({percent:.3f}% + {px}px)}}, c: {{from: {vh:.3f}vh}}}}"
    )
    view = view_of(plan_text(header=header, sections=f"a: {{height: {height}px}}"))
    assert view.scene.switches is not None
    first = round(percent, 3) / 100 * (height - 600) + px
    second = max(round(vh, 3) * 6, first)
    starts = [step.start for step in view.scene.switches.steps[1:]]
    for start, exact in zip(starts, (first, second), strict=True):
        # Engines differ by up to an eighth of a px on where an edge is: it is met on the whole px.
        is_hair = start == int(start) and 0 <= exact - start < 0.125
        assert is_hair or start == pytest.approx(exact, abs=1e-6)


def test_a_section_that_the_page_does_not_have_is_past_from_the_start(make_plan: MakePlan) -> None:
    plan = make_plan(
        "rising-lantern: 1\n"
        "viewports: {laptop: 1000x600}\n"
        "headers: {main: {looks: {a: {}, b: {from: past hero}}}}\n"
        "pages:\n"
        "  with: {sections: {hero: {height: 500px}, rest: {height: 900px}}}\n"
        "  without: {sections: {rest: {height: 900px}}}\n"
    )
    assert plan.view("with").at(0).look == "a"
    assert plan.view("without").at(0).look == "b"


thresholds = st.lists(st.integers(0, 1700), min_size=1, max_size=4).map(sorted)


@given(thresholds, st.lists(st.integers(0, 400), min_size=4, max_size=4))
def test_looks_are_those_of_a_reader_who_scrolls_px_by_px(
    starts: list[int], bands: list[int]
) -> None:
    """Down and up again, one px at a time, with the rule applied as it is written."""
    backs = [max(start - band, 0) for start, band in zip(starts, bands, strict=False)]
    looks = ", ".join(
        f"l{i}: {{from: {start}px, back: {back}px}}"
        for i, (start, back) in enumerate(zip(starts, backs, strict=True), 1)
    )
    view = view_of(plan_text(header=f"looks: {{l0: {{}}, {looks}}}"))
    positions = np.arange(view.max_scroll + 1)
    current, down = 0, []
    for scroll in positions:
        while current < len(starts) and scroll >= starts[current]:
            current += 1
        down.append(current)
    up = []
    for scroll in positions[::-1]:
        while current and scroll < backs[current - 1]:
            current -= 1
        up.append(current)
    for going, expected in (("down", down), ("up", up[::-1])):
        header = view.scene.sweep(positions, going).header  # type: ignore[arg-type]
        assert header is not None
        assert header.look.tolist() == expected


@given(st.integers(0, 1200), st.integers(1, 400), st.integers(0, 500))
def test_a_blend_runs_along_its_distance_and_back(start: int, distance: int, gap: int) -> None:
    header = (
        f"height: 100px, change: blend {distance}px, looks: {{a: {{background: rgb(0 0 0 / 0)}}, "
        f"b: {{from: {start}px, height: 50px, background: rgb(0 0 0 / 1)}}, "
        f"c: {{from: {start + gap}px, height: 80px}}}}"
    )
    view = view_of(plan_text(header=header))
    for scroll in range(0, view.max_scroll, 61):
        moment = view.at(scroll)
        assert moment.header is not None
        assert view.at(scroll, "up") == moment
        if scroll < start:
            assert (moment.look, moment.progress) == ("a", 1)
        elif scroll < start + gap:
            share = min((scroll - start) / min(distance, gap), 1)
            assert moment.look == "b"
            assert moment.progress == pytest.approx(share)
            assert moment.header.box.height == pytest.approx(100 - 50 * share)
            assert moment.header.background.alpha == pytest.approx(share)


def test_a_look_never_ends_beyond_its_start(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(header="looks: {a: {}, b: {from: 10vh, back: 61px}}"))
    with pytest.raises(rl.PlanError, match=r"would end at 61 px, beyond its start at 60 px"):
        plan.view()


def test_a_header_that_shrinks_in_the_flow_shortens_the_page(make_plan: MakePlan) -> None:
    looks = "looks: {tall: {height: 120px}, slim: {from: 50px, height: 60px}}"
    loose = make_plan(plan_text(header=f"position: sticky, {looks}")).view()
    assert loose.at(40).sections["opening"].top == 80
    assert loose.at(60).sections["opening"].top == 0
    assert loose.max_scroll == 1660
    held = make_plan(plan_text(header=f"position: sticky, hold-space: true, {looks}")).view()
    assert held.at(60).sections["opening"].top == 60
    assert held.max_scroll == 1720


positions = st.floats(0, 1).map(lambda share: math.floor(share * 1500))


@given(st.lists(positions, min_size=1, max_size=30), st.sampled_from(["down", "up"]))
def test_a_moment_is_the_row_of_the_trace(scrolls: list[int], going: str) -> None:
    header = (
        "position: sticky, height: 90px, change: blend 200px ease, color: white, looks: {a: {}, "
        "b: {from: 300px, height: 50px, background: '#123', color: '#fff8'}}"
    )
    sections = "a: {height: 900px, layers: [{fill: 'linear-gradient(red, blue)', speed: 0.3}]}, b: {height: 1300px}"
    view = view_of(plan_text(header=header, sections=sections))
    swept = view.scene.sweep(scrolls, going)  # type: ignore[arg-type]
    for index, scroll in enumerate(scrolls):
        assert swept.moment(index) == view.at(scroll, going)  # type: ignore[arg-type]


def test_traces_have_their_columns_and_agree_with_moments(make_plan: MakePlan) -> None:
    header = (
        "position: sticky, height: 90px, change: blend 200px ease, parts: {name: {text: Saltmere}}, "
        "looks: {a: {}, b: {from: 300px, height: 50px, background: '#123'}}"
    )
    sections = "a: {height: 900px, layers: [{image: photo.png, speed: 0.3, opacity: 0.5}, {fill: red}]}, b: {height: 1300px}"
    view = make_plan(plan_text(header=header, sections=sections)).view()
    table = view.trace(step=70)
    assert tuple(table.columns) == HEADER_COLUMNS
    assert table["scroll_px"].iloc[-1] == view.max_scroll
    for row in map(Row, table.to_dict("records")):
        moment = view.at(row.scroll_px)
        assert moment.header is not None
        assert (row.page, row.viewport, row.look) == ("page", "laptop", moment.look)
        assert row.progress == moment.progress
        assert row.header_top_px == moment.header.box.top
        assert row.header_height_px == moment.header.box.height
        assert row.background == moment.header.background.hex()
    layers = view.trace(step=70, of="layers")
    assert tuple(layers.columns) == LAYER_COLUMNS
    assert len(layers) == 2 * len(table)
    for row in map(Row, layers.to_dict("records")):
        layer = view.at(row.scroll_px).layers[row.layer]
        assert (row.left_px, row.top_px) == (layer.box.left, layer.box.top)
        assert (row.width_px, row.height_px) == (layer.box.width, layer.box.height)
        assert (row.opacity, row.visible_px) == (layer.opacity, layer.visible_px)


def gaps(motion: Motion, height: float, screen: float, cut: tuple[float, float]) -> float:
    """The largest gap in px that a shortened area shows: every px, and hard by each corner."""
    worst = 0.0
    sweep = [float(r) for r in range(-math.floor(screen), math.floor(height) + 1)]
    corners = (-screen, 0.0, height - screen, height)
    for r in [*sweep, *(corner + side for corner in corners for side in (-1e-7, 1e-7))]:
        left, top = (float(edge) for edge in motion.origin(-r, 0.0))
        high, low = max(-r, 0.0), min(height - r, screen)
        if high < low:
            worst = max(worst, top - high, low - (top + motion.height - cut[1]))
            worst = max(worst, left, 1000.0 - (left + motion.width - cut[0]))
    return worst


@given(
    st.integers(50, 1500),
    st.integers(300, 1200),
    st.floats(-2, 3).map(lambda speed: round(speed, 2)),
    st.floats(-0.5, 0.5).map(lambda drift: round(drift, 2)),
)
def test_an_area_is_just_large_enough_at_every_px_of_scroll(
    height: int, screen: int, speed: float, drift: float
) -> None:
    """Against brute force: no gap with it, and a gap with one that is 2 px less."""
    motion = motion_of(Course(speed, drift), Rect(0, 0, 1000, height), Screen(1000, screen, 1000))
    assert gaps(motion, height, screen, (0, 0)) <= 1e-5
    assert gaps(motion, height, screen, (0, 2)) >= 2 - 1e-5
    assert gaps(motion, height, screen, (2, 0)) >= 2 - 1e-5


EASINGS = st.sampled_from(
    [
        "linear",
        "ease",
        "ease-in-out",
        "cubic-bezier(.3, -.8, .6, 1.9)",
        "steps(3)",
        "linear(0, .9 20%, .4 60%, 1)",
    ]
)


def bent_gap(motion: Motion, box: Rect, reach: Reach, screen: int, cut: float) -> float:
    """The largest gap of an area that is shortened, over the scroll in steps of an eighth of a px."""
    r = np.arange(reach.low, reach.high + 0.125, 0.125).clip(reach.low, reach.high)
    scroll = r + reach.tops[0]
    for point in motion.path.points if motion.path else ():
        scroll = np.append(scroll, [point.at, np.nextafter(point.at, -np.inf)])
    low, high = reach.low + reach.tops[0], reach.high + reach.tops[0]
    scroll = scroll[(scroll >= low) & (scroll <= high)]
    top = reach.tops[0] - scroll
    left, above = motion.origin(top, scroll)
    scale = motion.scale(scroll)
    upper, lower = np.maximum(top, 0.0), np.minimum(top + box.height, screen)
    strips = [
        above - upper,
        lower - (above + (motion.height - cut) * scale),
        left,
        box.width - left - motion.width * scale,
    ]
    return float(np.where(lower >= upper, np.maximum.reduce(strips), 0.0).max())


@given(
    st.integers(50, 1500),
    st.integers(0, 1500),
    st.integers(0, 1500),
    st.floats(-1.5, 2.5),
    st.floats(-0.4, 0.4),
    st.lists(
        st.tuples(st.integers(0, 400), st.floats(-90, 90), st.floats(-90, 90), EASINGS),
        min_size=2,
        max_size=4,
    ),
    st.sampled_from([1.0, 1.0, 0.7, 1.4]),
)
def test_a_path_and_the_ends_of_the_page_leave_no_gap_either(
    height: int, above: int, below: int, speed: float, drift: float, stops: list[Any], scale: float
) -> None:
    """Against brute force: no gap, and one where the area is 2 px shorter."""
    screen, box = 600, Rect(0, 0, 1000, height)
    end = float(max(above + height + below - screen, 0))
    reach = Reach(float(max(-above, -screen)), min(end - above, float(height)), (float(above),))
    at, points = 0, []
    for run, x, y, easing in stops:
        at += run
        points.append(PathPoint(float(at), x, y, 1.0, scale, parse_easing(easing)))
    path = LayerPath(tuple(points), speed - 0.5, speed - 1.2)
    motion = motion_of(Course(speed, drift, path), box, Screen(1000, screen, 1000), reach)
    assert bent_gap(motion, box, reach, screen, 0) <= 1e-5
    if scale == 1:
        assert bent_gap(motion, box, reach, screen, 2) >= 1.4


def test_the_ends_of_the_page_make_an_area_smaller(make_plan: MakePlan) -> None:
    """An opening cannot be scrolled down to; at speeds of 0 to 1 its area stays the CSS one."""
    sections = (
        "a: {{height: 500px, layers: [{{image: photo.png, speed: {}}}]}}, b: {{height: 900px}}"
    )
    for speed, height in ((1.5, 750), (0.5, 550), (-0.5, 750)):
        view = make_plan(plan_text(sections=sections.format(speed))).view()
        assert view.scene.box.sections[0].layers[0].motion.height == pytest.approx(height)


@pytest.mark.parametrize(
    ("settle", "scroll"), [("", 450), ("settle: reach a, ", 700), ("settle: 123px, ", 123)]
)
def test_a_picture_stands_in_its_place_where_it_settles(
    make_plan: MakePlan, settle: str, scroll: int
) -> None:
    layer = f"image: photo.png, size: 90px auto, position: 20% 70%, {settle}speed: 1.6, drift: -.2"
    sections = (
        f"x: {{height: 700px}}, a: {{height: 100px, layers: [{{{layer}}}]}}, y: {{height: 900px}}"
    )
    moment = make_plan(plan_text(sections=sections)).view().at(scroll)
    box = moment.layers[0].box
    assert box.left == pytest.approx(0.2 * (1000 - 90))
    assert box.top - moment.sections["a"].top == pytest.approx(0.7 * (100 - 60))


def test_stops_of_a_path_keep_their_order_and_jump(make_plan: MakePlan) -> None:
    """Two stops at one place are a jump; one that comes too early starts with its forerunner."""
    path = "[{at: 200px, y: 10px}, {at: 400px, y: 50px}, {at: 300px, y: -50px}, {at: past a, opacity: 0}]"
    layer = f"image: photo.png, speed: 1, path: {path}"
    sections = f"a: {{height: 700px, layers: [{{{layer}}}]}}, b: {{height: 900px}}"
    view = make_plan(plan_text(sections=sections)).view()
    scroll = np.array([0, 200, 300, 399.999, 400, 550, 700, 800])
    track = next(view.scene.sweep(scroll).layers())
    shift = track.top - track.top[0] + scroll
    assert shift == pytest.approx([0, 0, 20, 40, -60, -35, -10, -10], abs=1e-3)
    assert track.opacity == pytest.approx([1, 1, 1, 1, 1, 0.5, 0, 0])


def test_a_text_of_its_own_speed_stands_in_its_place_where_its_section_is_centred(
    make_plan: MakePlan,
) -> None:
    content = "[{text: Afloat, at: 50% 50%, speed: 1.5}]"
    sections = (
        f"x: {{height: 700px}}, a: {{height: 200px, content: {content}}}, y: {{height: 900px}}"
    )
    view = make_plan(plan_text(sections=sections)).view()
    (text,) = view.scene.box.sections[1].content
    for scroll, offset in ((500, 0), (400, 50), (600, -50)):
        top = view.at(scroll).sections["a"].top
        assert float(text.motion.origin(top, scroll)[1]) - top == pytest.approx(offset)


@given(st.integers(50, 1500), st.integers(300, 1200), st.floats(-2, 3))
def test_the_height_of_an_area_has_three_cases(height: int, screen: int, speed: float) -> None:
    motion = motion_of(Course(speed), Rect(0, 0, 1000, height), Screen(1000, screen, 1000))
    if speed < 0:
        expected, top = (1 - speed) * screen - speed * height, speed * height
    elif speed > 1:
        expected, top = speed * height + (speed - 1) * screen, (1 - speed) * screen
    else:
        expected, top = speed * height + (1 - speed) * screen, 0.0
    assert motion.height == pytest.approx(expected)
    assert motion.top == pytest.approx(top)


@given(st.integers(100, 1200), st.floats(-1, 2), st.floats(-0.3, 0.3), st.integers(0, 1400))
def test_a_moving_layer_never_leaves_a_gap(
    height: int, speed: float, drift: float, scroll: int
) -> None:
    """A picture that covers its area covers every px of its section that is on the screen."""
    layer = f"{{fill: 'linear-gradient(red, blue)', speed: {speed:.4f}, drift: {drift:.4f}}}"
    sections = (
        f"x: {{height: 700px}}, a: {{height: {height}px, layers: [{layer}]}}, y: {{height: 700px}}"
    )
    view = view_of(plan_text(sections=sections))
    moment = view.at(min(scroll, view.max_scroll))
    section, (moving,) = moment.sections["a"], moment.layers
    high, low = max(section.top, 0), min(section.bottom, 600)
    if high < low:
        assert moving.box.top <= high + 1e-6
        assert moving.box.bottom >= low - 1e-6
        assert moving.box.left <= 1e-6
        assert moving.box.right >= 1000 - 1e-6
        assert moving.visible_px == pytest.approx(low - high)
    else:
        assert moving.visible_px == 0


def test_a_page_without_header_or_layers_has_empty_traces(make_plan: MakePlan) -> None:
    view = make_plan(plan_text()).view()
    assert view.trace().empty
    assert view.trace(of="layers").empty


@pytest.mark.parametrize("scroll", [-1, 1e9, math.nan, math.inf])
def test_positions_off_the_page_are_refused(make_plan: MakePlan, scroll: float) -> None:
    view = make_plan(plan_text()).view()
    with pytest.raises(rl.RequestError):
        view.at(scroll)
    with pytest.raises(rl.RequestError):
        view.trace(step=min(scroll, 0))


def test_stops_are_the_places_worth_looking_at(make_plan: MakePlan) -> None:
    header = "looks: {a: {}, b: {from: 200.5px}, c: {from: 400px, change: blend 100px}, d: {from: 9000px}}"
    stops = make_plan(plan_text(header=header)).view().stops()
    result = {stop.scroll_px: stop.reasons for stop in stops}
    assert result == {
        0: ("top of the page",),
        200: ("just before b",),
        201: ("b starts: 200.5px",),
        399: ("just before c",),
        400: ("c starts: 400px",),
        450: ("half-way to c",),
        500: ("c complete",),
        750: ("half-way through second",),
        1550: ("half-way through third",),
        1600: ("end of the page",),
    }
    assert [stop.scroll_px for stop in stops] == sorted(result)


@pytest.mark.parametrize("name", ["reading", "wheel", "flick", "page-down", "jump"])
@given(st.integers(0, 9000), st.integers(300, 2000))
def test_gestures_go_from_the_top_to_the_end_and_never_back(
    name: str, max_scroll: int, screen: int
) -> None:
    result = named_gesture(name, max_scroll, screen)
    assert result.scroll[0] == 0
    assert result.scroll[-1] == max_scroll
    assert (np.diff(result.scroll) >= 0).all()
    assert np.allclose(np.diff(result.seconds), 1 / 60)


def test_a_flick_runs_out_exponentially() -> None:
    result = named_gesture("flick", 5000, 800)
    for seconds in (0.1, 0.5, 1.0):
        expected = 3000 * 0.325 * (1 - math.exp(-seconds / 0.325))
        assert result.scroll[round(seconds * 60)] == pytest.approx(expected, abs=0.6)


def test_a_recorded_path_is_played(make_plan: MakePlan, tmp_path: Path) -> None:
    """From a file, with or without a heading; the fade is on its way where the scroll stands."""
    header = "height: 100px, looks: {a: {}, b: {from: 300px, height: 50px, change: fade 1s linear}}"
    view = make_plan(plan_text(header=header)).view()
    for heading in ("seconds,px\n", ""):
        (tmp_path / "way.csv").write_text(f"{heading}0,0\n0.5,400\n2,400\n", "utf-8")
        table = view.play(read_gesture(tmp_path / "way.csv"))
        half = table[table["time_s"].sub(0.4 + 0.5).abs() < 0.009].iloc[0]
        assert half["header_height_px"] == pytest.approx(75, abs=2)
        assert half["progress"] == pytest.approx(0.5, abs=0.04)
    assert list(view.play("jump second")["look"])[-1] == "b"
    assert view.play([(0, 0), (1, 9999)])["scroll_px"].iloc[-1] == view.max_scroll


@pytest.mark.parametrize(
    "gesture",
    [
        "swim",
        "jump nowhere",
        [(0, 0)],
        [(0, 0), (math.nan, 3)],
        [(1, 0), (0, 3)],
        [(0, 0), (1e6, 3)],
    ],
)
def test_gestures_that_cannot_be_played_are_refused(make_plan: MakePlan, gesture: Any) -> None:
    with pytest.raises(rl.RequestError):
        make_plan(plan_text()).view().play(gesture)


@given(
    st.lists(st.sampled_from(["a", "b", "post", "/x/*", "/**", "/x/y?"]), max_size=3),
    st.one_of(st.none(), st.lists(st.sampled_from(["a", "post", "/x/*"]), max_size=2)),
    st.sampled_from(
        [("a", None, "/"), ("b", "post", "/x/y1"), ("c", "post", "/x/deep/er"), ("d", None, "/z")]
    ),
    st.sampled_from(["laptop", "phone"]),
)
def test_show_is_its_rule_read_out(
    excepted: list[str], only: list[str] | None, page: tuple[str, str | None, str], screen: str
) -> None:
    """By name, by kind or by a glob on the path; except beats only."""

    def named(pattern: str) -> bool:
        name, kind, path = page
        if "/" not in pattern:
            return pattern in {name, kind}
        literal = {"/x/*": r"/x/[^/]*", "/**": r"/.*", "/x/y?": r"/x/y[^/]"}[pattern]
        return re.fullmatch(literal, path) is not None

    expected = (only is None or any(map(named, only))) and not any(map(named, excepted))
    entry = {"except": excepted} | ({"only": only} if only is not None else {})
    show = Show.model_validate({**entry, "viewports": {"except": ["phone"]}})
    names = [name for name in page[:2] if name]
    assert show.applies(names, page[2], screen) == (expected and screen == "laptop")
