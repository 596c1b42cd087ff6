"""Frames of a view whose slides or videos run by themselves."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Iterator, Sequence
from typing import Generic, Protocol, TypeVar

import numpy as np

from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import Instant
from rising_lantern.scroll.gestures import Gesture
from rising_lantern.scroll.moments import Sweep
from rising_lantern.scroll.playing import play
from rising_lantern.scroll.switches import Switches

_MOST_VIEWS = 6  # sets of slides that are kept painted


class Painted(Protocol):
    """A view as it is painted."""

    @property
    def box(self) -> PageBox:
        """The page as it is laid out."""
        ...

    @property
    def switches(self) -> Switches | None:
        """Where its header switches."""
        ...

    def painted(self, swept: Sweep, position: int) -> Bytes:
        """The frame at one position of a sweep of it."""
        ...


Seen = TypeVar("Seen", bound=Painted)


class SlidesInTime(Generic[Seen]):
    """The frames of a view at instants: each set of slides is painted once.

    Args:
        box: The page, with its slides standing.
        seen: Gives the view with the slides that are there at an instant.
    """

    def __init__(self, box: PageBox, seen: Callable[[Instant], Seen]) -> None:
        self._box = box
        self._seen = seen
        self._views: OrderedDict[tuple[object, ...], Seen] = OrderedDict()

    def frame(self, second: float, paint: Callable[[Seen], Bytes]) -> Bytes:
        """A frame at a second, in which slides that change are mixed.

        Args:
            second: The time since the page was opened.
            paint: Paints the frame of a view in which each slide is there or not.
        """
        time_ms = second * 1000
        runs = [layer.run for layer in self._box.layers() if layer.run]
        share = max((run.at(time_ms)[1] for run in runs), default=0.0)
        first = paint(self._at((time_ms, 0)))
        if share <= 0:
            return first
        # Each lays a share over all that is below it, so that whole frames mix alike.
        mixed = first * (1 - share) + paint(self._at((time_ms, 1))) * share
        return (mixed + 0.5).astype(np.uint8)

    def frames(self, gesture: Gesture, shown: Sequence[int]) -> Iterator[Bytes]:
        """The frames of a gesture.

        Args:
            gesture: The gesture.
            shown: The instants of it that are wanted.
        """
        played: dict[int, tuple[Seen, Sweep]] = {}
        switches = self.switches(gesture)
        for index in shown:

            def paint(view: Seen, index: int = index) -> Bytes:
                known = played.get(id(view))
                if known is None or known[0] is not view:
                    known = played[id(view)] = view, play(view.box, switches, gesture)
                return view.painted(known[1], index)

            yield self.frame(float(gesture.seconds[index]), paint)

    def switches(self, gesture: Gesture) -> Sequence[Switches | None]:
        """The switches of the header at each instant of a gesture: they follow tones of slides."""
        runs = [layer.run for layer in self._box.layers() if layer.run and any(layer.tones)]
        known: dict[tuple[int, ...], Switches | None] = {}
        found: list[Switches | None] = []
        for second in gesture.seconds:
            time_ms = float(second) * 1000
            leading = tuple(run.leading(time_ms) for run in runs)
            if leading not in known:
                known[leading] = self._seen((time_ms, 0)).switches
            found.append(known[leading])
        return found

    def _at(self, instant: Instant) -> Seen:
        """The view with the slides that are there at an instant."""
        view = self._seen(instant)
        shown = (*(layer.picture for layer in view.box.layers()), *view.box.tones)
        known = self._views.setdefault(shown, view)
        self._views.move_to_end(shown)
        while len(self._views) > _MOST_VIEWS:
            self._views.popitem(last=False)
        return known
