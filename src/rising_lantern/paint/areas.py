"""Areas of a section, and how what stands in them is painted: at once, or in bands of rows."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import partial
from operator import attrgetter

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.blending import blend_over
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.css.lengths import Basis
from rising_lantern.layout.items import ContentBox, FigureBox, Item
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.sections import LayerBox, SectionBox
from rising_lantern.paint.bands import Bands
from rising_lantern.paint.figures import figure_reach, paint_figure
from rising_lantern.paint.fills import paint_border, paint_color, paint_layer, paint_panel
from rising_lantern.paint.filters import blur_reach
from rising_lantern.paint.overlays import Overlay
from rising_lantern.paint.patches import Patch, StoredPatch, patches_of, stored_patches
from rising_lantern.paint.shelf import Shelf
from rising_lantern.paint.texts import paint_text, paint_text_shadow, shadow_reach, text_reach

_MOST_WHOLE = 8_000_000  # px of a sheet that are painted at once

# What was painted is kept for all views, and for a plan with other values, where it is the same.
_patches = Shelf[tuple[Patch, ...]](80_000_000, lambda kept: sum(patch.size for patch in kept))
_overlays = Shelf[Overlay](30_000_000, attrgetter("size"))
_canvases = Shelf[Bytes](30_000_000, attrgetter("nbytes"))


@dataclass(frozen=True, slots=True)
class Backing:
    """A text without its letters: its panel and its shadows."""

    content: ContentBox


Paintable = Color | LayerBox | SectionBox | ContentBox | FigureBox | Backing


@dataclass(frozen=True, slots=True)
class Group:
    """Neighbours in the stack of a section that move together, the lowest first."""

    motion: Motion
    clip: Rect
    blend: BlendMode
    things: tuple[Paintable, ...]
    arrives: tuple[str, int] | None = None

    @property
    def is_large(self) -> bool:
        """Whether its area is more than is painted at once."""
        return self.motion.width * self.motion.height > _MOST_WHOLE


@dataclass(frozen=True)
class Area:
    """The area of a group, and how its pixels come about.

    Attributes:
        basis: What relative lengths are relative to.
        group: The group.
        shelf: Where its bands are kept; None where it is painted at once.
        is_solid: Whether the lowest of its things is a colour through which nothing shows.
    """

    basis: Basis
    group: Group
    shelf: Shelf[Bytes] | None
    is_solid: bool = False

    def patches(
        self, things: tuple[Paintable, ...], spare: int = 0
    ) -> tuple[Patch, ...] | tuple[StoredPatch, ...]:
        """Some of its things as patches.

        Args:
            things: The things, the lowest first.
            spare: How many px its edges are repeated beyond them.
        """
        if not (self._width and self._height):
            return ()
        if self.shelf is None:
            key = (self.basis, self._width, self._height, things, spare, self.is_solid)
            return _patches.get(key, partial(self._patches, things, spare))
        paint = (
            partial(self._paint_spared_rows, things, spare)
            if spare
            else partial(self._rows, things)
        )
        size = self._width + 2 * spare, self._height + 2 * spare
        return stored_patches(Bands(*size, paint, self.shelf), -spare, -spare)

    def overlay(self) -> Overlay:
        """All of it as pixels that are mixed anew on each frame."""
        things, blend = self.group.things, self.group.blend
        if self.shelf is None:
            key = (self.basis, self._width, self._height, things, blend)
            return _overlays.get(key, self._overlay)
        whole = Bands(self._width, self._height, partial(self._rows, things), self.shelf)
        top, bottom, left, right = _painted_extent(whole.paint(*span) for span in whole.spans())

        def cut(first: int, last: int) -> Bytes:
            return whole.paint(top + first, top + last)[:, left:right]

        return Overlay(left, top, Bands(right - left, bottom - top, cut, self.shelf), blend)

    def _patches(self, things: tuple[Paintable, ...], spare: int) -> tuple[Patch, ...]:
        """Some things, painted at once, as patches."""
        canvas = self._canvas(things)
        if spare:
            canvas = np.pad(canvas, [(spare, spare), (spare, spare), (0, 0)], mode="edge")
        if self.is_solid:
            return (Patch(-spare, -spare, canvas, None),)
        return patches_of(canvas, -spare, -spare)

    def _overlay(self) -> Overlay:
        """All of it, painted at once."""
        canvas = self._canvas(self.group.things)
        top, bottom, left, right = _painted_extent([canvas])
        seen = np.ascontiguousarray(canvas[top:bottom, left:right])
        return Overlay(left, top, seen, self.group.blend)

    def _canvas(self, things: tuple[Paintable, ...]) -> Bytes:
        """Some things, painted at once; what is below the first text is painted for all texts.

        Returns:
            Opaque RGB where they are solid, else premultiplied RGBA.
        """
        texts = [index for index, thing in enumerate(things) if _is_text(thing)]
        below = things[: texts[0]] if texts else ()
        if below:
            key = (self.basis, self._width, self._height, below, self.is_solid)
            canvas = _canvases.get(key, partial(self._canvas, below)).copy()
        else:
            canvas = np.zeros((self._height, self._width, 3 if self.is_solid else 4), np.uint8)
        for thing in things[len(below) :]:
            _paint(canvas, thing, self.basis, 0)
        return canvas

    @property
    def _width(self) -> int:
        return math.ceil(self.group.motion.width)

    @property
    def _height(self) -> int:
        return math.ceil(self.group.motion.height)

    def _rows(self, things: tuple[Paintable, ...], first: int, last: int) -> Bytes:
        """Rows of some things, painted onto a clear canvas."""
        # What is blurred at an edge of the rows is painted beyond it as well.
        reach = max((_reach(thing, self.basis) for thing in things), default=0)
        low, high = max(first - reach, 0), min(last + reach, self._height)
        canvas = np.zeros((high - low, self._width, 4), dtype=np.uint8)
        for thing in things:
            _paint(canvas, thing, self.basis, low)
        return canvas[first - low : last - low]

    def _paint_spared_rows(
        self, things: tuple[Paintable, ...], spare: int, first: int, last: int
    ) -> Bytes:
        """Rows of some things whose edges are repeated beyond them, counted from there."""
        places = np.clip(np.arange(first - spare, last - spare), 0, self._height - 1)
        low = int(places[0])
        canvas = self._rows(things, low, int(places[-1]) + 1)[places - low]
        return np.pad(canvas, [(0, 0), (spare, spare), (0, 0)], mode="edge")


def _is_text(thing: Paintable) -> bool:
    return isinstance(thing, ContentBox | FigureBox | Backing)


def _painted_extent(pieces: Iterable[Bytes]) -> tuple[int, int, int, int]:
    """The first and after-last row and column that anything is painted on; all 0 for nothing.

    Args:
        pieces: RGBA pixels, from top to bottom, of equal width.
    """
    row, top, bottom = 0, 0, 0
    seen: NDArray[np.bool_] = np.zeros(0, dtype=np.bool_)
    for piece in pieces:
        rows = np.flatnonzero(piece[..., 3].any(axis=1))
        if rows.size:
            top = top if seen.size else row + int(rows[0])
            bottom = row + int(rows[-1]) + 1
            columns = np.asarray(piece[..., 3].any(axis=0))
            seen = seen | columns if seen.size else columns
        row += len(piece)
    across = np.flatnonzero(seen)
    if not across.size:
        return 0, 0, 0, 0
    return top, bottom, int(across[0]), int(across[-1]) + 1


def painted_box(item: Item) -> Rect:
    """The part of a section in which content leaves pixels: its box, its letters and shadows."""
    if isinstance(item, FigureBox):
        reach = figure_reach(item)
    else:
        reach = text_reach(item.text, item.shadows)
    box = item.box
    return Rect(box.left - reach, box.top - reach, box.width + 2 * reach, box.height + 2 * reach)


def _reach(thing: Paintable, basis: Basis) -> int:
    """How many rows away what is painted can change a row."""
    if isinstance(thing, LayerBox):
        return sum(blur_reach(item.deviation(basis)) for item in thing.filters)
    if isinstance(thing, FigureBox):
        return figure_reach(thing)
    content = thing.content if isinstance(thing, Backing) else thing
    if isinstance(content, ContentBox):
        return max((shadow_reach(shadow) for shadow in content.shadows), default=0)
    return 0


def _paint(canvas: Bytes, thing: Paintable, basis: Basis, start: int) -> None:
    """Paint a thing onto rows of its area, the first of which is the row ``start``, in place."""
    match thing:
        case Color():
            paint_color(canvas, thing)
        case SectionBox():
            if thing.border:
                # Its lower edge is snapped as the section's is.
                width, height = whole_px(thing.border), whole_px(thing.height)
                paint_border(canvas, width, thing.edge, start, height)
        case FigureBox():
            paint_figure(canvas, thing, start)
        case LayerBox() | ContentBox() | Backing() if _blend_of(thing) != "normal":
            own = np.zeros((*canvas.shape[:2], 4), dtype=np.uint8)
            _paint_normally(own, thing, basis, start)
            blend_over(canvas, own, _blend_of(thing))
        case LayerBox() | ContentBox() | Backing():
            _paint_normally(canvas, thing, basis, start)


def _paint_letters(canvas: Bytes, content: ContentBox, start: int) -> None:
    """Draw the letters of a text, and those of its links with the lines below them."""
    paint_text(canvas, content.rest.moved(0.0, -start), content.color)
    for link in content.links:
        placed = link.moved(0.0, -start)
        paint_text(canvas, placed.text, link.color)
        for line in placed.underlines:
            paint_panel(canvas, line, 0.0, link.color)


def _blend_of(thing: LayerBox | ContentBox | Backing) -> BlendMode:
    return (thing.content if isinstance(thing, Backing) else thing).blend


def _paint_normally(
    canvas: Bytes, thing: LayerBox | ContentBox | Backing, basis: Basis, start: int
) -> None:
    if isinstance(thing, LayerBox):
        paint_layer(canvas, thing, basis, start)
        return
    content = thing.content if isinstance(thing, Backing) else thing
    text = content.text.moved(0.0, -start) if start else content.text
    if content.panel:
        box = content.box.moved(top=-start)
        paint_panel(canvas, box, content.radius, content.panel)
    lines = [line for link in content.links for line in link.moved(0.0, -start).underlines]
    for shadow in reversed(content.shadows):
        paint_text_shadow(canvas, text, shadow, lines)
    if isinstance(thing, ContentBox):
        _paint_letters(canvas, thing, start)
