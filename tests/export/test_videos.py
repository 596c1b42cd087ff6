"""Videos in exported pages: where the frames have them, muted, and stopped when asked."""

from __future__ import annotations

import socket
from pathlib import Path

import numpy as np
import pytest

import rising_lantern as rl
from chromium import Chromium
from pages import write_page
from plans import plan_text
from rising_lantern.api.views import View
from rising_lantern.previews.site_data import site_data
from rising_lantern.proofs.serving import served
from thorough import some
from videos import write_video

pytestmark = pytest.mark.browser

LAYERS = [
    "video: river.webm",
    "video: river.webm, speed: 0.4, opacity: .7",
    "video: river.mp4, attachment: fixed",
    "video: river.webm, size: 480px auto, position: 20% 90%",
    "video: river.webm, speed: -0.3",
    "video: river.webm, size: auto, position: calc(100% - 30px) 10px, filter: brightness(.8)",
    "video: river.webm, size: 60% 50%, speed: 1.4, position: 10% 50%",
    "video: river.webm, size: contain, drift: .2",
    "video: river.webm, path: [{at: 0px}, {at: 500px, x: 60px, scale: 1.3, opacity: .5}]",
]

# Seeking needs a server that gives parts of a file; a file in memory can always be sought.
_AT = """
const [second, done] = arguments;
const at = async (video) => {
  if (!video.src.startsWith("blob:")) {
    video.src = URL.createObjectURL(await (await fetch(video.src)).blob());
    await new Promise((loaded) => { video.onloadeddata = loaded; });
  }
  video.pause();
  await new Promise((sought) => { video.onseeked = sought; video.currentTime = second; });
};
const drawn = () => requestAnimationFrame(() => requestAnimationFrame(done));
Promise.all([...document.querySelectorAll("video")].map(at)).then(drawn);
"""
_STATES = (
    "return [...document.querySelectorAll('video')].map("
    "(video) => [video.paused, video.muted, video.loop, video.currentTime > 0])"
)


@pytest.fixture
def river(folder: Path) -> Path:
    """A folder with the same video in two formats."""
    for name in ("river.webm", "river.mp4"):
        write_video(folder / name, 40, size=(640, 360), level=lambda index: 30 + 4 * index)
    return folder


def view_of(folder: Path, layer: str, **more: str) -> View:
    """The view of a page with a video."""
    sections = (
        f"a: {{height: 500px, background: '#456', layers: [{{{layer}}}]}}, b: {{height: 900px}}"
    )
    (folder / "plan.yaml").write_text(plan_text(sections=sections, **more), "utf-8")
    return rl.read(folder / "plan.yaml").view()


@pytest.mark.parametrize("layer", some(LAYERS, 3))
def test_a_video_is_shown_as_in_the_frames(
    chromium: Chromium, river: Path, tmp_path: Path, layer: str
) -> None:
    view = view_of(river, layer, before="pause: false")
    page = write_page(view, tmp_path / "out")
    chromium.leave()
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        for scroll, second in ((0, 0.02), (120, 1.02), (333, 1.77)):
            chromium.scroll(scroll)
            chromium.driver.execute_async_script(_AT, second)
            shot = chromium.screenshot().astype(int)
            frame = np.asarray(view.frame(scroll, second=second))
            difference = np.abs(shot - frame)
            assert difference.mean() < 1, (scroll, second)
            assert (difference.max(axis=-1) <= 4).mean() > 0.98, (scroll, second)
        assert all(address.startswith((url, "blob:", "data:")) for address in chromium.requests())
    assert chromium.log() == []


def test_a_video_runs_until_it_is_stopped(chromium: Chromium, river: Path, tmp_path: Path) -> None:
    page = write_page(view_of(river, "video: river.webm, poster: photo.png"), tmp_path / "out")
    with served(tmp_path / "out") as url:
        chromium.open(f"{url}/{page}", 1000, 600)
        runs = "return new Promise((done) => { const ask = () => { const [video] = document.querySelectorAll('video'); video.currentTime > 0.1 ? done(true) : setTimeout(ask, 20); }; ask(); })"
        assert chromium.run(runs)
        assert chromium.run(_STATES) == [[False, True, True, True]]
        chromium.run("document.querySelector('.lantern-pause input').focus()")
        from selenium.webdriver.common.keys import Keys  # noqa: PLC0415

        chromium.driver.switch_to.active_element.send_keys(Keys.SPACE)
        assert chromium.run(_STATES)[0][0] is True
        chromium.driver.switch_to.active_element.send_keys(Keys.SPACE)
        assert chromium.run(_STATES)[0][0] is False


def test_readers_who_ask_for_less_motion_see_the_poster(
    chromium: Chromium, river: Path, tmp_path: Path
) -> None:
    view = view_of(river, "video: river.webm, poster: photo.png")
    page = write_page(view, tmp_path / "out")
    less = {"features": [{"name": "prefers-reduced-motion", "value": "reduce"}]}
    chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", less)
    try:
        with served(tmp_path / "out") as url:
            chromium.open(f"{url}/{page}", 1000, 600)
            assert chromium.run(_STATES) == [[True, True, True, False]]
            difference = np.abs(chromium.screenshot().astype(int) - view.pixels(0))
            assert difference.mean() < 3
    finally:
        chromium.driver.execute_cdp_cmd("Emulation.setEmulatedMedia", {"features": []})


def test_each_screen_has_its_own_video(chromium: Chromium, river: Path, tmp_path: Path) -> None:
    layers = (
        "layers: [{video: river.webm}], for: {phone: {layers: [{video: river.mp4, size: contain}]}}"
    )
    text = plan_text(
        sections=f"a: {{height: 500px, {layers}}}", viewports="laptop: 1000x600, phone: 390x844"
    )
    (river / "plan.yaml").write_text(text, "utf-8")
    rl.export(rl.read(river / "plan.yaml")).save(tmp_path / "out")
    shown = (
        "return [...document.querySelectorAll('video')].filter((video) => video.checkVisibility())"
        ".map((video) => [video.currentSrc.split('.').pop(), getComputedStyle(video).objectFit])"
    )
    with served(tmp_path / "out") as url:
        for width, expected in ((1000, ["webm", "cover"]), (390, ["mp4", "contain"])):
            chromium.open(f"{url}/page.html", width, 800)
            assert chromium.run(shown) == [expected]


@pytest.mark.parametrize("poster", some([", poster: photo.png", ""], 2))
def test_a_page_with_a_video_is_proved(river: Path, poster: str) -> None:
    view_of(river, f"video: river.webm{poster}", header="height: 60px, parts: {a: {text: Boats}}")
    proof = rl.prove(rl.read(river / "plan.yaml"), engines=("chromium",))
    assert proof.agrees, proof


def test_a_browser_that_goes_away_is_nothing_to_report(
    folder: Path, capfd: pytest.CaptureFixture[str]
) -> None:
    (folder / "large.webm").write_bytes(bytes(20_000_000))
    with served(folder) as url:
        host, port = url.removeprefix("http://").split(":")
        for _ in range(3):
            with socket.create_connection((host, int(port))) as connection:
                connection.sendall(b"GET /large.webm HTTP/1.0\r\n\r\n")
                connection.recv(100)
    assert capfd.readouterr().err == ""


def test_a_preview_leaves_out_what_is_too_large_for_one_file(
    river: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    view = view_of(river, "video: river.webm, poster: photo.png")
    names = [list(site_data(view.plan.file, [view.scene.box]).assets)]
    monkeypatch.setattr("rising_lantern.previews.site_data._MOST_VIDEO_BYTES", 100)
    names.append(list(site_data(view.plan.file, [view.scene.box]).assets))
    assert any(name.endswith(".webm") for name in names[0])
    assert names[1] == [name for name in names[0] if not name.endswith(".webm")] != []
