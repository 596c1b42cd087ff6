"""Engines: browsers that are found on this machine, each behind the same few calls.

Nothing is downloaded: a browser is found, or is not there.
"""

from __future__ import annotations

import math
import subprocess
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import AbstractContextManager, contextmanager
from typing import Any, Protocol

from rising_lantern.css.compositing import Bytes
from rising_lantern.css.schemes import Scheme
from rising_lantern.errors import RequestError
from rising_lantern.layout.screen import Screen
from rising_lantern.proofs.drivers import (
    Chromium,
    Driver,
    LostError,
    chromium,
    find_program,
    firefox,
    webkit,
)
from rising_lantern.proofs.keeping import kept

_MOST_SECONDS = 300  # for one page at one viewport
_MOST_SAID = 200  # characters of what a browser says


class Engine(Driver, Protocol):
    """A browser of which no page takes more than a limited time."""

    @property
    def chromium(self) -> Chromium:
        """The browser itself, where it is Chromium, which more can be asked of."""
        ...

    def begin(self) -> None:
        """Begin with another page at another viewport: the time that it may take starts anew."""
        ...


class _Hurried:
    """A browser that is ended once a page has taken too long, whether or not it still answers."""

    def __init__(self, browser: Driver, end: Callable[[], None]) -> None:
        self._browser = browser
        self._end = end
        self._until = math.inf
        self._timer = threading.Timer(_MOST_SECONDS, end)
        self.name = browser.name
        self.paints_backdrops = browser.paints_backdrops
        self.rounds_letters = browser.rounds_letters
        self.keeps_areas = browser.keeps_areas

    @property
    def is_late(self) -> bool:
        """Whether the page has taken too long."""
        return time.monotonic() > self._until

    @property
    def chromium(self) -> Chromium:
        if not isinstance(self._browser, Chromium):
            raise TypeError(f"{self.name} is not Chromium")
        return self._browser

    def begin(self) -> None:
        self.rest()
        self._until = time.monotonic() + _MOST_SECONDS
        self._timer = threading.Timer(_MOST_SECONDS, self._end)
        self._timer.daemon = True
        self._timer.start()

    def rest(self) -> None:
        """Let it take as long as it likes, until it begins with another page."""
        self._timer.cancel()

    def open(self, url: str, screen: Screen) -> None:
        self._in_time().open(url, screen)

    def run(self, script: str, *arguments: Any) -> Any:
        return self._in_time().run(script, *arguments)

    def screenshot(self) -> Bytes:
        return self._in_time().screenshot()

    def log(self) -> list[str]:
        return self._in_time().log()

    def _in_time(self) -> Driver:
        if self.is_late:
            raise LostError
        return self._browser


_Start = Callable[[Scheme, dict[str, str]], AbstractContextManager[Driver]]
_STARTS: dict[str, tuple[tuple[tuple[str, ...], ...], _Start]]
_STARTS = {
    "chromium": ((("chromium",), ("chromedriver",)), chromium),
    "firefox": ((("firefox-esr", "firefox"),), firefox),
    "webkit": ((("WebKitWebDriver",), ("Xvfb",)), webkit),
}

ENGINES = tuple(_STARTS)
"""The engines that can be driven, by their names."""


def missing(engine: str) -> tuple[str, ...]:
    """The programs that an engine needs and that are not on this machine."""
    needed, _ = _STARTS[engine]
    return tuple(names[0] for names in needed if not find_program(*names))


@contextmanager
def started(engine: str, scheme: Scheme = "light") -> Iterator[Engine]:
    """A browser of an engine, until the end of a block.

    Args:
        engine: The engine's name.
        scheme: The colour scheme that its reader prefers.

    Raises:
        RequestError: If the packages that drive browsers are not installed, or the browser does
            not start, ends, or no longer answers.
    """
    try:
        from selenium.common.exceptions import WebDriverException  # noqa: PLC0415 - an extra
        from urllib3.exceptions import HTTPError  # noqa: PLC0415 - comes with that
        from websocket import WebSocketException  # noqa: PLC0415 - an extra
    except ModuleNotFoundError as error:
        raise RequestError(
            "browsers need selenium and websocket-client; install rising-lantern[browser]"
        ) from error
    lost = (WebDriverException, HTTPError, WebSocketException, ConnectionError, LostError)
    hurried = None
    try:
        with kept() as keeper, _STARTS[engine][1](scheme, keeper.environment) as browser:
            hurried = _Hurried(browser, keeper.end)
            try:
                yield hurried
            finally:
                hurried.rest()
    except (*lost, subprocess.TimeoutExpired) as error:
        if hurried and hurried.is_late:
            raise RequestError(
                f"one page has taken more than {_MOST_SECONDS} s in {engine}: the proof stops there"
            ) from error
        reason = (str(error).strip().splitlines() or [type(error).__name__])[0]
        raise RequestError(
            f"{engine} does not start, has ended or no longer answers: {reason[:_MOST_SAID]}"
        ) from error
