"""YAML with places: what is read, and what is refused."""

from __future__ import annotations

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from rising_lantern.errors import PlanError
from rising_lantern.plan.text.conditions import on_screen
from rising_lantern.plan.text.nodes import Node, parse, walk

scalars = st.one_of(
    st.none(),
    st.booleans(),
    st.integers(-(10**12), 10**12),
    st.floats(allow_nan=False, allow_infinity=False),
    st.text(st.characters(codec="utf-8", exclude_categories=["Cc", "Cs"]), max_size=20),
)
names = st.from_regex(r"[a-z][a-z0-9-]{0,8}", fullmatch=True)
documents = st.recursive(
    scalars,
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(names, inner, max_size=4),
    max_leaves=20,
)


@given(st.dictionaries(names, documents, min_size=1, max_size=4), st.booleans())
def test_json_is_read_as_it_is(data: dict[str, Any], indented: bool) -> None:
    """Every JSON text is YAML 1.2: against the standard library's own reader."""
    text = json.dumps(data, indent=2 if indented else None)
    assert parse(text, "plan.json").plain() == json.loads(text)


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("yes", "yes"),
        ("no", "no"),
        ("on", "on"),
        ("~", None),
        ("", None),
        ("null", None),
        ("true", True),
        ("FALSE", False),
        ("012", 12),
        ("1_000", "1_000"),
        ("12:30:45", "12:30:45"),
        ("2026-09-12", "2026-09-12"),
        (".5", 0.5),
        ("1e3", 1000.0),
        ("'12'", "12"),
        ('"true"', "true"),
        ("0.4.1", "0.4.1"),
        ("9" * 60, "9" * 60),
    ],
)
def test_scalars_follow_the_core_schema(text: str, value: object) -> None:
    """YAML 1.2.2, 10.3: no yes and no, no sexagesimals, no dates."""
    assert parse(f"key: {text}", "plan").plain() == {"key": value}


def test_places_point_at_keys_and_values() -> None:
    root = parse("one: 1\ntwo:\n  - {three: 'x'}\n  - y\n", "plan")
    assert isinstance(root.value, dict)
    three = root.find(("two", 0, "three"))
    assert (three.mark.line, three.mark.column, three.mark.quoted) == (3, 13, True)
    assert three.key_mark is not None
    assert (three.key_mark.line, three.key_mark.column) == (3, 6)
    assert root.find(("two", 1)).mark.line == 4
    assert root.find(("two", 7)) is root.value["two"]


@pytest.mark.parametrize(
    ("text", "place", "problem"),
    [
        ("", "plan:1:1", "the plan is empty"),
        ("# nothing\n", "plan:1:1", "the plan is empty"),
        ("a: 1\n\tb: 2", "plan:2:1", "cannot be read as YAML"),
        ("a: [1, 2", "plan:2:1", "cannot be read as YAML"),
        ("a: 'x", "plan:1:6", "cannot be read as YAML"),
        ("a: 1\na: 2", "plan:2:1", "the key 'a' is used twice"),
        ("a: !!python/object:os.system x", "plan:1:4", "the tag"),
        ("a: !mine {}", "plan:1:4", "the tag '!mine' is not allowed"),
        ("--- {a: 1}\n--- {b: 2}", "plan:2:1", "a second document starts here"),
        ("a: *b", "plan:1:4", "*b is not defined yet"),
        ("? [1, 2]\n: x", "plan:1:3", "this cannot be a key"),
        ("true: 1", "plan:1:1", "this cannot be a key"),
        ("a: \x07", "plan:1:1", "a character here is not text"),
        ("[" * 5000, "plan:1:41", "nested more than 40 deep"),
        ("a: [" + "{x: [" * 3000, "plan:1:100", "nested more than 40 deep"),
        ("- " * 3000 + "x", "plan:1:81", "nested more than 40 deep"),
    ],
)
def test_what_is_no_plan_is_refused(text: str, place: str, problem: str) -> None:
    with pytest.raises(PlanError) as caught:
        parse(text, "plan")
    result = str(caught.value.faults[0])
    assert result.startswith(f"{place}: ")
    assert problem in result
    assert "{" not in result


def test_all_doubled_keys_are_reported_at_once() -> None:
    with pytest.raises(PlanError) as caught:
        parse("a: 1\na: 2\nb: {c: 1, c: 2}\n", "plan")
    assert [fault.place.line for fault in caught.value.faults] == [2, 3]
    assert "the first is on line 1" in caught.value.faults[0].remedy


def test_an_alias_is_read_and_a_bomb_of_them_is_refused_quickly() -> None:
    assert parse("a: &x [1]\nb: *x", "plan").plain() == {"a": [1], "b": [1]}
    lines = ["a0: &a0 [x]"]
    lines += [f"a{i}: &a{i} [{', '.join([f'*a{i - 1}'] * 10)}]" for i in range(1, 12)]
    with pytest.raises(PlanError, match="expands to more than"):
        parse("\n".join(lines), "plan")


def test_an_alias_of_itself_is_refused() -> None:
    with pytest.raises(PlanError, match="is not defined yet"):
        parse("a: &x [*x]", "plan")


def _merged(data: Any, viewport: str) -> Any:
    """What ``for:`` means, written down a second time and on plain data."""
    if isinstance(data, list):
        return [_merged(item, viewport) for item in data]
    if not isinstance(data, dict):
        return data

    def over(below: dict[str, Any], above: dict[str, Any]) -> dict[str, Any]:
        result = dict(below)
        for key, value in above.items():
            old = result.get(key)
            both = isinstance(old, dict) and isinstance(value, dict)
            result[key] = over(old, value) if both else value  # type: ignore[arg-type]
        return result

    own = {key: value for key, value in data.items() if key != "for"}
    differing = data.get("for", {}).get(viewport, {})
    return {key: _merged(value, viewport) for key, value in over(own, differing).items()}


conditions = st.fixed_dictionaries(
    {},
    optional={
        "phone": st.dictionaries(names, documents, max_size=3),
        "laptop": st.dictionaries(names, documents, max_size=3),
    },
)


@given(st.dictionaries(names, documents, min_size=1, max_size=4), conditions, names)
def test_for_lays_its_values_over_the_object(
    data: dict[str, Any], condition: dict[str, Any], place: str
) -> None:
    data.pop("for", None)
    plan = {**data, place: {**data, "for": condition}, "for": condition}
    root = parse(json.dumps(plan), "plan")
    for viewport in ("phone", "laptop", "tablet"):
        assert on_screen(root, viewport).plain() == _merged(plan, viewport)


def test_a_plan_without_for_is_not_copied() -> None:
    root = parse("a: {b: [1, {c: 2}]}", "plan")
    assert on_screen(root, "phone") is root
    assert sum(1 for _ in walk(root)) == 6
    assert isinstance(root, Node)
