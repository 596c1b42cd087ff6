"""The command line, driven as a process."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path


def run(
    *words: str | Path, cwd: Path | None = None, text: str | None = None
) -> subprocess.CompletedProcess[str]:
    """Run a command of rising-lantern, with a text as its standard input."""
    command = [sys.executable, "-m", "rising_lantern", *map(str, words)]
    return subprocess.run(command, capture_output=True, text=True, check=False, cwd=cwd, input=text)
