"""The examples: each runs by itself, beside the sample site, and draws its picture."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image

EXAMPLES = sorted((Path(__file__).parent.parent / "examples").glob("*.py"))


@pytest.mark.parametrize("example", EXAMPLES, ids=lambda path: path.stem)
def test_an_example_runs_and_draws_its_picture(example: Path, site: Path, tmp_path: Path) -> None:
    (tmp_path / "saltmere").symlink_to(site)
    result = subprocess.run(
        [sys.executable, example], cwd=tmp_path, capture_output=True, text=True, check=False
    )
    assert (result.returncode, result.stderr) == (0, "")
    drawn = f"{example.stem.replace('_', '-')}.png"
    assert drawn in example.read_text("utf-8").split('"""')[1]
    with Image.open(tmp_path / drawn) as picture:
        assert picture.width > 1000
    assert result.stdout == example.with_suffix(".txt").read_text("utf-8")


def test_readme_links_every_example_and_its_picture() -> None:
    readme = (Path(__file__).parent.parent / "README.md").read_text("utf-8")
    for example in EXAMPLES:
        assert f"examples/{example.name}" in readme
        assert f"examples/{example.stem.replace('_', '-')}.png" in readme
        assert example.with_name(f"{example.stem.replace('_', '-')}.png").exists()
    assert len(EXAMPLES) >= 5
