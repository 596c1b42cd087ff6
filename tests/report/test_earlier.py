"""Only what is new against an earlier result is printed, written and counted."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from commands import run
from plans import plan_text

HEADER = "position: fixed, height: 60px, color: white, parts: {menu: {text: Programme}}"
SECTIONS = (
    "a: {height: 900px, background: '#123', content: [{text: Afloat, color: '#456'}]}, "
    "b: {height: 900px, background: white}"
)


@pytest.fixture
def plan(folder: Path) -> Path:
    path = folder / "plan.yaml"
    path.write_text(plan_text(header=HEADER, sections=SECTIONS), "utf-8")
    return path


def change(plan: Path, old: str, new: str) -> None:
    """Write another text into a plan."""
    text = plan.read_text("utf-8")
    assert old in text
    plan.write_text(text.replace(old, new), "utf-8")


@pytest.mark.parametrize("form", ["json", "sarif"])
def test_only_what_is_new_counts(plan: Path, form: str) -> None:
    old = plan.parent / f"old.{form}"
    first = run("check", plan, "--format", form, "-o", old)
    assert first.returncode == 1
    again = run("check", plan, "--since", old)
    assert again.returncode == 0
    assert "nothing new\n" in again.stdout
    assert "as before, 0 not found any more" in again.stdout
    assert "unreadable" not in again.stdout
    # Other figures are no other finding; another text is.
    change(plan, "a: {height: 900px", "a: {height: 700px")
    assert run("check", plan, "--since", old).returncode == 0
    change(plan, "'#456'}", "'#456'}, {text: Ashore, color: '#345', at: 50% 90%}")
    changed = run("check", plan, "--since", old)
    assert changed.returncode == 1
    assert "Ashore" in changed.stdout
    assert "Afloat" not in changed.stdout
    assert "2 new findings\n" in changed.stdout
    data = json.loads(run("check", plan, "--since", old, "--format", "json").stdout)
    assert {row["rule"] for row in data} == {"unreadable-content", "runs-under"}
    # And what is put right is counted.
    change(plan, "{text: Afloat, color: '#456'}, ", "")
    assert ", 2 not found any more" in run("check", plan, "--since", old).stdout
    some = run("check", plan, "--since", old, "--only", "unreadable-content")
    assert "not found any more" not in some.stdout


def test_a_reader_and_a_page_are_part_of_what_is_known(plan: Path) -> None:
    old = plan.parent / "old.json"
    run("check", plan, "--format", "json", "-o", old)
    zoomed = run("check", plan, "--since", old, "--zoom", "500", "--format", "json")
    found = json.loads(zoomed.stdout)
    assert all(row["reader"] == {"zoom": 500} for row in found)
    change(plan, "pages: {page:", "pages: {other: {like: page}, page:")
    assert run("check", plan, "--since", old).returncode == 1


@pytest.mark.parametrize(
    ("content", "words"),
    [
        ("rising-lantern: 1", "is no result of 'check'"),
        ('{"runs": 3}', "is no result of 'check'"),
        ('[{"rule": "gap"}]', "is no result of 'check'"),
        ("[" * 100_000, "is no result of 'check'"),
        (None, "cannot be read"),
    ],
)
def test_something_else_is_refused(plan: Path, content: str | None, words: str) -> None:
    old = plan.parent / "old.json"
    if content is not None:
        old.write_text(content, "utf-8")
    result = run("check", plan, "--since", old)
    assert result.returncode == 2
    assert words in result.stderr
    assert "is a folder" in run("check", plan, "--since", plan.parent).stderr
