"""What reading a header at every px of scroll costs, beside copying and beside a browser.

A page of 10,000 px at 1280 x 800, four parts, two looks, over plain, fixed and moving pictures. It
is measured against copying one frame, against copying the header's strip of every position, and,
where Chromium is there, against taking screenshots of the same strips in it. The texts of the same
page are read as well.
"""

from __future__ import annotations

import shutil
import statistics
import tempfile
import tracemalloc
from functools import partial
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

import rising_lantern as rl
from figures import Report, timed
from rising_lantern.previews.output_folder import write_preview

_PLAN = """
rising-lantern: 1
viewports: {laptop: 1280x800}
headers:
  main:
    height: 80px
    color: white
    parts:
      brand: {text: Saltmere, weight: 700, side: start}
      menu: {text: [Programme, Lanterns, Visit, Journal], side: center}
      search: {text: Search, side: end}
      tickets: {text: Tickets, side: end}
    looks:
      clear: {}
      tinted: {from: 5000px, background: rgb(10 20 40 / .6)}
pages:
  page:
    sections:
"""
_KINDS = (
    "layers: [{image: a.jpg}], content: [{text: The river carries the light, size: 40px}]",
    "layers: [{image: a.jpg, attachment: fixed}], content: [{text: Afloat, size: 60px}]",
    "layers: [{image: a.jpg, speed: 0.4}], content: [{text: Four hundred lanterns, size: 40px}]",
)


def main() -> None:
    """Measure and print the ratios."""
    rng = np.random.default_rng(1)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        noise = rng.integers(0, 255, (1200, 1800, 3), dtype=np.uint8)
        Image.fromarray(noise).save(folder / "a.jpg")
        rows = [f"      s{i}: {{height: 800px, {_KINDS[i % 3]}}}\n" for i in range(12)]
        (folder / "plan.yaml").write_text(_PLAN + "".join(rows) + "      end: {height: 400px}\n")
        view = rl.read(folder / "plan.yaml").view()
        for scroll in range(0, view.max_scroll, 400):
            view.pixels(scroll)
        report = Report("contrast")
        frame, count = view.pixels(0), view.max_scroll + 1
        report.measure(
            f"header's strip copied at {count} positions", lambda: _copy_strips(frame, count), 3
        )
        took = report.measure(f"contrast of 4 parts at {count} positions", view.contrast)
        report.measure("contrast of the texts", lambda: view.contrast(of="content"), 3)
        tracemalloc.start()
        view.contrast()
        print(f"  {tracemalloc.get_traced_memory()[1] / 1e6:.0f} MB at most")
        tracemalloc.stop()
        _compare_browser(report, view, folder, took)
        report.write()


def _copy_strips(frame: NDArray[np.uint8], count: int) -> None:
    """Copy as many strips as there are positions, each from another row on."""
    strip = np.empty_like(frame[:80])
    for place in range(count):
        top = place % (len(frame) - 80)
        np.copyto(strip, frame[top : top + 80])


def _compare_browser(report: Report, view: rl.View, folder: Path, took: float) -> None:
    """Screenshots of the header's strip in Chromium, the quickest way it has."""
    browser, driver = shutil.which("chromium"), shutil.which("chromedriver")
    if not (browser and driver):
        print("no Chromium is installed: not compared with it")
        return
    from selenium import webdriver  # noqa: PLC0415 - without a browser it is not wanted

    write_preview(view.plan.file, [(view.scene.box, view.max_scroll)], folder / "out")
    options = webdriver.ChromeOptions()
    options.binary_location = browser
    for word in ("--headless", "--no-sandbox", "--disable-gpu", "--hide-scrollbars"):
        options.add_argument(word)
    chrome = webdriver.Chrome(options, webdriver.ChromeService(executable_path=driver))
    try:
        chrome.get((folder / "out" / "pages" / "page.laptop.html").as_uri())
        clip = {"x": 0, "y": 0, "width": 1280, "height": 80, "scale": 1}
        shot = {"format": "jpeg", "optimizeForSpeed": True, "clip": clip}

        def strip(scroll: int) -> None:
            chrome.execute_script("window.scrollTo(0, arguments[0])", scroll)
            chrome.execute_cdp_cmd("Page.captureScreenshot", shot)

        each = statistics.median(timed(partial(strip, scroll)) for scroll in range(0, 9000, 300))
    finally:
        chrome.quit()
    whole = each * (view.max_scroll + 1)
    report.add("Chromium's strips of all positions", [whole / took], "times ours")


if __name__ == "__main__":
    main()
