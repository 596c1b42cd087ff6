"""What a page loads, and how often it is laid out: little, whatever else the site has."""

from __future__ import annotations

import re
import time
from pathlib import Path

import pytest
from ruamel.yaml import YAML

import rising_lantern as rl
from chromium import Chromium
from plans import MakePlan, plan_text
from rising_lantern.proofs.engines import Engine
from rising_lantern.proofs.serving import served
from sheets import flat_rules, heads_in, selectors


def three_sections(site: Path) -> rl.Plan:
    """The header and the first three sections of the sample's home, without a lag."""
    data = YAML(typ="safe").load((site / "regatta.yaml").read_text("utf-8"))
    home = data["pages"]["home"]
    home["sections"] = dict(list(home["sections"].items())[:3])
    header = data["headers"]["over-picture"]
    header["looks"]["tinted"]["change"] = "blend 48px ease-in-out"
    data |= {"pages": {"home": home}, "headers": {"over-picture": header}}
    del data["check"]
    path = site / "three-sections.yaml"
    with path.open("w", encoding="utf-8") as file:
        YAML().dump(data, file)
    plan = rl.read(path)
    path.unlink()  # other tests use the folder as well
    return plan


def test_three_sections_are_said_in_few_words(site: Path) -> None:
    """By hand: 6,857 bytes of CSS in 56 rules, whose selectors have 588 bytes.

    Of ours, 450 bytes are states of links and opaque grounds for readers who ask for them, which
    that page does not have.
    """
    made = rl.export(three_sections(site), "home", pictures=False)
    css = made.text("lantern.css") + made.text("lantern-home.css")
    heads = heads_in(css)
    assert len(css.encode()) < 16_300
    assert len(heads) <= 92
    assert sum(map(len, heads)) < 1_900
    assert not re.search(r"calc\(\S+ [-+] 0px\)|max\(calc\(", css)


def test_a_page_loads_the_common_rules_and_its_own(site: Path) -> None:
    made = rl.export(rl.read(site / "regatta.yaml"))
    for page in ("home", "visit"):
        names = re.findall(r'rel="stylesheet" href="([^"]+)"', made.text(f"{page}.html"))
        assert names == ["lantern.css", f"lantern-{page}.css"]
        own = set(selectors(made.text(f"lantern-{page}.css")))
        assert own
        assert all(f'[data-lantern-page="{page}"]' in item for item in own)
    assert not [item for item in selectors(made.text("lantern.css")) if '-page="' in item]


def test_pages_alike_share_a_style_sheet(make_plan: MakePlan) -> None:
    pages = "".join(
        f"  page-{index}: {{sections: {{a: {{height: {height}px, background: '#fed'}}}}}}\n"
        for index, height in enumerate((600, 700, 600, 600))
    )
    plan = make_plan(f"rising-lantern: 1\nviewports: {{laptop: 1000x600}}\npages:\n{pages}")
    made = rl.export(plan)
    sheets = [name for name in made.files if name.endswith(".css")]
    assert sheets == ["lantern.css", "lantern-page-0.css", "lantern-page-1.css"]
    heights = {
        name: (rule.selector, rule.declarations["--lantern-section-a"])
        for name in sheets
        for rule in flat_rules(made.text(name))
        if "--lantern-section-a" in rule.declarations
    }
    alike = [f'[data-lantern-page="page-{index}"]' for index in (0, 2, 3)]
    assert heights == {
        "lantern-page-0.css": (f":is({', '.join(alike)})", "600px"),
        "lantern-page-1.css": ('[data-lantern-page="page-1"]', "700px"),
    }
    assert made.text("lantern-page-0.css").startswith("/* page-0, page-2, page-3: ")
    for page, own in (("page-0", 0), ("page-1", 1), ("page-2", 0), ("page-3", 0)):
        assert f'href="lantern-page-{own}.css"' in made.text(f"{page}.html")


def test_a_page_loads_only_the_scripts_that_it_needs(site: Path) -> None:
    made = rl.export(rl.read(site / "regatta.yaml"))
    scripts = {
        page: set(re.findall(r'src="lantern-?(\w*)\.js"', made.text(f"{page}.html")))
        for page in ("home", "visit", "journal")
    }
    assert scripts["home"] == {"", "moves"}
    assert scripts["visit"] == {"", "layers", "moves", "direction"}
    assert scripts["journal"] == {"", "moves", "video"}


@pytest.mark.browser
@pytest.mark.parametrize("pictures", [False, True])
def test_the_first_picture_is_asked_for_first_and_once(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, *, pictures: bool
) -> None:
    sections = (
        "a: {height: 600px, layers: [{image: photo.png, speed: 0.4}]}, "
        "b: {height: 900px, layers: [{image: noise.png}]}"
    )
    screens = "laptop: 1000x600, phone: {size: 390x844, ratio: 2}"
    plan = make_plan(plan_text(sections=sections, viewports=screens))
    made = rl.export(plan, pictures=pictures)
    made.save(tmp_path / "out")
    loaded = re.findall(r'<link rel="preload" href="([^"]+)" as="image"', made.text("page.html"))
    assert loaded
    chromium.leave()
    with served(tmp_path / "out") as url:
        chromium.requests()
        chromium.open(f"{url}/page.html", 1000, 600)
        asked = [item.split("/", 3)[3] for item in chromium.requests()]
    photos = [name for name in asked if "/photo-" in name]
    assert len(photos) == 1
    assert photos[0] in loaded
    assert asked.index(photos[0]) < min(asked.index(name) for name in asked if "noise" in name)
    assert chromium.log() == []


@pytest.mark.browser
def test_a_page_is_laid_out_as_often_with_many_layers_as_with_one(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    header = "height: 80px, looks: {a: {}, b: {from: 20%, height: 60px}, c: {from: past a - 4vh}}"
    counts = []
    for count in (1, 24):
        layers = ", ".join(["{image: photo.png, speed: 1.3, position: 20% 30%}"] * count)
        sections = f"a: {{height: 900px, layers: [{layers}]}}, b: {{height: 1200px}}"
        folder = tmp_path / str(count)
        rl.export(make_plan(plan_text(header=header, sections=sections))).save(folder)
        chromium.leave()
        with served(folder) as url:
            chromium.open(f"{url}/page.html", 1000, 600)
            before = chromium.layouts()
            chromium.run(_RESIZE, 880)
            counts.append((before, chromium.layouts() - before))
    assert max(start for start, _ in counts) <= 3
    assert (
        counts[0][1] == counts[1][1] <= 2
    )  # the browser's own, and that of what the script has placed


# Makes the page narrower, and counts how often all is placed until it is quiet.
_RESIZE = """
const [width] = arguments;
let placed = 0;
document.body.addEventListener("lantern", () => placed++);
document.body.style.width = `${width}px`;
dispatchEvent(new Event("resize"));
return new Promise((done) => {
  const wait = (pictures) => pictures ? requestAnimationFrame(() => wait(pictures - 1)) : done(placed);
  wait(6);
});
"""


@pytest.mark.browser
@pytest.mark.parametrize("width", [1000, 880])
def test_a_page_is_placed_anew_once_when_its_size_changes(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, width: int
) -> None:
    sections = "a: {height: 900px, layers: [{image: photo.png, speed: 1.3}]}, b: {height: 900px}"
    rl.export(make_plan(plan_text(sections=sections))).save(tmp_path / "out")
    chromium.leave()
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        assert chromium.run(_RESIZE, width) == 1


def early_plan(make_plan: MakePlan) -> rl.Plan:
    """A page whose first picture is another one without its scripts."""
    header = (
        "height: 80px, color: '#777', background: '#888', parts: {name: {text: Boats}}, "
        "looks: {a: {}, b: {from: 300px, back: 200px, color: '#fff', background: '#000'}}"
    )
    sections = (
        "a: {height: 900px, layers: [{image: photo.png, speed: 1.3}]}, "
        "b: {height: 900px, content: [{text: Boats, enter: {y: 20px, time: 100ms}}]}"
    )
    return make_plan(plan_text(header=header, sections=sections))


@pytest.mark.browser
def test_what_scripts_change_is_not_seen_before_they_have_started(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    rl.export(early_plan(make_plan)).save(tmp_path / "out")
    state = """
    const hidden = (at) => getComputedStyle(document.querySelector(at)).visibility;
    return [document.querySelector("header").dataset.look, hidden("[data-placed]"),
            hidden("[data-enters]"), hidden(".lantern-section")]"""
    chromium.leave()
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        assert chromium.run(state) == ["a", "visible", "visible", "visible"]
        assert chromium.log() == []
        for script in (tmp_path / "out").glob("*.js"):
            script.unlink()
        assert 'data-look="b"' in (tmp_path / "out" / "page.html").read_text("utf-8")
        chromium.open(f"{url}/page.html?again", 1000, 600)
        assert chromium.run(state) == ["a", "hidden", "hidden", "visible"]
        chromium.when("document.body.dataset.early === undefined")
        assert chromium.run(state)[1:] == ["visible"] * 3
    chromium.log()


@pytest.mark.browser
@pytest.mark.parametrize("allowed", [True, False])
def test_a_strict_policy_needs_what_the_notes_say(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, allowed: bool
) -> None:
    made = rl.export(early_plan(make_plan))
    made.save(tmp_path / "out")
    (named,) = re.findall(r"'sha256-[^']+'", made.text("notes.md"))
    policy = f"default-src 'none'; script-src 'self' {named if allowed else ''}; "
    policy += "style-src 'self'; font-src 'self'; img-src 'self' data:"
    page = tmp_path / "out" / "page.html"
    meta = f'<meta http-equiv="Content-Security-Policy" content="{policy}">'
    page.write_text(page.read_text("utf-8").replace("<head>", f"<head>{meta}"), "utf-8")
    chromium.leave()
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        assert chromium.run("return document.documentElement.dataset.lantern") == "ready"
        assert (chromium.log() == []) is allowed


# What a header looks like in the first pictures of a page that is loaded again.
_RECORDER = """<script>
const seen = [];
const record = () => {
  const header = document.querySelector("header");
  if (header) seen.push([getComputedStyle(header).backgroundColor, scrollY]);
  if (seen.length < 12) requestAnimationFrame(record);
  else sessionStorage.seen = JSON.stringify(seen);
};
requestAnimationFrame(record);
</script>"""


def recorded(plan: rl.Plan, folder: Path) -> Path:
    """An export whose page records its first pictures, and whose last section can be linked to."""
    rl.export(plan).save(folder)
    (folder / "lantern-frame.html").write_text("<!doctype html>", "utf-8")
    page = folder / "page.html"
    text = page.read_text("utf-8").replace("<head>", f"<head>{_RECORDER}")
    last = '<section class="lantern-section lantern-third"'
    page.write_text(text.replace(last, f'{last} id="third"'), "utf-8")
    return folder


_SLOW = (
    "height: 80px, background: white, "
    "looks: {a: {}, b: {from: 200px, background: black, change: fade 2s linear}}"
)
_WHITE, _BLACK = "rgb(255, 255, 255)", "rgb(0, 0, 0)"


@pytest.mark.browser
def test_a_page_that_is_opened_further_down_shows_no_fade(
    engine: Engine, make_plan: MakePlan, tmp_path: Path
) -> None:
    view = make_plan(plan_text(header=_SLOW)).view()
    with served(recorded(view.plan, tmp_path / "out")) as url:
        engine.open(f"{url}/page.html#third", view.scene.box.screen)
        seen = []
        for _ in range(200):
            seen = engine.run("return JSON.parse(sessionStorage.seen ?? '[]')")
            if seen:
                break
            time.sleep(0.05)
        engine.run("sessionStorage.clear()")
    assert {color for color, _ in seen} <= {_WHITE, _BLACK}, seen
    assert seen[-1][0] == _BLACK
    assert seen[-1][1] > 200


@pytest.mark.browser
def test_a_page_that_is_loaded_again_further_down_shows_no_fade(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path
) -> None:
    plan = make_plan(plan_text(header=_SLOW))
    chromium.leave()
    with served(recorded(plan, tmp_path / "out")) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        chromium.scroll(700)
        chromium.run("sessionStorage.clear(); return 0")
        chromium.driver.refresh()
        seen = chromium.when("sessionStorage.seen && JSON.parse(sessionStorage.seen)")
    assert {color for color, _ in seen} <= {_WHITE, _BLACK}, seen
    assert seen[-1] == [_BLACK, 700]


@pytest.mark.parametrize(
    ("selector", "on_screen", "on_paper"),
    [
        ("", ("position", "fixed"), ("position", "absolute")),
        (
            ", selector: '#sky'",
            ("background-attachment", "fixed"),
            ("background-attachment", "scroll"),
        ),
    ],
)
def test_a_fixed_picture_behind_the_page_is_not_painted_for_each_scroll(
    make_plan: MakePlan, selector: str, on_screen: tuple[str, str], on_paper: tuple[str, str]
) -> None:
    """It stands in a box of ours that stays with the screen; an element of the site is left."""
    plan = make_plan(plan_text(under=f"{{image: photo.png, attachment: fixed{selector}}}"))
    rules = flat_rules(rl.export(plan).text("lantern-page.css"))
    found = [
        (rule.within, item)
        for rule in rules
        for item in rule.declarations.items()
        if item in {on_screen, on_paper}
    ]
    assert found == [((), on_screen), (("@media print",), on_paper)]
