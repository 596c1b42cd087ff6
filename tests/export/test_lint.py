"""What `export` writes, read by the linters that engineers use."""

from __future__ import annotations

from pathlib import Path

import pytest

import rising_lantern as rl
from node import PACKAGES, npm
from pictures import paint_pictures
from random_plans import write_random_plan

_HERE = Path(__file__).parent
_SEEDS = range(6)


def faults_in_css(folder: Path) -> str:
    """What stylelint's standard rules say of the style sheets in a folder; empty for nothing.

    Left out are blank lines, how an alpha is written, the prefix that Safari needs, and the order
    and number of rules about one element: numbers stand above, and screens below.
    """
    words = ("--config", str(_HERE / "stylelint.config.json"), "--config-basedir")
    files = [str(file) for file in folder.glob("*.css")]
    result = npm(
        "stylelint", "bin/stylelint.mjs", *words, str(PACKAGES), "--quiet", *files, folder=folder
    )
    assert result.returncode in {0, 2}, result.stderr
    return (result.stdout + result.stderr) * (result.returncode == 2)


def faults_in_html(folder: Path) -> str:
    """What html-validate's standard rules say of the pages in a folder; empty for nothing.

    Left out are numbers of telephones, which are as their author wrote them, and landmarks of one
    name, as a menu for each screen is, of which one at a time is there.
    """
    words = ("--config", str(_HERE / "html-validate.config.json"), "--max-warnings", "0")
    files = [str(file) for file in folder.glob("*.html")]
    result = npm("html-validate", "bin/html-validate.mjs", *words, *files, folder=folder)
    assert result.returncode in {0, 1}, result.stderr
    return (result.stdout + result.stderr) * result.returncode


@pytest.mark.parametrize("plan", ["regatta.yaml", "traps.yaml"])
def test_the_sample_has_no_faults(site: Path, tmp_path: Path, plan: str) -> None:
    rl.export(rl.read(site / plan), pictures=False).write(tmp_path)
    assert faults_in_css(tmp_path) == ""
    assert faults_in_html(tmp_path) == ""


def test_random_plans_have_none(tmp_path: Path) -> None:
    for seed in _SEEDS:
        folder, out = tmp_path / f"plan{seed}", tmp_path / f"out{seed}"
        folder.mkdir()
        paint_pictures(folder)
        write_random_plan(folder, seed)
        rl.export(rl.read(folder / "plan.json"), pictures=False).write(out)
        for file in [*out.glob("*.css"), *out.glob("*.html")]:
            file.rename(tmp_path / f"{seed}-{file.name}")
    assert faults_in_css(tmp_path) == ""
    assert faults_in_html(tmp_path) == ""


def test_faults_are_found(tmp_path: Path) -> None:
    twice = ":root {\n  --a: 1px;\n  --a: 2px;\n}\n"
    (tmp_path / "one.css").write_text(twice, "utf-8")
    assert "Duplicate custom property" in faults_in_css(tmp_path)
    page = '<!doctype html>\n<html lang="en">\n<body>\n<p><div></div></p>\n</body>\n</html>\n'
    (tmp_path / "one.html").write_text(page, "utf-8")
    assert "Stray end tag" in faults_in_html(tmp_path)
