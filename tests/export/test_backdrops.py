"""Pictures and fills behind the parts of a header: by hand, in browsers, and in what check says."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from plans import MakePlan, plan_text
from rising_lantern.proofs.serving import served
from thorough import some

_SECTIONS = (
    "hero: {height: 700px, background: '#16213e'}, more: {height: 1300px, background: '#eef'}"
)
_LAYERS = (
    "layers: [{fill: 'linear-gradient(to right, rgb(11 16 38 / .8), transparent)'}, "
    "{image: photo.png, position: 50% 70%}]"
)
_HEADER = (
    "height: 90px, background: '#16213e', color: white, LAYERS, "
    "parts: {{menu: {{text: [Boats, Tides]}}}}, looks: {{open: {{}}, reeds: {{from: 180px, height: 60px, "
    "background: '#fdf6e3', color: '#16213e', change: '{}', layers: [{{image: flag.svg, size: 40px, "
    "repeat: repeat, opacity: 0.3}}]}}, bare: {{from: 900px, layers: [], change: '{}'}}}}"
)


@pytest.mark.browser
@pytest.mark.parametrize("owner", ["{}", "rows: {{only: {{{}}}}}"])
@pytest.mark.parametrize(
    ("layer", "style"),
    [
        ("image: photo.png, position: 50% 70%", "url(photo.png) 50% 70% / cover"),
        ("image: flag.svg, size: 40px, repeat: repeat", "url(flag.svg) 50% 50% / 40px"),
        ("fill: 'linear-gradient(to right, #123, #fde)'", "linear-gradient(to right, #123, #fde)"),
    ],
)
def test_a_layer_is_a_background_written_by_hand(
    chromium: Chromium, make_plan: MakePlan, folder: Path, layer: str, style: str, owner: str
) -> None:
    """Behind a header, and behind its only row."""
    header = owner.format(f"height: 90px, border: 4px solid red, layers: [{{{layer}}}]")
    view = make_plan(plan_text(header=header, sections=_SECTIONS)).view()
    (folder / "hand.html").write_text(
        "<!doctype html><body style='margin:0;background:#16213e'><div style='box-sizing:border-box;"
        f"height:90px;border:4px solid red'><div style='height:100%;background:{style}'></div></div>",
        "utf-8",
    )
    with served(folder) as url:
        chromium.open(f"{url}/hand.html", 1000, 600)
        shot = chromium.screenshot()[:90].astype(int)
    apart = np.abs(shot - view.pixels(0)[:90])
    # Copies of 22.5 px are snapped to px, each browser in its own way.
    assert apart.mean() < 1
    assert np.quantile(apart, 0.95) <= 3


@pytest.mark.browser
@pytest.mark.parametrize("change", some(["blend 200px", "fade 300ms", "cut"], 3))
def test_layers_are_proved(make_plan: MakePlan, change: str) -> None:
    header = _HEADER.format(change, change.replace("blend 200px", "fade 200ms"))
    header = header.replace("LAYERS", _LAYERS)
    plan = make_plan(plan_text(header=header, sections=_SECTIONS))
    assert {item.found for item in rl.prove(plan, engines="chromium").views} == {()}


def test_layers_of_two_looks_are_mixed_in_shares_that_add_up(make_plan: MakePlan) -> None:
    """Half-way, the middle of what is seen in each of them, over the middle of their colours."""
    layers = "layers: [{{fill: '{}'}}]"
    header = (
        f"height: 90px, background: '#000', {layers.format('#f008')}, looks: {{a: {{}}, b: {{from: 300px, "
        f"change: blend 200px linear, {layers.format('#00f8')}}}}}"
    )
    view = make_plan(plan_text(header=header, sections=_SECTIONS)).view()
    colors = [view.pixels(scroll)[45, 500].tolist() for scroll in (0, 400, 600)]
    assert colors[0] == pytest.approx([136, 0, 0], abs=1)
    assert colors[1] == pytest.approx([68, 0, 68], abs=2)
    assert colors[2] == pytest.approx([0, 0, 136], abs=1)


def test_a_picture_behind_a_part_is_measured(make_plan: MakePlan) -> None:
    header = "height: 90px, color: white, parts: {menu: {text: Boats}}, layers: [{fill: '#fff'}]"
    plan = make_plan(plan_text(header=header, sections=_SECTIONS))
    (finding,) = [item for item in rl.check(plan) if item.rule == "unreadable-part"]
    assert finding.measured == 1


def test_a_picture_of_a_row_is_measured_there(make_plan: MakePlan) -> None:
    rows = "rows: {upper: {height: 40px, layers: [{fill: '#fff'}]}, lower: {height: 60px}}"
    parts = "parts: {tide: {text: High water at nine}, menu: {text: Boats, row: lower}}"
    plan = make_plan(plan_text(header=f"color: white, {rows}, {parts}", sections=_SECTIONS))
    (finding,) = [item for item in rl.check(plan) if item.rule == "unreadable-part"][:1]
    assert finding.subject.part == "tide"
    assert finding.measured == 1


def test_pictures_of_headers_have_the_pixels_they_need(make_plan: MakePlan) -> None:
    plan = make_plan(
        plan_text(
            header="height: 90px, layers: [{image: photo.png}]",
            viewports="wide: {size: 2000x600, ratio: 2}",
        )
    )
    (finding,) = [item for item in rl.check(plan) if item.rule == "soft-picture"]
    assert str(finding.subject) == "main, layer 0 in plain"
    assert finding.key == "headers.main.layers.0"
    assert finding.measured == pytest.approx(4000 / 600, rel=0.01)
    table = plan.picture_table()
    assert table["place"].tolist() == ["main, layer 0 in plain"]


def test_a_soft_picture_of_a_row_or_look_is_found_where_it_is_written(make_plan: MakePlan) -> None:
    rows = "rows: {upper: {height: 60px, layers: [{image: photo.png}]}}"
    looks = (
        "looks: {a: {}, b: {from: 200px, rows: {upper: {layers: [{image: noise.png, size: cover}]}}}, "
        "c: {from: 500px, rows: {upper: {hidden: true}}, layers: [{fill: red}]}}"
    )
    plan = make_plan(
        plan_text(header=f"{rows}, {looks}", viewports="wide: {size: 2000x600, ratio: 2}")
    )
    found = [item for item in rl.check(plan) if item.rule == "soft-picture"]
    assert [(item.key, str(item.subject)) for item in found] == [
        ("headers.main.rows.upper.layers.0", "main, upper, layer 0 in a"),
        ("headers.main.looks.b.rows.upper.layers.0", "main, upper, layer 0 in b"),
    ]


@pytest.mark.parametrize(
    ("layer", "words"),
    [
        ("image: photo.png, speed: 0.4", "a layer of a header has 'speed'"),
        ("slides: [photo.png, noise.png]", "a layer of a header has 'slides'"),
        ("fill: red, blend: multiply", "a layer of a header has 'blend'; it can have"),
        ("image: nothing.png", "nothing.png"),
    ],
)
def test_layers_that_cannot_be_are_faults(make_plan: MakePlan, layer: str, words: str) -> None:
    with pytest.raises(rl.PlanError, match=words):
        make_plan(plan_text(header=f"looks: {{a: {{layers: [{{{layer}}}]}}}}"))
