"""A second run into a folder makes again only what has changed, and the same files."""

from __future__ import annotations

import json
import re
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

from commands import run
from pictures import paint_pictures
from rising_lantern.exports.first_looks import FirstLookTask
from rising_lantern.exports.renditions import RenditionTask
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.previews.comparing import CompareTask

PLAN = """\
rising-lantern: 1
viewports: {laptop: 600x400, phone: 300x500}
headers:
  main:
    height: 60px
    parts: {menu: {text: Menu, color: white}}
    looks: {clear: {}, solid: {from: 120px, background: '#123'}}
pages:
  boats: {sections: {quay: {height: 900px, layers: [{image: photo.png}]}}}
  tides: {sections: {high: {height: 1200px, layers: [{image: noise.png, speed: 0.5}]}}}
"""
COMMANDS = {
    "export": ("export",),
    "compare": ("compare", "--vary", "headers.main.height=50px,80px"),
}


@pytest.fixture
def plan(tmp_path: Path) -> Path:
    paint_pictures(tmp_path)
    path = tmp_path / "plan.yaml"
    path.write_text(PLAN, "utf-8")
    return path


@pytest.fixture
def made(monkeypatch: pytest.MonkeyPatch) -> list[str]:
    """What is made, in order."""
    notes: list[str] = []

    def watch(task: Any, about: Callable[[Any], str]) -> None:
        whole = task.run

        def noted(self: Any, plan: PlanFile, page: str, viewport: str) -> object:
            notes.append(f"{about(self) or page} on {viewport}")
            return whole(self, plan, page, viewport)

        monkeypatch.setattr(task, "run", noted)

    watch(RenditionTask, lambda task: task.picture)
    watch(FirstLookTask, lambda _: "")
    watch(CompareTask, lambda _: "")
    return notes


def files_of(plan: Path, command: str, folder: str, *more: str) -> dict[str, bytes]:
    """What a command writes into a folder beside a plan."""
    name, *options = COMMANDS[command]
    out = plan.parent / folder
    result = run(name, plan, *options, "-o", out, "--jobs", "1", *more)
    assert result.returncode == 0, result.stderr
    found = {str(path.relative_to(out)): path.read_bytes() for path in out.rglob("*.*")}
    return {name: data for name, data in found.items() if not name.startswith(".")}


@pytest.mark.parametrize("command", COMMANDS)
def test_nothing_is_made_again_where_nothing_has_changed(
    plan: Path, made: list[str], command: str
) -> None:
    first = files_of(plan, command, "out")
    assert made
    made.clear()
    assert files_of(plan, command, "out") == first
    assert made == []
    # Printed as it was, too.
    name, *options = COMMANDS[command]
    printed = [run(name, plan, *options, "-o", plan.parent / to).stdout for to in ("out", "new")]
    assert printed[0].replace("out", "new") == printed[1]


@pytest.mark.parametrize(
    ("command", "change", "expected"),
    [
        ("export", ("high: {height: 1200px", "high: {height: 1300px"), {"tides"}),
        ("export", ("'#123'", "'#124'"), {"boats", "tides"}),
        ("compare", ("high: {height: 1200px", "high: {height: 1300px"), {"tides"}),
        ("compare", ("'#123'", "'#124'"), {"boats", "tides"}),
    ],
)
def test_what_has_changed_is_made_again(
    plan: Path, made: list[str], command: str, change: tuple[str, str], expected: set[str]
) -> None:
    files_of(plan, command, "out")
    plan.write_text(PLAN.replace(*change), "utf-8")
    made.clear()
    again = files_of(plan, command, "out")
    assert {note.split()[0] for note in made if ".png" not in note} == expected
    assert again == files_of(plan, command, "anew")


def test_a_picture_that_has_changed_is_prepared_again(plan: Path, made: list[str]) -> None:
    first = files_of(plan, "export", "out")
    (plan.parent / "photo.png").write_bytes((plan.parent / "noise.png").read_bytes())
    made.clear()
    again = files_of(plan, "export", "out")
    assert {note.split()[0] for note in made} == {"photo.png", "boats"}
    fresh = files_of(plan, "export", "anew")
    assert {name: again[name] for name in fresh} == fresh
    assert again.keys() - fresh.keys() <= first.keys()


def of_other_shape(entry: Any) -> None:
    for key in ("sizes", "rows", "look"):
        if key in entry:
            entry[key] = 7


def from_elsewhere(entry: Any) -> None:
    if "sizes" in entry:
        entry["sizes"][0][2] = "../photo.png"
    if "look" in entry:
        entry["look"] = "</script>"
    if "rows" in entry:
        del entry["rows"]


@pytest.mark.parametrize("damage", [of_other_shape, from_elsewhere])
@pytest.mark.parametrize("command", COMMANDS)
def test_a_damaged_record_costs_time_only(
    plan: Path, made: list[str], command: str, damage: Callable[[Any], None]
) -> None:
    first = files_of(plan, command, "out")
    count = len(made)
    path = plan.parent / "out" / ".rising-lantern.json"
    record = json.loads(path.read_text("utf-8"))
    for entry in record["made"].values():
        damage(entry)
    path.write_text(json.dumps(record), "utf-8")
    made.clear()
    assert files_of(plan, command, "out") == first
    assert len(made) == count


@pytest.mark.parametrize("command", COMMANDS)
def test_a_file_that_was_changed_by_hand_is_not_taken_over(
    plan: Path, made: list[str], command: str
) -> None:
    first = files_of(plan, command, "out")
    name = next(name for name in first if re.search(r"webp$|photo.*png$|frames.png$", name))
    (plan.parent / "out" / name).write_bytes(b"by hand")
    made.clear()
    assert files_of(plan, command, "out", "--force") == first
    assert made
