"""Small plans of which browsers once showed something else than the frames and the moments."""

from __future__ import annotations

import itertools
import re
from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from pages import assert_agrees, places, read, write_page
from plans import MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.exports.exporting import sheet_writer
from rising_lantern.proofs.engines import Engine
from rising_lantern.proofs.proving import ViewProver
from rising_lantern.proofs.reading import script
from rising_lantern.proofs.serving import served
from rising_lantern.proofs.spots import spots_of
from sheets import FlatRule, flat_rules, sheet_of
from thorough import some
from videos import write_video

pytestmark = pytest.mark.browser

LATER = "second: {height: 1400px, background: '#fdf6e3'}"
_RUNS = "layers: [{slides: [photo.png, noise.png], every: 4s}]"
PLANS = {
    "an easing on the last stop of a path": {
        "sections": "a: {height: 600px, layers: [{image: photo.png, after: 1, path: "
        "[{at: 0px}, {at: 100px, easing: steps(4)}]}]}, " + LATER
    },
    "a text that comes from outside of its section": {
        "sections": "a: {height: 600px, content: [{text: Come early, at: 50% 100%, size: 40px, "
        "enter: {y: 40px, opacity: 0}}]}, b: {height: 900px, content: [{text: From the left, "
        "at: 0% 30%, size: 30px, enter: {x: -400px, opacity: 0}}]}"
    },
    "boxes that are narrower than their padding": {
        "sections": "a: {height: auto, padding: 20px, columns: 1fr 200px 1fr, gap: 10px, content: "
        "[{text: left}, {width: 60px, box: {padding: 12px 40px, background: '#f4a259', content: "
        "[{text: narrow box}]}}, {text: right}, {align: end, box: {padding: 12px 140px, border: "
        "'5px solid #16213e', content: [{text: narrow}]}}, {text: last}]}, b: {height: 900px, "
        "content: [{at: 50% 50%, width: 60px, box: {padding: 9px 40px, content: [{text: a}]}}]}"
    },
    "the same from right to left": {
        "page": "dir: rtl",
        "sections": "a: {height: auto, padding: 20px, columns: 40px 1fr, gap: 10px, content: "
        "[{box: {padding: 12px 40px, background: '#f4a259', content: [{text: narrow}]}}, "
        "{text: right}]}, " + LATER,
    },
    "content with a speed that rests outside of its section": {
        "sections": "a: {height: 600px, background: white}, b: {height: 500px, background: "
        "'#fdf6e3', content: [{text: The river, size: 80px, at: 50% 0%, speed: 0.3}, {image: "
        "photo.png, at: -20% 130%, width: 300px, speed: 1.6}]}, c: {height: 900px}"
    },
    "parts with a line height of their own": {
        "header": "height: auto, padding: 8px 20px, background: '#fdf6e3', parts: {menu: {text: [A, "
        "river], size: 20px, leading: 2.2}, go: {text: Go, side: end, size: 18px, leading: 1}}, "
        "looks: {a: {}, b: {from: 200px, parts: {menu: {size: 14px}}, change: blend 100px}}",
        "sections": "a: {height: 600px}, " + LATER,
    },
    "a part that is higher than its row": {
        "header": "rows: {top: {height: 30px, background: '#16213e'}, low: {height: 60px, "
        "background: '#fdf6e3'}}, parts: {brand: {image: photo.png, width: 120px, row: top}}",
        "sections": "a: {height: 600px}, " + LATER,
    },
    "videos with posters of other shapes": {
        "sections": "a: {height: 400px, layers: [{video: river.webm, poster: photo.png, size: "
        "auto, position: 50% 50%}]}, b: {height: 400px, layers: [{video: river.webm, size: 400px "
        "auto}]}, c: {height: 700px, width: 80%, border: '3px solid #f4a259', layers: [{video: "
        "river.webm, poster: photo.png, origin: border-box}]}, " + LATER
    },
    "a section wider than the screen, from right to left": {
        "page": "dir: rtl",
        "header": "height: 60px, width: 1100px, parts: {menu: {text: [Boats], side: end}}",
        "sections": "a: {height: 600px, width: 1140px, background: '#f4a259'}, " + LATER,
    },
    "an edge at a fraction of a px": {
        "header": "height: 60px, looks: {a: {background: '#fdf6e3'}, b: {from: past a, background: "
        "'#a03020'}, c: {from: reach c, background: white}}",
        "sections": "a: {height: 600.01px}, b: {height: 600.01px}, c: {height: 1900px}",
    },
    "slides that run below a blend": {
        "sections": "a: {height: 600px, layers: [{fill: 'linear-gradient(#f4a259, #16213e)', "
        "blend: multiply}, {slides: [photo.png, noise.png], every: 6s, change: fade 900ms}]}, "
        + LATER
    },
    "the pause control beside a text": {
        "sections": f"a: {{height: 600px, {_RUNS}, content: [{{text: The river at night, size: "
        "40px, at: 0% 100%, color: white}]}, b: {height: 900px}",
    },
    "the pause control an icon alone, in a place of its own": {
        "before": "pause: {icon-only: true, background: '#16213e', color: '#fdf6e3', size: 22px, "
        "padding: 6px, radius: 999px, at: right 10% top 40px}",
        "sections": f"a: {{height: 500px, width: 80%, {_RUNS}}}, b: {{height: 900px}}",
    },
    "the pause control from right to left, in two lines": {
        "before": "lang: he\ndir: rtl\npause: {text: Stop all of the pictures now, size: 30px, "
        "weight: 700}",
        "sections": f"a: {{height: 600px, width: 300px, {_RUNS}}}, b: {{height: 900px}}",
    },
    "the pause control below a header, over texts with a z": {
        "header": "height: 70px, background: '#fdf6e3', over: true, parts: {brand: {text: S}}",
        "sections": f"a: {{height: 600px, border: 4px solid black, {_RUNS}, content: [{{text: x "
        "x x x, width: 100%, size: 90px, at: 0% 100%, z: 7, color: white}]}, b: {height: 900px}",
    },
    "the pause control of pictures behind the page": {
        "under": "{slides: [photo.png, noise.png], every: 4s}",
        "page": "color: '#eeeeee'",
        "sections": "a: {height: 500px}, b: {height: 900px}",
    },
    "texts of one line in narrow columns": {
        "sections": "a: {height: auto, padding: 20px, columns: 1fr 1fr 60px, content: [{text: The "
        "river carries the light, size: one-line}, {align: end, text: Four hundred boats, size: "
        "one-line 44px}, {text: for everyone, size: one-line}]}, b: {height: 900px, content: "
        "[{text: a lantern, size: one-line, width: 60%, at: 30% 50%}]}"
    },
}


@pytest.fixture
def plan_of(make_plan: MakePlan, folder: Path) -> MakePlan:
    """One of the plans by its name."""
    write_video(folder / "river.webm", 8, size=(300, 200))
    return lambda name: make_plan(plan_text(**PLANS[name]))


@pytest.mark.parametrize("name", PLANS)
def test_chromium_shows_what_frames_and_moments_say(
    chromium: Chromium, plan_of: MakePlan, tmp_path: Path, name: str
) -> None:
    view = plan_of(name).view()
    page = write_page(view, tmp_path / "out")
    end = view.max_scroll
    edges = [step.start for step in view.scene.switches.steps[1:]] if view.scene.switches else []
    around = [place for edge in edges for place in (np.ceil(edge) - 1, np.ceil(edge))]
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", view.scene.box.screen.width, view.scene.box.screen.height)
        for scroll in np.unique([0, 80, *around, end // 3, end // 2, end]):
            assert chromium.scroll(float(scroll)) == scroll
            assert_agrees(read(chromium, view), view, float(scroll))
            spots = spots_of(chromium.screenshot(), view.pixels(float(scroll)))
            assert not spots.differ, (scroll, spots.worst, spots.place)


@pytest.mark.thorough
@pytest.mark.parametrize("name", PLANS)
def test_other_engines_agree_as_well(
    engine: Engine, plan_of: MakePlan, tmp_path: Path, name: str
) -> None:
    if "posters of other shapes" in name and engine.name.startswith("WebKit"):
        pytest.xfail("WebKit stretches a poster as soon as it knows its video's own shape")
    plan = plan_of(name)
    write_page(plan.view(), tmp_path / "out")
    pages = tmp_path / "out" / "pages"
    (pages / "lantern-frame.html").write_text("<!doctype html>", "utf-8")
    with served(pages) as url:
        proof = ViewProver(engine, plan.view().scene, sheet_writer(plan)).proof(url)
    assert proof.found == (), proof.causes


def test_a_lost_word_is_a_spot_though_the_mean_is_small(make_plan: MakePlan) -> None:
    """A word on a page changes the mean by less than half a level."""
    sections = "a: {{height: 900px, background: white, content: [{{text: {}, size: 17px}}]}}"
    with_word, without = (
        make_plan(plan_text(sections=sections.format(text))).view().pixels(0.0)
        for text in ("lantern", "'\N{NO-BREAK SPACE}'")
    )
    spots = spots_of(with_word, without)
    assert spots.mean < 0.5
    assert spots.differ
    left, top = spots.place
    assert 440 < left < 560
    assert 420 < top < 480
    moved = np.roll(with_word, 1, axis=1)
    assert not spots_of(moved, with_word).differ


def export_of(plan: Plan, tmp_path: Path, **options: str) -> Path:
    rl.export(plan, **options).save(tmp_path / "out")  # type: ignore[arg-type]
    return tmp_path / "out"


def test_a_text_that_waits_is_there_on_paper(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    sections = "a: {height: 900px}, b: {height: 900px, content: [{text: Late, enter: {y: 40px, opacity: 0}}]}"
    with served(export_of(make_plan(plan_text(sections=sections)), tmp_path)) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        opacity = "return getComputedStyle(document.querySelector('.lantern-text')).opacity"
        assert chromium.run(opacity) == "0"
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
        try:
            assert chromium.run(opacity) == "1"
        finally:
            chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})


def test_the_target_of_a_link_is_not_covered(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    """The header is high over the first sections, and low further down."""
    header = (
        "height: 160px, over: true, looks: {high: {background: '#fdf6e3'}, low: {from: past b, "
        "height: 50px, background: '#a03020'}}, parts: {menu: {text: [B, D], links: {B: '#b', D: '#d'}}}"
    )
    names = "abcd"
    sections = ", ".join(f"{name}: {{height: 700px}}" for name in names) + ", e: {height: 900px}"
    plan = make_plan(plan_text(header=header, sections=sections))
    with served(export_of(plan, tmp_path)) as url:
        for target in ("b", "d"):
            chromium.open(f"{url}/page.html", 1000, 600)
            chromium.run(f"document.querySelector('a[href=\"#{target}\"]').click()")
            chromium.scroll(float(chromium.run("return scrollY")))
            edges = chromium.run(
                "return [document.querySelector('header').getBoundingClientRect().bottom, "
                f"document.getElementById('{target}').getBoundingClientRect().top]"
            )
            assert edges[0] == pytest.approx(edges[1], abs=1), target


def test_tinted_icons_are_text_on_the_ground_of_the_page_in_forced_colors(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    header = (
        "height: 90px, background: 'linear-gradient(#000, #444)', color: '#222', parts: "
        "{icon: {image: logo-dark.png, alt: Search, width: 120px, tint: current}}"
    )
    with served(export_of(make_plan(plan_text(header=header)), tmp_path)) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        forced = [{"name": "forced-colors", "value": "active"}]
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": forced})
        try:
            left, top, width, height = chromium.run(
                "const box = document.querySelector('.lantern-part-icon').getBoundingClientRect();"
                "return [box.left, box.top, box.width, box.height].map(Math.round)"
            )
            shot = chromium.screenshot()[top : top + height, left : left + width] / 255
        finally:
            chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})
    linear = np.where(shot <= 0.04045, shot / 12.92, ((shot + 0.055) / 1.055) ** 2.4)
    luminance = linear @ [0.2126, 0.7152, 0.0722]
    assert (luminance.max() + 0.05) / (luminance.min() + 0.05) > 7


SPACED = (
    "const style = document.createElement('style'); style.textContent = '* { line-height: 1.5 "
    "!important; letter-spacing: .12em !important; word-spacing: .16em !important }';"
    "document.head.append(style);"
)
BOXES = (
    "return [...document.querySelectorAll('.lantern-text')].filter((item) => "
    "item.checkVisibility()).map((item) => { const box = item.getBoundingClientRect(), room = "
    "item.closest('section').getBoundingClientRect(); return [item.textContent, box.left, box.top, "
    "box.right, box.bottom, room.top, room.bottom] })"
)


@pytest.fixture(scope="module")
def sample(regatta: Plan, tmp_path_factory: pytest.TempPathFactory) -> Path:
    return export_of(regatta, tmp_path_factory.mktemp("sample"))


@pytest.mark.parametrize(
    ("page", "screen"),
    some(itertools.product(["home", "lanterns", "visit"], ["laptop", "tablet", "phone"]), 5),
)
def test_texts_of_the_sample_stay_apart_for_readers_who_space_letters_further(
    chromium: Chromium, sample: Path, regatta: Plan, page: str, screen: str
) -> None:
    """WCAG 2.2, 1.4.12."""
    size = regatta.view(page, screen).scene.box.screen
    with served(sample) as url:
        chromium.open(f"{url}/{page}.html", size.width, size.height)
        chromium.run(SPACED)
        texts = chromium.run(BOXES)
    assert len(texts) >= 5
    for text, left, top, right, bottom, above, below in texts:
        assert left > -0.5
        assert right < size.width + 0.5, text
        assert above - 0.5 < top < bottom < below + 0.5, text
    for one, other in itertools.combinations(texts, 2):
        across = min(one[3], other[3]) - max(one[1], other[1])
        down = min(one[4], other[4]) - max(one[2], other[2])
        assert min(across, down) < 1, (one[0], other[0])


def test_texts_of_one_line_break_for_readers_who_space_letters_further(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    """WCAG 2.2, 1.4.12: nothing overlaps, and nothing is cut off."""
    sections = (
        "a: {height: auto, padding: 0px, gap: 8px, content: [{text: The river carries the light, "
        "size: one-line}, {text: below}, {text: Four hundred boats, size: one-line 90px, align: end}]}, "
        "b: {height: 900px, content: [{text: a lantern for all of us, size: one-line, at: 100% 50%}]}"
    )
    with served(export_of(make_plan(plan_text(sections=sections)), tmp_path)) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        chromium.run(SPACED)
        boxes = chromium.run(
            "return [...document.querySelectorAll('.lantern-text')].map((item) => {"
            "const range = document.createRange(); range.selectNodeContents(item);"
            "const lines = [...range.getClientRects()], box = item.getBoundingClientRect();"
            "return [Math.min(...lines.map((line) => line.left)), Math.max(...lines.map((line) => line.right)),"
            "box.top, box.bottom, new Set(lines.map((line) => Math.round(line.top))).size] })"
        )
    assert [box[4] > 1 for box in boxes] == [True, False, False, True]
    assert all(left > -0.5 and right < 1000.5 for left, right, *_ in boxes)
    assert all(above[3] <= below[2] + 0.5 for above, below in itertools.pairwise(boxes))


# --- scripts and weights ----------------------------------------------------------------------------

MOVING = (
    "a: {height: 700px, layers: [{image: photo.png, speed: 0.4, blend: multiply}, {fill: '#fdf6e3'}]},"
    " b: {height: 900px, layers: [{image: noise.png, drift: .2, speed: 0.5, path: [{at: 300px}, {at: "
    "700px, y: 60px, scale: 1.2, opacity: .4}]}], content: [{text: boats, at: 50% 50%, speed: 1.4, "
    "size: 40px}, {text: Late, at: 20% 100%, enter: {y: 40px, opacity: 0}}]}"
)
SHRINKING = (
    "height: 90px, padding: 40px, change: blend 200px ease-in-out, shadow: 0 0 0 red, parts: {brand: "
    "{image: logo-light.png, width: 120px}, menu: {text: [A river, Boats], side: end, size: 20px}}, "
    "looks: {a: {background: transparent, color: white}, b: {from: 100px, background: '#fdf6e3', "
    "color: '#16213e', height: 50px, padding: 10px, border: '2px solid #a03020', shadow: 0 4px 12px "
    "rgb(0 0 0 / .5), parts: {brand: {image: logo-dark.png, width: 70px}, menu: {size: 14px}}}}"
)


@pytest.mark.parametrize("name", some(["a", "my-site", "x9", "data", "lantern-2-b", "a" * 30], 3))
def test_scripts_run_with_any_prefix(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, name: str
) -> None:
    plan = make_plan(plan_text(header=SHRINKING, sections=MOVING))
    chromium.leave()
    with served(export_of(plan, tmp_path, prefix=name)) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        chromium.scroll(400)
        assert (
            chromium.run(f"return document.documentElement.getAttribute('data-{name}')") == "ready"
        )
        look = f"return getComputedStyle(document.body).getPropertyValue('--{name}-look')"
        assert chromium.run(look) == "b"
        top = f"return document.querySelector('.{name}-b > .{name}-layer').getBoundingClientRect().top"
        assert chromium.run(top) != chromium.run("scrollBy(0, 9); return 0") + chromium.run(top)
    assert chromium.log() == []


@pytest.mark.parametrize("script", some(["module", "classic"], 2))
def test_nothing_freezes_where_values_insist(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, script: str
) -> None:
    """The page has an id and ``!important`` for all that the export moves."""
    view = make_plan(plan_text(header=SHRINKING, sections=MOVING)).view()
    out = export_of(view.plan, tmp_path, weight="important", script=script)
    page = out / "page.html"
    hostile = (
        "<style>#site header { height: 300px !important; color: red !important; opacity: .5 !important }"
        " #site .lantern-layer { translate: 9px 9px !important; height: 10px !important; opacity: 1 "
        "!important; transform: none !important } #site .lantern-part { font-size: 50px !important }"
        " #site .lantern-text { color: blue !important }</style>"
    )
    text = page.read_text("utf-8").replace("<body", '<body id="site"', 1)
    page.write_text(text.replace("</head>", f"{hostile}</head>"), "utf-8")
    with served(out) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        for scroll in (0, 100, 130, 210, 299, 300, 500, view.max_scroll):
            chromium.scroll(scroll)
            assert_agrees(read(chromium, view), view, scroll)


def test_only_animated_values_do_not_insist(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(header=SHRINKING, sections=MOVING))
    css = sheet_of(rl.export(plan, weight="important"))
    assert re.search(r"^@layer lantern \{$", css, re.MULTILINE)
    frames = re.findall(r"@keyframes [^{]+\{(.*?)\n\}", css, re.DOTALL)
    assert frames
    assert not any("!important" in item for item in frames)
    animated = {name for item in frames for name in re.findall(r"([\w-]+): ", item)}
    shares = {"--lantern-now-share", "--lantern-now-runs", "animation-timing-function"}
    assert animated <= shares | {"--lantern-look", "--lantern-from"}
    plain = re.findall(r"^ +(?!--)(?:[\w-]+): [^;{]*;", css.split("@layer", 1)[1], re.MULTILINE)
    loose = [line for line in plain if "!important" not in line]
    assert all(re.match(r" +(syntax|inherits|initial-value|font-|src)", line) for line in loose), (
        loose
    )


def test_a_page_that_scrolls_in_an_element(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    plan = make_plan(plan_text(header=SHRINKING, sections=MOVING, page="scroll-container: '#app'"))
    out = export_of(plan, tmp_path)
    page = out / "page.html"
    text = (
        page.read_text("utf-8")
        .replace("<main", '<div id="app"><main')
        .replace("</main>", "</main></div>")
    )
    style = "<style>html, body { height: 100%; overflow: hidden } #app { height: 100%; overflow: auto; scrollbar-width: none }</style>"
    page.write_text(text.replace("</head>", f"{style}</head>"), "utf-8")
    view = plan.view()
    with served(out) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        for scroll in (0, 99, 100, 250, 640, view.max_scroll):
            chromium.run(script("scroll.js"), scroll, "--lantern-progress", "#app")
            state = read(chromium, view)
            assert state["scroll"] == scroll
            assert_agrees(state, view, scroll)


# --- what is written --------------------------------------------------------------------------------


def test_headings_links_and_pictures_are_what_they_are(make_plan: MakePlan) -> None:
    header = (
        "parts: {call: {text: 01 555 0100}, menu: {text: [Boats, Camp, '2026'], links: {Camp: "
        "'/camp#tents', Boats: 'https://saltmere.example/boats'}}}"
    )
    sections = (
        "top: {height: 100vh, padding: 9px, content: [{text: 'Twelve to fourteen September', size: 18px},"
        " {text: The river carries the light, size: 60px}, {text: 'At dusk the crews push off from the"
        " quay, and the whole bend of the river is alight until the tide turns.', size: 18px}, {image: photo.png}]},"
        " tents: {height: auto, content: [{text: The camp field, size: 40px}, {text: Pitches, size: 26px},"
        " {text: 'Forty pitches by the mill, each with a lantern; ask the lock-keeper.'}, {image: noise.png, alt: Tents}]},"
        " tide: {height: 300px, content: [{text: High water at eight}]},"
        " plain: {height: auto, content: [{text: Not a heading, level: 0, size: 50px}, {text: 'Words and"
        " more words of the same kind, in a row that is long enough.'}]}"
    )
    text = plan_text(header=header, sections=sections, page="path: /camp")
    html = rl.export(make_plan(text)).text("page.html")
    levels = re.findall(r"<(h\d)[^>]*>([^<]+)", html)
    assert levels == [
        ("h1", "The river carries the light"),
        ("h2", "The camp field"),
        ("h3", "Pitches"),
        ("h2", "High water at eight"),
        ("h2", "Words and more words of the same kind, in a row that is long enough."),
    ]
    assert '<a class="lantern-link" href="tel:015550100">01 555 0100</a>' in html
    assert 'href="page.html#tents">Camp</a>' in html
    assert 'href="https://saltmere.example/boats">Boats</a>' in html
    assert '<section id="tents"' in html
    assert '<section id="top"' not in html
    assert [("lazy" in tag) for tag in re.findall(r"<img[^>]*picture[^>]*>", html)] == [False, True]
    assert '<meta name="description" content="Twelve to fourteen September">' in html
    own = rl.export(
        make_plan(text.replace("path: /camp", "path: /camp, description: Four   boats"))
    )
    assert '<meta name="description" content="Four boats">' in own.text("page.html")


def test_every_section_of_the_sample_with_texts_has_a_heading(regatta: Plan) -> None:
    for page in regatta.pages:
        html = rl.export(regatta, page).text(f"{page}.html")
        assert html.count("<h1") == 1
        for section in html.split("<section")[1:]:
            texts = re.findall(r'class="lantern-text"[^>]*>([^<\n]+)', section)
            # A section that is one long paragraph has nothing that acts as a heading.
            assert "<h" in section or all(len(text) > 120 for text in texts), section[:80]


def test_a_video_without_a_poster_has_its_first_frame(make_plan: MakePlan, folder: Path) -> None:
    write_video(folder / "river.webm", 8, size=(300, 200))
    made = rl.export(
        make_plan(plan_text(sections="a: {height: 400px, layers: [{video: river.webm}]}"))
    )
    (poster,) = re.findall(r'poster="([^"]+\.jpg)"', made.text("page.html"))
    assert made.files[poster][:3] == b"\xff\xd8\xff"  # type: ignore[index]


def test_an_export_for_elements_of_a_site_says_only_what_the_plan_says(make_plan: MakePlan) -> None:
    header = (
        "selector: .bar, position: sticky, height: 60px, parts: {menu: {text: [Boats], selector: .menu}}, "
        "looks: {a: {color: white}, b: {from: 200px, color: black}}"
    )
    plan = make_plan(
        plan_text(header=header, sections="a: {height: 400px, selector: '#a'}").replace(
            "background: {color: 'white', layers: []},", ""
        )
    )
    css = sheet_of(rl.export(plan))
    rules = [(rule.selector, _body(rule)) for rule in flat_rules(css) if ":is(" in rule.selector]
    of_menu = "".join(body for at, body in rules if ".menu" in at)
    of_bar = "".join(body for at, body in rules if ".bar" in at and ".menu" not in at)
    of_section = "".join(body for at, body in rules if "#a" in at)
    assert "color: inherit" in of_menu
    assert not re.search(r"font|line-height|gap:", of_menu)
    assert "height" in of_bar
    assert not re.search(r"background|padding-left", of_bar)
    assert "min-height: " in of_section
    assert not re.search(r"\bheight: \d", of_section.replace("min-height", ""))
    page = re.compile(r"\[data-lantern-page\S*\]")
    body = [_body(rule) for rule in flat_rules(css) if page.fullmatch(rule.selector)]
    assert not any(re.search(r"margin|background|font|text-size", item) for item in body)


def _body(rule: FlatRule) -> str:
    return " ".join(f"{name}: {value};" for name, value in rule.declarations.items())


def test_places_of_the_test_are_those_of_proofs(make_plan: MakePlan) -> None:
    """What is compared here is what ``prove`` compares: letters, links and icons among it."""
    view = make_plan(plan_text(header=SHRINKING, sections=MOVING)).view()
    data = places(view).data
    assert set(data["parts"]) == {"brand", "menu"}
    assert data["planned"]
    assert not any("data-lantern-page" in at for at in data["planned"])


@pytest.mark.parametrize("leading", some([1.4, 1.2, 1.1, 1.6, 1.15], 2))
def test_letters_stand_where_browsers_have_them_at_every_size(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, leading: float
) -> None:
    """Also where a line is a whole number of px high, which numbers of computers just miss."""
    sizes = [10, 15, 20, 25, 30, 35, 40, 45, 50, 60, 70, 80, 90]
    texts = ", ".join(
        f"{{text: Eight, size: {size}px, leading: {leading}, color: black, at: {70 * place}px "
        f"{(place % 3) * 180}px}}"
        for place, size in enumerate(sizes)
    )
    view = make_plan(
        plan_text(sections=f"a: {{height: 600px, background: white, content: [{texts}]}}")
    ).view()
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        shot, frame = chromium.screenshot(), view.pixels(0)
    for text in view.scene.box.sections[0].content:
        rows = slice(int(text.box.top), int(text.box.bottom))
        columns = slice(int(text.box.left), int(text.box.left) + 30)
        planned = frame[rows, columns].astype(int)
        assert (planned < 100).any()
        off = {
            by: np.abs(shot[rows.start + by : rows.stop + by, columns] - planned).mean()
            for by in (-1, 0, 1)
            if rows.start + by >= 0
        }
        assert min(off, key=lambda by: off[by]) == 0, (text.text.size, off)


def test_the_line_below_a_link_has_its_text_s_shadow(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    words = "text: A river runs by, size: 60px, color: '#16213e', shadow: '0 8px 4px #a03020'"
    sections = f"a: {{height: 600px, background: white, content: [{{{words}, links: {{A river: /x}}, at: 50% 50%}}]}}"
    view = make_plan(plan_text(sections=sections)).view()
    page = write_page(view, tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        difference = np.abs(chromium.screenshot().astype(int) - view.pixels(0))
    assert difference.mean() < 0.15
