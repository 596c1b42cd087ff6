"""How smoothly an exported page runs in Chromium, beside a bare page with the same pictures."""

from __future__ import annotations

import html
import json
import tempfile
import time
from collections.abc import Callable, Iterable, Iterator
from dataclasses import asdict, dataclass
from os import PathLike
from pathlib import Path
from statistics import median
from typing import Any

from rising_lantern.api.plans import Plan
from rising_lantern.base.arguments import Names, path
from rising_lantern.errors import RequestError
from rising_lantern.exports.exporting import export
from rising_lantern.exports.site import Assets
from rising_lantern.jobs.sharing import Progress
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.proofs.drivers import Chromium
from rising_lantern.proofs.engines import missing, started
from rising_lantern.proofs.serving import served
from rising_lantern.proofs.tracing import Work, traced

SLOWER = 4.0
RUNS = 5
_SPEED = 1200  # px a second, as a wheel that is turned fast
_NOTCH = 100  # px that it is turned at a time
_SETTLE_MS = 600
_BARE = "lantern-bare.html"
_FOR_1000_PX = {
    "main_ms": "main thread, ms for 1,000 px",
    "compositor_ms": "compositor, ms for 1,000 px",
    "raster_ms": "raster, ms for 1,000 px",
}
JSON = "smoothness.json"


@dataclass(frozen=True, slots=True)
class Smoothness:
    """How smoothly a page runs at a viewport.

    Attributes:
        page: The page's name.
        viewport: The viewport's name.
        px: The length of the gesture.
        load: What the browser did while the page was loaded.
        scroll: What it did while the page was scrolled from its top to its end.
        bare_load: The same for a bare page with the same pictures.
        bare_scroll: The same for a bare page with the same pictures.
    """

    page: str
    viewport: str
    px: int
    load: Work
    scroll: Work
    bare_load: Work
    bare_scroll: Work

    @property
    def cost_ms(self) -> float:
        """The time for 1,000 px of scroll beyond that of the bare page."""
        return self.for_1000_px(self.scroll.whole_ms - self.bare_scroll.whole_ms)

    def for_1000_px(self, ms: float) -> float:
        """Return the share of a time of the whole gesture that 1,000 px of it take.

        It is 0 for a page that does not scroll.
        """
        return ms * 1000 / self.px if self.px else 0.0

    def data(self) -> dict[str, Any]:
        """The figures as plain data."""
        return asdict(self) | {"cost_ms": self.cost_ms}


def iter_smoothness(
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    slower: float = SLOWER,
    runs: int = RUNS,
    progress: Progress | None = None,
) -> Iterator[Smoothness]:
    """Yield how smoothly each page runs at each viewport, as Chromium's own trace has it.

    Args:
        plan: The plan.
        pages: The pages; by default all.
        viewports: The viewports; by default all.
        slower: How many times slower the main thread is made.
        runs: How often each page is loaded and scrolled; the median counts.
        progress: Called before each page and viewport, and at the end.

    Raises:
        RequestError: If there is no Chromium, or a number is not one that it can be.
    """
    if missing("chromium"):
        raise RequestError("chromium is not there: only its trace says what a page costs")
    if not 1 <= slower <= 20 or runs < 1:  # noqa: PLR2004
        raise RequestError("the main thread can be 1 to 20 times slower, in one run or more")
    work = plan.view_names(pages, viewports)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        export(plan, pages).write(folder)
        with served(folder) as address, started("chromium") as engine:
            browser = engine.chromium
            for done, (page, viewport) in enumerate(work):
                if progress:
                    progress(f"{page} on {viewport} in {browser.name}", done, len(work))
                box = plan.view(page, viewport).scene.box
                (folder / _BARE).write_text(bare_page(plan.file, box), "utf-8")
                gesture = _Gesture(browser, box, plan.view(page, viewport).max_scroll, slower)
                found = {}
                for kind, file in (("", f"{page}.html"), ("bare_", _BARE)):
                    engine.begin()
                    rounds = [gesture.run(f"{address}/{file}") for _ in range(runs)]
                    loads, scrolls = zip(*rounds, strict=True)
                    found[f"{kind}load"], found[f"{kind}scroll"] = _median(loads), _median(scrolls)
                yield Smoothness(page, viewport, gesture.px, **found)
    if progress:
        progress("Measured", len(work), len(work))


@dataclass(frozen=True)
class _Gesture:
    """A wheel that is turned from the top of a page to its end."""

    browser: Chromium
    box: PageBox
    px: int
    slower: float

    def run(self, url: str) -> tuple[Work, Work]:
        """What the browser does while a page is loaded, and while it is scrolled."""
        self.browser.command("Emulation.setCPUThrottlingRate", rate=self.slower)
        return self._traced(lambda: self._load(url)), self._traced(self._scroll)

    def _traced(self, action: Callable[[], object]) -> Work:
        return traced(self.browser.address, action)

    def _load(self, url: str) -> None:
        self.browser.open(url, self.box.screen)
        self._settle()

    def _scroll(self) -> None:
        place = {"x": self.box.screen.width // 2, "y": self.box.screen.height // 2}
        started = time.monotonic()
        for turn in range(-(-self.px // _NOTCH)):
            time.sleep(max(started + turn * _NOTCH / _SPEED - time.monotonic(), 0))
            self.browser.command(
                "Input.dispatchMouseEvent", type="mouseWheel", deltaX=0, deltaY=_NOTCH, **place
            )
        self._settle()

    def _settle(self) -> None:
        self.browser.run(f"return new Promise((done) => setTimeout(done, {_SETTLE_MS}))")


def bare_page(plan: PlanFile, box: PageBox) -> str:
    """A page with the sections, pictures and texts of one of a plan, and nothing that moves.

    Args:
        plan: The plan.
        box: The page at a viewport, laid out.
    """
    assets = Assets()
    sections = []
    for section in box.sections:
        names = dict.fromkeys(layer.name for layer in section.layers if layer.name)
        pictures = [assets.of_file(plan.files.pictures[name].file) for name in names]
        images = ", ".join(f"url('{address}') 50% / cover" for address in pictures)
        style = f"height: {section.height}px" + (f"; background: {images}" if images else "")
        texts = [item.words for item in section.items if isinstance(item, ContentBox)]
        words = "".join(f"<p>{html.escape(text)}</p>" for text in texts)
        sections.append(f'<section style="{html.escape(style)}">{words}</section>')
    styles = "body { margin: 0; font: 20px sans-serif } p { margin: 0; padding: 40px }"
    start = f'<!doctype html><meta charset="utf-8"><title>.</title><style>{styles}</style>'
    return start + "\n".join(sections)


def smoothness_lines(item: Smoothness) -> Iterator[str]:
    """It as a table of a few lines, each figure beside that of the bare page."""
    loads = (item.load, item.bare_load)
    rows = [
        ("longest task while loading, ms", *(work.longest_ms for work in loads)),
        ("layouts while loading", *(work.layouts for work in loads)),
        *(_scroll_rows(item) if item.px else ()),
    ]
    yield f"{item.page}  {item.viewport}  " + (f"{item.px} px" if item.px else "does not scroll")
    yield f"  {'':34}{'this page':>10}{'bare page':>11}"
    for said, own, bare in rows:
        yield f"  {said:34}{own:>10.0f}{bare:>11.0f}"
    if item.px:
        yield f"  {'beyond it, ms for 1,000 px':34}{item.cost_ms:>10.0f}"


def _scroll_rows(item: Smoothness) -> Iterator[tuple[str, float, float]]:
    """What the table says of the gesture."""
    own, bare = item.scroll, item.bare_scroll
    yield "longest task while scrolling, ms", own.longest_ms, bare.longest_ms
    yield "layouts while scrolling", own.layouts, bare.layouts
    yield "frames while scrolling", own.frames, bare.frames
    for name, said in _FOR_1000_PX.items():
        times = getattr(own, name), getattr(bare, name)
        yield said, item.for_1000_px(times[0]), item.for_1000_px(times[1])
    yield "compositor and raster, ms a frame", own.frame_ms, bare.frame_ms


def save_smoothness(
    items: Iterable[Smoothness], folder: str | PathLike[str], *, force: bool = False
) -> None:
    """Write ``smoothness.json`` into a folder.

    Args:
        items: The figures of each page at each viewport.
        folder: The folder; it is made if it is not there.
        force: Whether to replace a file that Rising Lantern did not write, or that has been
            changed since.

    Raises:
        RequestError: If the folder cannot be written, or holds a file that would be lost.
    """
    with filled_folder(path(folder), (JSON,), force=force) as scratch:
        text = json.dumps([item.data() for item in items], indent=1, ensure_ascii=False)
        (scratch / JSON).write_text(text + "\n", "utf-8")


def _median(works: tuple[Work, ...]) -> Work:
    """The median of each figure."""
    columns = zip(*(asdict(work).values() for work in works), strict=True)
    frames, main, layouts, *others = (median(column) for column in columns)
    return Work(round(frames), main, round(layouts), *others)
