"""Links in texts: their letters and lines in Chromium, where they lead, and what is checked."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from findings import found
from pages import write_pages
from plans import MakePlan, plan_text
from rising_lantern.proofs.serving import served

_TEXT = "Four hundred boats and a lantern for everyone who comes down to the quay at dusk"


def of(content: str, page: str = "", background: str = "white") -> str:
    """A page of one text that flows."""
    section = f"a: {{padding: 60px, background: '{background}', content: [{{{content}}}]}}"
    return plan_text(sections=f"{section}, b: {{height: 900px}}", page=page)


@pytest.mark.browser
@pytest.mark.parametrize(
    "content",
    [
        f"text: {_TEXT}, size: 30px, width: 420px, links: {{a lantern for everyone: /x}}",
        f"text: {_TEXT}, size: 17px, links: {{Four: /a, dusk: /b, who comes: /c}}, align: center",
        f"text: {_TEXT}, size: 52px, weight: 700, links: {{boats: /a}}, underline: false",
        f"text: {_TEXT}, size: one-line, links: {{boats and a lantern: /a}}",
        "text: 'Two\n\nlines  of   it', size: 28px, links: {Two lines: /a, it: /b}",
    ],
)
def test_links_are_painted_and_placed_as_in_the_browser(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, content: str
) -> None:
    page = "color: '#16213e', link-color: '#b0321a'"
    view = make_plan(of(content, page)).view()
    write_pages([view], tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        shot = chromium.screenshot().astype(int)
        rectangles = chromium.run(
            "return [...document.querySelectorAll('.lantern-text > a')].map((link) =>"
            " [...link.getClientRects()].map((r) => [r.left, r.width]))"
        )
    (text,) = view.scene.box.sections[0].content
    links = sorted(text.links, key=lambda link: (link.boxes[0].top, link.boxes[0].left))
    for link, rects in zip(links, rectangles, strict=True):
        expected = [(box.left, box.width) for box in link.boxes]
        found_ = [tuple(rect) for rect in rects if rect[1] > 0]
        assert np.allclose(found_, expected, atol=0.5)
    frame = view.pixels(0).astype(int)
    assert np.abs(shot - frame).mean() < 3
    # The rows of an underline, and no others next to them, are the link's colour throughout.
    red = abs(shot - (176, 50, 26)).sum(axis=-1) < 12
    for line in (line for link in text.links for line in link.underlines):
        top, high = int(line.top), int(line.height)
        across = slice(round(line.left) + 1, round(line.right) - 1)
        full = red[top - 1 : top + high + 1, across].all(axis=1)
        assert full.tolist() == [False, *[True] * high, False]
    assert any(link.underlines for link in text.links) == ("underline: false" not in content)


def test_links_lead_to_pages_of_the_plan_or_where_they_say(make_plan: MakePlan) -> None:
    plan = make_plan(
        "rising-lantern: 1\nviewports: {laptop: 1000x600}\npages:\n"
        "  home: {path: /, sections: {a: {height: auto, content: [{text: one two three four, "
        "links: {one: visit, two: /journal/x, three: 'https://saltmere.example/?a=1&b=2', "
        "four: '#a'}}]}}}\n"
        "  visit: {sections: {a: {height: 9px}}}\n"
        "  journal: {path: /journal/x, sections: {a: {height: 9px}}}\n"
    )
    html = rl.export(plan).text("home.html")
    for target, words in (
        ("visit.html", "one"),
        ("journal.html", "two"),
        ("https://saltmere.example/?a=1&amp;b=2", "three"),
        ("#a", "four"),
    ):
        assert f'<a href="{target}">{words}</a>' in html


@pytest.mark.parametrize(
    ("links", "fault"),
    [
        ("{five: /x}", "the text has no words 'five'"),
        ("{one two: /x, two three: /y}", "'two three' is in another link"),
        ("{one: 'javascript:alert(1)'}", "is not an address for a link"),
        ("{one: ' JAVASCRIPT:alert(1)'}", "is not an address for a link"),
        ("{one: 'data:text/html,x'}", "is not an address for a link"),
        ("{one: 'vbscript:x'}", "is not an address for a link"),
        ("{one: ''}", "the link leads nowhere"),
    ],
)
def test_a_link_that_cannot_be_is_refused(folder: Path, links: str, fault: str) -> None:
    (folder / "plan.yaml").write_text(of(f"text: one two three, links: {links}"), "utf-8")
    with pytest.raises(rl.PlanError) as caught:
        rl.read(folder / "plan.yaml")
    assert fault in str(caught.value)


@pytest.mark.parametrize(
    ("colors", "states"),
    [
        ("'#767676'", []),  # 4.54 on white
        ("'#777777'", [""]),  # 4.48
        ("{color: '#333', visited: '#999'}", ["once it is followed"]),
        ("{color: '#333', visited: '#222', focus: '#aaa'}", ["while it has the focus"]),
        ("{color: '#999', visited: '#999', focus: '#aaa'}", ["", "while it has the focus"]),
    ],
)
def test_links_are_read_in_each_of_their_states(
    make_plan: MakePlan, colors: str, states: list[str]
) -> None:
    plan = make_plan(of(f"text: {_TEXT}, links: {{a lantern: /x}}, link-color: {colors}"))
    messages = [item.message for item in found(plan, "unreadable-link")]
    assert len(messages) == len(states)
    for message, state in zip(messages, states, strict=True):
        assert message.startswith(state or "its contrast")


@pytest.mark.parametrize(
    ("content", "contrast"),
    [
        ("links: {a lantern: /x}, link-color: '#333', underline: false", 1.66),
        ("links: {a lantern: /x}, link-color: '#595959', underline: false", 2.999),
        ("links: {a lantern: /x}, link-color: '#5a5a5a', underline: false", None),
        ("links: {a lantern: /x}, link-color: '#333'", None),
        (f"links: {{{_TEXT}: /x}}, link-color: '#333', underline: false", None),
    ],
)
def test_a_link_differs_from_the_text_around_it_or_is_underlined(
    make_plan: MakePlan, content: str, contrast: float | None
) -> None:
    findings = found(make_plan(of(f"text: {_TEXT}, {content}")), "unmarked-link")
    assert [item.measured for item in findings] == (
        [pytest.approx(contrast, abs=0.01)] if contrast else []
    )


_BUTTON = (
    "text: Reserve a place, panel: {color: '#f4a259', padding: 16px, radius: 6px}, color: '#16213e'"
)


@pytest.mark.parametrize(
    ("states", "messages"),
    [
        ("{to: /x}", []),
        (
            "{to: /x, hover: {background: '#16213e'}}",
            ["under the pointer its contrast falls to 1.00"],
        ),
        ("{to: /x, hover: {background: '#16213e', color: white}}", []),
        ("{to: /x, pressed: {color: '#d98a3f'}}", ["while it is pressed its contrast"]),
        (
            "{to: /x, focus: {color: white}, pressed: {background: '#333'}}",
            ["while it has the focus", "while it is pressed"],
        ),
    ],
)
def test_a_button_is_read_in_each_of_its_states(
    make_plan: MakePlan, states: str, messages: list[str]
) -> None:
    result = found(make_plan(of(f"{_BUTTON}, button: {states}")), "unreadable-link")
    for item, message in zip(result, messages, strict=True):
        assert item.message.startswith(message)
        assert str(item.subject) == 'a, "Reserve a place"'


@pytest.mark.browser
def test_a_button_has_its_states_in_the_browser(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    states = (
        "{to: page, hover: {color: white, background: '#16213e'}, focus: {background: '#f7b97c'}}"
    )
    view = make_plan(of(f"{_BUTTON}, button: {states}")).view()
    write_pages([view], tmp_path / "out")
    (text,) = view.scene.box.sections[0].content
    shown = (
        "const s = getComputedStyle(document.querySelector('.lantern-text'));"
        " return [s.color, s.backgroundColor, s.textDecorationLine]"
    )
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        (button,) = chromium.driver.find_elements("css selector", "a.lantern-text")
        assert str(button.get_attribute("href")).endswith("/page.html")
        box = chromium.run(
            "const r = arguments[0].getBoundingClientRect(); return [r.left, r.top, r.width, r.height]",
            button,
        )
        assert box == pytest.approx(
            [text.box.left, text.box.top, text.box.width, text.box.height], abs=0.5
        )
        assert chromium.run(shown) == ["rgb(22, 33, 62)", "rgb(244, 162, 89)", "none"]
        middle = {"x": box[0] + 20, "y": box[1] + 20}
        chromium.driver.execute_cdp_cmd("Input.dispatchMouseEvent", {"type": "mouseMoved"} | middle)
        assert chromium.run(shown) == ["rgb(255, 255, 255)", "rgb(22, 33, 62)", "none"]
        away = {"type": "mouseMoved", "x": 900, "y": 500}
        chromium.driver.execute_cdp_cmd("Input.dispatchMouseEvent", away)
        chromium.driver.switch_to.active_element.send_keys("\t")
        assert chromium.run(shown)[1] == "rgb(247, 185, 124)"


@pytest.mark.parametrize(
    ("content", "fault"),
    [
        ("text: Go, button: {to: /x, hover: {background: red}}", "has no background to change"),
        (f"{_BUTTON}, button: {{to: /x, hover: {{background: '#fff8'}}}}", "make it opaque"),
        ("text: Go now, button: /x, links: {now: /y}", "a button has no links in it"),
        ("text: Go, button: /x, level: 2", "a button is no heading"),
        ("text: Go, button: 'javascript:x'", "is not an address for a link"),
    ],
)
def test_a_button_that_cannot_be_is_refused(folder: Path, content: str, fault: str) -> None:
    (folder / "plan.yaml").write_text(of(content), "utf-8")
    with pytest.raises(rl.PlanError) as caught:
        rl.read(folder / "plan.yaml")
    assert fault in str(caught.value)
