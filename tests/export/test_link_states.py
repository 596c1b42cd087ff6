"""The links of a header under the pointer, with the focus, pressed, and on their own page."""

from __future__ import annotations

from pathlib import Path

import pytest

import rising_lantern as rl
from chromium import Chromium
from plans import MakePlan
from rising_lantern.css.colors import parse_color
from rising_lantern.css.contrast import luminance_of, ratio
from rising_lantern.proofs.serving import served

PLAN = """\
rising-lantern: 1
viewports: {{laptop: 1000x600}}
headers:
  main:
    position: fixed
    height: 80px
    color: white
    background: '#16213e'
    parts:
      brand: {{text: Saltmere}}
      menu:
        text: [Home, Visit]
        side: end
        states: {states}
    looks:
      night: {{}}
      paper: {{from: {threshold}, background: '#fdf6e3', color: '#16213e'{own}}}
pages:
  home: {{sections: {{a: {{height: 2000px}}}}}}
  visit: {{sections: {{a: {{height: 2000px}}}}}}
"""
STATES = (
    "{hover: {color: '#f7b97c'}, focus: {color: '#16213e', background: '#fdf6e3'}, "
    "pressed: {color: '#ff0000'}, current: {underline: true}}"
)
PAPER = ", parts: {menu: {states: {hover: {color: '#7b3f00', underline: true}}}}"

# Of the link with some words, and where it is.
_SHOWN = """
  const [words] = arguments;
  const link = [...document.querySelectorAll('.lantern-part-menu a')].find((a) => a.textContent === words);
  const s = getComputedStyle(link), r = link.getBoundingClientRect();
  return [s.color, s.backgroundColor, s.textDecorationLine, r.left + r.width / 2, r.top + r.height / 2];
"""


def plan_of(states: str = STATES, own: str = PAPER, threshold: str = "300px") -> str:
    """A plan whose header has two looks."""
    return PLAN.format(states=states, own=own, threshold=threshold)


@pytest.mark.browser
# By CSS and by the script, which share the rules.
@pytest.mark.parametrize("threshold", ["300px", "20%"])
@pytest.mark.parametrize("scroll", [0, 700])
def test_states_are_what_the_plan_says_in_each_look(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, threshold: str, scroll: int
) -> None:
    plan = make_plan(plan_of(threshold=threshold))
    rl.export(plan).save(tmp_path / "out")
    ink, glow = (
        ("rgb(255, 255, 255)", "rgb(247, 185, 124)")
        if scroll == 0
        else ("rgb(22, 33, 62)", "rgb(123, 63, 0)")
    )
    clear, line = "rgba(0, 0, 0, 0)", "none" if scroll == 0 else "underline"

    def mouse(kind: str, x: float, y: float) -> None:
        event = {"type": kind, "x": x, "y": y, "button": "left", "clickCount": 1}
        chromium.driver.execute_cdp_cmd("Input.dispatchMouseEvent", event)

    def shown(words: str) -> list[str]:
        found: list[str] = chromium.run(_SHOWN, words)[:3]
        return found

    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/home.html", 1000, 600)
        chromium.run(
            "document.documentElement.style.scrollBehavior = 'auto'; scrollTo(0, arguments[0])",
            scroll,
        )
        chromium.when(f"scrollY === {scroll}")
        x, y = chromium.run(_SHOWN, "Visit")[3:]
        assert shown("Visit") == [ink, clear, "none"]
        assert shown("Home") == [ink, clear, "underline"]
        mouse("mouseMoved", x, y)
        assert shown("Visit") == [glow, clear, line]
        mouse("mousePressed", x, y)
        assert shown("Visit")[0] == "rgb(255, 0, 0)"
        mouse("mouseMoved", 300, 400)
        mouse("mouseReleased", 300, 400)
        # From the beginning of the page: what was pressed has the focus, and no mark of it.
        chromium.run("document.activeElement.blur()")
        chromium.open(f"{url}/home.html", 1000, 600)
        while chromium.run("return document.activeElement.textContent") != "Visit":
            chromium.driver.switch_to.active_element.send_keys("\t")
        assert shown("Visit")[:2] == ["rgb(22, 33, 62)", "rgb(253, 246, 227)"]
        chromium.open(f"{url}/visit.html", 1000, 600)
        assert shown("Visit")[2] == "underline"
        assert shown("Home")[2] == "none"


def findings_of(make_plan: MakePlan, states: str, own: str = "") -> list[rl.Finding]:
    """What is found about links of the header, on one page."""
    return list(rl.check(make_plan(plan_of(states, own)), "home", only="unreadable-link"))


def test_each_state_is_measured_in_each_look(make_plan: MakePlan) -> None:
    (hover,) = findings_of(make_plan, "{hover: {color: '#f7b97c'}}")
    assert str(hover.subject) == "main, menu in paper, hover"
    assert hover.level == "error"
    assert hover.message.startswith("under the pointer its contrast falls to 1.6")
    assert hover.scroll == (300, 1400)
    assert hover.measured == pytest.approx(_ratio("#f7b97c", "#fdf6e3"), abs=0.01)
    assert hover.limit == 4.5
    assert hover.place.line == 14
    assert findings_of(make_plan, "{hover: {color: '#f7b97c'}}", PAPER) == []


def _ratio(one: str, other: str) -> float:
    """The contrast of two colours."""
    return float(ratio(luminance_of(parse_color(one)), luminance_of(parse_color(other))))


def test_a_background_of_its_own_counts_in_place_of_what_is_behind(make_plan: MakePlan) -> None:
    good = "{focus: {color: '#16213e', background: '#f7b97c'}}"
    assert findings_of(make_plan, good) == []
    (low,) = findings_of(make_plan, "{focus: {background: '#f7b97c'}}")  # white letters at first
    assert str(low.subject) == "main, menu in night, focus"
    assert low.measured == pytest.approx(_ratio("#ffffff", "#f7b97c"), abs=0.01)


def test_states_over_a_picture_are_measured_where_it_is_bright(make_plan: MakePlan) -> None:
    text = plan_of("{current: {color: '#888888'}}").replace("background: '#16213e'", "blur: 0px")
    picture = "a: {height: 1200px, layers: [{image: photo.png}]}, b: {height: 1300px}"
    plan = make_plan(text.replace("a: {height: 2000px}", picture))
    found = rl.check(plan, "home", only="unreadable-link")
    look = next(item for item in found if item.subject.look == "night")
    assert look.message.startswith("on the page that it leads to")
    with_ink = plan.replace({"headers.main.parts.menu.color": "'#888888'"})
    table = with_ink.view("home").contrast()
    own = table[(table.part == "menu") & (table.scroll_px < 300)]
    assert look.measured == pytest.approx(own.contrast.min(), rel=0.02)


@pytest.mark.parametrize(
    ("part", "fault"),
    [
        ("{text: A, states: {hover: {background: '#fff8'}}}", "make it opaque"),
        ("{image: logo-dark.png, states: {hover: {color: red}}}", "tint it"),
        ("{text: A, states: {over: {color: red}}}", "unknown key 'over'"),
    ],
)
def test_states_that_cannot_be_are_refused(make_plan: MakePlan, part: str, fault: str) -> None:
    text = plan_of().replace("brand: {text: Saltmere}", f"brand: {part}")
    with pytest.raises(rl.PlanError, match=fault):
        make_plan(text)


def test_a_tinted_picture_has_states(make_plan: MakePlan) -> None:
    part = "brand: {image: logo-dark.png, alt: Saltmere, tint: current, states: {hover: {color: '#20305a'}}}"
    text = plan_of("{current: {underline: true}}").replace("brand: {text: Saltmere}", part)
    found = rl.check(make_plan(text), "home", only="unreadable-link")
    assert {str(item.subject) for item in found} == {"main, brand in night, hover"}
    assert {item.limit for item in found} == {3}


def test_tune_gives_a_state_a_colour_in_the_look_that_lacks_it(make_plan: MakePlan) -> None:
    plan = make_plan(plan_of("{hover: {color: '#f7b97c'}, pressed: {color: '#ffcf9a'}}", ""))
    proposals = rl.tune(plan, "home", only="unreadable-link", jobs=1)
    assert len(proposals) == 2
    for proposal in proposals:
        assert {fix.path[:4] for fix in proposal.fixes} >= {("headers", "main", "looks", "paper")}
        after = plan.apply(proposal.fixes[0])
        gone = {str(item.subject) for item in proposal.findings}
        left = {str(item.subject) for item in rl.check(after, "home", only="unreadable-link")}
        assert not gone & left
