"""Exporting a plan: code for any site, with settings and notes beside it."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from os import PathLike
from pathlib import Path
from typing import Any, get_args

from rising_lantern.base.arguments import Names, one_of, text
from rising_lantern.exports.first_looks import FirstLookTask
from rising_lantern.exports.kept import KeptExport
from rising_lantern.exports.notes import FirstLook, NotesWriter
from rising_lantern.exports.pages import head_of
from rising_lantern.exports.renditions import (
    Renditions,
    RenditionTask,
    Weighed,
    can_be_rendered,
    share_for,
    weigh,
)
from rising_lantern.exports.settings import markdown, settings_on
from rising_lantern.exports.settings_tables import measured, settings_frame
from rising_lantern.exports.site import (
    Assets,
    ExportOptions,
    ScriptKind,
    code_in,
    pages_in,
    site_of,
    write_files,
)
from rising_lantern.exports.stylesheet import SheetWriter
from rising_lantern.exports.support import support_of
from rising_lantern.exports.weights import Weight
from rising_lantern.jobs.job import Job, run_unknown
from rising_lantern.jobs.sharing import Jobs, Progress
from rising_lantern.layout.needs import needs_of
from rising_lantern.outputs.folders import filled_folder
from rising_lantern.outputs.spreadsheets import sheet_text
from rising_lantern.plan.files.source_files import SourceFile
from rising_lantern.plan.text.given import HasFile, file_of
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.plan.text.screen_widths import screen_ranges
from rising_lantern.scenes.scene import scene_of

NOTES = "notes.md"
SETTINGS = "settings.md"
SETTINGS_CSV = "settings.csv"


@dataclass(frozen=True)
class Export:
    """What has been exported of a plan.

    Attributes:
        files: All files by their names: bytes, or files to copy.
        made: What its slow results are made from, for the record of the folder.
    """

    files: Mapping[str, SourceFile | bytes]
    made: Mapping[str, Any] = field(default_factory=dict, compare=False)

    def __repr__(self) -> str:
        return f"Export({len(self.files)} files)"

    def text(self, name: str) -> str:
        """One of the files as text.

        Args:
            name: Its name, such as ``lantern.css``.
        """
        content = self.files[name]
        return (content if isinstance(content, bytes) else content.read_bytes()).decode()

    def save(self, folder: str | PathLike[str], *, force: bool = False) -> None:
        """Write all files into a folder; if anything goes wrong, the folder stays as it was.

        Args:
            folder: The folder; it is made if it is not there.
            force: Whether to replace files that Rising Lantern did not write, or that have been
                changed since.

        Raises:
            RequestError: If the folder cannot be written, or holds a file that would be lost.
        """
        with filled_folder(Path(folder), self.files, force=force, made=self.made) as scratch:
            self.write(scratch)

    def write(self, folder: Path) -> None:
        """Write all files into a folder that is there."""
        write_files(self.files, folder)


def export(  # noqa: PLR0913 - what to export, and how
    plan: HasFile,
    pages: Names = (),
    *,
    prefix: str = "lantern",
    weight: Weight | None = None,
    script: ScriptKind = "module",
    pictures: bool | None = None,
    earlier: str | PathLike[str] | None = None,
    jobs: Jobs = None,
    progress: Progress | None = None,
) -> Export:
    """Return code that does what a plan says, for any site and for all of its screens at once.

    Args:
        plan: The plan.
        pages: The pages to export; by default all.
        prefix: What custom properties, key frames, attributes and files start with.
        weight: How the style sheet holds its own against the site's other rules: ``layer``, a
            cascade layer; ``specific`` selectors; or ``important`` values. By default a layer,
            and specific selectors where the plan has selectors of the site.
        script: ``module``, or ``classic`` for a site that cannot run modules.
        pictures: Whether to write each background in the sizes that the screens need, as WebP; by
            default for whole pages, and not where the plan has selectors of the site.
        earlier: A folder into which an export was saved before: pictures and looks that are made
            from the same are taken from it.
        jobs: How many processes share the work; see :func:`rising_lantern.check`.
        progress: Called before each step and at the end.

    Raises:
        PlanError: If a page cannot be laid out, or no media query tells two viewports apart.
        RequestError: If the plan has no such page, or the prefix is not one.
    """
    if weight is not None:
        one_of("weight", weight, get_args(Weight))
    one_of("script", script, get_args(ScriptKind))
    text("the prefix", prefix, "lantern")
    file = file_of(plan)
    kept = KeptExport(file, None if earlier is None else Path(earlier))
    work = _ExportWork(file, file.view_names(pages), kept, progress)
    first = list(work.first_looks(jobs))
    looks = {(item.page, item.header): item.look for item in first}
    boxes = [scene.box for scene in work.scenes]
    site = site_of(file, boxes, ExportOptions(prefix, weight, script), looks)
    # A site has pictures of its own.
    prepared = not site.is_attached if pictures is None else pictures
    made = work.renditions(jobs) if prepared else {}
    site = replace(site, renditions=made)
    work.show("Writing")
    files = dict(site.files())
    weights = dict(work.weights(made)) if prepared else {}
    code = dict(pages_in(files))
    early = [name for name, text in code.items() if site.early_script in text]
    head = head_of(next(iter(code.values())))
    support = list(support_of(code_in(files)))
    notes = NotesWriter(site, first, support, weights, head, early)
    settings = settings_on(file, [(scene.box, scene.switches) for scene in work.scenes])
    files[NOTES] = notes.text().encode()
    files[SETTINGS] = markdown(settings, file.title or "the plan").encode()
    files[SETTINGS_CSV] = sheet_text(measured(settings_frame(settings))).encode()
    work.show("Exported", done=True)
    return Export(files, kept.made)


def sheet_writer(plan: HasFile, pages: Names = ()) -> SheetWriter:
    """What writes the style sheet of an export, for those who need its selectors.

    Args:
        plan: The plan.
        pages: The pages that are exported.
    """
    file = file_of(plan)
    boxes = [scene_of(file, *view).box for view in file.view_names(pages)]
    return site_of(file, boxes, ExportOptions()).writer(Assets())


class _ExportWork:
    """The views of an export, and what is computed from them."""

    def __init__(
        self,
        plan: PlanFile,
        names: list[tuple[str, str]],
        kept: KeptExport,
        progress: Progress | None,
    ) -> None:
        self.plan = plan
        self.kept = kept
        self.scenes = [scene_of(plan, *name) for name in names]
        self._progress = progress
        self._steps = 0
        self._pictures = 0  # that are going to be prepared

    def show(self, what: str, *, done: bool = False) -> None:
        """Say what is being done."""
        if self._progress:
            pages = {scene.page for scene in self.scenes}
            count = len(pages) + self._pictures + 2
            self._steps = count if done else min(self._steps + 1, count)
            self._progress(what, self._steps, count)

    # --- looks without a script ------------------------------------------------------------------

    def first_looks(self, jobs: Jobs) -> Iterator[FirstLook]:
        """The look of each header on each page that is best if it never switches.

        Args:
            jobs: Who shares the work.
        """
        screens: dict[tuple[str, str], tuple[tuple[str, ...], list[str]]] = {}
        for scene in self.scenes:
            header = scene.box.header
            if header:
                key = scene.page, header.name
                screens.setdefault(key, (header.look_names, []))[1].append(scene.viewport)
        tasks = {
            (page, screen[0]): FirstLookTask(header, looks, tuple(screen))
            for (page, header), (looks, screen) in screens.items()
        }
        work = [Job(self.plan, *view, task) for view, task in tasks.items()]
        known = [self.kept.first_look(*view, task) for view, task in tasks.items()]
        found = run_unknown(work, known, jobs, self._follow)
        for (view, task), first in zip(tasks.items(), found, strict=True):
            self.kept.keep_look(*view, task, first)
            yield first

    # --- pictures --------------------------------------------------------------------------------

    def renditions(self, jobs: Jobs) -> Renditions:
        """The backgrounds in the sizes that the screens need.

        Args:
            jobs: Who shares the work.
        """
        pictures = self.plan.files.pictures
        needed: dict[tuple[str, str], tuple[float, str]] = {}
        for scene in self.scenes:
            for need in needs_of(scene.box, 1.0, pictures):
                if need.layer is None or not can_be_rendered(pictures[need.picture]):
                    continue
                key = need.picture, need.viewport
                needed[key] = max(needed.get(key, (0.0, "")), (need.enlargement, need.page))
        screens = dict.fromkeys(scene.viewport for scene in self.scenes)
        widest = {item.name for item in screen_ranges(self.plan, screens) if item.high is None}
        tasks = {
            key: RenditionTask(key[0], share_for(enlargement, widest=key[1] in widest))
            for key, (enlargement, _) in needed.items()
        }
        work = [Job(self.plan, page, key[1], tasks[key]) for key, (_, page) in needed.items()]
        known = [self.kept.renditions(key[1], task) for key, task in tasks.items()]
        self._pictures = known.count(None)
        found = run_unknown(work, known, jobs, self._follow)
        result = dict(zip(tasks, found, strict=True))
        for key, made in result.items():
            self.kept.keep_renditions(key[1], tasks[key], made)
        return result

    def _follow(self, what: str, done: int, count: int) -> None:
        """Say what one of several processes is doing."""
        del done, count
        self.show(what)

    def weights(self, made: Renditions) -> Iterator[tuple[tuple[str, str], Weighed]]:
        """What the backgrounds of each page weigh on each viewport."""
        pictures = self.plan.files.pictures
        for scene in self.scenes:
            names = {layer.name for layer in scene.box.layers() if layer.name}
            weighed = weigh(names, scene.viewport, scene.ratio, pictures, made)
            yield (scene.page, scene.viewport), weighed
