"""What an exported page shows in a browser, held against the moments of its view."""

from __future__ import annotations

from collections.abc import Iterable
from pathlib import Path
from typing import Any, Protocol

from rising_lantern.api.views import View
from rising_lantern.css.backgrounds import Rect
from rising_lantern.exports.site import Assets, ExportOptions, site_of
from rising_lantern.exports.sources import source_of
from rising_lantern.layout.headers import Going
from rising_lantern.previews.output_folder import write_preview
from rising_lantern.proofs.comparing import disagreements
from rising_lantern.proofs.reading import Landmarks, State, places_of, script


class Browser(Protocol):
    """What runs scripts in a page."""

    def run(self, body: str, *arguments: Any) -> Any:
        """Run the body of a function and give what it returns."""
        ...


def write_pages(views: Iterable[View], folder: Path) -> None:
    """Write the pages of some views of a plan into a folder."""
    shown = list(views)
    write_preview(shown[0].plan.file, [(view.scene.box, view.max_scroll) for view in shown], folder)


def write_page(view: View, folder: Path) -> str:
    """Write the page of a view into a folder, and give its address there."""
    folder.mkdir(exist_ok=True)
    write_pages([view], folder)
    return f"pages/{view.page}.html"


def places(view: View) -> Landmarks:
    """Where the things of an exported page are."""
    writer = site_of(view.plan.file, [view.scene.box], ExportOptions()).writer(Assets())
    return places_of(source_of(view.scene.box, view.scene.document), writer)


def read(browser: Browser, view: View) -> State:
    """What an open page shows where it is."""
    state: State = browser.run(script("read.js"), places(view).data)
    return state


def far(found: list[float], box: Rect) -> float:
    """How far a rectangle of the browser is from ours, in px, at its worst edge."""
    expected = (box.left, box.top, box.width, box.height)
    return max(abs(a - b) for a, b in zip(found, expected, strict=True))


def assert_agrees(state: State, view: View, scroll: float, going: Going = "down") -> None:
    """What the browser shows at a position is what the moment says."""
    found = list(disagreements(state, view.scene, float(scroll), going))
    assert not found, found
