"""A preview draws again only what has changed, and is then what it would be anew."""

from __future__ import annotations

import json
import shutil
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from commands import run
from pictures import paint_pictures
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.previews.drawing import Drawing, DrawTask

PLAN = """\
rising-lantern: 1
viewports: {laptop: 600x400, phone: 300x500}
headers:
  main:
    position: fixed
    height: 60px
    background: '#eee'
    parts: {menu: {text: Menu, color: white}}
pages:
  boats:
    sections:
      quay: {height: 900px, layers: [{image: photo.png, speed: 0.5}]}
      piers: {height: 500px, layers: [{slides: [photo.png, noise.png]}]}
  tides:
    sections: {high: {height: 1200px, background: '#777', content: [{text: Low, color: '#888'}]}}
"""


@pytest.fixture
def plan(tmp_path: Path) -> Path:
    paint_pictures(tmp_path)
    path = tmp_path / "plan.yaml"
    path.write_text(PLAN, "utf-8")
    return path


@pytest.fixture
def drawn(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """The views that are drawn, in order."""
    views: list[str] = []
    whole = DrawTask.run

    def noted(task: DrawTask, plan: PlanFile, page: str, viewport: str) -> Drawing:
        views.append(f"{page}.{viewport}")
        return whole(task, plan, page, viewport)

    monkeypatch.setattr(DrawTask, "run", noted)
    return views


def preview(plan: Path, folder: str, *options: str) -> dict[str, bytes]:
    """The files of a preview in a folder beside a plan."""
    out = plan.parent / folder
    result = run("preview", plan, "-o", out, "--jobs", "1", *options)
    assert result.returncode == 0, result.stderr
    return {str(path.relative_to(out)): path.read_bytes() for path in out.rglob("*.*")}


ALL = ["boats.laptop", "boats.phone", "tides.laptop", "tides.phone"]


def test_nothing_is_drawn_again_where_nothing_has_changed(plan: Path, drawn: list[str]) -> None:
    first = preview(plan, "out")
    assert drawn == ALL
    # A line more moves what is found in the file, and nothing on the page.
    drawn.clear()
    plan.write_text(f"# A plan of the quay.\n{PLAN}", "utf-8")
    second = preview(plan, "out")
    assert drawn == []
    assert second["preview.html"] != first["preview.html"]
    assert second == preview(plan, "anew")
    assert drawn == ALL


def on_one_page(plan: Path) -> None:
    plan.write_text(PLAN.replace("1200px", "1300px"), "utf-8")


def on_one_screen(plan: Path) -> None:
    plan.write_text(PLAN.replace("300x500", "310x500"), "utf-8")


def in_a_picture(plan: Path) -> None:
    shutil.copyfile(plan.parent / "logo-dark.png", plan.parent / "noise.png")


def in_the_header(plan: Path) -> None:
    plan.write_text(PLAN.replace("60px", "64px"), "utf-8")


def in_what_is_silenced(plan: Path) -> None:
    silence = "check: {silence: [{rule: unreadable-content, reason: it is dusk}]}\n"
    plan.write_text(PLAN + silence, "utf-8")


@pytest.mark.parametrize(
    ("change", "expected"),
    [
        (on_one_page, ["tides.laptop", "tides.phone"]),
        (on_one_screen, ALL),  # rules compare neighbouring screens
        (in_a_picture, ["boats.laptop", "boats.phone"]),
        (in_the_header, ALL),
        (in_what_is_silenced, ALL),
    ],
)
def test_what_has_changed_is_drawn_again(
    plan: Path, drawn: list[str], change: Callable[[Path], None], expected: list[str]
) -> None:
    preview(plan, "out")
    drawn.clear()
    change(plan)
    second = preview(plan, "out")
    assert drawn == expected
    assert second == preview(plan, "anew")


def test_what_a_rule_finds_by_a_neighbouring_screen_is_never_old(plan: Path) -> None:
    """The phone stands for far wider screens once the laptop is one, though it is the same."""
    found = []
    for laptop in ("700x400", "1600x900"):
        plan.write_text(PLAN.replace("600x400", laptop), "utf-8")
        made = preview(plan, "out", "--viewport", "phone")
        found.append(b"stretched-screen" in made["preview.html"])
    assert found == [False, True]
    assert made == preview(plan, "anew", "--viewport", "phone")


def test_other_options_are_other_views(plan: Path, drawn: list[str]) -> None:
    preview(plan, "out")
    for options in (("--at", "0,100"), ("--findings",), ("--chart-as", "svg")):
        drawn.clear()
        preview(plan, "out", *options)
        assert drawn == ALL
    drawn.clear()
    preview(plan, "out", "--page", "tides", "--chart-as", "svg")
    assert drawn == []


def without_its_picture(made: Any, out: Path) -> None:
    (out / made["boats.phone"]["files"][0]).unlink()


def of_other_shape(made: Any, out: Path) -> None:
    del out
    made["boats.phone"]["files"] = {"a": [3]}
    made["tides.phone"] = 7


def from_elsewhere(made: Any, out: Path) -> None:
    del out
    made["boats.phone"]["files"].append("../plan.yaml")
    made["tides.phone"]["document"] = "../plan.yaml"


@pytest.mark.parametrize(
    ("damage", "expected"),
    [
        (without_its_picture, ["boats.phone"]),
        (of_other_shape, ["boats.phone", "tides.phone"]),
        (from_elsewhere, ["boats.phone", "tides.phone"]),
    ],
)
def test_a_damaged_record_costs_time_only(
    plan: Path, drawn: list[str], damage: Callable[[Any, Path], None], expected: list[str]
) -> None:
    whole = preview(plan, "out")
    path = plan.parent / "out" / ".rising-lantern.json"
    record = json.loads(path.read_text("utf-8"))
    damage(record["made"], plan.parent / "out")
    path.write_text(json.dumps(record), "utf-8")
    drawn.clear()
    again = preview(plan, "out")
    assert drawn == expected
    assert {name: again[name] for name in whole if name != path.name} == {
        name: data for name, data in whole.items() if name != path.name
    }


def test_a_preview_that_was_changed_by_hand_is_not_taken_over(plan: Path, drawn: list[str]) -> None:
    whole = preview(plan, "out")
    path = plan.parent / "out" / "preview.html"
    path.write_text(path.read_text("utf-8").replace("boats", "goats"), "utf-8")
    drawn.clear()
    assert preview(plan, "out", "--force") == whole
    assert drawn == ALL
