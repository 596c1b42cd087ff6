"""What people wait for who type commands: each in a new process, with nothing of it loaded.

    python benchmarks/cold.py

Figures are seconds of all its processes' CPU, as multiples of what Python alone takes to start,
and, where it is said, of the wall clock.
"""

from __future__ import annotations

import shutil
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import rising_lantern as rl
from figures import Report, start_of_python

_LANTERN = [sys.executable, "-m", "rising_lantern"]
_NUMBER = (
    "background: rgb(11 16 38 / .62)",
    "background: rgb(11 16 38 / .63)",
)  # of one header of the sample


def main() -> None:
    """Measure and print the ratios."""
    report = Report("cold commands")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        plan, traps = rl.sample_site(folder), folder / "traps.yaml"
        _run("new", folder / "new")
        commands: dict[str, tuple[object, ...]] = {
            "rising-lantern --help": ("--help",),
            "new": ("new", folder / "newer", "--force"),
            "check, the plan of 'new'": ("check", folder / "new" / "plan.yaml"),
            "check, 15 views, --jobs 1": ("check", plan, "--jobs", "1"),
            "check, 15 views, --jobs 2": ("check", plan, "--jobs", "2"),
        }
        report.measure_command("import numpy", [sys.executable, "-c", "import numpy"], 5)
        report.measure_command(
            "import rising_lantern", [sys.executable, "-c", "import rising_lantern"], 5
        )
        for title, words in commands.items():
            report.measure_command(title, [*_LANTERN, *map(str, words)], 3)
        _measure_first_line(report, "check, the traps: first finding", ("check", traps))
        _measure_first_line(report, "tune, the traps: first change", ("tune", traps), "works")
        for command in ("preview", "export", "compare"):
            _measure_again(report, command, plan)
    report.write()


def _measure_again(report: Report, command: str, plan: Path) -> None:
    """Measure a command that fills a folder: first, again, and after one number was changed."""
    more = ("--vary", "headers.over-picture.height=90px") if command == "compare" else ()
    out = plan.parent / f"{command}-out"
    words = [*_LANTERN, command, str(plan), "-o", str(out), *more]
    report.measure_command(f"{command}, 15 views", words, 1)
    report.measure_command(f"{command} again", words, 1)
    text = plan.read_text("utf-8")
    assert _NUMBER[0] in text  # noqa: S101 - what is measured is there
    plan.write_text(text.replace(*_NUMBER), "utf-8")
    report.measure_command(f"{command} after one number of a header", words, 1)
    plan.write_text(text, "utf-8")
    shutil.rmtree(out)


def _run(*words: object) -> None:
    subprocess.run([*_LANTERN, *map(str, words)], check=True, capture_output=True)  # noqa: S603


def _measure_first_line(
    report: Report, title: str, words: tuple[object, ...], beginning: str = ""
) -> None:
    """Measure the wall clock up to the first line of a command that begins in some way."""
    ratios = []
    for _ in range(3):
        start = time.perf_counter()
        with subprocess.Popen(  # noqa: S603
            [*_LANTERN, *map(str, words)],
            stdout=subprocess.PIPE,
            stderr=subprocess.STDOUT,
            text=True,
        ) as process:
            assert process.stdout  # noqa: S101 - it is a pipe
            next(line for line in process.stdout if line.startswith(beginning))
            ratios.append((time.perf_counter() - start) / start_of_python())
            process.kill()
    report.add(title, ratios, "starts of Python, wall clock")


if __name__ == "__main__":
    main()
