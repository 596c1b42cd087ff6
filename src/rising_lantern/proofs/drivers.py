"""Real browsers that run without a monitor, each behind the same few calls.

Chromium and WebKitGTK are driven over WebDriver, Firefox over WebDriver BiDi; WebKitGTK needs Xvfb.
"""

from __future__ import annotations

import base64
import io
import itertools
import json
import os
import select
import shutil
import socket
import subprocess
import tempfile
import time
import warnings
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path
from typing import Any, Protocol

import numpy as np
from PIL import Image

from rising_lantern.css.compositing import Bytes
from rising_lantern.css.schemes import Scheme
from rising_lantern.errors import RequestError
from rising_lantern.layout.screen import Screen

_PATIENCE = 60  # seconds
_SOON = 10  # seconds for a program to end that is asked to
_NARROWEST = 450  # px: WebKitGTK's window is no narrower, so that a page stands in a frame there
_FRAME = "lantern-frame.html"

CHROMIUM_ARGUMENTS = (
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
"""How Chromium is started: without a window, a network of its own, or a profile that stays."""
# Bars for scrolling lie over the page and take no room of it.
_FIREFOX_PREFERENCES = """user_pref("ui.useOverlayScrollbars", 1);
user_pref("layout.css.prefers-color-scheme.content-override", {scheme});
"""
_FIREFOX_SCHEMES = {"dark": 0, "light": 1}
_GTK_THEMES = {"dark": "Adwaita:dark", "light": "Adwaita"}


class LostError(Exception):
    """A program that a browser consists of has ended, or does not answer."""


class Driver(Protocol):
    """A browser that opens pages at sizes, runs scripts in them and takes pictures.

    Attributes:
        name: What it is called, with its version.
        paints_backdrops: Whether its pictures show what ``backdrop-filter`` does.
        rounds_letters: Whether it sets letters on whole px, so that lines are longer or shorter
            than their fonts have them, and may break elsewhere.
        keeps_areas: Whether it can be made to keep free what a screen's shape takes.
    """

    name: str
    paints_backdrops: bool
    rounds_letters: bool
    keeps_areas: bool

    def open(self, url: str, screen: Screen) -> None:
        """Open a page in a window as large as a screen."""
        ...

    def run(self, script: str, *arguments: Any) -> Any:
        """Run the body of a function, and give what it returns; a promise is waited for."""
        ...

    def screenshot(self) -> Bytes:
        """The window as RGB pixels."""
        ...

    def log(self) -> list[str]:
        """What the page has said on its console since the last call, as far as it is known."""
        ...


def _pixels(data: bytes) -> Bytes:
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"))


def _value(answer: dict[str, Any]) -> Any:
    """What a script returned; what it threw is an error."""
    if "error" in answer:
        raise RequestError(f"a page's script failed: {answer['error']}")
    return answer.get("value")


class Chromium:
    """Chromium, whose window is exactly as large as is asked for.

    Attributes:
        address: The host and port at which its tools for developers answer.
    """

    paints_backdrops = True
    rounds_letters = False
    keeps_areas = True

    def __init__(self, scheme: Scheme, environment: dict[str, str]) -> None:
        from selenium import webdriver  # noqa: PLC0415 - an extra

        options = webdriver.ChromeOptions()
        options.binary_location = shutil.which("chromium") or ""
        for argument in CHROMIUM_ARGUMENTS:
            options.add_argument(argument)
        options.set_capability("goog:loggingPrefs", {"browser": "ALL"})
        service = webdriver.ChromeService(shutil.which("chromedriver"), env=environment)
        self._driver = webdriver.Chrome(options=options, service=service)
        self._driver.set_script_timeout(_PATIENCE)
        self._driver.set_page_load_timeout(_PATIENCE)
        preferred = [{"name": "prefers-color-scheme", "value": scheme}]
        self._driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": preferred})
        self.address = str(self._driver.capabilities["goog:chromeOptions"]["debuggerAddress"])
        self.name = f"Chromium {self._driver.capabilities['browserVersion'].split('.')[0]}"

    def open(self, url: str, screen: Screen) -> None:
        """Open a page in a window as large as a screen."""
        size = {"width": screen.width, "height": screen.height}
        metrics = {**size, "deviceScaleFactor": 1, "mobile": False}
        self._driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
        sides = dict(zip(("top", "right", "bottom", "left"), screen.safe_area, strict=True))
        area = {side: round(px) for side, px in sides.items()}
        self._driver.execute_cdp_cmd("Emulation.setSafeAreaInsetsOverride", {"insets": area})
        self._driver.get(url)

    def run(self, script: str, *arguments: Any) -> Any:
        """Run the body of a function, and give what it returns; a promise is waited for."""
        return _run_async(self._driver, script, arguments)

    def screenshot(self) -> Bytes:
        """The window as RGB pixels."""
        fast = {"format": "png", "optimizeForSpeed": True}
        taken = self._driver.execute_cdp_cmd("Page.captureScreenshot", fast)
        return _pixels(base64.b64decode(taken["data"]))

    def log(self) -> list[str]:
        """What the page has said on its console since the last call."""
        entries: list[dict[str, Any]] = self._driver.get_log("browser")  # type: ignore[no-untyped-call]
        return [str(entry["message"]) for entry in entries]

    def command(self, name: str, **parameters: Any) -> Any:
        """Give a command of the DevTools protocol, and return its answer."""
        return self._driver.execute_cdp_cmd(name, parameters)

    def quit(self) -> None:
        """Close the browser."""
        self._driver.quit()


_PROMISED = (
    "Promise.resolve((function () { %s }).apply(null, [...arguments].slice(0, -1)))"
    ".then((value) => done({ value }), (error) => done({ error: String(error) }));"
)


def _run_async(driver: Any, script: str, arguments: tuple[Any, ...]) -> Any:
    """Run the body of a function over WebDriver, and give what it returns or promises."""
    body = f"const done = arguments[arguments.length - 1]; {_PROMISED % script}"
    return _value(driver.execute_async_script(body, *arguments))


class _Firefox:
    """Firefox, driven over a web socket of its own."""

    paints_backdrops = False
    rounds_letters = False
    keeps_areas = False

    def __init__(self, connection: Any) -> None:
        self._socket = connection
        self._ids = itertools.count(1)
        started = self._send("session.new", {"capabilities": {}})
        version = str(started["capabilities"]["browserVersion"])
        self.name = f"Firefox {version.split('.', maxsplit=1)[0]}"
        self._context = self._send("browsingContext.getTree", {})["contexts"][0]["context"]
        self._said: list[str] = []
        self._send("session.subscribe", {"events": ["log.entryAdded"]})

    def _send(self, method: str, parameters: dict[str, Any]) -> dict[str, Any]:
        number = next(self._ids)
        self._socket.send(json.dumps({"id": number, "method": method, "params": parameters}))
        deadline = time.monotonic() + _PATIENCE
        # A page may say something for ever.
        while time.monotonic() < deadline:
            answer = json.loads(self._socket.recv())
            if answer.get("method") == "log.entryAdded":
                self._said.append(str(answer["params"].get("text")))
            if answer.get("id") == number:
                if answer["type"] != "success":
                    raise RequestError(f"Firefox says: {answer.get('message')}")
                result: dict[str, Any] = answer["result"]
                return result
        raise LostError(f"it does not answer {method}")

    def open(self, url: str, screen: Screen) -> None:
        viewport = {"width": screen.width, "height": screen.height}
        self._send("browsingContext.setViewport", {"context": self._context, "viewport": viewport})
        place = {"context": self._context, "url": url, "wait": "complete"}
        self._send("browsingContext.navigate", place)

    def run(self, script: str, *arguments: Any) -> Any:
        given = json.dumps(list(arguments))
        asked = {
            "expression": f"Promise.resolve((function () {{ {script} }}).apply(null, {given}))"
            ".then((value) => JSON.stringify({ value }),"
            " (error) => JSON.stringify({ error: String(error) }))",
            "awaitPromise": True,
            "target": {"context": self._context},
        }
        return _value(json.loads(self._send("script.evaluate", asked)["result"]["value"]))

    def screenshot(self) -> Bytes:
        taken = self._send("browsingContext.captureScreenshot", {"context": self._context})
        return _pixels(base64.b64decode(taken["data"]))

    def log(self) -> list[str]:
        said, self._said = self._said, []
        return said


def _connect(port: int, process: subprocess.Popen[bytes]) -> Any:
    """The web socket of Firefox, once it listens."""
    import websocket  # noqa: PLC0415 - an extra

    deadline = time.monotonic() + _PATIENCE
    while True:
        if process.poll() is not None:
            raise LostError(f"it ended with status {process.returncode}")
        try:
            return websocket.create_connection(
                f"ws://127.0.0.1:{port}/session", timeout=_PATIENCE, suppress_origin=True
            )
        except OSError:
            if time.monotonic() > deadline:
                raise
            time.sleep(0.2)


class _WebKit:
    """WebKitGTK's small browser on a screen that nobody sees."""

    paints_backdrops = True
    rounds_letters = True
    keeps_areas = False

    def __init__(self, environment: dict[str, str]) -> None:
        from selenium import webdriver  # noqa: PLC0415 - an extra
        from selenium.webdriver.webkitgtk.options import Options  # noqa: PLC0415
        from selenium.webdriver.webkitgtk.service import Service  # noqa: PLC0415

        options = Options()
        options.binary_location = _mini_browser()
        options.add_argument("--automation")
        with warnings.catch_warnings():
            # Selenium warns of what it does itself.
            warnings.simplefilter("ignore", DeprecationWarning)
            service = Service(shutil.which("WebKitWebDriver"), env=environment)
            self._driver = webdriver.WebKitGTK(options=options, service=service)
        self._driver.set_script_timeout(_PATIENCE)
        self._driver.set_page_load_timeout(_PATIENCE)
        self.name = f"WebKitGTK {self._driver.capabilities['browserVersion']}"
        self._size = (0, 0)

    def open(self, url: str, screen: Screen) -> None:
        width, height = screen.width, screen.height
        self._driver.switch_to.default_content()
        self._resize(max(width, _NARROWEST), height)
        self._size = (width, height)
        if width >= _NARROWEST:
            self._driver.get(url)
            return
        # A page of the same origin, so that scripts reach into the frame.
        self._driver.get(f"{url.rsplit('/', 1)[0]}/{_FRAME}")
        self._driver.execute_async_script(
            "const [url, width, height, done] = arguments; document.body.style.margin = 0;"
            "const frame = document.createElement('iframe'); frame.onload = () => done();"
            "frame.style.cssText = `border: 0; width: ${width}px; height: ${height}px`;"
            "frame.src = url; document.body.replaceChildren(frame);",
            *(url, width, height),
        )
        self._driver.switch_to.frame(0)

    def _resize(self, width: int, height: int) -> None:
        # The window counts its own bars.
        for _ in range(4):
            inner = self._driver.execute_script("return [window.innerWidth, window.innerHeight]")
            if inner == [width, height]:
                break
            outer = self._driver.get_window_size()
            # While it is being shown, it may say that its page is larger than itself.
            across, down = outer["width"] + width - inner[0], outer["height"] + height - inner[1]
            self._driver.set_window_size(max(across, 1), max(down, 1))

    def run(self, script: str, *arguments: Any) -> Any:
        return _run_async(self._driver, script, arguments)

    def screenshot(self) -> Bytes:
        width, height = self._size
        return _pixels(self._driver.get_screenshot_as_png())[:height, :width]

    def log(self) -> list[str]:
        return []

    def quit(self) -> None:
        self._driver.quit()


def _mini_browser() -> str:
    """Where Debian puts WebKitGTK's small browser, on whichever machine."""
    found = sorted(Path("/usr/lib").glob("*/webkit2gtk-4.*/MiniBrowser"))
    return str(found[-1]) if found else ""


@contextmanager
def chromium(scheme: Scheme, environment: dict[str, str]) -> Iterator[Driver]:
    """Chromium without a window."""
    browser = Chromium(scheme, environment)
    try:
        yield browser
    finally:
        browser.quit()


@contextmanager
def firefox(scheme: Scheme, environment: dict[str, str]) -> Iterator[Driver]:
    """Firefox without a window, with a profile and a home of its own."""
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    with tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as home:
        preferences = _FIREFOX_PREFERENCES.format(scheme=_FIREFOX_SCHEMES[scheme])
        (Path(home) / "user.js").write_text(preferences, "utf-8")
        command = [find_program("firefox-esr", "firefox") or "", "--headless", "--no-remote"]
        process = subprocess.Popen(  # noqa: S603 - a browser, by its place
            [*command, "--profile", home, "--remote-debugging-port", str(port)],
            env={**environment, "HOME": home},
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        try:
            with closing(_connect(port, process)) as connection:
                yield _Firefox(connection)
        finally:
            _end(process)


@contextmanager
def webkit(scheme: Scheme, environment: dict[str, str]) -> Iterator[Driver]:
    """WebKitGTK on a virtual screen."""
    with (
        tempfile.TemporaryDirectory(ignore_cleanup_errors=True) as home,
        _display(environment) as display,
    ):
        own = {
            "DISPLAY": display,
            "HOME": home,
            "XDG_RUNTIME_DIR": home,
            "GDK_BACKEND": "x11",
            "GTK_THEME": _GTK_THEMES[scheme],
            "LIBGL_ALWAYS_SOFTWARE": "1",
        }
        browser = _WebKit(environment | own)
        try:
            yield browser
        finally:
            browser.quit()


@contextmanager
def _display(environment: dict[str, str]) -> Iterator[str]:
    """A virtual screen, by its name."""
    read, write = os.pipe()
    command = [shutil.which("Xvfb") or "", "-displayfd", str(write), "-screen", "0"]
    process = subprocess.Popen(  # noqa: S603 - a program, by its place
        [*command, "1600x1400x24"], env=environment, pass_fds=(write,), stderr=subprocess.DEVNULL
    )
    os.close(write)
    try:
        # The number and the new line after it: the server dies where the pipe is closed between.
        number = b""
        while not number.endswith(b"\n"):
            if not select.select([read], [], [], _PATIENCE)[0]:
                raise LostError("Xvfb gives no screen")
            said = os.read(read, 16)
            if not said:
                raise LostError("Xvfb has ended")
            number += said
        yield f":{number.decode().strip()}"
    finally:
        _end(process)
        os.close(read)


def _end(process: subprocess.Popen[bytes]) -> None:
    """End a program, at once where it does not end when it is asked to."""
    process.terminate()
    try:
        process.wait(_SOON)
    except subprocess.TimeoutExpired:
        process.kill()
        process.wait(_PATIENCE)


def find_program(*names: str) -> str | None:
    """The place of the first of some programs that is on this machine."""
    return next((path for name in names if (path := shutil.which(name))), None)
