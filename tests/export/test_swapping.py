"""Pages that are shown without being loaded: the scripts are stopped, and started for the next."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest

import rising_lantern as rl
from chromium import Chromium
from rising_lantern.proofs.serving import served

PAGES = ("lanterns", "visit", "journal", "home")

# A site that fetches its pages. It has the style sheets and scripts of all of them.
ROUTER = """
import { start } from "./lantern.js";
let stop = start();
const known = {};
window.show = async (name) => {
  known[name] ??= await (await fetch(`${name}.html`)).text();
  const page = new DOMParser().parseFromString(known[name], "text/html");
  stop();
  const data = '[data-lantern="plan"]';
  document.querySelector(data).textContent = page.querySelector(data).textContent;
  page.body.querySelectorAll("script").forEach((script) => script.remove());
  document.body.replaceWith(page.body);
  scrollTo({ top: 0, behavior: "instant" });
  stop = start(document.body);
};
window.ready = true;
"""

# What a reader sees at a position: the look of the header, and where sections and layers are.
SHOWN = """
  const header = document.querySelector("header");
  const style = header && getComputedStyle(header);
  const boxes = [...document.querySelectorAll("section, .lantern-layer")].map((item) => {
    const { left, top, width, height } = item.getBoundingClientRect();
    return [left, top, width, height].map((side) => Math.round(side)).join();
  });
  return [header?.dataset.look, style?.backgroundColor, style?.height, ...boxes];
"""


@pytest.fixture(scope="module")
def exported(site: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The sample site in a folder, its pages with a router."""
    folder = tmp_path_factory.mktemp("swapping")
    rl.export(rl.read(site / "regatta.yaml"), PAGES, pictures=False).save(folder / "out")
    out = folder / "out"
    (out / "router.js").write_text(ROUTER, "utf-8")
    sheets = "".join(
        f'<link rel="stylesheet" href="{path.name}">' for path in sorted(out.glob("lantern-*.css"))
    )
    scripts = "".join(
        f'<script type="module" src="{path.name}"></script>'
        for path in sorted(out.glob("lantern-*.js"))
    )
    for name in PAGES:
        page = (out / f"{name}.html").read_text("utf-8")
        own = page.replace("</head>", f"{sheets}{scripts}</head>")
        shutil.copy(out / f"{name}.html", out / f"plain-{name}.html")
        text = own.replace("</body>", '<script type="module" src="router.js"></script></body>')
        (out / f"{name}.html").write_text(text, "utf-8")
    return out


def _listeners(chromium: Chromium) -> int:
    """How many listeners the page has, once what nothing holds has been let go."""
    chromium.driver.execute_cdp_cmd("Performance.enable", {})
    for _ in range(3):
        chromium.driver.execute_cdp_cmd("HeapProfiler.collectGarbage", {})
    metrics = chromium.driver.execute_cdp_cmd("Performance.getMetrics", {})["metrics"]
    return int(next(item["value"] for item in metrics if item["name"] == "JSEventListeners"))


def _shown(chromium: Chromium, position: int) -> list[object]:
    chromium.scroll(0)
    chromium.scroll(position)
    # A look that lags or fades has arrived when nothing changes any more.
    last: list[object] = []
    while True:
        now: list[object] = chromium.run(SHOWN)
        if now == last:
            return now
        last = now
        chromium.run(
            "return new Promise((done) => setTimeout("
            "() => requestAnimationFrame(() => requestAnimationFrame(done)), 200))"
        )


@pytest.mark.browser
def test_a_hundred_pages_leave_nothing_behind(chromium: Chromium, exported: Path) -> None:
    with served(exported) as url:
        chromium.leave()
        chromium.open(f"{url}/home.html", 1280, 800)
        chromium.when("window.ready")
        for name in PAGES:
            chromium.run("return show(arguments[0])", name)
        before = _listeners(chromium)
        for turn in range(25):
            for name in PAGES:
                chromium.run("return show(arguments[0])", name)
            if turn == 0:
                once = _listeners(chromium)
        after = _listeners(chromium)
        assert after <= max(before, once) + 5
        assert chromium.run("return document.adoptedStyleSheets.length") <= 1
        assert chromium.log() == []


@pytest.mark.browser
@pytest.mark.parametrize("name", PAGES)
def test_a_page_that_was_swapped_in_is_as_one_that_was_loaded(
    chromium: Chromium, exported: Path, name: str
) -> None:
    with served(exported) as url:
        chromium.open(f"{url}/{name}.html", 1280, 800)
        loaded = [_shown(chromium, position) for position in (0, 330, 1900)]
        other = PAGES[PAGES.index(name) - 1]
        chromium.open(f"{url}/{other}.html", 1280, 800)
        chromium.when("window.ready")
        _shown(chromium, 900)
        chromium.run("return show(arguments[0])", name)
        swapped = [_shown(chromium, position) for position in (0, 330, 1900)]
        # And back, by another one.
        for next_ in (other, name):
            chromium.run("return show(arguments[0])", next_)
        again = [_shown(chromium, position) for position in (0, 330, 1900)]
    assert swapped == loaded
    assert again == loaded
