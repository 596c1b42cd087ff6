"""The command line, in this process or in one of its own."""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from pathlib import Path
from subprocess import CompletedProcess
from typing import TextIO

from rising_lantern.cli import main


def run(
    *words: str | Path, cwd: Path | None = None, text: str | None = None
) -> CompletedProcess[str]:
    """Run a command of rising-lantern, with a text as its standard input.

    It runs in this process, since one of its own takes a second to load the packages. What it
    prints goes to real files, as with ``rising-lantern ... > file``.
    """
    arguments = list(map(str, words))
    before = Path.cwd()
    with _stream(text or "") as given, _stream() as out, _stream() as err:
        kept = sys.stdin, sys.stdout, sys.stderr
        sys.stdin, sys.stdout, sys.stderr = given, out, err
        try:
            os.chdir(cwd or before)
            main(arguments)
        except SystemExit as ended:
            status = int(ended.code or 0)
        finally:
            sys.stdin, sys.stdout, sys.stderr = kept
            os.chdir(before)
        return CompletedProcess(arguments, status, _read(out), _read(err))


def run_process(*words: str | Path, env: Mapping[str, str] | None = None) -> CompletedProcess[str]:
    """Run a command of rising-lantern in a process of its own, with pipes to read what it prints."""
    command = [sys.executable, "-m", "rising_lantern", *map(str, words)]
    return subprocess.run(command, capture_output=True, text=True, check=False, env=env)


@contextmanager
def _stream(text: str = "") -> Iterator[TextIO]:
    with tempfile.TemporaryFile("w+", encoding="utf-8") as file:
        file.write(text)
        file.seek(0)
        yield file


def _read(file: TextIO) -> str:
    file.seek(0)
    return file.read()
