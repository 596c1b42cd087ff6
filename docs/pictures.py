"""Draw every picture in ``docs/screenshots`` and ``examples`` from the sample site.

``make pictures`` runs it. It needs Chromium for the pages, and Xvfb and xterm for the terminals.
What a terminal picture shows is kept as text in ``docs/screenshots/texts``.
"""

from __future__ import annotations

import io
import os
import re
import shlex
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from pathlib import Path

import numpy as np
from PIL import Image, ImageGrab
from selenium import webdriver

import rising_lantern as rl

ROOT = Path(__file__).parent.parent
PICTURES = ROOT / "docs" / "screenshots"
TEXTS = PICTURES / "texts"
_WAITING = re.compile(r".+: \d+ of \d+ done in .+")
EXAMPLES = ROOT / "examples"

_DISPLAY = ":87"
_MARGIN = 14  # px around the text of a terminal
_SCREEN = (1280, 800)  # px of a browser's window
_TABLET, _PHONE = (820, 1180), (390, 844)
_BROADEST = 2026  # px
_COLORS = 192  # of a committed picture
_XTERM = (
    "xterm -fa DejaVu\\ Sans\\ Mono -fs 11 -b 14 -bg #1e2438 -fg #f0e8dc -cr #1e2438 +sb "
    "-xrm XTerm*boldColors:false"
)

FAULTY = """\
rising-lantern: 1
title: Saltmere Lantern Regatta
viewports: {laptop: 1280 by 800, phone: 390x844@3}
colors: {ink: "#16213e", paper: "#fdf6e3", flame: "#f4a25"}
headers:
  main:
    height: 96
    parts: {brand: {image: marks/logo-lihgt.png, width: 168 px}}
    looks:
      clear: {backgruond: transparent, color: papre}
      solid: {from: past heroe, back: 20, change: fade 260ms eas-out}
pages:
  home:
    sections:
      hero: {height: 100vh, layers: [{image: pictures/dusk-river.jpg, speed: fast}]}
"""


@dataclass(frozen=True, slots=True)
class Terminal:
    """A command in a terminal.

    Attributes:
        name: What its picture and its text are called.
        command: The words after ``rising-lantern``.
        rows: The height of the terminal.
        columns: Its width.
        head: The number of lines that are shown; None for all.
    """

    name: str
    command: str
    rows: int = 44
    columns: int = 141
    head: int | None = None

    @property
    def shown(self) -> str:
        """The command line that is shown."""
        return f"rising-lantern {self.command}" + (f" | head -n {self.head}" if self.head else "")

    @property
    def text_file(self) -> Path:
        """Where what it prints is kept."""
        return TEXTS / f"{self.name}.txt"

    def printed(self, folder: Path) -> str:
        """What the command prints in a folder, away from a terminal."""
        done = subprocess.run(
            [sys.executable, "-m", "rising_lantern", *shlex.split(self.command)],
            cwd=folder,
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
            check=False,
        )
        # How often a command says how far it is depends on the machine.
        said = [line for line in done.stdout.splitlines() if not _WAITING.fullmatch(line)]
        lines = said[: self.head]
        return "\n".join([f"$ {self.shown}", *lines, ""])


TERMINALS = (
    Terminal("faults", "check faulty.yaml", 42, 124),
    Terminal(
        "check",
        "check traps.yaml --page late-switch --page crowded-header --page cut-off "
        "--page off-centre --page slit",
        40,
    ),
    Terminal("tune", "tune traps.yaml --page late-switch --page flicker --page seam", 44),
    Terminal("trace", "trace regatta.yaml --page home --viewport laptop --every 180", 30, 120),
    Terminal("list-pictures", "list regatta.yaml --of pictures --page home", 36, 130),
    Terminal("list-switches", "list regatta.yaml --of switches", 42, 110),
    Terminal("export", "export regatta.yaml -o export", 30, 110),
)


def prepared_site(folder: Path) -> Path:
    """The folder of the sample site, with a faulty plan in it."""
    site = rl.sample_site(folder).parent
    (site / "faulty.yaml").write_text(FAULTY, "utf-8")
    return site


def main() -> None:
    """Draw all pictures, or those of the steps that are named."""
    with tempfile.TemporaryDirectory() as scratch:
        site = prepared_site(Path(scratch) / "saltmere")
        steps = (_terminals, _outputs, _pages, _readme_plan, _new_plan, _examples)
        wanted = sys.argv[1:]
        for step in steps:
            if wanted and step.__name__.strip("_") not in wanted:
                continue
            for name in step(site):
                sys.stdout.write(f"{name}\n")
                sys.stdout.flush()


def _save(picture: Image.Image, path: Path) -> str:
    """Save a picture with few colours, and no wider than a page shows it."""
    shown = picture.convert("RGB")
    if shown.width > _BROADEST:
        size = _BROADEST, round(shown.height * _BROADEST / shown.width)
        shown = shown.resize(size, Image.Resampling.LANCZOS)
    shown.quantize(_COLORS, dither=Image.Dither.FLOYDSTEINBERG).save(path, optimize=True)
    return path.relative_to(ROOT).as_posix()


# --- terminals -----------------------------------------------------------------------------------


def _terminals(site: Path) -> Iterator[str]:
    TEXTS.mkdir(parents=True, exist_ok=True)
    with _display():
        for terminal in TERMINALS:
            terminal.text_file.write_text(terminal.printed(site), "utf-8")
            yield _save(_shot(terminal, site), PICTURES / f"{terminal.name}.png")


@contextmanager
def _display() -> Iterator[None]:
    """A screen that is not shown."""
    with subprocess.Popen(
        ["Xvfb", _DISPLAY, "-screen", "0", "1600x1100x24"], stderr=subprocess.DEVNULL
    ) as server:
        time.sleep(1)
        yield
        server.terminate()


def _shot(terminal: Terminal, site: Path) -> Image.Image:
    """A command in a terminal window, as soon as it has ended."""
    ended = site / f".{terminal.name}-ended"
    shown = shlex.quote(f"$ {terminal.shown}")
    run = f"{shlex.quote(sys.executable)} -m {terminal.shown.replace('-', '_', 1)}"
    script = f"printf '%s\\n' {shown}; {run}; touch {shlex.quote(str(ended))}; sleep 60"
    words = shlex.split(_XTERM, comments=False)
    words += ["-geometry", f"{terminal.columns}x{terminal.rows}+0+0", "-e", "bash", "-c", script]
    with subprocess.Popen(
        words, cwd=site, env={**os.environ, "DISPLAY": _DISPLAY}, stderr=subprocess.DEVNULL
    ) as window:
        while not ended.exists():
            time.sleep(0.2)
        time.sleep(0.5)
        screen = ImageGrab.grab(xdisplay=_DISPLAY)
        window.terminate()
    return _without_empty_rows(screen.crop(screen.getbbox()))


def _without_empty_rows(screen: Image.Image) -> Image.Image:
    """A terminal as far down as anything is written in it."""
    pixels = np.asarray(screen.convert("RGB"))
    inner = pixels[_MARGIN:-_MARGIN, _MARGIN:-_MARGIN]
    written = np.flatnonzero((inner != inner[-1, -1]).any(axis=(1, 2)))
    return screen.crop((0, 0, screen.width, int(written[-1]) + 2 * _MARGIN))


# --- what commands write -------------------------------------------------------------------------


def _run(site: Path, command: str) -> None:
    words = [sys.executable, "-m", "rising_lantern", *shlex.split(command), "--quiet"]
    subprocess.run(words, cwd=site, check=True)


def _outputs(site: Path) -> Iterator[str]:
    _run(site, "preview regatta.yaml --page home --page lanterns --viewport laptop -o preview")
    _run(site, "preview traps.yaml --page late-switch --findings -o trap")
    _run(
        site,
        "compare traps.yaml --page late-switch -o compare "
        "--vary headers.guessed.looks.solid.from=420px,540px,900px",
    )
    _run(
        site,
        "tune traps.yaml --page late-switch --range headers.guessed.looks.solid.from -o range.png",
    )
    files = {
        "filmstrip-lanterns-laptop": "preview/filmstrips/lanterns.laptop.png",
        "header-strip": "preview/headers/home.laptop.png",
        "chart": "trap/charts/late-switch.laptop.png",
        "compare-frames": "compare/late-switch.laptop.frames.png",
        "tune-range": "range.png",
    }
    for name, file in files.items():
        with Image.open(site / file) as picture:
            yield _save(picture, PICTURES / f"{name}.png")


def _pages(site: Path) -> Iterator[str]:
    _run(site, "prove regatta.yaml --page home --page visit --viewport laptop -o proof")
    options = webdriver.ChromeOptions()
    options.binary_location = shutil.which("chromium") or ""
    for argument in ("--headless", "--no-sandbox", "--hide-scrollbars"):
        options.add_argument(argument)
    driver = webdriver.Chrome(
        options=options, service=webdriver.ChromeService(shutil.which("chromedriver"))
    )
    try:
        yield _save(_window(driver, site / "proof/proof.html"), PICTURES / "proof.png")
        yield from _interface(driver, site)
    finally:
        driver.quit()


def _interface(driver: webdriver.Chrome, site: Path) -> Iterator[str]:
    """The preview page: dark and light on a laptop, and on smaller screens."""
    _run(site, "preview regatta.yaml -o whole")
    _run(site, "preview traps.yaml --page unreadable-part --page late-switch -o traps")
    whole, traps = site / "whole" / "preview.html", site / "traps" / "preview.html"
    yield _save(_window(driver, site / "whole/index.html"), PICTURES / "preview-index.png")
    pin = "document.querySelector('.pin').click()"
    for name, page, words, theme, script in (
        ("preview", whole, "page=home&viewport=laptop&at=300", "dark", ""),
        ("preview-findings", traps, "page=unreadable-part", "light", pin),
    ):
        shot = _window(driver, page, f"#{words}", theme=theme, script=script)
        yield _save(shot, PICTURES / f"{name}.png")
    tablet = _window(driver, whole, "#page=lanterns&viewport=laptop&at=1224&panel=moment", _TABLET)
    phone = _window(driver, whole, "#page=home&viewport=phone&at=420", _PHONE, theme="dark")
    both = Image.new("RGB", (tablet.width + phone.width + 40, tablet.height), "#ffffff")
    both.paste(tablet, (0, 0))
    both.paste(phone, (tablet.width + 40, 0))
    yield _save(both, PICTURES / "preview-small.png")


def _window(
    driver: webdriver.Chrome,
    page: Path,
    hash_: str = "",
    size: tuple[int, int] = _SCREEN,
    *,
    theme: str = "light",
    script: str = "",
) -> Image.Image:
    """A page in a window, in one of its themes, after a script."""
    metrics = {"width": size[0], "height": size[1], "deviceScaleFactor": 1, "mobile": False}
    driver.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", metrics)
    prefers = [{"name": "prefers-color-scheme", "value": theme}]
    driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": prefers})
    driver.get("about:blank")
    driver.get(page.resolve().as_uri() + hash_)
    time.sleep(2)
    driver.execute_script(script)
    time.sleep(1)
    return Image.open(io.BytesIO(driver.get_screenshot_as_png())).convert("RGB")


def _readme_plan(site: Path) -> Iterator[str]:
    """The plan that the README prints, at its two viewports."""
    text = next(
        block[5:]
        for block in (ROOT / "README.md").read_text("utf-8").split("```")
        if block.startswith("yaml\n")
    )
    strips = [view.filmstrip() for view in rl.read_text(text, folder=site).views()]
    width = max(strip.width for strip in strips)
    both = Image.new(
        "RGB", (width, sum(strip.height for strip in strips)), strips[0].getpixel((0, 0))
    )
    top = 0
    for strip in strips:
        both.paste(strip, (0, top))
        top += strip.height
    yield _save(both, PICTURES / "readme-plan.png")


def _new_plan(site: Path) -> Iterator[str]:
    subprocess.run(
        [sys.executable, "-m", "rising_lantern", "new", "new"],
        cwd=site,
        check=True,
        stdout=subprocess.DEVNULL,
    )
    view = rl.read(site / "new" / "plan.yaml").view(viewport="laptop")
    yield _save(view.filmstrip(), PICTURES / "new.png")


def _examples(site: Path) -> Iterator[str]:
    """The pictures of the examples, and beside each script what it prints."""
    for script in sorted(EXAMPLES.glob("*.py")):
        done = subprocess.run(
            [sys.executable, script], cwd=site.parent, check=True, capture_output=True, text=True
        )
        script.with_suffix(".txt").write_text(done.stdout, "utf-8")
        name = f"{script.stem.replace('_', '-')}.png"
        with Image.open(site.parent / name) as picture:
            yield _save(picture, EXAMPLES / name)


if __name__ == "__main__":
    main()
