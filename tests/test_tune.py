"""Tuning: each change mends, one step less does not, and what is written keeps its layout."""

from __future__ import annotations

import shutil
from collections.abc import Sequence
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import rising_lantern as rl
from conftest import MakePlan
from plans import plan_text
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.lengths import Basis
from rising_lantern.css.oklab import distance, oklab
from rising_lantern.plan.thresholds import parse_threshold
from rising_lantern.tuning.knobs import shifted
from rising_lantern.tuning.nearest import luminance_of, nearest
from rising_lantern.solving import least
from test_cli import run


@given(st.integers(-50, 50), st.integers(1, 3000), st.integers(-60, 4000))
def test_the_least_step_is_the_first_that_passes(low: int, count: int, first: int) -> None:
    high = low + count
    found = least(lambda step: step >= first, low, high)
    assert found == (max(first, low + 1) if first <= high else None)


@pytest.mark.parametrize(
    ("color", "lab"),
    [
        ("white", (1, 0, 0)),
        ("black", (0, 0, 0)),
        ("red", (0.62796, 0.22486, 0.12585)),
        ("lime", (0.86644, -0.23389, 0.17950)),
        ("blue", (0.45201, -0.03246, -0.31153)),
    ],
)
def test_oklab_is_that_of_the_standard(color: str, lab: tuple[float, float, float]) -> None:
    assert oklab(parse_color(color)) == pytest.approx(lab, abs=2e-4)
    light, a, b = oklab(parse_color("#4a7c9b"))
    assert parse_color(f"oklab({light} {a} {b})").hex() == "#4a7c9bff"


@settings(max_examples=12)
@given(st.integers(0, 0xFFFFFF), st.floats(0, 1))
def test_no_other_colour_of_that_luminance_is_nearer(value: int, share: float) -> None:
    """Against a search through a thousand colours around the one that is found."""
    color = parse_color(f"#{value:06x}")
    wanted = luminance_of(color) * (1 - share) + share
    found = nearest(color, wanted, lighter=True)
    assert luminance_of(found) >= wanted - 1e-9
    rng = np.random.default_rng(value)
    for change in rng.integers(-12, 13, (1000, 3)):
        red, green, blue = np.clip(np.array(found.bytes[:3]) + change, 0, 255) / 255
        other = Color(red, green, blue)
        if luminance_of(other) >= wanted:
            assert distance(color, other) > distance(color, found) - 0.004


@given(st.integers(-900, 900), st.integers(-900, 900).filter(bool))
def test_a_threshold_moves_by_what_is_asked(offset: int, by: int) -> None:
    texts = [
        f"{offset}px",
        "25vh",
        f"past hero {'-' if offset < 0 else '+'} {abs(offset)}px",
        "reach hero - 5%",
    ]
    for text in texts:
        before, after = parse_threshold(text), parse_threshold(shifted(parse_threshold(text), by))
        assert (after.edge, after.section) == (before.edge, before.section)
        basis = Basis(1000, 600, whole=2000)
        assert after.px(1000, basis) - before.px(1000, basis) == pytest.approx(by)


# Plans with one fault each, and how many ways there are to mend it.
_MENU = "parts: {menu: {text: [Programme, Visit]}}"
_LOOKS = "a: {height: 500px, background: '#123'}, b: {height: 900px, background: '#fed'}, c: {height: 800px, background: '#fed'}"
PLANTED: list[tuple[str, str, str, int]] = [
    (
        "unreadable-part",
        f"height: 70px, background: rgb(0 0 0 / .1), color: '#dde4ee', {_MENU}",
        "a: {height: 500px, layers: [{image: photo.png}]}, b: {height: 800px}",
        1,
    ),
    (
        "unreadable-part",
        f"height: 70px, background: '#fed', color: '#986', {_MENU}",
        "a: {height: 900px}",
        1,
    ),
    (
        "unreadable-part",
        f"height: 70px, background: 'linear-gradient(#1238, #1236)', color: white, {_MENU}",
        "a: {height: 900px, background: '#fed'}",
        1,
    ),
    (
        "unreadable-content",
        "",
        "a: {height: 900px, layers: [{fill: rgb(0 0 0 / .1)}, {image: noise.png, speed: 0.4}], content: [{text: The river, color: '#fed', size: 30px}]}",
        2,
    ),
    (
        "unreadable-content",
        "",
        "a: {height: 900px, background: '#fed', content: [{text: The river, color: '#987', panel: {color: '#fff2'}}]}",
        1,
    ),
    (
        "late-switch",
        f"height: 60px, color: white, {_MENU}, looks: {{a: {{}}, b: {{from: past a + 130px, color: '#123'}}}}",
        _LOOKS,
        1,
    ),
    (
        "early-switch",
        f"height: 60px, color: white, {_MENU}, looks: {{a: {{}}, b: {{from: 301px, color: '#123'}}}}",
        _LOOKS,
        1,
    ),
    ("never-reached", "height: 60px, looks: {a: {}, b: {from: 400vh}}", _LOOKS, 1),
    (
        "flicker",
        "position: sticky, height: 90px, looks: {a: {}, b: {from: 300px, height: 50px}}",
        _LOOKS,
        2,
    ),
    (
        "flicker",
        "position: sticky, height: 90.5px, looks: {a: {}, b: {from: 300px, back: 290px, height: 50px}}",
        _LOOKS,
        2,
    ),
    (
        "jump",
        "position: sticky, height: 90px, looks: {a: {}, b: {from: 300px, back: 100px, height: 50px}}",
        _LOOKS,
        1,
    ),
    (
        "soft-picture",
        "",
        "a: {height: 240px, layers: [{image: photo.png, speed: 0.2}]}, b: {height: 900px}",
        1,
    ),
    (
        "gap",
        "",
        "a: {height: 400px, layers: [{image: noise.png, size: 100% 380px, speed: 0.5}]}, b: {height: 900px}",
        1,
    ),
    (
        "slow-change",
        f"height: 60px, color: white, {_MENU}, change: fade 1800ms ease-in, looks: {{a: {{}}, b: {{from: past a, color: '#123'}}}}",
        _LOOKS,
        1,
    ),
    (
        "part-left-behind",
        "height: 60px, parts: {menu: {text: Visit, color: white}}, looks: {a: {background: '#123'}, b: {from: past a, background: '#fed'}}",
        _LOOKS,
        1,
    ),
    (
        "behind-something",
        "height: 60px, z: 3",
        "a: {height: 700px}, b: {height: 900px, z: 41, background: '#fed'}",
        1,
    ),
]


@pytest.mark.parametrize(("rule", "header", "sections", "ways"), PLANTED)
def test_a_change_mends_and_one_step_less_does_not(
    make_plan: MakePlan, rule: str, header: str, sections: str, ways: int
) -> None:
    plan = make_plan(plan_text(header=header, sections=sections, viewports="laptop: 590x600"))
    tuned = list(rl.tune(plan, only=(rule,)))
    assert len(tuned) == 1
    mends = tuned[0].mends
    assert len(mends) >= ways
    for mend in mends:
        better = plan.with_({mend.key: mend.value})
        assert rl.check(better, only=(rule,)) == []
        assert list(rl.tune(better, only=(rule,))) == []
        if mend.short:
            nearly = plan.with_({mend.key: mend.value.replace(mend.after, mend.short)})
            assert rl.check(nearly, only=(rule,))


@settings(max_examples=6)
@given(st.integers(0x888888, 0xFFFFFF), st.floats(0, 0.3), st.floats(0.2, 0.9))
def test_planted_texts_are_mended_whatever_their_colours(
    tmp_path_factory: pytest.TempPathFactory, ink: int, alpha: float, speed: float
) -> None:
    from conftest import paint_pictures  # noqa: PLC0415

    folder = tmp_path_factory.mktemp("planted")
    paint_pictures(folder)
    sections = (
        f"a: {{height: 700px, layers: [{{fill: rgb(20 30 40 / {alpha:.2f})}}, {{image: noise.png, speed: {speed:.2f}}}], "
        f"content: [{{text: Lanterns afloat, color: '#{ink:06x}'}}]}}, b: {{height: 300px}}"
    )
    (folder / "plan.yaml").write_text(plan_text(sections=sections), "utf-8")
    plan = rl.read(folder / "plan.yaml")
    for one in rl.tune(plan, only=("unreadable-content",)):
        assert one.mends
        for mend in one.mends:
            better = plan.with_({mend.key: mend.value})
            assert rl.check(better, only=("unreadable-content",)) == []


def test_one_value_mends_all_screens_and_pages_that_share_it(make_plan: MakePlan) -> None:
    header = f"height: 60px, color: white, {_MENU}, looks: {{a: {{}}, b: {{from: 900px, color: '#123'}}}}"
    text = plan_text(header=header, sections=_LOOKS, viewports="laptop: 1000x600, phone: 390x844")
    (late,) = rl.tune(make_plan(text), only=("late-switch",))
    assert {one.viewport for one in late.findings} == {"phone", "laptop"}
    (mend,) = late.mends
    assert rl.check(make_plan(text).with_({mend.key: mend.value}), only=("late-switch",)) == []


def test_the_nearer_of_a_lighter_and_a_darker_colour_is_given(make_plan: MakePlan) -> None:
    """Nearer to the eye: white is less far from this grey than black, which is less far in light."""
    sections = "a: {height: 900px, background: '#757575', content: [{text: Afloat, color: '#777'}]}"
    (one,) = rl.tune(make_plan(plan_text(sections=sections)), only=("unreadable-content",))
    (color,) = [mend.after for mend in one.mends if mend.what == "colour of the text"]
    grey = parse_color("#777")
    assert luminance_of(parse_color(color)) > luminance_of(grey)
    darkest = nearest(grey, 0.0006, lighter=False)
    assert distance(grey, parse_color(color)) < distance(grey, darkest)


def test_screens_get_values_of_their_own_where_none_serves_all(
    make_plan: MakePlan, folder: Path
) -> None:
    header = f"height: 60px, color: white, {_MENU}, looks: {{a: {{}}, b: {{from: 120vh, color: '#123'}}}}"
    text = plan_text(header=header, sections=_LOOKS, viewports="laptop: 1000x600, phone: 390x844")
    plan = make_plan(text)
    rule = ("late-switch",)
    tuned = list(rl.tune(plan, only=rule))
    assert sorted(str(one.apart) for one in tuned) == ["laptop", "phone"]
    for one in tuned:
        (mend,) = one.mends
        assert {found.viewport for found in one.findings} == {one.apart}
        better = plan.with_({mend.key: mend.value})
        assert rl.check(better, viewports=(str(one.apart),), only=rule) == []
        assert len(rl.check(better, only=rule)) == 1
    told = run("tune", folder / "plan.yaml", "--only", "late-switch", "--write")
    assert told.returncode == 0, told.stderr
    assert rl.check(rl.read(folder / "plan.yaml"), only=("late-switch", "early-switch")) == []


def test_written_changes_keep_comments_and_come_with_their_diff(folder: Path) -> None:
    plan = folder / "plan.yaml"
    shutil.copy(folder / "photo.png", folder / "hero.png")
    plan.write_text(
        "rising-lantern: 1  # ours\nviewports: {laptop: 1000x600}\nheaders:\n  main:\n"
        "    position: sticky   # it sticks\n    height: 90px\n    looks:\n      tall: {}\n"
        "      slim: {from: 300px, height: 50px}  # the slim one\n"
        "pages:\n  page:\n    sections:\n      a:\n        height: 2000px\n"
        "        content:\n          - {text: Afloat, color: '#777'}   # grey\n"
        "        background: '#ddd'\n",
        "utf-8",
    )
    before = plan.read_text("utf-8")
    shown = run("tune", plan)
    assert shown.returncode == 0
    assert "position of 'back': not set → 260px" in shown.stdout
    assert "261px is not enough" in shown.stdout
    assert plan.read_text("utf-8") == before
    told = run("tune", plan, "--write", "--except", "jump")
    assert told.returncode == 0, told.stderr
    after = plan.read_text("utf-8")
    assert [line for line in told.stdout.splitlines() if line.startswith("+      slim")]
    for comment in ("# ours", "# it sticks", "# the slim one", "# grey"):
        assert comment in after
    assert rl.check(rl.read(plan), without=("jump", "no-header", "covers-start")) == []
    again = run("tune", plan, "--write", "--except", "jump")
    assert "nothing to write" in again.stdout
    assert plan.read_text("utf-8") == after


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["--take", "1"], "add --write"),
        (["--write", "--take", "99"], "there is no change 99"),
        (["--write", "--set", "headers.main.height=70px"], "leave out --set"),
        (["--only", "flickr"], "there is no rule 'flickr'"),
    ],
)
def test_what_cannot_be_tuned_is_told(folder: Path, words: Sequence[str], message: str) -> None:
    plan = folder / "plan.yaml"
    plan.write_text(plan_text(header="height: 60px"), "utf-8")
    told = run("tune", plan, *words)
    assert told.returncode == 2
    assert message in told.stderr
