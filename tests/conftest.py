"""Fixtures: small plans with pictures of their own, the sample site, and a browser."""

from __future__ import annotations

import os
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
from hypothesis import HealthCheck, settings
from PIL import Image

import rising_lantern as rl
from chromium import CHROMEDRIVER, CHROMIUM, Chromium
from rising_lantern.api import Plan
from rising_lantern.demo.site import PLAN, write_site

settings.register_profile(
    "suite", deadline=None, max_examples=60, suppress_health_check=[HealthCheck.too_slow]
)
settings.load_profile("suite")

MakePlan = Callable[[str], Plan]


def pytest_addoption(parser: pytest.Parser) -> None:
    """How many random plans are held against the browser."""
    parser.addoption("--plans", type=int, default=25, help="random plans to try in Chromium")


def pytest_generate_tests(metafunc: pytest.Metafunc) -> None:
    """A test that takes a plan_seed runs once for each random plan."""
    if "plan_seed" in metafunc.fixturenames:
        metafunc.parametrize("plan_seed", range(metafunc.config.getoption("--plans")))


FLAG = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="160" height="90"><path fill="#16213e" d="M0 0h160v90H0z"/>'
    '<path fill="#f4a259" fill-opacity=".8" d="M20 10h60v50H20z"/></svg>'
)


def paint_pictures(folder: Path) -> None:
    """Small pictures for plans: a photograph of noise, a gradient, and two logos."""
    rng = np.random.default_rng(4)
    rows, columns = np.mgrid[0:400, 0:600]
    gradient = np.stack([columns * 255 // 600, rows * 255 // 400, (rows + columns) % 256], axis=-1)
    Image.fromarray(gradient.astype(np.uint8)).save(folder / "photo.png")
    noise = Image.fromarray(rng.integers(0, 255, (60, 100, 3), dtype=np.uint8))
    noise.resize((500, 300), Image.Resampling.BICUBIC).save(folder / "noise.png")
    for name, ink in (("light", (250, 245, 230)), ("dark", (20, 30, 60))):
        logo = np.zeros((40, 120, 4), dtype=np.uint8)
        logo[..., :3] = ink
        logo[8:32, 10:110, 3] = 255
        Image.fromarray(logo).save(folder / f"logo-{name}.png")
    (folder / "flag.svg").write_text(FLAG, "utf-8")


@pytest.fixture
def folder(tmp_path: Path) -> Path:
    """An empty folder with small pictures in it."""
    paint_pictures(tmp_path)
    return tmp_path


@pytest.fixture
def make_plan(folder: Path) -> MakePlan:
    """Writes a plan beside the small pictures and reads it."""

    def make(text: str) -> Plan:
        path = folder / "plan.yaml"
        path.write_text(text, "utf-8")
        return rl.read(path)

    return make


@pytest.fixture(scope="session")
def site(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The folder of the sample site, painted once for all tests of a process."""
    result = tmp_path_factory.mktemp("saltmere")
    list(write_site(result))
    return result


@pytest.fixture(scope="session")
def regatta(site: Path) -> Plan:
    """The sample site's plan."""
    return rl.read(site / PLAN)


@pytest.fixture(scope="session")
def chromium() -> Iterator[Chromium]:
    """A browser; without one its tests are skipped, or fail where one is demanded."""
    if not (CHROMIUM and CHROMEDRIVER):
        reason = "chromium and chromium-driver are not installed"
        if os.environ.get("RISING_LANTERN_BROWSER") == "required":
            pytest.fail(reason)
        pytest.skip(reason)
    browser = Chromium()
    yield browser
    browser.quit()
