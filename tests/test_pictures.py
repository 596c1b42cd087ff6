"""The pictures of the docs: terminals still print what their pictures show, and all are linked."""

from __future__ import annotations

import importlib.util
import shlex
import shutil
import sys
from pathlib import Path
from types import ModuleType
from typing import Any

import pytest

from commands import run

ROOT = Path(__file__).parent.parent


def drawing() -> ModuleType:
    """The script that draws the pictures."""
    spec = importlib.util.spec_from_file_location("pictures_of_docs", ROOT / "docs" / "pictures.py")
    assert spec is not None
    assert spec.loader is not None
    module = importlib.util.module_from_spec(spec)
    sys.modules[spec.name] = module
    spec.loader.exec_module(module)
    return module


SCRIPT = drawing()


@pytest.fixture(scope="module")
def shown_site(site: Path, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The sample site as it is when pictures are made."""
    folder = tmp_path_factory.mktemp("pictures") / "saltmere"
    shutil.copytree(site, folder)
    return Path(SCRIPT.prepared_site(folder))


@pytest.mark.parametrize("terminal", SCRIPT.TERMINALS, ids=lambda terminal: terminal.name)
def test_a_command_prints_what_its_picture_shows(terminal: Any, shown_site: Path) -> None:
    result = run(*shlex.split(terminal.command), cwd=shown_site)
    lines = (result.stderr + result.stdout).splitlines()[: terminal.head]
    kept = terminal.text_file.read_text("utf-8")
    assert "\n".join([f"$ {terminal.shown}", *lines, ""]) == kept


def test_every_picture_is_linked_from_the_readme() -> None:
    readme = (ROOT / "README.md").read_text("utf-8")
    pictures = sorted((ROOT / "docs" / "screenshots").glob("*.png"))
    assert 10 < len(pictures) < 20
    assert [path.name for path in pictures if f"docs/screenshots/{path.name}" not in readme] == []
