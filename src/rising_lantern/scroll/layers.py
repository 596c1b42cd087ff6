"""Where layers stand on the screen along the scroll."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.backgrounds import Box
from rising_lantern.layout.pages import LayerBox, SectionBox

Floats = NDArray[np.float64]


def area_top(rate: float, section_top: Floats) -> Floats:
    """The upper edge of a layer's positioning area on the screen, in px.

    A layer of speed v meets its section's upper edge when that is at the top of the screen, and
    moves v px per px scrolled: its area stands at ``v * (T - s)``.

    Args:
        rate: The speed v.
        section_top: ``T - s``, the section's upper edge on the screen, of any shape.
    """
    return rate * section_top


@dataclass(frozen=True, slots=True)
class LayerTrack:
    """One layer at some scroll positions; arrays are shaped like the positions.

    Attributes:
        section: The section's name.
        index: The layer's place in the plan, topmost 0.
        box: The layer.
        top: Upper edge of the picture, or of the area that copies or fills take up, in px.
        left: Its left edge.
        width: Its width.
        height: Its height.
        visible: How many px of the screen's height it is seen on.
    """

    section: str
    index: int
    box: LayerBox
    top: Floats
    left: float
    width: float
    height: float
    visible: Floats

    def at(self, place: int) -> Box:
        """The rectangle at one of the positions."""
        return Box(self.left, float(self.top[place]), self.width, self.height)


def track(section: SectionBox, index: int, section_top: Floats, screen_height: int) -> LayerTrack:
    """Follow one layer of a section.

    Args:
        section: The section.
        index: Which of its layers.
        section_top: The section's upper edge on the screen, one for each position.
        screen_height: Height of the screen in CSS px.
    """
    layer = section.layers[index]
    placed = _rectangle(layer)
    top = area_top(layer.entry.rate, section_top) + placed.top
    high = np.maximum(np.maximum(top, section_top), 0.0)
    low = np.minimum(np.minimum(top + placed.height, section_top + section.height), screen_height)
    visible = np.maximum(low - high, 0.0)
    return LayerTrack(
        section.name, index, layer, top, placed.left, placed.width, placed.height, visible
    )


def _rectangle(layer: LayerBox) -> Box:
    """The picture within its area; along an axis on which it repeats, the whole area."""
    left, width = layer.across.start, layer.across.extent
    top, height = layer.down.start, layer.down.extent
    if layer.across.step:
        left, width = 0.0, layer.area[0]
    if layer.down.step:
        top, height = 0.0, layer.area[1]
    return Box(left, top, width, height)
