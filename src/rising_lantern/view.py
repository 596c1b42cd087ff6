"""A view: one page at one viewport, laid out, sampled and drawn."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Literal

import numpy as np

from rising_lantern.arguments import number, one_of
from rising_lantern.errors import RequestError, quoted
from rising_lantern.layout.pages import PageBox, lay_out_page
from rising_lantern.plan.text.nodes import Key
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scroll.moments import Moment, Sweep, sweep
from rising_lantern.scroll.stops import MOST_FRAMES, Stop, fewer, stops_of
from rising_lantern.scroll.switches import Going, switches_of

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes
    from PIL import Image

    from rising_lantern.checks.findings import Checked, Finding
    from rising_lantern.css.compositing import Bytes
    from rising_lantern.legibility.readings import Reading
    from rising_lantern.paint.frames import Painter
    from rising_lantern.plan.models.limits import Contrast
    from rising_lantern.report.animation import Form
    from rising_lantern.report.filmstrip import Band
    from rising_lantern.report.panels import Chart, Curve
    from rising_lantern.report.preview import Previewed


_CHARTED = 1200  # positions that a chart has room for
_MOST_ROWS = 5_000_000  # of a table of layers
_MOST_POSITIONS = 1_000_000  # in a table: every px of the longest page


class View:
    """One page of a plan at one viewport.

    Scroll positions are CSS px from the top of the page, 0 to ``max_scroll``.

    Attributes:
        plan: The plan that it belongs to.
        page: The page's name.
        viewport: The viewport's name.
        number: Which picture layers with several show, counted round.
        box: The page as it is laid out.
    """

    def __init__(self, plan: PlanFile, page: str, viewport: str, showing: int = 0) -> None:
        self.plan = plan
        self.page = page
        self.viewport = viewport
        self.number = showing
        self.box: PageBox = lay_out_page(plan, page, viewport, showing)
        self.switches = switches_of(self.box, plan)
        self._kept: dict[str, np.ndarray] | None = None

    def __repr__(self) -> str:
        return f"View(page={quoted(self.page)}, viewport={quoted(self.viewport)})"

    def __reduce__(self) -> tuple[type[View], tuple[PlanFile, str, str, int]]:
        # A copy lays the page out anew, and paints for itself.
        return View, (self.plan, self.page, self.viewport, self.number)

    def slides(self) -> tuple[View, ...]:
        """The view once with each picture of its slides showing; itself where it has none."""
        firsts = {0}
        for layer in self.box.layers():
            count = 0
            for name in layer.entry.pictures:
                firsts.add(count)
                count += self.plan.files.pictures[name].frames
        return tuple(self.showing(number) for number in sorted(firsts))

    def showing(self, number: int) -> View:
        """The view with other pictures of its slides and animations showing.

        Args:
            number: Which picture each layer with several shows, counted round, the first 0.
        """
        if number == self.number:
            return self
        return View(self.plan, self.page, self.viewport, number)

    @property
    def ratio(self) -> float:
        """Device pixels per CSS px."""
        return self.plan.viewport(self.viewport).ratio

    @property
    def max_scroll(self) -> int:
        """The last scroll position that a reader reaches, in CSS px."""
        return self.switches.max_scroll if self.switches else self.box.flow.ends(0)

    def sweep(self, scroll: Sequence[float] | np.ndarray, going: Going = "down") -> Sweep:
        """The state of the view at many scroll positions, computed at once.

        Args:
            scroll: Positions in CSS px.
            going: Whether the reader came from the top or from the end of the page: a look may
                be given up further up than it starts.

        Raises:
            RequestError: Where a position is no number or lies outside the page.
        """
        one_of("going", going, ("down", "up"))
        positions = np.asarray(scroll, dtype=np.float64).reshape(-1)
        if not np.isfinite(positions).all():
            raise RequestError("a scroll position has to be a finite number")
        if positions.size and not (positions.min() >= 0 and positions.max() <= self.max_scroll):
            raise RequestError(
                f"{self.page} at {self.viewport} scrolls from 0 to {self.max_scroll} px"
            )
        return sweep(self.box, self.switches, positions, going)

    def at(self, scroll: float, going: Going = "down") -> Moment:
        """The moment at a scroll position; see :meth:`sweep` for its arguments and errors."""
        return self.sweep([number("a scroll position", scroll)], going).moment(0)

    def trace(
        self, step: float = 1.0, of: Literal["header", "layers"] = "header", going: Going = "down"
    ) -> pd.DataFrame:
        """The moments as a table, from the top of the page to its end.

        Args:
            step: From one position to the next, in CSS px; the end is always there.
            of: The header, a row for each position, or the layers, a row for each of them.
            going: As in :meth:`sweep`.

        Raises:
            RequestError: Where the step is not above zero, or the table would be too large.
        """
        from rising_lantern.scroll.traces import header_trace, layer_trace  # noqa: PLC0415

        one_of("of", of, ("header", "layers"))
        positions = self.positions(step)
        if of == "layers":
            rows = len(positions) * sum(1 for _ in self.box.layers())
            larger = math.ceil(step * rows / _MOST_ROWS)
            _refuse_large(rows, f": take a step of {larger} px or more")
        swept = self.sweep(positions, going)
        if of == "layers":
            return layer_trace(swept)
        return header_trace(swept, self._contrast(swept))

    def play(self, gesture: str | Sequence[tuple[float, float]]) -> pd.DataFrame:
        """What a reader sees while scrolling in time, 60 times a second, as a table.

        The columns of the header's :meth:`trace`, and ``time_s``. Fades, texts that arrive and
        blends that lag are only seen here.

        Args:
            gesture: ``reading``, ``wheel``, ``flick``, ``page-down`` or ``jump``, which go from
                the top to the end; ``jump SECTION``; or pairs of (seconds, px).

        Raises:
            RequestError: Where there is no such gesture or section, or pairs make no path.
        """
        from rising_lantern.scroll.traces import header_trace  # noqa: PLC0415

        seconds, swept = self.played(gesture)
        table = header_trace(swept, self._contrast(swept))
        if not table.empty:
            table["time_s"] = seconds
        return table

    def played(self, gesture: str | Sequence[tuple[float, float]]) -> tuple[np.ndarray, Sweep]:
        """The instants of a gesture in seconds, and the view at each; see :meth:`play`."""
        from rising_lantern.scroll.gestures import named_gesture, recorded_gesture  # noqa: PLC0415
        from rising_lantern.scroll.playing import play  # noqa: PLC0415

        if not isinstance(gesture, str):
            made = recorded_gesture(gesture, self.max_scroll)
        elif gesture.startswith("jump "):
            made = recorded_gesture(self._jump(gesture.removeprefix("jump ")), self.max_scroll)
        else:
            made = named_gesture(gesture, self.max_scroll, self.box.screen.height)
        return made.seconds, play(self.box, self.switches, made)

    def animation(
        self, gesture: str | Sequence[tuple[float, float]], path: Path, form: Form = "webp"
    ) -> None:
        """Write what a reader sees during a gesture as a moving picture; see :meth:`play`.

        Args:
            gesture: The gesture.
            path: The file.
            form: ``webp``, ``gif`` or ``mp4``.

        Raises:
            RequestError: As in :meth:`play`, or for an MP4 without the package for it.
        """
        from rising_lantern.report.animation import FORMS, RATE, write_animation  # noqa: PLC0415
        from rising_lantern.scroll.gestures import RATE as SCREEN  # noqa: PLC0415

        one_of("form", form, FORMS)
        seconds, swept = self.played(gesture)
        shown = range(0, len(seconds), SCREEN // RATE)
        write_animation((self._painter.frame(swept, place) for place in shown), path, form)

    def _jump(self, name: str) -> list[tuple[float, float]]:
        """To the upper edge of a section, as a link does: half a second, then a second there."""
        section = self.box.section(name)
        if section is None:
            known = ", ".join(one.name for one in self.box.sections)
            raise RequestError(
                f"the page {quoted(self.page)} has no section {quoted(name)}; it has: {known}"
            )
        top = section.top + self.box.flow.room(0)
        return [(0.0, 0.0), (0.5, 0.0), (0.5, top), (1.5, top)]

    def readability(
        self, going: Going = "down", of: Literal["header", "content"] = "header"
    ) -> pd.DataFrame:
        """How well each part of the header, or each text, can be read at every px of scroll.

        Columns: ``part, look, scroll_px, contrast, median`` for the header, and ``section,
        content, scroll_px, contrast, median`` for the texts that stand over sections, ``content``
        their place in the plan. The contrast is the WCAG 2.2 ratio that 95 % of the pixels really
        behind it reach; where it is not on the screen there is no number.

        Args:
            going: As in :meth:`sweep`.
            of: The header's parts, or the texts.

        Raises:
            RequestError: Where the table would be too large.
        """
        from rising_lantern.legibility.tables import content_table, header_table  # noqa: PLC0415

        one_of("of", of, ("header", "content"))
        swept = self.sweep(self.positions(1.0), going)
        if of == "content":
            texts = sum(len(section.content) for section in self.box.sections)
            _refuse_large(texts * len(swept))
            return content_table(swept, self._texts(swept))
        return header_table(swept, self._readings(swept))

    def checked(
        self,
        contrast: Contrast | None = None,
        focus: frozenset[tuple[Key, ...]] | None = None,
    ) -> Iterator[Checked]:
        """The view as rules look at it: once with each picture of its slides showing.

        Args:
            contrast: The level of WCAG 2.2 to go by; by default the plan's.
            focus: The paths in the plan of the texts that matter; by default all do.
        """
        from rising_lantern.checks.findings import Checked  # noqa: PLC0415 - few calls check

        by = self.plan.documents[self.viewport].check
        if contrast is not None:
            one_of("contrast", contrast, ("AA", "AAA"))
            by = by.model_copy(update={"contrast": contrast})
        for place, slide in enumerate(self.slides()):
            fresh = slide.box.unlike(self.box) if place else None
            yield Checked(slide.plan, slide.box, slide.switches, slide.max_scroll, by, fresh, focus)

    def check(
        self,
        only: tuple[str, ...] = (),
        without: tuple[str, ...] = (),
        contrast: Contrast | None = None,
        focus: frozenset[tuple[Key, ...]] | None = None,
    ) -> list[Finding]:
        """What is measured to be wrong with the view, those findings that the plan silences too.

        Args:
            only: The rules to go by; by default all.
            without: Rules to leave out.
            contrast: The level of WCAG 2.2 to go by; by default the plan's.
            focus: The paths in the plan of the texts that matter; by default all do.

        Raises:
            PlanError: Where the plan silences a rule that is not there.
            RequestError: Where there is no such rule.
        """
        from rising_lantern.checks.running import (  # noqa: PLC0415 - few calls check
            check_silences,
            chosen_rules,
            findings_of,
        )

        check_silences(self.plan)
        return list(findings_of(self.checked(contrast, focus), chosen_rules(only, without)))

    def positions(self, step: float) -> np.ndarray:
        """Scroll positions from the top to the end, so many CSS px apart, the end included.

        Raises:
            RequestError: Where the step is not above zero.
        """
        if not (math.isfinite(step) and step > 0):
            raise RequestError("the step along the scroll has to be above zero px")
        if self.max_scroll / step > _MOST_POSITIONS:
            least = math.ceil(100 * self.max_scroll / _MOST_POSITIONS) / 100
            raise RequestError(
                f"a step of {step:g} px makes {self.max_scroll / step:,.3g} positions, and "
                f"{_MOST_POSITIONS:,} are the most: write {least:g} or more"
            )
        marks = np.arange(0, self.max_scroll, step, dtype=np.float64)
        return np.append(marks, float(self.max_scroll))

    def pixels(self, scroll: float, going: Going = "down") -> Bytes:
        """The frame at a scroll position as RGB bytes, shaped (height, client width, 3)."""
        place = number("a scroll position", scroll)
        return self._painter.frame(self.sweep([place], going), 0)

    def frame(self, scroll: float, going: Going = "down") -> Image.Image:
        """The picture of the screen at a scroll position, a pixel for each CSS px.

        Raises:
            PlanError: Where a picture of the plan turns out to be damaged.
            RequestError: As in :meth:`sweep`.
        """
        from PIL import Image  # noqa: PLC0415 - moments and traces need no pictures

        return Image.fromarray(self.pixels(scroll, going))

    def stops(self) -> tuple[Stop, ...]:
        """The scroll positions worth looking at, with the reasons."""
        return stops_of(self.box, self.switches, self.max_scroll)

    def filmstrip(self, positions: Sequence[float] | None = None) -> Image.Image:
        """Frames side by side, with captions.

        Args:
            positions: The scroll positions to show, 24 at most; by default those of :meth:`stops`,
                of which the least telling are left out where they are more.

        Raises:
            RequestError: Where there are none, or too many.
        """
        from rising_lantern.report.preview import strip_of  # noqa: PLC0415

        if positions is not None and not len(positions):
            raise RequestError("a filmstrip needs a scroll position at least")
        if positions is not None and len(positions) > MOST_FRAMES:
            raise RequestError(
                f"a filmstrip shows {MOST_FRAMES} positions at most, and these are {len(positions)}"
            )
        return strip_of(self.plan, self.previewed(positions))

    def chart(
        self,
        ax: Axes | None = None,
        of: Literal["contrast", "layers"] = "contrast",
    ) -> Axes:
        """Draw a panel of the scroll chart: what can be read along the scroll, or what moves.

        Args:
            ax: Axes to draw into; by default those of a new figure.
            of: The contrast of each part of the header against its limits, or how many px each
                moving layer is below where it would be if it moved with its section.

        Returns:
            The axes; ``axes.figure.savefig`` writes them.
        """
        from matplotlib.figure import Figure  # noqa: PLC0415 - few calls draw charts

        from rising_lantern.report.panels import draw_contrast, draw_offsets  # noqa: PLC0415

        one_of("of", of, ("contrast", "layers"))
        if ax is None:
            ax = Figure(figsize=(11, 4), layout="constrained").subplots()
        return (draw_offsets if of == "layers" else draw_contrast)(self.charted(), ax)

    def charted(self, findings: Sequence[Finding] = ()) -> Chart:
        """What the scroll chart shows of the view, at no more than some 1,200 positions."""
        from rising_lantern.report.charts import chart_of  # noqa: PLC0415
        from rising_lantern.report.panels import Curve  # noqa: PLC0415

        swept = self.sweep(self.positions(max(self.max_scroll // _CHARTED, 1)))
        curves = [
            Curve(name, contrast, limit) for name, (contrast, limit) in self._part_figures(swept)
        ]
        if not curves:
            worst = self.worst_text(swept.scroll)
            curves = [replace(worst, name="worst text")] if np.isfinite(worst.points).any() else []
        size = self.plan.viewport(self.viewport)
        title = f"{self.page} on {self.viewport}, {size.width} × {size.height}"
        return chart_of(title, swept, curves, list(self._bands()), findings)

    def worst_part(self, scroll: np.ndarray) -> Curve:
        """The contrast of the part of the header that is worst off at each of some whole px."""
        swept = self.sweep(scroll)
        return self._worst("header", len(swept), [pair for _, pair in self._part_figures(swept)])

    def worst_text(self, scroll: np.ndarray) -> Curve:
        """The contrast of the text on the page that is worst off at each of some positions."""
        from rising_lantern.legibility.contrast import text_limit  # noqa: PLC0415

        swept, by = self.sweep(scroll), self.plan.documents[self.viewport].check
        figures = []
        for (name, place), reading in self._texts(swept).items():
            section = self.box.section(name)
            if section:
                content = section.content[place]
                limit = text_limit(content.text.size, content.entry.weight, by)
                figures.append((reading.contrast, np.full(len(swept), limit)))
        return self._worst("texts", len(swept), figures)

    def worst(self, scroll: np.ndarray) -> Curve:
        """The part or text whose contrast is furthest below its limit at each of some whole px."""
        curves = self.worst_part(scroll), self.worst_text(scroll)
        return self._worst("parts and texts", len(scroll), [(c.points, c.limit) for c in curves])

    def _part_figures(self, swept: Sweep) -> Iterator[tuple[str, tuple[np.ndarray, np.ndarray]]]:
        """Each part that is ever seen, its contrast, and what it needs, at each position."""
        header, checked = swept.header, next(self.checked())
        for name, contrast in self._contrasts(swept).items():
            if header and np.isfinite(contrast).any():
                limits = np.array([checked.limit(name, style) for style in header.styles])
                yield name, (contrast, limits[header.style])

    def _contrasts(self, swept: Sweep) -> dict[str, np.ndarray]:
        """The contrast of each part going down, at whole px; kept once it is known at all."""
        if self._kept is None:
            made = {name: one.contrast for name, one in self._readings(swept).items()}
            if len(swept) <= self.max_scroll:
                return made
            self._kept = made
        places = swept.scroll.astype(np.intp)
        return {name: contrast[places] for name, contrast in self._kept.items()}

    @staticmethod
    def _worst(name: str, count: int, figures: list[tuple[np.ndarray, np.ndarray]]) -> Curve:
        """Of several contrasts the one that is furthest below its limit, or least above."""
        from rising_lantern.report.panels import Curve  # noqa: PLC0415

        if not figures:
            return Curve(name, np.full(count, np.nan), np.full(count, np.nan))
        values, limits = (np.array(one) for one in zip(*figures, strict=True))
        share = np.where(np.isfinite(values), values / limits, np.inf)
        row = np.argmin(share, axis=0)
        each = np.arange(count)
        return Curve(name, values[row, each], limits[row, each])

    def previewed(self, positions: Sequence[float] | None = None) -> Previewed:
        """The frames of a filmstrip with all that a preview says of them."""
        from rising_lantern.report.filmstrip import Shot  # noqa: PLC0415
        from rising_lantern.report.preview import Previewed  # noqa: PLC0415

        found = self.stops()
        stops = fewer(found, MOST_FRAMES)
        left_out = len(found) - len(stops)
        if positions is not None:
            known = {stop.scroll_px: stop.reasons for stop in found}
            stops = tuple(Stop(int(scroll), known.get(int(scroll), ())) for scroll in positions)
            left_out = 0
        swept = self.sweep([stop.scroll_px for stop in stops])
        shots = tuple(
            Shot(stop, swept.moment(place), self._painter.frame(swept, place))
            for place, stop in enumerate(stops)
        )
        return Previewed(self.box, self.max_scroll, tuple(self._bands()), shots, left_out)

    def _bands(self) -> Iterator[Band]:
        """Where each look is worn, as far as the page scrolls."""
        from rising_lantern.report.filmstrip import Band  # noqa: PLC0415

        if self.switches is None:
            return
        header, steps = self.switches.header, self.switches.steps
        ends = [*(step.start for step in steps[1:]), math.inf]
        for step, end in zip(steps, ends, strict=True):
            first, last = max(step.start, 0.0), min(end, float(self.max_scroll))
            if first < last:
                look, style = header.looks[step.look], header.styles[step.look]
                yield Band(look, style.background, first, last)

    @cached_property
    def _painter(self) -> Painter:
        from rising_lantern.paint.frames import Painter  # noqa: PLC0415

        return Painter(self.box, self.plan.files.pictures)

    def _contrast(self, swept: Sweep) -> np.ndarray:
        made = [reading.contrast for reading in self._readings(swept).values()]
        return np.fmin.reduce(made) if made else np.full(len(swept), np.nan)

    def _texts(self, swept: Sweep) -> dict[tuple[str, int], Reading]:
        from rising_lantern.legibility.texts import text_readings  # noqa: PLC0415

        found = text_readings(swept, self._painter)
        return {key: reading for key, _, reading in found}

    def _readings(self, swept: Sweep) -> dict[str, Reading]:
        from rising_lantern.legibility.readings import readings_of  # noqa: PLC0415

        return readings_of(swept, self._painter, self.plan.files.pictures)


def _refuse_large(rows: int, remedy: str = "") -> None:
    if rows > _MOST_ROWS:
        raise RequestError(
            f"this makes a table of {rows:,} rows, and {_MOST_ROWS:,} are the most{remedy}"
        )
