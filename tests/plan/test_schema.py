"""The schema against the reader: what one accepts, the other accepts as well."""

from __future__ import annotations

import copy
import json
import re
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import rising_lantern as rl
from pictures import paint_pictures
from rising_lantern.plan.generated.schema import schema
from rising_lantern.plan.text.nodes import parse
from thorough import examples

Path_ = tuple[str | int, ...]

EVERYTHING = """
rising-lantern: 1
title: Saltmere
viewports: {laptop: 1000x600, phone: {size: 390x844, ratio: 3, touch: true, scrollbar: 0}}
colors: {ink: "#16213e", paper: "#fdf6e3"}
fonts: {}
headers:
  main:
    position: sticky
    over: true
    top: 0px
    z: 10
    width: 90%
    height: 80px
    hold-space: false
    padding: 10px
    gap: 8px
    background: transparent
    border: 1px solid ink
    color: white
    shadow: none
    show: {only: [page], viewports: {except: [phone]}}
    parts:
      brand: {image: logo-light.png, alt: Saltmere, width: 120px, logo: true, side: start}
      menu: {text: [Programme, Visit], side: end, size: 15px, weight: 400, hidden: false,
             for: {phone: {text: Menu}}}
    looks:
      clear: {color: white}
      solid: {from: 200px, back: 100px, change: fade 300ms ease, background: white, color: ink,
              height: 60px, blur: 4px, parts: {brand: {image: logo-dark.png, hidden: false}}}
pages:
  page:
    path: /
    kind: plain
    title: Page
    background: {color: paper, layers: [{fill: "linear-gradient(ink, paper)"}]}
    sections:
      a:
        height: 100vh
        tone: dark
        z: 1
        background: ink
        layers:
          - {image: photo.png, size: cover, position: 50% 50%, repeat: no-repeat, speed: 0.5,
             drift: 0.1, opacity: 0.5, filter: blur(2px), blend: multiply,
             path: [{at: 100px, y: 10px, opacity: 0.5, scale: 2}]}
          - {slides: [photo.png, noise.png]}
        content:
          - {text: Hello, size: 20px, color: white, at: 50% 50%, align: center, weight: 600,
             leading: 1.2, speed: 0.9, z: 1, panel: {color: white, padding: 10px},
             enter: {y: 10px, opacity: 0}}
        for: {phone: {height: 400px}}
      b: {height: 900px}
less-motion: still
check: {contrast: AA, limits: {text: 5, header: 0.5},
        silence: [{rule: gap, page: page, reason: The client has seen it}]}
"""
DATA = json.loads(json.dumps(parse(EVERYTHING, "plan").plain()))

# What may stand in the place of anything.
STRAYS: list[Any] = [
    0, 1, -3, 0.5, 2.0, 1e9, True, False, None, "", "x", "10px", "#abc", "a b", [], {}, [1], ["x"],
    {"x": 1}, {"for": {}}, {"for": {"laptop": {}}}, {"for": {"laptop": {"height": "10px"}}},
]  # fmt: skip
# What may be added to any object.
EXTRAS: list[tuple[str, Any]] = [
    ("for", {"laptop": {}}), ("for", {"laptop": {"zz": 1}}), ("for", {}), ("for", {"phone": None}),
    ("unknown", 1), ("z", 3), ("height", "40px"), ("parts", {}),
]  # fmt: skip

# Faults of shape, which a schema can say; what a value means, and what it refers to, it cannot.
SHAPE = re.compile(
    r"('[^']*' (is (a |text|nothing|true|out of range|not valid|empty)|has no ')|unknown key ')"
)


@pytest.fixture(scope="module")
def beside(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A folder with pictures."""
    folder = tmp_path_factory.mktemp("schema")
    paint_pictures(folder)
    return folder


CHECK = jsonschema.Draft202012Validator(schema())


def places(value: Any, path: Path_ = ()) -> Iterator[Path_]:
    """The path of everything in a plan."""
    yield path
    for key, inner in (
        value.items()
        if isinstance(value, dict)
        else enumerate(value)
        if isinstance(value, list)
        else ()
    ):
        yield from places(inner, (*path, key))


def changed(path: Path_, value: Any) -> Any:
    """The plan with something else at a path."""
    plan = copy.deepcopy(DATA)
    holder = plan
    for key in path[:-1]:
        holder = holder[key]
    holder[path[-1]] = value
    return plan


PATHS = [path for path in places(DATA) if path]


def at(path: Path_) -> Any:
    """What stands at a path."""
    value = DATA
    for key in path:
        value = value[key]
    return value


def faults(plan: Any, beside: Path) -> tuple[str, ...]:
    """What the reader says of a plan."""
    (beside / "plan.json").write_text(json.dumps(plan), "utf-8")
    try:
        rl.read(beside / "plan.json")
    except rl.PlanError as error:
        return tuple(fault.problem for fault in error.faults)
    return ()


def agree(plan: Any, beside: Path) -> None:
    """Hold the reader and the schema against each other.

    What a section has left where a viewport takes its height away depends on what it has
    elsewhere, which a schema cannot say.
    """
    found = faults(plan, beside)
    refused = [error.message for error in CHECK.iter_errors(plan)]
    if not found:
        assert not refused, "the reader accepts what the schema does not"
    elif any(SHAPE.match(item) for item in found) and found != ("'a' has no 'height'",):
        assert refused, f"the schema accepts what the reader does not: {found}"


def test_a_plan_with_every_key_is_accepted_by_both(beside: Path) -> None:
    assert faults(DATA, beside) == ()
    assert list(CHECK.iter_errors(DATA)) == []


@pytest.mark.parametrize(
    "path", [("pages", "page"), ("pages", "page", "sections", "a", "height"), ("pages",)]
)
def test_what_is_needed_cannot_be_taken_away(beside: Path, path: Path_) -> None:
    plan = changed(path, None)
    assert faults(plan, beside)
    assert not CHECK.is_valid(plan)


@given(st.sampled_from(PATHS), st.sampled_from(STRAYS))
@settings(max_examples=examples(250))
def test_the_schema_agrees_where_anything_else_stands_anywhere(
    beside: Path, path: Path_, value: Any
) -> None:
    agree(changed(path, value), beside)


@given(st.sampled_from(PATHS), st.sampled_from(EXTRAS))
@settings(max_examples=examples(150))
def test_the_schema_agrees_where_something_is_added(
    beside: Path, path: Path_, extra: tuple[str, Any]
) -> None:
    if isinstance(at(path), dict):
        agree(changed(path, {**at(path), extra[0]: extra[1]}), beside)


def test_a_font_by_itself_and_a_condition_among_headers_are_valid(beside: Path) -> None:
    for path, value in (
        (("fonts",), {"own": "own.ttf"}),
        (("fonts",), {"own": {"700": "own.ttf"}}),
        (("headers", "for"), {"phone": {"main": {"height": "50px"}}}),
        (("headers", "main", "parts", "brand", "logo"), 0),
    ):
        plan = changed(path, value)
        shape = [fault for fault in faults(plan, beside) if SHAPE.match(fault)]
        assert bool(shape) == (not CHECK.is_valid(plan)), path
