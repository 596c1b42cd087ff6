"""A view: one page at one viewport, laid out, sampled, drawn and checked."""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

import numpy as np
from PIL import Image

from rising_lantern.base.arguments import Names, given, names, number, numbers, one_of
from rising_lantern.base.notebook import html_table
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.running import check_silences, chosen_rules, findings_of
from rising_lantern.css.compositing import Bytes
from rising_lantern.errors import RequestError, quoted
from rising_lantern.layout.headers import Going
from rising_lantern.layout.pages import PageBox, lay_out_page
from rising_lantern.layout.sections import Instant, SectionBox
from rising_lantern.layout.slides import Run
from rising_lantern.legibility.curves import ContrastCurve, ContrastCurves, worst_of
from rising_lantern.legibility.tables import content_table, header_table
from rising_lantern.legibility.videos import hardest_frames
from rising_lantern.paint.frames import Painter
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.plan.text.nodes import Key
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scroll.bands import Band, bands_of
from rising_lantern.scroll.gestures import Gesture, GesturePath, gesture_on
from rising_lantern.scroll.moments import Moment, Sweep, sweep
from rising_lantern.scroll.playing import play
from rising_lantern.scroll.positions import (
    checked_positions,
    refuse_large_table,
    spaced_positions,
)
from rising_lantern.scroll.slides_in_time import SlidesInTime
from rising_lantern.scroll.stages import stages_of
from rising_lantern.scroll.stops import MOST_FRAMES, Stop, stops_of
from rising_lantern.scroll.switches import Switches, switches_of
from rising_lantern.scroll.trace import header_trace, layer_trace

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from rising_lantern.report.animation import Form
    from rising_lantern.report.header_strip import HeaderShot
    from rising_lantern.report.panels import Chart
    from rising_lantern.report.preview import Previewed

_CHARTED = 1200  # positions that a chart has room for


def _time(second: float) -> float:
    """A time since a page was opened, in seconds."""
    time = number("a time", second)
    if not (math.isfinite(time) and time >= 0):
        raise RequestError(f"a time is a number of seconds from 0 on, not {second}")
    return time


class View:
    """One page of a plan at one viewport.

    Scroll positions are CSS px from the top of the page, 0 to ``max_scroll``.

    Attributes:
        plan: The plan that it belongs to.
        page: The page's name.
        viewport: The viewport's name.
        slide: The picture that layers with several show, counted round from 0.
        instant: The time at which slides that run and videos are shown; None where they stand.
        box: The page as it is laid out.
        switches: Where its header switches; None without a header.
    """

    def __init__(
        self,
        plan: PlanFile,
        page: str,
        viewport: str,
        slide: int = 0,
        instant: Instant | None = None,
    ) -> None:
        self.plan = plan
        self.page = page
        self.viewport = viewport
        self.slide = slide
        self.instant = instant
        self.box: PageBox = lay_out_page(plan, page, viewport, slide, instant)
        self.switches: Switches | None = switches_of(self.box, plan)

    def __repr__(self) -> str:
        return f"View(page={quoted(self.page)}, viewport={quoted(self.viewport)})"

    def _repr_html_(self) -> str:
        screen, header = self.box.screen, self.box.header
        looks = ", ".join(f"{band.look} from {band.start:.0f} px" for band in self._bands)
        rows = [
            ("screen", f"{screen.width} x {screen.height} px"),
            ("scrolls to", f"{self.max_scroll} px"),
            ("header", header.name if header else "none"),
            ("looks", looks or "none"),
            ("sections", ", ".join(section.name for section in self.box.sections)),
        ]
        return html_table(f"{self.page} on {self.viewport}", rows)

    def __reduce__(self) -> tuple[type[View], tuple[Any, ...]]:
        # A copy lays the page out anew, and paints for itself.
        return View, (self.plan, self.page, self.viewport, self.slide, self.instant)

    # --- what it is --------------------------------------------------------------------------

    @property
    def document(self) -> Document:
        """The plan as it holds on the viewport."""
        return self.plan.documents[self.viewport]

    @property
    def ratio(self) -> float:
        """Device pixels per CSS px."""
        return self.plan.viewport(self.viewport).ratio

    @property
    def sharpness(self) -> float:
        """The device pixels per CSS px for which its pictures have to be prepared."""
        return self.document.sharpness_on(self.viewport)

    @property
    def max_scroll(self) -> int:
        """The last scroll position that a reader reaches, in CSS px."""
        return self.switches.max_scroll if self.switches else self.box.flow.ends(0)

    def showing(self, slide: int = 0, second: float | None = None) -> View:
        """The view with other pictures of its slides, animations and videos showing.

        Args:
            slide: The picture that each layer with several shows, counted round from 0; of a
                video its poster, if it has one, and then its frames.
            second: The time since the page was opened, for videos and for slides that run; by
                default slides stand, and videos show their poster or first frame.

        Raises:
            RequestError: If the slide is not a number, or the second is below 0 or not finite.
        """
        slide = int(number("a slide", slide))
        instant = None if second is None else (_time(second) * 1000, 0)
        if (slide, instant) == (self.slide, self.instant):
            return self
        return View(self.plan, self.page, self.viewport, slide, instant)

    def slides(self) -> tuple[View, ...]:
        """The view once with each picture of its slides showing; itself where it has none."""
        firsts = {0}
        for layer in self.box.layers():
            count = 0
            for name in layer.slides:
                firsts.add(count)
                count += self.plan.files.pictures[name].frames
        return tuple(self.showing(slide) for slide in sorted(firsts))

    @property
    def shown_names(self) -> str:
        """The files of those pictures that are shown of several: of slides and videos."""
        names = (
            Path(layer.name).name for layer in self.box.layers() if layer.varies and layer.name
        )
        return ", ".join(dict.fromkeys(names))

    # --- along the scroll --------------------------------------------------------------------

    def sweep(self, scroll: Sequence[float] | np.ndarray, going: Going = "down") -> Sweep:
        """The state of the view at many scroll positions, computed at once.

        Args:
            scroll: Positions in CSS px.
            going: Whether the reader came from the top or from the end of the page: a look may
                end further up than it starts.

        Raises:
            RequestError: If a position is not a finite number or lies outside the page.
        """
        one_of("going", going, ("down", "up"))
        view = f"{self.page} at {self.viewport}"
        positions = checked_positions(scroll, self.max_scroll, view)
        return sweep(self.box, self.switches, positions, going)

    def at(self, scroll: float, going: Going = "down") -> Moment:
        """The moment at a scroll position; see :meth:`sweep` for its arguments and errors."""
        return self.sweep([number("a scroll position", scroll)], going).moment(0)

    def positions(self, step: float) -> np.ndarray:
        """Scroll positions from the top to the end, spaced ``step`` px apart, the end included.

        Raises:
            RequestError: If the step is not above zero, or there would be too many.
        """
        return spaced_positions(self.max_scroll, step)

    def trace(
        self, step: float = 1.0, of: Literal["header", "layers"] = "header", going: Going = "down"
    ) -> pd.DataFrame:
        """The moments as a table, from the top of the page to its end.

        Args:
            step: The distance from one position to the next, in CSS px; the end is always there.
            of: The header, a row for each position, or the layers, a row for each of them.
            going: As in :meth:`sweep`.

        Raises:
            RequestError: If the step is not above zero, or the table would be too large.
        """
        one_of("of", of, ("header", "layers"))
        positions = self.positions(step)
        if of == "layers":
            refuse_large_table(len(positions) * sum(1 for _ in self.box.layers()), step)
            return layer_trace(self.sweep(positions, going))
        swept = self.sweep(positions, going)
        return header_trace(swept, self._curves.least(swept))

    def contrast(
        self, of: Literal["header", "content"] = "header", going: Going = "down"
    ) -> pd.DataFrame:
        """Return the contrast of each part of the header, or of each text, at every px of scroll.

        Columns: ``part, look, scroll_px, contrast, median`` for the header, and ``section,
        content, scroll_px, contrast, median`` for the texts that stand over sections, ``content``
        their index among the texts of the section. The contrast is the WCAG 2.2 ratio that 95 %
        of the pixels really behind it reach, 1 to 21; it is NaN off the screen.

        Args:
            of: The header's parts, or the texts.
            going: As in :meth:`sweep`.

        Raises:
            RequestError: If the table would be too large.
        """
        one_of("of", of, ("header", "content"))
        swept = self.sweep(self.positions(1.0), going)
        if of == "content":
            texts = sum(len(section.content) for section in self.box.sections)
            refuse_large_table(texts * len(swept))
            return content_table(swept, self._curves.measured_texts(swept))
        return header_table(swept, self._curves.measured_parts(swept))

    @property
    def every_px(self) -> Sweep:
        """The view at every whole px of scroll, down from the top."""
        return self.sweep(self.positions(1.0))

    def focuses(self) -> Iterator[tuple[tuple[str, int], float]]:
        """The greatest share of the focus of each layer that is seen at once, 0 to 1.

        Yields:
            The section and index of a layer that has a focus, and the share.
        """
        if any(layer.focus for layer in self.box.layers()):
            for track in self.every_px.layers():
                if track.box.focus:
                    yield (track.section, track.index), float(track.focus.max())

    def worst_part(self, scroll: np.ndarray) -> ContrastCurve:
        """The lowest contrast of any part of the header at whole px of scroll."""
        return self._curves.worst_part(self.sweep(scroll), self.max_scroll)

    def worst_text(self, scroll: np.ndarray) -> ContrastCurve:
        """The lowest contrast of any text on the page at some scroll positions."""
        return self._curves.worst_text(self.sweep(scroll), self.max_scroll)

    def worst(self, scroll: np.ndarray) -> ContrastCurve:
        """The lowest contrast of any part or text at whole px of scroll, each by its own limit."""
        curves = self.worst_part(scroll), self.worst_text(scroll)
        return worst_of("parts and texts", len(scroll), curves)

    def stops(self, others: Sequence[Stop] = ()) -> tuple[Stop, ...]:
        """The scroll positions worth looking at, with the reasons.

        Args:
            others: More of them, such as those where something is wrong.
        """
        return stops_of(self.box, self.switches, self.max_scroll, others)

    # --- in time -----------------------------------------------------------------------------

    def play(self, gesture: GesturePath) -> pd.DataFrame:
        """What a reader sees while scrolling in time, 60 times a second, as a table.

        The columns of the header's :meth:`trace`, and ``time_s``. Fades, texts that arrive and
        blends that lag are only seen here.

        Args:
            gesture: ``reading``, ``wheel``, ``flick``, ``page-down`` or ``jump``, which go from
                the top to the end; ``jump SECTION``; or pairs of (seconds, px).

        Raises:
            RequestError: If there is no such gesture or section, or the pairs are not a path.
        """
        seconds, swept = self.played(gesture)
        table = header_trace(swept, self._curves.least(swept))
        if not table.empty:
            table["time_s"] = seconds
        return table

    def played(self, gesture: GesturePath) -> tuple[np.ndarray, Sweep]:
        """The instants of a gesture in seconds, and the view at each; see :meth:`play`."""
        result = gesture_on(self.box, self.max_scroll, gesture)
        return result.seconds, play(self.box, self._slides.switches(result), result)

    def painted(self, swept: Sweep, position: int) -> Bytes:
        """The frame at one position of a sweep of the view: RGB."""
        return self._painter.frame(swept, position)

    @cached_property
    def _slides(self) -> SlidesInTime[View]:
        def seen(instant: Instant) -> View:
            return View(self.plan, self.page, self.viewport, self.slide, instant)

        return SlidesInTime(self.box, seen)

    # --- pictures ----------------------------------------------------------------------------

    def pixels(self, scroll: float, going: Going = "down") -> Bytes:
        """The frame at a scroll position as RGB bytes, shaped (height, client width, 3)."""
        position = number("a scroll position", scroll)
        return self._painter.frame(self.sweep([position], going), 0)

    def frame(
        self, scroll: float, going: Going = "down", second: float | None = None
    ) -> Image.Image:
        """The picture of the screen at a scroll position, one pixel for each CSS px.

        Args:
            scroll: The position in CSS px.
            going: As in :meth:`sweep`.
            second: The time since the page was opened, for slides that run and for videos; by
                default they stand.

        Raises:
            PlanError: If a picture of the plan turns out to be damaged.
            RequestError: As in :meth:`sweep`; if the second is below 0 or not a finite number.
        """
        if second is None:
            return Image.fromarray(self.pixels(scroll, going))
        time = _time(second)
        return Image.fromarray(
            self._slides.frame(time, lambda view: view.pixels(scroll, going).copy())
        )

    def filmstrip(self, positions: Sequence[float] | None = None) -> Image.Image:
        """Frames side by side, with captions.

        Args:
            positions: The scroll positions to show, 24 at most; by default those of :meth:`stops`,
                of which the least important are left out where they are more. One beyond the end
                of the page shows its end.

        Raises:
            RequestError: If there are none, or too many, or one is below zero.
        """
        from rising_lantern.report.preview import strip_of  # noqa: PLC0415

        if positions is None:
            return strip_of(self.plan, self.previewed())
        places = numbers("a scroll position", positions)
        if not places:
            raise RequestError("a filmstrip needs at least one scroll position")
        if len(places) > MOST_FRAMES:
            raise RequestError(
                f"a filmstrip shows up to {MOST_FRAMES} positions, not {len(places)}"
            )
        within = list(dict.fromkeys(min(place, self.max_scroll) for place in places))
        return strip_of(self.plan, self.previewed(within))

    def header_strip(self) -> Image.Image:
        """The header at full size before, half-way through and after each switch.

        Raises:
            RequestError: If the page has no header.
        """
        from rising_lantern.report.preview import header_strip_of  # noqa: PLC0415

        if self.switches is None:
            raise RequestError(f"{quoted(self.page)} has no header on {quoted(self.viewport)}")
        return header_strip_of(self.plan, self.box, self.header_shots())

    def header_shots(self) -> tuple[HeaderShot, ...]:
        """The header at each stage of each switch, cut out of its frame; none without one."""
        from rising_lantern.report.header_strip import header_shots  # noqa: PLC0415

        stages = stages_of(self.box, self.switches, self.max_scroll)
        return header_shots(
            stages, lambda stage, rows: self._painter.frame(stage.swept, stage.index, rows)
        )

    def page_rows(self, scroll: Sequence[float]) -> Iterator[Bytes]:
        """The frames at some scroll positions without the header, as RGB bytes."""
        swept = replace(self.sweep(scroll), header=None)
        for index in range(len(swept)):
            yield self._painter.frame(swept, index)

    def curves(self, scroll: Sequence[float]) -> Iterator[ContrastCurve]:
        """The contrast of each part of the header, then of each text, at scroll positions."""
        swept = self.sweep(scroll)
        yield from self._curves.exact_parts(swept)
        yield from self._curves.exact_texts(swept)

    def previewed(
        self, positions: Sequence[float] | None = None, others: Sequence[Stop] = ()
    ) -> Previewed:
        """The frames of a filmstrip with all that a preview says of them.

        Args:
            positions: As in :meth:`filmstrip`.
            others: As in :meth:`stops`.
        """
        from rising_lantern.report.preview import shown  # noqa: PLC0415

        known = self.stops(others)
        extra = list(self._shots_in_time()) if positions is None else []
        return shown(self.box, self.max_scroll, self._bands, known, positions, self._shot, extra)

    def _shots_in_time(self) -> Iterator[tuple[Stop, Moment, Bytes]]:
        """What no scroll position shows: fades of looks half-way, and the other slides."""
        for stage in stages_of(self.box, self.switches, self.max_scroll):
            moment = stage.swept.moment(stage.index)
            if stage.kind == "half-way" and moment.progress < 1 and stage.swept.scroll.size > 1:
                stop = Stop(stage.scroll_px, (f"half-way to {stage.look}, in time",))
                # Texts have arrived before: a reader comes here through the section.
                here = replace(stage.swept, arrivals={})
                yield stop, moment, self._painter.frame(here, stage.index).copy()
        for section in self.box.all_sections:
            sliding = [layer for layer in section.layers if layer.varies and not layer.video]
            if sliding:
                count = max(len(layer.slides) for layer in sliding)
                yield from self._slides_of(section, count, [layer.run for layer in sliding])

    def _slides_of(
        self, section: SectionBox, count: int, runs: Sequence[Run | None]
    ) -> Iterator[tuple[Stop, Moment, Bytes]]:
        """The slides of a section but the one that shows, and the middle of the first fade."""
        middle = section.top + section.height / 2 - self.box.screen.height / 2
        at = int(min(max(middle, 0), self.max_scroll))
        moment = self.at(at)
        fading = next((run for run in runs if run and run.fade_ms), None)
        if fading:
            pixels = np.asarray(self.frame(at, second=fading.half_ms / 1000))
            yield Stop(at, (f"half-way to the next slide of {section.name}",)), moment, pixels
        for place, view in enumerate(self.slides()[:count]):
            if view.slide != self.slide:
                reason = f"slide {place + 1} of {count} of {section.name}"
                yield Stop(at, (reason,)), view.at(at), view.pixels(at).copy()

    def animation(self, gesture: GesturePath, path: Path, form: Form = "webp") -> None:
        """Write what a reader sees during a gesture as a moving picture; see :meth:`play`.

        Args:
            gesture: The gesture.
            path: The file.
            form: ``webp``, ``gif`` or ``mp4``.

        Raises:
            RequestError: As in :meth:`play`, or for an MP4 without the package for it.
        """
        from rising_lantern.report.animation import FORMS, shown_of, write_animation  # noqa: PLC0415

        one_of("form", form, FORMS)
        played = gesture_on(self.box, self.max_scroll, gesture)
        write_animation(self.frames_in_time(played, shown_of(len(played.seconds))), path, form)

    def frames_in_time(self, gesture: Gesture, shown: Sequence[int]) -> Iterator[Bytes]:
        """The frames at some of the instants of a gesture, while slides and videos run."""
        if any(layer.run for layer in self.box.layers()):
            yield from self._slides.frames(gesture, shown)
            return
        swept = play(self.box, self.switches, gesture)
        for index in shown:
            yield self._painter.frame(swept, index)

    def chart(
        self,
        ax: Axes | None = None,
        of: Literal["contrast", "layers"] = "contrast",
    ) -> Axes:
        """Draw a panel of the scroll chart: contrast along the scroll, or what moves.

        Args:
            ax: Axes to draw into; by default those of a new figure.
            of: The contrast of each part of the header against its limits, or how many px each
                moving layer is below where it would be if it moved with its section.

        Returns:
            The axes; ``axes.figure.savefig`` writes them.
        """
        from rising_lantern.report.panels import draw_panel  # noqa: PLC0415

        one_of("of", of, ("contrast", "layers"))
        if ax is not None and not hasattr(ax, "plot"):
            raise RequestError(f"{given(ax)} is no axes of Matplotlib; leave it out for new ones")
        return draw_panel(self.charted(), of, ax)

    def charted(
        self,
        findings: Sequence[Finding] = (),
        measured: tuple[Sequence[float], Sequence[ContrastCurve]] | None = None,
    ) -> Chart:
        """What the scroll chart shows of the view.

        Args:
            findings: What is marked as wrong.
            measured: Scroll positions with the contrast there, as :meth:`curves` gives it; by
                default some 1,200 positions, at which it is measured as exactly as a chart shows.
        """
        from rising_lantern.report.charts import chart_of  # noqa: PLC0415

        if measured is None:
            swept = self.sweep(self.positions(max(self.max_scroll // _CHARTED, 1)))
            curves = self._curves.parts(swept, self.max_scroll)
            worst = None if curves else self._curves.worst_text(swept, self.max_scroll)
        else:
            swept, known = self.sweep(measured[0]), list(measured[1])
            parts = len(self.box.header.parts) if self.box.header else 0
            curves = [item for item in known[:parts] if np.isfinite(item.contrast).any()]
            worst = None if curves else worst_of("texts", len(swept), known[parts:])
        if worst is not None and np.isfinite(worst.contrast).any():
            curves = [worst]
        size = self.plan.viewport(self.viewport)
        title = f"{self.page} on {self.viewport}, {size.width} × {size.height}"
        return chart_of(title, swept, curves, self._bands, findings)

    # --- findings ----------------------------------------------------------------------------

    def check(
        self,
        only: Names = (),
        skip: Names = (),
        *,
        contrast: Conformance | None = None,
        silenced: bool = False,
        focus: frozenset[tuple[Key, ...]] | None = None,
        remedies: bool = True,
    ) -> list[Finding]:
        """What is measured to be wrong with the view.

        Args:
            only: The rules to apply; by default all.
            skip: Rules to leave out.
            contrast: The level of WCAG 2.2 to apply, ``AA`` or ``AAA``; by default the plan's.
            silenced: Whether to include the findings that the plan silences.
            focus: The paths in the plan of the texts to check; by default all.
            remedies: Whether to work out remedies that take a search.

        Raises:
            PlanError: If the plan silences a rule that does not exist.
            RequestError: If there is no such rule.
        """
        rules = chosen_rules(names(only), names(skip))
        check_silences(self.plan)
        found = findings_of(self.contexts(contrast, focus, remedies=remedies), rules)
        return [finding for finding in found if silenced or finding.silenced is None]

    def contexts(
        self,
        contrast: Conformance | None = None,
        focus: frozenset[tuple[Key, ...]] | None = None,
        *,
        remedies: bool = True,
    ) -> Iterator[CheckContext]:
        """Yield the view as rules look at it: once with each picture of its slides showing.

        Args and errors are those of :meth:`check`.
        """
        limits = self.document.check
        if contrast is not None:
            one_of("contrast", contrast, ("AA", "AAA"))
            limits = limits.model_copy(update={"conformance": contrast})
        for index, slide in enumerate((*self.slides(), *self._hardest_frames())):
            # Where a slide has a tone of its own, the header may look otherwise everywhere.
            known = index and slide.box.tones == self.box.tones
            fresh = slide.box.unlike(self.box) if known else None
            yield CheckContext(
                slide.plan,
                slide.box,
                slide.switches,
                slide.max_scroll,
                limits,
                fresh,
                focus,
                remedies,
            )

    def _hardest_frames(self) -> Iterator[View]:
        """The view with those frames of videos over which something is hardest to read."""
        pictures = self.plan.files.pictures
        for slide in hardest_frames(self.box, self.switches, pictures, self.max_scroll):
            yield self.showing(slide)

    # --- what is computed once ---------------------------------------------------------------

    @cached_property
    def _painter(self) -> Painter:
        return Painter(self.box, self.plan.files.pictures)

    @cached_property
    def _curves(self) -> ContrastCurves:
        pictures = self.plan.files.pictures
        return ContrastCurves(self.box, self._painter, pictures, self.document.check)

    @property
    def _bands(self) -> tuple[Band, ...]:
        return bands_of(self.switches, self.max_scroll)

    def _shot(self, stops: Sequence[Stop]) -> Iterator[tuple[Moment, Bytes]]:
        """The moment and the frame at each of some stops."""
        for stop in stops:
            swept = self.sweep([stop.scroll_px], stop.going)
            yield swept.moment(0), self._painter.frame(swept, 0)
