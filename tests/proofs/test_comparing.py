"""The comparison of ``prove`` by itself: it agrees with what is as planned, and with nothing else."""

from __future__ import annotations

import copy
from collections.abc import Callable
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from plans import MakePlan, plan_text
from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.layout.items import ContentBox
from rising_lantern.proofs.comparing import (
    BOX_PX,
    COLOR_LEVELS,
    LAYER_PX,
    content_box,
    disagreements,
)
from rising_lantern.proofs.reading import State, content_name, layer_name
from rising_lantern.scenes.scene import Scene

HEADER = (
    "position: fixed, height: 80px, background: '#123456', color: '#ffffff', "
    "parts: {menu: {text: Boats and tides}, logo: {image: logo-dark.png, width: 60px}}, "
    "looks: {clear: {background: rgb(18 52 86 / .5)}, solid: {from: 300px}}"
)
SECTIONS = (
    "quay: {height: 900px, background: '#fed', layers: [{image: photo.png, speed: 0.5}, "
    "{image: noise.png, path: [{at: 0px}, {at: 900px, opacity: 0.2}]}], content: "
    "[{text: 'Come down to the quay', color: '#112233', at: 50% 50%, links: {down: /quay}, link-color: '#0044aa'}]}, "
    "pier: {height: 900px, content: [{image: photo.png, width: 120px, at: 50% 30%}]}"
)


@pytest.fixture
def scene(make_plan: MakePlan) -> Scene:
    return make_plan(plan_text(header=HEADER, sections=SECTIONS)).view().scene


def sides(box: Rect) -> list[float]:
    return [box.left, box.top, box.width, box.height]


def css(color: Color) -> str:
    red, green, blue = color.bytes[:3]
    return f"rgb({red} {green} {blue} / {color.alpha})"


def as_planned(scene: Scene, scroll: float) -> State:
    """What a browser would read off a page that is just as it is planned."""
    swept = scene.sweep([scroll])
    moment = swept.moment(0)
    assert moment.header is not None
    state: dict[str, Any] = {
        "look": moment.look,
        "header": sides(moment.header.box),
        "background": css(moment.header.background),
        "color": css(moment.header.color),
        "parts": {name: sides(box) for name, box in moment.parts.items()},
        "inks": {"menu": [["span", "text", css(moment.header.color)]], "logo": []},
        "sections": {name: sides(box) for name, box in moment.sections.items()},
        "texts": {},
        "letters": {},
        "seen": {},
        "layers": {},
        "opacities": {},
    }
    for section in scene.box.sections:
        for item in section.items:
            name = content_name(section.name, item)
            place = content_box(item, moment.sections[section.name].top, scroll)
            state["texts"][name] = sides(place)
            state["seen"][name] = 1.0
            if isinstance(item, ContentBox):
                state["letters"][name] = [["p", "text", css(item.color)]]
                state["letters"][name] += [["a", "link", css(link.color)] for link in item.links]
    for track in swept.layers():
        name = layer_name(track.section, track.index)
        motion, top = track.box.motion, moment.sections[track.section].top
        left, above = motion.origin(top, scroll)
        state["layers"][name] = [float(left), float(above), motion.width, motion.height]
        state["opacities"][name] = float(track.opacity[0])
    return state


def found(scene: Scene, state: State, scroll: float) -> set[tuple[str, str]]:
    return {(item.what, item.measure) for item in disagreements(state, scene, scroll)}


Change = Callable[[State], None]


def at(*keys: Any, value: object) -> Change:
    """Put another value at a place of what is read."""

    def change(state: State) -> None:
        for key in keys[:-1]:
            state = state[key]
        state[keys[-1]] = value

    return change


def without(group: str, name: str) -> Change:
    def change(state: State) -> None:
        del state[group][name]

    return change


TEXT, LAYER, FADING = "quay, text 1", "quay, layer 1", "quay, layer 2"


@pytest.mark.parametrize(
    ("change", "what", "measure"),
    [
        (at("look", value="solid"), "header", "look"),
        (at("header", 3, value=81.0), "header", "rectangle"),
        (at("header", value=None), "header", "rectangle"),
        (at("background", value="rgb(30 52 86 / .5)"), "header", "background colour"),
        (at("background", value="rgb(18 52 86)"), "header", "background colour, alpha"),
        (at("color", value="rgb(250 255 255)"), "header", "text colour"),
        (at("parts", "menu", 0, value=3.0), "part menu", "rectangle"),
        (without("parts", "logo"), "part logo", "rectangle"),
        (at("inks", "menu", 0, 2, value="rgb(0 0 0)"), "part menu", "text colour"),
        (at("inks", "menu", value=[["svg", "fill", "rgb(0 0 0)"]]), "part menu", "icon colour"),
        (at("sections", "pier", 1, value=901.0), "section pier", "rectangle"),
        (without("sections", "quay"), "section quay", "rectangle"),
        (at("texts", TEXT, 1, value=2.0), TEXT, "rectangle"),
        (without("texts", TEXT), TEXT, "rectangle"),
        (at("letters", TEXT, 0, 2, value="rgb(90 34 51)"), TEXT, "text colour"),
        (at("letters", TEXT, 1, 2, value="rgb(0 255 0)"), TEXT, "link colour"),
        (at("seen", TEXT, value=0.5), TEXT, "opacity"),
        (at("layers", LAYER, 1, value=40.0), LAYER, "rectangle"),
        (without("layers", LAYER), LAYER, "layer"),
        (at("opacities", FADING, value=0.1), FADING, "opacity"),
    ],
)
def test_each_measure_finds_a_fault(scene: Scene, change: Change, what: str, measure: str) -> None:
    state = as_planned(scene, 120)
    assert found(scene, state, 120) == set()
    change(state)
    assert found(scene, state, 120) == {(what, measure)}


@settings(deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(data=st.data())
def test_a_rectangle_is_found_beyond_its_limit_and_only_there(
    scene: Scene, data: st.DataObject
) -> None:
    scroll = data.draw(st.integers(0, scene.max_scroll))
    state = as_planned(scene, scroll)
    assert found(scene, state, scroll) == set()
    group = data.draw(st.sampled_from(["header", "parts", "sections", "layers"]))
    name = data.draw(st.sampled_from(sorted(state[group]))) if group != "header" else None
    if name == FADING:
        return  # it stands still, and only its opacity is compared
    limit = LAYER_PX if group == "layers" else BOX_PX
    side = data.draw(st.integers(0, 3))
    by = data.draw(st.floats(0, 3).filter(lambda one: abs(one - limit) > 1e-6))
    moved = copy.deepcopy(state)
    (moved[group] if name is None else moved[group][name])[side] += by
    seen = scroll < scene.box.sections[0].height or group != "layers"
    assert bool(found(scene, moved, scroll)) == (by > limit and seen)


@given(level=st.integers(0, 255))
def test_a_colour_is_found_beyond_its_limit_and_only_there(level: int) -> None:
    from rising_lantern.proofs.comparing import _Place  # noqa: PLC0415 - what compares a colour

    planned = Color(18 / 255, 52 / 255, 86 / 255)
    items = list(_Place(0, "down").color("header", "colour", f"rgb(18 {level} 86)", planned))
    assert bool(items) == (abs(level - 52) > COLOR_LEVELS)
