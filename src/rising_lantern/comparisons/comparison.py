"""Comparing variants of a plan, view by view."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from io import BytesIO
from itertools import pairwise
from typing import TYPE_CHECKING

import numpy as np
from PIL import Image

from rising_lantern.api.plans import Plan, as_plan
from rising_lantern.api.views import View
from rising_lantern.base.arguments import Names
from rising_lantern.checks.findings import LEVELS, Finding
from rising_lantern.comparisons.in_time import courses, frames_along
from rising_lantern.css.compositing import Bytes
from rising_lantern.errors import RequestError

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.figure import Figure

    from rising_lantern.report.charts import Variant
    from rising_lantern.report.variants import Column

MOST_VARIANTS = 12
_COLUMNS = 6

Shown = dict[str, list[Bytes]]
"""Frames by the names of the variants."""


@dataclass(frozen=True, repr=False)
class Comparison:
    """Variants of a plan on one page at one viewport.

    Attributes:
        page: The page's name.
        viewport: The viewport's name.
        views: The view of each variant, by the variant's name.
        findings: What ``check`` finds on each, by the same names.
    """

    page: str
    viewport: str
    views: Mapping[str, View]
    findings: Mapping[str, Sequence[Finding]]

    def __repr__(self) -> str:
        return f"Comparison({self.page!r}, {self.viewport!r}, variants={list(self.views)!r})"

    def _repr_html_(self) -> str:
        return str(self.table().to_html())

    def _repr_png_(self) -> bytes:
        buffer = BytesIO()
        self.sheet().save(buffer, "PNG")
        return buffer.getvalue()

    def sheet(self, positions: Sequence[int] | None = None) -> Image.Image:
        """Frames of the variants, a row for each, at the same scroll positions.

        Args:
            positions: The scroll positions in px; by default the top of the page and those at
                which the variants differ most. Where a variant ends before one, it shows its end.

        Raises:
            RequestError: If a position is below zero.
        """
        from rising_lantern.report.variants import VariantRow, sheet  # noqa: PLC0415

        if positions is not None and any(index < 0 for index in positions):
            raise RequestError("a scroll position cannot be below zero")
        same = positions is None and self._same_at_rest
        in_time = self._in_time if same else None
        columns, shown = in_time or self._at_rest(positions)
        said = ("the same at rest",) if same else ()
        rows = [
            VariantRow(name, (*said, *self._words(name)), tuple(shown[name])) for name in self.views
        ]
        first = next(iter(self.views.values()))
        size = first.plan.file.viewport(self.viewport)
        subtitle = f"{self.page} · {self.viewport} {size.width} × {size.height}"
        title = first.plan.file.documents[self.viewport].title or "Untitled plan"
        return sheet(title, subtitle, columns, rows)

    @property
    def differs_in_time_only(self) -> bool:
        """Whether frames are the same at rest, and something in time is not."""
        return self._same_at_rest and self._in_time is not None

    @cached_property
    def _same_at_rest(self) -> bool:
        """Whether frames are the same at every position that is worth looking at."""
        return all(
            _alike([_at(view, column) for view in self.views.values()])
            for column in self._columns(None)
        )

    def _at_rest(self, positions: Sequence[int] | None) -> tuple[list[Column], Shown]:
        """The frames at some positions, or at those at which variants differ most."""
        from rising_lantern.report.variants import telling  # noqa: PLC0415

        columns = self._columns(positions)
        frames = {
            name: [_at(view, column) for column in columns] for name, view in self.views.items()
        }
        if positions is not None:
            return columns, frames
        places = [column.scroll for column in columns]
        chosen = telling(places, list(zip(*frames.values(), strict=True)), _COLUMNS)
        shown = {name: [own[index] for index in chosen] for name, own in frames.items()}
        return [columns[index] for index in chosen], shown

    @cached_property
    def _in_time(self) -> tuple[list[Column], Shown] | None:
        """The frames of the first change in time in which variants differ; None for none."""
        from rising_lantern.report.variants import Column, differing  # noqa: PLC0415

        for course in courses([view.scene for view in self.views.values()]):
            frames = {name: frames_along(view.scene, course) for name, view in self.views.items()}
            chosen = differing(list(zip(*frames.values(), strict=True)), _COLUMNS)
            if chosen:
                reasons = (f"{course.words} at {course.scroll:,} px",)
                columns = [Column(course.scroll, reasons, course.instants[i]) for i in chosen]
                return columns, {name: [own[i] for i in chosen] for name, own in frames.items()}
        return None

    def chart(self) -> Figure:
        """Draw the lowest contrast of any part, and of any text, of all variants in one chart."""
        from rising_lantern.report.charts import Variant, chart_of, draw_variants  # noqa: PLC0415

        variants: list[Variant] = []
        for name, view in self.views.items():
            chart = chart_of(view.scene)
            worst = view.scene.worst_part(chart.scroll), view.scene.worst_text(chart.scroll)
            variants.append(Variant(name, chart, *worst))
        return draw_variants(f"{self.page} on {self.viewport}", variants)

    def table(self) -> pd.DataFrame:
        """The figures of the variants, a row for each.

        Columns: ``errors, warnings, notes``, the counts of findings; ``least_contrast`` of a part
        of the header or a text, ``at_px``, and on how many px of scroll one of them is below its
        limit, ``unreadable_px``; ``switches``, where each look starts; ``max_scroll``.
        """
        import pandas as pd  # noqa: PLC0415 - few calls want a table

        rows = {name: self._figures(name) for name in self.views}
        return pd.DataFrame.from_dict(rows, orient="index").rename_axis("variant")

    def _figures(self, name: str) -> dict[str, object]:
        view = self.views[name]
        counts = Counter(
            finding.level for finding in self.findings[name] if finding.silenced is None
        )
        scroll = view.scene.positions(1.0)
        worst = view.scene.worst(scroll)
        known = np.isfinite(worst.contrast)
        least = int(np.nanargmin(worst.contrast / worst.limit)) if known.any() else 0
        header = view.scene.switches.header if view.scene.switches else None
        steps = view.scene.switches.all_steps[1:] if view.scene.switches else ()
        starts = [
            f"{header.looks[step.look].name} {step.start:.0f}px"
            + (f" going {header.looks[step.look].going}" if header.looks[step.look].going else "")
            for step in steps
            if header is not None
        ]
        return {f"{level}s": counts[level] for level in LEVELS} | {
            "least_contrast": round(float(worst.contrast[least]), 2) if known.any() else np.nan,
            "at_px": int(scroll[least]) if known.any() else np.nan,
            "unreadable_px": int((worst.contrast < worst.limit).sum()),
            "switches": ", ".join(starts) or "-",
            "max_scroll": view.max_scroll,
        }

    def _words(self, name: str) -> Iterator[str]:
        """What is said beside a variant: what is wrong with it, by rule."""
        counts = Counter(
            (finding.level, finding.rule)
            for finding in self.findings[name]
            if finding.silenced is None
        )
        if not counts:
            yield "nothing found"
        for level in LEVELS:
            for (of, rule), count in counts.items():
                if of == level:
                    yield f"{level}: {rule}" + (f" × {count}" if count > 1 else "")

    def _columns(self, positions: Sequence[int] | None) -> list[Column]:
        """Some positions, or all that are worth looking at in any of the variants."""
        from rising_lantern.report.variants import Column  # noqa: PLC0415

        if positions:
            return [Column(place, ()) for place in positions]
        reasons: dict[int, tuple[str, ...]] = {}
        for view in self.views.values():
            for stop in view.stops():
                reasons.setdefault(stop.scroll_px, stop.reasons)
        for item, other in pairwise(sorted(reasons)):
            reasons.setdefault((item + other) // 2, ())
        return [Column(place, reasons[place]) for place in sorted(reasons)]


def _at(view: View, column: Column) -> Bytes:
    """The frame of a variant in a column; the end of one that ends before it."""
    return view.pixels(min(column.scroll, view.max_scroll))


def _alike(frames: Sequence[Bytes]) -> bool:
    """Whether all frames are the same."""
    return all(np.array_equal(frames[0], frame) for frame in frames[1:])


def compare(
    plans: Mapping[str, Plan], pages: Names = (), viewports: Names = ()
) -> Iterator[Comparison]:
    """Put plans side by side, for each page and viewport that all of them have.

    Args:
        plans: At least two, by the names to show.
        pages: The pages to compare; by default all of the first plan's.
        viewports: The viewports to compare; by default all.

    Raises:
        RequestError: If there are too few plans or too many, or one of them lacks a page or
            viewport.
    """
    chosen = checked_variants(plans).view_names(pages, viewports)
    return _compare_view(plans, chosen)


def _compare_view(
    plans: Mapping[str, Plan], chosen: Iterable[tuple[str, str]]
) -> Iterator[Comparison]:
    for page, viewport in chosen:
        views = {name: plan.view(page, viewport) for name, plan in plans.items()}
        findings = {name: view.check(silenced=True) for name, view in views.items()}
        yield Comparison(page, viewport, views, findings)


def checked_variants(plans: Mapping[str, Plan]) -> Plan:
    """The first of some plans that are compared.

    Raises:
        RequestError: If there are too few, or too many.
    """
    if not isinstance(plans, Mapping):
        raise RequestError(
            "plans must be a mapping from names to plans: {'current': plan, 'slower': other}"
        )
    if not 2 <= len(plans) <= MOST_VARIANTS:  # noqa: PLR2004
        raise RequestError(f"compare 2 to {MOST_VARIANTS} variants, not {len(plans)}")
    for plan in plans.values():
        as_plan(plan)
    return next(iter(plans.values()))
