"""Looks in time, in Chromium: what fades, turns round and arrives does so as it is foretold."""

from __future__ import annotations

import random
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from chromium import Chromium
from pages import write_pages
from plans import MakePlan, plan_text
from rising_lantern.api.views import View
from rising_lantern.proofs.comparing import channels
from rising_lantern.proofs.proving import without_timelines
from rising_lantern.proofs.serving import served
from rising_lantern.scroll.gestures import Gesture
from rising_lantern.scroll.playing import play
from thorough import some

pytestmark = pytest.mark.browser

# Scrolls at given times, and writes down at each picture what the page has computed.
_RECORD = """
const [schedule, until, done] = arguments;
const header = document.querySelector("header");
const rows = [];
let next = 0;
const start = document.timeline.currentTime;
const frame = () => {
  // A busy machine starts transitions later than in the frame of the scroll that caused them:
  // they are started in that frame, by the clock of the frames themselves.
  for (const one of document.getAnimations())
    if (one instanceof CSSTransition && one.pending) one.startTime = document.timeline.currentTime;
  const now = document.timeline.currentTime - start;
  const style = getComputedStyle(header);
  const images = [...document.querySelectorAll("header img")].map((i) => +getComputedStyle(i).opacity);
  const fills = [...document.querySelectorAll("header .lantern-fill")].map((f) => +getComputedStyle(f).opacity);
  const text = document.querySelector("header .lantern-part :is(a, button):not(:has(img))");
  rows.push([now, window.scrollY, style.backgroundColor, style.height, style.color, images, fills,
    getComputedStyle(text.parentElement).fontSize, getComputedStyle(text).color]);
  while (next < schedule.length && now >= schedule[next][0]) {
    window.scrollTo({top: schedule[next][1], behavior: "instant"});
    next += 1;
  }
  if (now < until) requestAnimationFrame(frame); else done(rows);
};
requestAnimationFrame(frame);
"""
_PARTS = (
    "parts: {brand: {image: logo-dark.png}, menu: {text: [Programme], size: 16px}, "
    "tickets: {text: Tickets, color: '#a00', side: end}}"
)
_LOOKS = (
    "looks: {{a: {{}}, b: {{from: 100px, background: '#123c', color: white, height: 50px, parts: {{brand: "
    "{{image: logo-light.png}}, menu: {{size: 20px}}, tickets: {{color: '#ffe'}}}}}}{}}}"
)


def recorded(
    chromium: Chromium,
    make_plan: MakePlan,
    folder: Path,
    header: str,
    schedule: list[Any],
    script: str = _RECORD,
) -> tuple[View, list[Any]]:
    """What Chromium computes while a page is scrolled at some times."""
    plan = make_plan(plan_text(header=f"{header}, {_PARTS}"))
    out = folder / "out"
    out.mkdir()
    write_pages([plan.view()], out)
    # A script that scrolls in a frame is seen by timelines in the next one only.
    without_timelines(out)
    with served(out) as url:
        chromium.driver.set_script_timeout(60)
        chromium.open(f"{url}/pages/page.html", 1000, 600)
        chromium.scroll(180)
        chromium.scroll(0)
        until = schedule[-1][0] + 2200
        rows = chromium.driver.execute_async_script(script, schedule, until)
    return plan.view(), rows


@pytest.mark.parametrize("seed", some(range(3), 3))
@pytest.mark.parametrize(
    "header",
    [
        "height: 90px, background: '#fff0', change: fade 1500ms ease, " + _LOOKS.format(""),
        "height: 90px, background: '#fe8', change: 'fade 900ms 150ms cubic-bezier(.68, -.55, .27, 1.55)', "
        + _LOOKS.format(""),
        "height: 90px, background: '#fff0', change: fade 1200ms ease-in-out, "
        + _LOOKS.format(
            ", c: {from: 300px, background: 'linear-gradient(to right, #234, #a86)', color: '#fe9'}"
        ),
        "height: 90px, background: '#fff0', change: fade 700ms ease, "
        + _LOOKS.format("").replace("b: {from: 100px,", "b: {from: 100px, going: up, after: 60px,"),
    ],
    ids=["two looks", "overshoot and delay", "three looks and a gradient", "going up"],
)
def test_fades_turn_round_as_in_the_browser(
    chromium: Chromium, make_plan: MakePlan, folder: Path, header: str, seed: int
) -> None:
    """At the browser's own times, whatever it does with its pictures."""
    rng = random.Random(seed)  # noqa: S311 - not for secrets
    schedule, now = [], 200.0
    for step in range(5):
        schedule.append([now, [180, 0, 400, 180, 0][(step + seed) % 5]])
        now += rng.uniform(150, 900)
    view, rows = recorded(chromium, make_plan, folder, header, schedule)
    gesture = Gesture(np.array([row[0] for row in rows]) / 1000, np.array([row[1] for row in rows]))
    swept = play(view.scene.box, view.scene.switches, gesture)
    assert swept.header is not None
    assert view.scene.box.header is not None
    assert len({row[1] for row in rows}) >= 2
    for index, row in enumerate(rows):
        state = swept.header.states[swept.header.state[index]]
        assert float(row[3][:-2]) == pytest.approx(max(state.height, 0), abs=0.3)
        if not row[6]:
            assert_color(row[2], state.background)
        assert_color(row[4], state.color)
        assert_color(row[8], state.styles["menu"].color)
        brand = state.styles["brand"]
        shares = dict(zip(brand.images, brand.shares, strict=True))
        expected = [shares.get("logo-dark.png", 0), shares.get("logo-light.png", 0)]
        assert row[5] == pytest.approx(np.clip(expected, 0, 1), abs=0.004)
        if row[6]:
            known = dict(zip(state.fills, state.shares, strict=True))
            own = [known.get(look.fill, 0.0) for look in view.scene.box.header.looks]
            assert row[6] == pytest.approx(own, abs=0.004)
        assert float(row[7][:-2]) == pytest.approx(state.styles["menu"].size, abs=0.1)


def assert_color(found: str, expected: Any) -> None:
    """A computed colour, to 0.004 of alpha and 2 of 255."""
    *rgb, alpha = channels(found)
    assert alpha == pytest.approx(expected.alpha, abs=0.0045)
    if expected.alpha > 0.05:
        assert rgb == pytest.approx(list(expected.bytes[:3]), abs=2)


# Scrolls at given times, and writes down each share that the page's script sets, and when.
_SHARES = """
const [schedule, until, done] = arguments;
const header = document.querySelector("header");
const start = document.timeline.currentTime;
const rows = [];
header.style.setProperty = function (name, value) {
  if (name === "--lantern-progress") rows.push([document.timeline.currentTime - start, window.scrollY, +value]);
  CSSStyleDeclaration.prototype.setProperty.call(this, name, value);
};
let next = 0;
const frame = () => {
  const now = document.timeline.currentTime - start;
  while (next < schedule.length && now >= schedule[next][0]) {
    window.scrollTo({top: schedule[next][1], behavior: "instant"});
    next += 1;
  }
  if (now < until) requestAnimationFrame(frame); else done(rows);
};
requestAnimationFrame(frame);
"""


def test_a_blend_follows_with_its_lag(
    chromium: Chromium, make_plan: MakePlan, folder: Path
) -> None:
    """At each instant at which the page's script has set a share, by the clock of its frames."""
    header = "height: 90px, background: '#f000', change: blend 200px lag 600ms, " + _LOOKS.format(
        ""
    )
    schedule = [[200, 250], [500, 350], [1300, 180], [1900, 20]]
    view, rows = recorded(chromium, make_plan, folder, header, schedule, _SHARES)
    rows = [[0.0, 0.0, 1.0], *rows]
    gesture = Gesture(np.array([row[0] for row in rows]) / 1000, np.array([row[1] for row in rows]))
    swept = play(view.scene.box, view.scene.switches, gesture)
    assert swept.header is not None
    assert len(rows) > 20
    assert swept.header.progress == pytest.approx([row[2] for row in rows], abs=0.003)
