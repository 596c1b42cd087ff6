"""Programs of npm packages, which check what we write in other languages."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest

PACKAGES = Path(sys.prefix) / "node_modules"


def npm(package: str, program: str, *words: str, folder: Path) -> subprocess.CompletedProcess[str]:
    """Run a program of a package of npm; the test fails or is skipped where it is not there."""
    path = PACKAGES / package / program
    if not path.is_file():
        if os.environ.get("RISING_LANTERN_BROWSER") == "required":
            pytest.fail(f"{package} is not installed")
        pytest.skip(f"{package} is not installed")
    return subprocess.run(
        [shutil.which("node") or "node", str(path), *words],
        capture_output=True,
        text=True,
        check=False,
        cwd=folder,
        env={**os.environ, "NODE_PATH": str(PACKAGES)},
    )
