"""Colours from a file of design tokens."""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import pytest

import rising_lantern as rl
from commands import run
from rising_lantern.live.watched import WatchedPlan

INK = {"$type": "color", "$value": "#16213e"}


def plan_with(folder: Path, tokens: Any, color: str = "brand-ink") -> Path:
    """A plan whose text has a colour of some tokens."""
    text = tokens if isinstance(tokens, str) else json.dumps(tokens)
    (folder / "tokens.json").write_text(text, "utf-8")
    content = f"content: [{{text: Lanterns, color: {color}}}]"
    plan = folder / "plan.yaml"
    plan.write_text(
        "rising-lantern: 1\nviewports: {laptop: 1000x600}\ncolors: {from: tokens.json, own: red}\n"
        f"pages: {{page: {{sections: {{a: {{height: 900px, background: own, {content}}}}}}}}}\n",
        "utf-8",
    )
    return plan


@pytest.mark.parametrize(
    ("tokens", "name", "expected"),
    [
        ({"brand": {"ink": INK}}, "brand-ink", "#16213eff"),
        ({"ink": INK}, "ink", "#16213eff"),
        ({"$type": "color", "a": {"b": {"$value": "#fff8"}}}, "a-b", "#ffffff88"),
        ({"A B": {"c/d": INK}}, "A-B-c-d", "#16213eff"),
        ({"ink": INK, "link": {"$value": "{ink}"}}, "link", "#16213eff"),
        (
            {"g": {"$type": "color", "x": {"$value": "red"}}, "y": {"$value": "{g.x}"}},
            "y",
            "#ff0000ff",
        ),
        (
            {"a": {"$type": "color", "$value": {"colorSpace": "srgb", "components": [1, 0.5, 0]}}},
            "a",
            "#ff8000ff",
        ),
        (
            {
                "a": {
                    "$type": "color",
                    "$value": {"colorSpace": "hsl", "components": [120, 100, 25], "alpha": 0.5},
                }
            },
            "a",
            "#00800080",
        ),
        (
            {
                "a": {
                    "$type": "color",
                    "$value": {"colorSpace": "oklch", "components": [0.51975, 0.17686, 142.495]},
                }
            },
            "a",
            "#008000ff",
        ),
        (
            {
                "a": {
                    "$type": "color",
                    "$value": {
                        "colorSpace": "display-p3",
                        "components": [0.21604, 0.49418, 0.13151],
                    },
                }
            },
            "a",
            "#008000ff",
        ),
        (
            {
                "a": {
                    "$type": "color",
                    "$value": {"colorSpace": "lch", "components": [0, "none", "none"]},
                }
            },
            "a",
            "#000000ff",
        ),
    ],
)
def test_a_token_is_a_colour_of_the_plan(
    folder: Path, tokens: Any, name: str, expected: str
) -> None:
    view = rl.read(plan_with(folder, tokens, name)).view()
    assert view.scene.box.sections[0].content[0].color.hex() == expected


def test_other_tokens_are_left_out_and_own_colours_count(folder: Path) -> None:
    tokens = {
        "space": {"$type": "dimension", "$value": {"value": 8, "unit": "px"}},
        "untyped": {"$value": "#fff"},
        "own": {"$type": "color", "$value": "blue"},
        "brand": {"ink": INK},
    }
    plan = rl.read(plan_with(folder, tokens))
    assert set(plan.file.documents["laptop"].colors) == {"own", "brand-ink"}
    assert (
        plan.view().scene.box.sections[0].background == plan.file.documents["laptop"].colors["own"]
    )
    assert plan.view().scene.box.sections[0].background.hex() == "#ff0000ff"  # type: ignore[union-attr]
    assert plan.remarks == ()
    printed = run("list", str(folder / "plan.yaml"), "--of", "values").stdout
    (line,) = [line for line in printed.splitlines() if "brand-ink: " in line]
    assert "'#16213e'" in line
    assert line.endswith("# from tokens.json, line 1")


@pytest.mark.parametrize(
    ("tokens", "fault"),
    [
        ({"a": {"$type": "color", "$value": "{b}"}}, "tokens.json:1:36: there is no token 'b'"),
        (
            {"a": {"$type": "color", "$value": "{b}"}, "b": {"$type": "color", "$value": "{a}"}},
            "the alias leads back to itself",
        ),
        ({"a": {"$type": "color", "$value": 7}}, "tokens.json:1:36: this is not a colour"),
        (
            {"a": {"$type": "color", "$value": {"colorSpace": "srgb"}}},
            "a space and three components",
        ),
        (
            {"a": {"$type": "color", "$value": {"colorSpace": "srgb", "components": [1, 2, "x"]}}},
            "a component is a number or 'none'",
        ),
        (
            {"a": {"$type": "color", "$value": {"colorSpace": "srbg", "components": [1, 1, 1]}}},
            "there is no colour space 'srbg'; did you mean 'srgb'?",
        ),
        ({"7": INK}, "'7' cannot be a name"),
        ({"a": {"b": INK}, "a-b": INK}, "two tokens are called 'a-b'"),
        (
            {"a": {"$type": "color", "$value": "#16213"}},
            "tokens.json:1:36: '#16213' is not a colour",
        ),
        ('{"a": ', "tokens.json:2:1"),
        ("[" * 60, "nested more than 40 deep"),
    ],
)
def test_a_fault_of_the_file_is_at_its_place_there(folder: Path, tokens: Any, fault: str) -> None:
    with pytest.raises(rl.PlanError) as caught:
        rl.read(plan_with(folder, tokens, "own"))
    assert fault in str(caught.value)


@pytest.mark.parametrize(
    ("name", "fault"),
    [
        ("../tokens.json", "is outside the plan's folder"),
        (
            "token.json",
            "there is no file 'token.json' beside the plan; did you mean 'tokens.json'?",
        ),
        ("https://x.invalid/a.json", "is a web address"),
    ],
)
def test_the_file_is_one_of_the_plans_folder(folder: Path, name: str, fault: str) -> None:
    plan = plan_with(folder, {"brand": {"ink": INK}}, "own")
    plan.write_text(plan.read_text("utf-8").replace("tokens.json", name), "utf-8")
    with pytest.raises(rl.PlanError) as caught:
        rl.read(plan)
    assert fault in str(caught.value)
    assert len(caught.value.faults) == 1


def test_a_colour_may_still_be_called_from(folder: Path) -> None:
    plan = plan_with(folder, {}, "from")
    plan.write_text(plan.read_text("utf-8").replace("from: tokens.json", "from: red"), "utf-8")
    assert rl.read(plan).view().scene.box.sections[0].content[0].color.hex() == "#ff0000ff"


def test_a_plan_with_other_tokens_is_another_plan(folder: Path) -> None:
    plan = plan_with(folder, {"brand": {"ink": INK}})
    before = rl.read(plan)
    assert before == rl.read(plan)
    watched = WatchedPlan(plan, {})
    tokens = folder / "tokens.json"
    assert watched.concerns(tokens)
    assert folder.resolve() in watched.folders()
    tokens.write_text(json.dumps({"brand": {"ink": {"$type": "color", "$value": "red"}}}), "utf-8")
    assert before != rl.read(plan)
    color = watched.reload().plan.view().scene.box.sections[0].content[0].color
    assert color.hex() == "#ff0000ff"
