"""Calls from Python: wrong arguments are refused at once with what would be right; plans keep all."""

from __future__ import annotations

import math
import os
import stat
from collections.abc import Callable
from pathlib import Path
from typing import Any

import pytest

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text

HEADER = "height: 60px, parts: {menu: {text: Visit}}, looks: {a: {}, b: {from: 200px}}"

WRONG: list[tuple[Callable[[rl.Plan, Path], Any], str]] = [
    (lambda plan, _: plan.view().at(10, going="sideways"), "going is 'sideways'; it can be 'down' or 'up'"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().trace(of="foo"), "of is 'foo'; it can be 'header' or 'layers'"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().contrast(of="foo"), "it can be 'header' or 'content'"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().chart(of="foo"), "it can be 'contrast' or 'layers'"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().at([1, 2]), "a single number is needed"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().frame("top"), "a single number is needed"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().filmstrip([]), "needs at least one scroll position"),
    (lambda plan, _: rl.check(plan, contrast="AAAA"), "it can be 'AA' or 'AAA'"),  # type: ignore[arg-type]
    (lambda plan, folder: plan.view().animation("flick", folder / "x", form="avi"), "'webp' or 'gif' or 'mp4'"),  # type: ignore[arg-type]
    (lambda plan, _: plan.replace({"headers.main.height": [1]}), "write it as text"),  # type: ignore[dict-item]
    (lambda plan, _: plan.replace(["headers.main.height"]), "must be a mapping from paths to values"),  # type: ignore[arg-type]
    (lambda plan, _: list(rl.compare([plan, plan])), "must be a mapping from names to plans"),  # type: ignore[arg-type]
    (lambda plan, _: rl.value_range(plan, "headers.main.hight"), "there are: height"),
    (lambda plan, _: rl.value_range(plan, "headers.main.parts"), "is not a number: name a length"),
    (lambda plan, _: rl.check(plan, pages="hom"), "the plan has no page 'hom'; it has: page"),
    (lambda _, __: rl.read(None), "None is not the path of a file"),  # type: ignore[arg-type]
    (lambda _, __: rl.read_text(5), "5 is not the text of a plan"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view(1), "1 is not a name; write one name, or several"),  # type: ignore[arg-type]
    (lambda plan, _: plan.path_of(5), "a path is 5; write text, such as"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().trace("1"), "a single number is needed"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().filmstrip([math.nan]), "it has to be a finite number"),
    (lambda plan, _: plan.view().filmstrip("0"), "a list of numbers is needed"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().play(5), "5 is not a gesture; write one of: reading, wheel"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().play([(0, 0), (1,)]), "or pairs of seconds and px"),  # type: ignore[list-item]
    (lambda plan, _: plan.view().play([]), "needs at least two pairs"),
    (lambda plan, _: plan.view().chart(5), "5 is no axes of Matplotlib"),  # type: ignore[arg-type]
    (lambda plan, _: plan.view().showing("x"), "a single number is needed"),  # type: ignore[arg-type]
    (lambda plan, _: rl.check(plan, readers=5), "5 is not a reader"),  # type: ignore[arg-type]
    (lambda plan, _: rl.export(plan, weight="heavy"), "weight is 'heavy'; it can be 'layer'"),  # type: ignore[arg-type]
    (lambda plan, _: rl.export(plan, script="none"), "it can be 'module' or 'classic'"),  # type: ignore[arg-type]
    (lambda plan, _: rl.export(plan, prefix=5), "the prefix is 5; write text, such as 'lantern'"),  # type: ignore[arg-type]
    (lambda plan, _: rl.value_range(plan, 5), "a path is 5"),  # type: ignore[arg-type]
    (lambda plan, _: rl.compare({"a": plan, "b": 5}), "5 is not a plan"),  # type: ignore[dict-item]
    *[(lambda _, __, call=call: call(5), "5 is not a plan; write rising_lantern.read")
      for call in (rl.check, rl.iter_check, rl.tune, rl.export, rl.preview, rl.prove, lambda one: rl.value_range(one, "a"))],
]  # fmt: skip


@pytest.mark.parametrize(("call", "message"), WRONG)
def test_a_wrong_argument_is_refused_at_once(
    make_plan: MakePlan, tmp_path: Path, call: Callable[[rl.Plan, Path], Any], message: str
) -> None:
    with pytest.raises(rl.RequestError, match=message.replace("(", r"\(")):
        call(make_plan(plan_text(header=HEADER)), tmp_path)


def test_one_name_stands_for_several_and_numbers_for_texts(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(header=HEADER))
    assert rl.check(plan, "page", "laptop", only="no-header") == rl.check(
        plan, ("page",), only=("no-header",)
    )
    assert len(plan.switch_table("page")) == 2
    changed = plan.replace({"headers.main.z": 20, "headers.main.hold-space": False})
    assert changed.file.documents["laptop"].headers["main"].z == 20
    assert [item.page for item in rl.compare({"a": plan, "b": changed}, "page", "laptop")] == [
        "page"
    ]


def test_a_plan_keeps_its_text_its_values_and_its_place(
    make_plan: MakePlan, folder: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    make_plan(plan_text(header=HEADER))
    monkeypatch.chdir(folder)
    plan = rl.read("plan.yaml", {"headers.main.height": "70px"})
    monkeypatch.chdir("/")
    (folder / "plan.yaml").unlink()
    plan = plan.replace({"headers.main.looks.b.from": "300px"})
    text = plan.edited_text([rl.Set("headers.main.z", "30")])
    for expected in ("height: 70px", "from: 300px", "z: 30"):
        assert expected in text
    assert plan.file.path == folder / "plan.yaml"
    assert plan.view().frame(0).size == (1000, 600)


def test_tune_writes_through_a_link_and_keeps_the_mode(folder: Path) -> None:
    """A link stays a link, 0600 stays 0600, and a file that nobody may write is refused."""
    own = folder / "real" / "plan.yaml"
    own.parent.mkdir()
    sections = "a: {height: 900px, background: '#fed', content: [{text: Afloat, color: '#edc'}]}"
    own.write_text(plan_text(sections=sections), "utf-8")
    own.chmod(0o600)
    link = folder / "plan.yaml"
    link.symlink_to(own)
    result = run("tune", link, "--write", "--only", "unreadable-content")
    assert result.returncode == 0, result.stderr
    assert link.is_symlink()
    assert stat.S_IMODE(own.stat().st_mode) == 0o600
    assert rl.check(rl.read(own), only="unreadable-content") == []
    masked = os.umask(0)
    os.umask(masked)
    result = run("check", link, "--format", "json", "-o", folder / "new.json")
    assert stat.S_IMODE((folder / "new.json").stat().st_mode) == 0o666 & ~masked
