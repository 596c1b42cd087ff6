"""Pages whose pictures or fonts have not come, with more or less content, or with longer words."""

from __future__ import annotations

from pathlib import Path

import pytest
from fontTools.ttLib import TTFont

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.readers import Reader


def found_for(plan: rl.Plan, reader: Reader) -> dict[str, Finding]:
    """What is found for a reader only, by rule."""
    return {item.rule: item for item in rl.check(plan, readers=reader, jobs=1) if item.reader}


_ASIDE = ("no-edge", "soft-picture", "lost-shadow", "no-picture-below", "heavy", "runs-under")
CLEAR = "height: 60px, position: fixed, color: white, parts: {menu: {text: Programme}}"


@pytest.mark.parametrize("text", ["", "content: [{text: Afloat, color: white, size: 60px}], "])
def test_a_picture_that_has_not_come_leaves_the_background(make_plan: MakePlan, text: str) -> None:
    opening = (
        f"a: {{{text}height: 900px, layers: [{{image: photo.png, filter: brightness(.2)}}]{{}}}}, "
        "b: {height: 900px, background: '#123'}"
    )
    reader = rl.Without("pictures")
    plain = opening.replace("{}", "")
    assert rl.check(make_plan(plan_text(header=CLEAR, sections=plain)), skip=_ASIDE) == []
    found = found_for(make_plan(plan_text(header=CLEAR, sections=plain)), reader)
    assert found.keys() == {"unreadable-part", *(["unreadable-content"] if text else [])}
    assert {item.level for item in found.values()} == {"warning"}
    assert {item.screen_words.partition(" ")[2] for item in found.values()} == {"without pictures"}
    # A background like the picture is what helps.
    cleared = opening.replace("{}", ", background: '#1b2a2f'")
    assert found_for(make_plan(plan_text(header=CLEAR, sections=cleared)), reader) == {}


def test_slides_and_pictures_of_one_screen_are_pictures_too(make_plan: MakePlan) -> None:
    sections = (
        "a: {height: 900px, background: '#123', layers: [{slides: [photo.png, noise.png], filter: brightness(.1)}], "
        "for: {phone: {background: white}}}, b: {height: 900px, background: '#123'}"
    )
    plan = make_plan(
        plan_text(header=CLEAR, sections=sections, viewports="laptop: 1000x600, phone: 390x844")
    )
    found = [item for item in rl.check(plan, readers=rl.Without("pictures")) if item.reader]
    assert {(item.rule, item.viewport) for item in found} == {("unreadable-part", "phone")}


def narrow_font(folder: Path) -> None:
    """A font of half the width of the usual one."""
    source = Path(str(Path(rl.__file__).parent / "layout" / "typefaces"))
    font = TTFont(next(iter(sorted(source.rglob("*.ttf")))))
    metrics = font["hmtx"].metrics
    for name, (advance, bearing) in metrics.items():
        metrics[name] = advance // 2, bearing
    font.save(folder / "narrow.ttf")


@pytest.mark.parametrize(("width", "fits"), [(250, False), (700, True)])
def test_without_its_font_a_menu_may_not_fit(
    make_plan: MakePlan, folder: Path, width: int, fits: bool
) -> None:
    narrow_font(folder)
    header = (
        "height: 60px, color: '#123', background: white, parts: {brand: {text: Saltmere, font: thin}, "
        "menu: {text: [Programme, Lanterns, Visit], font: thin, gap: 8px, side: end}}"
    )
    text = plan_text(header=header, sections="a: {height: 2000px}", viewports=f"one: {width}x600")
    plan = make_plan(f"{text}fonts: {{thin: narrow.ttf}}\n")
    assert "crowded-header" not in {item.rule for item in rl.check(plan)}
    assert ("crowded-header" not in found_for(plan, rl.Without("fonts"))) == fits


@pytest.mark.parametrize(
    ("looks", "percent", "expected"),
    [
        ("clear: {}, solid: {from: 900px, background: '#123'}", 60, {"never-reached"}),
        ("clear: {}, solid: {from: 900px, background: '#123'}", 130, set()),
        ("clear: {}, solid: {from: past a, background: '#123'}", 60, set()),
    ],
)
def test_a_threshold_in_px_depends_on_how_much_there_is(
    make_plan: MakePlan, looks: str, percent: int, expected: set[str]
) -> None:
    header = f"height: 60px, position: fixed, color: white, background: '#234', looks: {{{looks}}}"
    sections = "a: {height: 700px, background: '#234'}, b: {height: 1100px, background: '#345'}"
    plan = make_plan(plan_text(header=header, sections=sections))
    assert rl.check(plan, skip=("no-edge", "no-picture-below")) == []
    found = found_for(plan, rl.ContentLength(percent))
    assert found.keys() - {"no-edge"} == expected
    if expected:
        assert found["never-reached"].screen_words.endswith("with 60% of the content")


def test_a_text_that_grows_runs_over_the_edge_of_what_does_not(make_plan: MakePlan) -> None:
    words = " ".join(["Four hundred lanterns go down the river at dusk."] * 9)
    sections = (
        f"a: {{height: 60vh, padding: 20px, content: [{{text: {words}, size: 24px}}]}}, "
        f"b: {{height: auto, padding: 20px, content: [{{text: {words}, size: 24px}}]}}, c: {{height: 100vh}}"
    )
    plan = make_plan(plan_text(header="height: 40px", sections=sections))
    assert "cut-off" not in {item.rule for item in rl.check(plan)}
    assert str(found_for(plan, rl.ContentLength(300))["cut-off"].subject).startswith("a,")
    assert "cut-off" not in found_for(plan, rl.ContentLength(60))


def test_longer_words_crowd_a_header_at_the_widths_that_are_named(make_plan: MakePlan) -> None:
    header = (
        "height: 60px, color: '#123', background: white, parts: {brand: {text: Saltmere}, "
        "menu: {text: [Programme, Lanterns, Visit], links: {Visit: /visit}, gap: 8px, side: end}}"
    )
    text = plan_text(header=header, sections="a: {height: 2000px}", viewports="phone: 420x844")
    plan = make_plan(text)
    widths = rl.Widths(200, 420)
    reader = rl.LongerWords(40, widths)
    found = [item for item in rl.check(plan, readers=reader) if item.reader]
    (crowded,) = [item for item in found if item.rule == "crowded-header"]
    assert isinstance(crowded.reader, rl.LongerWords)
    assert crowded.level == "error"
    at = crowded.reader.at
    assert at is not None
    assert at.low is not None
    assert at.high is not None
    assert at.high < 420
    assert crowded.screen_words.endswith(f"with words 40% longer {at.words}")
    # At a px more they fit, and at that width they do not.
    longer = {"headers.main.parts.menu.text": '["Programmeprog", "Lanternslant", "Visitvi"]'}
    longer |= {
        "headers.main.parts.menu.links": "{}",
        "headers.main.parts.brand.text": "Saltmeresalt",
    }
    for width, fits in ((at.high, False), (at.high + 1, True)):
        own = make_plan(text.replace("420x844", f"{width}x844")).replace(longer)
        assert ("crowded-header" not in {item.rule for item in rl.check(own)}) == fits
    # What is crowded without them is not theirs.
    plain = [item for item in rl.check(plan, readers=widths) if item.reader]
    assert {item.rule for item in plain} == {"crowded-header"}
    assert isinstance(plain[0].reader, rl.Widths)
    assert (plain[0].reader.high or 0) + 1 == at.low


def test_a_button_with_longer_words_is_cut_off(make_plan: MakePlan) -> None:
    sections = (
        "a: {height: 700px, width: 300px, content: [{text: Reservationsnummer, size: 27px, color: white, "
        "button: {to: /book}, panel: {color: '#123', padding: 8px}, at: 50% 50%}]}, b: {height: 900px}"
    )
    plan = make_plan(plan_text(header="height: 40px", sections=sections))
    assert "cut-off" not in {item.rule for item in rl.check(plan)}
    assert "cut-off" in found_for(plan, rl.LongerWords(40))


@pytest.mark.parametrize(
    ("option", "value", "words"),
    [
        ("--without", "grid", "write one of: mix-blend-mode, filter, backdrop-filter, pictures"),
        ("--content", "lots", "is not a percentage"),
        ("--content", "50..80..90", "is not a range; write 80%..130%"),
        ("--content", "1..90", "1% is not 10% to 500%"),
        ("--longer", "900", "900% is not 1% to 400%"),
    ],
)
def test_wrong_options_are_refused(site: Path, option: str, value: str, words: str) -> None:
    result = run("check", site / "regatta.yaml", option, value)
    assert result.returncode == 2
    assert words in " ".join(result.stderr.split())


def test_the_command_prints_for_whom_something_is_wrong(make_plan: MakePlan, folder: Path) -> None:
    opening = "a: {height: 900px, layers: [{image: photo.png, filter: brightness(.2)}]}, b: {height: 900px, background: '#123'}"
    make_plan(plan_text(header=CLEAR, sections=opening))
    words = ("check", folder / "plan.yaml", "--without", "pictures,filter", "--content", "100..90")
    result = run(*words, "--skip", "no-edge")
    assert "on plain without pictures" in result.stdout.replace("laptop", "plain")
    assert result.returncode == 0
