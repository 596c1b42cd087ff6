"""``rising-lantern demo``."""

from __future__ import annotations

from pathlib import Path

import click

from rising_lantern.api.plans import read
from rising_lantern.cli.options import force_option, jobs_options, quiet_option
from rising_lantern.cli.preview import Previewing
from rising_lantern.cli.terminal import echo
from rising_lantern.cli.waiting import progress
from rising_lantern.demo.site import FILES, PLAN, write_site
from rising_lantern.jobs.sharing import Jobs, cores
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.previews.previewing import AS_IT_IS


@click.command("demo")
@click.argument("folder", type=click.Path(path_type=Path), default=Path("saltmere"))
@jobs_options
@force_option
@quiet_option
def command(*, folder: Path, jobs: Jobs, force: bool, quiet: bool) -> None:
    """Write the sample site into FOLDER and preview it.

    The site is of a made-up river festival: five pages with pictures, logos and icons, and the
    plan that says what they do along the scroll. A second plan has a page for each rule of check.
    """
    jobs = jobs or cores()  # it is known to be worth starting processes for
    with filled_folder(folder, FILES, force=force) as scratch:
        for _ in progress(write_site(scratch), len(FILES), "Writing", quiet=quiet):
            pass
    if not quiet:
        echo(f"The sample site and its plan are in {folder}")
    plan = read(folder / PLAN)
    drawing = Previewing({AS_IT_IS: plan}, plan.view_names())
    drawing.write(folder / "preview", jobs=jobs, force=force, quiet=quiet)
    if not quiet:
        echo(f"Then change a number in {folder / PLAN} and run:")
        echo(f"  rising-lantern preview {folder / PLAN} -o {folder / 'preview'}")
