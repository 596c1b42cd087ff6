"""Where layers stand on the screen along the scroll."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.backgrounds import Rect
from rising_lantern.layout.screen import Screen
from rising_lantern.layout.sections import LayerBox, SectionBox

_LEAST_PX = 1e-9


@dataclass(frozen=True, slots=True)
class LayerTrack:
    """One layer at some scroll positions; arrays are shaped like the positions.

    Attributes:
        section: The section's name; ``(page)`` for what lies behind the sections.
        index: The layer's place in the plan, topmost 0.
        box: The layer.
        top: Upper edge of the picture, or of the area that copies or fills take up, in px.
        left: Its left edge, in px.
        width: Its width.
        height: Its height.
        opacity: Opacity, 0 to 1.
        visible: How many px of the screen's height it is seen on.
        focus_across: The share of the width of its focus that is seen, 0 to 1; not a number where
            it has none.
        focus_down: The share of its height.
    """

    section: str
    index: int
    box: LayerBox
    top: Floats
    left: Floats
    width: Floats
    height: Floats
    opacity: Floats
    visible: Floats
    focus_across: Floats
    focus_down: Floats

    @property
    def focus(self) -> Floats:
        """The share of its focus that is seen, 0 to 1; not a number where it has none."""
        return self.focus_across * self.focus_down

    def at(self, index: int) -> Rect:
        """The rectangle at one of the positions."""
        edges = (self.left, self.top, self.width, self.height)
        return Rect(*(float(edge[index]) for edge in edges))


def track(
    section: SectionBox, index: int, section_top: Floats, scroll: Floats, screen: Screen
) -> LayerTrack:
    """Follow one layer of a section.

    Args:
        section: The section.
        index: Which of its layers.
        section_top: The section's upper edge on the screen, one for each position.
        scroll: The positions.
        screen: The screen.
    """
    layer = section.layers[index]
    placed = _rectangle(layer)
    area = layer.motion.origin(section_top, scroll)
    scale = layer.motion.scale(scroll)
    left, top = area[0] + scale * placed.left, area[1] + scale * placed.top
    width, height = scale * placed.width, scale * placed.height
    window = section_top + layer.clip.top
    upper, lower = np.maximum(window, 0.0), np.minimum(window + layer.clip.height, screen.height)
    visible = _overlap((top, height), (upper, lower))
    opacity = layer.opacity * layer.motion.opacity(scroll)
    edge = section.box.left + layer.clip.left
    across = max(edge, 0.0), min(edge + layer.clip.width, screen.client_width)
    focus = _focus(layer, area, scale, (across, (upper, lower)))
    return LayerTrack(
        section.name, index, layer, top, left, width, height, opacity, visible, *focus
    )


def _focus(
    layer: LayerBox,
    area: tuple[Floats, Floats],
    scale: Floats,
    windows: tuple[tuple[Floats | float, Floats | float], ...],
) -> list[Floats]:
    """The shares of the width and height of a layer's focus that are seen.

    Args:
        layer: The layer.
        area: The left and upper edge of its area on the screen.
        scale: How many times as large its path makes it.
        windows: The edges of what is seen of it, across and down.
    """
    focus = layer.focus
    if focus is None:
        return [np.full(scale.shape, np.nan)] * 2
    starts = layer.across.start, layer.down.start
    edges, sides = (focus.left, focus.top), (focus.width, focus.height)
    shares = []
    for axis, extent in enumerate(layer.size):
        start = area[axis] + scale * (starts[axis] + edges[axis] * extent)
        length = np.maximum(scale * sides[axis] * extent, _LEAST_PX)
        shares.append(_overlap((start, length), windows[axis]) / length)
    return shares


def _overlap(
    stretch: tuple[Floats, Floats], window: tuple[Floats | float, Floats | float]
) -> Floats:
    """How much of a stretch lies between two edges, in px.

    Args:
        stretch: Where it starts, and how long it is.
        window: The edges.
    """
    low, high = np.maximum(stretch[0], window[0]), np.minimum(stretch[0] + stretch[1], window[1])
    return np.asarray(np.maximum(high - low, 0.0))


def _rectangle(layer: LayerBox) -> Rect:
    """The picture within its area; along an axis on which it repeats, the whole area."""
    left, width = layer.across.start, layer.across.extent
    top, height = layer.down.start, layer.down.extent
    if layer.across.step:
        left, width = 0.0, layer.motion.width
    if layer.down.step:
        top, height = 0.0, layer.motion.height
    return Rect(left, top, width, height)
