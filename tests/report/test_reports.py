"""Scroll charts, and variants side by side."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from matplotlib.figure import Figure
from PIL import Image

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text
from rising_lantern.cli.varying import choices
from rising_lantern.outputs.records import RECORD
from rising_lantern.report.animation import write_animation
from rising_lantern.report.charts import chart_of, draw
from rising_lantern.report.previewed import previewed
from rising_lantern.report.variants import telling

_HEADER = (
    "height: 60px, color: white, parts: {menu: {text: Visit}, icon: {image: logo-light.png}}, "
    "looks: {clear: {}, solid: {from: past a, background: '#123'}}"
)
_SECTIONS = (
    "a: {height: 500px, background: '#123', layers: [{image: noise.png, speed: 0.4, opacity: .1}]}, "
    "b: {height: 900px, background: '#fed', content: [{text: Afloat, color: '#99a'}]}"
)


@pytest.fixture
def plan(make_plan: MakePlan) -> rl.Plan:
    return make_plan(plan_text(header=_HEADER, sections=_SECTIONS))


def test_a_chart_is_drawn_into_somebody_s_own_axes(plan: rl.Plan) -> None:
    """With the very values of the table: no second computation."""
    view = plan.view()
    ax = Figure().subplots()
    assert view.chart(ax) is ax
    table = view.contrast()
    line = next(
        get_line for get_line in ax.get_lines() if len(np.asarray(get_line.get_xdata())) > 2
    )
    first: Any = table[table.part == "menu"].set_index("scroll_px").contrast
    drawn = np.asarray(line.get_ydata())
    assert np.allclose(drawn, first.loc[np.asarray(line.get_xdata())], equal_nan=True)
    assert ax.get_yscale() == "log"
    words = {text.get_text() for text in ax.texts}
    assert {"menu", "icon", "a", "b", "clear", "solid"} <= words
    layers = view.chart(of="layers")
    assert "a 0" in {text.get_text() for text in layers.texts}


def test_lines_differ_without_their_colours(plan: rl.Plan) -> None:
    lines = [
        line for line in plan.view().chart().get_lines() if len(np.asarray(line.get_xdata())) > 2
    ]
    assert len({str(line.get_linestyle()) + str(line._dash_pattern) for line in lines}) == 2  # type: ignore[attr-defined]  # noqa: SLF001


def test_the_whole_chart_says_what_is_found_and_keeps_off_the_data(plan: rl.Plan) -> None:
    view = plan.view()
    figure = draw(chart_of(view.scene, view.check()))
    figure.canvas.draw()
    contrast, *_, findings = figure.axes
    result = " ".join(text.get_text() for text in findings.texts)
    assert 'error: unreadable-content, b, "Afloat"' in result
    inside = contrast.get_window_extent()
    for text in contrast.texts:
        box = text.get_window_extent()
        assert box.y0 >= inside.y1 or box.x0 >= inside.x1
    assert all(axes.get_legend() is None for axes in figure.axes)


@pytest.mark.parametrize(
    ("form", "start"), [("png", b"\x89PNG"), ("svg", b"<?xml"), ("pdf", b"%PDF")]
)
def test_preview_writes_charts_in_the_form_that_is_asked_for(
    plan: rl.Plan, folder: Path, form: str, start: bytes
) -> None:
    del plan
    result = run("preview", "plan.yaml", "-o", "out", "--chart-as", form, "--findings", cwd=folder)
    assert result.returncode == 0, result.stderr
    file = folder / "out" / "charts" / f"page.laptop.{form}"
    assert file.read_bytes().startswith(start)
    assert f'href="charts/page.laptop.{form}"' in (folder / "out" / "index.html").read_text("utf-8")


def test_variants_stand_side_by_side_with_their_figures(plan: rl.Plan) -> None:
    early, late = (
        plan.replace({"headers.main.looks.solid.from": value}) for value in ("200px", "900px")
    )
    (compared,) = rl.compare({"early": early, "late": late})
    table: Any = compared.table()
    assert list(table.index) == ["early", "late"]
    assert list(table.switches) == ["solid 200px", "solid 900px"]
    readable = {name: item.view().contrast() for name, item in (("early", early), ("late", late))}
    for name, found in readable.items():
        low = found[found.contrast < np.where(found.part == "menu", 4.5, 3)]
        assert table.loc[name, "unreadable_px"] >= low.scroll_px.nunique()
    assert table.loc["early", "errors"] < table.loc["late", "errors"]
    sheet = compared.sheet()
    assert compared.sheet([0, 700]).width < sheet.width
    assert sheet.height > 2 * 180
    frames = np.asarray(compared.sheet([300]))
    assert frames.std() > 10
    assert len(compared.chart().axes) == 2
    with pytest.raises(rl.RequestError, match="2 to 12 variants"):
        list(rl.compare({"alone": early}))


def test_positions_that_tell_variants_apart_are_chosen() -> None:
    white, grey = np.full((100, 80, 3), 255, np.uint8), np.full((100, 80, 3), 90, np.uint8)
    same, other = [white, white], [white, grey]
    scroll = [0, 5, 50, 55, 100, 150]
    assert telling(scroll, [same, other, same, other, same, other], 3) == [1, 3, 5]
    # No column shows all variants equal, unless they are so everywhere.
    assert telling(scroll[:3], [same, other, same], 3) == [1]
    assert telling(scroll[:2], [same, same], 3) == [0]


def test_compare_writes_sheets_charts_and_tables(plan: rl.Plan, folder: Path) -> None:
    del plan
    result = run(
        *("compare", "plan.yaml", "--vary", "headers.main.looks.solid.from=200px,past a"),
        *("--vary", "headers.main.looks.solid.background=rgb(10 20 30 / .9),#fed", "-o", "out"),
        cwd=folder,
    )
    assert result.returncode == 0, result.stderr
    assert "from past a, background rgb(10 20 30 / .9)" in result.stdout
    assert sorted(path.name for path in (folder / "out").iterdir()) == [
        RECORD, "page.laptop.contrast.png", "page.laptop.csv", "page.laptop.frames.png",
    ]  # fmt: skip
    with Image.open(folder / "out" / "page.laptop.frames.png") as sheet:
        assert sheet.height > 4 * 180
    (folder / "other.yaml").write_text((folder / "plan.yaml").read_text("utf-8"), "utf-8")
    two = run("compare", "plan.yaml", "other.yaml", "--at", "0,300", "-o", "two", cwd=folder)
    assert two.returncode == 0, two.stderr
    assert "other.yaml" in two.stdout


@pytest.mark.parametrize(
    ("words", "message"),
    [
        ([], "name a second plan, or values with --vary, but not both"),
        (["--vary", "headers.main.height"], "has no '='"),
        (["--vary", "headers.main.hight=1px,2px"], "did you mean 'height'?"),
        (["--vary", "headers.main.height=" + ",".join(f"{n}px" for n in range(13))], "13 variants"),
        (["--vary", "headers.main.height=50px,60px", "--at", "top"], "is not a list of px"),
        (["--vary", "headers.main.height=50px,60px", "--at", "-4"], "cannot be below zero"),
    ],
)
def test_what_cannot_be_compared_is_reported(
    plan: rl.Plan, folder: Path, words: list[str], message: str
) -> None:
    del plan
    result = run("compare", "plan.yaml", *words, "-o", "out", cwd=folder)
    assert result.returncode == 2
    assert message in result.stderr
    assert not (folder / "out").exists()


@given(
    st.lists(st.sampled_from(["50px", "rgb(1, 2, 3)", "past a", "'a, b'", "[1, 2]"]), min_size=1)
)
def test_values_are_parted_by_commas_outside_brackets_and_quotes(values: list[str]) -> None:
    assert choices("a.b = " + ", ".join(values)) == ("a.b", values)


def test_a_chart_of_very_many_lines_names_some_and_counts_the_others(make_plan: MakePlan) -> None:
    sections = ", ".join(
        f"s{index}: {{height: 620px, layers: [{{image: photo.png, speed: 0.{index % 8 + 1}}}]}}"
        for index in range(60)
    )
    figure = draw(chart_of(make_plan(plan_text(sections=sections)).view().scene))
    figure.canvas.draw()
    words = [text for axes in figure.axes for text in axes.texts]
    assert any(re.fullmatch(r"and \d+ more", text.get_text()) for text in words)
    for text in (*words, *(title for title in figure.texts)):
        box = text.get_window_extent()
        assert box.y0 >= 0
        assert box.y1 <= figure.bbox.height


def test_no_square_of_a_moving_picture_is_off(regatta: rl.Plan, tmp_path: Path) -> None:
    """Nor is anything left there of the picture before: squares of 8 px, by their lightness."""
    view = regatta.view("visit")
    frames = [view.pixels(scroll) for scroll in range(900, 1700, 50)]
    write_animation(iter(frames), tmp_path / "flick.webp", "webp")
    weights = np.array([0.299, 0.587, 0.114])
    with Image.open(tmp_path / "flick.webp") as moving:
        assert getattr(moving, "n_frames", 1) == len(frames)
        for index, frame in enumerate(frames):
            moving.seek(index)
            shown = np.asarray(moving.convert("RGB")) @ weights
            planned = np.asarray(Image.fromarray(frame).resize(moving.size, Image.Resampling.BOX))
            off = (shown - planned @ weights)[: moving.height // 8 * 8, : moving.width // 8 * 8]
            squares = off.reshape(moving.height // 8, 8, moving.width // 8, 8).mean(axis=(1, 3))
            assert np.abs(squares).max() < 6
    assert (tmp_path / "flick.webp").stat().st_size < 60_000 * len(frames)


def test_filmstrips_show_what_is_there_for_a_time_only(make_plan: MakePlan) -> None:
    """Each slide, the middle of its fade, and the middle of a fade of looks."""
    header = (
        "position: fixed, height: 60px, background: white, change: fade 400ms, looks: "
        "{a: {}, b: {from: 200px, background: black}}"
    )
    layer = "{slides: [photo.png, noise.png, logo-dark.png], every: 4s, change: fade 1s}"
    sections = f"a: {{height: 600px}}, b: {{height: 900px, layers: [{layer}]}}"
    view = make_plan(plan_text(header=header, sections=sections)).view()
    shots = {shot.stop.reasons[0]: shot for shot in previewed(view.scene).shots}
    half = shots["half-way to b, in time"]
    assert 0.4 < half.moment.progress < 0.6
    assert 100 < half.pixels[30, 500, 0] < 160
    slides = [shots[f"slide {place} of 3 of b"] for place in (2, 3)]
    for place, shot in enumerate(slides, 1):
        planned = view.showing(place).pixels(shot.stop.scroll_px)
        assert (shot.pixels == planned).all()
    fading = shots["half-way to the next slide of b"]
    ends = [view.showing(place).pixels(fading.stop.scroll_px).astype(int) for place in (0, 1)]
    assert np.abs(fading.pixels - (ends[0] + ends[1]) / 2).mean() < 3


@pytest.mark.parametrize(
    ("key", "values", "what"),
    [
        ("headers.main.change", ("fade 200ms", "fade 800ms"), "the change to b"),
        ("pages.page.sections.b.layers.0.every", ("4s", "7s"), "the slides of b"),
        ("pages.page.sections.a.content.0.enter.time", ("200ms", "900ms"), "the arrival in a"),
        ("headers.main.looks.b.background", ("black", "#222"), ""),
    ],
)
def test_variants_that_differ_in_time_only_are_shown_in_time(
    make_plan: MakePlan, folder: Path, key: str, values: tuple[str, str], what: str
) -> None:
    header = (
        "position: fixed, height: 60px, background: white, change: fade 400ms, looks: "
        "{a: {}, b: {from: 200px, background: black}}"
    )
    sections = (
        "a: {height: 600px, content: [{text: The river, at: 50% 50%, enter: {y: 40px, opacity: 0, "
        "time: 300ms}}]}, b: {height: 900px, layers: [{slides: [photo.png, noise.png], every: 4s, "
        "change: fade 1s}]}"
    )
    plan = make_plan(plan_text(header=header, sections=sections))
    variants = {value: plan.replace({key: value}) for value in values}
    (found,) = rl.compare(variants)
    assert found.differs_in_time_only == bool(what)
    assert found.sheet().width > 900
    varied = f"{key}={','.join(values)}"
    result = run("compare", folder / "plan.yaml", "--vary", varied, "-o", folder / "out")
    assert result.returncode == 0, result.stderr
    assert ("the same at rest" in result.stdout) == bool(what)
    assert not re.search(r" +$", result.stdout, re.MULTILINE)
