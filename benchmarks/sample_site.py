"""What designers wait for on the sample site: check, a number changed, tune, preview.

    python benchmarks/sample_site.py

Each is measured in one process; ``--jobs`` divides it by nearly the number of cores.
"""

from __future__ import annotations

import tempfile
from functools import partial
from pathlib import Path

import rising_lantern as rl
from figures import Report
from rising_lantern.jobs.job import Job
from rising_lantern.previews.drawing import DrawTask

_KEY = "headers.over-picture.looks.tinted.background"


def main() -> None:
    """Measure and print the ratios."""
    report = Report("sample site")
    with tempfile.TemporaryDirectory() as name:
        plan = rl.read(rl.sample_site(name))
        seconds = report.measure("check, 15 views", partial(_check_all, plan), 3)
        print(f"  {seconds:.1f} s")
        for page in plan.pages:
            report.measure(f"check, {page} on laptop, sheets kept", partial(_check, plan, page), 3)
        alphas = iter(range(60, 95))
        seconds = report.measure("one number of home changed", lambda: _changed(plan, next(alphas)))
        print(f"  {seconds:.3f} s")
        report.measure(
            "preview, home on laptop", Job(plan.file, "home", "laptop", DrawTask()).run, 3
        )
        traps = rl.read(Path(name) / "traps.yaml")
        seconds = report.measure("tune, the traps", partial(rl.tune, traps, jobs=1), 1)
        print(f"  {seconds:.1f} s")
    report.write()


def _check_all(plan: rl.Plan) -> None:
    rl.check(plan, jobs=1)


def _check(plan: rl.Plan, page: str) -> None:
    plan.view(page, "laptop").check()


def _changed(plan: rl.Plan, alpha: int) -> None:
    other = plan.replace({_KEY: f"rgb(11 16 38 / .{alpha})"})
    other.view("home", "laptop").check()


if __name__ == "__main__":
    main()
