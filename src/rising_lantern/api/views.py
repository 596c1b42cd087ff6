"""A view: one page of a plan at one viewport, to be sampled, drawn and checked."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any, Literal

from PIL import Image

from rising_lantern.base.arguments import Names, given, names, number, numbers, one_of
from rising_lantern.base.notebook import html_table
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.running import check_scene
from rising_lantern.css.compositing import Bytes
from rising_lantern.errors import RequestError, quoted
from rising_lantern.layout.headers import Going
from rising_lantern.legibility.tables import content_table, header_table
from rising_lantern.plan.models.limits import Conformance
from rising_lantern.scenes.scene import Scene, scene_of
from rising_lantern.scroll.gestures import GesturePath, gesture_on
from rising_lantern.scroll.moments import Moment
from rising_lantern.scroll.positions import refuse_large_table
from rising_lantern.scroll.stops import MOST_FRAMES, Stop
from rising_lantern.scroll.trace import header_trace, layer_trace

if TYPE_CHECKING:
    import pandas as pd
    from matplotlib.axes import Axes

    from rising_lantern.api.plans import Plan
    from rising_lantern.report.animation import Form


@dataclass(frozen=True, repr=False)
class View:
    """One page of a plan at one viewport.

    Scroll positions are CSS px from the top of the page, 0 to ``max_scroll``. Views are equal if
    they show the same page of equal plans at the same viewport.

    Attributes:
        plan: The plan that it belongs to.
        page: The page's name.
        viewport: The viewport's name.
        slide: The picture that layers with several show, counted round from 0.
        second: The time since the page was opened, for videos and for slides that run; None where
            they stand.

    Raises:
        PlanError: If the page cannot be laid out at the viewport.
    """

    plan: Plan
    page: str
    viewport: str
    slide: int = 0
    second: float | None = None

    def __post_init__(self) -> None:
        # A page that cannot be laid out is known at once.
        _ = self.scene

    def __repr__(self) -> str:
        slide = f", slide={self.slide}" if self.slide else ""
        second = "" if self.second is None else f", second={self.second:g}"
        names = f"page={quoted(self.page)}, viewport={quoted(self.viewport)}"
        return f"View({names}{slide}{second})"

    def _repr_html_(self) -> str:
        box = self.scene.box
        looks = ", ".join(f"{band.look} from {band.start:.0f} px" for band in self.scene.bands)
        rows = [
            ("screen", f"{box.screen.width} x {box.screen.height} px"),
            ("scrolls to", f"{self.max_scroll} px"),
            ("header", box.header.name if box.header else "none"),
            ("looks", looks or "none"),
            ("sections", ", ".join(section.name for section in box.sections)),
        ]
        return html_table(f"{self.page} on {self.viewport}", rows)

    def __reduce__(self) -> tuple[type[View], tuple[Any, ...]]:
        # A copy lays the page out anew, and paints for itself.
        return View, (self.plan, self.page, self.viewport, self.slide, self.second)

    @cached_property
    def scene(self) -> Scene:
        """The page as it is laid out and painted, for the rest of this library."""
        instant = None if self.second is None else (self.second * 1000, 0)
        return scene_of(self.plan.file, self.page, self.viewport, self.slide, instant)

    @property
    def max_scroll(self) -> int:
        """The last scroll position that a reader reaches, in CSS px."""
        return self.scene.max_scroll

    def showing(self, slide: int = 0, second: float | None = None) -> View:
        """Return the view with other pictures of its slides, animations and videos showing.

        Args:
            slide: The picture that each layer with several shows, counted round from 0; of a
                video its poster, if it has one, and then its frames.
            second: The time since the page was opened, for videos and for slides that run; by
                default slides stand, and videos show their poster or first frame.

        Raises:
            RequestError: If the slide is not a number, or the second is below 0 or not finite.
        """
        slide = int(number("a slide", slide))
        time = None if second is None else _time(second)
        if (slide, time) == (self.slide, self.second):
            return self
        return View(self.plan, self.page, self.viewport, slide, time)

    def slides(self) -> tuple[View, ...]:
        """Return the view once with each picture of its slides; itself where it has none."""
        return tuple(self.showing(scene.slide) for scene in self.scene.slides())

    # --- along the scroll --------------------------------------------------------------------

    def at(self, scroll: float, going: Going = "down") -> Moment:
        """Return the moment at a scroll position.

        Args:
            scroll: The position in CSS px.
            going: Whether the reader came from the top or from the end of the page: a look may
                end further up than it starts.

        Raises:
            RequestError: If the position is not a finite number or lies outside the page.
        """
        return self.scene.at(number("a scroll position", scroll), _way(going))

    def trace(
        self, step: float = 1.0, of: Literal["header", "layers"] = "header", going: Going = "down"
    ) -> pd.DataFrame:
        """Return the moments as a table, from the top of the page to its end.

        Args:
            step: The distance from one position to the next, in CSS px; the end is always there.
            of: The header, a row for each position, or the layers, a row for each of them.
            going: As in :meth:`at`.

        Raises:
            RequestError: If the step is not above zero, or the table would be too large.
        """
        one_of("of", of, ("header", "layers"))
        scene = self.scene
        positions = scene.positions(step)
        if of == "layers":
            refuse_large_table(len(positions) * sum(1 for _ in scene.box.layers()), step)
            return layer_trace(scene.sweep(positions, _way(going)))
        swept = scene.sweep(positions, _way(going))
        return header_trace(swept, scene.contrast.least(swept))

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
            going: As in :meth:`at`.

        Raises:
            RequestError: If the table would be too large.
        """
        one_of("of", of, ("header", "content"))
        scene = self.scene
        swept = scene.sweep(scene.positions(1.0), _way(going))
        if of == "content":
            texts = sum(len(section.content) for section in scene.box.sections)
            refuse_large_table(texts * len(swept))
            return content_table(swept, scene.contrast.measured_texts(swept))
        return header_table(swept, scene.contrast.measured_parts(swept))

    def stops(self) -> tuple[Stop, ...]:
        """Return the scroll positions worth looking at, with the reasons."""
        return self.scene.stops()

    def play(self, gesture: GesturePath) -> pd.DataFrame:
        """Return what a reader sees while scrolling in time, 60 times a second, as a table.

        The columns of the header's :meth:`trace`, and ``time_s``. Fades, texts that arrive and
        blends that lag are only seen here.

        Args:
            gesture: ``reading``, ``wheel``, ``flick``, ``page-down`` or ``jump``, which go from
                the top to the end; ``jump SECTION``; or pairs of (seconds, px).

        Raises:
            RequestError: If there is no such gesture or section, or the pairs are not a path.
        """
        played = gesture_on(self.scene.box, self.max_scroll, gesture)
        swept = self.scene.played(played)
        table = header_trace(swept, self.scene.contrast.least(swept))
        if not table.empty:
            table["time_s"] = played.seconds
        return table

    # --- pictures ----------------------------------------------------------------------------

    def pixels(self, scroll: float, going: Going = "down") -> Bytes:
        """Return the frame at a scroll position as RGB bytes, shaped (height, client width, 3).

        Args and errors are those of :meth:`at`.
        """
        return self.scene.pixels(number("a scroll position", scroll), _way(going))

    def frame(
        self, scroll: float, going: Going = "down", second: float | None = None
    ) -> Image.Image:
        """Return the picture of the screen at a scroll position, one pixel for each CSS px.

        Args:
            scroll: The position in CSS px.
            going: As in :meth:`at`.
            second: The time since the page was opened, for slides that run and for videos; by
                default they stand.

        Raises:
            PlanError: If a picture of the plan turns out to be damaged.
            RequestError: As in :meth:`at`; if the second is below 0 or not a finite number.
        """
        if second is None:
            return Image.fromarray(self.pixels(scroll, going))
        place = number("a scroll position", scroll)
        return Image.fromarray(self.scene.pixels_at(_time(second), place, _way(going)))

    def filmstrip(self, positions: Sequence[float] | None = None) -> Image.Image:
        """Return frames side by side, with captions.

        Args:
            positions: The scroll positions to show, 24 at most; by default those of :meth:`stops`,
                of which the least important are left out where they are more. One beyond the end
                of the page shows its end.

        Raises:
            RequestError: If there are none, or too many, or one is below zero.
        """
        from rising_lantern.report.previewed import filmstrip_of, previewed  # noqa: PLC0415

        if positions is None:
            return filmstrip_of(previewed(self.scene))
        places = numbers("a scroll position", positions)
        if not places:
            raise RequestError("a filmstrip needs at least one scroll position")
        if len(places) > MOST_FRAMES:
            raise RequestError(
                f"a filmstrip shows up to {MOST_FRAMES} positions, not {len(places)}"
            )
        within = list(dict.fromkeys(min(place, self.max_scroll) for place in places))
        return filmstrip_of(previewed(self.scene, within))

    def header_strip(self) -> Image.Image:
        """Return the header at full size before, half-way through and after each switch.

        Raises:
            RequestError: If the page has no header.
        """
        from rising_lantern.report.header_strip import header_shots, header_strip_of  # noqa: PLC0415

        if self.scene.switches is None:
            raise RequestError(f"{quoted(self.page)} has no header on {quoted(self.viewport)}")
        return header_strip_of(self.scene, header_shots(self.scene))

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
        played = gesture_on(self.scene.box, self.max_scroll, gesture)
        frames = self.scene.frames_in_time(played, shown_of(len(played.seconds)))
        write_animation(frames, path, form)

    def chart(self, ax: Axes | None = None, of: Literal["contrast", "layers"] = "contrast") -> Axes:
        """Draw a panel of the scroll chart: contrast along the scroll, or what moves.

        Args:
            ax: Axes to draw into; by default those of a new figure.
            of: The contrast of each part of the header against its limits, or how many px each
                moving layer is below where it would be if it moved with its section.

        Returns:
            The axes; ``axes.figure.savefig`` writes them.
        """
        from rising_lantern.report.charts import chart_of  # noqa: PLC0415
        from rising_lantern.report.panels import draw_panel  # noqa: PLC0415

        one_of("of", of, ("contrast", "layers"))
        if ax is not None and not hasattr(ax, "plot"):
            raise RequestError(f"{given(ax)} is no axes of Matplotlib; leave it out for new ones")
        return draw_panel(chart_of(self.scene), of, ax)

    # --- findings ----------------------------------------------------------------------------

    def check(
        self,
        only: Names = (),
        skip: Names = (),
        *,
        contrast: Conformance | None = None,
        silenced: bool = False,
    ) -> list[Finding]:
        """Return what is measured to be wrong with the view.

        Args:
            only: The rules to apply; by default all.
            skip: Rules to leave out.
            contrast: The level of WCAG 2.2 to apply, ``AA`` or ``AAA``; by default the plan's.
            silenced: Whether to include the findings that the plan silences.

        Raises:
            PlanError: If the plan silences a rule that does not exist.
            RequestError: If there is no such rule.
        """
        if contrast is not None:
            one_of("contrast", contrast, ("AA", "AAA"))
        chosen = names(only), names(skip)
        return check_scene(self.scene, *chosen, contrast=contrast, silenced=silenced)


def _way(going: Going) -> Going:
    """The way in which a reader scrolls, if it is one."""
    one_of("going", going, ("down", "up"))
    return going


def _time(second: float) -> float:
    """A time since a page was opened, in seconds."""
    time = number("a time", second)
    if not (math.isfinite(time) and time >= 0):
        raise RequestError(f"a time is a number of seconds from 0 on, not {second}")
    return time
