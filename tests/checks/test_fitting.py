"""Rules about what fits, what passes below a header, and motion that is hardly seen."""

from __future__ import annotations

from itertools import pairwise
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

import rising_lantern as rl
from findings import found
from plans import MakePlan, plan_text
from rising_lantern.checks.fitting import rows_of
from rising_lantern.checks.headers import ZOOMED
from rising_lantern.css.contrast import ratio
from rising_lantern.legibility.contrast import luminance
from rising_lantern.report.charts import chart_of
from thorough import examples

_LONG = "a: {height: 600px, background: '#102030'}, b: {height: 1500px, background: '#102030'}"


def header_of(width: float, start: int, center: int, end: int) -> str:
    """A header whose groups are pictures of some widths."""
    groups = {"start": start, "center": center, "end": end}
    parts = ", ".join(
        f"{side}: {{image: logo-dark.png, width: {size}px, side: {side}}}"
        for side, size in groups.items()
        if size
    )
    return f"height: 60px, padding: 20px, width: {width}px, parts: {{{parts}}}"


@settings(max_examples=examples(40))
@given(st.integers(0, 300), st.integers(0, 300), st.integers(0, 300), st.integers(120, 900))
def test_a_crowded_header_is_found_where_boxes_overlap(
    tmp_path_factory: pytest.TempPathFactory, start: int, center: int, end: int, width: int
) -> None:
    """Against the boxes themselves, and the width that is given is the narrowest that does."""
    from pictures import paint_pictures  # noqa: PLC0415

    folder = tmp_path_factory.mktemp("crowded")
    paint_pictures(folder)
    path = folder / "plan.yaml"

    def overlaps(px: float) -> bool:
        path.write_text(plan_text(header=header_of(px, start, center, end)), "utf-8")
        view = rl.read(path).view()
        boxes = sorted(view.at(0).parts.values(), key=lambda box: box.left)
        style = view.scene.box.header.looks[0] if view.scene.box.header else None
        assert style is not None
        inner = (style.left + 20, style.left + style.width - 20)
        # Whole px are missing; in the middle half of them are on each side.
        over = any(a.right > b.left + 0.25 for a, b in pairwise(boxes))
        return over or any(
            box.left < inner[0] - 0.25 or box.right > inner[1] + 0.25 for box in boxes
        )

    crowded = overlaps(width)
    view = rl.read(path).view()
    assert bool(view.check(("crowded-header",))) == crowded
    assert view.scene.box.header is not None
    (row,) = rows_of(view.scene.box.header)
    narrowest = row.needed + row.outside
    if 60 < narrowest < 1000:
        assert not overlaps(narrowest)
        assert overlaps(narrowest - 2)


@pytest.mark.parametrize(
    ("section", "content", "over"),
    [
        ("height: 100px", 'text: "a\\nb\\nc\\nd", size: 20px, leading: 1.5', 20),
        ("height: 121px", 'text: "a\\nb\\nc\\nd", size: 20px, leading: 1.5', None),
        ("height: 300px", "text: Sa, size: 20px, panel: {color: white, padding: 150px}", 28),
        ("height: 300px, width: 50px", "text: Saltmere, size: 40px", None),
        ("height: 3000px", 'text: "a\\nb", size: 300px, leading: 1.5', 300),
    ],
)
def test_a_text_that_its_section_or_screen_cuts_off_is_found(
    make_plan: MakePlan, section: str, content: str, over: float | None
) -> None:
    text = plan_text(sections=f"a: {{{section}, content: [{{{content}}}]}}, b: {{height: 900px}}")
    findings = found(make_plan(text), "cut-off")
    if "Saltmere" in content:
        assert findings[0].measured > 50
    else:
        assert [round(finding.measured) for finding in findings] == ([over] if over else [])


@pytest.mark.parametrize(
    ("background", "at", "expected"),
    [
        ("transparent", "50% 300px", True),
        ("rgb(0 0 0 / .79)", "50% 300px", True),
        ("rgb(0 0 0 / .8)", "50% 300px", False),
        ("transparent", "0% 300px", False),
    ],
)
def test_letters_that_run_under_a_see_through_header_are_found(
    make_plan: MakePlan, background: str, at: str, expected: bool
) -> None:
    """And only those that come into a part: the menu stands in the middle."""
    header = f"height: 60px, color: white, background: '{background}', parts: {{menu: {{text: Programme, side: center}}}}"
    sections = f"a: {{height: 600px, content: [{{text: Afloat, size: 24px, at: {at}}}]}}, b: {{height: 900px}}"
    findings = found(make_plan(plan_text(header=header, sections=sections)), "runs-under")
    assert {finding.level for finding in findings} == {"warning" if expected else "note"}
    for finding in findings if expected else ():
        view = make_plan(plan_text(header=header, sections=sections)).view()
        first, last = (int(edge) for edge in finding.scroll)
        part = view.at(first).parts["menu"]
        text = view.scene.box.sections[0].content[0].text
        upper = text.lines[0].baseline - text.face.ascent * text.size
        assert upper - last < part.bottom <= upper - first + 2
        assert "menu" in finding.message


@pytest.mark.parametrize(("color", "ink"), [("#0b1026", "white"), ("#fdf6e3", "black")])
def test_letters_that_show_through_a_header_are_noted_with_the_opacity_that_ends_it(
    make_plan: MakePlan, color: str, ink: str
) -> None:
    """Measured on frames: with that opacity the letters are hardly there, and with less they are."""
    sheer = "rgb(from {} r g b / {})"
    header = (
        f"position: fixed, height: 90px, shadow: 0 1px 3px black, color: {ink}, background: '{sheer.format(color, 0.7)}', "
        "parts: {menu: {text: Programme, side: end}}"
    )
    words = "text: The river carries the light, size: 44px, color: white, at: 0% 70%"
    sections = (
        f"a: {{height: 600px, background: '#1b2a63', content: [{{{words}}}]}}, b: {{height: 900px}}"
    )
    plan = make_plan(plan_text(header=header, sections=sections))
    (finding,) = found(plan, "runs-under")
    assert finding.level == "note"
    share = int(finding.remedy.words.split("%")[0].split()[-1]) / 100
    for opacity, left in ((share, 0), (share - 0.02, 1)):
        better = plan.replace({"headers.main.background": sheer.format(color, round(opacity, 2))})
        assert len(found(better, "runs-under")) == left
        view = better.view()
        wordless = better.replace({"pages.page.sections.a.content": "[]"}).view()
        at = finding.worst
        with_, without = (luminance(item.pixels(at)[:90, 20:700]) for item in (view, wordless))
        strongest = np.percentile(ratio(with_, without)[with_ != without], 90)
        assert (strongest > 1.2) == bool(left)
    assert found(plan.replace({"headers.main.blur": "40px"}), "runs-under") == []
    (proposal,) = rl.tune(plan, only="runs-under")
    assert f"{share:g}" in proposal.fixes[0].after


def test_a_moving_picture_that_does_not_cover_is_found_off_its_position(
    make_plan: MakePlan,
) -> None:
    """And with the position that is given it stands where it was meant to, by its moment."""
    layer = "image: photo.png, size: 150px auto, position: {}, speed: 0.4"
    sections = "x: {{height: 700px}}, a: {{height: 900px, layers: [{{{}}}]}}, y: {{height: 900px}}"

    def view(position: str) -> rl.View:
        return make_plan(plan_text(sections=sections.format(layer.format(position)))).view()

    (finding,) = view("50% 10%").check(("off-centre",))
    assert view("50% 50%").check(("off-centre",)) == []
    position = finding.remedy.words.split("position to ")[1]
    assert view(position).check(("off-centre",)) == []
    centred = 700 + 450 - 300
    (box,) = (layer.box for layer in view(position).at(centred).layers)
    section = view(position).at(centred).sections["a"]
    assert box.top - section.top == pytest.approx(0.1 * (900 - 100), abs=1)


def test_a_header_that_crowds_the_screen_is_found(make_plan: MakePlan) -> None:
    """A third of the screen, and half of one zoomed in; the plan may say otherwise."""

    def shares(height: str, before: str = "", position: str = "fixed") -> list[float]:
        header = f"height: {height}, position: {position}"
        plan = make_plan(plan_text(header=header, before=before))
        return [round(item.measured, 2) for item in found(plan, "crowds-screen")]

    assert shares("120px") == []
    assert shares("140px") == [round(140 / ZOOMED.height, 2)]
    assert shares("34vh") == [0.34]
    assert shares("34vh", position="static") == []
    assert shares("34vh", "check: {limits: {header: 0.4}}") == []
    assert shares("140px", "check: {limits: {header-zoomed: 0.6}}") == []


def test_a_stuck_header_without_an_edge_is_noted(make_plan: MakePlan) -> None:
    header = "height: 60px, background: '{}'{}"
    for color, extra, share in (
        ("#102030", "", 1),
        ("#fdf6e3", "", None),
        ("#102030", ", shadow: 0 1px 4px black", None),
        ("#102030", ", border: 1px solid white", None),
        ("rgb(16 32 48 / .5)", "", None),
    ):
        text = plan_text(header=header.format(color, extra), sections=_LONG)
        findings = found(make_plan(text), "no-edge")
        assert [finding.measured for finding in findings] == ([share] if share else [])


def test_a_slit_above_a_stuck_header_is_found(make_plan: MakePlan) -> None:
    for header, level in (
        ("top: 12px", "warning"),
        ("top: 12px, width: 600px", "note"),
        ("top: 12px, position: sticky", "warning"),
        ("top: 12px, position: absolute", None),
        ("top: 0px", None),
    ):
        findings = found(make_plan(plan_text(header=f"height: 60px, {header}")), "slit")
        assert [(finding.level, finding.measured) for finding in findings] == (
            [(level, 12)] if level else []
        )


@pytest.mark.parametrize(
    ("looks", "unseen"),
    [
        ("a: {}, b: {from: 0px}", ["a"]),
        ("a: {}, b: {from: 1px}", []),
        ("a: {}, b: {from: 200px}, c: {from: 200px}", ["b"]),
        ("a: {}, b: {from: 200px}, c: {from: 100px}", ["b"]),
        ("a: {}, b: {from: 200px}, c: {from: 201px}", []),
        ("a: {}, b: {from: 100px, back: 50px}, c: {from: 100px, back: 80px}", []),
    ],
)
def test_a_look_that_is_never_seen_is_found(
    make_plan: MakePlan, looks: str, unseen: list[str]
) -> None:
    plan = make_plan(plan_text(header=f"looks: {{{looks}}}"))
    assert [str(item.subject) for item in found(plan, "never-seen")] == [
        f"main, look {name}" for name in unseen
    ]
    view = plan.view()
    seen = {view.at(scroll, way).look for scroll in range(400) for way in ("down", "up")}
    assert not seen & set(unseen)


@pytest.mark.parametrize(
    ("sections", "word"),
    [
        ("a: {height: 700px, layers: [{image: photo.png, speed: 0.4}]}", "for only 100 px of scroll"),
        ("a: {height: 400px, layers: [{image: photo.png, attachment: fixed}]}", "for only 0 px of scroll"),
        ("a: {height: 700px}, b: {height: 120px, layers: [{image: photo.png, speed: 0}]}", "for only"),
        ("x: {height: 900px}, a: {height: 600px, layers: [{image: photo.png, speed: 0.98}]}, y: {height: 900px}", "it moves 24 px"),
        ("a: {height: 200px, layers: [{image: photo.png, attachment: fixed}]}, b: {height: 1500px}", "for only"),
        ("a: {height: 230px, layers: [{image: photo.png, attachment: fixed}]}, b: {height: 1500px}", "are ever seen"),
        ("x: {height: 900px}, a: {height: 600px, layers: [{image: photo.png, speed: 0.4}]}, y: {height: 900px}", ""),
        ("x: {height: 900px}, a: {height: 600px, layers: [{fill: '#123456', speed: 0.4}]}", ""),
    ],
)  # fmt: skip
def test_motion_that_is_hardly_seen_is_found(make_plan: MakePlan, sections: str, word: str) -> None:
    findings = found(make_plan(plan_text(sections=sections)), "barely-scrolls")
    assert [word in finding.message for finding in findings] == ([True] if word else [])


@settings(max_examples=examples(25))
@given(st.integers(620, 800), st.integers(0, 200))
def test_the_room_that_is_missing_is_exact(
    tmp_path_factory: pytest.TempPathFactory, height: int, after: int
) -> None:
    path = tmp_path_factory.mktemp("room") / "plan.yaml"

    def findings(more: int) -> list[rl.Finding]:
        sections = (
            f"a: {{height: {height}px, layers: [{{fill: 'linear-gradient(red, blue)', speed: 0.4}}]}}, "
            f"b: {{height: {after + more}px}}"
        )
        path.write_text(plan_text(sections=sections), "utf-8")
        return rl.read(path).view().check(("barely-scrolls",))

    short = findings(0)
    if not short:
        return
    (finding,) = short
    missing = int(finding.remedy.words.split("the page ")[1].split(" px")[0])
    assert findings(missing) == []
    assert findings(missing - 1) != []


def test_advice_on_two_headers_leaves_no_page_without_one(make_plan: MakePlan) -> None:
    text = plan_text(viewports="laptop: 1000x600, phone: 390x844")
    wide = "one: {show: {viewports: {only: [laptop]}}}, all: {}"
    (finding,) = found(
        make_plan(text.replace("pages:", f"headers: {{{wide}}}\npages:")), "two-headers"
    )
    assert finding.remedy.words == "exclude these viewports in the 'show' of all: laptop"
    both = "one: {}, other: {}"
    findings = found(
        make_plan(text.replace("pages:", f"headers: {{{both}}}\npages:")), "two-headers"
    )
    assert {finding.remedy.words for finding in findings} == {
        "exclude this page in the 'show' of other"
    }


def test_a_finding_that_depends_on_a_slide_names_it(make_plan: MakePlan) -> None:
    layer = "slides: [photo.png, noise.png], attachment: fixed"
    sections = f"a: {{height: 500px, layers: [{{{layer}}}], content: [{{text: Afloat, color: '#404040'}}]}}, b: {{height: 900px}}"
    findings = found(make_plan(plan_text(sections=sections)), "unreadable-content")
    assert findings
    for finding in findings:
        assert (
            "while photo.png shows" in finding.message or "while noise.png shows" in finding.message
        )


def test_one_cause_is_one_finding(make_plan: MakePlan) -> None:
    """A part left behind is neither unreadable nor a switch too early; a hidden header is not late."""
    header = (
        "height: 80px, color: white, parts: {go: {text: Go, color: white}}, "
        "looks: {clear: {}, solid: {from: past a, background: white, color: black}}"
    )
    sections = "a: {height: 600px, background: '#102030'}, b: {height: 1500px, background: white}"
    rules = {item.rule for item in rl.check(make_plan(plan_text(header=header, sections=sections)))}
    assert "part-left-behind" in rules
    assert not rules & {"unreadable-part", "late-switch", "early-switch"}
    header = "height: 80px, color: white, parts: {go: {text: Go}}, looks: {clear: {}, solid: {from: 900px, color: black}}"
    sections = "a: {height: 600px, background: '#102030'}, b: {height: 300px, z: 20, background: white}, c: {height: 900px, background: white}"
    rules = {item.rule for item in rl.check(make_plan(plan_text(header=header, sections=sections)))}
    assert "behind-something" in rules
    assert "late-switch" not in rules


def test_texts_count_where_a_page_has_no_header(make_plan: MakePlan) -> None:
    sections = "a: {height: 900px, background: '#777', content: [{text: Afloat, color: '#888'}]}"
    plan = make_plan(plan_text(sections=sections))
    other = plan.replace({"pages.page.sections.a.content.0.color": "black"})
    (compared,) = rl.compare({"grey": plan, "black": other})
    table: Any = compared.table()
    assert table.loc["grey", "least_contrast"] < 1.5 < table.loc["black", "least_contrast"]
    (curve,) = chart_of(plan.view().scene).contrasts
    assert np.isfinite(curve.contrast).any()


_OVERLAPPED = (
    "a: {{padding: 40px, gap: 10px, content: [{{text: High and dry until noon, leading: 1.5, size: 20px}}, "
    "{{box: {{padding: 20px, content: [{{text: Low, leading: 1.5, size: 20px}}]}}, width: 50%}}]}}, "
    "b: {{height: 300px, overlap: {overlap}px, background: {background}, width: 80%}}, "
    "c: {{height: 900px}}"
)


@pytest.mark.parametrize(
    ("overlap", "background", "covered"),
    [
        (40, "red", []),
        (41, "red", [1]),
        (60, "red", [20]),
        (60, "~", []),
        (121, "red", [70, 1]),
    ],
)
def test_what_a_section_covers_of_its_neighbour_is_measured(
    make_plan: MakePlan, overlap: int, background: str, covered: list[float]
) -> None:
    text = _OVERLAPPED.format(overlap=overlap, background=background).replace(", background: ~", "")
    result = found(make_plan(plan_text(sections=text)), "covered-content")
    assert sorted(item.measured for item in result) == sorted(covered)
    assert [str(item.subject) for item in result] in (
        [],
        ["a, a box"],
        ['a, "High and dry until noon"', "a, a box"],
    )


def test_what_flows_is_cut_off_where_its_section_is_too_low(make_plan: MakePlan) -> None:
    section = "height: {}px, padding: 20px, content: [{{image: photo.png}}]"
    for height, over in ((420, []), (419, [1])):
        text = plan_text(sections=f"a: {{{section.format(height)}}}, b: {{height: 900px}}")
        assert [item.measured for item in found(make_plan(text), "cut-off")] == over
