"""What stands around a plan: design tokens, gestures, videos, pages of others, and ``live``."""

from __future__ import annotations

import asyncio
import json
import os
import re
import shutil
from collections.abc import Callable
from contextlib import suppress
from functools import cache
from html.parser import HTMLParser
from pathlib import Path
from typing import Any

from hypothesis import strategies as st
from inputs import PICTURES, SMALL, VALUES, damaged
from patience import COUNTS, FOLDER, watched

import rising_lantern as rl
from rising_lantern.live.app import LivePreview
from rising_lantern.live.watched import WatchedPlan
from rising_lantern.paint.pictures import premultiplied
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.videos import VideoError, find_video
from rising_lantern.proofs.hosts import MARK, pasted, read_host
from rising_lantern.scroll.gestures import read_gesture

SECRET = b"nobody may read this"
PORT = 8123

# --- tokens --------------------------------------------------------------------------------------

_NAMES = st.sampled_from(
    ["$value", "$type", "$description", "$extensions", "ink", "river", "a.b", "{", "é", "", "from", "x" * 99]
)  # fmt: skip
_LEAVES = st.one_of(
    st.none(), st.booleans(), st.integers(-9, 9), st.floats(), VALUES,
    st.sampled_from(["color", "dimension", "{ink}", "{river.ink}", "{river}", "{}", "#123", "srgb", "#12345678"]),
    st.builds(
        lambda space, parts, alpha: {"colorSpace": space, "components": parts, "alpha": alpha},
        st.sampled_from(["srgb", "oklch", "lab", "display-p3", "hsl", "none", ""]),
        st.lists(st.one_of(st.floats(), st.just("none")), max_size=4), st.floats(),
    ),
)  # fmt: skip
TOKENS = st.recursive(
    _LEAVES, lambda inner: st.dictionaries(_NAMES, inner, max_size=5), max_leaves=20
).map(json.dumps)


def tokens(text: str) -> None:
    """A plan is refused for its file of tokens, or its first colour is there on every screen."""
    with watched("tokens"), suppress(rl.PlanError):
        (FOLDER / "tokens.json").write_text(text, "utf-8")
        plan = SMALL.replace("colors: {ink", "colors: {from: tokens.json, ink")
        (FOLDER / "tokens.yaml").write_text(plan, "utf-8")
        rl.read(FOLDER / "tokens.yaml").view().frame(0)
        COUNTS["tokens that can be read"] += 1


# --- gestures ------------------------------------------------------------------------------------

_CELLS = st.one_of(
    st.integers(-9, 9000).map(str), st.floats().map(repr), st.text(max_size=4),
    st.sampled_from(["seconds", "px", "", "1e999", "0x1", "1_000", '"1"', "\ufeff", "\0", "−1"]),
)  # fmt: skip
_ROWS = st.tuples(st.floats(0, 9), st.floats(-90, 9000)).map(lambda row: f"{row[0]},{row[1]}")
GESTURES = st.one_of(
    st.lists(st.lists(_CELLS, max_size=3).map(",".join), max_size=8),
    st.lists(_ROWS, min_size=2, max_size=8).map(sorted),
    st.builds(lambda rows, odd: [*sorted(rows), odd], st.lists(_ROWS, min_size=2), _ROWS),
).map("\n".join)


def gesture(text: str) -> None:
    """A recording is refused, or the page is played by it."""
    with watched("gestures"), suppress(rl.LanternError):
        (FOLDER / "gesture.csv").write_text(text, "utf-8", errors="replace")
        path = read_gesture(FOLDER / "gesture.csv")
        (FOLDER / "gesture.yaml").write_text(SMALL, "utf-8")
        rl.read(FOLDER / "gesture.yaml").view().play(path)
        COUNTS["gestures that were played"] += 1


# --- videos --------------------------------------------------------------------------------------


@cache
def _video() -> bytes:
    """A video of a few frames."""
    import io  # noqa: PLC0415 - as PyAV, for this target only

    import av  # noqa: PLC0415
    import numpy as np  # noqa: PLC0415

    packed = io.BytesIO()
    with av.open(packed, "w", format="webm") as container:
        stream: Any = container.add_stream("libvpx-vp9", rate=10)
        stream.width, stream.height, stream.pix_fmt = 64, 48, "yuv420p"
        for level in range(4):
            frame = av.VideoFrame.from_ndarray(np.full((48, 64, 3), 60 * level, np.uint8), "rgb24")
            container.mux(stream.encode(frame))
        container.mux(stream.encode())
    return packed.getvalue()


def video(damage: list[tuple[float, bytes, int]]) -> None:
    """A damaged video is refused, or its last frame is there."""
    with watched("videos"), suppress(VideoError, FileFault, rl.LanternError):
        (FOLDER / "fuzzed.webm").write_bytes(damaged(_video(), damage))
        found = find_video(FOLDER, "fuzzed.webm")
        premultiplied(found)
        COUNTS["videos that were decoded"] += 1


# --- pages of others -----------------------------------------------------------------------------

_PIECES = st.sampled_from(
    ["<!doctype html>", "<html>", "<html lang='en'>", "<head>", "</head>", "<body>", "<body class=a\n", "</body>",
     "</html>", "<title>A</title>", "<style>", "</style>", "<script>", "</script>", "<script src=a.js>", "<!--", "-->",
     MARK, "<main>", "</main>", "<div data-section=a>", "<p", ">", "<", "&amp;", "<![CDATA[", "]]>", "<?php ?>", "\n",
     "\r\n", "\0", "<textarea>", "</textarea>", "<template>", "<svg>", "<noscript>", "'", '"', "<body data-lantern-page=x>",
     "<plaintext>", "<link rel=stylesheet href=a.css>", "<script type=application/json>", "é", "<BODY>", "<frameset>"]
)  # fmt: skip
HOSTS = st.lists(st.one_of(_PIECES, st.text(max_size=5)), max_size=20).map("".join)


@cache
def _exported() -> str:
    (FOLDER / "host.yaml").write_text(SMALL, "utf-8")
    made = rl.export(rl.read(FOLDER / "host.yaml"), jobs=1)
    page = made.files["page.html"]
    return bytes(page).decode()  # type: ignore[arg-type]


def host(text: str) -> None:
    """A page is refused, or all of it is still there in its order, with the export in it."""
    with watched("hosts"), suppress(rl.LanternError):
        (FOLDER / "host.html").write_text(text, "utf-8", errors="replace", newline="")
        read = read_host(FOLDER / "host.html")
        for attached in (False, True):
            result = pasted(read, _exported(), attached=attached)
            rest = iter(result)
            if not all(sign in rest for sign in read):
                raise AssertionError("something of the page is gone")
            _Tags().feed(result)
        COUNTS["hosts that were pasted into"] += 1


class _Tags(HTMLParser):
    """Reads a page to its end."""


# --- live ----------------------------------------------------------------------------------------

_PUT: dict[str, Callable[[Path], object]] = {
    "secret link": lambda place: place.symlink_to(FOLDER / "secret"),
    "folder": Path.mkdir,
    "pipe": os.mkfifo,
    "gone": lambda _: None,
    "other": lambda place: place.write_bytes(PICTURES[0]),
    "same": lambda place: shutil.copy(FOLDER / place.name, place),
}

_ASSET = "/assets/*"  # one that was named by an answer
_PATHS = st.one_of(
    st.sampled_from(
        [_ASSET, _ASSET, "/view.json", "/", "/outline.json", "/site.json", "/view.json", "/measured.json", "/assets/photo.png", "/assets/..%2fsecret",
         "/assets/", "//", "/assets/secret", "/assets/../../secret", "/../secret", "/plan.yaml", "/assets/%00"]
    ),
    st.text(max_size=9).map(lambda text: "/" + text),
)  # fmt: skip
_QUERIES = st.sampled_from(
    ["", "page=page", "page=page&viewport=laptop", "page=none", "viewport=phone&slide=9", "slide=-1", "slide=1e9",
     "page=%ff", "page=page&page=other", "&&&=", "slide=" + "9" * 5000]
)  # fmt: skip
_OWN = [(b"host", b"localhost:8123")]
_RANGES = st.sampled_from(
    [b"bytes=0-", b"bytes=9-1", b"bytes=0-0,2-3", b"bytes=-99999999999", b"bytes=-1", b"x"]
)
_ODD_HEADERS = st.lists(
    st.tuples(
        st.sampled_from([b"host", b"Host", b"origin", b"sec-fetch-site", b"range", b"if-range", b"x"]),
        st.sampled_from(
            [b"127.0.0.1:8123", b"localhost:8123", b"saltmere.invalid", b"null", b"same-site", b"none", b"cross-site",
             b"bytes=0-", b"bytes=9-1", b"bytes=0-0,2-3", b"bytes=-99999999999", b"http://localhost:8123", b"\xff\n"]
        ),
    ),
    max_size=3,
)  # fmt: skip
_HEADERS = st.one_of(
    st.just(_OWN), st.just(_OWN), _RANGES.map(lambda ask: [*_OWN, (b"range", ask)]), _ODD_HEADERS
)
_SWAPS = st.sampled_from([*_PUT, *_PUT, "nothing", "same", "plan", "no plan", "reload"])
REQUESTS = st.lists(
    st.tuples(_SWAPS, st.sampled_from(["GET", "GET", "GET", "HEAD", "POST", "BREW"]), _PATHS, _QUERIES, _HEADERS),
    min_size=1, max_size=6,
)  # fmt: skip


def requests(steps: list[tuple[str, str, str, str, list[tuple[bytes, bytes]]]]) -> None:
    """Requests while files are exchanged: each has an answer, and none gives a secret out."""
    folder = FOLDER / "live"
    shutil.rmtree(folder, ignore_errors=True)
    folder.mkdir()
    (FOLDER / "secret").write_bytes(SECRET)
    for name in ("photo.png", "logo.png", "drawn.svg"):
        shutil.copy(FOLDER / name, folder)
    (folder / "plan.yaml").write_text(SMALL, "utf-8")
    watched_plan = WatchedPlan(folder / "plan.yaml", {})
    preview = LivePreview(watched_plan, PORT)
    app = preview.app()
    try:
        named = _assets_in(asyncio.run(_asked(app, "GET", "/site.json", "", _OWN))[1])
        for swap, method, path, query, headers in steps:
            with watched("live"):
                _exchange(folder, swap, watched_plan.reload)
                path = named.pop() if path == _ASSET and named else path  # noqa: PLW2901
                status, body = asyncio.run(_asked(app, method, path, query, headers))
                named |= _assets_in(body)
                if status >= 500 or SECRET in body:  # noqa: PLR2004 - a fault of ours
                    raise AssertionError(f"{method} {path}?{query}: {status}, {body[:300]!r}")
                COUNTS[f"live: {status}"] += 1
    finally:
        preview.stop()


def _exchange(folder: Path, swap: str, reload: Callable[[], object]) -> None:
    """Put something else in the place of the picture, or of the plan."""
    photo, plan = folder / "photo.png", folder / "plan.yaml"
    if swap in _PUT:
        if photo.is_dir() and not photo.is_symlink():
            photo.rmdir()
        photo.unlink(missing_ok=True)
        _PUT[swap](photo)
    elif swap == "plan":
        plan.write_text(SMALL.replace("300px", "310px"), "utf-8")
    elif swap == "no plan":
        plan.unlink(missing_ok=True)
    elif swap == "reload":
        reload()


def _assets_in(body: bytes) -> set[str]:
    """The paths of the files that an answer names."""
    return {f"/{name.decode()}" for name in re.findall(rb"assets/[\w.-]+", body)}


async def _asked(
    app: Any, method: str, path: str, query: str, headers: list[tuple[bytes, bytes]]
) -> tuple[int, bytes]:
    """The status and the body of an answer."""
    scope = {
        "type": "http", "asgi": {"version": "3.0"}, "http_version": "1.1", "method": method, "scheme": "http",
        "path": path, "raw_path": path.encode("utf-8", "replace"), "query_string": query.encode(), "root_path": "",
        "headers": [(name.lower(), value) for name, value in headers], "client": ("127.0.0.1", 9), "server": ("127.0.0.1", PORT),
    }  # fmt: skip
    sent: list[dict[str, Any]] = []
    asked = False

    async def receive() -> dict[str, Any]:
        nonlocal asked
        if asked:
            await asyncio.Event().wait()  # the browser stays
        asked = True
        return {"type": "http.request", "body": b"", "more_body": False}

    async def send(message: dict[str, Any]) -> None:
        sent.append(message)

    await app(scope, receive, send)
    start = next(item for item in sent if item["type"] == "http.response.start")
    return start["status"], b"".join(item.get("body", b"") for item in sent)
