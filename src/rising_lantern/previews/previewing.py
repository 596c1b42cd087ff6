"""Previewing a plan: one page in which it is judged, with everything that it shows in it."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from os import PathLike
from pathlib import Path
from typing import Any

from rising_lantern.api.plans import Plan, as_plan
from rising_lantern.base.arguments import Names
from rising_lantern.checks.running import check_scene
from rising_lantern.jobs.job import Job, run_jobs
from rising_lantern.jobs.sharing import Jobs, Progress
from rising_lantern.outputs.files import whole_file
from rising_lantern.plan.files.source_files import SourceFile
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.plan.text.screen_widths import safe_area, width_words
from rising_lantern.previews.document import in_base64, preview_html
from rising_lantern.previews.site_data import site_data
from rising_lantern.previews.view_data import ViewData, slides_data
from rising_lantern.scenes.scene import scene_of

AS_IT_IS = "as it is"


@dataclass(frozen=True, slots=True)
class PreviewTask:
    """What the preview page shows of a page at a viewport.

    Attributes:
        variant: The index of the variant that the plan is.
    """

    variant: int = 0

    def run(self, plan: PlanFile, page: str, viewport: str) -> tuple[int, list[ViewData]]:
        """Return the variant, and its data once with each picture of its slides."""
        scene = scene_of(plan, page, viewport)
        return self.variant, slides_data(scene, check_scene(scene, silenced=True))[0]

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        return f"Drawing {page} on {viewport}"


@dataclass
class PreviewData:
    """What a preview page shows, gathered view by view.

    Attributes:
        plans: The variants of the plan by their names, at least one.
        names: Each page with each viewport.
        with_pages: Whether the exported pages are in it.
    """

    plans: Mapping[str, Plan]
    names: Sequence[tuple[str, str]]
    with_pages: bool = True
    _views: dict[str, Any] = field(default_factory=dict)
    _pictures: dict[str, bytes] = field(default_factory=dict)
    _slides: dict[str, list[tuple[int, str]]] = field(default_factory=dict)

    def add(self, variant: int, views: Iterable[ViewData]) -> None:
        """Take over the data of a view of one of the variants."""
        for item in views:
            data, prefix = item.data, f"{variant}:"
            names = "/".join((data["page"], data["viewport"]))
            self._slides.setdefault(names, [])
            if data["slide"] not in dict(self._slides[names]):
                self._slides[names].append((data["slide"], data["pictured"]))
            self._views[f"{variant}/{names}/{data['slide']}"] = prefixed(data, prefix)
            self._pictures |= {prefix + name: item for name, item in item.pictures.items()}

    def html(self) -> str:
        """The preview page."""
        plan = next(iter(self.plans.values()))
        sites, assets = self._sites() if self.with_pages else ({}, {})
        data = outline(self.plans, self.names) | {
            "slides": self._slides,
            "views": self._views,
            "sites": sites,
            "pictures": in_base64(self._pictures),
            "assets": in_base64(assets),
        }
        return preview_html(plan.title, data)

    def _sites(self) -> tuple[dict[str, Any], dict[str, SourceFile | bytes]]:
        sites: dict[str, Any] = {}
        assets: dict[str, SourceFile | bytes] = {}
        slides = sorted({slide for known in self._slides.values() for slide, _ in known})
        for variant, plan in enumerate(self.plans.values()):
            for slide in slides:
                boxes = [
                    plan.view(page, viewport).showing(slide).scene.box
                    for page, viewport in self.names
                    if slide in {0, *dict(self._slides.get(f"{page}/{viewport}", ()))}
                ]
                made = site_data(plan.file, boxes)
                sites[f"{variant}/{slide}"] = made.data
                assets |= made.assets
        return sites, assets


def prefixed(data: Mapping[str, Any], prefix: str) -> dict[str, Any]:
    """The data of a view with a prefix before the names of all its pictures."""
    result = dict(data) | {"long": prefix + data["long"]}
    for key in ("frames", "closeUps"):
        result[key] = [item | {"picture": prefix + item["picture"]} for item in data[key]]
    return result


def outline(plans: Mapping[str, Plan], names: Sequence[tuple[str, str]]) -> dict[str, Any]:
    """What can be chosen in a preview page.

    Args:
        plans: The variants of the plan by their names, at least one.
        names: Each page with each viewport.
    """
    plan = next(iter(plans.values()))
    document = next(iter(plan.file.documents.values()))
    pages = dict.fromkeys(page for page, _ in names)
    viewports = dict.fromkeys(viewport for _, viewport in names)
    words = width_words(plan.file, plan.viewports)
    return {
        "title": plan.title,
        "pages": [
            {"name": page, "path": ", ".join(document.pages[page].paths_as(page))} for page in pages
        ],
        "viewports": [_viewport(plan, name, words[name]) for name in viewports],
        "variants": list(plans),
    }


def _viewport(plan: Plan, name: str, widths: str) -> dict[str, Any]:
    size = plan.file.viewport(name)
    return {
        "name": name,
        "width": size.width,
        "height": size.height,
        "clientWidth": size.width - size.scrollbar,
        "widths": widths,
        "safeArea": safe_area(plan.file, name),
    }


@dataclass(frozen=True)
class Preview:
    """A preview page.

    Attributes:
        html: The page, which needs nothing beside it.
    """

    html: str = field(repr=False)

    def save(self, path: str | PathLike[str], *, force: bool = False) -> None:
        """Write the page into a file.

        Args:
            path: The file.
            force: Whether to replace a file that Rising Lantern did not write.

        Raises:
            RequestError: If it cannot be written, or would be lost.
        """
        with whole_file(Path(path), force=force) as scratch:
            scratch.write_text(self.html, "utf-8")


def preview(
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    variants: Mapping[str, Plan] | None = None,
    with_pages: bool = True,
    jobs: Jobs = None,
    progress: Progress | None = None,
) -> Preview:
    """Return one page in which a plan is judged: its pages, the long view, and what is found.

    Args:
        plan: The plan.
        pages: The pages to show; by default all.
        viewports: The viewports to show; by default all.
        variants: Other plans to switch to, or to put beside it, by their names.
        with_pages: Whether the exported pages are in it; without them it is light.
        jobs: How many processes share the work; see :func:`rising_lantern.check`.
        progress: Called before each view and at the end.

    Raises:
        PlanError: If a page cannot be laid out.
        RequestError: If a plan has no such page or viewport.
    """
    plans = {AS_IT_IS: as_plan(plan), **(variants or {})}
    names = plan.view_names(pages, viewports)
    work = [
        Job(item.file, *name, PreviewTask(index))
        for index, item in enumerate(plans.values())
        for name in names
    ]
    data = PreviewData(plans, names, with_pages)
    for _, made in run_jobs(work, jobs, progress):
        data.add(*made)
    if progress:
        progress("Drawn", len(work), len(work))
    return Preview(data.html())
