"""Where headers stand, against pages written by hand in Chromium."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

from chromium import Chromium
from pages import write_pages
from plans import MakePlan, plan_text
from rising_lantern.proofs.serving import served
from thorough import some

pytestmark = pytest.mark.browser

_SECTIONS = (
    "<main><section style='height:600px'>{inside}</section><section style='height:900px'>{second}</section>"
    "<section style='height:700px'></section></main>"
)
_HEADER = "<header style='box-sizing:border-box;height:80px;{}'></header>"

# The header of a plan, the style of one written by hand, and where that stands in the page.
PAGES = {
    "fixed": ("top: 12px", "position:fixed;left:0;right:0;top:12px", "page"),
    "fixed and boxed": (
        "width: 700px, top: 5vh",
        "position:fixed;left:0;right:0;top:5vh;width:700px;margin:0 auto",
        "page",
    ),
    "absolute": (
        "position: absolute, top: 30px",
        "position:absolute;left:0;right:0;top:30px",
        "page",
    ),
    "static": ("position: static", "position:static", "page"),
    "static and boxed": (
        "position: static, width: 60%",
        "position:static;width:60%;margin:0 auto",
        "page",
    ),
    "sticky": ("position: sticky, top: 10px", "position:sticky;top:10px", "page"),
    "sticky with a percentage": ("position: sticky, top: 10%", "position:sticky;top:10%", "page"),
    "sticky in the second section": (
        "position: sticky, top: 20px, inside: second",
        "position:sticky;top:20px",
        "second",
    ),
    "sticky in the first section": (
        "position: sticky, inside: opening",
        "position:sticky;top:0",
        "inside",
    ),
    "sticky in a container": (
        "position: sticky, inside: 100vh",
        "position:sticky;top:0",
        "container",
    ),
}


@pytest.mark.parametrize("name", some(PAGES, 3))
def test_headers_stand_where_a_browser_puts_them(
    chromium: Chromium, make_plan: MakePlan, folder: Path, name: str
) -> None:
    entry, style, where = PAGES[name]
    view = make_plan(plan_text(header=f"height: 80px, {entry}")).view()
    header = _HEADER.format(style)
    spots = {spot: header if where == spot else "" for spot in ("inside", "second")}
    body = _SECTIONS.format(**spots)
    if where in {"page", "container"}:
        body = header + body
    css = "*{margin:0}" + ("html,body{height:100%}" if where == "container" else "")
    (folder / "page.html").write_text(f"<!doctype html><style>{css}</style>{body}", "utf-8")
    ask = "const b = document.querySelector('header').getBoundingClientRect(); return [b.left, b.top, b.width, b.height]"
    with served(folder) as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        assert chromium.scroll(1e6) == view.max_scroll
        for scroll in np.linspace(0, view.max_scroll, 20).round():
            chromium.scroll(scroll)
            found = chromium.run(ask)
            moment = view.at(scroll).header
            assert moment is not None
            box = moment.box
            expected = (box.left, box.top, box.width, box.height)
            assert found == pytest.approx(expected, abs=0.5), scroll


@pytest.mark.parametrize("arrive", ["slide", "fade"])
@pytest.mark.parametrize("change", ["blend 200px", "cut"])
def test_a_second_header_arrives(
    chromium: Chromium, make_plan: MakePlan, tmp_path: Path, arrive: str, change: str
) -> None:
    """It comes from above, or out of nothing, over a first one that scrolls away."""
    header = (
        "position: absolute, height: 100px, parts: {a: {text: Saltmere}}, looks: {first: {}, second: {from: 50px, "
        f"height: 60px, background: white, arrive: {arrive}, change: {change}}}}}"
    )
    plan = make_plan(plan_text(header=header))
    view = plan.view()
    write_pages([view], tmp_path)
    ask = """
      const [one, two] = document.querySelectorAll("header");
      const b = two.getBoundingClientRect(), s = getComputedStyle(two);
      return [one.dataset.look, s.visibility, b.top, b.height, +s.opacity];
    """
    with served(tmp_path) as url:
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        for scroll in (0, 40, 60, 150, 240, 400, 100, 20):
            chromium.scroll(scroll)
            look, visibility, top, height, opacity = chromium.run(ask)
            moment = view.at(scroll)
            assert look == moment.look
            assert (visibility == "visible") == (look == "second")
            if moment.header and look == "second":
                assert [top, height] == pytest.approx([moment.header.box.top, 60], abs=0.5)
                assert opacity == pytest.approx(moment.header.state.opacity, abs=0.004)
