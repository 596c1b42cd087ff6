"""What the preview page is drawn from, held against the views that it shows."""

from __future__ import annotations

import base64
import io
import json
import zlib
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text
from rising_lantern.cli import preview as preview_command
from rising_lantern.previews.columns import packed
from rising_lantern.previews.long_view import long_view
from rising_lantern.previews.view_data import slides_data
from rising_lantern.report.header_strip import header_shots
from rising_lantern.scroll.gestures import gesture_on
from rising_lantern.scroll.stages import stages_of

HEADER = (
    "position: fixed, height: 80px, background: '#202840', color: white, "
    "parts: {menu: {text: [Boats], side: end}}, looks: {tall: {}, "
    "slim: {from: 200px, height: 60px, background: white, color: black, change: fade 300ms linear}, "
    "low: {from: 700px, height: 40px, background: '#404040', color: white, change: blend 100px}}"
)


def unpacked(text: dict[str, Any]) -> dict[str, np.ndarray]:
    """Columns as they were before they were packed, by the steps that their format names."""
    steps = np.frombuffer(zlib.decompress(base64.b64decode(text["data"])), dtype="<i4")
    table = steps.reshape(len(text["names"]), text["rows"]).cumsum(axis=1)
    return dict(zip(text["names"], table, strict=True))


@given(
    st.lists(st.lists(st.integers(-(10**8), 10**8), min_size=6, max_size=6), min_size=1, max_size=4)
)
def test_packed_columns_come_back(rows: list[list[int]]) -> None:
    columns = {f"c{index}": np.array(row) for index, row in enumerate(rows)}
    found = unpacked(packed(columns))
    assert {name: column.tolist() for name, column in found.items()} == {
        name: column.tolist() for name, column in columns.items()
    }


def test_the_moments_are_those_of_the_view(make_plan: MakePlan) -> None:
    layers = "opening: {height: 900px, layers: [{image: photo.png, speed: 0.3}]}"
    plan = make_plan(plan_text(header=HEADER, sections=f"{layers}, second: {{height: 1400px}}"))
    view = plan.view()
    (data,), _ = slides_data(view.scene, view.check(silenced=True))
    columns = unpacked(data.data["columns"])
    assert data.data["step"] == 1
    for scroll in (0, 199, 200, 455, 740, 800, view.max_scroll):
        for going in ("down", "up"):
            moment = view.at(scroll, going)
            assert moment.header is not None
            assert data.data["looks"][columns[f"{going} look"][scroll]] == moment.look
            assert columns[f"{going} progress"][scroll] == round(moment.progress * 1000)
            height = moment.header.box.height
            assert columns[f"{going} height"][scroll] == round(height * 100)
        layer = view.at(scroll).layers[0]
        offset = layer.box.top - view.at(scroll).sections["opening"].top
        assert columns["offset opening, layer 0"][scroll] == pytest.approx(offset * 100, abs=1)
    assert [step["look"] for step in data.data["steps"]] == ["tall", "slim", "low"]
    edges = {item["name"]: (item["past"], item["reach"]) for item in data.data["sections"]}
    assert edges["opening"][0] == 900 - 40  # in the lowest look, whose switch is before it


def test_its_contrast_is_that_of_the_table_at_every_position_it_names(
    make_plan: MakePlan,
) -> None:
    plan = make_plan(
        plan_text(header=HEADER, sections="a: {height: 2000px, layers: [{image: photo.png}]}")
    )
    view = plan.view()
    (data,), _ = slides_data(view.scene, view.check(silenced=True))
    contrast = data.data["contrast"]
    table = view.contrast().set_index(["part", "scroll_px"])["contrast"]
    (menu,) = [curve for curve in contrast["curves"] if curve["name"] == "menu"]
    expected = [table["menu", float(place)] for place in contrast["positions"]]
    assert menu["values"] == pytest.approx(expected, abs=0.006)
    # No switch is left out, and neither is the worst of a finding.
    worst = {round(item.worst) for item in view.check(silenced=True)}
    assert {199, 200, 699, 700, 799, 800} | worst <= set(contrast["positions"])


def test_the_long_view_is_the_page_as_its_sections_stand_in_the_middle(
    make_plan: MakePlan,
) -> None:
    sections = (
        "first: {height: 600px, background: '#804020'}, "
        "second: {height: 1500px, layers: [{image: photo.png, speed: 0.5}]}, "
        "third: {height: 500px, background: '#204080'}"
    )
    view = make_plan(plan_text(header=HEADER, sections=sections)).view()
    long = long_view(view.scene)
    assert long.height == view.max_scroll + 600
    assert long.pixels.shape[0] == round(long.height * long.scale)
    assert long.pixels[10, 10].tolist() == [0x80, 0x40, 0x20]  # without the header
    assert long.pixels[-10, 10].tolist() == [0x20, 0x40, 0x80]
    # Pieces of 500 px of what is higher than the screen, each from its own frame.
    (frame,) = view.scene.page_rows([850.0 - 300 + 0])
    piece = Image.fromarray(frame[50:550]).resize(
        (long.pixels.shape[1], round(500 * long.scale)), Image.Resampling.BOX
    )
    top = round(600 * long.scale)
    found = long.pixels[top : top + piece.height].astype(int)
    assert np.abs(found - np.asarray(piece)).mean() < 3


def test_stages_are_before_half_way_and_after_each_switch(make_plan: MakePlan) -> None:
    view = make_plan(plan_text(header=HEADER)).view()
    stages = stages_of(view.scene.box, view.scene.switches, view.max_scroll)
    assert [(stage.look, stage.kind, stage.scroll_px) for stage in stages] == [
        ("slim", "before", 199),
        ("slim", "half-way", 200),
        ("slim", "after", 200),
        ("low", "before", 699),
        ("low", "half-way", 750),
        ("low", "after", 800),
    ]
    half = stages[1].swept.header
    assert half is not None
    assert half.progress[stages[1].index] == pytest.approx(0.5, abs=0.03)
    assert half.height[stages[1].index] == pytest.approx(70, abs=0.7)
    shots = header_shots(view.scene)
    assert {shot.pixels.shape for shot in shots} == {(100, 1000, 3)}
    assert shots[0].pixels[5, 5].tolist() == [0x20, 0x28, 0x40]
    assert shots[2].pixels[5, 5].tolist() == [255, 255, 255]
    between = (np.array([0x20, 0x28, 0x40]) + 255) / 2
    assert shots[1].pixels[5, 5] == pytest.approx(between, abs=6)
    assert view.header_strip().width > 1000
    bare = make_plan(plan_text()).view()
    assert header_shots(bare.scene) == ()
    with pytest.raises(rl.RequestError, match="has no header"):
        bare.header_strip()


def test_stops_show_layers_moving_and_where_a_header_lets_go(make_plan: MakePlan) -> None:
    sections = (
        "first: {height: 900px}, second: {height: 1200px, "
        "layers: [{image: photo.png, speed: 0.4}]}, third: {height: 2000px}"
    )
    header = "position: sticky, inside: second, height: 60px, background: white"
    view = make_plan(plan_text(header=header, sections=sections)).view()
    reasons = {stop.scroll_px: stop.reasons for stop in view.stops()}
    assert reasons[1350] == ("second moving",)
    gone = next(place for place, words in reasons.items() if "the header lets go" in words)
    assert view.at(gone - 2).header.box.top == 0  # type: ignore[union-attr]
    assert view.at(gone + 1).header.box.top < 0  # type: ignore[union-attr]


@pytest.fixture
def plan(folder: Path) -> Path:
    """A plan of two pages in the folder."""
    text = plan_text(header=HEADER, viewports="laptop: 1000x600, phone: 390x700")
    other = "other: {sections: {only: {height: 1500px, background: '#eeeeee'}}}"
    text = text.replace("pages: {page:", f"pages: {{{other}, page:")
    (folder / "plan.yaml").write_text(text, "utf-8")
    return folder / "plan.yaml"


def data_of(path: Path) -> dict[str, Any]:
    """The data in a preview page."""
    text = path.read_text("utf-8").split('id="preview-data">')[1].split("</script>")[0]
    data: dict[str, Any] = json.loads(text)
    return data


def test_preview_holds_variants_and_may_leave_out_pages(plan: Path, folder: Path) -> None:
    result = run(
        "preview", plan, "--page", "page", "--viewport", "laptop", "-o", folder / "out",
        "--vary", "headers.main.looks.slim.from=90px,300px", "--without", "pages",
        "--at", "0,250,9000",
    )  # fmt: skip
    assert (result.returncode, result.stderr) == (0, "")
    assert result.stdout.endswith(f"Open: {folder / 'out' / 'preview.html'}\n")
    data = data_of(folder / "out" / "preview.html")
    assert data["variants"] == ["as it is", "from 90px", "from 300px"]
    starts = [data["views"][f"{index}/page/laptop/0"]["steps"][1]["start"] for index in range(3)]
    assert starts == [200, 90, 300]
    assert (data["sites"], data["assets"]) == ({}, {})
    end = data["views"]["0/page/laptop/0"]["maxScroll"]
    frames = data["views"]["0/page/laptop/0"]["frames"]
    assert [frame["at"] for frame in frames] == [0, 250, end]
    for name in (frames[0]["picture"], data["views"]["0/page/laptop/0"]["long"]):
        Image.open(io.BytesIO(base64.b64decode(data["pictures"][name]))).verify()
    assert run("preview", plan, "--at", "left").returncode == 2
    assert run("preview", plan, "--vary", "headers.main.nothing=1px").returncode == 2


def test_preview_of_headers_writes_them_alone(plan: Path, folder: Path) -> None:
    result = run("preview", plan, "--of", "header", "-o", folder / "out")
    assert result.returncode == 0
    assert result.stdout.splitlines()[0] == f"4 header strips in {folder / 'out'}"
    assert sorted(path.name for path in (folder / "out").iterdir()) == [
        ".rising-lantern.json",
        "headers",
    ]
    plan.write_text(plan_text(), "utf-8")
    assert "none of these pages has a header" in run("preview", plan, "--of", "header").stderr


def test_a_large_plan_gets_a_preview_for_each_page(
    plan: Path, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(preview_command, "_MOST_VIEWS", 3)
    result = run("preview", plan, "-o", folder / "out")
    assert result.stdout.endswith(f"Open: {folder / 'out' / 'index.html'}\n")
    index = (folder / "out" / "index.html").read_text("utf-8")
    for page in ("page", "other"):
        data = data_of(folder / "out" / "previews" / f"{page}.html")
        assert [item["name"] for item in data["pages"]] == [page]
        assert f'href="previews/{page}.html#page={page}' in index
    assert "nothing found" in index or "note" in index


def test_trace_in_time_is_what_the_view_plays(plan: Path) -> None:
    result = run("trace", plan, "--page", "page", "--viewport", "laptop", "--play", "flick")
    lines = result.stdout.splitlines()
    assert lines[0].endswith(",time_s")
    played = rl.read(plan).view("page", "laptop").play("flick")
    assert len(lines) - 1 == len(played)
    assert lines[-1].split(",")[2] == str(int(played["scroll_px"].iloc[-1]))
    refused = run("trace", plan, "--play", "flick", "--of", "layers")
    assert refused.returncode == 2
    assert "name --play or --of, not both" in refused.stderr


def test_a_gesture_goes_down_and_up_again(make_plan: MakePlan) -> None:
    view = make_plan(plan_text(header=HEADER)).view()
    gesture = gesture_on(view.scene.box, view.max_scroll, "down-and-up")
    seconds, swept = gesture.seconds, view.scene.played(gesture)
    top = int(np.flatnonzero(swept.scroll == view.max_scroll)[0])
    left = int(np.flatnonzero(swept.scroll == view.max_scroll)[-1])
    assert swept.scroll[0] == swept.scroll[-1] == 0
    assert swept.scroll.max() == view.max_scroll
    assert (np.diff(swept.scroll[: top + 1]) >= 0).all()
    assert (np.diff(swept.scroll[left:]) <= 0).all()
    assert seconds[left] - seconds[top] > 0.5  # a moment at the end
