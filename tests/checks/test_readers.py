"""One check for all readers: what it takes, what it refuses at once, and what comes back."""

from __future__ import annotations

import json
import pickle
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

import pytest

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text

HEADER = (
    "position: fixed, height: 60px, color: white, background: 'rgb(0 0 0 / .4)', blur: 12px, "
    "parts: {brand: {text: Saltmere Lantern Regatta, size: 24px}, menu: {text: [Programme, Lanterns, Visit], side: end}}, looks: {a: {}, b: {from: 90px}}"
)
SECTIONS = (
    "a: {height: 700px, background: white, layers: [{image: noise.png, filter: brightness(.3)}], "
    "content: [{text: The river carries the light, color: white, size: 44px, at: 50% 50%}]}, "
    "b: {height: 900px, background: '#123'}"
)


@pytest.fixture
def plan(make_plan: MakePlan) -> rl.Plan:
    """A plan whose texts rely on effects."""
    return make_plan(plan_text(header=HEADER, sections=SECTIONS, viewports="laptop: 1000x600"))


def test_what_only_some_readers_meet_comes_after_what_all_do(plan: rl.Plan) -> None:
    readers = (rl.Without("filter"), rl.Zoom(400), rl.TextSize(300), rl.Widths(320, 1000))
    plain, found = rl.check(plan), rl.check(plan, readers=readers)
    assert found[: len(plain)] == plain
    others = found[len(plain) :]
    assert {type(item.reader) for item in others} == {type(reader) for reader in readers}
    assert {item.viewport for item in found} == {"laptop"}
    lost = next(item for item in others if item.reader == rl.Without("filter"))
    assert (lost.rule, lost.level) == ("unreadable-content", "warning")
    assert lost.screen_words == "laptop without filter"
    # What is found for everybody is not found again for some.
    known = {item.about for item in plain}
    assert not {item.about for item in others} & known


def test_only_rules_that_are_asked_for_are_applied_for_readers(plan: rl.Plan) -> None:
    readers = (rl.Without("filter"), rl.Zoom(400))
    found = rl.check(plan, only="unreadable-content", readers=readers)
    assert {(item.rule, item.reader) for item in found} == {
        ("unreadable-content", rl.Without("filter"))
    }
    assert rl.check(plan, only="gap", readers=readers) == []
    assert rl.check(plan, only="gap", skip="gap") == []


@pytest.mark.parametrize(
    ("call", "words"),
    [
        (lambda: rl.Zoom(90), "90% is not 100% to 500%"),
        (lambda: rl.TextSize(501), "501% is not 100% to 500%"),
        (lambda: rl.Widths(900, 400), "is not a range of widths"),
        (lambda: rl.Without("grid"), "write one of: mix-blend-mode, filter, backdrop-filter"),
    ],
)
def test_a_reader_that_cannot_be_is_refused(call: Callable[[], object], words: str) -> None:
    with pytest.raises(rl.RequestError, match=words):
        call()


def test_wrong_arguments_are_refused_by_the_call(plan: rl.Plan) -> None:
    """Not when the first finding is asked for."""
    wrong: list[tuple[dict[str, object], str]] = [
        ({"only": "flickr"}, "there is no rule"),
        ({"pages": "none"}, "has no page"),
        ({"contrast": "A"}, "it can be 'AA' or 'AAA'"),
        ({"readers": (400,)}, "is not a reader; write Zoom"),
    ]
    for arguments, words in wrong:
        with pytest.raises(rl.RequestError, match=words):
            rl.iter_check(plan, **arguments)  # type: ignore[arg-type]


def test_findings_are_a_sequence_that_can_be_read_compared_and_sent(plan: rl.Plan) -> None:
    found = rl.check(plan, readers=rl.Without("filter"))
    assert found == list(found) == rl.Findings(found)
    assert found != list(found)[1:]
    assert hash(found) == hash(rl.Findings(found))
    assert pickle.loads(pickle.dumps(found)) == found  # noqa: S301 - our own
    worst = found.worst()
    assert worst is not None
    levels = ["error", "warning", "note"]
    most = min((item.level for item in found), key=levels.index)
    assert worst.level == most
    assert worst.excess == max(item.excess for item in found if item.level == most)
    table = found.to_frame()
    assert len(table) == len(found)
    assert set(table["reader"]) == {"", "without filter"}
    assert repr(rl.Findings()) == "<Findings: nothing found>"
    silenced = replace(found[0], level="note", silenced="so be it")
    assert repr(rl.Findings([worst, worst, silenced])) == f"<Findings: 2 {most}s, 1 silenced>"
    assert rl.Findings([silenced]).worst() is None
    assert list(rl.Findings().to_frame().columns) == list(table.columns)


def test_readers_are_data_in_json_and_sarif(plan: rl.Plan, folder: Path) -> None:
    del plan  # it is in the folder
    words = ("check", folder / "plan.yaml", "--zoom", "400", "--browsers", "--widths", "320..990")
    data = json.loads(run(*words, "--format", "json").stdout)
    readers = [row["reader"] for row in data]
    assert None in readers
    assert {"zoom": 400} in readers
    assert {"without": "filter"} in readers
    assert any(reader and "widths" in reader for reader in readers)
    assert {row["viewport"] for row in data} == {"laptop"}
    log = json.loads(run(*words, "--format", "sarif").stdout)
    properties = [item["properties"] for item in log["runs"][0]["results"]]
    assert [item.get("reader") for item in properties] == readers
    text = run(*words).stdout
    assert "page on laptop at 400% zoom, " in text
    assert "page on laptop without filter, " in text
