"""A scene: one page at one viewport, laid out, set in motion and painted once for all."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from pathlib import Path

import numpy as np

from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.headers import Going
from rising_lantern.layout.pages import PageBox, lay_out_page
from rising_lantern.layout.sections import Instant
from rising_lantern.legibility.curves import ContrastCurve, ContrastCurves
from rising_lantern.legibility.videos import hardest_frames
from rising_lantern.paint.frames import Painter
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scroll.bands import Band, bands_of
from rising_lantern.scroll.gestures import Gesture
from rising_lantern.scroll.moments import Moment, Sweep, sweep
from rising_lantern.scroll.playing import play
from rising_lantern.scroll.positions import checked_positions, spaced_positions
from rising_lantern.scroll.slides_in_time import SlidesInTime
from rising_lantern.scroll.stages import Stage, stages_of
from rising_lantern.scroll.stops import Stop, stops_of
from rising_lantern.scroll.switches import Switches, switches_of


@dataclass(frozen=True, eq=False)
class Scene:
    """One page of a plan at one viewport, with the slides that show there.

    Views, rules, reports and proofs all look at a scene, so that a page is laid out once, and
    each of its sheets is painted once.

    Attributes:
        plan: The plan.
        box: The page as it is laid out.
        switches: Where its header switches; None without a header.
        slide: The picture that layers with several show, counted round from 0.
    """

    plan: PlanFile
    box: PageBox
    switches: Switches | None
    slide: int = 0

    @property
    def page(self) -> str:
        """The page's name."""
        return self.box.page

    @property
    def viewport(self) -> str:
        """The viewport's name."""
        return self.box.viewport

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

    @property
    def bands(self) -> tuple[Band, ...]:
        """Where each look of the header is current."""
        return bands_of(self.switches, self.max_scroll)

    @property
    def stages(self) -> tuple[Stage, ...]:
        """The header before, half-way through and after each of its switches."""
        return stages_of(self.box, self.switches, self.max_scroll)

    # --- slides ------------------------------------------------------------------------------

    def showing(self, slide: int, instant: Instant | None = None) -> Scene:
        """Return the scene with other pictures of its slides.

        Args:
            slide: The picture that each layer with several shows, counted round from 0.
            instant: The time since the page was opened; None where slides and videos stand.
        """
        if slide == self.slide and instant is None:
            return self
        return scene_of(self.plan, self.page, self.viewport, slide, instant)

    def slides(self) -> tuple[Scene, ...]:
        """Return the scene once with each picture of its slides; itself where it has none."""
        firsts = {0}
        for layer in self.box.layers():
            count = 0
            for name in layer.slides:
                firsts.add(count)
                count += self.plan.files.pictures[name].frames
        return tuple(self.showing(slide) for slide in sorted(firsts))

    def hardest_frames(self) -> Iterator[Scene]:
        """Yield it with those frames of videos over which something is hardest to read."""
        pictures = self.plan.files.pictures
        for slide in hardest_frames(self.box, self.switches, pictures, self.max_scroll):
            yield self.showing(slide)

    @property
    def shown_names(self) -> str:
        """The files of those pictures that are shown of several: of slides and videos."""
        names = (
            Path(layer.name).name for layer in self.box.layers() if layer.varies and layer.name
        )
        return ", ".join(dict.fromkeys(names))

    # --- along the scroll --------------------------------------------------------------------

    def sweep(self, scroll: Sequence[float] | np.ndarray, going: Going = "down") -> Sweep:
        """Compute its state at many scroll positions at once.

        Args:
            scroll: Positions in CSS px.
            going: Whether the reader came from the top or from the end of the page.

        Raises:
            RequestError: If a position is not a finite number or lies outside the page.
        """
        positions = checked_positions(scroll, self.max_scroll, f"{self.page} at {self.viewport}")
        return sweep(self.box, self.switches, positions, going)

    def at(self, scroll: float, going: Going = "down") -> Moment:
        """Return the moment at one scroll position; see :meth:`sweep`."""
        return self.sweep([scroll], going).moment(0)

    def positions(self, step: float) -> np.ndarray:
        """Return scroll positions from the top to the end, ``step`` px apart, the end included.

        Raises:
            RequestError: If the step is not above zero, or there would be too many.
        """
        return spaced_positions(self.max_scroll, step)

    @property
    def every_px(self) -> Sweep:
        """Its state at every whole px of scroll, down from the top."""
        return self.sweep(self.positions(1.0))

    def stops(self, others: Sequence[Stop] = ()) -> tuple[Stop, ...]:
        """Return the scroll positions worth looking at, with the reasons.

        Args:
            others: More of them, such as those where something is wrong.
        """
        return stops_of(self.box, self.switches, self.max_scroll, others)

    def focuses(self) -> Iterator[tuple[tuple[str, int], float]]:
        """Yield the greatest share of the focus of each layer that is seen at once, 0 to 1.

        Yields:
            The section and index of a layer that has a focus, and the share.
        """
        if any(layer.focus for layer in self.box.layers()):
            for track in self.every_px.layers():
                if track.box.focus:
                    yield (track.section, track.index), float(track.focus.max())

    # --- contrast ----------------------------------------------------------------------------

    @cached_property
    def contrast(self) -> ContrastCurves:
        """What measures the contrast of its parts and texts."""
        pictures = self.plan.files.pictures
        return ContrastCurves(self.box, self.painter, pictures, self.document.check)

    def curves(self, scroll: Sequence[float]) -> Iterator[ContrastCurve]:
        """Yield the contrast of each part of the header, then of each text, at some positions."""
        swept = self.sweep(scroll)
        yield from self.contrast.exact_parts(swept)
        yield from self.contrast.exact_texts(swept)

    def worst_part(self, scroll: np.ndarray) -> ContrastCurve:
        """Return the lowest contrast of any part of the header at whole px of scroll."""
        return self.contrast.worst_part(self.sweep(scroll), self.max_scroll)

    def worst_text(self, scroll: np.ndarray) -> ContrastCurve:
        """Return the lowest contrast of any text on the page at some scroll positions."""
        return self.contrast.worst_text(self.sweep(scroll), self.max_scroll)

    def worst(self, scroll: np.ndarray) -> ContrastCurve:
        """Return the lowest contrast of any part or text, each by its own limit.

        It is measured at each position where it is low; see :meth:`ContrastCurves.worst`.
        """
        return self.contrast.worst(self.sweep(scroll))

    # --- pictures ----------------------------------------------------------------------------

    @cached_property
    def painter(self) -> Painter:
        """What paints it."""
        return Painter(self.box, self.plan.files.pictures)

    def painted(self, swept: Sweep, position: int) -> Bytes:
        """Paint the frame at one position of a sweep of it: RGB."""
        return self.painter.frame(swept, position)

    def pixels(self, scroll: float, going: Going = "down") -> Bytes:
        """Paint the frame at a scroll position: RGB, shaped (height, client width, 3)."""
        return self.painter.frame(self.sweep([scroll], going), 0)

    def page_rows(self, scroll: Sequence[float]) -> Iterator[Bytes]:
        """Paint the frames at some scroll positions without the header: RGB."""
        swept = replace(self.sweep(scroll), header=None)
        for index in range(len(swept)):
            yield self.painter.frame(swept, index)

    # --- in time -----------------------------------------------------------------------------

    @cached_property
    def _in_time(self) -> SlidesInTime[Scene]:
        return SlidesInTime(self.box, lambda instant: self.showing(self.slide, instant))

    def pixels_at(self, second: float, scroll: float, going: Going = "down") -> Bytes:
        """Paint the frame at a scroll position, some time after the page was opened: RGB."""
        return self._in_time.frame(second, lambda scene: scene.pixels(scroll, going).copy())

    def played(self, gesture: Gesture) -> Sweep:
        """Compute its state at each instant of a gesture."""
        return play(self.box, self._in_time.switches(gesture), gesture)

    def frames_in_time(self, gesture: Gesture, shown: Sequence[int]) -> Iterator[Bytes]:
        """Paint the frames at some instants of a gesture, while slides and videos run: RGB."""
        if any(layer.run for layer in self.box.layers()):
            yield from self._in_time.frames(gesture, shown)
            return
        swept = play(self.box, self.switches, gesture)
        for index in shown:
            yield self.painter.frame(swept, index)


def scene_of(
    plan: PlanFile, page: str, viewport: str, slide: int = 0, instant: Instant | None = None
) -> Scene:
    """Lay out a page at a viewport, and find where its header switches.

    Args:
        plan: The plan.
        page: The page's name.
        viewport: The viewport's name.
        slide: As in :class:`Scene`.
        instant: The time at which slides that run and videos are shown; None where they stand.

    Raises:
        PlanError: If the page cannot be laid out there.
    """
    box = lay_out_page(plan, page, viewport, slide, instant)
    return Scene(plan, box, switches_of(box, plan), slide)
