"""What an exported page shows in a browser, held against the moments of its view."""

from __future__ import annotations

import re
from collections.abc import Iterable
from pathlib import Path
from typing import Any

import pytest

from rising_lantern.css.backgrounds import Box
from rising_lantern.css.colors import Color
from rising_lantern.report.preview import write_preview
from rising_lantern.scroll.moments import Moment
from rising_lantern.scroll.switches import Going
from rising_lantern.view import View

STATE = """
const box = (e) => { const b = e.getBoundingClientRect(); return [b.left, b.top, b.width, b.height]; };
const all = (selector, name) => Object.fromEntries(
  [...document.querySelectorAll(selector)].map((e) => [name(e), box(e)]));
const section = (e) => e.closest("[data-section]")?.dataset.section ?? "(page)";
const layer = (e) => section(e) + " " + e.dataset.layer;
const seen = (e) => e.checkVisibility();
// A second header that has come is the one that is seen.
const first = [...document.querySelectorAll("[data-lantern=header]")].find(seen);
const header = document.querySelector("[data-arrival][data-here]") || first;
const style = header && getComputedStyle(header);
return {
  look: first && first.dataset.look,
  header: header && box(header),
  background: style && style.backgroundColor,
  color: style && style.color,
  parts: header ? Object.fromEntries(
    [...header.querySelectorAll("[data-part]")].filter(seen).map((e) => [e.dataset.part, box(e)])) : {},
  sections: all("section", (e) => e.dataset.section),
  texts: [...document.querySelectorAll("[data-lantern=text]")].filter(seen).map(box),
  layers: all("[data-layer]", layer),
  opacities: Object.fromEntries(
    [...document.querySelectorAll("[data-layer]")].map((e) => [layer(e), getComputedStyle(e).opacity])),
};
"""
"""A script that reads off where all things of a page are, and what they look like."""


def write_pages(views: Iterable[View], folder: Path) -> None:
    """Write the pages of some views of a plan into a folder."""
    shown = list(views)
    write_preview(shown[0].plan, [(view.box, view.max_scroll) for view in shown], folder)


def write_page(view: View, folder: Path) -> str:
    """Write the page of a view into a folder, and give its address there."""
    folder.mkdir(exist_ok=True)
    write_pages([view], folder)
    return f"pages/{view.page}.html"


def move_by_script(folder: Path) -> None:
    """Change pages so that a browser moves their layers as one without scroll timelines does."""
    for name in ("lantern.css", "lantern-layers.js"):
        for path in folder.rglob(name):
            text = path.read_text("utf-8")
            path.write_text(text.replace("animation-timeline: view()", "nothing: at-all"), "utf-8")


def far(found: list[float], box: Box) -> float:
    """How far a rectangle of the browser is from ours, in px, at its worst edge."""
    expected = (box.left, box.top, box.width, box.height)
    return max(abs(a - b) for a, b in zip(found, expected, strict=True))


def channels(text: str) -> list[float]:
    """A computed colour of the browser: three channels of 255, and alpha."""
    numbers = [float(number) for number in re.findall(r"[\d.]+", text)]
    return numbers if len(numbers) == 4 else [*numbers, 1.0]


def assert_colour(found: str, expected: Color) -> None:
    """A computed colour is ours, to 8 bits."""
    *rgb, alpha = channels(found)
    assert alpha == pytest.approx(expected.alpha, abs=0.004)
    if expected.alpha > 0.02:
        assert rgb == pytest.approx(list(expected.bytes[:3]), abs=2)


def assert_agrees(state: dict[str, Any], view: View, scroll: float, going: Going = "down") -> None:
    """What the browser shows at a position is what the moment says."""
    swept = view.sweep([scroll], going)
    moment = swept.moment(0)
    assert state["look"] == moment.look
    if moment.header:
        assert far(state["header"], moment.header.box) <= 0.5
        header = view.box.header
        if header and all(isinstance(look.fill, Color) for look in header.looks):
            assert_colour(state["background"], moment.header.background)
        assert_colour(state["color"], moment.header.color)
    for name, part in moment.parts.items():
        assert far(state["parts"][name], part) <= 0.5, name
    for name, box in moment.sections.items():
        assert far(state["sections"][name], box) <= 0.5, name
    assert_texts(state, view, moment)
    for track in swept.layers():
        if not track.box.moves and not track.box.motion.path:
            continue
        name = f"{track.section} {track.index}"
        assert float(state["opacities"][name]) == pytest.approx(track.opacity[0], abs=0.004)
        if track.visible[0] > 0 and track.box.moves:
            own = moment.sections.get(track.section)
            motion, scale = track.box.motion, float(track.box.motion.scale(scroll))
            left, above = motion.origin(own.top if own else -scroll, scroll)
            area = Box(float(left), float(above), motion.width * scale, motion.height * scale)
            assert far(state["layers"][name], area) <= 1


def assert_texts(state: dict[str, Any], view: View, moment: Moment) -> None:
    """Texts are in their places, but for those that are still to arrive."""
    texts = iter(state["texts"])
    for section in view.box.sections:
        top = moment.sections[section.name].top
        for item, found in zip(section.content, texts, strict=False):
            x, y = item.motion.origin(top, moment.scroll_px)
            box = item.box.moved(float(x), float(y))
            # What is still to arrive stands elsewhere until it comes onto the screen.
            waits = item.entrance and not -box.height < box.top < view.box.screen.height - 60
            if -section.height < top < view.box.screen.height and not waits:
                assert far(found, box) <= 0.5
