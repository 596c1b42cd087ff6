"""Proofs: what real browsers say of an export, alone and inside somebody's page."""

from __future__ import annotations

import json
import os
import re
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

import rising_lantern as rl
from chromium import Chromium
from rising_lantern.api.plans import Plan
from rising_lantern.cli import commands
from rising_lantern.errors import RequestError
from rising_lantern.proofs import engines
from rising_lantern.proofs.hosts import pasted, read_host
from rising_lantern.proofs.serving import served
from thorough import some

pytestmark = [pytest.mark.browser, pytest.mark.usefixtures("needs_chromium")]

PLAN = """\
rising-lantern: 1
title: Saltmere Lantern Regatta
viewports: {laptop: 1000x600, phone: 400x600}
headers:
  main:
    height: 90px
    color: white
    change: fade 90ms
    parts: {brand: {text: Saltmere}}
    looks:
      clear: {background: rgb(22 33 62 / .9)}
      solid: {from: past hero, background: "#16213e", height: 60px}
pages:
  home:
    sections:
      hero: {height: 80vh, background: "#16213e", content: [{text: The river, size: 40px, color: white}]}
      boats: {height: 900px, background: "#fdf6e3", layers: [{fill: "linear-gradient(#f4a259, #fdf6e3)", speed: 0.6}]}
"""

# A page with rules of its own for everything, a data block, and a header of its own that sticks.
HOST = """\
<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Quay House</title>
<script type="application/json">{"theirs": true}</script>
<style>
* { box-sizing: content-box; line-height: 1.9; }
header { background: #ddd; padding: 30px; position: static; height: 200px; }
section { padding: 80px; margin: 20px; background: pink; height: 90px; }
h1, p { font-size: 40px; margin: 3em 0; color: red; }
a, button { padding: 20px; } img { border: 5px solid red; }
%s
</style></head>
<body><div class="wrap"><!-- lantern --></div></body></html>
"""


@pytest.fixture
def plan(tmp_path: Path) -> Path:
    """A small plan."""
    path = tmp_path / "plan.yaml"
    path.write_text(PLAN, "utf-8")
    return path


def run(*words: object) -> Result:
    """Run the command line within this process."""
    return CliRunner().invoke(commands, [str(word) for word in words])


def test_a_plan_is_proved_and_the_proof_is_written(plan: Path, tmp_path: Path) -> None:
    result = run("prove", plan, "--engine", "chromium", "-o", tmp_path / "proof")
    assert result.exit_code == 0, result.output
    lines = result.output.splitlines()
    assert [tuple(re.split("  |, ", line)[1::2][:2]) for line in lines[:4]] == [
        (viewport, way) for viewport in ("laptop", "phone") for way in ("by CSS", "by the script")
    ]
    assert all(line.endswith("agrees") for line in lines[:4])
    for line in lines[-4:-2]:
        assert re.search(r"all 2 views agree, layout shift at most 0\.00\d", line)
    assert re.match(r"By CSS from Chrome 116, .* on, by the script elsewhere$", lines[-2])
    data = json.loads((tmp_path / "proof" / "proof.json").read_text("utf-8"))
    assert data["agrees"] is True
    assert all(view["picture_difference"] < 1 for view in data["views"])
    page = (tmp_path / "proof" / "proof.html").read_text("utf-8")
    assert "the page does what was planned, in all of 4 views" in page
    assert page.count("<figure>") == 12


def test_what_is_not_as_planned_is_found(plan: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """A style sheet that is a little off, as somebody may have edited it."""
    write = rl.Export.write

    def wrong(self: rl.Export, folder: Path) -> None:
        write(self, folder)
        for name, old, new in (
            ("lantern.css", "--lantern-solid-height: 60px", "--lantern-solid-height: 66px"),
            ("lantern-home.css", "--lantern-speed: 0.6", "--lantern-speed: 0.5"),
        ):
            css = (folder / name).read_text("utf-8")
            assert old in css
            (folder / name).write_text(css.replace(old, new), "utf-8")

    monkeypatch.setattr(rl.Export, "write", wrong)
    views = rl.prove(rl.read(plan), "home", "laptop", engines="chromium").views
    assert [view.way for view in views] == ["css", "script"]
    for view in views:
        found = {(item.what, item.measure) for item in view.found}
        assert {("header", "rectangle"), ("boats, layer 1", "rectangle")} <= found
        header = next(item for item in view.found if item.what == "header")
        assert header.by == pytest.approx(6)
        assert (header.expected, header.found) == (
            "1000.0 x 60.0 at 0.0, 0.0",
            "1000.0 x 66.0 at 0.0, 0.0",
        )


@pytest.mark.parametrize(
    ("own", "weight", "cause"),
    some(
        [
            ("", "specific", None),
            ("header { height: 200px !important; }", "important", None),
            (
                "header { height: 200px !important; }",
                "specific",
                "header declares height: 200px !important",
            ),
            ("", "layer", "header declares position: static"),
            (".wrap { transform: translateZ(0); }", "important", "div.wrap has transform"),
            (".wrap { filter: blur(0px); }", "specific", "captures position: fixed"),
        ],
        2,
    ),
)
def test_a_host_page_keeps_to_the_plan_or_what_prevents_it_is_named(
    plan: Path, tmp_path: Path, own: str, weight: str, cause: str | None
) -> None:
    (tmp_path / "host.html").write_text(HOST % own, "utf-8")
    result = run(
        *("prove", plan, "--viewport", "laptop", "--engine", "chromium", "--weight", weight),
        *("--into", tmp_path / "host.html", "-o", tmp_path / "proof"),
    )
    assert result.exit_code == (cause is not None), result.output
    assert cause is None or cause in result.output


def test_overflow_that_keeps_a_header_from_sticking_is_named(plan: Path, tmp_path: Path) -> None:
    plan.write_text(PLAN.replace("height: 90px\n", "height: 90px\n    position: sticky\n"), "utf-8")
    (tmp_path / "host.html").write_text(HOST % ".wrap { overflow: hidden; }", "utf-8")
    result = run(
        *("prove", plan, "--viewport", "laptop", "--engine", "chromium", "--weight", "specific"),
        *("--into", tmp_path / "host.html", "-o", tmp_path / "proof"),
    )
    assert result.exit_code == 1
    assert "in which position: sticky never sticks" in result.output


def test_two_copies_of_the_script_do_no_more_than_one(
    plan: Path, tmp_path: Path, chromium: Chromium
) -> None:
    by_script = {"headers.main.looks.solid.back": "past hero"}
    made = rl.export(rl.read(plan, by_script), script="classic")
    made.save(tmp_path / "out")
    page = tmp_path / "out" / "home.html"
    text = page.read_text("utf-8")
    copy = '<script defer src="lantern.js?again"></script></head>'
    page.write_text(text.replace("</head>", copy), "utf-8")
    chromium.leave()
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/home.html", 1000, 600)
        chromium.scroll(700)
        assert chromium.run("return document.querySelector('header').dataset.look") == "solid"
        stop = "document.body.lantern(); scrollTo(0, 0); return document.documentElement.dataset.lantern"
        assert chromium.run(stop) is None
        chromium.scroll(0)
        assert chromium.run("return document.querySelector('header').dataset.look") == "solid"
        assert chromium.log() == []


def test_a_page_without_its_script_stands_in_a_look_that_can_be_read(
    plan: Path, tmp_path: Path, chromium: Chromium
) -> None:
    looks = "headers.main.looks"
    by_script = {f"{looks}.solid.back": "past hero"}
    loaded = rl.read(plan, {f"{looks}.clear.background": "transparent", **by_script})
    made = rl.export(loaded)
    made.save(tmp_path / "out")
    (tmp_path / "out" / "lantern.js").unlink()
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/home.html", 1000, 600)
        chromium.when("document.body.dataset.early === undefined")
        box = "return document.querySelector('header').getBoundingClientRect().height"
        assert chromium.run(box) == 60
    chromium.leave()
    assert "header main: solid, can be read" in made.text("notes.md")


def test_values_hold_between_the_planned_widths(
    plan: Path, tmp_path: Path, chromium: Chromium
) -> None:
    wide = "    height: 90px\n    for: {phone: {height: 70px}}\n"
    plan.write_text(PLAN.replace("    height: 90px\n", wide), "utf-8")
    rl.export(rl.read(plan)).save(tmp_path / "out")
    height = "return document.querySelector('header').getBoundingClientRect().height"
    with served(tmp_path / "out") as url:
        for width, expected in ((1600, 90), (1000, 90), (999, 70), (400, 70), (320, 70)):
            chromium.open(f"{url}/home.html", width, 600)
            assert chromium.run(height) == expected, width
            assert chromium.run("return document.documentElement.scrollWidth <= innerWidth")


def test_a_number_of_the_style_sheet_can_be_tuned(
    plan: Path, tmp_path: Path, chromium: Chromium
) -> None:
    by_script = {"headers.main.looks.solid.back": "0px"}
    rl.export(rl.read(plan, by_script)).save(tmp_path / "out")
    css = tmp_path / "out" / "lantern.css"
    text = css.read_text("utf-8")
    assert "--lantern-solid-from: past hero;" in text
    css.write_text(
        text.replace("solid-from: past hero;", "solid-from: calc(10vh + 13px);"), "utf-8"
    )
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/home.html", 1000, 600)
        looks = []
        for position in (72, 73):
            chromium.scroll(position)
            looks.append(chromium.run("return document.querySelector('header').dataset.look"))
    assert looks == ["clear", "solid"]


def test_a_printed_page_has_its_header_once(plan: Path, tmp_path: Path, chromium: Chromium) -> None:
    rl.export(rl.read(plan)).save(tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/home.html", 1000, 600)
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": "print"})
        try:
            found = chromium.run(
                "const header = getComputedStyle(document.querySelector('header'));"
                "const layer = getComputedStyle(document.querySelector('.lantern-boats > .lantern-layer'));"
                "return [header.position, layer.animationName, layer.height]"
            )
        finally:
            chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"media": ""})
    assert found == ["absolute", "none", "900px"]


def test_a_browser_that_is_not_there_is_said(plan: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(
        engines, "find_program", lambda *names: None if "Xvfb" in names else "/bin/true"
    )
    assert rl.read(plan)
    result = run("prove", plan, "--engine", "webkit")
    assert result.exit_code == 2 or isinstance(result.exception, RequestError)
    assert "Xvfb cannot be found" in str(result.exception or result.output)


def test_a_host_that_is_no_page_is_refused(tmp_path: Path) -> None:
    host = tmp_path / "host.html"
    host.write_bytes(b"\xff\xfe nothing")
    with pytest.raises(RequestError, match="is not UTF-8"):
        read_host(host)
    with pytest.raises(RequestError, match="has no tags"):
        pasted("Hello, who is there?", "<body></body>")


AXE = Path(sys.prefix) / "node_modules" / "axe-core" / "axe.min.js"
_RUN_AXE = """
const done = arguments[0];
axe.run(document, {}).then((result) => done(result.violations.map((item) =>
  [item.id, item.nodes.map((node) => node.html.slice(0, 160))])));
"""


@pytest.mark.parametrize("page", some(["home", "lanterns", "programme", "visit", "journal"], 4))
def test_an_accessibility_engine_finds_nothing_in_any_look(
    chromium: Chromium, regatta: Plan, tmp_path: Path, page: str
) -> None:
    if not AXE.is_file():
        if os.environ.get("RISING_LANTERN_BROWSER") == "required":
            pytest.fail("axe-core is not installed")
        pytest.skip("axe-core is not installed")
    rl.export(regatta, page).save(tmp_path / "out")
    with served(tmp_path / "out") as url:
        for viewport in ("laptop", "phone"):
            view = regatta.view(page, viewport)
            screen = view.scene.box.screen
            chromium.open(f"{url}/{page}.html", screen.width, screen.height)
            chromium.run(AXE.read_text("utf-8") + "; return null")
            assert view.scene.switches is not None
            starts = [max(step.start, 0) for step in view.scene.switches.steps]
            for start in dict.fromkeys(min(start + 1, view.max_scroll) for start in starts):
                chromium.scroll(start)
                assert chromium.driver.execute_async_script(_RUN_AXE) == []
