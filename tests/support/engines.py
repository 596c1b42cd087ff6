"""Firefox over WebDriver BiDi, and WebKitGTK over WebDriver: other engines than Chromium's."""

from __future__ import annotations

import base64
import io
import itertools
import json
import os
import shutil
import socket
import subprocess
import tempfile
import time
import warnings
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any, Protocol

import numpy as np
import websocket
from numpy.typing import NDArray
from PIL import Image
from selenium import webdriver
from selenium.webdriver.webkitgtk.options import Options as WebKitOptions
from selenium.webdriver.webkitgtk.service import Service as WebKitService

FIREFOX = shutil.which("firefox-esr")
WEBKIT = shutil.which("WebKitWebDriver")
XVFB = shutil.which("Xvfb")
_PATIENCE = 60  # seconds
# Bars for scrolling lie over the page and take no room of it.
_PREFERENCES = 'user_pref("ui.useOverlayScrollbars", 1);\n'

# Scrolls, lets the page's own listeners run, and waits until it has been painted.
_SCROLL = """new Promise((done) => {
  window.scrollTo({top: %d, behavior: "instant"});
  // What fades is brought to its end.
  const end = () => document.getAnimations().forEach((one) => one instanceof CSSTransition && one.finish());
  const after = (n) => { end(); n ? requestAnimationFrame(() => after(n - 1)) : done(window.scrollY); };
  after(4);
})"""


class Engine(Protocol):
    """A browser of some size that opens pages, scrolls them and takes pictures."""

    def open(self, url: str) -> None:
        """Open a page."""
        ...

    def scroll(self, to: int) -> float:
        """Scroll, and give the position that came of it."""
        ...

    def run(self, script: str) -> Any:
        """Run the body of a function in the page, and give what it returns."""
        ...

    def screenshot(self) -> NDArray[np.uint8]:
        """The window as RGB pixels."""
        ...


class Firefox:
    """Firefox, driven over a web socket of its own."""

    def __init__(self, port: int, width: int, height: int) -> None:
        deadline = time.monotonic() + _PATIENCE
        while True:
            try:
                self._socket = websocket.create_connection(
                    f"ws://127.0.0.1:{port}/session", timeout=_PATIENCE, suppress_origin=True
                )
                break
            except OSError:
                if time.monotonic() > deadline:
                    raise
                time.sleep(0.2)
        self._ids = itertools.count(1)
        self._send("session.new", {"capabilities": {}})
        tree = self._send("browsingContext.getTree", {})
        self._context = tree["contexts"][0]["context"]
        viewport = {"width": width, "height": height}
        self._send("browsingContext.setViewport", {"context": self._context, "viewport": viewport})

    def _send(self, method: str, parameters: dict[str, Any]) -> dict[str, Any]:
        number = next(self._ids)
        self._socket.send(json.dumps({"id": number, "method": method, "params": parameters}))
        while True:
            answer = json.loads(self._socket.recv())
            if answer.get("id") == number:
                assert answer["type"] == "success", answer
                result: dict[str, Any] = answer["result"]
                return result

    def open(self, url: str) -> None:
        """Open a page, its pictures loaded."""
        place = {"context": self._context, "url": url, "wait": "complete"}
        self._send("browsingContext.navigate", place)

    def scroll(self, to: int) -> float:
        """Scroll, and give the position that came of it."""
        script = {
            "expression": _SCROLL % to,
            "awaitPromise": True,
            "target": {"context": self._context},
        }
        return float(self._send("script.evaluate", script)["result"]["value"])

    def run(self, script: str) -> Any:
        """Run the body of a function in the page, and give what it returns."""
        asked = {
            "expression": f"JSON.stringify((() => {{ {script} }})())",
            "awaitPromise": False,
            "target": {"context": self._context},
        }
        return json.loads(self._send("script.evaluate", asked)["result"]["value"])

    def screenshot(self) -> NDArray[np.uint8]:
        """The window as RGB pixels."""
        taken = self._send("browsingContext.captureScreenshot", {"context": self._context})
        return _pixels(base64.b64decode(taken["data"]))

    def quit(self) -> None:
        """Close the connection."""
        self._socket.close()


class WebKit:
    """WebKitGTK's small browser on a screen that nobody sees."""

    def __init__(self, width: int, height: int) -> None:
        options = WebKitOptions()
        options.binary_location = _mini_browser()
        options.add_argument("--automation")
        with warnings.catch_warnings():
            # Selenium warns of what it does itself.
            warnings.simplefilter("ignore", DeprecationWarning)
            self.driver = webdriver.WebKitGTK(options=options, service=WebKitService(WEBKIT))
        self.driver.set_script_timeout(_PATIENCE)
        # The window counts its own bars.
        for _ in range(4):
            inner = self.driver.execute_script("return [window.innerWidth, window.innerHeight]")
            if inner == [width, height]:
                break
            outer = self.driver.get_window_size()
            self.driver.set_window_size(
                outer["width"] + width - inner[0], outer["height"] + height - inner[1]
            )

    def open(self, url: str) -> None:
        """Open a page."""
        self.driver.get(url)

    def scroll(self, to: int) -> float:
        """Scroll, and give the position that came of it."""
        script = f"{_SCROLL % to}.then(arguments[0])"
        return float(self.driver.execute_async_script(script))

    def run(self, script: str) -> Any:
        """Run the body of a function in the page, and give what it returns."""
        return self.driver.execute_script(script)

    def screenshot(self) -> NDArray[np.uint8]:
        """The window as RGB pixels."""
        return _pixels(self.driver.get_screenshot_as_png())

    def quit(self) -> None:
        """Close the browser."""
        self.driver.quit()


def _pixels(data: bytes) -> NDArray[np.uint8]:
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def _mini_browser() -> str:
    """Where Debian puts WebKitGTK's small browser, on whichever machine."""
    found = sorted(Path("/usr/lib").glob("*/webkit2gtk-4.*/MiniBrowser"))
    return str(found[-1]) if found else ""


@contextmanager
def firefox(width: int, height: int) -> Iterator[Firefox]:
    """Firefox without a window, with a profile and a home of its own."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as home:
        (Path(home) / "user.js").write_text(_PREFERENCES, "utf-8")
        command = [FIREFOX or "", "--headless", "--no-remote", "--profile", home]
        process = subprocess.Popen(
            [*command, "--remote-debugging-port", str(port)],
            env={**os.environ, "HOME": home},
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        try:
            browser = Firefox(port, width, height)
            yield browser
            browser.quit()
        finally:
            process.terminate()
            process.wait(_PATIENCE)


@contextmanager
def webkit(width: int, height: int) -> Iterator[WebKit]:
    """WebKitGTK on a virtual screen."""
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as home, _display() as display:
        added = {
            "DISPLAY": display,
            "HOME": home,
            "XDG_RUNTIME_DIR": home,
            "GDK_BACKEND": "x11",
            "LIBGL_ALWAYS_SOFTWARE": "1",
        }
        before = {name: os.environ.get(name) for name in added}
        os.environ.update(added)
        try:
            browser = WebKit(width, height)
            yield browser
            browser.quit()
        finally:
            for name, value in before.items():
                if value is None:
                    del os.environ[name]
                else:
                    os.environ[name] = value


@contextmanager
def _display() -> Iterator[str]:
    """A virtual screen, by its name."""
    read, write = os.pipe()
    command = [XVFB or "", "-displayfd", str(write), "-screen", "0", "1400x1000x24"]
    process = subprocess.Popen(command, pass_fds=(write,), stderr=subprocess.DEVNULL)
    try:
        # The number and the new line after it: the server dies where the pipe is closed between.
        number = b""
        while not number.endswith(b"\n"):
            number += os.read(read, 16)
        yield f":{number.decode().strip()}"
    finally:
        process.terminate()
        process.wait(_PATIENCE)
        os.close(read)
        os.close(write)
