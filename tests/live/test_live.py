"""The live preview: served on this machine, drawn again when the plan is saved."""

from __future__ import annotations

import http.client
import json
import queue
import re
import signal
import socket
import subprocess
import sys
import threading
from collections.abc import Iterator
from contextlib import closing
from os import mkfifo
from pathlib import Path
from typing import Any

import pytest

import rising_lantern as rl
from chromium import Chromium
from commands import run
from interface import settled, until

PLAN = """
rising-lantern: 1
title: Saltmere, live
viewports: {laptop: 1000x600, phone: 390x700}
headers:
  main:
    position: fixed
    height: 80px
    background: '#101828'
    color: white
    parts: {menu: {text: [Boats, Tides], side: end}}
    looks: {tall: {}, slim: {from: 240px, height: 60px}}
pages:
  boats:
    sections:
      opening: {height: 700px, layers: [{image: photo.png}]}
      quay: {height: 900px, content: [{text: Hardly there, color: '#cccccc', at: 50% 50%}]}
  tides: {sections: {high: {height: 1200px, background: '#eeeeee'}}}
"""


class Live:
    """A server of a plan, in a process of its own."""

    def __init__(self, plan: Path, *options: str) -> None:
        command = [sys.executable, "-m", "rising_lantern", "live", str(plan), *options]
        self.process = subprocess.Popen(command, stdout=subprocess.PIPE, text=True)
        assert self.process.stdout is not None
        self.first = self.process.stdout.readline()
        self.address = self.first.split()[-1]
        self.port = int(re.search(r":(\d+)/", self.address)[1])  # type: ignore[index]

    def get(self, path: str, **headers: str) -> tuple[int, bytes, http.client.HTTPMessage]:
        """What it answers."""
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=60)
        connection.putrequest("GET", path, skip_host="Host" in headers)
        for name, value in headers.items():
            connection.putheader(name.replace("_", "-"), value)
        connection.endheaders()
        answer = connection.getresponse()
        try:
            return answer.status, answer.read(), answer.headers
        finally:
            connection.close()

    def json(self, path: str) -> Any:
        """The data that it answers."""
        status, body, _ = self.get(path)
        assert status == 200, body
        return json.loads(body)

    def events(self) -> queue.Queue[dict[str, Any]]:
        """The states that it tells, from now on."""
        found: queue.Queue[dict[str, Any]] = queue.Queue()

        def listen() -> None:
            with closing(http.client.HTTPConnection("127.0.0.1", self.port)) as connection:
                connection.request("GET", "/events")
                with connection.getresponse() as answer:
                    for line in answer:
                        if line.startswith(b"data: "):
                            found.put(json.loads(line[6:]))

        threading.Thread(target=listen, daemon=True).start()
        return found

    def end(self) -> str:
        """Press Ctrl-C; what it has said since its first line."""
        self.process.send_signal(signal.SIGINT)
        said, _ = self.process.communicate(timeout=20)
        return said


@pytest.fixture
def plan(folder: Path) -> Path:
    """The plan, in a folder of its own."""
    path = folder / "plan.yaml"
    path.write_text(PLAN, "utf-8")
    return path


@pytest.fixture
def live(plan: Path) -> Iterator[Live]:
    """A server of the plan."""
    server = Live(plan)
    yield server
    if server.process.poll() is None:
        server.end()
    assert server.process.stdout is not None
    server.process.stdout.close()


def test_it_says_where_it_is_and_ends_cleanly(live: Live, plan: Path) -> None:
    assert live.first == f"Serving {plan} at http://127.0.0.1:{live.port}/\n"
    assert live.json("/outline.json")["title"] == "Saltmere, live"
    assert live.end().splitlines()[-1] == "Stopped"
    assert live.process.returncode == 0


def test_a_port_that_is_taken_is_refused(live: Live, plan: Path) -> None:
    result = run("live", plan, "--port", str(live.port))
    assert result.returncode == 2
    assert f"port {live.port} is taken" in result.stderr
    plan.write_text("rising-lantern: 1", "utf-8")
    assert run("live", plan).returncode == 2


def test_it_tells_all_tabs_what_has_changed_and_keeps_the_last_good_plan(
    live: Live, plan: Path
) -> None:
    tabs = [live.events(), live.events()]
    assert [tab.get(timeout=20)["revision"] for tab in tabs] == [0, 0]
    for number, (text, faults) in enumerate(
        [
            (PLAN.replace("240px", "300px"), 0),
            (PLAN.replace("position: fixed", "position: fixd"), 1),
            ("%", 1),
            (PLAN.replace("240px", "180px"), 0),
        ],
        1,
    ):
        plan.write_text(text, "utf-8")
        states = [tab.get(timeout=20) for tab in tabs]
        assert states[0] == states[1]
        assert states[0]["revision"] == number
        assert len(states[0]["faults"]) == faults
        steps = live.json("/view.json?page=boats&viewport=laptop")["steps"]
        assert steps[1]["start"] == {1: 300, 2: 300, 3: 300, 4: 180}[number]
    # A picture counts as well, and one that has been lost is a fault.
    (plan.parent / "photo.png").unlink()
    states = [tab.get(timeout=20) for tab in tabs]
    assert "photo.png" in states[0]["faults"][0]["text"]
    plan.unlink()
    assert tabs[0].get(timeout=20)["faults"]


def test_what_it_measures_is_what_check_finds(live: Live) -> None:
    first = live.json("/view.json?page=boats&viewport=laptop")
    assert first["checking"] is True
    assert first["findings"] == []
    measured = live.json("/measured.json?page=boats&viewport=laptop")
    assert [item["rule"] for item in measured["findings"]][:1] == ["unreadable-content"]
    assert measured["long"] in measured["pictures"]
    status, body, _ = live.get("/view.json?page=nowhere")
    assert status == 422
    assert "no page 'nowhere'" in json.loads(body)["faults"][0]["text"]


ELSEWHERE: tuple[dict[str, str], ...] = (
    {"Host": "saltmere.example"},
    {"Host": "127.0.0.1:1"},
    {"Host": ""},
    {"Origin": "http://saltmere.example"},
    {"Origin": "null"},
    {"Sec_Fetch_Site": "cross-site"},
)


def test_other_hosts_and_origins_get_nothing(live: Live) -> None:
    for headers in ELSEWHERE:
        for path in ("/", "/outline.json", "/events", "/assets/photo.png"):
            status, body, _ = live.get(path, **headers)
            assert (status, body) == (403, b"not for this host or origin"), headers


def test_only_what_an_export_names_is_there_and_everything_is_strict(
    live: Live, plan: Path
) -> None:
    status, body, headers = live.get("/")
    assert status == 200
    policy = headers["content-security-policy"]
    assert policy.startswith("default-src 'none'")
    assert "unsafe" not in policy
    nonce = re.search(r"'nonce-([^']+)'", policy)
    assert nonce is not None
    assert body.count(f'nonce="{nonce[1]}"'.encode()) == 2
    assert headers["cache-control"] == "no-store"
    site = live.json("/site.json?page=boats")
    (name,) = [item for item in site["assets"] if item.endswith(".png")]
    status, body, headers = live.get(f"/{name}")
    assert (status, body) == (200, (plan.parent / "photo.png").read_bytes())
    assert headers["x-content-type-options"] == "nosniff"
    (plan.parent / "link.png").symlink_to("/etc/hostname")
    up = ["..", "%2e%2e", "%2e.", "..%2f", "..%5c", "%252e%252e", "....//"]
    tried = [f"/assets/{item}/plan.yaml" for item in up]
    tried += [f"/{item}/plan.yaml" for item in up]
    tried += ["/plan.yaml", "/assets/plan.yaml", "/assets/photo.png", "/assets/link.png"]
    tried += ["/assets//etc/hostname", "/assets/%2fetc%2fhostname", "/assets/photo.png%00"]
    for path in tried:
        assert live.get(path)[0] == 404, path
    status, _, _ = live.get("/site.json?slide=../../etc")
    assert status == 200


def test_the_page_follows_the_plan_and_keeps_what_was_chosen(
    live: Live, plan: Path, chromium: Chromium
) -> None:
    chromium.leave()
    chromium.open(f"{live.address}#page=boats&viewport=phone&at=320&panel=moment", 1280, 800)
    settled(chromium)
    inner = "document.querySelector('#stage iframe').contentWindow"
    until(chromium, f"{inner}.scrollY === 320")
    count = len(rl.check(rl.read(plan), "boats", "phone"))
    until(chromium, f"document.getElementById('count').textContent === '{count}'")
    height = f"{inner}.document.querySelector('.lantern-header')?.offsetHeight"
    until(chromium, f"{height} === 60")
    plan.write_text(PLAN.replace("height: 60px", "height: 44px"), "utf-8")
    until(chromium, f"{height} === 44")
    assert chromium.run(f"return {inner}.scrollY") == 320
    assert chromium.run(f"return {inner}.innerWidth") == 390
    assert chromium.run("return document.querySelector('[aria-selected=true]').id") == "tab-moment"
    plan.write_text(PLAN.replace("position: fixed", "position: fixd"), "utf-8")
    until(chromium, "!document.getElementById('fault').hidden")
    fault = chromium.run("return document.getElementById('fault').textContent")
    assert "plan.yaml:7:15" in fault
    assert "did you mean 'fixed'?" in fault
    assert chromium.run("return document.body.hasAttribute('data-outdated')")
    assert chromium.run(f"return {height}") == 44  # the last good state
    plan.write_text(PLAN.replace("tides:", "ebb:").replace("height: 60px", "height: 50px"), "utf-8")
    until(chromium, f"document.getElementById('fault').hidden && {height} === 50")
    assert not chromium.run("return document.body.hasAttribute('data-outdated')")
    pages = chromium.run("return [...document.querySelector('#page').options].map((o) => o.value)")
    assert pages == ["boats", "ebb"]
    assert chromium.log() == []
    own = (live.address, "blob:", "data:", "about:")
    assert [item for item in chromium.requests() if not item.startswith(own)] == []
    # A server that is lost is said, and found again where it was.
    live.end()
    until(chromium, "document.getElementById('fault').textContent.includes('does not answer')")
    again = Live(plan, "--port", str(live.port))
    until(chromium, "document.getElementById('fault').hidden")
    again.end()
    chromium.open("about:blank", 800, 600)
    chromium.leave()


def test_a_file_that_was_put_in_place_of_a_picture_is_not_given_out(
    live: Live, plan: Path, tmp_path: Path
) -> None:
    """A link, a folder, a pipe and other content are not; the picture itself is, once more."""
    site = live.json("/site.json?page=boats")
    (name,) = [item for item in site["assets"] if item.endswith(".png")]
    picture = plan.parent / "photo.png"
    own = picture.read_bytes()
    secret = tmp_path / "secret.txt"
    secret.write_text("nobody's business", "utf-8")
    for put, said in (
        (lambda: picture.symlink_to(secret), "has changed since"),
        (picture.mkdir, "is now a folder"),
        (lambda: mkfifo(picture), "is now a pipe"),
        (lambda: picture.write_bytes(own[:-1] + b"x"), "has changed since"),
        (lambda: None, "no longer exists"),
    ):
        if picture.is_dir():
            picture.rmdir()
        else:
            picture.unlink(missing_ok=True)
        put()
        status, body, _ = live.get(f"/{name}")
        assert status == 422
        assert said in body.decode()
    # Saved again, by renaming as editors do, it is the same picture with another time and number.
    (plan.parent / "new.png").write_bytes(own)
    (plan.parent / "new.png").replace(picture)
    assert live.get(f"/{name}")[:2] == (200, own)
    (plan.parent / "other.png").hardlink_to(picture)
    assert live.get(f"/{name}")[:2] == (200, own)
    assert live.get(f"/{name}", Range="bytes=0-3")[:2] == (206, own[:4])


def test_a_folder_that_goes_away_and_comes_back_is_watched_again(live: Live, plan: Path) -> None:
    states = live.events()
    assert states.get(timeout=20)["faults"] == []
    away = plan.parent.with_name("away")
    plan.parent.rename(away)
    gone = states.get(timeout=20)
    assert "no such file" in gone["faults"][0]["text"]
    away.rename(plan.parent)
    while states.get(timeout=20)["faults"]:
        pass
    plan.write_text(PLAN.replace("Saltmere, live", "Saltmere, again"), "utf-8")
    while live.json("/outline.json")["title"] != "Saltmere, again":
        states.get(timeout=20)


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ([("Sec-Fetch-Site", "none")], 200),
        ([("Sec-Fetch-Site", "same-origin")], 200),
        ([("Sec-Fetch-Site", "same-site")], 403),
        ([("Sec-Fetch-Site", "Cross-Site")], 403),
        ([("Sec-Fetch-Site", "same-origin"), ("Sec-Fetch-Site", "cross-site")], 403),
        ([("Host", "127.0.0.1:{port}"), ("Host", "example.com")], 400),
        ([("HOST", "127.0.0.1:{port}")], 200),
        ([("Origin", "http://127.0.0.1:{port}"), ("Origin", "null")], 403),
        ([], 400),
    ],
)
def test_headers_that_are_given_twice_or_otherwise_are_refused(
    live: Live, headers: list[tuple[str, str]], status: int
) -> None:
    lines = [f"{name}: {value.format(port=live.port)}" for name, value in headers]
    if headers and not any(name.lower() == "host" for name, _ in headers):
        lines.insert(0, f"Host: 127.0.0.1:{live.port}")
    request = "\r\n".join(["GET /outline.json HTTP/1.1", *lines, "Connection: close", "", ""])
    with socket.create_connection(("127.0.0.1", live.port), 20) as connection:
        connection.sendall(request.encode())
        answer = connection.recv(64)
    assert answer.split()[1] == str(status).encode()
