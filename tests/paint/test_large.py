"""Large plans: painted in bands that show the same as what is painted whole, in little memory."""

from __future__ import annotations

import math
import subprocess
import sys
from operator import attrgetter
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

import rising_lantern as rl
from pictures import paint_pictures
from plans import MakePlan, plan_text
from rising_lantern.api.plans import Plan
from rising_lantern.css.backgrounds import Rect
from rising_lantern.paint import areas, bands, pictures
from rising_lantern.paint.shelf import Shelf
from rising_lantern.plan.files.pictures import find_picture
from rising_lantern.report.previewed import previewed
from rising_lantern.scroll.layers import LayerTrack, track
from rising_lantern.scroll.stops import MOST_FRAMES, Stop, fewer
from thorough import examples, some, thorough

HEADER = "height: 60px, parts: {menu: {text: Menu, color: white}}, looks: {clear: {}}"
# Everything that a band could cut through: copies, filters, shadows, panels, borders, blends, paths.
SECTIONS = """
a: {height: 1500px, border: 3px solid red, background: '#345', layers: [
  {image: photo.png, size: 180px auto, repeat: repeat, opacity: 0.8, filter: blur(6px) saturate(2)},
  {fill: 'radial-gradient(circle at 30% 60%, rgb(255 0 0 / .5), transparent)', speed: 0.5},
  {image: flag.svg, size: 300px auto, position: 40% 60%, repeat: no-repeat},
  {fill: 'linear-gradient(30deg, red, rgb(0 0 255 / .3))', blend: multiply, speed: 0.7},
  {image: noise.png, size: 200px auto, repeat: no-repeat, path: [{at: 0px}, {at: 900px, scale: 1.7, y: 90px, opacity: 0.4}]}],
 content: [{text: The river carries the light, size: 60px, color: white, at: 50% 40%,
            panel: {color: rgb(0 0 0 / .4), padding: 30px, radius: 40px}, shadow: 4px 9px 12px black},
           {text: Reading it again, size: 30px, color: '#eee', at: 20% 70%, speed: 0.8, blend: screen},
           {text: And at the end, size: 30px, color: white, at: 50% 98%, enter: {y: 20px}}]},
b: {height: 900px, layers: [{image: noise.png, size: 3px, repeat: round}]},
c: {height: 700px, background: rgb(255 255 255 / .7)}
"""
UNDER = "{image: photo.png, attachment: fixed}"


def frames(view: rl.View) -> list[np.ndarray]:
    """What is shown at some positions, between whole px as well."""
    return [view.pixels(scroll) for scroll in (0, 333.5, 1511.25)]


@pytest.fixture
def in_bands(monkeypatch: pytest.MonkeyPatch) -> None:
    """Everything is painted in bands of few rows, of which few are kept."""
    monkeypatch.setattr(areas, "_MOST_WHOLE", 0)
    monkeypatch.setattr(bands, "BAND_PIXELS", 37_000)
    monkeypatch.setattr("rising_lantern.paint.frames._MOST_STORED", 2_000_000)


@thorough
def test_bands_show_what_is_painted_whole(
    make_plan: MakePlan, request: pytest.FixtureRequest
) -> None:
    """Within a level: what shows through is rounded in another order."""
    plan = make_plan(plan_text(header=HEADER, sections=SECTIONS, under=UNDER))
    whole = frames(plan.view())
    contrast = plan.view().trace(97)["contrast"]
    request.getfixturevalue("in_bands")
    for item, other in zip(whole, frames(plan.view()), strict=True):
        difference = np.abs(item.astype(int) - other)
        assert difference.max() <= 2
        assert (difference > 1).mean() < 1e-4
    np.testing.assert_allclose(plan.view().trace(97)["contrast"], contrast, rtol=0.02)


def test_opaque_bands_are_counted_as_one_sheet(
    make_plan: MakePlan, request: pytest.FixtureRequest
) -> None:
    sections = "a: {height: 1900px, layers: [{image: photo.png, speed: 0.4}]}, b: {height: 800px, background: '#123'}"
    plan = make_plan(plan_text(header=HEADER, sections=sections))
    whole, table = frames(plan.view()), plan.view().contrast()
    request.getfixturevalue("in_bands")
    for item, other in zip(whole, frames(plan.view()), strict=True):
        # Where a sample lies half-way between two levels, its place is rounded in another order.
        assert np.abs(item.astype(int) - other).max() <= 1
    again = plan.view().contrast()
    np.testing.assert_allclose(again["contrast"], table["contrast"], rtol=0.01)


def test_small_pictures_that_move_are_kept_whole_however_many_they_are(
    make_plan: MakePlan, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Each has an area as large as its section, nearly all of which is clear."""
    painted: list[int] = []
    monkeypatch.setattr(bands.Bands, "_band", lambda _, index: painted.append(index))
    layers = ", ".join(
        f"{{image: noise.png, speed: 0.{index + 10}, size: 90px auto, repeat: no-repeat}}"
        for index in range(40)
    )
    make_plan(plan_text(sections=f"a: {{height: 1900px, layers: [{layers}]}}")).view().pixels(500)
    assert not painted


LARGE = {
    "sections": ", ".join(
        f"s{index}: {{height: 800px, layers: [{{image: photo.png, speed: 0.{index % 9 + 1}}}], "
        f"content: [{{text: Number {index}, at: 50% 50%}}]}}"
        for index in range(500)
    ),
    "tall": "s: {height: 100000px, background: '#eee', content: [{text: Here, at: 50% 10%}, {text: There, at: 50% 90%}]}",
    "pictured": "s: {height: 100000px, layers: [{image: photo.png, size: cover}]}",
    "gradients": "s: {height: 1600px, layers: ["
    + ", ".join(
        f"{{fill: 'linear-gradient({index * 7}deg, rgb({index * 5} 80 90 / .1), rgb(90 {index * 5} 80 / .2))', speed: 0.{index + 10}}}"
        for index in range(50)
    )
    + "]}",
    "blended": "s: {height: 100000px, background: '#456', layers: [{fill: 'linear-gradient(red, blue)', blend: multiply, speed: 0.5}]}",
    "texts": "s: {height: 3000px, layers: [{image: photo.png}], content: ["
    + ", ".join(
        f"{{text: Text number {index}, at: {index % 8 * 12}% {index * 1.5}%, size: 20px, speed: {1 if index % 2 else 0.9}}}"
        for index in range(64)
    )
    + "]}",
}


@pytest.mark.parametrize("kind", some(LARGE, 6))
def test_a_large_page_takes_less_than_a_gigabyte(tmp_path: Path, kind: str) -> None:
    paint_pictures(tmp_path)
    text = plan_text(header=HEADER, sections=LARGE[kind], viewports="laptop: 1280x800")
    (tmp_path / "plan.yaml").write_text(text, "utf-8")
    code = (
        "import sys, rising_lantern as rl\n"
        "view = rl.read(sys.argv[1]).view()\n"
        "for scroll in (0, view.max_scroll // 2, view.max_scroll): view.frame(scroll)\n"
        "view.filmstrip() if sys.argv[2] == 'sections' else None\n"
        "view.chart() if sys.argv[2] == 'tall' else None\n"
        "found = [line for line in open('/proc/self/status') if line.startswith('VmHWM')]\n"
        "print(int(found[0].split()[1]) // 1000)\n"
    )
    result = subprocess.run(
        [sys.executable, "-c", code, str(tmp_path / "plan.yaml"), kind],
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert result.returncode == 0, result.stderr
    assert int(result.stdout) < 1000


@settings(max_examples=examples(40), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.tuples(st.integers(1, 90), st.integers(1, 90)), st.integers(0, 4), st.sampled_from("LP"),
    st.integers(1, 400), st.integers(1, 8), st.integers(0, 2**32),
)  # fmt: skip
def test_a_large_picture_is_halved_in_bands_as_it_is_whole(
    folder: Path, size: tuple[int, int], times: int, mode: str, band: int, turned: int, seed: int
) -> None:
    """Grey and with a transparent colour, turned as cameras say, of any size and any bands."""
    levels = np.random.default_rng(seed).integers(0, 255, size[::-1], dtype=np.uint8)
    image = Image.fromarray(levels).convert(mode)
    exif = Image.Exif()
    exif[274] = turned
    if mode == "P":
        image.info["transparency"] = 9
    image.save(folder / "one.png", exif=exif)
    picture = find_picture(folder, "one.png")
    placed = Rect(0.0, 0.0, picture.width / 2**times, picture.height / 2**times)
    window = (0, 0, math.ceil(placed.width), math.ceil(placed.height))
    drawn = []
    for most in (10_000, 0):
        with pytest.MonkeyPatch.context() as patch:
            patch.setattr(pictures, "_decoded", Shelf[np.ndarray](10**6, attrgetter("nbytes")))
            patch.setattr(pictures, "_MOST_WHOLE", most)
            patch.setattr(pictures, "_MOST_BAND", band)
            drawn.append(pictures.scaled(picture, placed, window))
    np.testing.assert_array_equal(drawn[0], drawn[1])


@pytest.mark.parametrize("command", ["check", "export --pictures"])
def test_a_picture_is_in_memory_once(folder: Path, command: str) -> None:
    """A picture of 48 megapixels adds little more than four bytes for each of them."""
    Image.new("RGB", (8000, 6000), "#345").save(folder / "large.png", compress_level=1)
    sections = "a: {height: 900px, layers: [{image: large.png, speed: 0.5}]}, b: {height: 900px}"
    most = []
    for text in (sections, sections.replace("large", "photo")):
        (folder / "plan.yaml").write_text(plan_text(header=HEADER, sections=text), "utf-8")
        output = ["-o", folder / "out"] if "export" in command else []
        most.append(peak_mb(*command.split(), folder / "plan.yaml", "--jobs", "1", *output))
    assert most[0] - most[1] < 1.3 * 48 * 4


def peak_mb(*words: object) -> int:
    """The most memory that a command takes, in MB."""
    code = (
        "import resource, subprocess, sys\n"
        "subprocess.run([sys.executable, '-m', 'rising_lantern', *sys.argv[1:]], capture_output=True)\n"
        "print(resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss // 1000)\n"
    )
    words = (sys.executable, "-c", code, *map(str, words))
    return int(subprocess.run(words, capture_output=True, text=True, check=True).stdout)  # type: ignore[arg-type]


def test_rules_look_at_a_section_only_where_it_is_on_the_screen(
    make_plan: MakePlan, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Twice as many sections are twice as many positions, not four times."""
    followed: list[int] = []

    def counted(*words: Any) -> LayerTrack:
        followed.append(words[3].size)
        return track(*words)

    monkeypatch.setattr("rising_lantern.scroll.moments.track", counted)
    counts = []
    for count in (10, 20):
        sections = ", ".join(
            f"s{index}: {{height: 700px, layers: [{{image: photo.png, speed: 0.5}}], "
            f"content: [{{text: Number {index}, color: white}}]}}"
            for index in range(count)
        )
        followed.clear()
        rl.check(make_plan(plan_text(header=HEADER, sections=sections)), jobs=1)
        counts.append(sum(followed))
    assert 0 < counts[1] < 2.3 * counts[0]


def test_a_filmstrip_of_a_long_page_leaves_positions_out_and_says_so(make_plan: MakePlan) -> None:
    # No two frames may look alike.
    sections = ", ".join(
        f"s{index}: {{height: 800px, background: 'rgb({index * 4} {index % 5 * 60} 90)'}}"
        for index in range(60)
    )
    looks = "clear: {}, solid: {from: 200px, background: white, change: blend 100px}"
    plan = make_plan(plan_text(header=f"looks: {{{looks}}}", sections=sections))
    view = plan.view()
    shown = previewed(view.scene)
    stops = [shot.stop for shot in shown.shots]
    assert MOST_FRAMES - 4 <= len(stops) < MOST_FRAMES  # just before and at the switch look alike
    assert shown.left_out == len(view.stops()) - MOST_FRAMES
    assert {0, 250, 300, view.max_scroll} <= {stop.scroll_px for stop in stops}
    with pytest.raises(rl.RequestError, match="up to 24 positions, not 25"):
        view.filmstrip(range(25))


def test_fewer_stops_keep_the_ends_and_their_order() -> None:
    stops = [Stop(scroll, (f"half-way through s{scroll}",)) for scroll in range(100)]
    for most in range(2, 101):
        kept = fewer(stops, most)
        assert len(kept) == most
        assert kept[0] == stops[0]
        assert kept[-1] == stops[-1]
        assert list(kept) == sorted(kept, key=lambda stop: stop.scroll_px)


def test_a_shelf_lets_the_oldest_go_and_makes_it_again() -> None:
    shelf, result = Shelf[np.ndarray](250, attrgetter("nbytes")), list[int]()

    def make(key: int) -> np.ndarray:
        result.append(key)
        return np.full(100, key, dtype=np.uint8)

    for key in (1, 2, 1, 3, 1, 2):
        assert (shelf.get(key, lambda key=key: make(key)) == key).all()  # type: ignore[misc]
    assert result == [1, 2, 3, 2]


def test_a_table_that_would_be_too_large_is_refused(make_plan: MakePlan) -> None:
    sections = ", ".join(
        f"s{index}: {{height: 9000px, layers: [{{fill: red}}]}}" for index in range(60)
    )
    view = make_plan(plan_text(sections=sections)).view()
    with pytest.raises(rl.RequestError, match="the limit is 5,000,000: use a step of 7 px or more"):
        view.trace(of="layers")
    assert len(view.trace(7, of="layers")) < 5_000_000


def test_reading_by_pieces_of_a_long_page_is_the_same(
    make_plan: MakePlan, monkeypatch: pytest.MonkeyPatch
) -> None:
    sections = "a: {height: 2300px, layers: [{image: photo.png, speed: 0.5}]}, b: {height: 900px}"
    plan: Plan = make_plan(plan_text(header=HEADER, sections=sections))
    whole = plan.view().contrast()
    monkeypatch.setattr("rising_lantern.legibility.parts._MOST_PX", 333)
    assert plan.view().contrast().equals(whole)
