"""``prove`` ends, and nothing stays of it: browsers, drivers and displays that are killed or die."""

from __future__ import annotations

import os
import signal
import subprocess
import sys
import time
from collections.abc import Callable
from itertools import product
from pathlib import Path

import pytest

import rising_lantern as rl
from commands import run, run_process
from plans import plan_text
from rising_lantern.proofs import drivers, engines
from rising_lantern.proofs.engines import ENGINES
from thorough import some

pytestmark = pytest.mark.browser

_BROWSERS = ("chrom", "firefox", "WebKit", "MiniBrowser", "Xvfb")


@pytest.fixture
def plan(folder: Path) -> Path:
    """A plan whose page takes a while to be compared."""
    path = folder / "plan.yaml"
    path.write_text(plan_text(sections="a: {height: 4000px, background: '#fed'}"), "utf-8")
    return path


def marked(token: str) -> list[tuple[int, str]]:
    """The processes in whose environment something stands, with their names."""
    found: list[tuple[int, str]] = []
    for path in Path("/proc").glob("[0-9]*"):
        try:
            if token.encode() in (path / "environ").read_bytes():
                name = (path / "stat").read_text("utf-8").partition("(")[2].rpartition(")")
                if not name[2].startswith(" Z"):
                    found.append((int(path.name), name[0]))
        except OSError:
            continue
    return found


def until(holds: Callable[[], bool], seconds: float = 60.0) -> None:
    """Wait until something holds."""
    end = time.monotonic() + seconds
    while not holds():
        assert time.monotonic() < end
        time.sleep(0.05)


@pytest.fixture
def token() -> str:
    """What stands in the environment of a command, and of all that it starts."""
    return f"SALTMERE_TEST={os.getpid()}.{time.monotonic_ns()}"


def prove(plan: Path, token: str, engine: str) -> subprocess.Popen[str]:
    """Start the command with one engine."""
    name, _, value = token.partition("=")
    command = [sys.executable, "-m", "rising_lantern", "prove", str(plan), "--engine", engine]
    return subprocess.Popen(
        command, env={**os.environ, name: value}, cwd=plan.parent, stdout=subprocess.PIPE,
        stderr=subprocess.PIPE, text=True,
    )  # fmt: skip


def browsers(token: str) -> list[tuple[int, str]]:
    """The browsers, drivers and displays among the processes of a command."""
    return [item for item in marked(token) if item[1].startswith(_BROWSERS)]


@pytest.mark.parametrize("engine", ENGINES)
@pytest.mark.parametrize("number", [signal.SIGKILL, signal.SIGTERM])
def test_nothing_stays_of_a_command_that_is_killed(
    plan: Path, token: str, engine: str, number: signal.Signals
) -> None:
    process = prove(plan, token, engine)
    until(lambda: len(browsers(token)) >= 2 or process.poll() is not None)
    process.send_signal(number)
    process.communicate(timeout=30)
    until(lambda: not marked(token), 30)


@pytest.mark.parametrize("engine", ENGINES)
def test_a_browser_that_is_killed_is_one_message(plan: Path, token: str, engine: str) -> None:
    process = prove(plan, token, engine)
    until(lambda: len(browsers(token)) >= 2 or process.poll() is not None)
    time.sleep(0.5)
    for pid, _ in browsers(token):
        try:
            os.kill(pid, signal.SIGKILL)
        except ProcessLookupError:
            continue
    _, said = process.communicate(timeout=120)
    assert process.returncode == 2, said
    assert "bug in Rising Lantern" not in said
    assert "Traceback" not in said
    assert len(said.strip().splitlines()) == 1
    until(lambda: not marked(token), 30)


_PROGRAMS = [
    ("chromedriver", "chromium"),
    ("chromium", "chromium"),
    ("firefox-esr", "firefox"),
    ("WebKitWebDriver", "webkit"),
    ("Xvfb", "webkit"),
]
_ENDS = ["exit 3", "exec sleep 0.2", "kill -9 $$"]


@pytest.mark.parametrize(
    ("program", "engine", "body"),
    some([(*of, body) for of in _PROGRAMS for body in _ENDS], 5),
)
def test_a_program_that_ends_at_once_is_one_message(
    plan: Path, tmp_path: Path, program: str, engine: str, body: str
) -> None:
    stand_in = tmp_path / "bin" / program
    stand_in.parent.mkdir()
    stand_in.write_text(f"#!/bin/sh\n{body}\n", "utf-8")
    stand_in.chmod(0o755)
    path = f"{stand_in.parent}{os.pathsep}{os.environ['PATH']}"
    start = time.monotonic()
    result = run_process("prove", plan, "--engine", engine, env={**os.environ, "PATH": path})
    assert result.returncode == 2, result.stderr
    assert "bug in Rising Lantern" not in result.stderr
    assert "Traceback" not in result.stderr
    assert time.monotonic() - start < 100


# --- pages of strangers ---------------------------------------------------------------------------

_HOSTS = {
    "loops for ever": "<script>addEventListener('load', () => { for (;;); })</script>",
    "loops at once": "<script>for (;;);</script>",
    "reloads": "<script>setTimeout(() => location.reload(), 200)</script>",
    "goes elsewhere": "<script>setTimeout(() => location = 'about:blank', 300)</script>",
    "opens windows": "<script>setInterval(() => open('about:blank'), 100)</script>",
    "alerts": "<script>alert(1); setTimeout(() => confirm('?'), 500); onbeforeunload = () => 1</script>",
    "removes its root": "<script>setTimeout(() => document.documentElement.remove(), 300)</script>",
    "replaces JSON": "<script>JSON.stringify = JSON.parse = () => { throw 7 }; window.Promise = 1</script>",
    "replaces what is asked": "<script>Document.prototype.querySelector = () => null; "
    "Element.prototype.getBoundingClientRect = () => ({}); window.scrollTo = () => {}</script>",
    "has many tags": "<i></i>" * 400_000,
}


# WebKitGTK takes minutes for that many tags, whatever is asked of it.
_PAIRS = [pair for pair in product(_HOSTS, ENGINES) if pair != ("has many tags", "webkit")]


@pytest.mark.parametrize(("name", "engine"), some(_PAIRS, 5))
def test_a_hostile_page_is_judged_or_one_message(
    plan: Path, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, name: str, engine: str
) -> None:
    monkeypatch.setattr(drivers, "_PATIENCE", 5)
    host = tmp_path / "host.html"
    host.write_text(f"<!doctype html><html><body>{_HOSTS[name]}<p>x</p></body></html>", "utf-8")
    start = time.monotonic()
    result = run("prove", plan, "--engine", engine, "--into", host, "-o", tmp_path / "proof")
    assert time.monotonic() - start < 150
    assert result.returncode in {0, 1, 2}
    assert "bug in Rising Lantern" not in result.stderr
    assert "Traceback" not in result.stderr


def test_a_page_that_takes_for_ever_is_given_up(
    plan: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Also where the browser answers each question in time."""
    monkeypatch.setattr(engines, "_MOST_SECONDS", 0)
    with pytest.raises(rl.RequestError, match="one page has taken more than 0 s"):
        rl.prove(rl.read(plan), engines="chromium")


@pytest.mark.parametrize("engine", ENGINES)
def test_a_question_that_takes_for_ever_is_given_up(
    monkeypatch: pytest.MonkeyPatch, engine: str
) -> None:
    monkeypatch.setattr(engines, "_MOST_SECONDS", 2)
    start = time.monotonic()
    with pytest.raises(rl.RequestError, match="one page has taken more than 2 s"):
        _ask_for_ever(engine)
    assert time.monotonic() - start < 50


def _ask_for_ever(engine: str) -> None:
    with engines.started(engine) as browser:
        browser.begin()
        browser.run("return new Promise((done) => setTimeout(done, 55000))")


def test_what_is_no_page_is_one_message_at_once(plan: Path, tmp_path: Path) -> None:
    os.mkfifo(tmp_path / "pipe.html")
    (tmp_path / "large.html").write_bytes(b"<p>" * 40_000_000)
    (tmp_path / "folder.html").mkdir()
    for name, said in (
        ("pipe.html", "is a pipe"),
        ("folder.html", "is a folder"),
        ("/dev/zero", "is a device"),
        ("large.html", "is larger than"),
        ("nothing.html", "cannot be read"),
    ):
        start = time.monotonic()
        result = run("prove", plan, "--engine", "chromium", "--into", tmp_path / name)
        assert result.returncode == 2
        assert said in result.stderr
        assert time.monotonic() - start < 20
