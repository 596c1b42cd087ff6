"""Pages at a viewport: heights, text, headers, layers."""

from __future__ import annotations

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

import rising_lantern as rl
from plans import MakePlan, plan_text
from rising_lantern.layout.fonts import FontBook
from rising_lantern.layout.texts import Style, set_text

FACE = FontBook({}).face("sans", 400)


def test_sections_follow_each_other_with_their_heights(make_plan: MakePlan) -> None:
    view = make_plan(
        plan_text(sections="a: {height: 50vh}, b: {height: calc(100vh - 80px)}, c: {height: 25%}")
    ).view()
    assert [(s.name, s.top, s.height) for s in view.scene.box.sections] == [
        ("a", 0, 300),
        ("b", 300, 520),
        ("c", 820, 150),
    ]
    assert view.max_scroll == 370


@pytest.mark.parametrize(
    ("height", "scrolls"), [("600.49px", 0), ("600.5px", 1), ("601px", 1), ("300px", 0)]
)
def test_documents_are_whole_px_high_rounded_half_up(
    make_plan: MakePlan, height: str, scrolls: int
) -> None:
    assert make_plan(plan_text(sections=f"a: {{height: {height}}}")).view().max_scroll == scrolls


def test_a_scrollbar_takes_its_width_where_the_page_scrolls(make_plan: MakePlan) -> None:
    screens = "laptop: {size: 1000x600, scrollbar: 15}"
    long = make_plan(plan_text(viewports=screens)).view()
    short = make_plan(plan_text(viewports=screens, sections="a: {height: 100vh}")).view()
    assert (long.scene.box.screen.client_width, short.scene.box.screen.client_width) == (985, 1000)
    assert long.frame(0).size == (985, 600)


def test_an_absurdly_high_page_is_refused_with_its_place(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(sections="a: {height: 10px}, b: {height: 2000000px}"))
    with pytest.raises(
        rl.PlanError, match=r"plan.yaml:5:.*2,000,010 px high.*the limit is 1,000,000 px"
    ):
        plan.view()


@pytest.mark.parametrize(
    ("header", "flow", "max_scroll"),
    [
        ("position: fixed, height: 80px", 0, 1600),
        ("position: absolute, height: 80px", 0, 1600),
        ("position: static, height: 80px", 80, 1680),
        ("position: sticky, height: 80px", 80, 1680),
        ("position: sticky, height: 10vh", 60, 1660),
    ],
)
def test_headers_in_the_flow_take_room_above_the_sections(
    make_plan: MakePlan, header: str, flow: float, max_scroll: int
) -> None:
    view = make_plan(plan_text(header=header)).view()
    assert view.at(0).sections["opening"].top == flow
    assert view.max_scroll == max_scroll


@pytest.mark.parametrize(
    ("position", "tops"),
    [
        ("position: fixed, top: 10px", [10, 10, 10]),
        ("position: absolute, top: 10px", [10, -90, -1590]),
        ("position: static, top: 10px", [0, -100, -1600]),
        ("position: sticky, top: 10px", [10, 10, 10]),
        ("position: sticky, top: -30px", [0, -30, -30]),
    ],
)
def test_headers_stand_where_their_position_puts_them(
    make_plan: MakePlan, position: str, tops: list[float]
) -> None:
    view = make_plan(plan_text(header=f"{position}, height: 80px")).view()
    moments = [view.at(scroll) for scroll in (0, 100, 1600)]
    assert [moment.header.box.top for moment in moments if moment.header] == tops


def test_parts_stand_at_their_sides(make_plan: MakePlan) -> None:
    header = (
        "height: 100px, padding: 40px, gap: 20px, parts: {"
        "brand: {image: logo-light.png, width: 60px, side: start},"
        "name: {text: Saltmere, side: start},"
        "middle: {image: logo-light.png, side: center},"
        "icon: {image: logo-dark.png, width: 30px, side: end},"
        "last: {image: logo-dark.png, width: 3%, side: end}}"
    )
    parts = make_plan(plan_text(header=header)).view().at(0).parts
    brand, name, middle = parts["brand"], parts["name"], parts["middle"]
    assert (brand.left, brand.top, brand.width, brand.height) == (40, 40, 60, 20)
    assert name.left == 120
    assert name.top + name.height / 2 == pytest.approx(50)
    assert name.width == pytest.approx(FACE.set("Saltmere").width * 16)
    assert (middle.left, middle.width) == (440, 120)
    assert parts["last"].right == 960
    assert parts["icon"].right == parts["last"].left - 20
    assert list(parts) == ["brand", "name", "middle", "icon", "last"]


words = st.lists(st.text("abcdefgh", min_size=1, max_size=12), min_size=1, max_size=25)


@given(words, st.floats(20, 400), st.sampled_from(["start", "center", "end"]))
def test_lines_fit_their_room_and_keep_all_words(words: list[str], room: float, align: str) -> None:
    style = Style(FACE, 16, 1.5, align)  # type: ignore[arg-type]
    block = set_text(" ".join(words), style, room)
    lines = ["".join(cluster.text for cluster in line.run.clusters) for line in block.lines]
    assert " ".join(lines).split() == words
    assert block.box.height == pytest.approx(24 * len(lines))
    # A word that is wider widens the box, and lines are broken at that width.
    room = max(room, *(FACE.set(word).width * 16 for word in words))
    for line, text in zip(block.lines, lines, strict=True):
        width = line.run.width * 16
        assert width <= room + 1e-6 or " " not in text
        if width <= block.box.width:
            assert line.left >= -1e-6
            assert line.left + width <= block.box.width + 1e-6
    for text, following in pairwise(lines):
        longer = f"{text} {following.split()[0]}"
        assert FACE.set(longer).width * 16 > room  # the next word did not fit


def test_line_breaks_of_the_author_are_kept() -> None:
    block = set_text("one two\n\nthree", Style(FACE, 10), 1000)
    assert len(block.lines) == 3
    assert block.lines[1].run.width == 0


def test_text_is_kerned() -> None:
    apart = FACE.set("A").width + FACE.set("V").width
    assert FACE.set("AV").width < apart


@pytest.mark.parametrize(
    ("weight", "file"),
    [(400, "Regular"), (450, "Regular"), (500, "Regular"), (600, "Semibold"), (650, "Bold"),
     (1000, "Black"), (300, "Light"), (350, "Light"), (100, "Light")],
)  # fmt: skip
def test_the_nearest_weight_stands_in(weight: int, file: str) -> None:
    """CSS Fonts 4, 5.2."""
    assert file in FontBook({}).file("sans", weight).path.name


def test_content_is_placed_as_a_background_would_be(make_plan: MakePlan) -> None:
    content = (
        "{text: Saltmere, size: 20px, leading: 2, at: 0 0},"
        "{text: Saltmere, size: 20px, leading: 2, at: 100% 100%},"
        "{text: Saltmere, size: 20px, leading: 2, at: right 10px bottom 20px,"
        " panel: {color: red, padding: 1em}},"
        "{text: 'Lanterns on the water at dusk', width: 100px, at: 50% 50%}"
    )
    view = make_plan(plan_text(sections=f"a: {{height: 500px, content: [{content}]}}")).view()
    first, last, panel, wrapped = (item.box for item in view.scene.box.sections[0].content)
    width = FACE.set("Saltmere").width * 20
    assert (first.left, first.top, first.height) == (0, 0, 40)
    assert (last.right, last.bottom) == pytest.approx((1000, 500))
    assert (panel.right, panel.bottom) == pytest.approx((990, 480))
    assert panel.width == pytest.approx(width + 40)
    assert (wrapped.left, wrapped.width) == (450, 100)


def test_a_layer_has_the_area_of_its_speed(make_plan: MakePlan) -> None:
    """``v h + (1 - v) H``, which is the section at 1 and the screen at 0."""
    layers = ", ".join(f"{{image: photo.png, speed: {v}}}" for v in (0, 0.25, 0.5, 1))
    view = make_plan(plan_text(sections=f"a: {{height: 1000px, layers: [{layers}]}}")).view()
    boxes = view.scene.box.sections[0].layers
    assert [layer.motion.height for layer in boxes] == [600, 700, 800, 1000]
    assert [layer.size for layer in boxes] == [
        (1000, pytest.approx(1000 * 400 / 600)),
        (1050, 700),
        (1200, 800),
        (1500, 1000),
    ]
