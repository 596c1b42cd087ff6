"""What SECURITY.md promises: that each sentence has its tests, and those that stand nowhere else."""

from __future__ import annotations

import http.client
import json
import re
import socket
import subprocess
import sys
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

import pytest
from PIL import Image

import rising_lantern as rl
from chromium import Chromium
from commands import run
from pictures import paint_pictures
from plans import MakePlan, plan_text
from rising_lantern.live.serving import bound_socket
from rising_lantern.proofs.serving import served

PROJECT = Path(__file__).parents[1]
HEADER = (
    "height: 60px, parts: {menu: {text: [One, Two]}}, looks: {a: {}, b: {from: 90px, height: 40px}}"
)
SECTIONS = (
    "a: {height: 700px, layers: [{image: photo.png, speed: 0.5}, {slides: [noise.png, flag.svg], every: 2s}], "
    "content: [{text: Saltmere, enter: {y: 9px}}]}, b: {height: 900px}"
)


def promises() -> list[tuple[str, list[str]]]:
    """Each sentence of the table, with the tests beside it."""
    text = (PROJECT / "SECURITY.md").read_text("utf-8").split("## What is promised")[1]
    rows = [line.strip("| ").split(" | ") for line in text.split("\n## ")[0].splitlines()]
    return [
        (row[0], re.findall(r"`(test_\w+)`", row[1]))
        for row in rows
        if len(row) == 2 and row[0] not in {"promise", "---"}
    ]


def test_each_promise_names_tests_that_there_are() -> None:
    defined = {
        name
        for file in PROJECT.glob("tests/**/test_*.py")
        for name in re.findall(r"^def (test_\w+)\(", file.read_text("utf-8"), re.MULTILINE)
    }
    assert len(promises()) > 20
    for sentence, tests in promises():
        assert tests, sentence
        assert set(tests) <= defined, sentence


@pytest.mark.browser
def test_a_page_loads_what_was_written_beside_it_and_nothing_else(
    folder: Path, chromium: Chromium
) -> None:
    """At once, along the scroll, and after a while."""
    plan = folder / "plan.yaml"
    plan.write_text(plan_text(header=HEADER, sections=SECTIONS), "utf-8")
    assert run("export", plan, "-o", folder / "out", "--quiet").returncode == 0
    assert run("preview", plan, "-o", folder / "preview", "--quiet").returncode == 0
    loaded = "return performance.getEntriesByType('resource').map((item) => item.name)"
    with served(folder / "out") as url:
        chromium.open(f"{url}/page.html", 1000, 600)
        chromium.run("scrollTo(0, 400); return new Promise((done) => setTimeout(done, 300))")
        names = chromium.run(loaded)
        assert names
        for name in names:
            assert name.startswith(f"{url}/")
            # What is there by itself, without a script, is nothing but a favicon.
            assert (folder / "out" / name.removeprefix(f"{url}/")).is_file()
    chromium.open((folder / "preview" / "preview.html").as_uri(), 1280, 800)
    chromium.run("scrollTo(0, 400); return new Promise((done) => setTimeout(done, 500))")
    assert [name for name in chromium.run(loaded) if not name.startswith(("data:", "blob:"))] == []


def test_what_is_served_is_served_to_this_machine_only(folder: Path) -> None:
    (folder / "one.html").write_text("<p>One", "utf-8")
    with closing(bound_socket(0)) as bound:
        assert bound.getsockname()[0] == "127.0.0.1"
    with served(folder) as url:
        host, port = url.removeprefix("http://").split(":")
        assert host == "127.0.0.1"
        with closing(http.client.HTTPConnection(host, int(port))) as connection:
            connection.request("GET", "/one.html")
            assert connection.getresponse().read() == b"<p>One"
        # Another address of this machine is not listened to.
        with closing(socket.socket()) as other, pytest.raises(OSError, match="refused"):
            other.connect(("127.0.0.2", int(port)))
    with closing(socket.socket()) as after, pytest.raises(OSError, match="refused"):
        after.connect((host, int(port)))


def test_what_is_tried_at_random_is_refused_or_works() -> None:
    """A little, always the same, of what ``make fuzz`` does for as long as is asked for."""
    command = [sys.executable, str(PROJECT / "fuzz" / "strangers.py"), "--seed", "4"]
    result = subprocess.run(command, capture_output=True, text=True, check=False)
    assert result.returncode == 0, result.stdout[-3000:] + result.stderr[-1000:]


def long_recording(folder: Path) -> None:
    (folder / "gesture.csv").write_text("0,0\n601,900\n", "utf-8")


def moving_picture(folder: Path) -> None:
    images = [Image.new("L", (2, 2), index % 255) for index in range(501)]
    images[0].save(folder / "photo.png", save_all=True, append_images=images[1:])


def large_font(folder: Path) -> None:
    with (folder / "own.ttf").open("wb") as file:
        file.truncate(50_000_001)


def large_drawing(folder: Path) -> None:
    space = " " * 5_000_001
    (folder / "flag.svg").write_text(f'<svg xmlns="http://www.w3.org/2000/svg">{space}</svg>')


LIMITS: dict[str, tuple[str, str, Callable[[Path], None] | None]] = {
    "a screen": ("viewports: {laptop: 16385x600}", "16,384", None),
    "the ratio of a screen": ("viewports: {laptop: {size: 100x60, ratio: 9}}", "8", None),
    "a value": (f"colors: {{ink: '{'rgb(' + ' ' * 20_001}'}}", "write at most 20,000", None),
    "brackets": (f"colors: {{ink: '{'calc(' * 25}1{')' * 25}'}}", "24", None),
    "a moving picture": ("", "500", moving_picture),
    "a font": ("fonts: {own: own.ttf}", "50 MB", large_font),
    "a drawing": ("", "5 MB", large_drawing),
}


@pytest.mark.parametrize("what", LIMITS)
def test_what_is_beyond_a_limit_is_one_message_that_says_it(folder: Path, what: str) -> None:
    more, limit, prepare = LIMITS[what]
    paint_pictures(folder)
    if prepare:
        prepare(folder)
    text = plan_text(sections=SECTIONS, before="" if more.startswith("viewports") else more)
    if more.startswith("viewports"):
        text = re.sub(r"viewports: .*", more, text)
    (folder / "plan.yaml").write_text(text, "utf-8")
    result = run("--faults", "json", "check", folder / "plan.yaml")
    assert result.returncode == 2
    faults = json.loads(result.stderr or result.stdout)
    assert any(limit in f"{item}" for item in faults), faults


def test_recordings_and_strips_have_limits(folder: Path, make_plan: MakePlan) -> None:
    plan = make_plan(plan_text(sections=SECTIONS))
    long_recording(folder)
    result = run("trace", folder / "plan.yaml", "--play", folder / "gesture.csv")
    assert result.returncode == 2
    assert "600 seconds" in result.stderr
    with (folder / "gesture.csv").open("wb") as file:
        file.truncate(20_000_001)
    result = run("trace", folder / "plan.yaml", "--play", folder / "gesture.csv")
    assert result.returncode == 2
    assert "20 MB" in result.stderr
    with pytest.raises(rl.RequestError, match="24"):
        plan.view().filmstrip(range(25))
