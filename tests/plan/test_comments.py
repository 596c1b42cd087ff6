"""What YAML takes away without a word: colours after its comment sign; and ``null``, which says so."""

from __future__ import annotations

import itertools

import pytest

import rising_lantern as rl
from plans import MakePlan, plan_text
from rising_lantern.plan.generated.reference import OBJECTS
from rising_lantern.plan.text.comments import TAKE_COLORS

HEAD = "rising-lantern: 1\nviewports: {laptop: 1000x600}\n"
PAGE = "pages: {page: {sections: {a: {height: 900px}}}}\n"


@pytest.mark.parametrize(
    ("text", "line", "column", "value"),
    [
        (f"colors:\n  ink: #16213e\n{PAGE}", 4, 8, 'ink: "#16213e"'),
        (f"colors: {{paper: '#fff', ink: #16213e}}\n{PAGE}", 3, 30, 'ink: "#16213e"'),
        (
            (
                "pages:\n  page:\n    sections:\n      a:\n        border: 2px solid #16213e\n"
                "        height: 900px\n"
            ),
            7,
            27,
            'border: "2px solid #16213e"',
        ),
        (
            "pages: {page: {sections: {a: {height: 900px, background: #a00, z: 2}}}}\n",
            3,
            58,
            'background: "#a00"',
        ),
        (
            "headers: {main: {shadow: 0 1px 8px #0003, height: 60px,\n  parts: {}}}\n" + PAGE,
            3,
            36,
            'shadow: "0 1px 8px #0003"',
        ),
        (
            (
                "pages: {page: {sections: {a: {height: 900px, content: [\n"
                "  {text: 'color: #fff', size: 20px},\n  {text: x, color: #a00},\n  {text: y}]}}}}\n"
            ),
            5,
            20,
            'color: "#a00"',
        ),
        (
            (
                "pages:\n  page:\n    link-color: #123456  # a deep blue\n"
                "    sections: {a: {height: 900px}}\n"
            ),
            5,
            17,
            'link-color: "#123456"',
        ),
    ],
)
def test_a_colour_that_is_taken_for_a_comment_is_a_fault(
    text: str, line: int, column: int, value: str
) -> None:
    with pytest.raises(rl.PlanError) as caught:
        rl.read_text(HEAD + text)
    (fault,) = caught.value.faults
    assert (fault.place.line, fault.place.column) == (line, column)
    assert fault.remedy == f"put it in quotes: {value}"
    assert "'#'" in fault.problem


@pytest.mark.parametrize(
    "text",
    [
        "pages: {page: {sections: {a: {height: 900px}}}} #fff\n",
        "pages:\n  page:\n    sections:\n      a:\n        height: 900px #add\n",
        "pages:\n  page:\n    sections:\n      a:\n        height: 900px  # color: #abc\n",
        (
            "pages:\n  page:\n    sections:\n      a:\n        background: white  # not #abc\n"
            "        height: 900px\n        content:\n          - text: |\n"
            '              color: #abc\n          - {text: "color: #abc"}\n'
        ),
    ],
)
def test_other_comments_are_comments(text: str) -> None:
    rl.read_text(HEAD + text)


def test_every_key_that_takes_a_colour_is_known() -> None:
    """Found in the models: those whose example has a colour in it, or that are said to be one."""
    taking = set()
    for _, model in OBJECTS:
        for name, info in model.model_fields.items():
            (example,) = info.examples or [""]
            if (
                isinstance(example, str)
                and "#" in example
                and name not in {"selector", "scroll_container"}
            ):
                taking.add(info.alias or name)
    assert taking - {"from"} <= TAKE_COLORS


def test_set_values_have_no_comments(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(header="height: 60px"))
    with pytest.raises(rl.PlanError, match="'64px # x' has a comment in it"):
        plan.edited_text([rl.Set("headers.main.height", "64px # x")])
    with pytest.raises(rl.PlanError, match="has a comment in it"):
        plan.replace({"headers.main.height": "64px # x"})
    border = {"headers.main.border": "2px solid #a03020"}
    assert 'border: "2px solid #a03020"' in plan.edited_text(
        rl.Set(*pair) for pair in border.items()
    )
    box = plan.replace(border).view().scene.box
    assert box.header is not None
    assert box.header.looks[0].border == 2


LOOKS = (
    "position: fixed, height: 60px, background: '#fed', shadow: 0 1px 2px black, border: 1px solid "
    "red, color: red, parts: {{menu: {{text: Menu}}}}, looks: {{a: {{shadow: 0 3px 9px red}}, b: "
    "{{like: a, from: 100px, {}}}}}"
)


@pytest.mark.parametrize(
    ("taken", "said"),
    [
        ("shadow: null", "shadow: none"),
        ("background: ~", "background: transparent"),
        ("border: null, color: null", "border: 0px solid, color: black"),
    ],
)
def test_null_takes_away_what_a_look_has_from_its_header(
    make_plan: MakePlan, taken: str, said: str
) -> None:
    looks = []
    for entry in (taken, said):
        header = make_plan(plan_text(header=LOOKS.format(entry))).view().scene.box.header
        assert header is not None
        looks.append(header.looks[1])
    assert [looks[0].shadow, looks[0].background.alpha, looks[0].border, looks[0].color.rgba] == [
        looks[1].shadow,
        looks[1].background.alpha,
        looks[1].border,
        looks[1].color.rgba,
    ]


def test_null_means_what_leaving_out_means_wherever_it_stands(make_plan: MakePlan) -> None:
    """Every key of a section, a layer and a text, taken over and set for a screen."""
    layer = {"image": "noise.png", "speed": "0.4", "opacity": "0.5", "blend": "multiply"}
    keys = {
        "background": "red",
        "border": "3px solid red",
        "width": "400px",
        "z": "4",
        "tone": "dark",
    }
    text = {"size": "30px", "at": "50% 50%", "shadow": "0 1px 1px red", "color": "red"}

    def flow(entries: dict[str, str]) -> str:
        return ", ".join(f"{key}: {value}" for key, value in entries.items())

    nulls = dict.fromkeys
    pages = (
        f"pages: {{one: {{sections: {{a: {{height: 900px, {flow(keys)}, layers: [{{{flow(layer)}}}], "
        f"content: [{{text: x, {flow(text)}, for: {{phone: {{{flow(nulls(text, 'null'))}}}}}}}]}}}}}}, "
        f"two: {{like: one, sections: {{a: {{{flow(nulls([*keys, 'layers'], 'null'))}}}}}}}, "
        "three: {sections: {a: {height: 900px, content: [{text: x}]}}}}"
    )
    plan = make_plan(f"rising-lantern: 1\nviewports: {{phone: 400x600}}\n{pages}\n")
    two, three = plan.view("two").scene.box, plan.view("three").scene.box
    for one, other in itertools.zip_longest(two.sections, three.sections):
        assert one.layers == other.layers == ()
        assert (one.box, one.border, one.z, one.tone) == (
            other.box,
            other.border,
            other.z,
            other.tone,
        )
        assert [item.box for item in one.content] == [item.box for item in other.content]
        assert [item.color for item in one.content] == [item.color for item in other.content]


def test_a_key_with_nothing_after_it_is_no_null(make_plan: MakePlan) -> None:
    with pytest.raises(rl.PlanError, match="not nothing"):
        make_plan(plan_text(header="height: 60px, color: "))
