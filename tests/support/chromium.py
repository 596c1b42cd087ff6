"""A real Chromium over WebDriver."""

from __future__ import annotations

import base64
import io
import json
import shutil
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from selenium import webdriver

CHROMIUM = shutil.which("chromium")
CHROMEDRIVER = shutil.which("chromedriver")

_ARGUMENTS = (
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--disable-dev-shm-usage",
    "--hide-scrollbars",
    "--force-color-profile=srgb",
)

# Scrolls, lets the page's own listeners run, and waits until it has been painted.
_SCROLL = """
const [to, done] = arguments;
window.scrollTo({top: to, behavior: "instant"});
requestAnimationFrame(() => requestAnimationFrame(() => {
  // What fades is brought to its end, and what lags behind the scroll is waited for.
  const header = [...document.querySelectorAll("header")].find((e) => e.checkVisibility());
  let still = 2, last = null;
  const wait = () => {
    const now = header && header.style.getPropertyValue("--lantern-progress");
    const running = document.getAnimations().filter((one) => one instanceof CSSTransition);
    for (const one of running) one.finish();
    still = now === last && !running.length ? still - 1 : 2;
    last = now;
    if (still > 0) requestAnimationFrame(wait); else done(window.scrollY);
  };
  requestAnimationFrame(wait);
}));
"""


class Chromium:
    """A browser whose window is exactly as large as is asked for."""

    def __init__(self) -> None:
        options = webdriver.ChromeOptions()
        options.binary_location = CHROMIUM or ""
        for argument in _ARGUMENTS:
            options.add_argument(argument)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
        service = webdriver.ChromeService(executable_path=CHROMEDRIVER)
        self.driver = webdriver.Chrome(options=options, service=service)

    def open(self, url: str, width: int, height: int) -> None:
        """Open a page in a window of a size in CSS px, fonts and pictures loaded."""
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
        self.driver.get(url)
        self.driver.execute_async_script(
            "const done = arguments[0]; document.fonts.ready.then(() => done());"
        )

    def scroll(self, to: float) -> float:
        """Scroll, and give the position that came of it."""
        return float(self.driver.execute_async_script(_SCROLL, to))

    def run(self, script: str, *arguments: Any) -> Any:
        """Run a script in the page and give what it returns."""
        return self.driver.execute_script(script, *arguments)

    def screenshot(self) -> NDArray[np.uint8]:
        """The window as RGB pixels."""
        fast = {"format": "png", "optimizeForSpeed": True}
        taken = self.driver.execute_cdp_cmd("Page.captureScreenshot", fast)
        picture = Image.open(io.BytesIO(base64.b64decode(taken["data"])))
        return np.asarray(picture.convert("RGB"))

    def log(self) -> list[str]:
        """What the page has said on its console since the last call."""
        return [entry["message"] for entry in self._log("browser")]

    def requests(self) -> list[str]:
        """The addresses that have been asked for since the last call."""
        messages = [json.loads(entry["message"])["message"] for entry in self._log("performance")]
        return [
            message["params"]["request"]["url"]
            for message in messages
            if message["method"] == "Network.requestWillBeSent"
        ]

    def _log(self, kind: str) -> list[dict[str, Any]]:
        entries: list[dict[str, Any]] = self.driver.get_log(kind)  # type: ignore[no-untyped-call]
        return entries

    def quit(self) -> None:
        """Close the browser."""
        self.driver.quit()
