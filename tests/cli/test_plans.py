"""Commands about plans themselves: list, new, schema; --set and --faults."""

from __future__ import annotations

import json
import os
import pty
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PIL import Image, ImageDraw

import rising_lantern as rl
from commands import run
from plans import MakePlan, plan_text
from rising_lantern.start.screenshot import bands


def on_terminal(*words: str | Path, cwd: Path) -> str:
    """What a command shows on a terminal's standard error, colours taken out."""
    command = [sys.executable, "-m", "rising_lantern", *map(str, words)]
    ours, theirs = pty.openpty()
    subprocess.run(command, stdout=subprocess.DEVNULL, stderr=theirs, check=False, cwd=cwd)
    os.close(theirs)
    shown = os.read(ours, 100_000).decode()
    os.close(ours)
    return re.sub(r"\x1b\[[0-9]+m", "", shown).replace("\r\n", "\n")


def test_a_terminal_shows_the_line_with_a_mark_under_the_place(folder: Path) -> None:
    (folder / "plan.yaml").write_text(plan_text(sections="a: {heigth: 3px, bordr: x}"), "utf-8")
    shown = on_terminal("preview", "plan.yaml", cwd=folder).splitlines()
    assert shown == [
        "plan.yaml:5:16: unknown key 'heigth'; did you mean 'height'?",
        "    sections: {a: {heigth: 3px, bordr: x}}}}",
        "                   ^",
        "plan.yaml:5:29: unknown key 'bordr'; did you mean 'border'?",
        "    sections: {a: {heigth: 3px, bordr: x}}}}",
        "                                ^",
        "2 faults",
    ]


def test_a_long_line_is_cut_around_the_place(folder: Path) -> None:
    pad = ", ".join(f"s{i}: {{height: 1px}}" for i in range(60))
    (folder / "plan.yaml").write_text(
        plan_text(sections=f"{pad}, a: {{height: 3pz}}, {pad[:0]}b: {{height: 1px}}"), "utf-8"
    )
    shown = on_terminal("preview", "plan.yaml", cwd=folder).splitlines()
    assert len(shown[1]) <= 4 + 110
    assert shown[1][shown[2].index("^") :].startswith("3pz")


def test_a_mark_stands_under_an_option(folder: Path) -> None:
    (folder / "plan.yaml").write_text(plan_text(header="height: 4px"), "utf-8")
    shown = on_terminal("preview", "plan.yaml", "--set", "headers.main.height=3pz", cwd=folder)
    assert shown.splitlines()[1:3] == ["    headers.main.height=3pz", "                        ^"]


def test_faults_are_reported_as_json_on_request(folder: Path) -> None:
    (folder / "plan.yaml").write_text(plan_text(sections="a: {height: 3pz}"), "utf-8")
    result = run("--faults", "json", "preview", "plan.yaml", cwd=folder)
    assert (result.returncode, result.stderr) == (2, "")
    assert json.loads(result.stdout) == [
        {
            "file": "plan.yaml",
            "line": 5,
            "column": 24,
            "problem": "'3pz' has an unknown unit",
            "remedy": "use px, em, rem, vw, vh, vmin, vmax, an absolute unit or %",
        }
    ]
    other = run(
        "--faults",
        "json",
        "trace",
        "plan.yaml",
        "--page",
        "x",
        "--set",
        "pages.page.sections.a.height=9px",
        cwd=folder,
    )
    assert json.loads(other.stdout) == [{"problem": "the plan has no page 'x'; it has: page"}]


def test_remarks_are_printed_unless_quiet(folder: Path) -> None:
    (folder / "plan.yaml").write_text(plan_text(before="colors: {ink: red}"), "utf-8")
    result = run("preview", "plan.yaml", "-o", "out", cwd=folder)
    assert result.returncode == 0
    assert "nothing uses the colour 'ink'" in result.stderr
    assert run("preview", "plan.yaml", "-o", "out", "--quiet", cwd=folder).stderr == ""


def test_set_replaces_values_of_the_plan(folder: Path) -> None:
    header = "looks: {a: {}, b: {from: 400px}}"
    (folder / "plan.yaml").write_text(plan_text(header=header), "utf-8")
    starts = []
    for words in ([], ["--set", "headers.main.looks.b.from=700px"]):
        result = run("trace", "plan.yaml", "--every", "100", *words, cwd=folder)
        rows = [line.split(",") for line in result.stdout.splitlines()[1:]]
        starts.append(next(row[2] for row in rows if row[3] == "b"))
    assert starts == ["400", "700"]
    result = run("trace", "plan.yaml", "--set", "headers.main", cwd=folder)
    assert result.returncode == 2
    assert "'headers.main' has no '='" in result.stderr


def test_list_shows_the_plan_as_it_holds_on_a_screen(folder: Path, make_plan: MakePlan) -> None:
    text = plan_text(
        viewports="laptop: 1000x600, phone: 400x700",
        sections="a: {height: 900px, background: red, for: {phone: {height: 50vh}}}",
    )
    make_plan(text)
    result = run("list", "plan.yaml", "--of", "values", "--viewport", "phone", cwd=folder).stdout
    assert "height: 50vh  # for phone, line 5" in result
    assert "background: red\n" in result
    assert "for:" not in result
    (folder / "held.yaml").write_text(result, "utf-8")
    held = rl.read(folder / "held.yaml").view("page", "phone")
    assert held.at(0) == rl.read(folder / "plan.yaml").view("page", "phone").at(0)
    both = run("list", "plan.yaml", cwd=folder).stdout
    assert both.count("rising-lantern: 1") == 2
    assert run("list", "plan.yaml", "--viewport", "tv", cwd=folder).returncode == 2


def test_list_says_how_many_pixels_each_picture_needs(folder: Path) -> None:
    """By hand: 600 x 400 covering 1,000 x 700 at twice the pixels, and a logo of 120 px."""
    text = plan_text(
        viewports="laptop: 1000x600, sharp: 1000x600@2",
        header="parts: {brand: {image: logo-dark.png}}",
        sections=(
            "a: {height: 700px, layers: [{image: photo.png}]}, "
            "b: {height: 100px, layers: [{image: photo.png}]}, c: {height: 900px}"
        ),
    )
    (folder / "plan.yaml").write_text(text, "utf-8")
    table: list[dict[Any, Any]] = rl.read(folder / "plan.yaml").picture_table().to_dict("records")
    rows = {(row["picture"], row["viewport"]): row for row in table}
    photo = rows["photo.png", "sharp"]
    assert (photo["needs_width"], photo["needs_height"]) == (2100, 1400)
    assert photo["enlargement"] == 3.5
    assert photo["place"] == "a, layer 0"
    assert rows["photo.png", "laptop"]["needs_height"] == 700
    assert rows["logo-dark.png", "laptop"]["enlargement"] == 1
    result = run("list", "plan.yaml", "--of", "pictures", cwd=folder).stdout.splitlines()
    assert result[0].split() == [
        "picture",
        "has",
        "viewport",
        "needs",
        "enlarged",
        "waste",
        "most",
        "on",
    ]
    assert result[3].split() == [
        "photo.png",
        "600",
        "x",
        "400",
        "laptop",
        "1050",
        "x",
        "700",
        "1.75",
        "soft",
        "0%",
        "page:",
        "a,",
        "layer",
        "0",
    ]
    assert result[4].split() == [
        "sharp",
        "2100",
        "x",
        "1400",
        "3.50",
        "soft",
        "0%",
        "page:",
        "a,",
        "layer",
        "0",
    ]
    for kind, place, line in (("headers", -1, "page main main"), ("switches", 0, "page header")):
        shown = run("list", "plan.yaml", "--of", kind, cwd=folder).stdout.splitlines()[place]
        assert " ".join(shown.split()).startswith(line)


def test_schema_is_printed_and_written(folder: Path) -> None:
    result = run("schema")
    assert json.loads(result.stdout)["title"] == "A plan of Rising Lantern"
    assert run("schema", "-o", folder / "s.json").returncode == 0
    assert (folder / "s.json").read_text("utf-8") == result.stdout


def test_new_writes_a_plan_that_previews_at_once(tmp_path: Path) -> None:
    result = run("new", "site", cwd=tmp_path)
    assert (result.returncode, result.stderr) == (0, "")
    text = (tmp_path / "site/plan.yaml").read_text("utf-8")
    assert text.startswith("# yaml-language-server: $schema=rising-lantern.schema.json\n")
    assert (tmp_path / "site/rising-lantern.schema.json").is_file()
    shown = run("preview", "site/plan.yaml", "-o", "out", cwd=tmp_path)
    assert (shown.returncode, shown.stderr) == (0, "")
    assert rl.read(tmp_path / "site/plan.yaml").view().at(705).look == "solid"
    again = run("new", "site", cwd=tmp_path)
    assert again.returncode == 2
    assert "plan.yaml already exists; name another folder" in again.stderr
    assert {item.level for item in rl.check(rl.read(tmp_path / "site" / "plan.yaml"))} <= {
        "warning"
    }


@pytest.fixture
def screenshot(tmp_path: Path) -> Path:
    """A page of four bands, with a line of text in one of them."""
    pixels = np.full((1900, 700, 3), 250, dtype=np.uint8)
    pixels[:620] = (20, 30, 60)
    pixels[300:340, 100:400] = 240
    pixels[1100:1500] = (240, 200, 150)
    pixels[1500:] = (10, 10, 10)
    path = tmp_path / "page.png"
    Image.fromarray(pixels).save(path)
    return path


def test_new_from_a_screenshot_makes_its_bands_sections(screenshot: Path, tmp_path: Path) -> None:
    assert run("new", "site", "--picture", screenshot, cwd=tmp_path).returncode == 0
    view = rl.read(tmp_path / "site/plan.yaml").view()
    assert [section.height for section in view.scene.box.sections] == [620, 480, 400, 400]
    plan = view.plan.file.documents["screen"]
    plain = plan.model_copy(update={"headers": {}})
    assert plain.viewports["screen"].width == 700
    frame = rl.read(tmp_path / "site/plan.yaml", {"headers": "{}"}).view().pixels(700)
    assert (frame == np.asarray(Image.open(screenshot).convert("RGB"))[700:1500]).all()


def test_light_tints_are_bands_and_a_shelf_of_cards_is_none(tmp_path: Path) -> None:
    """And the header has the colours of the site's own; the plan passes its own check."""
    page = Image.new("RGB", (1280, 3000), "#fdf6e3")
    draw = ImageDraw.Draw(page)
    draw.rectangle((0, 0, 1280, 79), fill="#16213e")
    for left in range(700, 1200, 120):
        draw.rectangle((left, 30, left + 60, 48), fill="#fdf6e3")
    draw.rectangle((0, 80, 1280, 799), fill="#8a5a7c")
    draw.rectangle((0, 1400, 1280, 2199), fill="#f9f2e0")
    for left in (60, 460, 860):
        draw.rectangle((left, 1500, left + 360, 2000), fill="white")
        draw.rectangle((left, 1500, left + 360, 1700), fill="#334455")
    draw.rectangle((0, 2200, 1280, 3000), fill="#0b1026")
    page.save(tmp_path / "page.png")
    assert run("new", "site", "--picture", "page.png", cwd=tmp_path).returncode == 0
    plan = rl.read(tmp_path / "site/plan.yaml")
    box = plan.view().scene.box
    assert [section.height for section in box.sections] == [720, 600, 800, 800]
    assert box.header is not None
    look = box.header.looks[0]
    assert (look.background.hex()[:7], look.color.hex()[:7]) == ("#16213e", "#fdf6e3")
    assert rl.check(plan) == []


def test_new_from_a_screenshot_is_cut_where_it_is_said(screenshot: Path, tmp_path: Path) -> None:
    words = ("--picture", screenshot, "--cut", "0,500,1640")
    assert run("new", "site", *words, cwd=tmp_path).returncode == 0
    sections = rl.read(tmp_path / "site/plan.yaml").view().scene.box.sections
    assert [section.height for section in sections] == [500, 1140, 260]


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["--picture", "none.png"], "there is no file 'none.png'"),
        (["--picture", "text.png"], "'text.png' cannot be read as a picture"),
        (["--picture", "page.png", "--cut", "9000"], "--cut 9000 is below the end of the picture"),
        (["--picture", "page.png", "--cut", "1,x"], "is not a list of positions; write 0,820,1640"),
        (["--cut", "3"], "name it with --picture"),
        (["--header", "0,96"], "name it with --picture"),
        (
            ["--picture", "page.png", "--header", "96,0"],
            "is not a band; write its upper and lower edge",
        ),
        (["--picture", "page.png", "--header", "0,9000"], "--header ends at 9000 px"),
    ],
)
def test_new_refuses_what_it_cannot_start_from(
    screenshot: Path, tmp_path: Path, words: list[str], message: str
) -> None:
    (tmp_path / "text.png").write_text("no picture", "utf-8")
    assert screenshot.is_file()
    result = run("new", "site", *words, cwd=tmp_path)
    assert result.returncode == 2
    assert message in result.stderr
    assert not (tmp_path / "site").exists()


@pytest.mark.parametrize(("words", "taken"), [([], 64), (["--header", "0,96"], 96)])
def test_the_site_s_own_header_is_taken_off_a_screenshot(
    screenshot: Path, tmp_path: Path, words: list[str], taken: int
) -> None:
    """A low band at the top is taken for it, or the one that is named; the plan draws its own."""
    own = np.asarray(Image.open(screenshot).convert("RGB"))
    band = np.full((64, own.shape[1], 3), (250, 40, 40), np.uint8)
    Image.fromarray(np.concatenate([band, own])).save(tmp_path / "site.png")
    result = run("new", "out", "--picture", "site.png", *words, cwd=tmp_path)
    assert result.returncode == 0, result.stderr
    plan = rl.read(tmp_path / "out" / "plan.yaml")
    header = plan.view().scene.box.header
    assert header is not None
    assert header.looks[0].height == taken
    first = np.asarray(Image.open(tmp_path / "out" / "pictures" / "section-1.png").convert("RGB"))
    assert (first[0] == np.concatenate([band, own])[taken]).all()
    assert plan.view().at(0).sections["section-1"].top == taken


def test_bands_are_found_in_a_picture_of_letters() -> None:
    """D dark, L light: edges only where most of a row changes, and far enough apart."""
    rows = {"D": 20, "L": 240, "M": 130}
    text = "D" * 200 + "L" * 30 + "M" * 170 + "D" * 300
    pixels = np.repeat(
        np.array([rows[letter] for letter in text], dtype=np.uint8)[:, None], 50, axis=1
    )
    assert bands(np.repeat(pixels[..., None], 3, axis=2)) == [0, 200, 400, 700]
    assert bands(np.zeros((500, 20, 3), dtype=np.uint8)) == [0, 500]
