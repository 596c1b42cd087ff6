"""The command line, driven as a process."""

from __future__ import annotations

import json
import os
import pty
import subprocess
import sys
from pathlib import Path

import pandas as pd
import pytest
from PIL import Image

from commands import run
from plans import TINY, plan_text

HEADER = (
    "height: 60px, background: white, parts: {name: {text: Saltmere}}, "
    "looks: {clear: {}, solid: {from: past opening, height: 40px}}"
)
PLAN = plan_text(header=HEADER, viewports="laptop: 1000x600, phone: 390x844")


@pytest.fixture
def plan(folder: Path) -> Path:
    path = folder / "plan.yaml"
    path.write_text(PLAN, "utf-8")
    return path


def test_help_lists_the_commands_and_loads_nothing_heavy() -> None:
    result = run("--help")
    assert result.returncode == 0
    for command in ("demo", "preview", "trace"):
        assert command in result.stdout
        assert run(command, "--help").returncode == 0
    code = (
        "import sys; from rising_lantern.cli import main\n"
        "try: main(['--help'])\nexcept SystemExit: pass\n"
        "print(sorted({'numpy', 'pydantic', 'pandas', 'PIL', 'yaml'} & set(sys.modules)))"
    )
    loaded = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True
    )
    assert loaded.stdout.strip().endswith("[]")


def test_reading_a_plan_loads_no_tables_or_charts(plan: Path) -> None:
    code = (
        f"import sys, rising_lantern as rl; rl.read({str(plan)!r})\n"
        "print(sorted({'pandas', 'pyarrow', 'matplotlib', 'av'} & set(sys.modules)))"
    )
    loaded = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True
    )
    assert loaded.stdout.strip() == "[]"


def test_the_version_is_printed() -> None:
    assert run("--version").stdout.startswith("rising-lantern, version 0.")


def test_preview_writes_strips_pages_and_the_sheet_that_leads_to_them(
    plan: Path, folder: Path
) -> None:
    result = run("preview", plan, cwd=folder)
    assert (result.returncode, result.stderr) == (0, "")
    built = folder / "plan-preview"
    assert result.stdout.splitlines() == [
        "2 filmstrips, charts and pages in plan-preview",
        "Open: plan-preview/preview.html",
    ]
    index = (built / "index.html").read_text("utf-8")
    assert index.count('href="pages/page.html"') == 2
    for view in ("page.laptop", "page.phone"):
        assert f'src="filmstrips/{view}.png"' in index
        with Image.open(built / "filmstrips" / f"{view}.png") as strip:
            assert strip.width >= 900
    page = (built / "pages" / "page.html").read_text("utf-8")
    assert page.startswith("<!doctype html>")
    assert "http" not in page
    assert 'href="preview.html#page=page&viewport=laptop"' in index.replace("&amp;", "&")
    assert sorted(path.name for path in folder.iterdir() if path.name.startswith(".")) == []


def test_preview_of_one_page_and_viewport(plan: Path, folder: Path) -> None:
    result = run(
        "preview", plan, "--viewport", "phone", "--page", "page", "-o", folder / "out", "--quiet"
    )
    assert (result.returncode, result.stdout, result.stderr) == (0, "", "")
    assert [path.name for path in (folder / "out" / "pages").glob("*.html")] == ["page.html"]


def test_preview_leaves_other_files_in_the_folder_alone(plan: Path, folder: Path) -> None:
    out = folder / "out"
    out.mkdir()
    (out / "mine.txt").write_text("kept", "utf-8")
    assert run("preview", plan, "--viewport", "phone", "-o", out).returncode == 0
    assert (out / "mine.txt").read_text("utf-8") == "kept"


@pytest.mark.parametrize("ending", ["csv", "json", "parquet"])
@pytest.mark.parametrize("of", ["header", "layers"])
def test_trace_writes_a_table_as_the_ending_says(folder: Path, ending: str, of: str) -> None:
    sections = "opening: {height: 900px, layers: [{fill: red}]}, second: {height: 700px}"
    (folder / "plan.yaml").write_text(plan_text(header=HEADER, sections=sections), "utf-8")
    out = folder / f"table.{ending}"
    result = run("trace", folder / "plan.yaml", "--of", of, "--every", "250", "-o", out)
    assert result.returncode == 0, result.stderr
    assert result.stdout == f"5 rows of 1 view in {out}\n"
    readers = {"csv": pd.read_csv, "json": pd.read_json, "parquet": pd.read_parquet}
    table = readers[ending](out)  # type: ignore[operator]
    assert table["scroll_px"].tolist() == [0, 250, 500, 750, 1000]
    if of == "header":
        assert table["look"].tolist() == ["clear"] * 4 + ["solid"]


def test_trace_without_the_parquet_package_says_what_to_install(plan: Path, folder: Path) -> None:
    out = folder / "table.parquet"
    out.write_text("an earlier table", "utf-8")
    code = (
        "import sys; sys.modules['pyarrow'] = None\n"
        "from rising_lantern.cli import main; main(sys.argv[1:])"
    )
    result = subprocess.run(
        [sys.executable, "-c", code, "trace", plan, "-o", out, "--force"],
        capture_output=True,
        text=True,
        check=False,
    )
    assert result.returncode == 2
    assert "install rising-lantern[parquet], or write .csv or .json" in result.stderr
    assert out.read_text("utf-8") == "an earlier table"


def test_trace_prints_csv_without_an_output(plan: Path) -> None:
    result = run("trace", plan, "--every", "800", "--viewport", "laptop")
    lines = result.stdout.splitlines()
    assert lines[0].startswith("page,viewport,scroll_px,look,progress,header_top_px")
    assert lines[1].startswith("page,laptop,0,clear,1,0,60,#ffffffff,#000000ff,21")
    assert len(lines) == 4


def test_trace_going_up_keeps_a_look_to_its_back(folder: Path) -> None:
    header = "looks: {a: {}, b: {from: 400px, back: 200px}}"
    (folder / "plan.yaml").write_text(plan_text(header=header), "utf-8")
    looks = {}
    for going in ("down", "up"):
        out = folder / f"{going}.json"
        run("trace", folder / "plan.yaml", "--every", "100", "--going", going, "-o", out)
        rows = json.loads(out.read_text("utf-8"))
        looks[going] = next(row["scroll_px"] for row in rows if row["look"] == "b")
    assert looks == {"down": 400, "up": 200}


@pytest.mark.parametrize("command", ["preview", "trace"])
def test_a_faulty_plan_ends_with_status_2_and_leaves_outputs_as_they_were(
    plan: Path, folder: Path, command: str
) -> None:
    out = folder / ("table.csv" if command == "trace" else "out")
    assert run(command, plan, "-o", out).returncode == 0
    before = {
        path: path.read_bytes() for path in folder.rglob("*") if path.is_file() and path != plan
    }
    plan.write_text(PLAN.replace("past opening", "past openning"), "utf-8")
    result = run(command, plan, "-o", out)
    assert result.returncode == 2
    assert result.stdout == ""
    assert "no page has a section 'openning'; did you mean 'opening'?" in result.stderr
    assert result.stderr.startswith(f"{plan}:4:")
    assert "Traceback" not in result.stderr
    after = {
        path: path.read_bytes() for path in folder.rglob("*") if path.is_file() and path != plan
    }
    assert after == before


@pytest.mark.parametrize(
    ("words", "message"),
    [
        (["preview", "nowhere.yaml"], "nowhere.yaml: the plan cannot be read: no such file"),
        (["preview", "plan.yaml", "--page", "hom"], "the plan has no page 'hom'; it has: page"),
        (["trace", "plan.yaml", "--viewport", "tv"], "the plan has no viewport 'tv'"),
        (
            ["trace", "plan.yaml", "--every", "0"],
            "the step along the scroll has to be above zero px",
        ),
        (["trace", "plan.yaml", "--every", "nan"], "has to be above zero px"),
        (
            ["trace", "plan.yaml", "-o", "table.txt"],
            "table.txt must end in one of .csv, .json, .parquet",
        ),
        (
            ["trace", "plan.yaml", "-o", "folder.csv"],
            "folder.csv is a folder; name a file to write",
        ),
        (["preview", "plan.yaml", "-o", "plan.yaml"], "plan.yaml is a file; name a folder"),
        (["preview", "plan.yaml", "-o", "plan.yaml/x"], "plan.yaml/x cannot be written"),
        (["prevew", "plan.yaml"], "No such command 'prevew'"),
    ],
)
def test_a_wrong_call_ends_with_status_2(folder: Path, words: list[str], message: str) -> None:
    (folder / "plan.yaml").write_text(TINY, "utf-8")
    (folder / "folder.csv").mkdir()
    result = run(*words, cwd=folder)
    assert result.returncode == 2
    assert message in result.stderr
    assert "Traceback" not in result.stderr
    assert (folder / "plan.yaml").read_text("utf-8") == TINY


def test_a_progress_bar_is_shown_on_a_terminal_only(plan: Path, folder: Path) -> None:
    command = [
        sys.executable,
        "-m",
        "rising_lantern",
        "preview",
        str(plan),
        "-o",
        str(folder / "o"),
    ]
    ours, theirs = pty.openpty()
    result = subprocess.run(command, stdout=subprocess.PIPE, stderr=theirs, check=False)
    os.close(theirs)
    shown = os.read(ours, 100_000).decode()
    os.close(ours)
    assert result.returncode == 0
    assert "Drawing" in shown
    assert "━" in shown
    assert run("preview", plan, "-o", folder / "o").stderr == ""


def test_nothing_in_a_plan_breaks_out_of_the_page(folder: Path) -> None:
    """Texts are shown as they are written; names and values that could do harm are refused."""
    hostile = "</script><script>alert(1)</script><style>*{display:none}</style>"
    text = plan_text(
        header=f"parts: {{x: {{text: ['{hostile}', b]}}, y: {{image: logo-dark.png, alt: '\"{hostile}'}}}}",
        sections=f"a: {{height: 100px, content: [{{text: '{hostile}'}}]}}",
        page=f"title: '{hostile}'",
        before=f"title: '{hostile}'",
    )
    (folder / "plan.yaml").write_text(text, "utf-8")
    assert run("preview", folder / "plan.yaml", "-o", folder / "o").returncode == 0
    for path in (folder / "o").rglob("*.html"):
        page = path.read_text("utf-8")
        assert "alert(1)" in page
        assert "<script>alert" not in page
    for path in (folder / "o").rglob("*.css"):
        assert "display:none" not in path.read_text("utf-8")


@pytest.mark.parametrize(
    "value",
    [
        "red; } body { display: none",
        "red</style><script>",
        "rgb(0 0 0 / var(--x))",
        "url(http://example.org/x)",
        "expression(alert(1))",
    ],
)
def test_values_that_try_to_close_a_rule_are_refused(folder: Path, value: str) -> None:
    for key in ("background", "color", "height", "shadow", "padding", "change"):
        (folder / "plan.yaml").write_text(plan_text(header=f"{key}: '{value}'"), "utf-8")
        result = run("preview", folder / "plan.yaml", "-o", folder / "o")
        assert result.returncode == 2, key
        assert "Traceback" not in result.stderr
        assert not (folder / "o").exists()


def test_preview_plays_gestures_as_moving_pictures(folder: Path) -> None:
    """By name and from a file, in every form; the sheet leads to them."""
    header = "height: 90px, looks: {a: {}, b: {from: 200px, height: 40px, change: fade 300ms}}"
    sections = "a: {height: 500px, background: '#246'}, b: {height: 700px, background: '#fda'}"
    text = plan_text(viewports="s: 201x301", header=header, sections=sections)
    (folder / "plan.yaml").write_text(text, "utf-8")
    (folder / "way.csv").write_text("s,px\n0,0\n1,900\n2,100\n", "utf-8")
    for form, frames in (("webp", 40), ("gif", 40), ("mp4", 40)):
        result = run(
            "preview", "plan.yaml", "--play", "way.csv", "--play", "jump b", "--play-as", form, "-o", "out", cwd=folder
        )  # fmt: skip
        assert result.returncode == 0, result.stderr
        assert "2 moving pictures in out/plays" in result.stdout
        built = folder / "out" / "plays" / f"page.s.way.csv.{form}"
        assert f"plays/page.s.jump-b.{form}" in (folder / "out" / "index.html").read_text("utf-8")
        if form != "mp4":
            with Image.open(built) as moving:
                assert moving.size == (201, 301)
                assert 2 < moving.n_frames <= frames + 1  # type: ignore[attr-defined]
        assert built.stat().st_size > 500
    for wrong in ("swim", "jump nowhere", "none.csv"):
        result = run("preview", "plan.yaml", "--play", wrong, "-o", "out", cwd=folder)
        assert result.returncode == 2
        assert (folder / "out" / "index.html").exists()
