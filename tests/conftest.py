"""Fixtures: small plans with pictures of their own, the sample site, and a browser."""

from __future__ import annotations

import os
import signal
from collections.abc import Iterator
from pathlib import Path

import pytest
from filelock import FileLock
from hypothesis import HealthCheck, settings

import rising_lantern as rl
from chromium import CHROMEDRIVER, CHROMIUM, Chromium
from pictures import paint_pictures
from plans import MakePlan
from rising_lantern.api.plans import Plan
from rising_lantern.cli import waiting
from rising_lantern.demo.site import PLAN, sample_site
from rising_lantern.proofs.engines import Engine, missing, started
from thorough import FEW, MANY, TURN, is_thorough, turn

for name, count in (("suite", FEW), ("thorough", MANY)):
    settings.register_profile(
        name, deadline=None, max_examples=count, suppress_health_check=[HealthCheck.too_slow]
    )


def pytest_configure(config: pytest.Config) -> None:
    """Choose how many cases are tried.

    Commands hear Ctrl-C and hang-ups, also where the suite itself runs in the background.
    """
    turn()  # before other processes start
    waiting.EVERY_S = 3600.0  # what a command prints must not depend on how busy the machine is
    settings.load_profile("thorough" if config.getoption("--thorough") else "suite")
    for number, usual in (
        (signal.SIGINT, signal.default_int_handler),
        (signal.SIGHUP, signal.SIG_DFL),
    ):
        if signal.getsignal(number) is signal.SIG_IGN:
            signal.signal(number, usual)


def pytest_report_header() -> str:
    """Say whose turn it is among cases alike, so that the same ones can be tried again."""
    return f"cases alike: {TURN}={turn()}"


# Files whose tests take long come first, so that no process is left alone with one at the end.
_LONG = (
    "test_demo.py",
    "test_prove.py",
    "test_pages.py",
    "test_outputs.py",
    "test_live.py",
    "test_random_engines.py",
    "test_interface.py",
    "test_large.py",
    "test_tune.py",
    "test_pictures.py",
    "test_parallel.py",
    "test_geometry.py",
    "test_frames.py",
    "test_measurement.py",
)


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave out what is not asked for, and put the tests that take longest first."""
    if not config.getoption("--thorough"):
        left_out = [item for item in items if item.get_closest_marker("thorough")]
        config.hook.pytest_deselected(items=left_out)
        items[:] = [item for item in items if item not in set(left_out)]
    last = len(_LONG)
    items.sort(key=lambda item: _LONG.index(item.path.name) if item.path.name in _LONG else last)


def pytest_addoption(parser: pytest.Parser) -> None:
    """How much is tried."""
    parser.addoption("--thorough", action="store_true", help="try all cases, not some of each kind")
    parser.addoption("--plans", type=int, help="random plans to try in Chromium")


def pytest_generate_tests(metafunc: pytest.Metafunc) -> None:
    """A test that takes a plan_seed runs once for each random plan."""
    if "plan_seed" in metafunc.fixturenames:
        plans = metafunc.config.getoption("--plans")
        metafunc.parametrize(
            "plan_seed", range((25 if is_thorough() else 3) if plans is None else plans)
        )


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
def site(tmp_path_factory: pytest.TempPathFactory, worker_id: str) -> Path:
    """The folder of the sample site, painted once for all processes of a run."""
    shared = tmp_path_factory.getbasetemp()
    if worker_id != "master":
        shared = shared.parent
    with FileLock(shared / "saltmere.lock"):
        return sample_site(shared / "saltmere").parent


@pytest.fixture(scope="session")
def regatta(site: Path) -> Plan:
    """The sample site's plan."""
    return rl.read(site / PLAN)


@pytest.fixture(scope="session")
def needs_chromium() -> None:
    """Without Chromium a test is skipped, or fails where it is demanded."""
    if not (CHROMIUM and CHROMEDRIVER):
        reason = "chromium and chromium-driver are not installed"
        if os.environ.get("RISING_LANTERN_BROWSER") == "required":
            pytest.fail(reason)
        pytest.skip(reason)


@pytest.fixture(scope="session")
def chromium(needs_chromium: None) -> Iterator[Chromium]:  # noqa: ARG001 - it comes first
    """A browser."""
    browser = Chromium()
    yield browser
    browser.quit()


@pytest.fixture(scope="module", params=["firefox", "webkit"])
def engine(request: pytest.FixtureRequest) -> Iterator[Engine]:
    """A browser that is not Chromium; without one its tests are skipped, or fail where one is demanded."""
    if missing(request.param):
        reason = f"{', '.join(missing(request.param))} cannot be found"
        if os.environ.get("RISING_LANTERN_BROWSER") == "required":
            pytest.fail(reason)
        pytest.skip(reason)
    with started(request.param) as browser:
        yield browser
