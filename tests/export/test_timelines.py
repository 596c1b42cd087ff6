"""Headers whose looks follow the scroll by CSS alone, and those that need the script."""

from __future__ import annotations

import math
from pathlib import Path

import pytest

import rising_lantern as rl
from chromium import Chromium
from plans import MakePlan, plan_text
from rising_lantern.proofs.proving import without_timelines
from rising_lantern.proofs.serving import served

_BAR = "position: fixed, height: 80px, top: 10px, background: white, color: black, "
_BY_CSS = {
    "lengths": "looks: {a: {}, b: {from: 30px}, c: {from: 20vh, background: red}}",
    "shares": "looks: {a: {}, b: {from: 30%, height: 50px}, c: {from: calc(40% + 7px)}}",
    "edges": "looks: {a: {}, b: {from: past opening, height: 50px}, c: {from: past second}}",
    "offsets": "looks: {a: {}, b: {from: reach second - 4vh}, c: {from: past second + 31px}}",
    "beyond": "looks: {a: {}, b: {from: past opening + 700px}, c: {from: 1440px}}",
    "tall": "looks: {a: {}, b: {from: reach third - 700px}, c: {from: reach third}}",
    "never": "looks: {a: {}, b: {from: 40px}, c: {from: 9000px}}",
    "fades": "looks: {a: {}, b: {from: 40px, change: fade 90ms}, c: {from: 80px, change: fade 90ms}}",
    "blends": "looks: {a: {}, b: {from: 40px, background: red, change: blend 90px ease-in}, "
    "c: {from: past opening, color: red, change: blend 10vh}, d: {from: 1400px, change: fade 80ms}}",
}
_BY_SCRIPT = {
    "back": "looks: {a: {}, b: {from: 40px, back: 20px}}",
    "lag": "looks: {a: {}, b: {from: 40px, background: red, change: blend 90px lag 100ms}}",
    "direction": "looks: {a: {}, b: {from: 40px, going: up}}",
    "arrival": "looks: {a: {}, b: {from: 40px, arrive: slide}}",
    "tones": "looks: {a: {}, b: {background: black}}, under: {light: a, dark: b}",
    "times": "looks: {a: {}, b: {from: 40px, change: fade 90ms}, c: {from: 80px, change: fade 9ms}}",
    "cut": "looks: {a: {}, b: {from: 40px, change: fade 90ms}, c: {from: 80px, change: cut}}",
    "order": "looks: {a: {}, b: {from: past opening}, c: {from: 80px}}",
    "close": "looks: {a: {}, b: {from: 40px, background: red, change: blend 90px}, c: {from: 90px}}",
    "top": "looks: {a: {}, b: {from: 0px}}",
    "range": "looks: {a: {}, b: {from: past opening + 5%}}",
    "keyword": "looks: {a: {}, initial: {from: 40px}}",
    "one": "looks: {a: {}}",
}


def header_of(looks: str, place: str = _BAR) -> str:
    """A plan's header with some looks."""
    return f"{place}{looks}"


def is_by_css(plan: rl.Plan) -> bool:
    """Whether the header of the exported page is switched by CSS."""
    made = rl.export(plan)
    html, css = made.text("page.html"), made.text("lantern.css")
    found = {'"css": true' in html, "data-look=" not in html, "--lantern-look: a;" in css}
    assert len(found) == 1
    return found.pop()


@pytest.mark.parametrize("looks", _BY_CSS.values(), ids=_BY_CSS)
def test_looks_that_follow_thresholds_need_no_script(make_plan: MakePlan, looks: str) -> None:
    assert is_by_css(make_plan(plan_text(header=header_of(looks))))


@pytest.mark.parametrize("looks", _BY_SCRIPT.values(), ids=_BY_SCRIPT)
def test_looks_that_depend_on_more_need_it(make_plan: MakePlan, looks: str) -> None:
    assert not is_by_css(make_plan(plan_text(header=header_of(looks))))


@pytest.mark.parametrize(
    ("place", "by_css"),
    [
        ("position: sticky, height: 80px, ", False),
        ("position: sticky, height: 80px, hold-space: true, ", True),
        ("position: static, height: 80px, hold-space: true, ", True),
        ("position: absolute, height: 80px, ", True),
    ],
)
def test_a_header_that_would_start_its_looks_again_needs_it(
    make_plan: MakePlan, place: str, by_css: bool
) -> None:
    looks = "looks: {a: {}, b: {from: 300px, height: 50px}, c: {from: past opening}}"
    assert is_by_css(make_plan(plan_text(header=header_of(looks, place)))) is by_css


def test_a_page_that_scrolls_in_an_element_needs_it(make_plan: MakePlan) -> None:
    text = plan_text(header=header_of(_BY_CSS["lengths"]), page='scroll-container: "#app"')
    assert not is_by_css(make_plan(text))


_STATE = """
const said = getComputedStyle(document.body);
const header = getComputedStyle(document.querySelector("header"));
const say = (name) => said.getPropertyValue(`--lantern-${name}`);
return [say("look"), header.height, header.backgroundColor];
"""


def _positions(view: rl.View) -> list[int]:
    """Those around each switch, the ends, and some in blends."""
    switches = view.scene.switches
    assert switches is not None
    starts = [step.start for step in switches.steps[1:]]
    around = {math.ceil(start) + by for start in starts for by in (-1, 0, 1, 30)}
    kept = {0, *around, switches.max_scroll}
    return sorted(place for place in kept if 0 <= place <= switches.max_scroll)


@pytest.mark.browser
@pytest.mark.parametrize("way", ["css", "script", "alone"])
@pytest.mark.parametrize("looks", _BY_CSS.values(), ids=_BY_CSS)
def test_a_browser_shows_the_planned_look_either_way(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, looks: str, way: str
) -> None:
    plan = make_plan(plan_text(header=header_of(looks)))
    view = plan.view("page", "laptop")
    out = tmp_path / "out"
    rl.export(plan).save(out)
    if way == "script":
        without_timelines(out)
    if way == "alone":
        for script in out.glob("*.js"):
            script.unlink()
    chromium.leave()
    with served(out) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        positions = _positions(view)
        for position in [*positions, *reversed(positions)]:
            chromium.scroll(position)
            look, height, ground = chromium.run(_STATE)
            moment = view.at(float(position))
            assert moment.header is not None
            assert look == moment.look
            assert float(height[:-2]) == pytest.approx(moment.header.box.height, abs=0.02)
            assert ground.startswith("rgb")
        set_by_script = chromium.run("return document.body.style.length > 0")
    assert set_by_script is (way == "script")
    chromium.log()


@pytest.mark.browser
def test_a_page_that_does_not_scroll_stays_in_its_first_look(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    header = header_of(_BY_CSS["lengths"])
    plan = make_plan(plan_text(header=header, sections="opening: {height: 200px}"))
    assert is_by_css(plan)
    rl.export(plan).save(tmp_path / "out")
    chromium.leave()
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        assert chromium.run(_STATE)[0] == "a"


@pytest.mark.browser
def test_a_site_that_asks_for_the_look_gets_it(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    out = tmp_path / "out"
    rl.export(make_plan(plan_text(header=header_of(_BY_CSS["lengths"])))).save(out)
    page = out / "page.html"
    page.write_text(
        page.read_text("utf-8").replace("<header ", "<header data-theme='own' data-look "), "utf-8"
    )
    chromium.leave()
    with served(out) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        for position, look in ((0, "a"), (30, "b"), (29, "a"), (500, "c")):
            chromium.scroll(position)
            data = "return {...document.querySelector('header').dataset}"
            assert chromium.run(data) == {"theme": "own", "look": look, "here": ""}
            assert chromium.run(_STATE)[0] == look


@pytest.mark.browser
def test_a_threshold_that_css_follows_can_be_tuned(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    out = tmp_path / "out"
    rl.export(make_plan(plan_text(header=header_of(_BY_CSS["offsets"])))).save(out)
    css = (out / "lantern.css").read_text("utf-8")
    assert "--lantern-c-from: 31px;" in css
    (out / "lantern.css").write_text(css.replace("-c-from: 31px;", "-c-from: 40px;"), "utf-8")
    looks = {}
    chromium.leave()
    for way in ("css", "script"):
        if way == "script":
            without_timelines(out)
        with served(out) as url:
            chromium.open(f"{url}/page.html", 1000, 600)
            for position in (1440, 1449, 1450):
                chromium.scroll(position)
                looks[way, position] = chromium.run(_STATE)[0]
    # Its lower edge, 1500 px down the page, is at the header's, 90 px down the screen.
    assert looks == {
        (way, at): look
        for way in ("css", "script")
        for at, look in ((1440, "b"), (1449, "b"), (1450, "c"))
    }


@pytest.mark.browser
@pytest.mark.parametrize("way", ["css", "script"])
def test_no_script_runs_while_css_follows_the_scroll(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, way: str
) -> None:
    out = tmp_path / "out"
    rl.export(make_plan(plan_text(header=header_of(_BY_CSS["edges"])))).save(out)
    if way == "script":
        without_timelines(out)
    spy = (
        "<script>const add = window.addEventListener; window.heard = 0;"
        "window.addEventListener = function (kind, ...rest) {"
        " heard += kind === 'scroll'; return add.call(this, kind, ...rest); };</script>"
    )
    page = out / "page.html"
    page.write_text(page.read_text("utf-8").replace("<head>", f"<head>{spy}"), "utf-8")
    chromium.leave()
    with served(out) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        assert chromium.run("return document.documentElement.dataset.lantern") == "ready"
        assert (chromium.run("return heard") > 0) is (way == "script")


_SEVERAL = """
rising-lantern: 1
viewports: {laptop: 1000x600}
headers:
  main:
    position: fixed
    height: 80px
    background: white
    parts: {name: {text: Saltmere}}
    looks: {a: {}, b: {from: 40px, background: '#16213e'}}
    show: {only: [home]}
  other:
    position: fixed
    height: 50px
    background: '#f4a259'
    parts: {name: {text: Saltmere}}
    looks: {a: {}, c: {from: 300px, background: black, height: 90px}, d: {from: past second}}
    show: {only: [visit]}
  still:
    position: fixed
    height: 60px
    background: '#a03020'
    show: {only: [plain]}
pages:
  home: &page {sections: {first: {height: 700px}, second: {height: 500px}, last: {height: 900px}}}
  visit: *page
  plain: *page
"""


@pytest.mark.browser
@pytest.mark.usefixtures("needs_chromium")
def test_headers_of_several_pages_keep_to_their_own(make_plan: MakePlan) -> None:
    plan = make_plan(_SEVERAL)
    proof = rl.prove(plan, engines=["chromium"])
    assert {view.way for view in proof.views if view.page != "plain"} == {"css", "script"}
    assert [view for view in proof.views if not view.agrees] == []
