"""A real Chromium over WebDriver."""

from __future__ import annotations

import base64
import io
import json
import shutil
from collections.abc import Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image
from selenium import webdriver

from rising_lantern.proofs.drivers import CHROMIUM_ARGUMENTS
from rising_lantern.proofs.reading import script

CHROMIUM = shutil.which("chromium")
CHROMEDRIVER = shutil.which("chromedriver")


class Chromium:
    """A browser whose window is exactly as large as is asked for."""

    def __init__(self) -> None:
        options = webdriver.ChromeOptions()
        options.binary_location = CHROMIUM or ""
        for argument in CHROMIUM_ARGUMENTS:
            options.add_argument(argument)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL", "performance": "ALL"})
        service = webdriver.ChromeService(executable_path=CHROMEDRIVER)
        self.driver = webdriver.Chrome(options=options, service=service)
        # On a busy machine a large page is painted a few times in a second.
        self.driver.set_script_timeout(300)

    def open(
        self, url: str, width: int, height: int, safe_area: Sequence[float] = (0, 0, 0, 0)
    ) -> None:
        """Open a page in a window of a size in CSS px, fonts and pictures loaded.

        Args:
            url: Its address.
            width: The window's width.
            height: The window's height.
            safe_area: What the screen's own shape takes at the top, right, bottom and left.
        """
        sides = dict(zip(("top", "right", "bottom", "left"), safe_area, strict=True))
        area = {side: round(length) for side, length in sides.items()}
        self.driver.execute_cdp_cmd("Emulation.setSafeAreaInsetsOverride", {"insets": area})
        metrics = {"width": width, "height": height, "deviceScaleFactor": 1, "mobile": False}
        self.driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
        self.driver.get(url)
        self.driver.execute_async_script(
            # What is as high as its words is measured anew once its fonts are there.
            "const done = arguments[0]; const drawn = (then) => requestAnimationFrame(() => "
            "requestAnimationFrame(then)); document.fonts.ready.then(() => drawn(done));"
        )

    def scroll(self, to: float) -> float:
        """Scroll, and give the position that came of it."""
        return float(self.run(script("scroll.js"), to, "--lantern-progress"))

    def run(self, body: str, *arguments: Any) -> Any:
        """Run the body of a function in the page and give what it returns, promises too."""
        return self.driver.execute_script(body, *arguments)

    def when(self, expression: str) -> Any:
        """What an expression gives, once that is something."""
        body = "const done = arguments[0]; const ask = () => {{ const found = {}; "
        body += "if (found) done(found); else setTimeout(ask, 20); }}; ask();"
        return self.driver.execute_async_script(body.format(expression))

    def layouts(self) -> int:
        """How often the page has been laid out."""
        self.driver.execute_cdp_cmd("Performance.enable", {})
        metrics = self.driver.execute_cdp_cmd("Performance.getMetrics", {})["metrics"]
        return int(next(item["value"] for item in metrics if item["name"] == "LayoutCount"))

    def screenshot(self) -> NDArray[np.uint8]:
        """The window as RGB pixels."""
        fast = {"format": "png", "optimizeForSpeed": True}
        taken = self.driver.execute_cdp_cmd("Page.captureScreenshot", fast)
        picture = Image.open(io.BytesIO(base64.b64decode(taken["data"])))
        return np.asarray(picture.convert("RGB"))

    def leave(self) -> None:
        """Leave the page, and forget what it has said and asked for.

        A page that stays open may go on asking a server that has ended.
        """
        self.driver.get("about:blank")
        self.log()
        self.requests()

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
