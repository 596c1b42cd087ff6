"""Checks of what can be read, their limits and silences, and how findings are reported."""

from __future__ import annotations

import json
from pathlib import Path

import jsonschema
import numpy as np
import pytest
from PIL import Image

import rising_lantern as rl
from commands import run
from findings import found
from plans import MakePlan, plan_text
from rising_lantern.legibility.measurement import measure_near_limits

_TEXT = "a: {{height: 900px, background: '#fed', content: [{{text: The river, size: {}, weight: {}, color: '{}'}}]}}"


@pytest.mark.parametrize(
    ("size", "weight", "color", "limit"),
    [
        ("18px", 400, "#777", 4.5),
        ("23.9px", 400, "#777", 4.5),
        ("24px", 400, "#999", 3),
        ("18.66px", 700, "#999", 3),
        ("18.6px", 700, "#777", 4.5),
    ],
)
def test_a_text_is_found_just_below_its_limit(
    make_plan: MakePlan, size: str, weight: int, color: str, limit: float
) -> None:
    plan = make_plan(plan_text(sections=_TEXT.format(size, weight, color)))
    (finding,) = found(plan, "unreadable-content")
    assert (str(finding.subject), finding.limit, finding.level) == (
        'a, "The river"',
        limit,
        "error",
    )
    key = f"{finding.key}.color"
    assert key == "pages.page.sections.a.content.0.color"
    darker = plan.replace({key: "#666" if limit > 4 else "#777"})
    assert found(darker, "unreadable-content") == []
    assert len(rl.check(darker, only=("unreadable-content",), contrast="AAA")) == 1


def test_limits_are_those_of_the_plan_the_part_and_the_level(make_plan: MakePlan) -> None:
    header = (
        "height: 60px, background: white, parts: {name: {text: Saltmere, color: '#666'}, "
        "title: {text: Afloat, size: 30px, color: '#888'}, icon: {image: logo-dark.png}, "
        "brand: {image: logo-light.png, logo: true}}"
    )
    text = plan_text(header=header, before="CHECK")
    plain = make_plan(text.replace("CHECK", ""))
    assert [(item.level, item.limit) for item in found(plain, "unreadable-part")] == [("note", 3)]
    assert [item.limit for item in rl.check(plain, only=("unreadable-part",), contrast="AAA")] == [
        7,
        4.5,
        3,
    ]
    limits = "check: {limits: {text: 6.5, large-text: 3.7, picture: 20, logo: 1}}"
    result = found(make_plan(text.replace("CHECK", limits)), "unreadable-part")
    assert [item.limit for item in result] == [6.5, 3.7, 20]
    asked = text.replace("CHECK", "check: {contrast: AAA}").replace(
        "color: '#666'", "color: '#666', contrast: 5"
    )
    assert [item.limit for item in found(make_plan(asked), "unreadable-part")] == [4.5, 3]


_BANDS = (
    "a: {height: 700px, background: '#123'}, line: {height: 3px, background: white}, "
    "b: {height: 500px, layers: [{image: noise.png, speed: 0.4}]}, c: {height: 900px, background: '#123'}"
)


@pytest.mark.parametrize(
    "header",
    [
        "background: 'linear-gradient(#0006, #0002)'",
        "background: '#0004', blur: 3px",
        "looks: {a: {}, b: {from: 400px, background: '#000a', change: blend 300px}}",
    ],
)
def test_strides_miss_nothing_that_every_px_shows(make_plan: MakePlan, header: str) -> None:
    """A line of 3 px that passes below letters, and a picture behind a blurred header."""
    parts = "height: 60px, color: white, parts: {menu: {text: Programme}}"
    plan = make_plan(plan_text(header=f"{header}, {parts}", sections=_BANDS))
    findings = found(plan, "unreadable-part")
    table = plan.view().contrast()
    for finding in findings:
        look = finding.path[3]
        low = table[(table.look == look) & (table.contrast < 4.5)]
        assert finding.scroll == (low.scroll_px.min(), low.scroll_px.max())
        assert finding.measured == pytest.approx(low.contrast.min())
    assert {finding.path[3] for finding in findings} == set(table[table.contrast < 4.5].look)


def test_all_is_measured_around_what_is_near_to_the_limit() -> None:
    seen: list[int] = []

    def measure(places: np.ndarray) -> np.ndarray:
        seen.extend(places.tolist())
        return np.where((places >= 40) & (places < 48), 3.0, 12.0)

    every = np.full(101, 12 / 8)  # px that things pass each other by: 12 in 8 positions
    measure_near_limits(np.arange(101), every, np.full(101, 4.5), measure)
    first = {0, *range(7, 101, 8), 100}
    assert sorted(seen) == sorted(first | set(range(40, 55)))
    assert len(seen) == len(set(seen))


def test_motion_is_noted_where_readers_who_ask_for_less_get_it(
    make_plan: MakePlan, folder: Path
) -> None:
    sections = (
        "a: {height: 700px, layers: [{image: noise.png, speed: 0.4}, {fill: '#123', speed: 0.3}], "
        "content: [{text: Afloat, speed: 1.3}, {text: Ashore}]}, b: {height: 700px}"
    )
    assert found(make_plan(plan_text(sections=sections)), "less-motion") == []
    kept = make_plan(plan_text(sections=sections, before="less-motion: keep"))
    assert [
        (str(item.subject), round(item.measured, 2)) for item in found(kept, "less-motion")
    ] == [
        ("a, layer 0", 0.6),
        ('a, "Afloat"', 0.3),
    ]
    flame = [Image.new("RGB", (20, 20), color) for color in ("red", "gold")]
    flame[0].save(folder / "flame.gif", save_all=True, append_images=flame[1:], duration=90)
    animated = make_plan(plan_text(sections="a: {height: 900px, layers: [{image: flame.gif}]}"))
    assert [item.measured for item in found(animated, "less-motion")] == [2]
    slides = "a: {height: 900px, layers: [{slides: [photo.png, noise.png]}]}"
    assert found(make_plan(plan_text(sections=slides)), "less-motion") == []


_SILENCED = """check:
  silence:
    - {rule: never-reached, subject: "main, look b", reason: The campaign page grows in June}
"""


def test_a_plan_lets_findings_pass_with_a_reason(folder: Path) -> None:
    text = plan_text(header="looks: {a: {}, b: {from: 9000px}}", before=_SILENCED)
    (folder / "plan.yaml").write_text(text, "utf-8")
    result = run("check", "plan.yaml", cwd=folder)
    assert result.returncode == 0
    assert "silenced never-reached" in result.stdout
    assert "silenced: The campaign page grows in June" in result.stdout
    assert "nothing found, 1 silenced by the plan" in result.stdout
    plan = rl.read(folder / "plan.yaml")
    assert rl.check(plan) == []
    assert [item.silenced for item in rl.check(plan, silenced=True)] == [
        "The campaign page grows in June"
    ]
    other = text.replace("look b", "look c")
    (folder / "plan.yaml").write_text(other, "utf-8")
    idle = run("check", "plan.yaml", cwd=folder)
    assert idle.returncode == 1
    assert "plan.yaml:5:7: this entry matches no finding; remove it" in idle.stderr
    (folder / "plan.yaml").write_text(text.replace("never-reached", "never-reachd"), "utf-8")
    wrong = run("check", "plan.yaml", cwd=folder)
    assert wrong.returncode == 2
    assert "plan.yaml:5:14: there is no rule 'never-reachd'; did you mean 'never-reached'?" in (
        wrong.stderr
    )


def test_sarif_is_valid_and_points_into_the_plan(folder: Path) -> None:
    """Against the schema that OASIS publishes."""
    schema = json.loads(
        (Path(__file__).parents[1] / "data" / "sarif-2.1.0.json").read_text("utf-8")
    )
    header = (
        "height: 60px,\n  looks: {a: {}, b: {from: 9000px}, c: {from: 9100px, background: white}}"
    )
    text = plan_text(header=header, before=_SILENCED)
    (folder / "plan.yaml").write_text(text, "utf-8")
    result = run("check", "plan.yaml", "--format", "sarif", "-o", "out.sarif", cwd=folder)
    assert (result.returncode, result.stdout) == (1, "")
    log = json.loads((folder / "out.sarif").read_text("utf-8"))
    jsonschema.validate(log, schema)
    first, second = log["runs"][0]["results"]
    assert first["suppressions"][0]["justification"] == "The campaign page grows in June"
    assert "suppressions" not in second
    place = second["locations"][0]["physicalLocation"]
    lines = text.splitlines()
    region = place["region"]
    assert lines[region["startLine"] - 1][region["startColumn"] - 1 :].startswith("9100px")
    assert place["artifactLocation"]["uri"] == "plan.yaml"
    names = [item["id"] for item in log["runs"][0]["tool"]["driver"]["rules"]]
    assert names[second["ruleIndex"]] == second["ruleId"] == "never-reached"
    # A value from the command line has no place in a file.
    set_ = run(
        "check",
        "plan.yaml",
        "--format",
        "sarif",
        "--set",
        "headers.main.looks.c.from=9900px",
        cwd=folder,
    )
    jsonschema.validate(json.loads(set_.stdout), schema)


@pytest.mark.parametrize(
    ("blend", "shadow", "lost"),
    [
        ("color-dodge", "0 3px 6px black", True),
        ("screen", "0 3px 6px rgb(0 0 0 / .5)", True),
        ("multiply", "0 3px 6px white", True),
        ("color-dodge", "0 3px 6px #444", False),
        ("multiply", "0 3px 6px white, 0 1px 1px black", False),
        ("normal", "0 3px 6px black", False),
    ],
)
def test_a_shadow_that_its_blend_mode_makes_vanish_is_noted(
    make_plan: MakePlan, blend: str, shadow: str, lost: bool
) -> None:
    """Frames are the same without it, but for the edges of letters, which mix with it first."""
    words = "text: The river, size: 60px, color: '#888', at: 50% 50%"
    sections = f"a: {{height: 600px, background: '#557', content: [{{{words}, blend: {blend}, shadow: '{shadow}'}}]}}"
    plan = make_plan(plan_text(sections=sections))
    assert bool(rl.check(plan, only="lost-shadow")) == lost
    without = plan.replace({"pages.page.sections.a.content.0.shadow": "none"})
    letters = plan.replace({"pages.page.sections.a.content.0.blend": "normal"})
    bare = letters.replace({"pages.page.sections.a.content": "[]"}).view().pixels(0)
    inked = letters.replace({"pages.page.sections.a.content.0.shadow": "none"}).view().pixels(0)
    ground = (inked == bare).all(axis=-1)
    off = np.abs(plan.view().pixels(0).astype(int) - without.view().pixels(0))[ground]
    assert (off.max() <= 2) == lost
