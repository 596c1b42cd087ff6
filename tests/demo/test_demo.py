"""The sample site: complete, painted, and shown."""

from __future__ import annotations

import io
import subprocess
import sys
from itertools import combinations
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

import rising_lantern as rl
from rising_lantern.api.plans import Plan
from rising_lantern.checks.running import rules
from rising_lantern.demo import marks
from rising_lantern.demo.site import (
    FILES,
    PLAN,
    SCENES,
    SCREENS,
    TRAPS,
    plan_text,
    scene,
    write_site,
)
from rising_lantern.paint.videos import small_frames
from rising_lantern.plan.models.changes import Blend, Cut, Fade
from rising_lantern.plan.models.headers import Header
from rising_lantern.plan.text.consistency import layers_of
from sheets import sheet_of
from thorough import thorough


def test_the_site_has_what_a_site_has(site: Path, regatta: Plan) -> None:
    document = regatta.file.documents["laptop"]
    assert len(regatta.pages) >= 4
    assert all(len(page.sections) >= 5 for page in document.pages.values())
    used = set(regatta.file.files.pictures)
    there = {path.relative_to(site).as_posix() for path in site.rglob("*.*") if path.is_file()}
    assert used <= there
    assert {header.position for header in document.headers.values()} == {
        "fixed",
        "sticky",
        "absolute",
    }
    first = document.pages["journal"].sections["title"]
    assert not first.layers  # the page that opens without a picture


def test_the_pictures_are_wide_small_and_of_all_kinds(site: Path) -> None:
    """Light, dark and busy ones, 2,400 px wide, together a few megabytes."""
    means, details, size = {}, {}, 0
    for path in (site / "pictures").glob("*.jpg"):
        size += path.stat().st_size
        with Image.open(path) as picture:
            assert picture.width >= (1280 if path.stem == "afloat" else 2400)
            grey = np.asarray(picture.convert("L").reduce(8), dtype=float)
        means[path.stem] = grey.mean()
        details[path.stem] = grey.std()
    assert size < 4_000_000
    assert len(means) == 7
    assert means["woven-paper"] > 200
    assert means["morning-river"] > 170
    assert means["night-sky"] < 60
    assert details["crowd-of-lights"] > 30


def test_the_video_is_short_light_and_meets_its_start(site: Path, regatta: Plan) -> None:
    picture = regatta.file.files.pictures["pictures/afloat.webm"]
    assert picture.clip is not None
    assert picture.clip.seconds == pytest.approx(4, abs=0.1)
    assert (site / "pictures/afloat.webm").stat().st_size < 400_000
    first, second, *_, last = small_frames(picture).astype(int)
    assert np.abs(last - first).mean() < 1.5 * np.abs(second - first).mean()


def test_without_the_package_the_site_has_a_picture_in_its_place(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    assert "video: pictures/afloat.webm, poster: pictures/afloat.jpg" in plan_text(PLAN)
    monkeypatch.setattr("rising_lantern.demo.site.find_spec", lambda _: None)
    text = plan_text(PLAN)
    assert "{image: pictures/afloat.jpg, position" in text
    assert "webm" not in text


def test_the_logos_have_one_shape_in_two_inks() -> None:
    light, dark = (np.asarray(marks.logo(ink)).astype(int) for ink in (marks.LIGHT, marks.DARK))
    assert light.shape == dark.shape
    assert np.abs(light[..., 3] - dark[..., 3]).max() == 0
    drawn = light[..., 3] > 128
    assert light[drawn][:, :3].mean() > 200
    assert dark[drawn][:, :3].mean() < 90


def test_the_site_is_the_same_every_time(site: Path, tmp_path: Path) -> None:
    for path in write_site(tmp_path):
        assert path.read_bytes() == (site / path.relative_to(tmp_path)).read_bytes()


def test_the_pictures_of_the_package_are_light_and_as_they_are_painted(tmp_path: Path) -> None:
    assert sum(len(scene(name)) for name in SCENES) < 1_500_000
    painting = Path(__file__).parents[2] / "docs/painting"
    paint = "import paper; paper.woven_paper().save(sys.argv[1])"
    words = [sys.executable, "-c", f"import sys; {paint}", str(tmp_path / "again.png")]
    subprocess.run(words, check=True, cwd=painting)
    shipped = Image.open(io.BytesIO(scene("woven-paper.jpg"))).convert("RGB")
    painted = Image.open(tmp_path / "again.png").convert("RGB")
    assert np.abs(np.asarray(shipped, int) - np.asarray(painted, int)).mean() < 4


def test_the_files_of_the_site_are_known_before_they_are_written(site: Path) -> None:
    written = (path for path in site.rglob("*") if path.is_file())
    assert {path.relative_to(site).as_posix() for path in written} == set(FILES)


@pytest.mark.parametrize("viewport", ["laptop", "tablet", "phone"])
def test_no_header_overflows_its_screen(regatta: Plan, viewport: str) -> None:
    for page in regatta.pages:
        view = regatta.view(page, viewport)
        for scroll in (0, view.max_scroll):
            parts = list(view.at(scroll).parts.values())
            assert min(part.left for part in parts) >= 0
            assert max(part.right for part in parts) <= view.scene.box.screen.width
            ordered = sorted(parts, key=lambda part: part.left)
            for left, right in combinations(ordered, 2):
                in_one_row = left.top < right.bottom and right.top < left.bottom
                assert left.right <= right.left or not in_one_row


def test_each_kind_of_header_and_layer_is_shown(regatta: Plan) -> None:
    document = regatta.file.documents["laptop"]
    layers = [
        layer
        for page in document.pages.values()
        for section in page.sections.values()
        for layer in section.layers
    ]
    assert {0.0, 1.0} < {layer.rate for layer in layers}
    assert any(layer.repeat[0] == "repeat" for layer in layers)
    headers: list[Header] = list(document.headers.values())
    assert any(header.hold_space for header in headers)
    assert regatta.view("home").at(704).look == "solid"


@thorough
def test_demo_writes_and_previews_the_site(tmp_path: Path) -> None:
    """The command itself, as a user runs it; then its plan is traced."""
    command = [sys.executable, "-m", "rising_lantern"]
    result = subprocess.run(
        [*command, "demo", "here"], cwd=tmp_path, capture_output=True, text=True, check=True
    )
    assert "Open: here/preview/preview.html\n" in result.stdout
    # It can be sent to a client.
    assert (tmp_path / "here/preview/preview.html").stat().st_size < 8_000_000
    assert len(list((tmp_path / "here/preview/headers").glob("*.png"))) == 15
    assert len(list((tmp_path / "here/preview/filmstrips").glob("*.png"))) == 15
    assert len(list((tmp_path / "here/preview/pages").glob("*.html"))) == 5
    table = subprocess.run(
        [*command, "trace", f"here/{PLAN}", "--page", "home", "--viewport", "laptop", "--every", "700"],
        cwd=tmp_path, capture_output=True, text=True, check=True,
    )  # fmt: skip
    looks = [line.split(",")[3] for line in table.stdout.splitlines()[1:]]
    assert looks == ["clear", "tinted", "solid", "solid", "solid", "solid"]


def test_a_filmstrip_holds_a_frame_for_each_stop(regatta: Plan) -> None:
    view = regatta.view("visit", "phone")
    strip = view.filmstrip()
    stops = view.stops()
    assert len(stops) == 9
    assert [stop.going for stop in stops if stop.reasons == ("slim, going up",)] == ["up"]
    few = view.filmstrip([0, 500])
    assert few.width <= strip.width
    with_frame = np.asarray(strip)
    frame = np.asarray(view.frame(0).resize((240, 520), Image.Resampling.LANCZOS)).astype(int)
    found = with_frame[188 : 188 + 520, 48 : 48 + 240].astype(int)
    assert np.abs(found - frame).mean() < 1


def test_every_trap_has_a_page_that_its_rule_finds(site: Path) -> None:
    """The second plan of the site has a page for each rule, called like it."""
    plan = rl.read(site / TRAPS)
    result = {(page, item.rule) for item in rl.check(plan) for page in item.pages}
    known = set(rules()) - {
        "touch-fixed",
        "harsh-step",
        "stretched-screen",
    }  # which need other screens
    assert set(plan.pages) == known
    assert [page for page in plan.pages if (page, page) not in result] == []


def test_the_page_for_screens_of_other_kinds_is_clean_on_each(site: Path) -> None:
    plan = rl.read(site / SCREENS)
    assert {plan.file.viewport(name).scheme for name in plan.viewports} == {None, "dark"}
    assert rl.check(plan) == []
    assert not [remark for remark in plan.remarks if "colour" in remark.problem]
    assert "prefers-color-scheme: dark" in sheet_of(rl.export(plan))
    screens = ("day", "night")
    by_day, by_night = (plan.view("visit", name).pixels(380)[60, 640] for name in screens)
    assert by_day.mean() > 200
    assert by_night.mean() < 60
    hidden, shown = (item.view("visit", "phone").scene.box for item in (plan, plan.with_bars()))
    assert (hidden.screen.height, shown.screen.height) == (844, 788)
    assert hidden.sections[0].height == shown.sections[0].height
    assert hidden.header is not None
    assert hidden.header.looks[0].height == pytest.approx(24 + 47 + 40 + 24)


def test_the_site_shows_every_kind_of_motion_and_change(regatta: Plan) -> None:
    document = regatta.file.documents["laptop"]
    layers = [layer for _, layer in layers_of(document)]
    content = [
        item
        for page in document.pages.values()
        for section in page.sections.values()
        for item in section.content
    ]
    for shown in (
        any(layer.path for layer in layers),
        any(layer.drift for layer in layers),
        any(layer.rate < 0 for layer in layers),
        any(layer.rate > 1 and layer.settle for layer in layers),
        any(layer.slides for layer in layers),
        any(layer.filter for layer in layers),
        any(layer.blend != "normal" for layer in layers),
        any(item.speed != 1 for item in content),
        any(item.enter for item in content),
        any(item.blend != "normal" for item in content),
        any(item.shadow for item in content),
    ):
        assert shown
    headers = list(document.headers.values())
    changes = {type(header.change_to(look)) for header in headers for look in header.looks}
    assert changes == {Blend, Cut, Fade}
    assert any(header.under for header in headers)
    assert any(look.arrive for header in headers for look in header.looks.values())
