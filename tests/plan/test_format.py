"""The format: its reference and schema, values set from outside, remarks, and writing back."""

from __future__ import annotations

import json
from collections.abc import Iterator
from difflib import unified_diff
from pathlib import Path
from typing import Any

import jsonschema
import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st
from pydantic import BaseModel

import rising_lantern as rl
from commands import run
from plans import TINY, MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.plan.edits.drafts import Draft
from rising_lantern.plan.edits.edits import edited
from rising_lantern.plan.generated.reference import OBJECTS, reference
from rising_lantern.plan.generated.schema import schema
from rising_lantern.plan.text.nodes import Node, parse
from thorough import is_thorough

ROOT = Path(__file__).parents[2]
PACKAGE = ROOT / "src" / "rising_lantern"

# What an object needs besides the key that is tried.
_NEEDED: dict[str, dict[str, Any]] = {
    "Slide": {"image": "photo.png"},
    "Silence": {"rule": "gap", "reason": "As it is meant"},
    "Document": {"rising-lantern": 1, "pages": {"home": {"sections": {"hero": {"height": "1px"}}}}},
    "Viewport": {"size": "390x844"},
    "Page": {"sections": {"hero": {"height": "1px"}}},
    "Section": {"height": "1px"},
    "PathStop": {"at": "1px"},
    "HeaderRow": {"height": "36px"},
    "Panel": {"color": "red"},
    "LinkColors": {"color": "red"},
    "Button": {"to": "/tickets"},
}
# What an object needs beside some of its keys.
_BESIDE: dict[tuple[str, str], dict[str, Any]] = {
    **{("Layer", name): {"path": [{"at": "1px"}]} for name in ("before", "after")},
    ("Layer", "picture"): {"selector": ".photo"},
    ("Layer", "focus"): {"image": "photo.png"},
    ("Layer", "every"): {"slides": ["photo.png", "noise.png"]},
    ("Layer", "change"): {"slides": ["photo.png", "noise.png"], "every": "6s"},
    ("Layer", "poster"): {"video": "river.webm"},
    ("Header", "inside"): {"position": "sticky"},
    ("Header", "under"): {"looks": {"clear": {}, "solid": {}}},
    ("Section", "min-height"): {"height": "auto"},
    ("Content", "links"): {"text": "The river"},
    ("Part", "links"): {"text": ["Programme"]},
    ("Part", "states"): {"text": ["Programme"]},
    **{("Content", name): {"image": "photo.png"} for name in ("alt", "height", "radius")},
}
# Keys of which an object has exactly one, the one that it has by default last.
_ONE_OF = {
    "Part": ("text", "image"),
    "Layer": ("image", "slides", "video", "fill"),
    "Content": ("image", "box", "text"),
}

KEYS = [
    pytest.param(model, info.alias or name, info, id=f"{model.__name__} {info.alias or name}")
    for _, model in OBJECTS
    for name, info in model.model_fields.items()
]


def entry_with(model: type[BaseModel], key: str, value: object) -> dict[str, Any]:
    """An object with one key as in its example, and what it cannot do without."""
    name = model.__name__
    entry = {**_NEEDED.get(name, {}), **_BESIDE.get((name, key), {}), key: value}
    choices = _ONE_OF.get(name, ())
    if choices and not set(choices) & set(entry):
        entry[choices[-1]] = {"fill": "red"}.get(choices[-1], "photo.png")
    return entry


@pytest.mark.parametrize(("model", "key", "info"), KEYS)
def test_every_key_is_described_and_its_example_is_right(
    model: type[BaseModel], key: str, info: Any
) -> None:
    assert info.description.endswith(".")
    (example,) = info.examples
    entry = entry_with(model, key, example)
    result = model.model_validate(entry)
    assert model.model_validate(entry) == result
    assert hash(type(result)) == hash(model)
    assert "_" not in key


def test_the_reference_in_the_docs_is_made_from_the_models() -> None:
    assert (ROOT / "docs" / "plan.md").read_text("utf-8") == reference()
    for _, model in OBJECTS:
        assert model.__doc__


def test_the_schema_is_one_and_the_plans_that_we_write_are_valid_by_it() -> None:
    result = schema()
    jsonschema.Draft202012Validator.check_schema(result)
    check = jsonschema.Draft202012Validator(result)
    for path in (PACKAGE / "demo" / "regatta.yaml", PACKAGE / "start" / "plan.yaml"):
        data = json.loads(json.dumps(parse(path.read_text("utf-8"), "plan").plain()))
        assert [error.message for error in check.iter_errors(data)] == []
    wrong = parse(plan_text(sections="a: {heigth: 3px}"), "plan").plain()
    assert not check.is_valid(wrong)


def test_every_object_of_the_schema_may_carry_for() -> None:
    result = schema()
    found = 0
    whole = [item for name, item in result["$defs"].items() if not name.endswith("Different")]
    for entry in (result, *whole):
        for item in (entry, *entry.get("anyOf", []), entry.get("else", {})):
            if "properties" in item:
                found += 1
                assert "for" in item["properties"]
                assert all("description" in value for value in item["properties"].values())
    assert found == len(OBJECTS)


def test_values_are_set_by_their_path(regatta: Plan) -> None:
    changed = regatta.replace(
        {
            "headers.over-picture.looks.solid.from": "300px",
            "pages.home.sections.opening.layers.1.speed": "0.25",
            "pages.home.sections.opening.for": "{phone: {height: 50vh}}",
            "colors.ink": '"#000"',
        }
    )
    view = changed.view("home", "laptop")
    assert view.scene.switches is not None
    assert view.scene.switches.steps[2].start == 300
    assert view.scene.box.sections[0].layers[1].motion.speed == 0.25
    assert changed.view("home", "phone").scene.box.sections[0].height == 422
    header = changed.view("home").at(2000).header
    assert header is not None
    assert header.color.hex() == "#000000ff"
    assert regatta.view("home", "phone").scene.box.sections[0].height == 844


@pytest.mark.parametrize(
    ("path", "value", "expected"),
    [
        ("headers.man.height", "3px", ":1:9: there is no 'man' in 'headers'; did you mean 'main'?"),
        ("heders.main.height", "3px", ":1:1: there is no 'heders' in the plan; did you mean"),
        ("headers.main.heigth", "3px", ":1:21: unknown key 'heigth'; did you mean 'height'?"),
        ("headers.main.height", "3pz", ":1:21: '3pz' has an unknown unit"),
        ("headers.main.change", "fade 3s eese", ":1:29: 'eese' is not an easing"),
        ("headers.main.height", "[", "cannot be read as YAML"),
        ("headers.main.height", "!!python/none x", "the tag"),
        ("headers.main.height", "", "'' is not a length"),
        ("pages.page.sections.a.layers.7.speed", "1", "there is no '7'"),
        ("", "3px", "this has no key"),
    ],
)
def test_faults_in_values_that_are_set_point_at_the_option(
    make_plan: MakePlan, path: str, value: str, expected: str
) -> None:
    plan = make_plan(
        plan_text(header="height: 4px", sections="a: {height: 9px, layers: [{fill: red}]}")
    )
    with pytest.raises(rl.PlanError) as caught:
        plan.replace({path: value})
    result = str(caught.value)
    assert result.startswith(f"--set {path}={value}:")
    assert expected in result


def test_faults_that_depend_on_each_other_are_reported_at_once(make_plan: MakePlan) -> None:
    """A fault in one place does not hide those that only show when the whole is put together."""
    text = plan_text(
        header="heigth: 3px, font: x, looks: {a: {}, b: {from: past secnd}}, show: {only: [hom]}",
        sections="second: {height: 3pz}, third: {height: 1px, layers: [{image: nowhere.png}]}",
        before="colors: {nigth: '#12'}",
    )
    with pytest.raises(rl.PlanError) as caught:
        make_plan(text)
    result = "\n".join(str(fault) for fault in caught.value.faults)
    for expected in (
        "unknown key 'heigth'",
        "unknown key 'font'",
        "no page has a section 'secnd'; did you mean 'second'?",
        "there is no page or kind 'hom'",
        "'3pz' has an unknown unit",
        "there is no file 'nowhere.png'",
        "'#12' is not a colour",
    ):
        assert expected in result
    assert len(caught.value.faults) == 7


def test_a_slip_in_a_colour_s_name_suggests_the_nearest(make_plan: MakePlan) -> None:
    text = plan_text(before="colors: {night: '#012', paper: '#fed'}", background="nigth")
    with pytest.raises(rl.PlanError, match="'nigth' is not a colour; did you mean 'night'"):
        make_plan(text)


def test_what_nothing_uses_is_remarked_on(make_plan: MakePlan) -> None:
    text = plan_text(
        before="colors: {ink: '#012', paper: '#fed', flame: '#f80'}",
        background="paper",
        sections="a: {height: 1px, layers: [{image: photo.png}, {fill: 'linear-gradient(ink, red)'}]}",
    )
    result = [str(remark) for remark in make_plan(text).remarks]
    assert [line.split(": ", 1)[1] for line in result] == [
        "nothing uses the colour 'flame'; use it, or remove it",
    ]
    assert ":3:38: " in result[0]


def test_pictures_that_no_plan_of_the_folder_uses_are_remarked_on_once(
    make_plan: MakePlan, folder: Path
) -> None:
    plan = make_plan(plan_text(sections="a: {height: 1px, layers: [{image: photo.png}]}"))
    (remark,) = plan.unused_pictures()
    assert remark.problem == "nothing uses flag.svg, logo-dark.png, logo-light.png, noise.png"
    other = plan_text(sections="a: {height: 1px, layers: [{image: noise.png}]}")
    (folder / "other.yaml").write_text(other, "utf-8")
    assert "noise.png" not in plan.unused_pictures()[0].problem
    result = run("check", folder / "plan.yaml")
    assert result.stderr.count("nothing uses") == 1
    assert run("preview", folder / "plan.yaml", "-o", folder / "out").stderr == ""


def test_a_clean_plan_has_no_remarks(make_plan: MakePlan) -> None:
    assert make_plan(TINY).remarks == ()


def changed_text(text: str, name: str, values: dict[str, str]) -> str:
    """A text with some values set."""
    edits = [rl.Set(path, value) for path, value in values.items()]
    return edited(Draft(text, name, Path(name)), edits)[0].text


COMMENTED = """\
# The regatta's plan.
rising-lantern: 1   # the version
colors: {ink: "#16213e",   paper: '#fdf6e3'}

headers:
  main:
    height:   96px      # tall at first
    looks: {clear: {}, solid: {from: past hero - 20px, height: 60px}}  # two
pages:
  home:
    sections:
      # the first
      hero:
        height: 100vh
        layers:
          - {fill: "rgb(0 0 0 / .5)"}    # a tint
"""


@pytest.mark.parametrize(
    ("path", "value", "old", "new"),
    [
        ("headers.main.height", "80px", "height:   96px ", "height:   80px "),
        ("headers.main.looks.solid.from", "200px", "past hero - 20px", "200px"),
        ("colors.ink", "#000", '"#16213e"', '"#000"'),
        ("colors.paper", "#fff", "'#fdf6e3'", '"#fff"'),
        (
            "pages.home.sections.hero.layers.0.fill",
            "rgb(0 0 0 / .6)",
            '"rgb(0 0 0 / .5)"',
            "rgb(0 0 0 / .6)",
        ),
        ("pages.home.sections.hero.height", "calc(100vh - 2px)", "100vh", "calc(100vh - 2px)"),
    ],
)
def test_a_value_is_changed_where_it_stands_and_nothing_else(
    path: str, value: str, old: str, new: str
) -> None:
    assert changed_text(COMMENTED, "plan", {path: value}) == COMMENTED.replace(old, new)


def test_a_new_key_keeps_comments_and_order() -> None:
    text = changed_text(COMMENTED, "plan", {"headers.main.looks.solid.back": "100px"})
    assert "back: 100px" in text
    for kept in (
        "# The regatta's plan.",
        "# the version",
        "# tall at first",
        "# two",
        "# the first",
        "# a tint",
    ):
        assert kept in text
    assert list(yaml.safe_load(text)) == ["rising-lantern", "colors", "headers", "pages"]


def test_the_sample_plan_is_changed_in_one_line_only() -> None:
    before = (PACKAGE / "demo" / "regatta.yaml").read_text("utf-8")
    after = changed_text(before, "plan", {"headers.over-picture.looks.tinted.from": "30vh"})
    differing = [
        pair
        for pair in zip(before.splitlines(), after.splitlines(), strict=True)
        if pair[0] != pair[1]
    ]
    assert [line[1].strip() for line in differing] == ["from: 30vh"]


def test_a_plan_gives_its_text_with_values_set(make_plan: MakePlan) -> None:
    plan = make_plan(COMMENTED)
    text = plan.edited_text([rl.Set("headers.main.height", "80px")])
    assert text == COMMENTED.replace("height:   96px ", "height:   80px ")
    assert make_plan(text).view().at(0).header.box.height == 80  # type: ignore[union-attr]
    with pytest.raises(rl.PlanError, match="'80pz' has an unknown unit"):
        plan.edited_text([rl.Set("headers.main.height", "80pz")])


values = st.text(
    st.characters(codec="utf-8", exclude_categories=["Cc", "Cs", "Zl", "Zp"]),
    min_size=1,
    max_size=30,
)


@given(values.map(str.strip).filter(bool))
def test_any_text_that_is_written_is_read_back(value: str) -> None:
    """However hostile, a text is quoted so that it stays one value in one place."""
    quoted = json.dumps(value, ensure_ascii=False)
    text = changed_text(COMMENTED, "plan", {"headers.main.height": quoted})
    root = parse(text, "plan")
    assert root.find(("headers", "main", "height")).value == value
    assert root.find(("colors", "ink")).value == "#16213e"


def mappings(node: Node, path: tuple[str | int, ...] = ()) -> Iterator[tuple[str | int, ...]]:
    """The paths of all mappings of a plan."""
    if isinstance(node.value, dict):
        yield path
        for key, child in node.value.items():
            yield from mappings(child, (*path, key))
    if isinstance(node.value, list):
        for index, child in enumerate(node.value):
            yield from mappings(child, (*path, index))


def test_a_new_key_is_put_in_and_nothing_else_is_touched(site: Path) -> None:
    """In every mapping of the sample site's plan, in whatever style it is written."""
    name = "regatta.yaml"
    text = (site / name).read_text("utf-8")
    before = text.splitlines()
    every = list(mappings(parse(text, name)))
    for path in every if is_thorough() else every[::24]:
        key = ".".join(str(part) for part in (*path, "zzz"))
        after = changed_text(text, name, {key: "1px"})
        node = parse(after, name)
        for part in (*path, "zzz"):
            child = node.child(part)
            assert child is not None, key
            node = child
        assert node.plain() == "1px"
        changed = list(unified_diff(before, after.splitlines(), n=0, lineterm=""))[2:]
        result = [line for line in changed if line[:1] in "+-"]
        assert len(result) <= 3, (key, result)
        kept = after.replace(", zzz: 1px", "").replace("zzz: 1px, ", "").replace("zzz: 1px", "")
        assert "".join(kept.split()) == "".join(text.split())


def test_a_json_plan_stays_json() -> None:
    text = json.dumps({"rising-lantern": 1, "headers": {"main": {"height": "90px"}}}, indent=2)
    values = {
        "headers.main.height": "80px",
        "headers.main.hold-space": "true",
        "headers.main.parts": "{a: {text: 'Saltmere, \"afloat\"'}}",
        "headers.main.z": "12",
    }
    result = json.loads(changed_text(text, "plan.json", values))
    assert result["headers"]["main"] == {
        "height": "80px", "hold-space": True, "parts": {"a": {"text": 'Saltmere, "afloat"'}}, "z": 12,
    }  # fmt: skip
