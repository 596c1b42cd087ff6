"""Exported code: one style sheet for all screens, nothing global, nothing that breaks out."""

from __future__ import annotations

import gzip
import itertools
import json
import re
from io import BytesIO, StringIO
from pathlib import Path

import html5lib
import numpy as np
import pandas as pd
import pytest
import uharfbuzz as hb
from fontTools.ttLib import TTFont
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

import rising_lantern as rl
from chromium import Chromium
from commands import run
from plans import MakePlan, plan_text
from random_plans import write_random_plan
from rising_lantern.api.plans import Plan
from rising_lantern.css.selectors import parse_selector
from rising_lantern.css.syntax import CssError
from rising_lantern.errors import PlanError, RequestError
from rising_lantern.exports.fonts import subset_font
from rising_lantern.exports.media import merged
from rising_lantern.exports.nesting import nested_lines
from rising_lantern.exports.rules import CssRule
from rising_lantern.layout.fonts import FontBook
from rising_lantern.plan.text.screen_widths import screen_ranges
from rising_lantern.proofs.serving import served
from sheets import flat_rules, selectors, sheet_of

HOSTILE = (
    "</script><script>alert(1)</script><img src=x onerror=alert(2)> ${x} {{ 7*7 }} */ } \u202eend"
)


# --- what the sample site becomes -----------------------------------------------------------------


@pytest.fixture(scope="module")
def exported(regatta: Plan) -> rl.Export:
    """The sample site's export."""
    return rl.export(regatta)


def test_nothing_in_the_style_sheet_is_global(exported: rl.Export) -> None:
    css = sheet_of(exported)
    found = selectors(css)
    assert len(found) > 100
    roots = ("[data-lantern-page", ":root:has([data-lantern-page")
    assert [item for item in found if not item.startswith(roots)] == []
    names = re.findall(r"(?<![\w-])--([\w-]+)\s*:", css) + re.findall(r"@keyframes ([\w-]+)", css)
    assert [name for name in names if not name.startswith("lantern-")] == []


def test_the_code_reads_as_if_it_were_written_by_hand(exported: rl.Export) -> None:
    css = sheet_of(exported)
    assert max(map(len, css.splitlines())) <= 100
    assert "--lantern-solid-from: past opening;" in css
    assert "--lantern-slim-from: 240px;" in css
    assert "--lantern-color-paper: #fdf6e3;" in css
    assert "linear-gradient(rgb(11 16 38 / .62)" in css
    assert "calc(0 *" not in css
    assert "cubic-bezier(0.42" not in css
    assert (
        css.index("--lantern-solid-from") < css.index("font-family") < css.index("position: fixed")
    )


def test_the_script_is_small_and_a_module_without_dependencies(exported: rl.Export) -> None:
    script = exported.text("lantern.js")
    loaded = re.findall(r'src="([^"]+[.]js)"', exported.text("home.html"))
    assert loaded == ["lantern-moves.js", "lantern.js"]
    texts = [exported.text(name).encode() for name in loaded]
    assert sum(len(gzip.compress(text, 9)) for text in texts) < 4600
    assert "import" not in script
    assert script.count("export function start(") == 1


def test_every_file_that_is_named_is_there_and_no_other(exported: rl.Export) -> None:
    named = set()
    for name in exported.files:
        if name.endswith((".css", ".html")):
            text = exported.text(name)
            named |= set(re.findall(r"assets/[a-z0-9.-]+", text))
            named |= set(re.findall(r'(?:src|href)="([a-z-]+\.(?:css|js|html))"', text))
    assert named <= set(exported.files)
    assert {name for name in exported.files if name.startswith("assets/")} <= named


def test_pages_have_the_elements_that_they_need(exported: rl.Export) -> None:
    page = html5lib.parse(exported.text("home.html"), namespaceHTMLElements=False)
    assert page.get("lang") == "en"
    assert page.find("head/title").text == "Saltmere Lantern Regatta – home"
    assert len(page.findall(".//h1")) == 1
    assert page.find(".//h1").text == "The river carries the light"
    (menu,) = [item for item in page.iter("nav") if len(item.findall(".//a")) > 1]
    links = {item.text: item.get("href") for item in menu.iter("a")}
    assert links["Programme"] == "programme.html"
    logo = page.find(".//header//a/img")
    assert logo.get("alt") == "Saltmere Lantern Regatta"
    data = json.loads(page.find("head/script[@data-lantern='plan']").text)
    assert [item["media"] for item in data["screens"]] == ["all"]


def test_fonts_hold_what_is_used_and_set_it_alike(exported: rl.Export) -> None:
    fonts = [content for content in exported.files.values() if isinstance(content, bytes)]
    fonts = [content for content in fonts if content.startswith(b"wOF2")]
    assert len(fonts) == 6
    assert sum(map(len, fonts)) < 60_000
    path = FontBook({}).file("serif", 600)
    words = "The river carries the light"
    packed = subset_font(path, words)
    assert set(TTFont(BytesIO(packed)).getBestCmap()) == set(map(ord, words))
    unpacked = TTFont(BytesIO(packed))
    unpacked.flavor = None
    plain = BytesIO()
    unpacked.save(plain)

    def advance(data: bytes) -> int:
        font = hb.Font(hb.Face(hb.Blob(data)))
        buffer = hb.Buffer()
        buffer.add_str(words)
        buffer.guess_segment_properties()
        hb.shape(font, buffer, {})
        return sum(item.x_advance for item in buffer.glyph_positions)

    assert advance(plain.getvalue()) == advance(path.read_bytes())


def test_the_notes_say_what_each_page_needs(exported: rl.Export) -> None:
    notes = exported.text("notes.md")
    assert "| laptop | 1280 x 800 | `(width >= 1280px)` |" in notes
    assert "| `lantern-enters.js` | lets texts arrive | lanterns |" in notes
    assert '`<label class="lantern-pause">`' in notes
    head = exported.text("home.html").split("</head>")[0]
    listed = re.findall(r"^   (<.*>)$", notes, re.MULTILINE)
    assert [line for line in listed if line not in head] == [
        '<script type="application/json" data-lantern="plan">…</script>'
    ]
    for name in ("lantern.css", "lantern-home.css", "lantern-moves.js", "lantern.js"):
        assert any(f'"{name}"' in line for line in listed)
    assert "- home, header over-picture: tinted, can be read on every position" in notes
    assert "| scroll-driven animations | 115 |" in notes
    assert "“Search”" in notes
    assert r"| journal | /journal/how-a-lantern-floats, /journal/\* | bar |" in notes


def test_the_settings_are_those_of_other_commands(exported: rl.Export, regatta: Plan) -> None:
    table = pd.read_csv(StringIO(exported.text("settings.csv")), keep_default_na=False)
    shown = table[(table.page == "home") & (table.setting == "starts") & (table.state == "solid")]
    switches = regatta.switch_table("home").query("look == 'solid'")
    for viewport, start in zip(switches.viewport, switches.start_px, strict=True):
        assert shown[viewport].item() == f"at or beyond {start:g} px"
    sizes = table[(table.state == "solid") & (table.setting == "font size")]
    assert (sizes.laptop.iloc[0], sizes["laptop unit"].iloc[0]) == ("17", "px")
    moving = table[(table.thing == "section opening, layer 2") & (table.setting == "speed")]
    assert moving.laptop.iloc[0] == "0.4: 40 px up for 100 px of scroll"
    plain = regatta.settings()
    assert list(plain.columns) == [name for name in table if not str(name).endswith(" unit")]
    assert plain.iloc[:, :4].equals(table.iloc[:, :4])
    assert "| solid | change | over 160 ms |" in exported.text("settings.md")


@pytest.mark.parametrize(
    ("page", "picture", "speed"), [(400, 160, 0.4), (-50, -60, 1.2), (80, -20, -0.25)]
)
def test_a_speed_is_what_was_measured(page: float, picture: float, speed: float) -> None:
    assert rl.speed_from(page, picture) == speed


SYNONYMS = {
    "background": "background colour",
    "z": "stacking (z-index)",
    "overlap": "overlap with the section above",
    "color": "colour",
    "size": "font size",
    "weight": "font weight",
    "image": "file",
    "blend": "blend mode",
}
ENTRIES = {"content": ("text", "image", "box"), "layers": ("image", "fill", "slides", "video")}


@pytest.mark.parametrize("seed", range(6))
def test_settings_list_all_that_a_plan_says(folder: Path, seed: int) -> None:
    """Every key that stands in a plan, of every section, layer, text, box and part."""
    write_random_plan(folder, seed)
    plan = rl.read(folder / "plan.json")
    raw = json.loads((folder / "plan.json").read_text("utf-8"))
    table = plan.settings()
    listed: dict[str, set[str]] = {}
    for thing, name in zip(table["thing"], table["setting"], strict=True):
        listed.setdefault(thing.split(' "')[0], set()).add(re.sub(r" \d+$", "", name))
    defaults = {"padding": "0px", "origin": "padding-box", "clip": "border-box"}

    def missing(thing: str, entry: dict[str, object]) -> list[str]:
        own = listed.get(thing, set())
        return [
            key
            for key, value in entry.items()
            if key.replace("-", " ") not in own
            and SYNONYMS.get(key) not in own
            and key not in {"layers", "content", "box", "slides", "video", "poster", "change"}
            and not (thing.startswith("header") and key in {"links", "color"})
            and defaults.get(key) != value
        ]

    found: list[tuple[object, ...]] = []
    for name, section in raw["pages"]["page"]["sections"].items():
        found += [(name, key) for key in missing(f"section {name}", section) if key != "speed"]
        for index, layer in enumerate(section.get("layers", ()), 1):
            found += [
                (name, index, key) for key in missing(f"section {name}, layer {index}", layer)
            ]
        for index, item in enumerate(section.get("content", ()), 1):
            kind = next(kind for kind in ("box", "text", "image") if kind in item)
            thing = f"section {name}, {'picture' if kind == 'image' else kind} {index}"
            found += [(thing, key) for key in missing(thing, item | item.get("box", {}))]
    for name, part in raw.get("headers", {}).get("main", {}).get("parts", {}).items():
        states = part.pop("states", {})
        found += [(name, key) for key in missing(f"header main, {name}", part)]
        # The states of links say of each what it changes.
        words = {"color": "colour", "underline": "underlined"}
        found += [
            (name, state, key)
            for state, changed in states.items()
            for key in changed
            if f"{state}: {words.get(key, key)}" not in listed[f"header main, {name}"]
        ]
    assert found == []


def test_a_speed_needs_a_distance() -> None:
    with pytest.raises(RequestError, match="other than 0 px"):
        rl.speed_from(0, 12)


# --- screens --------------------------------------------------------------------------------------


@given(
    st.lists(
        st.tuples(st.integers(1, 3000), st.none() | st.integers(0, 3000)), min_size=1, max_size=4
    )
)
def test_every_width_has_the_values_of_one_viewport(sides: list[tuple[int, int | None]]) -> None:
    starts = [width if start is None else start for width, start in sides]
    if len(set(starts)) < len(starts):
        return
    screens = ", ".join(
        f"v{index}: {{size: {width}x800{'' if start is None else f', from: {start}'}}}"
        for index, (width, start) in enumerate(sides)
    )
    plan = rl.read_text(
        f"rising-lantern: 1\nviewports: {{{screens}}}\npages: {{p: {{sections: {{a: {{height: 9px}}}}}}}}"
    )
    ranges = screen_ranges(plan.file, plan.viewports)
    for width in {0, *starts, *(start - 1 for start in starts), 5000}:
        holding = [r.name for r in ranges if r.low <= width and (r.high is None or width < r.high)]
        given_from = min(starts) if sides[starts.index(min(starts))][1] is not None else 0
        if width >= given_from:
            below = [start for start in starts if start <= width] or [min(starts)]
            assert holding == [f"v{starts.index(max(below))}"]


@pytest.mark.parametrize(
    ("screens", "media"),
    [
        ("a: {size: 820x1180, touch: true}, b: 820x1180", {"(pointer: coarse)", "(pointer: fine)"}),
        ("a: 820x1180, b: 820x500", {"(orientation: portrait)", "(orientation: landscape)"}),
        ("a: 390x844, b: 390x664", {"(height >= 754px)", "(height < 754px)"}),
        ("a: 400x800, b: 400x800@2", {"(resolution < 1.5dppx)", "(resolution >= 1.5dppx)"}),
    ],
)
def test_viewports_of_one_width_are_told_apart(
    make_plan: MakePlan, screens: str, media: set[str]
) -> None:
    plan = make_plan(plan_text(viewports=screens, sections="a: {height: 9px}"))
    assert {item.media for item in screen_ranges(plan.file, plan.viewports)} == media


_SCREENS = st.lists(
    st.tuples(st.sampled_from([390, 820, 1280, 1440]), st.booleans()),
    min_size=1,
    max_size=6,
    unique=True,
)


@given(_SCREENS)
def test_readers_of_each_scheme_have_the_values_of_one_viewport(
    sides: list[tuple[int, bool]],
) -> None:
    """Those of the widest that fits, and of two that are as wide the one of their scheme."""
    screens = ", ".join(
        f"v{index}: {{size: {width}x800{', scheme: dark' if dark else ''}}}"
        for index, (width, dark) in enumerate(sides)
    )
    plan = rl.read_text(
        f"rising-lantern: 1\nviewports: {{{screens}}}\npages: {{p: {{sections: {{a: {{height: 9px}}}}}}}}"
    )
    ranges = screen_ranges(plan.file, plan.viewports)
    all_dark = all(dark for _, dark in sides)
    for scheme, width in itertools.product(("light", "dark"), (300, 389, 390, 900, 1280, 5000)):
        own = [
            (w, dark, f"v{i}")
            for i, (w, dark) in enumerate(sides)
            if not dark or all_dark or scheme == "dark"
        ]
        fitting = [item for item in own if item[0] <= width] or [
            item for item in own if item[0] == min(item[0] for item in own)
        ]
        expected = max(fitting)[2]
        assert [r.name for r in ranges if matches(r.media, width, scheme)] == [expected]


@pytest.mark.browser
def test_a_page_has_the_values_of_its_readers_scheme(
    chromium: Chromium, make_plan: MakePlan, folder: Path
) -> None:
    plan = make_plan(
        "rising-lantern: 1\nviewports: {laptop: 1280x800, night: {size: 1280x800, scheme: dark}, "
        "phone: 390x844}\npages: {page: {background: '#fff', for: {night: {background: '#123'}}, "
        "sections: {a: {height: 900px, for: {night: {height: 990px}}}}}}"
    )
    assert [view.scene.box.background.hex() for view in plan.views()] == [
        "#ffffffff", "#112233ff", "#ffffffff",
    ]  # fmt: skip
    css = sheet_of(rl.export(plan))
    assert "@media (width >= 1280px) and (prefers-color-scheme: dark) {" in css
    assert "color-scheme: dark;" in css
    rl.export(plan).save(folder / "out")
    read = (
        "return [getComputedStyle(document.body).backgroundColor, "
        "document.querySelector('section').offsetHeight]"
    )
    with served(folder / "out") as url:
        for scheme, expected in (
            ("dark", ["rgb(17, 34, 51)", 990]),
            ("light", ["rgb(255, 255, 255)", 900]),
        ):
            features = [{"name": "prefers-color-scheme", "value": scheme}]
            chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": features})
            chromium.open(f"{url}/page.html", 1280, 800)
            assert chromium.run(read) == expected
    chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})


def test_screens_of_two_heights_share_what_does_not_differ(make_plan: MakePlan) -> None:
    header = "height: 60px, parts: {{menu: {{text: Menu}}}}{}"
    screens = "low: 390x664, high: 390x844"
    sections = "a: {height: 100vh, background: '#fed'}, b: {height: 900px}"
    queries = []
    for differing in ("", ", for: {low: {height: 40px}}"):
        text = plan_text(header=header.format(differing), viewports=screens, sections=sections)
        css = sheet_of(rl.export(make_plan(text)))
        queries.append(css.count("754px)"))
    assert queries[0] < queries[1]


def test_each_viewport_says_which_widths_it_stands_for(make_plan: MakePlan, folder: Path) -> None:
    screens = "laptop: 1280x800, tablet: {size: 820x1180, from: 700}, phone: 390x844"
    plan = make_plan(plan_text(viewports=screens))
    words = ["1280 px and wider", "700 to 1279 px", "narrower than 700 px"]
    assert plan.screen_table()["widths"].tolist() == words
    listed = run("list", folder / "plan.yaml", "--of", "screens").stdout
    values = run("list", folder / "plan.yaml").stdout
    checked = run("check", folder / "plan.yaml").stdout
    for name, said in zip(plan.viewports, words, strict=True):
        assert f" {said}\n" in listed
        assert f"plan.yaml on {name}: {said}\n" in values
        assert f"{name} ({said})" in checked
    media = {item.name: item.media for item in screen_ranges(plan.file, plan.viewports)}
    assert media["tablet"] == "(700px <= width < 1280px)"


def test_a_phone_that_stands_for_tablets_is_noted_once(make_plan: MakePlan) -> None:
    (finding,) = rl.check(
        make_plan(plan_text(viewports="laptop: 1280x800, phone: 390x844")), only="stretched-screen"
    )
    assert (finding.level, finding.viewport) == ("note", "phone")
    assert "up to 1279 px" in finding.message
    for screens in ("laptop: {size: 1280x800, from: 720}, phone: 390x844", "laptop: 1280x800"):
        assert rl.check(make_plan(plan_text(viewports=screens)), only="stretched-screen") == []


def test_viewports_that_no_media_query_tells_apart_are_a_fault(make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(viewports="a: 820x1180, b: 820x1180", sections="a: {height: 9px}"))
    with pytest.raises(PlanError, match="no media query can tell 'b' from 'a'"):
        rl.export(plan)


_DECLARED = st.dictionaries(
    st.sampled_from(["color", "top", "width"]), st.sampled_from(["1", "2", "3"])
)
_LISTS = st.lists(st.tuples(st.sampled_from([".a", ".b", ".c"]), _DECLARED), max_size=4)


@given(st.lists(_LISTS, min_size=1, max_size=4))
def test_a_merged_sheet_says_on_each_screen_what_that_screen_said(
    lists: list[list[tuple[str, dict[str, str]]]],
) -> None:
    """Every other screen is a dark one, as wide as the one before it."""
    starts = [100 * (9 - i // 2) for i in range(len(lists))]
    screens = ", ".join(
        f"v{i}: {{size: {start}x800, scheme: {'dark' if i % 2 else 'light'}}}"
        for i, start in enumerate(starts)
    )
    plan = rl.read_text(
        f"rising-lantern: 1\nviewports: {{{screens}}}\npages: {{p: {{sections: {{a: {{height: 9px}}}}}}}}"
    )
    ranges = screen_ranges(plan.file, plan.viewports)
    by_screen = {f"v{i}": [CssRule(*item) for item in rules_] for i, rules_ in enumerate(lists)}
    result = merged(by_screen, ranges)
    for i, start in enumerate(starts):
        scheme = "dark" if i % 2 else "light"
        expected: dict[tuple[str, str], str] = {}
        for selector, declared in lists[i]:
            expected |= {(selector, name): value for name, value in declared.items()}
        found: dict[tuple[str, str], str] = {}
        for rule in result:
            assert isinstance(rule, CssRule)
            if all(matches(query, start, scheme) for query in rule.within):
                found |= {(rule.selector, name): value for name, value in rule.declarations.items()}
        assert found == expected
    written = flat_rules("\n".join(nested_lines([("All", result)])))
    assert [(rule.selector, rule.declarations, rule.within) for rule in written] == [
        (rule.selector, dict(rule.declarations), rule.within)
        for rule in result
        if isinstance(rule, CssRule) and rule.declarations
    ]


def matches(query: str, width: int, scheme: str = "light") -> bool:
    """Whether a media query that we write holds for a width, and for readers of a scheme."""
    for item in query.removeprefix("@media ").split(", "):
        low, high = 0, 10**9
        for bound, value in re.findall(r"width (>=|<) (\d+)px", item):
            low, high = (int(value), high) if bound == ">=" else (low, int(value))
        between = re.search(r"\((\d+)px <= width < (\d+)px\)", item)
        if between:
            low, high = int(between[1]), int(between[2])
        wanted = re.search(r"prefers-color-scheme: (\w+)", item)
        if low <= width < high and (not wanted or wanted[1] == scheme):
            return True
    return False


# --- the site's own elements ------------------------------------------------------------------------


def test_elements_of_the_site_are_styled_where_they_are(make_plan: MakePlan) -> None:
    plan = make_plan(
        plan_text(
            header="selector: '#top', parts: {brand: {text: Saltmere, selector: .brand}}, "
            "looks: {clear: {}, stuck: {from: 200px, selector: '#top.set-off', background: '#123'}}",
            sections="hero: {height: 400px, selector: 'main > .hero', layers: "
            "[{image: photo.png, speed: 0.4, selector: .photo, picture: site}]}",
        )
    )
    made = rl.export(plan)
    css = sheet_of(made)
    assert "[data-lantern-page][data-lantern-page]" in css  # specific, as selectors are given
    assert "@layer" not in css
    assert ":is(main > .hero)" in css
    assert ":is(#top.set-off)" in css or "#top.set-off" in css
    assert ":is(.photo)" in css
    assert "photo" not in "".join(name for name in made.files if name.startswith("assets/"))
    data = html5lib.parse(made.text("page.html"), namespaceHTMLElements=False)
    (plan_data,) = (item.text for item in data.iter("script") if item.get("data-lantern") == "plan")
    assert "header" not in json.loads(plan_data)["screens"][0]  # the site switches by itself
    with pytest.raises(PlanError, match="needs a selector"):
        make_plan(plan_text(sections="a: {height: 9px, layers: [{fill: red, picture: site}]}"))


@pytest.mark.parametrize("text", ["a{", "a::before", "", "a } b", "a:unheard-of", "a,", "@media"])
def test_what_is_no_selector_of_an_element_is_a_fault(text: str) -> None:
    with pytest.raises(CssError):
        parse_selector(text)


def test_weight_and_prefix_are_those_that_are_asked_for(make_plan: MakePlan) -> None:
    plan = make_plan(
        plan_text(
            header="height: 90px, looks: {a: {}, b: {from: 90px, height: 50px}}",
            sections="a: {height: 700px, layers: [{image: photo.png, speed: 0.4}]}",
        )
    )
    made = rl.export(plan, prefix="river", weight="important", script="classic")
    css, script = sheet_of(made), made.text("river.js")
    assert "lantern" not in css.split("*/", 1)[1]
    assert "lantern" not in script
    assert "height: var(--river-b-height) !important;" in css
    assert re.search(r"translate: 0\s+calc", css)
    assert not re.search(r"--[\w-]+:[^;{]*!important", css)
    assert "export" not in script
    assert 'src="river.js"' in made.text("page.html")
    assert "data-river-page" in made.text("page.html")
    with pytest.raises(RequestError, match="is not a prefix"):
        rl.export(plan, prefix="9 lives")


def test_texts_and_names_cannot_leave_their_place(make_plan: MakePlan) -> None:
    text = json.dumps(HOSTILE)
    plan = make_plan(
        plan_text(
            header=f"parts: {{x: {{text: [{text}, b]}}, y: {{image: logo-dark.png, alt: {text}}}}}",
            sections=f"a: {{height: 100px, content: [{{text: {text}}}], selector: '[title=\"</style>*/\"]'}}",
            page=f"title: {text}, path: '/</script>'",
            before=f"title: {text}",
        )
    )
    made = rl.export(plan)
    page = html5lib.parse(made.text("page.html"), namespaceHTMLElements=False)
    kinds = [item.get("type") or "classic" for item in page.iter("script")]
    assert sorted(kinds) == ["application/json", "module"]
    assert all(item.get("onerror") is None for item in page.iter("img"))
    assert page.find(".//h1").text == HOSTILE
    assert page.find("head/title").text == HOSTILE
    roots = ("[data-lantern-page", ":root:has([data-lantern-page")
    assert [s for s in selectors(sheet_of(made)) if not s.startswith(roots)] == []
    assert "<script>" not in made.text("notes.md")
    assert "\n| " + HOSTILE not in made.text("settings.md")


# --- pictures ---------------------------------------------------------------------------------------


def test_pictures_are_prepared_for_each_screen(make_plan: MakePlan, folder: Path) -> None:
    rng = np.random.default_rng(3)
    noise = Image.fromarray(rng.integers(0, 255, (60, 90, 3), dtype=np.uint8))
    noise.resize((1800, 1200), Image.Resampling.BICUBIC).save(folder / "photo.png")
    plan = make_plan(
        plan_text(
            viewports="wide: 1200x600, narrow: 300x600",
            sections="a: {height: 600px, layers: [{image: photo.png, speed: 0.5}]}",
        )
    )
    made = rl.export(plan)
    css = sheet_of(made)
    # On the widest screens half as wide again; of density 2 no larger than it is.
    assert re.findall(r"-set\(.* 1x, .* 2x\)|url\(", css, re.DOTALL)
    sizes = {}
    for name, content in made.files.items():
        if name.startswith("assets/photo") and isinstance(content, bytes):
            with Image.open(BytesIO(content)) as picture:
                sizes[name] = picture.size
    assert {size[0] for size in sizes.values()} == {1800, 920}  # covers 600 px in height there
    assert all(name.endswith(".webp") for name in sizes)
    assert "| page | narrow |" in made.text("notes.md")
    assert not any(isinstance(content, Path) for content in made.files.values())


def test_a_motion_that_was_measured_may_go_aside(folder: Path) -> None:
    (folder / "plan.yaml").write_text(plan_text(), "utf-8")
    asked = ("list", folder / "plan.yaml", "--of", "settings", "--measured")
    assert run(*asked, "400,160").stdout.splitlines() == [
        "speed 0.4: 40 px up for 100 px of scroll"
    ]
    aside = run(*asked, "400,160,40").stdout.splitlines()[1]
    assert aside == "drift 0.1: 10 px to the right for 100 px of scroll"
    assert run(*asked, "400").returncode == run(*asked, "1,2,3,4").returncode == 2
