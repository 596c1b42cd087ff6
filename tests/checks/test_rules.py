"""Every rule: a plan that triggers it, its nearest neighbour that does not, and the mend."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

import rising_lantern as rl
from commands import run
from findings import found
from plans import MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.checks.rules import check_rule
from rising_lantern.checks.running import rules


def moving(layer: str, height: int = 700) -> str:
    """A page with one layer in its middle."""
    sections = f"x: {{height: 700px}}, a: {{height: {height}px, layers: [{{{layer}}}]}}, y: {{height: 700px}}"
    return plan_text(sections=sections)


def test_a_gap_is_measured_over_every_px_and_fixed_by_its_number(make_plan: MakePlan) -> None:
    """At speed 0.5 the area is 650 px high; 1,000 px wide, the picture is 666.7: just enough."""
    layer = "image: photo.png, size: 100% {height}px, position: 50% 0, speed: 0.5"
    assert found(make_plan(moving(layer.format(height=650))), "gap") == []
    (finding,) = found(make_plan(moving(layer.format(height=600))), "gap")
    assert finding.measured == pytest.approx(50)
    assert (finding.level, str(finding.subject)) == ("error", "a, layer 0")
    # the gap opens at the section's lower edge while that is on the screen
    view = make_plan(moving(layer.format(height=600))).view()
    first, last = finding.scroll
    for scroll, bare in ((first - 1, False), (first, True), (last, True), (last + 1, False)):
        moment = view.at(scroll)
        section, (moved,) = moment.sections["a"], moment.layers
        strip = min(section.bottom, 600) - moved.box.bottom
        assert (strip > 0.5 and section.bottom > 0 and section.top < 600) == bare, scroll
    assert "650 px high" in finding.remedy.words


def test_a_soft_picture_among_the_content_is_named_by_what_it_shows(make_plan: MakePlan) -> None:
    content = "{image: photo.png, alt: Boats at dawn, width: %s}"
    for width, findings in (("660px", []), ("661px", ['a, "Boats at dawn"'])):
        text = plan_text(sections=f"a: {{padding: 20px, content: [{content % width}]}}")
        result = found(make_plan(text), "soft-picture")
        assert [str(item.subject) for item in result] == findings
        assert all(item.key.endswith("sections.a.content.0") for item in result)


def test_small_and_repeated_pictures_are_not_taken_for_gaps(make_plan: MakePlan) -> None:
    for layer in (
        "image: photo.png, size: 300px, speed: 0.5",
        "image: photo.png, size: 100% 40px, repeat: repeat, speed: 0.5",
        "fill: red",
        "image: photo.png, attachment: fixed",
    ):
        assert found(make_plan(moving(layer)), "gap") == []


def test_a_contained_picture_leaves_a_gap(make_plan: MakePlan) -> None:
    (finding,) = found(make_plan(moving("image: photo.png, size: contain", 900)), "gap")
    assert finding.measured == pytest.approx((900 - 1000 * 400 / 600) / 2)


def test_a_soft_picture_comes_with_the_pixels_that_it_needs(make_plan: MakePlan) -> None:
    sharp = plan_text(sections="a: {height: 400px, layers: [{image: photo.png, size: 660px}]}")
    assert found(make_plan(sharp), "soft-picture") == []
    soft = plan_text(sections="a: {height: 400px, layers: [{image: photo.png, size: 661px}]}")
    (finding,) = found(make_plan(soft), "soft-picture")
    assert finding.measured == pytest.approx(661 / 600, abs=1e-3)
    assert finding.remedy.words == "prepare it with 661 x 441 pixels"


def test_a_layer_that_barely_moves_comes_with_the_scroll_that_it_needs(
    make_plan: MakePlan,
) -> None:
    for height, count in ((809, 1), (810, 0)):
        sections = f"a: {{height: {height}px, layers: [{{image: photo.png, speed: 0.4}}]}}"
        findings = found(make_plan(plan_text(sections=sections)), "barely-scrolls")
        assert len(findings) == count
    still = "a: {height: 650px, layers: [{image: photo.png}]}"
    assert found(make_plan(plan_text(sections=still)), "barely-scrolls") == []


def test_a_fixed_picture_on_a_touch_screen_is_warned_of(make_plan: MakePlan) -> None:
    for touch, attachment, count in (
        ("true", "fixed", 1),
        ("true", "scroll", 0),
        ("false", "fixed", 0),
    ):
        text = plan_text(
            viewports=f"phone: {{size: 400x600, touch: {touch}}}",
            sections=f"a: {{height: 900px, layers: [{{image: photo.png, attachment: {attachment}}}]}}",
        )
        assert len(found(make_plan(text), "touch-fixed")) == count


@pytest.mark.parametrize(("selector", "count"), [("", 0), (", selector: '#sky'", 1)])
def test_a_fixed_picture_behind_all_of_the_page_is_kept(
    make_plan: MakePlan, selector: str, count: int
) -> None:
    text = plan_text(
        viewports="phone: {size: 400x600, touch: true}",
        under=f"{{image: photo.png, attachment: fixed{selector}}}",
    )
    assert len(found(make_plan(text), "touch-fixed")) == count


def test_every_slide_and_what_lies_behind_the_page_is_looked_at(make_plan: MakePlan) -> None:
    layers = "{slides: [photo.png, logo-dark.png], size: 100% 700px}"
    text = plan_text(sections=f"a: {{height: 700px, layers: [{layers}]}}")
    result = {finding.message.split()[0] for finding in found(make_plan(text), "soft-picture")}
    assert result == {"photo.png", "logo-dark.png"}
    text = plan_text(under="{image: photo.png, size: contain, speed: 0.5}")
    (finding,) = found(make_plan(text), "gap")
    assert str(finding.subject) == "(page), layer 0"


def test_sections_that_meet_between_pixels_show_a_seam(make_plan: MakePlan) -> None:
    """On screens of 1.25 and 1.5 pixels for each px, unless what is behind has their colour."""
    sections = (
        "a: {{height: {}, background: '#102030'}}, b: {{height: 900px, background: '#102030'}}"
    )

    def seams(height: str, ratio: float, background: str = "white") -> list[rl.Finding]:
        text = plan_text(
            viewports=f"a: 1000x600@{ratio}",
            sections=sections.format(height),
            background=background,
        )
        return found(make_plan(text), "seam")

    (finding,) = seams("50.3vh", 1.5)
    assert str(finding.subject) == "a"
    assert finding.measured == pytest.approx(0.3, abs=1 / 64)
    assert "round(down, 50.3vh, 4px)" in finding.remedy.words
    assert "Chromium" in finding.message
    assert len(seams("101px", 1.25)) == 1
    for height, ratio, background in (
        ("50.3vh", 1, "white"),
        ("300.5px", 2, "white"),
        ("300px", 1.25, "white"),
        ("'round(down, 50.3vh, 4px)'", 1.5, "white"),
        ("50.3vh", 1.5, "#112233"),
    ):
        assert seams(height, ratio, background) == []


def test_what_is_wider_than_the_screen_is_found(make_plan: MakePlan) -> None:
    screens = "classic: {size: 1000x600, scrollbar: 15}"
    for width, over in (("100vw", 15), ("100%", 0), ("985px", 0), ("1000px", 15), ("1100px", 115)):
        text = plan_text(viewports=screens, sections=f"a: {{height: 900px, width: {width}}}")
        findings = found(make_plan(text), "side-scroll")
        assert [finding.measured for finding in findings] == ([over] if over else [])
        assert ("scrollbar" in "".join(f.message for f in findings)) == (over == 15)
    parts = "parts: {{menu: {{text: [Programme, Tickets, Visit], size: {}, side: end}}}}"
    assert found(make_plan(plan_text(header=parts.format("20px"))), "side-scroll") == []
    crowded = make_plan(plan_text(header=parts.format("120px")))
    assert found(crowded, "side-scroll") == []
    assert len(found(crowded, "crowded-header")) == 1


def test_a_header_behind_a_section_or_a_text_is_found(make_plan: MakePlan) -> None:
    def behind(inner: str) -> list[rl.Finding]:
        sections = f"a: {{height: 300px}}, b: {{height: 200px, {inner}}}, c: {{height: 900px}}"
        text = plan_text(header="height: 80px, z: 10", sections=sections)
        return found(make_plan(text), "behind-something")

    (finding,) = behind("z: 11, background: red")
    assert (finding.scroll, finding.measured) == ((221, 499), 80)
    text = "content: [{text: Afloat, at: 0 0, z: 11}]"
    (finding,) = behind(text)
    assert str(finding.subject) == "main, behind a text of b"
    for harmless in ("z: 9, background: red", "z: 11", text.replace("11", "9"), "z: 1, " + text):
        assert behind(harmless) == []
    # with the same z, what comes later in the page lies above
    assert len(behind("z: 10, background: red")) == 1


@pytest.mark.parametrize(
    ("blend", "odd", "even"),
    [
        ("color-dodge", "'#fe0000'", "'#f00000'"),
        ("color-burn", "'#8000ff'", "'#8040f0'"),
        ("hue", "'#808182'", "'#8090a0'"),
    ],
)
def test_a_blend_that_engines_compute_differently_is_noted(
    make_plan: MakePlan, blend: str, odd: str, even: str
) -> None:
    for fill, count in ((odd, 1), (even, 0)):
        layers = f"[{{fill: {fill}, blend: {blend}}}]"
        text = plan_text(sections=f"a: {{height: 700px, layers: {layers}}}")
        assert len(found(make_plan(text), "uneven-blend")) == count


def test_a_look_beyond_the_end_is_never_reached(make_plan: MakePlan) -> None:
    """The page of three sections scrolls 1,600 px; on a higher screen, less."""
    header = "looks: {a: {}, b: {from: 1600px}, c: {from: 1601px}}"
    (finding,) = found(make_plan(plan_text(header=header)), "never-reached")
    assert (str(finding.subject), finding.measured, finding.limit) == ("main, look c", 1601, 1600)
    tall = plan_text(header=header, viewports="laptop: 1000x600, tall: 1000x900")
    assert [f.viewport for f in found(make_plan(tall), "never-reached")] == [
        "laptop",
        "tall",
        "tall",
    ]


def test_a_page_without_a_header_is_noted(make_plan: MakePlan) -> None:
    shown = plan_text(header="show: {only: [page]}")
    hidden = plan_text(header="show: {except: [page]}")
    assert found(make_plan(shown), "no-header") == []
    assert len(found(make_plan(hidden), "no-header")) == 1
    assert found(make_plan(plan_text()), "no-header") == []


def test_the_sample_site_has_its_soft_and_fixed_pictures_found(regatta: Plan) -> None:
    findings = rl.check(regatta)
    assert {finding.rule for finding in findings} == {"soft-picture", "touch-fixed", "heavy"}
    assert {finding.viewport for finding in findings} == {"tablet", "phone"}  # none on laptops


def test_a_picture_on_several_pages_is_one_finding_with_its_places(
    site: Path, folder: Path
) -> None:
    result = run("check", site / "regatta.yaml")
    assert result.returncode == 0, result.stderr
    lines = [line for line in result.stdout.splitlines() if not line.startswith("    ")]
    assert [line.split()[:2] for line in lines[:3]] == [
        ["note", "heavy"],
        ["warning", "touch-fixed"],
        ["warning", "soft-picture"],
    ]
    assert result.stdout.count("         also ") == 3
    assert "\n4 findings, 2 silenced by the plan\n" in result.stdout
    assert run("check", site / "regatta.yaml", "-o", folder / "found.txt").returncode == 0
    assert (folder / "found.txt").read_text("utf-8").strip() in result.stdout


def test_pictures_are_asked_for_two_pixels_at_most_and_videos_for_one(make_plan: MakePlan) -> None:
    """The limit ``sharpness`` says for how many, which more than two readers in a hundred see."""
    phone = "viewports: {phone: 500x900@3}"
    layer = "{image: photo.png, size: 500px 300px}"
    text = plan_text(sections=f"a: {{height: 300px, layers: [{layer}]}}, b: {{height: 900px}}")
    plan = make_plan(text.replace("viewports: {laptop: 1000x600}", phone))
    needed = plan.picture_table().set_index("picture").loc["photo.png"]
    assert (needed.needs_width, needed.needs_height) == (1000, 600)
    sharper = plan.replace({"check": "{limits: {sharpness: 3}}"})
    assert sharper.picture_table().needs_width.max() == 1500
    enlarged = [item.measured for item in found(sharper, "soft-picture")]
    assert enlarged == [1.5 * item.measured for item in found(plan, "soft-picture")]


def test_what_moves_far_sideways_is_noticed(make_plan: MakePlan) -> None:
    sections = (
        "a: {{height: 300px}}, b: {{height: 180px, layers: [{{image: noise.png, drift: {}, size: "
        "300% auto}}]}}, c: {{height: 260px}}"
    )
    assert found(make_plan(plan_text(sections=sections.format(3))), "barely-scrolls") == []
    assert len(found(make_plan(plan_text(sections=sections.format(0.3))), "barely-scrolls")) == 1


def test_a_hero_that_gets_lighter_is_not_the_backdrop_of_the_look_after_it(
    make_plan: MakePlan,
) -> None:
    header = (
        "position: fixed, height: 80px, parts: {menu: {text: Menu}}, looks: {clear: {color: white}, "
        "solid: {from: past a, background: '#fdf6e3', color: '#16213e'}}"
    )
    sections = (
        "a: {height: 900px, layers: [{fill: 'linear-gradient(#0b1026 55%, #fdf6e3 80%)'}]}, "
        "b: {height: 900px, background: '#fdf6e3'}"
    )
    plan = make_plan(plan_text(header=header, sections=sections))
    assert found(plan, "late-switch") == []
    assert len(found(plan, "unreadable-part")) == 1
    later = plan.replace({"headers.main.looks.solid.from": "past a + 60px"})
    (late,) = found(later, "late-switch")
    assert late.measured == pytest.approx(60, abs=40)


def test_rules_are_explained_and_have_names_of_their_own() -> None:
    known = rules()
    for name, of in known.items():
        assert of.name == name
        assert len(of.explanation) > 40
        assert "``" not in of.explanation
    with pytest.raises(ValueError, match="the rule 'gap' is registered twice"):
        check_rule("gap", "note")(known["gap"].find)


def test_check_reports_findings_and_ends_with_their_status(folder: Path) -> None:
    text = plan_text(
        header="looks: {a: {}, b: {from: 9000px}}", viewports="laptop: 1000x600, wide: 1200x600"
    )
    (folder / "plan.yaml").write_text(text, "utf-8")
    result = run("check", "plan.yaml", cwd=folder)
    assert result.returncode == 1
    assert result.stdout.splitlines()[:2] == [
        "error    never-reached  page on laptop, wide, main, look b, 0 to 1600 px  plan.yaml:4:43",
        "         the look starts at 9000 px, and the page scrolls 1600 px (on laptop); start it at 1600 px or earlier",
    ]
    assert result.stdout.endswith(
        "1 finding\n"
        "Checked on laptop (narrower than 1200 px), wide (1200 px and wider)\n"
        "See them in plan-preview/preview.html, which 'rising-lantern preview plan.yaml' writes\n"
    )
    data = json.loads(run("check", "plan.yaml", "--format", "json", cwd=folder).stdout)
    assert [row["viewport"] for row in data] == ["laptop", "wide"]
    assert set(data[0]) == {
        "rule", "level", "page", "viewport", "subject", "scroll", "measured", "limit", "message", "remedy",
        "settings", "path", "place", "paths", "silenced", "alike", "worst", "cause", "reader",
    }  # fmt: skip
    assert data[0]["settings"] == [{"key": "headers.main.looks.b.from", "value": "1600px"}]
    setting = "{key}={value}".format(**data[0]["settings"][0])
    fixed = run("check", "plan.yaml", "--set", setting, cwd=folder)
    screens = "Checked on laptop (narrower than 1200 px), wide (1200 px and wider)\n"
    assert (fixed.returncode, fixed.stdout) == (0, f"nothing found\n{screens}")
    (folder / "plan.yaml").write_text("rising-lantern: 1", "utf-8")
    assert run("check", "plan.yaml", cwd=folder).returncode == 2


def test_check_fails_on_the_level_that_is_asked_for(folder: Path) -> None:
    text = plan_text(sections="a: {height: 400px, layers: [{image: photo.png}]}")
    (folder / "plan.yaml").write_text(text, "utf-8")
    assert run("check", "plan.yaml", cwd=folder).returncode == 0
    assert run("check", "plan.yaml", "--fail-on", "warning", cwd=folder).returncode == 1


def test_check_explains_its_rules(folder: Path) -> None:
    result = run("check", "--explain", "gap", cwd=folder)
    assert result.returncode == 0
    assert result.stdout.startswith(
        "gap (error)  A picture that spans its section from side to side"
    )
    assert len(run("check", "--explain", "all").stdout.splitlines()) == len(rules())
    assert "there is no rule 'gpa'" in run("check", "--explain", "gpa").stderr


def test_rules_can_be_chosen_and_left_out(folder: Path) -> None:
    text = plan_text(
        header="position: sticky, height: 90px, looks: {a: {}, b: {from: 100px, height: 40px}}"
    )
    (folder / "plan.yaml").write_text(text, "utf-8")
    for options, expected in (
        ((), {"flicker", "jump"}),
        (("--only", "jump"), {"jump"}),
        (("--only", "jump", "--only", "flicker", "--skip", "jump"), {"flicker"}),
        (("--skip", "flicker", "--skip", "jump"), set()),
    ):
        result = run("check", "plan.yaml", "--format", "json", *options, cwd=folder)
        assert {row["rule"] for row in json.loads(result.stdout)} == expected
    wrong = run("check", "plan.yaml", "--only", "jumps", cwd=folder)
    assert wrong.returncode == 2
    assert "there is no rule 'jumps'; there are: gap, " in wrong.stderr
