"""Tuning: each change clears its findings, one step less does not, and nothing new is found."""

from __future__ import annotations

import json
import shutil
from collections.abc import Sequence
from pathlib import Path

import numpy as np
import pytest
from hypothesis import example, given, settings
from hypothesis import strategies as st
from PIL import Image

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text
from rising_lantern.base.solving import least
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.contrast import luminance_of
from rising_lantern.css.lengths import Basis
from rising_lantern.css.oklab import distance, hue_between, oklab
from rising_lantern.plan.models.thresholds import parse_threshold, shifted
from rising_lantern.tuning.nearest import nearest
from rising_lantern.tuning.trials import identity
from thorough import examples, some


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


def is_shade(color: Color, of: Color) -> bool:
    """Whether a colour has the hue of another, to 3 degrees, or is as neutral."""
    lab, own = oklab(color), oklab(of)
    if np.hypot(*own[1:]) < 0.02:
        return len(set(color.bytes[:3])) == 1
    return bool(hue_between(lab, own) < 3)


@given(st.integers(0, 0xFFFFFF), st.floats(0, 1), st.booleans())
def test_a_shade_keeps_its_hue(value: int, share: float, lighter: bool) -> None:
    """A colour without one stays neutral: white does not become mauve."""
    color = parse_color(f"#{value:06x}")
    own = luminance_of(color)
    wanted = own * (1 - share) + share if lighter else own * share
    lab, found = oklab(color), nearest(color, wanted, lighter=lighter)
    if np.hypot(*lab[1:]) < 0.02:
        assert len(set(found.bytes[:3])) == 1
    elif found.bytes[:3] not in {(0, 0, 0), (255, 255, 255)}:
        assert hue_between(oklab(found), lab) < 10


@settings(max_examples=examples(12))
@example(149, 0.9375)  # nearly white
@given(st.integers(0, 0xFFFFFF), st.floats(0, 1))
def test_no_other_shade_of_that_luminance_is_nearer(value: int, share: float) -> None:
    """Against a search through a thousand colours around the one that is found."""
    color = parse_color(f"#{value:06x}")
    wanted = luminance_of(color) * (1 - share) + share
    found = nearest(color, wanted, lighter=True)
    assert luminance_of(found) >= wanted - 1e-9
    rng = np.random.default_rng(value)
    for change in rng.integers(-12, 13, (1000, 3)):
        red, green, blue = np.clip(np.array(found.bytes[:3]) + change, 0, 255) / 255
        other = Color(red, green, blue)
        if luminance_of(other) >= wanted and is_shade(other, color):
            assert distance(color, other) > distance(color, found) - 0.01


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


# Plans with one fault each, and how many ways there are to fix it.
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


@pytest.mark.parametrize(("rule", "header", "sections", "ways"), some(PLANTED, 6))
def test_a_change_clears_and_one_step_less_does_not(
    make_plan: MakePlan, rule: str, header: str, sections: str, ways: int
) -> None:
    plan = make_plan(plan_text(header=header, sections=sections, viewports="laptop: 590x600"))
    tuned = list(rl.tune(plan, only=(rule,)))
    assert len(tuned) == 1
    fixes = tuned[0].fixes
    assert len(fixes) >= ways
    for fix in fixes:
        better = plan.replace({fix.key: fix.value})
        assert rl.check(better, only=(rule,)) == []
        assert list(rl.tune(better, only=(rule,))) == []
        if fix.short:
            nearly = plan.replace({fix.key: fix.value.replace(fix.after, fix.short)})
            assert rl.check(nearly, only=(rule,))


@settings(max_examples=examples(6))
@given(st.integers(0x888888, 0xFFFFFF), st.floats(0, 0.3), st.floats(0.2, 0.9))
def test_planted_texts_are_fixed_whatever_their_colours(
    tmp_path_factory: pytest.TempPathFactory, ink: int, alpha: float, speed: float
) -> None:
    from pictures import paint_pictures  # noqa: PLC0415

    folder = tmp_path_factory.mktemp("planted")
    paint_pictures(folder)
    sections = (
        f"a: {{height: 700px, layers: [{{fill: rgb(20 30 40 / {alpha:.2f})}}, {{image: noise.png, speed: {speed:.2f}}}], "
        f"content: [{{text: Lanterns afloat, color: '#{ink:06x}'}}]}}, b: {{height: 300px}}"
    )
    (folder / "plan.yaml").write_text(plan_text(sections=sections), "utf-8")
    plan = rl.read(folder / "plan.yaml")
    for item in rl.tune(plan, only=("unreadable-content",)):
        assert item.fixes
        for fix in item.fixes:
            better = plan.replace({fix.key: fix.value})
            assert rl.check(better, only=("unreadable-content",)) == []


def test_one_value_serves_all_screens_and_pages_that_share_it(make_plan: MakePlan) -> None:
    header = f"height: 60px, color: white, {_MENU}, looks: {{a: {{}}, b: {{from: 900px, color: '#123'}}}}"
    text = plan_text(header=header, sections=_LOOKS, viewports="laptop: 1000x600, phone: 390x844")
    (late,) = rl.tune(make_plan(text), only=("late-switch",))
    assert {finding.viewport for finding in late.findings} == {"phone", "laptop"}
    (fix,) = late.fixes
    assert rl.check(make_plan(text).replace({fix.key: fix.value}), only=("late-switch",)) == []


def test_the_nearer_of_a_lighter_and_a_darker_colour_is_given(make_plan: MakePlan) -> None:
    """Nearer to the eye: white is less far from this grey than black, which is less far in light."""
    sections = "a: {height: 900px, background: '#757575', content: [{text: Afloat, color: '#777'}]}"
    (one,) = rl.tune(make_plan(plan_text(sections=sections)), only=("unreadable-content",))
    (color,) = [fix.after for fix in one.fixes if fix.what == "colour of the text"]
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
    assert sorted(str(item.viewport) for item in tuned) == ["laptop", "phone"]
    for item in tuned:
        (fix,) = item.fixes
        assert {found.viewport for found in item.findings} == {item.viewport}
        better = plan.replace({fix.key: fix.value})
        assert rl.check(better, viewports=(str(item.viewport),), only=rule) == []
        assert len(rl.check(better, only=rule)) == 1
    result = run("tune", folder / "plan.yaml", "--only", "late-switch", "--write")
    assert result.returncode == 0, result.stderr
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
    assert "hold-space: not set → true" in shown.stdout
    assert "is not enough" in shown.stdout
    assert plan.read_text("utf-8") == before
    result = run("tune", plan, "--write", "--skip", "jump")
    assert result.returncode == 0, result.stderr
    after = plan.read_text("utf-8")
    assert [line for line in result.stdout.splitlines() if line.startswith("+      slim")]
    for comment in ("# ours", "# it sticks", "# the slim one", "# grey"):
        assert comment in after
    assert rl.check(rl.read(plan), skip=("jump", "no-header", "covers-start")) == []
    again = run("tune", plan, "--write", "--skip", "jump")
    assert "nothing to change" in again.stdout
    assert plan.read_text("utf-8") == after


def test_two_slides_with_one_finding_are_one_finding(make_plan: MakePlan, folder: Path) -> None:
    for name, color in (("pale.png", "#eee"), ("paler.png", "#fff"), ("dark.png", "#111")):
        Image.new("RGB", (60, 40), color).save(folder / name)
    header = f"position: fixed, height: 60px, color: white, {_MENU}"
    sections = (
        "a: {height: 900px, layers: [{slides: [pale.png, paler.png, dark.png], every: 5s}], "
        "content: [{text: The river, color: white, at: 50% 60%}]}, b: {height: 900px, background: black}"
    )
    plan = make_plan(plan_text(header=header, sections=sections, before="pause: false"))
    found = [item for item in rl.check(plan) if item.level == "error"]
    assert len(found) == len(identities(found)) >= 2
    assert all("while paler.png shows" in item.message for item in found)
    for proposal in rl.tune(plan, only=("unreadable-part", "unreadable-content")):
        better = plan.replace({proposal.fixes[0].key: proposal.fixes[0].value})
        assert not identities(proposal.findings) & identities(rl.check(better))


SHARED = """\
page: {background: {color: "#fdf6e3"}, color: soft, sections: {a: {height: auto, padding: 40px, content:
[{text: One}, {text: Two}, {box: {content: [{text: Three}, {text: Four}]}}]}}}"""


@pytest.mark.parametrize(
    ("pages", "header", "key", "before"),
    [
        (SHARED, "height: 60px", "colors.soft", "#c9a27a"),
        (
            SHARED.replace("color: soft", "color: '#c9a27a'"),
            "height: 60px",
            "pages.page.color",
            "#c9a27a",
        ),
        (
            SHARED.replace("color: soft", "color: black").replace(
                "box: {", "box: {color: '#c9a27a', "
            ),
            "height: 60px",
            "pages.page.sections.a.content.2.box.color",
            "#c9a27a",
        ),
        (
            SHARED.replace("color: soft", "link-color: '#c9a27a'").replace(
                "text: Two", "text: Two, links: {Two: /x}"
            ),
            "height: 60px",
            "pages.page.link-color",
            "#c9a27a",
        ),
        (
            SHARED.replace("color: soft, ", ""),
            f"position: fixed, height: 60px, background: '#fdf6e3', color: '#c9a27a', {_MENU}, looks: {{a: {{}}, b: {{from: 30px, shadow: 0 1px 3px black}}}}",
            "headers.main.color",
            "#c9a27a",
        ),
    ],
)
def test_a_value_that_is_shared_is_changed_where_it_stands(
    make_plan: MakePlan, pages: str, header: str, key: str, before: str
) -> None:
    text = plan_text(header=header, before="colors: {soft: '#c9a27a'}")
    plan = make_plan(text[: text.index("pages:")] + f"pages:\n  {pages}\n")
    proposals = rl.tune(plan, only=("unreadable-content", "unreadable-part", "unreadable-link"))
    assert len(proposals) == 1
    fixes = {fix.key: fix for fix in proposals[0].fixes}
    assert fixes[key].before == before
    assert {identity(item) for item in fixes[key].clears} >= {
        identity(item) for item in proposals[0].findings
    }


COLUMN = (
    "a: {height: auto, padding: 40px, content: [{text: One, color: '#999'}, "
    "{text: Two, color: '#a98'}, {text: Three, color: '#89a'}, {text: Four, color: '#9a9'}]}"
)


@pytest.mark.parametrize(
    ("sections", "key"),
    [
        (COLUMN.replace("content:", "background: '#777', content:"), "background"),
        (COLUMN.replace("content:", "background: mist, content:"), "colors.mist"),
        (COLUMN.replace("content:", "layers: [{image: noise.png}], content:"), "layers.new"),
    ],
)
def test_one_ground_clears_a_column_of_texts_of_several_colours(
    make_plan: MakePlan, folder: Path, sections: str, key: str
) -> None:
    plan = make_plan(plan_text(sections=sections, before="colors: {mist: '#777'}"))
    proposals = rl.tune(plan, only="unreadable-content")
    assert len(proposals) == 1
    assert len(proposals[0].findings) >= 4
    assert proposals[0].fixes[0].key.endswith(key)
    path = folder / "plan.yaml"
    assert run("tune", path, "--write", "--quiet", "--only", "unreadable-content").returncode == 0
    assert rl.check(rl.read(path), only="unreadable-content") == []


def test_no_value_is_changed_twice_where_another_change_does(make_plan: MakePlan) -> None:
    """A light text and a dark one of one header cannot share a ground that gets more opaque."""
    parts = "parts: {menu: {text: [Programme, Visit]}, go: {text: Go, side: end, color: '#333'}}"
    header = f"position: fixed, height: 60px, color: '#eee', {parts}"
    plan = make_plan(plan_text(header=header, sections="a: {height: 900px, background: '#888'}"))
    proposals = [item for item in rl.tune(plan, only="unreadable-part") if item.fixes]
    paths = [item.fixes[0].path for item in proposals]
    assert proposals
    assert len(paths) == len(set(paths))


def test_a_look_that_nobody_wrote_is_not_made_up(make_plan: MakePlan) -> None:
    header = f"position: fixed, height: 60px, color: white, {_MENU}"
    plan = make_plan(plan_text(header=header, sections="a: {height: 900px, background: '#fed'}"))
    for proposal in rl.tune(plan, only="unreadable-part"):
        assert {fix.key for fix in proposal.fixes} == {
            "headers.main.background",
            "headers.main.color",
        }


def test_a_tint_in_either_notation_and_a_new_one_are_offered(
    make_plan: MakePlan, folder: Path
) -> None:
    content = "content: [{box: {content: [{text: The river, color: white}, {text: is lit, color: white}]}, at: 50% 50%}]"
    layers = (
        "layers: [{fill: '#000', opacity: .1, blend: multiply}, {image: noise.png, speed: 0.4}]"
    )
    plan = make_plan(plan_text(sections=f"a: {{height: 900px, {layers}, {content}}}"))
    keys = {fix.key: fix for item in rl.tune(plan, only="unreadable-content") for fix in item.fixes}
    inner = "pages.page.sections.a."
    assert float(keys[f"{inner}layers.0.opacity"].after) > 0.1
    assert keys[f"{inner}content.0.box.background"].after.startswith("rgb(0 0 0 / ")
    new = keys[f"{inner}layers.new"]
    assert new.after.startswith('{fill: "rgb(0 0 0 / ')
    path = folder / "plan.yaml"
    changed = rl.read(path).edited_text([rl.Set(new.key, new.value)])
    assert f"layers: [{new.after}, {{fill: '#000'" in changed
    path.write_text(changed, "utf-8")
    assert rl.check(rl.read(path), only="unreadable-content") == []


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["--take", "1"], "--take needs --write"),
        (["--write", "--take", "99"], "there is no change 99"),
        (["--write", "--set", "headers.main.height=70px"], "cannot be combined with --set"),
        (["--only", "flickr"], "there is no rule 'flickr'"),
    ],
)
def test_what_cannot_be_tuned_is_reported(folder: Path, words: Sequence[str], message: str) -> None:
    plan = folder / "plan.yaml"
    plan.write_text(plan_text(header="height: 60px"), "utf-8")
    result = run("tune", plan, *words)
    assert result.returncode == 2
    assert message in result.stderr


def identities(findings: Sequence[rl.Finding]) -> set[tuple[str, str, str, str]]:
    """What makes findings the same before and after a change."""
    return {
        (finding.rule, finding.page, finding.viewport, str(finding.subject)) for finding in findings
    }


def test_a_change_is_offered_only_where_no_rule_finds_anything_new(make_plan: MakePlan) -> None:
    """White letters left behind on white get no other white, and no look starts beyond the end."""
    header = (
        "height: 60px, color: white, parts: {go: {text: Go, color: white}}, "
        "looks: {a: {background: '#102030'}, b: {from: past a, background: white, color: black}}"
    )
    sections = "a: {height: 600px, background: '#102030'}, b: {height: 1500px, background: white}"
    plan = make_plan(plan_text(header=header, sections=sections, before="colors: {ink: '#16213e'}"))
    before = identities(rl.check(plan))
    proposals = rl.tune(plan)
    assert proposals[0].fixes[0].after == "ink"
    for proposal in proposals:
        for fix in proposal.fixes:
            after = identities(rl.check(plan.replace({fix.key: fix.value})))
            assert after <= before
            assert identities(fix.clears) == before - after


def test_one_change_that_clears_several_findings_comes_first(make_plan: MakePlan) -> None:
    header = f"height: 60px, color: white, {_MENU}, looks: {{a: {{}}, b: {{from: 900px, background: '#fed', color: '#123'}}}}"
    plan = make_plan(plan_text(header=header, sections=_LOOKS))
    rules = {item.rule for item in rl.check(plan) if item.level == "error"}
    assert rules >= {"late-switch", "unreadable-part"}
    first = rl.tune(plan)[0]
    assert first.fixes[0].key == "headers.main.looks.b.from"
    assert {finding.rule for finding in first.findings} >= rules
    better = rl.check(plan.replace({first.fixes[0].key: first.fixes[0].value}))
    assert not {item.rule for item in better if item.level == "error"}


def test_a_designer_s_own_means_are_tried_first(make_plan: MakePlan, folder: Path) -> None:
    """Another picture of the same shape for an icon, and the first section below a clear header."""
    header = "height: 60px, background: white, parts: {icon: {image: logo-light.png, width: 60px}}"
    (proposal,) = rl.tune(make_plan(plan_text(header=header)), only="unreadable-part")
    assert proposal.fixes[0].after == "logo-dark.png"
    shutil.copy(folder / "logo-dark.png", folder / "wide.png")
    header = f"position: sticky, height: 60px, color: white, {_MENU}"
    sections = "a: {height: 600px, layers: [{image: logo-dark.png}], background: '#102030'}, b: {height: 900px, background: '#102030'}"
    plan = make_plan(plan_text(header=header, sections=sections))
    (finding,) = rl.check(plan, only="unreadable-part")
    assert "over: true" in finding.remedy.words
    (proposal,) = rl.tune(plan, only="unreadable-part")
    assert (proposal.fixes[0].key, proposal.fixes[0].after) == ("headers.main.over", "true")


def test_the_number_of_check_is_that_of_tune(make_plan: MakePlan) -> None:
    header = f"height: 60px, color: white, {_MENU}, change: fade 1800ms ease-in, looks: {{a: {{}}, b: {{from: past a, color: '#123'}}}}"
    plan = make_plan(plan_text(header=header, sections=_LOOKS))
    (finding,) = rl.check(plan, only="slow-change")
    (proposal,) = rl.tune(plan, only="slow-change")
    time = finding.remedy.words.split()[-1]
    assert time in proposal.fixes[0].after


@settings(max_examples=examples(3))
@given(st.integers(0, 10_000))
def test_what_tune_writes_clears_what_it_says_and_makes_nothing_new(
    tmp_path_factory: pytest.TempPathFactory, seed: int
) -> None:
    """Random faulty plans, judged by ``check`` alone."""
    from pictures import paint_pictures  # noqa: PLC0415

    folder = tmp_path_factory.mktemp("faulty")
    paint_pictures(folder)
    rng = np.random.default_rng(seed)
    ink, ground = (f"#{value:06x}" for value in rng.integers(0, 0xFFFFFF, 2))
    position = rng.choice(["fixed", "sticky"])
    header = (
        f"position: {position}, height: 80px, color: '{ink}', {_MENU}, looks: {{a: {{}}, "
        f"b: {{from: {rng.integers(50, 1500)}px, height: {rng.integers(40, 80)}px, background: '{ground}'}}}}"
    )
    sections = (
        f"a: {{height: {rng.integers(200, 700)}px, layers: [{{image: photo.png, speed: 0.5}}]}}, "
        f"b: {{height: 900px, background: '{ground}', content: [{{text: Afloat, color: '{ink}'}}]}}"
    )
    path = folder / "plan.yaml"
    path.write_text(plan_text(header=header, sections=sections), "utf-8")
    before = identities(rl.check(rl.read(path)))
    proposals = rl.tune(rl.read(path))
    result = run("tune", path, "--write", "--quiet")
    assert result.returncode == 0, result.stderr
    after = identities(rl.check(rl.read(path)))
    assert after <= before
    cleared = identities(
        [finding for proposal in proposals if proposal.fixes for finding in proposal.findings]
    )
    assert not {item for item in cleared & after if item[0] in {"unreadable-content", "flicker"}}


@pytest.mark.parametrize(
    ("key", "value", "ends"),
    [
        ("headers.main.looks.b.from", "300px", (1, None)),
        ("headers.main.looks.b.from", "past a", (None, None)),
        ("headers.main.height", "60px", (None, None)),
    ],
)
def test_the_range_of_a_value_ends_where_a_rule_finds_something(
    make_plan: MakePlan, key: str, value: str, ends: tuple[int | None, int | None]
) -> None:
    header = "height: 60px, background: '#102030', color: white, looks: {a: {}, b: {from: 300px, shadow: 0 2px 8px black}}"
    sections = "a: {height: 500px, background: '#334'}, b: {height: 1500px, background: '#334'}"
    plan = make_plan(plan_text(header=header, sections=sections)).replace({key: value})
    found = rl.value_range(plan, key)
    assert found.within is not None
    always = identities(found.always)

    def holds(number: float) -> bool:
        changed = plan.replace({key: found.text(number)})
        return identities([item for item in rl.check(changed) if item.level != "note"]) <= always

    step = 1.0
    for interval in found.intervals:
        assert holds(interval.low)
        assert holds(interval.high)
        if interval.below:
            assert not holds(interval.low - step)
        if interval.above:
            assert not holds(interval.high + step)
    if ends[0] is not None:
        assert found.intervals[0].low == ends[0]
    assert found.chart().axes


@pytest.mark.parametrize(
    ("key", "unit", "low", "high"),
    [
        ("headers.main.background", "alpha", 0, 1),
        ("headers.main.background.lightness", "lightness", 0, 100),
        ("colors.mid", "lightness", 0, 100),
        ("pages.page.sections.a.layers.0.opacity", "", 0, 1),
        ("headers.main.height", "em", 0, 8),
    ],
)
def test_colours_opacities_and_all_lengths_have_ranges(
    make_plan: MakePlan, key: str, unit: str, low: float, high: float
) -> None:
    header = f"position: fixed, height: 4em, background: rgb(20 30 60 / .5), color: white, {_MENU}"
    sections = (
        "a: {height: 900px, layers: [{fill: '#000', opacity: .1}, {image: noise.png, speed: 0.4}], "
        "content: [{text: On the river, at: 50% 50%, color: white}, {text: Grey, color: mid}]}"
    )
    plan = make_plan(plan_text(header=header, sections=sections, before="colors: {mid: '#8a7a5c'}"))
    rules = ("unreadable-part", "unreadable-content")
    found = rl.value_range(plan, key, only=rules)
    assert (found.unit, found.low, found.high) == (unit, low, high)
    path = key.removesuffix(".lightness")
    worse = 0.01 if high == 1 else 0.1 if unit == "em" else 1.0
    for interval in found.intervals:
        below = max(interval.low - worse, low)
        for bound, number in ((None, interval.high), (interval.below, below)):
            changed = plan.replace({path: found.text(number)})
            counted = identities(rl.check(changed, only=rules)) - identities(found.always)
            assert bool(counted) == bool(bound)


def test_where_no_value_will_do_each_stretch_says_why(make_plan: MakePlan, folder: Path) -> None:
    sections = (
        "a: {height: 900px, background: '#fdf6e3', content: [{text: Grey on paper, color: mid}, "
        "{text: Dark on grey, color: '#222', panel: {color: mid}}]}"
    )
    plan = make_plan(plan_text(sections=sections, before="colors: {mid: '#8a7a5c'}"))
    found = rl.value_range(plan, "colors.mid", only="unreadable-content")
    assert found.intervals == ()
    dark, light = found.stretches
    assert (str(dark.found.subject), str(light.found.subject)) == (
        'a, "Dark on grey"',
        'a, "Grey on paper"',
    )
    assert light.low - dark.high == pytest.approx(1)
    result = run("tune", folder / "plan.yaml", "--range", "colors.mid", "--only", "gap")
    assert "every rule holds" in result.stdout
    result = run("tune", folder / "plan.yaml", "--range", "colors.mid")
    assert 'unreadable-content on page on laptop, a, "Grey on paper", at' in result.stdout


def test_a_range_is_printed_as_text_as_json_and_as_a_picture(folder: Path) -> None:
    plan = folder / "plan.yaml"
    header = "height: 60px, looks: {a: {}, b: {from: 300px, shadow: 0 2px 8px black}}"
    plan.write_text(plan_text(header=header), "utf-8")
    result = run("tune", plan, "--range", "headers.main.looks.b.from", "-o", folder / "range.png")
    assert result.returncode == 0, result.stderr
    assert "every rule holds" in result.stdout
    assert "never-seen on page on laptop" in result.stdout
    assert (folder / "range.png").stat().st_size > 5000
    result = run("tune", plan, "--range", "headers.main.looks.b.from", "--format", "json")
    data = json.loads(result.stdout)
    assert data["current"] == 300
    assert data["intervals"][0]["below"]["rule"] == "never-seen"
    assert run("tune", plan, "--range", "headers.main.parts").returncode == 2


def test_the_first_change_is_told_before_it_is_proved_elsewhere(make_plan: MakePlan) -> None:
    """On the quickest page; what it says holds there, and need not on the other."""
    sections = (
        "{{a: {{height: 900px, background: '{}', content: [{{text: Afloat, color: '#888'}}]}}}}"
    )
    plan = make_plan(
        "rising-lantern: 1\nviewports: {laptop: 1000x600, phone: 390x844}\npages:\n"
        f"  dark: {{sections: {sections.format('#222')}}}\n"
        f"  light: {{like: dark, sections: {sections.format('#ddd')}}}\n"
    )
    told: list[rl.Proposal] = []
    proposals = rl.iter_tune(plan, jobs=1, first=told.append)
    assert told == []
    later = [next(proposals), *proposals]
    (early,) = told
    (finding,) = {item.viewport: item for item in early.findings}.values()
    after = plan.apply(early.fixes[0]).view(finding.page, finding.viewport)
    assert identity(finding) not in {identity(item) for item in after.check()}
    assert all(proposal is not early for proposal in later)
    assert rl.tune(plan, jobs=1) == rl.tune(plan, jobs=2)


def test_the_first_change_is_shown_as_not_proved_elsewhere(site: Path) -> None:
    lines = run("tune", site / "traps.yaml", "--page", "flicker", "--page", "part-left-behind")
    early, *others = [
        line for line in lines.stderr.splitlines() if line.startswith(("works", "proved"))
    ]
    assert early.startswith("works    headers.")
    assert early.endswith("; not proved elsewhere yet")
    assert others
    assert all(line.startswith("proved   ") for line in others)
    assert "works" not in run("tune", site / "traps.yaml", "--page", "flicker", "--quiet").stderr
