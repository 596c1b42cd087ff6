"""Edits of a plan's text: what is meant is what is read, all else stays, and each is undone."""

from __future__ import annotations

import copy
import re
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

import rising_lantern as rl
from plans import MakePlan
from random_plans import write_random_plan
from rising_lantern.plan.edits.drafts import Draft
from rising_lantern.plan.edits.edits import (
    Add,
    Duplicate,
    Edit,
    Move,
    Remove,
    Rename,
    Set,
    edited,
)
from rising_lantern.plan.text.nodes import parse
from thorough import examples, some

Keys = tuple[str | int, ...]

# Every style in which a mapping, a list or a value can be written, with a comment at each.
STYLES = """\
# c1 the regatta's plan
rising-lantern: 1   # c2

colors: {ink: "#16213e", paper: '#fdf6e3'}  # c3
shared: &shared   # c4
  weight: 600
  # c5 above
  size: 20px  # c6
headers:
  main:   # c7
    height:   96px    # c8
    hold: yes
    parts:
      - name: &word Menu   # c9
        side: end
        # c10 between
        color: white
      -
        # c11 behind a dash
        name: *word
      - [one, two,   # c12
         three]
      - plain   # c13

    # c14 above looks
    looks: {
      clear: {from: 0px},  # c15
      solid: {
        from: past hero - 20px,   # c16
        background: "#fff" }   # c17
    }
  second: {<<: *shared, height: 3px}
  third:
    <<: *shared
    note: |   # c18
      two lines
      of a text
    folded: >-
      and two
      of another
    empty:   # c19
    list: []
    map: {}
    # c20 the last of third
pages:
- home   # c21
- "visit: us"
- {a: 1, b: [1, 2, {c: 3}]}   # c22
last: 'it''s'
"""
TEXTS = [
    STYLES,
    STYLES.replace("\n", "\r\n"),
    STYLES.rstrip("\n"),
    "a: 1",
    "{a: 1, b: {c: [1, 2]}}",
    "- a\n- b: 1\n  c: 2\n-  - x\n   - y: {z: 0}\n",
    '{\n  "a": {"b": 1,\n        "c": "x"},\n  "d": [\n    1,\n    2\n  ]\n}\n',
]
VALUES = {
    "12px": "12px",
    "true": True,
    "'#123'": "#123",
    "{x: 1, y: [a, b]}": {"x": 1, "y": ["a", "b"]},
    "[]": [],
    "past hero - 3px": "past hero - 3px",
}


def places_in(data: Any, path: Keys = ()) -> Iterator[Keys]:
    """The path of everything in some values."""
    pairs = data.items() if isinstance(data, dict) else enumerate(data)
    for key, value in pairs:
        yield (*path, key)
        if isinstance(value, dict | list):
            yield from places_in(value, (*path, key))


def inside(data: Any, path: Keys) -> Any:
    for key in path:
        data = data[key]
    return data


@st.composite
def meant(draw: st.DrawFn, data: Any) -> tuple[Edit, Any]:
    """An edit of some values, and what they are after it, by another way of doing it."""
    wanted = copy.deepcopy(data)
    path = draw(st.sampled_from(sorted(places_in(data), key=repr)))
    holder, key = inside(wanted, path[:-1]), path[-1]
    text = draw(st.sampled_from(sorted(VALUES)))
    kind = draw(st.sampled_from([Set, Add, Remove, Duplicate, Move]))
    pairs: list[tuple[Any, Any]] = [(None, item) for item in holder]
    if isinstance(holder, dict):
        pairs = list(holder.items())
    index = list(holder).index(key) if isinstance(holder, dict) else int(key)
    edit: Edit
    if kind is Set:
        edit = Set(path, text)
        pairs[index] = (pairs[index][0], copy.deepcopy(VALUES[text]))
    elif kind is Add and isinstance(holder, dict):
        assume("new" not in holder)
        edit = Add((*path[:-1], "new"), text, before=key)
        pairs.insert(index, ("new", copy.deepcopy(VALUES[text])))
    elif kind is Add:
        edit = Add(path, text)
        pairs.insert(index, (None, copy.deepcopy(VALUES[text])))
    elif kind is Remove:
        edit = Remove(path)
        del pairs[index]
    elif kind is Duplicate:
        assume("copy" not in holder)
        name = "copy" if isinstance(holder, dict) else None
        edit = Duplicate(path, name)
        pairs.insert(index + 1, (name, copy.deepcopy(pairs[index][1])))
    else:
        to = draw(st.integers(0, len(pairs) - 1))
        edit = Move(path, to)
        pairs.insert(to, pairs.pop(index))
    if isinstance(holder, dict):
        holder.clear()
        holder.update(pairs)
    else:
        holder[:] = [value for _, value in pairs]
    return edit, wanted


def in_order(data: Any) -> Any:
    """Values that are equal only if their keys are in one order, and of one type."""
    if isinstance(data, dict):
        return [(key, in_order(value)) for key, value in data.items()]
    return [in_order(item) for item in data] if isinstance(data, list) else (type(data), data)


def comments(text: str) -> list[str]:
    return sorted(re.findall(r"# (c\d+)", text))


@settings(max_examples=examples(500), deadline=None)
@given(st.data())
def test_any_sequence_of_edits_reads_as_it_is_meant_and_is_undone(data: st.DataObject) -> None:
    text = data.draw(st.sampled_from(TEXTS))
    name = "plan.json" if text.startswith('{\n  "') else "plan.yaml"
    draft = Draft(text, name, Path(name))
    edits: list[Edit] = []
    for _ in range(data.draw(st.integers(1, 5))):
        before = draft.root.plain()
        assume(isinstance(before, dict | list) and before)
        edit, wanted = data.draw(meant(before))
        try:
            after, undone = edited(draft, [edit])
        except rl.RequestError:
            # What is merged into a mapping cannot be taken out of it there, or brought into order.
            assert "<<" in text
            assert isinstance(edit, Remove | Move | Add | Duplicate)
            continue
        assert in_order(after.root.plain()) == in_order(wanted), edit.words
        lost = set(comments(draft.text)) - set(comments(after.text))
        assert not lost or isinstance(edit, Remove | Set), edit.words
        assert edited(after, undone)[0].text == draft.text
        edits.append(edit)
        draft = after
    whole, undone = edited(Draft(text, name, Path(name)), edits)
    assert whole.text == draft.text
    assert edited(whole, undone)[0].text == text


def test_comments_go_only_with_what_they_stand_in() -> None:
    draft = Draft(STYLES, "plan.yaml", Path("plan.yaml"))
    for path in places_in(draft.root.plain()):
        if path[:1] == ("shared",) or path[1:2] in {("second",), ("third",)}:
            continue
        after, _ = edited(draft, [Remove(path)])
        lost = set(comments(STYLES)) - set(comments(after.text))
        node = draft.root.at(path)
        assert node is not None
        # Those in it, the one behind it, and no others.
        assert len(lost) <= max(node.size, 2), (path, lost)
    after, _ = edited(draft, [Remove(("headers", "main", "looks", "clear"))])
    assert comments(after.text) == comments(STYLES)
    after, _ = edited(draft, [Set(("headers", "main", "height"), "80px")])
    assert after.text == STYLES.replace("height:   96px ", "height:   80px ")


@pytest.mark.parametrize(
    ("edit", "old", "new"),
    [
        (Move("parts.0", 1), "  - {a: 1}  # one\n  # over two\n  - {b: 2}\n",
         "  # over two\n  - {b: 2}\n  - {a: 1}  # one\n"),
        (Remove("parts.0"), "  - {a: 1}  # one\n", ""),
        (Duplicate("parts.0"), "  - {a: 1}  # one\n", "  - {a: 1}  # one\n  - {a: 1}\n"),
        (Duplicate("sections.hero", "next"), "  hero: {x: 1}\n", "  hero: {x: 1}\n  next: {x: 1}\n"),
        (Add("sections.end", "{y: 2}"), "  hero: {x: 1}\n", "  hero: {x: 1}\n  end: {y: 2}\n"),
        (Add("sections.first", "{y: 2}", "hero"), "  hero: {x: 1}\n",
         "  first: {y: 2}\n  hero: {x: 1}\n"),
        (Set("sections.hero.x", "3"), "{x: 1}", "{x: 3}"),
    ],
)  # fmt: skip
def test_edits_are_written_as_a_person_would(edit: Edit, old: str, new: str) -> None:
    text = "parts:\n  - {a: 1}  # one\n  # over two\n  - {b: 2}\nsections:\n  hero: {x: 1}\n"
    after, undone = edited(Draft(text, "plan.yaml", Path("plan.yaml")), [edit])
    assert after.text == text.replace(old, new)
    assert undone[0].words == f"undo: {edit.words}"


PLAN = """\
rising-lantern: 1
viewports: {desk: 1280x800, phone: 390x844}
colors:
  ink: "#16213e"
  ink-wash: "rgb(from ink r g b / .5)"
headers:
  main:
    show: {only: [home, trip], viewports: {except: [phone]}}
    rows: {upper: {height: 30px}, lower: {height: 50px}}
    parts:
      menu: {text: [Trip, Hero], links: {Trip: trip, Hero: "#hero"}, row: lower, color: ink}
    looks:
      clear: {background: transparent, parts: {menu: {color: white}}}
      solid:
        like: clear
        from: past hero - 20px
        background: "linear-gradient(ink, rgb(0 0 0 / .5), ink)"
        for: {phone: {parts: {menu: {color: ink}}}}
  other: {like: main, looks: {solid: {like: main.clear}}}
pages:
  home:
    sections:
      hero: {height: 900px, background: ink}
      rest:
        height: 900px
        layers: [{fill: ink-wash, settle: reach rest}]
        content: [{text: Go to the trip, links: {trip: "trip#rest", Go: /trip}}]
  trip:
    like: home
    sections: {hero: {like: home.hero, height: 500px}}
check:
  silence:
    - {rule: touch-fixed, page: trip, viewport: phone, subject: "hero, *", reason: ink is dry}
"""


@pytest.mark.parametrize(
    ("path", "new", "changed"),
    [
        ("colors.ink", "night",
         ['ink: "#1', "rgb(from ink", "row: lower, color: ink}", "linear-gradient(ink", ".5), ink)",
          "menu: {color: ink", "background: ink}"]),
        ("viewports.phone", "small", ["phone: 390", "[phone]", "{phone: {parts", "viewport: phone"]),
        ("pages.trip", "tour", ["home, trip]", "Trip: trip,", '"trip#rest"', "  trip:", "page: trip"]),
        ("pages.home", "start", ["[home,", "  home:", "like: home\n", "home.hero"]),
        ("pages.trip.sections.hero", "top",
         ["past hero", "hero: {height", "{hero: {like", "home.hero", '"#hero"', '"hero, *"']),
        ("pages.home.sections.rest", "end", ["rest:\n", "reach rest", '"trip#rest"']),
        ("headers.main", "bar", ["  main:\n", "like: main,", "main.clear"]),
        ("headers.main.looks.clear", "bare", ["clear: {back", "like: clear", "main.clear"]),
        ("headers.main.parts.menu", "links", ["menu: {text", "menu: {color: white", "menu: {color: ink"]),
        ("headers.main.rows.lower", "base", ["lower: {height", "row: lower"]),
    ],
)  # fmt: skip
def test_what_names_a_thing_follows_its_new_name(
    make_plan: MakePlan, path: str, new: str, changed: list[str]
) -> None:
    plan = make_plan(PLAN)
    wanted = PLAN
    old = path.rpartition(".")[2]
    for piece in changed:
        assert PLAN.count(piece) == 1, piece
        wanted = wanted.replace(piece, re.sub(rf"(?<![\w-]){old}(?![\w-])", new, piece))
    assert plan.edited_text([Rename(path, new)]) == wanted
    renamed = plan.apply(Rename(path, new))
    assert [view.scene.box.flow for view in renamed.views()]
    assert renamed.edited_text([Rename(path.rpartition(".")[0] + f".{new}", old)]) == PLAN


@pytest.mark.parametrize(
    ("edit", "words"),
    [
        (Rename("pages.home.sections.hero", "rest"), "there is a 'rest' already"),
        (Rename("pages.home.sections.hero.height", "tall"), "has no name of its own"),
        (Rename("pages.home", "x: {}\n  y"), "is not a valid name"),
        (Remove("pages.nowhere"), "pages has no 'nowhere'"),
        (Add("pages.home.sections.hero", "{height: 3px}"), "'hero' is there already"),
        (Move("pages.home", 7), "its place is from 0 to 1, not 7"),
        (Duplicate("pages.home"), "needs a key of its own"),
    ],
)
def test_what_cannot_be_done_is_said(make_plan: MakePlan, edit: Edit, words: str) -> None:
    with pytest.raises(rl.RequestError, match=words):
        make_plan(PLAN).edited_text([edit])


def names_in(root: dict[str, Any]) -> Iterator[Keys]:
    """The path of everything in a plan that has a name."""
    for kind in ("headers", "pages", "viewports", "colors", "fonts"):
        yield from (
            (kind, name) for name in root.get(kind, {}) if (kind, name) != ("colors", "from")
        )
    inner = {"headers": ("looks", "parts", "rows"), "pages": ("sections",)}
    for kind, groups in inner.items():
        for name, entry in root.get(kind, {}).items():
            for group in groups:
                yield from ((kind, name, group, key) for key in entry.get(group) or ())


@pytest.mark.parametrize("seed", some(range(30), 10))
def test_plans_look_the_same_whatever_things_are_called(folder: Path, seed: int) -> None:
    write_random_plan(folder, seed)
    plan = rl.read(folder / "plan.json")
    paths = list(names_in(plan.file.root.plain()))
    for index, path in enumerate(paths[:: max(len(paths) // 8, 1)]):
        renamed = plan.apply(rl.Rename(path, "zzz"))
        views, others = list(plan.views()), list(renamed.views())
        view, other = (items[index % len(views)] for items in (views, others))
        place = view.max_scroll * (index % 4) // 3
        assert np.array_equal(view.pixels(place), other.pixels(place)), path


def test_an_edit_that_leaves_a_fault_is_refused(make_plan: MakePlan) -> None:
    with pytest.raises(rl.PlanError, match="there is no viewport 'phone'"):
        make_plan(PLAN).edited_text([Remove("viewports.phone")])


def test_undoing_a_text_that_has_changed_is_refused() -> None:
    draft = Draft("a: 1\nb: 2\n", "plan.yaml", Path("plan.yaml"))
    _, undone = edited(draft, [Set("a", "7")])
    with pytest.raises(rl.RequestError, match="has changed since"):
        edited(Draft("x: 1\n", "plan.yaml", Path("plan.yaml")), undone)


def test_the_sample_plan_keeps_its_layout(site: Path) -> None:
    plan = rl.read(site / "regatta.yaml")
    text = plan.file.text
    for path in places_in(parse(text, "plan").plain()):
        if len(path) in {2, 4} and isinstance(path[-1], str) and path[-1] != "for":
            after, undone = edited(Draft(text, "plan", Path("plan")), [Duplicate(path, "zzz")])
            added = set(after.text.splitlines()) - set(text.splitlines())
            assert len(added) <= 2, path
            assert edited(after, undone)[0].text == text


WRONG: list[Callable[[], Any]] = [
    lambda: Set((), "x"),
    lambda: Set(5, "x"),  # type: ignore[arg-type]
    lambda: Set("headers.main.looks", 5),  # type: ignore[arg-type]
    lambda: Set(("headers", "main", "show", "only", 9), "x"),
    lambda: Set(("viewports", "desk", "deep"), "x"),
    lambda: Add((), "x"),
    lambda: Add("viewports.desk.deep", "x"),
    lambda: Add("headers.third", "{height: 9px}", "nowhere"),
    lambda: Remove(()),
    lambda: Remove(7),  # type: ignore[arg-type]
    lambda: Duplicate(()),
    lambda: Duplicate("headers.main", 3),  # type: ignore[arg-type]
    lambda: Move((), 0),
    lambda: Move("headers.main", "x"),  # type: ignore[arg-type]
    lambda: Move("headers.main", 0.5),  # type: ignore[arg-type]
    lambda: Rename((), "x"),
    lambda: Rename("headers.main", 4),  # type: ignore[arg-type]
    lambda: "text",
    lambda: None,
]


@pytest.mark.parametrize("wrong", WRONG)
def test_wrong_arguments_are_refused(make_plan: MakePlan, wrong: Callable[[], Any]) -> None:
    plan = make_plan(PLAN)
    with pytest.raises(rl.RequestError):
        plan.apply(wrong())
    with pytest.raises(rl.RequestError):
        plan.edited_text([wrong()])


def test_one_edit_is_given_by_itself(make_plan: MakePlan) -> None:
    edit = Set("pages.home.sections.hero.height", "800px")
    plan = make_plan(PLAN)
    assert (
        plan.edited_text(edit) == plan.edited_text([edit]) == PLAN.replace("900px, b", "800px, b")
    )


def test_a_plan_in_json_may_escape_what_stands_in_it() -> None:
    text = '{"title": "\\ud83d\\ude00 boats", "pages": {"\\\\ud83d": 1, "height": "900px"}}'
    draft = Draft(text, "plan.json", Path("plan.json"))
    after, undone = edited(draft, [Set("pages.height", "800px"), Set("title", "")])
    assert after.text == text.replace("900px", "800px").replace("\\ud83d\\ude00 boats", "")
    assert edited(after, undone)[0].text == text
