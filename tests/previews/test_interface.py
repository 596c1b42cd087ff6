"""The preview page, driven in a real browser as a person would."""

from __future__ import annotations

import json
import os
import shutil
import subprocess
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from selenium.webdriver.common.action_chains import ActionChains
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.select import Select

import rising_lantern as rl
from chromium import Chromium
from interface import settled, until
from node import PACKAGES, npm
from pictures import paint_pictures
from plans import plan_text
from rising_lantern.previews.document import embedded_json, interface_script
from thorough import some
from videos import write_video

pytestmark = pytest.mark.browser

PLAN = """
rising-lantern: 1
title: Saltmere, by night
viewports: {laptop: 1000x600, phone: 390x700}
headers:
  main:
    position: fixed
    height: 80px
    background: '#101828'
    color: white
    parts: {menu: {text: [Boats, Tides], side: end}}
    looks:
      tall: {}
      slim: {from: 240px, back: 180px, height: 60px, change: fade 200ms ease-out}
pages:
  boats:
    sections:
      opening: {height: 700px, background: white, content: [{text: Lanterns, size: 40px, at: 50% 60%}]}
      quay:
        height: 900px
        layers: [{image: photo.png, speed: 0.5}]
      fading:
        height: 800px
        background: white
        content: [{text: Hardly there, color: '#cccccc', size: 24px, at: 50% 50%}]
  tides:
    sections:
      high: {height: 1200px, background: '#eeeeee'}
"""

_AXE = """
const done = arguments[0];
axe.run(document, { iframes: false }).then((result) => done(result.violations.map((item) =>
  [item.id, item.nodes.map((node) => node.html.slice(0, 160))])));
"""


@pytest.fixture(scope="module")
def page(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """A preview page of a small plan with one variant."""
    folder = tmp_path_factory.mktemp("preview")
    paint_pictures(folder)
    (folder / "plan.yaml").write_text(PLAN, "utf-8")
    plan = rl.read(folder / "plan.yaml")
    slower = plan.replace({"pages.boats.sections.opening.height": "1400px"})
    path = folder / "preview.html"
    rl.preview(plan, variants={"taller": slower}).save(path)
    return path


@pytest.fixture
def open_at(chromium: Chromium, page: Path) -> Iterator[Callable[..., Chromium]]:
    """Opens the preview page; at the end nothing has been said or asked for."""

    def opened(hash_: str = "", width: int = 1280, height: int = 800) -> Chromium:
        chromium.open("about:blank", width, height)
        chromium.open(f"{page.as_uri()}{hash_}", width, height)
        settled(chromium)
        return chromium

    chromium.leave()
    yield opened
    assert chromium.log() == []
    own = ("data:", "blob:", "about:", page.as_uri())
    assert [item for item in chromium.requests() if not item.startswith(own)] == []


def shown(browser: Chromium, frame: int = 0) -> dict[str, Any]:
    """What the page in a frame shows: its scroll position, look and size."""
    result: dict[str, Any] = browser.run(
        """
        const inner = document.querySelectorAll("#stage iframe")[arguments[0]].contentWindow;
        const look = inner.getComputedStyle(inner.document.body).getPropertyValue("--lantern-look");
        const header = inner.document.querySelector("[data-look]");
        return { at: inner.scrollY, look: header?.dataset.look ?? (look || null),
          wide: inner.innerWidth, high: inner.innerHeight, title: inner.document.title,
          page: inner.document.body.dataset.lanternPage };
        """,
        frame,
    )
    return result


def window(browser: Chromium) -> int:
    """The scroll position that the long view says."""
    return int(browser.run("return document.getElementById('long-window').ariaValueNow"))


def test_the_page_runs_in_its_viewport_and_the_long_view_follows(
    open_at: Callable[..., Chromium],
) -> None:
    browser = open_at("#page=boats&viewport=laptop&at=300")
    state = shown(browser)
    assert (state["at"], state["look"], state["page"]) == (300, "slim", "boats")
    assert (state["wide"], state["high"]) == (1000, 600)
    assert window(browser) == 300
    browser.run("document.querySelector('#stage iframe').contentWindow.scrollTo(0, 120)")
    until(browser, "document.getElementById('long-window').ariaValueNow === '120'")
    text = browser.run("return document.getElementById('long-window').ariaValueText")
    assert text == "120 px, opening, look tall"
    until(browser, "location.hash.includes('at=120')")


def test_the_window_is_dragged_clicked_and_moved_by_keys(
    open_at: Callable[..., Chromium],
) -> None:
    browser = open_at()
    picture = browser.driver.find_element("id", "long-picture")
    slider = browser.driver.find_element("id", "long-window")
    ActionChains(browser.driver).move_to_element(slider).click_and_hold().move_by_offset(
        0, 60
    ).release().perform()
    until(browser, "document.querySelector('#stage iframe').contentWindow.scrollY > 100")
    dragged = window(browser)
    assert dragged == shown(browser)["at"]
    height = picture.size["height"]
    assert dragged == pytest.approx(60 / height * 2400, abs=12)
    ActionChains(browser.driver).move_to_element_with_offset(
        picture, 0, int(height / 2 - 4)
    ).click().perform()
    assert window(browser) == 1800  # the end of the page
    slider.send_keys(Keys.HOME)
    assert window(browser) == 0
    slider.send_keys(Keys.PAGE_DOWN)
    assert window(browser) == 540
    slider.send_keys(Keys.ARROW_DOWN, Keys.ARROW_RIGHT)
    assert window(browser) == 551
    until(browser, "document.querySelector('#stage iframe').contentWindow.scrollY === 551")


def test_a_pin_jumps_to_the_worst_position_and_says_what_fixes_it(
    open_at: Callable[..., Chromium], page: Path
) -> None:
    browser = open_at()
    (finding,) = [
        item
        for item in rl.check(rl.read(page.parent / "plan.yaml"), "boats", "laptop")
        if item.rule == "unreadable-content"
    ]
    labels = browser.run(
        "return [...document.querySelectorAll('.pin')].map((pin) => pin.ariaLabel)"
    )
    assert any("unreadable-content" in label for label in labels)
    index = next(place for place, label in enumerate(labels) if "unreadable" in label)
    browser.driver.find_elements("css selector", ".pin")[index].click()
    assert window(browser) == round(finding.worst)
    chosen = browser.run(
        "return document.querySelector('.findings [aria-pressed=true]').textContent"
    )
    assert finding.message in chosen
    assert f"Fix: {finding.remedy.words}" in chosen
    browser.run("document.querySelector('.band:last-of-type').click()")
    assert window(browser) == 240


def test_page_screen_and_position_are_chosen_and_kept_in_the_address(
    open_at: Callable[..., Chromium],
) -> None:
    browser = open_at()
    browser.driver.find_element("css selector", "#viewport label:nth-of-type(2)").click()
    until(browser, "document.querySelector('#stage iframe').contentWindow.innerWidth === 390")
    settled(browser)
    place = browser.driver.find_element("id", "at")
    for typed, expected in (("25%", 425), ("past opening", 640), ("reach quay - 40px", 600)):
        place.clear()
        place.send_keys(typed, Keys.ENTER)
        assert window(browser) == expected, typed
    place.clear()
    place.send_keys("nowhere", Keys.ENTER)
    assert browser.run("return document.getElementById('at').ariaInvalid") == "true"
    assert "past opening" in browser.run("return document.getElementById('at-help').textContent")
    browser.run("document.querySelector('#stage iframe').contentWindow.scrollTo(0, 333)")
    until(browser, "location.hash.includes('viewport=phone') && location.hash.includes('at=333')")
    hash_ = browser.run("return location.hash")
    again = open_at(hash_)
    until(again, "document.querySelector('#stage iframe').contentWindow.scrollY === 333")
    # A link of the page leads to the page of the plan.
    again.run("document.querySelector('#page').value = 'tides'")
    again.run("document.querySelector('#page').dispatchEvent(new Event('change'))")
    until(again, "document.querySelector('#stage iframe').title.startsWith('tides')")
    settled(again)
    assert shown(again)["page"] == "tides"
    again.run(
        "document.querySelector('#stage iframe').contentDocument"
        ".querySelector('a[href=\"boats.html\"]').click()"
    )
    until(again, "document.querySelector('#stage iframe').title.startsWith('boats')")
    settled(again)


def test_two_variants_scroll_together_by_section(open_at: Callable[..., Chromium]) -> None:
    browser = open_at("#at=350&beside=taller")
    assert browser.run("return document.querySelectorAll('#stage iframe').length") == 2
    # Half of the first section in both: 350 of 700 px is 700 of 1,400 px.
    assert (shown(browser, 0)["at"], shown(browser, 1)["at"]) == (350, 700)
    browser.run("document.querySelectorAll('#stage iframe')[1].contentWindow.scrollTo(0, 1000)")
    until(browser, "document.querySelectorAll('#stage iframe')[0].contentWindow.scrollY === 500")
    captions = browser.run(
        "return [...document.querySelectorAll('figcaption')].map((item) => item.textContent)"
    )
    assert captions == ["as it is", "taller"]


def test_a_gesture_is_played_stepped_and_stopped(open_at: Callable[..., Chromium]) -> None:
    browser = open_at()
    browser.run("document.getElementById('half').click()")
    browser.run("document.getElementById('play').click()")
    until(browser, "document.querySelector('#stage iframe').contentWindow.scrollY > 300")
    browser.run("document.getElementById('play').click()")
    stopped = window(browser)
    assert browser.run("return document.getElementById('play').textContent") == "Go on"
    time.sleep(0.2)
    assert window(browser) == stopped
    clock = browser.run("return document.getElementById('clock').textContent")
    browser.run("document.getElementById('step').click()")
    after = browser.run("return document.getElementById('clock').textContent")
    assert 0 <= float(after.split()[0]) - float(clock.split()[0]) < 0.03
    assert window(browser) > stopped


def test_the_moment_says_what_the_library_says(
    open_at: Callable[..., Chromium], page: Path
) -> None:
    browser = open_at("#at=240&panel=moment")
    view = rl.read(page.parent / "plan.yaml").view("boats", "laptop")
    pairs = browser.run(
        "return [...document.querySelectorAll('#moment > div')].map((item) => "
        "[item.children[0].textContent, item.children[1].textContent])"
    )
    said = dict(pairs)
    moment = view.at(240)
    assert said["Position"] == "240 px of 1,800 px"
    assert said["Look"] == moment.look == "slim"
    assert moment.header is not None
    assert said["Header"] == f"{moment.header.box.height:g} px high, at 0 px"
    assert said["Switched"] == "slim from 240 px, fades in 200 ms, ease-out, back below 180 px"
    table = view.contrast()
    row = table[(table["scroll_px"] == 240) & (table["part"] == "menu")].iloc[0]
    assert said["Contrast, menu"] == f"{row['contrast']:.2f} of 4.50"
    layer = next(item for item in moment.layers if item.section == "quay")
    offset = layer.box.top - moment.sections["quay"].top
    assert float(said["Offset, quay, layer 0"].split()[0]) == pytest.approx(offset, abs=0.01)
    browser.run("document.body.focus()")
    ActionChains(browser.driver).send_keys("c").perform()
    until(browser, "document.getElementById('said').textContent")


def test_the_page_as_another_reader_has_it(open_at: Callable[..., Chromium]) -> None:
    browser = open_at("#at=300")
    browser.run("document.getElementById('scriptless').click()")
    settled(browser)
    until(
        browser,
        "document.querySelector('#stage iframe').contentDocument.querySelector('section') && "
        "!document.querySelector('#stage iframe').contentDocument"
        ".querySelector('script[src]')",
    )
    browser.run("document.getElementById('scriptless').click()")
    settled(browser)
    browser.run("document.querySelector('input[name=zoom][value=\"2\"]').click()")
    until(browser, "document.querySelector('#stage iframe').contentWindow?.innerWidth === 500")
    settled(browser)
    browser.run("document.querySelector('input[name=zoom][value=\"1\"]').click()")
    settled(browser)
    moving = (
        "document.querySelector('#stage iframe').contentWindow.getComputedStyle("
        "document.querySelector('#stage iframe').contentDocument"
        ".querySelector('.lantern-layer')).animationName"
    )
    until(browser, f"{moving} !== 'none'")
    browser.run("document.getElementById('motionless').click()")
    settled(browser)
    until(browser, f"{moving} === 'none'")
    browser.run("document.querySelector('input[name=sight][value=deutan]').click()")
    assert "deutan" in browser.run("return document.querySelector('.screen').style.filter")
    until(browser, "location.hash.includes('sight=deutan')")
    assert "motionless" in browser.run("return location.hash")


def test_colours_for_readers_without_red_or_green_are_those_of_the_model(
    open_at: Callable[..., Chromium],
) -> None:
    """A known pair: full red for a protanope, by the published matrix on linear light."""
    browser = open_at()
    browser.run(
        """document.body.insertAdjacentHTML("beforeend",
        '<div id="red" style="position:fixed;z-index:99;left:0;top:0;width:9px;height:9px;'
        + 'background:#ff0000;filter:url(#protan)"></div>')"""
    )
    linear = [0.152286, 0.114503, 0.0]  # the matrix's first column; below 0 is cut off
    encoded = [255 * (1.055 * value ** (1 / 2.4) - 0.055) if value else 0 for value in linear]
    assert browser.screenshot()[4, 4] == pytest.approx(encoded, abs=2)
    browser.run("document.getElementById('red').remove()")


@pytest.mark.parametrize(
    ("width", "height", "hash_", "theme"),
    some(
        [
            (1280, 800, "#panel=findings", "dark"),
            (1280, 800, "#panel=header&viewport=phone", "dark"),
            (820, 1180, "#panel=moment&beside=taller", "dark"),
            (390, 844, "#page=tides&zoom=2", "dark"),
            (1280, 800, "#panel=header&viewport=phone", "light"),
            (820, 1180, "#panel=moment&beside=taller", "light"),
            (390, 844, "#page=tides&zoom=2", "light"),
            (1280, 800, "#panel=findings", "light"),
        ],
        3,
    ),
)
def test_an_accessibility_engine_finds_nothing_in_the_interface(
    open_at: Callable[..., Chromium], theme: str, width: int, height: int, hash_: str
) -> None:
    script = PACKAGES / "axe-core" / "axe.min.js"
    if not script.is_file():
        if os.environ.get("RISING_LANTERN_BROWSER") == "required":
            pytest.fail("axe-core is not installed")
        pytest.skip("axe-core is not installed")
    browser = open_at(hash_, width, height)
    now = browser.run("return document.documentElement.dataset.theme")
    if now != theme:
        browser.run("document.getElementById('theme').click()")
    browser.run(script.read_text("utf-8") + "; return null")
    assert browser.driver.execute_async_script(_AXE) == []
    browser.run("document.querySelector('.menu').open = true")
    browser.run("document.getElementById('play').click()")
    assert browser.driver.execute_async_script(_AXE) == []
    wide = browser.run("return document.documentElement.scrollWidth")
    assert wide <= width


def test_texts_of_strangers_stay_texts(chromium: Chromium, folder: Path) -> None:
    hostile = [
        "</script><script>window.hit = 1</script>",
        '"><img src=x onerror="top.hit = 1">',
        "${top.hit = 1}",
        "\u202eright to left\u202c",
        "<!--",
    ]
    texts = [
        {"text": text, "size": "30px", "color": "#cccccc", "at": "50% 50%"} for text in hostile
    ]
    plan = {
        "rising-lantern": 1,
        "title": hostile[0],
        "viewports": {"laptop": "1000x600"},
        "pages": {"page": {"sections": {"only": {"height": "1600px", "content": texts}}}},
    }
    (folder / "plan.json").write_text(json.dumps(plan), "utf-8")
    rl.preview(rl.read(folder / "plan.json")).save(folder / "preview.html")
    chromium.leave()
    chromium.open((folder / "preview.html").as_uri(), 1280, 800)
    settled(chromium)
    chromium.run("document.querySelectorAll('[role=tab]').forEach((tab) => tab.click())")
    assert chromium.run("return window.hit ?? null") is None
    assert chromium.run("return document.querySelector('h1 span').textContent") == hostile[0]
    inner = chromium.run(
        "return [...document.querySelector('#stage iframe').contentDocument"
        ".querySelectorAll('.lantern-text')].map((item) => item.textContent)"
    )
    assert inner == hostile
    assert chromium.log() == []
    assert "<" not in embedded_json({"text": "</script><!--"})


def test_the_modules_pass_a_linter_alone_and_as_one_script(tmp_path: Path) -> None:
    root = Path(rl.__file__).parent
    files = [*root.glob("previews/interface/*.js"), *root.glob("exports/*.js")]
    # In the bundle no name may be declared twice; an engine that parses it says so.
    whole = tmp_path / "whole.js"
    whole.write_text(interface_script(), "utf-8")
    subprocess.run([shutil.which("node") or "node", "--check", str(whole)], check=True)
    config = str(Path(__file__).with_name("eslint.config.mjs"))
    words = ("--no-config-lookup", "--max-warnings", "0", "-c", config, *map(str, files))
    result = npm("eslint", "bin/eslint.js", *words, folder=Path(rl.__file__).parents[2])
    assert result.returncode == 0, result.stdout + result.stderr


_TYPES = [
    "--noEmit",
    "--allowJs",
    "--checkJs",
    "--target",
    "es2022",
    "--module",
    "esnext",
    "--moduleResolution",
    "bundler",
    "--lib",
    "es2023,dom,dom.iterable",
    "--strict",
    "false",
    "main.js",
]


def test_the_types_of_the_modules_are_checked(tmp_path: Path) -> None:
    """Also that the checker finds what is wrong: a choice that there is not."""
    folder = tmp_path / "interface"
    shutil.copytree(Path(rl.__file__).parent / "previews" / "interface", folder)
    for path in folder.glob("*.js"):
        assert path.read_text("utf-8").startswith("// @ts-check\n"), path.name
    result = npm("typescript", "bin/tsc", *_TYPES, folder=folder)
    assert result.returncode == 0, result.stdout
    frames = folder / "frames.js"
    frames.write_text(frames.read_text("utf-8").replace("at: frame.at", "att: frame.at"), "utf-8")
    result = npm("typescript", "bin/tsc", *_TYPES, folder=folder)
    assert "'att' does not exist in type 'Partial<State>'" in result.stdout


def test_the_modules_are_formatted() -> None:
    folder = Path(rl.__file__).parent / "previews" / "interface"
    words = ("--print-width", "110", "--check", "*.js", "*.ts")
    result = npm("prettier", "bin/prettier.cjs", *words, folder=folder)
    assert result.returncode == 0, result.stderr


NOTCHED = """
rising-lantern: 1
viewports: {phone: {size: 390x700, safe-area: 47px 0px 34px}}
headers:
  main:
    position: fixed
    height: calc(60px + env(safe-area-inset-top))
    padding: env(safe-area-inset-top) 20px 0px
    background: white
    parts: {menu: {text: Menu, side: end}}
    looks: {tall: {}, slim: {from: calc(100px + env(safe-area-inset-top)), height: calc(40px + env(safe-area-inset-top))}}
pages:
  page:
    sections:
      a: {height: 900px, content: [{text: 'assets/x.png (prefers-color-scheme: dark) env(safe-area-inset-top)', at: 50% 60%}]}
      b: {height: 900px}
"""


@pytest.mark.parametrize("scriptless", [False, True])
def test_the_page_in_its_frame_is_as_exported(
    chromium: Chromium, tmp_path: Path, scriptless: bool
) -> None:
    """With the screen's safe area, without a script, and with words that look like our own code."""
    plan = rl.read_text(NOTCHED, tmp_path)
    rl.preview(plan).save(tmp_path / "preview.html")
    chromium.open((tmp_path / "preview.html").as_uri(), 1280, 900)
    settled(chromium)
    if scriptless:
        chromium.run("document.getElementById('scriptless').click()")
        settled(chromium)
    inner = "const frame = document.querySelector('#stage iframe'), page = frame.contentDocument;"
    found = (
        inner + "const box = (of) => page.querySelector(of).getBoundingClientRect(); const menu = "
    )
    found += "box('.lantern-part-menu'); return [box('header').height, menu.left, menu.top, "
    found += "page.querySelector('.lantern-text').textContent]"
    ready = "document.querySelector('#stage iframe')?.contentDocument?.querySelector('header')"
    until(chromium, ready)
    for scroll in (0, 146, 148):
        chromium.run(f"{inner} frame.contentWindow.scrollTo(0, {scroll}); return 0")
        settled(chromium)
        moment = plan.view().at(scroll)  # its looks need no script
        assert moment.header is not None
        menu = moment.parts["menu"]
        height, left, top, words = chromium.run(found)
        assert (height, left, top) == pytest.approx(
            (moment.header.box.height, menu.left, menu.top), abs=0.6
        )
        assert words == "assets/x.png (prefers-color-scheme: dark) env(safe-area-inset-top)"


def test_the_address_names_the_pictures_of_slides_and_videos(
    chromium: Chromium, tmp_path: Path
) -> None:
    paint_pictures(tmp_path)
    write_video(tmp_path / "river.webm", 6)
    layers = (
        "[{slides: [photo.png, noise.png], every: 4s, size: 50% 100%, position: 0 0}, "
        "{video: river.webm}]"
    )
    text = plan_text(sections=f"a: {{height: 900px, layers: {layers}}}, b: {{height: 800px}}")
    (tmp_path / "plan.yaml").write_text(text, "utf-8")
    path = tmp_path / "preview.html"
    rl.preview(rl.read(tmp_path / "plan.yaml")).save(path)
    chromium.open(path.as_uri(), 1280, 800)
    settled(chromium)
    names = "[...document.getElementById('slide').options].map((item) => item.text)"
    assert chromium.run(f"return {names}") == ["photo.png, river.webm", "noise.png, river.webm"]
    select = Select(chromium.driver.find_element("id", "slide"))
    select.select_by_visible_text("noise.png, river.webm")
    until(chromium, "location.hash.includes('picture=noise.png%2C+river.webm')")
    address = chromium.run("return location.href")
    chromium.open("about:blank", 1280, 800)
    chromium.open(address, 1280, 800)
    settled(chromium)
    chosen = "document.getElementById('slide').selectedOptions[0].text"
    assert chromium.run(f"return {chosen}") == "noise.png, river.webm"
