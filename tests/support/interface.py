"""The preview page in a browser: waiting for what it shows."""

from __future__ import annotations

import time

from chromium import Chromium


def until(browser: Chromium, condition: str) -> None:
    """Wait until an expression of the page counts as true."""
    for _ in range(600):
        if browser.run(f"return !!({condition})"):
            return
        time.sleep(0.05)
    raise AssertionError(condition)


def settled(browser: Chromium) -> None:
    """Wait until the page in the frame is there."""
    until(browser, "document.querySelector('.screen') && !document.querySelector('[aria-busy]')")
