"""What Python code calls: read a plan, take its views, and check it."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, replace
from os import PathLike
from typing import TYPE_CHECKING

from rising_lantern.api.views import View
from rising_lantern.base import arguments
from rising_lantern.base.arguments import Names, Value, texts
from rising_lantern.base.notebook import html_table
from rising_lantern.errors import Fault, RequestError, quoted
from rising_lantern.exports.settings import settings_on
from rising_lantern.exports.settings_tables import settings_frame
from rising_lantern.exports.support import Support
from rising_lantern.layout.needs import Need, greatest, needs_of
from rising_lantern.plan.edits.drafts import Draft
from rising_lantern.plan.edits.edits import Edit, Set, edited
from rising_lantern.plan.text.reading import PlanFile, plan_from, read_plan
from rising_lantern.plan.text.remarks import unused_remark
from rising_lantern.plan.text.screen_widths import width_words
from rising_lantern.plan.text.set_values import existing_path

if TYPE_CHECKING:
    import pandas as pd


@dataclass(frozen=True, slots=True)
class Plan:
    """A plan that has been read and has no faults. Plans are equal if they say the same.

    Attributes:
        file: What was read: the documents for each viewport, and their places in the file.
    """

    file: PlanFile

    def __repr__(self) -> str:
        return f"Plan({quoted(self.file.name)})"

    def _repr_html_(self) -> str:
        heads = ["page", *self.viewports]
        rows = [
            (page, *(self._size(viewport) for viewport in self.viewports)) for page in self.pages
        ]
        return html_table(self.title or self.file.name, rows, heads)

    def _size(self, viewport: str) -> str:
        size = self.file.viewport(viewport)
        return f"{size.width} x {size.height}"

    @property
    def title(self) -> str:
        """The plan's title."""
        return self.file.title

    @property
    def viewports(self) -> tuple[str, ...]:
        """The names of its viewports, in the order of the file."""
        return tuple(self.file.documents)

    @property
    def pages(self) -> tuple[str, ...]:
        """The names of its pages, in the order of the file."""
        return self.file.pages

    @property
    def remarks(self) -> tuple[Fault, ...]:
        """What is probably not intended, such as a colour that nothing uses."""
        return self.file.remarks

    def unused_pictures(self) -> tuple[Fault, ...]:
        """A remark on the pictures beside the plan's own that no plan in its folder names."""
        return unused_remark(self.file.name, self.file.files)

    def replace(self, values: Mapping[str, Value]) -> Plan:
        """Return the plan with some values replaced; this one stays as it is.

        Args:
            values: Texts, written as in the file, or numbers, by the path of what they replace:
                ``{"headers.main.looks.solid.from": "180px"}``. Indices of lists count from 0;
                ``new`` is a new entry in front of the others.

        Raises:
            PlanError: If a path does not exist, or the plan would have faults.
        """
        return Plan(self.file.with_values(texts(values)))

    def with_bars(self) -> Plan:
        """Return the plan as it is while the bars of browsers are shown that come and go.

        Viewports with a ``bar`` are lower by it; the others are as they were.
        """
        return Plan(replace(self.file, bars_shown=True))

    def apply(self, *edits: Edit) -> Plan:
        """Return the plan with some edits made in its text; nothing is written.

        Args:
            edits: What to do, the first first: a fix of :func:`tune`, or any of ``rl.Set``,
                ``rl.Add``, ``rl.Remove``, ``rl.Duplicate``, ``rl.Move`` and ``rl.Rename``.

        Raises:
            PlanError: If a path does not exist, or the plan would have faults.
            RequestError: If an edit cannot be made where it is to be.
        """
        draft, _ = edited(self._draft(), edits)
        return Plan(draft.read())

    def edited_text(self, edits: Edit | Iterable[Edit]) -> str:
        """Return the text of the plan's file with some edits made in it; nothing is written.

        Comments, order and layout stay as they are. Values that the plan was read with, or that
        were replaced in it since, are in it.

        Args:
            edits: One edit, or several; as in :meth:`apply`.

        Raises:
            PlanError: If a path does not exist, or the plan would have faults.
            RequestError: If an edit cannot be made where it is to be.
        """
        several = edits if isinstance(edits, Iterable) else (edits,)
        draft, _ = edited(self._draft(), several)
        draft.read()
        return draft.text

    def _draft(self) -> Draft:
        """The text of its file, with the values that were replaced in it."""
        file = self.file
        draft = Draft(file.text, file.name, file.path)
        return edited(draft, [Set(*pair) for pair in file.values.items()])[0]  # noqa: PD011

    def settings(self, pages: Names = (), viewports: Names = ()) -> pd.DataFrame:
        """Return the settings one by one, for the dialogs of a site editor.

        Columns: ``page, thing, state, setting``, and one for each viewport with the value there.

        Args:
            pages: The pages to include; by default all.
            viewports: The viewports to include; by default all.

        Raises:
            PlanError: If a page cannot be laid out.
            RequestError: If the plan has no such page or viewport.
        """
        views = [(view.scene.box, view.scene.switches) for view in self.views(pages, viewports)]
        return settings_frame(settings_on(self.file, views))

    def browser_support(self, pages: Names = ()) -> list[Support]:
        """Return the features that the export uses, with the browsers that have them.

        Args:
            pages: The pages to include; by default all.

        Raises:
            PlanError: If a page cannot be laid out.
            RequestError: If the plan has no such page.
        """
        from rising_lantern.report.browsers import support_for  # noqa: PLC0415

        return support_for(self.file, [view.scene.box for view in self.views(pages)])

    def path_of(self, key: str) -> tuple[str | int, ...]:
        """Return the path of a value as keys and indices.

        Args:
            key: As ``--set`` takes it: ``headers.main.looks.solid.from``.

        Raises:
            RequestError: If the plan has no such value.
        """
        example = "headers.main.height"
        return existing_path(self.file.root, arguments.text("a path", key, example))

    def view(self, page: str | None = None, viewport: str | None = None) -> View:
        """Return one page at one viewport.

        Args:
            page: The page's name; by default the first.
            viewport: The viewport's name; by default the first.

        Raises:
            RequestError: If the plan has no such page or viewport.
            PlanError: If the page cannot be laid out on that viewport.
        """
        page = self.pages[0] if page is None else self.page_names([page])[0]
        viewport = self.viewports[0] if viewport is None else self.viewport_names([viewport])[0]
        return View(self, page, viewport)

    def views(self, pages: Names = (), viewports: Names = ()) -> Iterator[View]:
        """Yield every page at every viewport, or those that are named.

        Raises:
            RequestError: If the plan has no such page or viewport.
        """
        for page, viewport in self.view_names(pages, viewports):
            yield self.view(page, viewport)

    def alike_views(
        self, pages: Names = (), viewports: Names = ()
    ) -> dict[tuple[str, str], tuple[str, ...]]:
        """Return pages at viewports, each with the pages that are the same there.

        Pages are the same where they differ in their names, paths and titles only, and get the
        same header; of these the first stands for all.

        Raises:
            RequestError: If the plan has no such page or viewport.
        """
        groups: dict[tuple[str, object], tuple[str, list[str]]] = {}
        for page, viewport in self.view_names(pages, viewports):
            own = viewport, self.file.documents[viewport].what_shows(page, viewport)
            groups.setdefault(own, (page, []))[1].append(page)
        return {(first, own[0]): tuple(alike[1:]) for own, (first, alike) in groups.items()}

    def view_names(self, pages: Names = (), viewports: Names = ()) -> list[tuple[str, str]]:
        """Return every page with every viewport, or those that are named; each once.

        Raises:
            RequestError: If the plan has no such page or viewport.
        """
        return self.file.view_names(pages, viewports)

    def page_names(self, pages: Names = ()) -> list[str]:
        """Return the pages that are named, by their names or paths, each once, or all if none is.

        Raises:
            RequestError: If the plan has no such page.
        """
        return self.file.page_names(pages)

    def viewport_names(self, viewports: Names = ()) -> list[str]:
        """Return the viewports that are named, each once, or all if none is.

        Raises:
            RequestError: If the plan has no such viewport.
        """
        return self.file.viewport_names(viewports)

    def screen_table(self, viewports: Names = ()) -> pd.DataFrame:
        """Return the viewports with the widths that they stand for, a row for each.

        Columns: ``viewport, width, height, ratio, widths``; the last says in words on which screens
        an exported page has its values, such as ``820 to 1279 px``.

        Args:
            viewports: The viewports to include; by default all.

        Raises:
            RequestError: If the plan has no such viewport.
        """
        import pandas as pd  # noqa: PLC0415 - few calls need a table

        words = width_words(self.file, self.viewports)
        sizes = {name: self.file.viewport(name) for name in self.viewport_names(viewports)}
        rows = [
            (name, size.width, size.height, size.ratio, words[name]) for name, size in sizes.items()
        ]
        return pd.DataFrame(rows, columns=["viewport", "width", "height", "ratio", "widths"])

    def picture_table(self, pages: Names = (), viewports: Names = ()) -> pd.DataFrame:
        """Return the pixels that each picture needs, a row for each picture and viewport.

        Columns: ``picture, width, height, viewport, needs_width, needs_height, enlargement,
        waste, page, place, focus_seen``. Needs are device pixels, at the place that demands most;
        an enlargement above 1 is soft. Pictures need as many as ``sharpness`` of the plan's limits
        allows, two for each CSS px by default, and videos one. ``waste`` is the share of its
        pixels that no screen shows.
        ``focus_seen`` is the greatest share of its focus that is seen there at once, 0 to 1, and
        NaN where it has none.

        Args:
            pages: The pages to include; by default all.
            viewports: The viewports to include; by default all.
        """
        import pandas as pd  # noqa: PLC0415 - few calls need a table

        needs: list[Need] = []
        seen: dict[tuple[str, str, str | None, int | None], float] = {}
        for view in self.views(pages, viewports):
            for slide in view.scene.slides():
                needs += needs_of(slide.box, slide.sharpness, self.file.files.pictures)
                seen |= {(view.page, view.viewport, *key): most for key, most in slide.focuses()}
        rows = [
            (
                *(need.picture, *need.pixels, need.viewport, *need.needed),
                *(need.enlargement, need.waste, need.page, need.place),
                seen.get((need.page, need.viewport, need.section, need.layer), math.nan),
            )
            for need in greatest(needs)
        ]
        columns = ["picture", "width", "height", "viewport", "needs_width", "needs_height"]
        table = pd.DataFrame(
            rows, columns=[*columns, "enlargement", "waste", "page", "place", "focus_seen"]
        )
        return table.sort_values(["picture"], kind="stable", ignore_index=True)

    def switch_table(self, pages: Names = (), viewports: Names = ()) -> pd.DataFrame:
        """Return where each look starts, a row for each page, viewport and start.

        Columns: ``page, header, viewport, look, start_px, back_px, blend_px, max_scroll, going``.
        The look at the top of the page starts at minus infinity; one that starts beyond
        ``max_scroll`` is never reached. ``going`` is the way in which a reader has to scroll for
        a look, and empty where it is any. A viewport with a ``bar`` is there twice: as ``phone``,
        and as ``phone, bar shown``.

        Args:
            pages: The pages to include; by default all.
            viewports: The viewports to include; by default all.
        """
        import pandas as pd  # noqa: PLC0415 - few calls need a table

        rows = [
            (
                *(view.page, view.scene.switches.header.name, _screen_words(view)),
                *(view.scene.switches.look_of(index).name, step.start, step.back, step.blend),
                view.max_scroll,
                view.scene.switches.look_of(index).going or "",
            )
            for view in self._with_and_without_bars(pages, viewports)
            if view.scene.switches
            for index, step in enumerate(view.scene.switches.all_steps)
        ]
        columns = ["page", "header", "viewport", "look", "start_px", "back_px", "blend_px"]
        return pd.DataFrame(rows, columns=[*columns, "max_scroll", "going"])

    def _with_and_without_bars(self, pages: Names, viewports: Names) -> Iterator[View]:
        """Views, and after each of a viewport with a bar that with the bar shown."""
        for view in self.views(pages, viewports):
            yield view
            if self.file.hides_bar(view.viewport):
                yield self.with_bars().view(view.page, view.viewport)

    def header_table(self, pages: Names = (), viewports: Names = ()) -> pd.DataFrame:
        """Return the header that each page gets: a row for each page, a column for each viewport.

        Where several apply, the first is followed by the others in brackets; where none does, the
        cell is a dash. The name of a page with several paths is followed by these.

        Args:
            pages: The pages to include; by default all.
            viewports: The viewports to include; by default all.
        """
        import pandas as pd  # noqa: PLC0415 - few calls need a table

        chosen = self.page_names(pages)
        cells = {
            viewport: [
                _header_cell(self.file.documents[viewport].headers_on(page, viewport))
                for page in chosen
            ]
            for viewport in self.viewport_names(viewports)
        }
        pages = next(iter(self.file.documents.values())).pages
        named = [" ".join((page, *pages[page].paths)) for page in chosen]
        return pd.DataFrame(cells, index=pd.Index(named, name="page"))


def _screen_words(view: View) -> str:
    """The name of a view's viewport, and whether a browser's bar is shown there."""
    return f"{view.viewport}, bar shown" if view.scene.box.screen.bar_shown else view.viewport


def _header_cell(applying: list[str]) -> str:
    if not applying:
        return "-"
    others = f" ({', '.join(applying[1:])})" if applying[1:] else ""
    return applying[0] + others


def read_text(
    text: str | bytes,
    folder: str | PathLike[str] = ".",
    name: str = "<text>",
    values: Mapping[str, Value] | None = None,
) -> Plan:
    """Read a plan from text in YAML or JSON.

    Args:
        text: The text, or its bytes in UTF-8.
        folder: The folder in which its pictures are looked for.
        name: What to call it in messages.
        values: Values to replace in it before it is checked; see :meth:`Plan.replace`.

    Raises:
        PlanError: With all faults of the plan, each with its place.
        RequestError: If something else is given.
    """
    if not isinstance(text, str | bytes):
        raise RequestError(f"{arguments.given(text)} is not the text of a plan; write YAML or JSON")
    data = text.encode("utf-8", "surrogatepass") if isinstance(text, str) else text
    place = arguments.path(folder) / "plan.yaml"
    return Plan(plan_from(data, place, name, texts({} if values is None else values)))


def read(path: str | PathLike[str], values: Mapping[str, Value] | None = None) -> Plan:
    """Read a plan from a YAML or JSON file.

    Args:
        path: The file. Its pictures are looked for in its folder.
        values: Values to replace in it before it is checked; see :meth:`Plan.replace`.

    Raises:
        PlanError: With all faults of the plan, each with its place.
        RequestError: If something else is given.
    """
    return Plan(read_plan(arguments.path(path), texts({} if values is None else values)))


def as_plan(value: object) -> Plan:
    """A plan that is given to a call.

    Raises:
        RequestError: If it is anything else.
    """
    if not isinstance(value, Plan):
        raise RequestError(
            f"{arguments.given(value)} is not a plan; write rising_lantern.read('plan.yaml')"
        )
    return value
