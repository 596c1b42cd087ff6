"""Random plans in Chromium: the exported page does what the moments say, and looks like the frames.

``pytest tests/export/test_random.py --plans 200`` tries more of them.
"""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from pages import assert_agrees, read, write_page
from random_plans import write_random_plan
from rising_lantern.api.views import View
from rising_lantern.layout.headers import Going
from rising_lantern.proofs.proving import without_timelines
from rising_lantern.proofs.results import WAYS
from rising_lantern.proofs.serving import served
from thorough import some

pytestmark = pytest.mark.browser

POSITIONS = 12
_MOST_DIFFERENCE = 3.0  # of 255, on the average over a frame


def is_steady(view: View) -> bool:
    """Whether the header takes up the same room in all of its looks."""
    header = view.scene.box.header
    return header is None or len({header.room(look.flow_height) for look in header.looks}) == 1


def assert_shown(chromium: Chromium, view: View, asked: float, going: Going) -> None:
    """Scroll to a position, and compare what is there with the moment and the frame."""
    scroll = chromium.scroll(asked)
    if not is_steady(view):
        # The page itself is scrolled where its header changes its height: the look is one that
        # holds where the reader came to, or where the browser has moved the reader from or to.
        state = read(chromium, view)
        ways: list[Going] = ["down", "up"]
        header = view.scene.box.header
        rooms = [header.room(look.flow_height) for look in header.looks] if header else [0.0]
        moved = max(scroll - (max(rooms) - min(rooms)), 0.0)
        places = (min(scroll, view.max_scroll), asked, moved)
        assert state["look"] in {view.at(index, way).look for index in places for way in ways}
        return
    assert scroll == asked
    assert_agrees(read(chromium, view), view, scroll, going)
    if going == "up" and view.at(scroll, "up") == view.at(scroll):
        return  # the same frame as on the way down
    shot = chromium.screenshot().astype(int)
    difference = np.abs(shot - view.pixels(scroll, going)).mean()
    assert difference < _MOST_DIFFERENCE, (scroll, going, difference)


@pytest.mark.parametrize("way", some(WAYS, 1))
def test_a_random_plan_does_in_chromium_what_its_moments_say(
    chromium: Chromium, folder: Path, plan_seed: int, way: str
) -> None:
    write_random_plan(folder, plan_seed)
    view = rl.read(folder / "plan.json").view()
    page = write_page(view, folder / "out")
    if way == "script":
        without_timelines(folder / "out")
    screen = view.scene.box.screen
    with served(folder / "out") as url:
        chromium.open(f"{url}/{page}", screen.width, screen.height)
        positions = np.unique(np.linspace(0, view.max_scroll, POSITIONS).round())
        for scroll in positions:
            assert_shown(chromium, view, scroll, "down")
        for scroll in positions[::-1]:
            assert_shown(chromium, view, scroll, "up")
