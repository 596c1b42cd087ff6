"""Motion in other engines: exported pages in Firefox and WebKit, against frames."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from pages import far, places, read, write_page, write_pages
from plans import MakePlan, plan_text
from rising_lantern.proofs.engines import Engine
from rising_lantern.proofs.reading import layer_name, scroll_to
from rising_lantern.proofs.serving import served
from thorough import some

pytestmark = pytest.mark.browser

WIDTH, HEIGHT = 800, 500


MOVING = [
    "speed: 0.4",
    "speed: -0.3",
    "speed: 1.4",
    "drift: .25",
    "speed: 0.4, drift: -.15",
    "path: [{at: 200px, easing: ease-in-out}, {at: 600px, x: -60px, y: 80px}], before: .5, after: 1.25",
    "attachment: fixed, path: [{at: 100px}, {at: past a, opacity: .2}]",
    "path: [{at: 100px}, {at: past a, opacity: .2}]",
    "speed: 0.4, blend: multiply",
]


@pytest.mark.parametrize("motion", some(MOVING, 5))
def test_layers_move_alike_in_every_engine(
    engine: Engine, make_plan: MakePlan, folder: Path, motion: str
) -> None:
    sections = (
        f"x: {{height: 300px, background: '#345'}}, a: {{height: 700px, background: '#a68', "
        f"layers: [{{image: photo.png, {motion}}}]}}, y: {{height: 400px, background: '#fed'}}"
    )
    plan = make_plan(plan_text(viewports=f"s: {WIDTH}x{HEIGHT}", sections=sections))
    view = plan.view()
    out = folder / "out"
    out.mkdir()
    write_pages([view], out)
    with served(out) as url:
        engine.open(f"{url}/pages/page.html", view.scene.box.screen)
        for scroll in (0, 140, 300, 460, 620, 900):
            assert scroll_to(engine, places(view), scroll) == scroll
            shot = engine.screenshot()[:HEIGHT, :WIDTH].astype(int)
            # A bar for scrolling takes room of its own, and is no part of a frame.
            seen = min(shot.shape[1], WIDTH) - 16
            frame = view.pixels(scroll)[:, :seen]
            assert np.abs(shot[:, :seen] - frame).mean() < 3, scroll


HELD = "position: sticky, height: 90px, hold-space: true, change: fade 300ms, looks: {tall: {}, slim: {from: 60px, height: 40px}}"


@pytest.mark.parametrize(
    "header",
    some(
        [
            HELD,
            HELD.replace("hold-space: true", "over: true"),
            HELD.replace("hold-space: true", "over: true, hold-space: true"),
            HELD.replace("hold-space: true", "inside: a, hold-space: true"),
            HELD.replace("hold-space: true", "inside: 900px, hold-space: true"),
            HELD.replace("sticky", "static"),
        ],
        2,
    ),
)
def test_a_header_that_changes_its_height_does_not_push_the_reader(
    engine: Engine, make_plan: MakePlan, folder: Path, header: str
) -> None:
    """Where the flow keeps its height a scroll comes to where it goes, and all stands in its place."""
    sections = "a: {height: 500px, layers: [{image: photo.png, speed: 0.4}]}, b: {height: 700px}, c: {height: 600px}"
    view = make_plan(
        plan_text(viewports=f"s: {WIDTH}x{HEIGHT}", sections=sections, header=header)
    ).view()
    page = write_page(view, folder / "out")
    with served(folder / "out") as url:
        engine.open(f"{url}/{page}", view.scene.box.screen)
        for scroll in [*range(0, 240, 23), *range(200, -1, -40)]:
            assert scroll_to(engine, places(view), scroll) == scroll
            state = read(engine, view)
            moment = view.at(scroll)
            assert moment.header is not None
            assert far(state["header"], moment.header.box) <= 0.5, scroll
            for name, box in moment.sections.items():
                assert far(state["sections"][name], box) <= 0.5, (scroll, name)
            (track,) = view.scene.sweep([scroll]).layers()
            assert (
                abs(
                    state["layers"][layer_name("a", 0)][1]
                    - float(track.box.motion.origin(moment.sections["a"].top, scroll)[1])
                )
                <= 1
            )
