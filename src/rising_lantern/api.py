"""What Python code calls: read a plan, and take its views."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from os import PathLike
from pathlib import Path
from typing import TYPE_CHECKING

from rising_lantern.arguments import Value, names, texts
from rising_lantern.errors import Fault, RequestError, listed, quoted
from rising_lantern.plan.text.reading import PlanFile, read_plan

if TYPE_CHECKING:
    import pandas as pd

    from rising_lantern.checks.findings import Finding
    from rising_lantern.plan.models.limits import Contrast
    from rising_lantern.view import View


Names = str | tuple[str, ...]
"""One name, or several."""


class Plan:
    """A plan that has been read and found in order.

    Attributes:
        file: What was read: the documents for each viewport, and their places in the file.
    """

    def __init__(self, file: PlanFile) -> None:
        self.file = file

    def __repr__(self) -> str:
        return f"Plan({quoted(self.file.name)})"

    @property
    def title(self) -> str:
        """The plan's title."""
        return next(iter(self.file.documents.values())).title

    @property
    def viewports(self) -> tuple[str, ...]:
        """The names of its viewports, in the order of the file."""
        return tuple(self.file.documents)

    @property
    def pages(self) -> tuple[str, ...]:
        """The names of its pages, in the order of the file."""
        return tuple(next(iter(self.file.documents.values())).pages)

    @property
    def remarks(self) -> tuple[Fault, ...]:
        """What is not wrong with it, but probably not meant: what nothing uses, for example."""
        return self.file.remarks

    def unused(self) -> tuple[Fault, ...]:
        """A remark on the pictures beside the plan's own that no plan in its folder names."""
        from rising_lantern.plan.text.remarks import unused_remark  # noqa: PLC0415 - it reads a folder

        return unused_remark(self.file.name, self.file.files)

    def with_(self, values: Mapping[str, Value]) -> Plan:
        """The plan with some values set; this one stays as it is.

        Args:
            values: Texts, written as in the file, or numbers, by the path of what they replace:
                ``{"headers.main.looks.solid.from": "300px"}``. Places in lists count from 0.

        Raises:
            PlanError: Where a path leads nowhere, or the plan would not be in order.
        """
        return Plan(self.file.with_values(texts(values)))

    def text_with(self, values: Mapping[str, Value]) -> str:
        """The text of the plan's file with some values set; nothing is written.

        Comments, order and formatting stay as they are. Values that the plan was read with, or
        that were set in it since, are in it.

        Args:
            values: As in :meth:`with_`.

        Raises:
            PlanError: Where a path leads nowhere, or the plan would not be in order.
        """
        from rising_lantern.plan.text.writing import changed_text  # noqa: PLC0415 - few calls write

        changed = self.with_(values).file
        return changed_text(changed.text, changed.name, changed.values)

    def path_of(self, key: str) -> tuple[str | int, ...]:
        """The path of a value as keys and places in lists.

        Args:
            key: As ``--set`` takes it: ``headers.main.looks.solid.from``.

        Raises:
            RequestError: Where the plan has no such value.
        """
        node, path = self.file.root, list[str | int]()
        for word in key.split("."):
            in_list = isinstance(node.value, list) and word.isdigit()
            name: str | int = int(word) if in_list else word
            child = node.child(name)
            if child is None:
                known = ", ".join(map(str, node.value)) if isinstance(node.value, dict) else ""
                where = ".".join(map(str, path)) or "the plan"
                remedy = f"; there are: {known}" if known else ""
                raise RequestError(f"{where} has no {quoted(word)}{remedy}")
            path.append(name)
            node = child
        return tuple(path)

    def view(self, page: str | None = None, viewport: str | None = None) -> View:
        """One page at one viewport.

        Args:
            page: The page's name; by default the first.
            viewport: The viewport's name; by default the first.

        Raises:
            RequestError: Where the plan has no such page or viewport.
            PlanError: Where the page cannot be laid out on that viewport.
        """
        from rising_lantern.view import View  # noqa: PLC0415 - reading a plan needs no arrays

        page = self._known("page", page, self.pages)
        viewport = self._known("viewport", viewport, self.viewports)
        return View(self.file, page, viewport)

    def views(self, pages: Names = (), viewports: Names = ()) -> Iterator[View]:
        """Every page at every viewport, or those that are named.

        Raises:
            RequestError: Where the plan has no such page or viewport.
        """
        for page, viewport in self.named(pages, viewports):
            yield self.view(page, viewport)

    def named(self, pages: Names = (), viewports: Names = ()) -> list[tuple[str, str]]:
        """Every page with every viewport, or those that are named; each once.

        Raises:
            RequestError: Where the plan has no such page or viewport.
        """
        return [
            (page, viewport)
            for page in self._chosen("page", pages, self.pages)
            for viewport in self.chosen(viewports)
        ]

    def pictures(self, pages: Names = (), viewports: Names = ()) -> pd.DataFrame:
        """The pixels that each picture needs, a row for each picture and viewport.

        Columns: ``picture, width, height, viewport, needs_width, needs_height, enlargement,
        waste, page, place``. Needs are device pixels, at the place that asks most; an
        enlargement above 1 is soft, and waste is the share of its pixels that no screen shows.

        Args:
            pages: Those to look at; by default all.
            viewports: The same.
        """
        import pandas as pd  # noqa: PLC0415 - few calls want a table

        from rising_lantern.layout.needs import greatest, needs_of  # noqa: PLC0415

        needs = [
            need
            for view in self.views(pages, viewports)
            for slide in view.slides()
            for need in needs_of(slide.box, slide.ratio, self.file.files.pictures)
        ]
        rows = [
            (
                *(need.picture, *need.pixels, need.viewport, *need.needed),
                *(need.enlargement, need.waste, need.page, need.place),
            )
            for need in greatest(needs)
        ]
        columns = ["picture", "width", "height", "viewport", "needs_width", "needs_height"]
        table = pd.DataFrame(rows, columns=[*columns, "enlargement", "waste", "page", "place"])
        return table.sort_values(["picture"], kind="stable", ignore_index=True)

    def switches(self, pages: Names = (), viewports: Names = ()) -> pd.DataFrame:
        """Where each look starts, a row for each page, viewport and start.

        Columns: ``page, header, viewport, look, start_px, back_px, blend_px, max_scroll``. The
        look that is worn at the top starts at minus infinity; one that starts beyond
        ``max_scroll`` is never reached.

        Args:
            pages: Those to look at; by default all.
            viewports: The same.
        """
        import pandas as pd  # noqa: PLC0415 - few calls want a table

        rows = [
            (
                *(view.page, view.switches.header.name, view.viewport),
                *(view.switches.header.looks[step.look], step.start, step.back, step.blend),
                view.max_scroll,
            )
            for view in self.views(pages, viewports)
            if view.switches
            for step in view.switches.steps
        ]
        columns = ["page", "header", "viewport", "look", "start_px", "back_px", "blend_px"]
        return pd.DataFrame(rows, columns=[*columns, "max_scroll"])

    def headers(self, pages: Names = (), viewports: Names = ()) -> pd.DataFrame:
        """The header that each page gets: a row for each page, a column for each viewport.

        Where several apply, the first is followed by the others in brackets; where none does, the
        cell is a dash. No page is laid out for it.

        Args:
            pages: Those to look at; by default all.
            viewports: The same.
        """
        import pandas as pd  # noqa: PLC0415 - few calls want a table

        chosen = self._chosen("page", pages, self.pages)
        cells = {
            viewport: [
                _header_cell(self.file.documents[viewport].headers_on(page, viewport))
                for page in chosen
            ]
            for viewport in self.chosen(viewports)
        }
        return pd.DataFrame(cells, index=pd.Index(chosen, name="page"))

    def chosen(self, viewports: Names) -> list[str]:
        """The viewports that are named, or all where none is.

        Raises:
            RequestError: Where the plan has no such viewport.
        """
        return self._chosen("viewport", viewports, self.viewports)

    def _chosen(self, kind: str, wanted: Names, known: tuple[str, ...]) -> list[str]:
        return [self._known(kind, name, known) for name in dict.fromkeys(names(wanted)) or known]

    @staticmethod
    def _known(kind: str, name: str | None, known: tuple[str, ...]) -> str:
        if name is None:
            return known[0]
        if name not in known:
            raise RequestError(f"the plan has no {kind} {quoted(name)}; it has: {listed(known)}")
        return name


def _header_cell(names: list[str]) -> str:
    if not names:
        return "-"
    others = f" ({', '.join(names[1:])})" if names[1:] else ""
    return names[0] + others


def check(
    plan: Plan,
    pages: Names = (),
    viewports: Names = (),
    *,
    only: Names = (),
    without: Names = (),
    contrast: Contrast | None = None,
    silenced: bool = False,
) -> list[Finding]:
    """What is measured to be wrong with a plan: where, by how much, and what fixes it.

    Args:
        plan: The plan.
        pages: Those to look at; by default all.
        viewports: The same.
        only: The rules to go by; by default all.
        without: Rules to leave out.
        contrast: The level of WCAG 2.2 to go by, ``AA`` or ``AAA``; by default the plan's.
        silenced: Whether findings that the plan silences are told as well.

    Raises:
        PlanError: Where a page cannot be laid out, or the plan silences a rule that is not there.
        RequestError: Where the plan has no such page or viewport, or there is no such rule.
    """
    return [
        finding
        for view in plan.views(pages, viewports)
        for finding in view.check(names(only), names(without), contrast)
        if silenced or finding.silenced is None
    ]


def read(path: str | PathLike[str], values: Mapping[str, Value] | None = None) -> Plan:
    """Read a plan from a YAML or JSON file.

    Args:
        path: The file. Its pictures are looked for in its folder.
        values: Values to set in it before it is checked; see :meth:`Plan.with_`.

    Raises:
        PlanError: With all of the plan's faults, each with its place.
    """
    return Plan(read_plan(Path(path), texts(values or {})))
