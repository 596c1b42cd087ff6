"""Where layers stand on the screen along the scroll."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.backgrounds import Box
from rising_lantern.layout.sections import LayerBox, SectionBox

Floats = NDArray[np.float64]


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

    def at(self, index: int) -> Box:
        """The rectangle at one of the positions."""
        edges = (self.left, self.top, self.width, self.height)
        return Box(*(float(edge[index]) for edge in edges))


def track(
    section: SectionBox, index: int, section_top: Floats, scroll: Floats, screen_height: int
) -> LayerTrack:
    """Follow one layer of a section.

    Args:
        section: The section.
        index: Which of its layers.
        section_top: The section's upper edge on the screen, one for each position.
        scroll: The positions.
        screen_height: Height of the screen in CSS px.
    """
    layer = section.layers[index]
    placed = _rectangle(layer)
    area = layer.motion.origin(section_top, scroll)
    scale = layer.motion.scale(scroll)
    left, top = area[0] + scale * placed.left, area[1] + scale * placed.top
    width, height = scale * placed.width, scale * placed.height
    window = section_top + layer.clip.top
    high = np.maximum(np.maximum(top, window), 0.0)
    low = np.minimum(np.minimum(top + height, window + layer.clip.height), screen_height)
    visible = np.maximum(low - high, 0.0)
    opacity = layer.opacity * layer.motion.opacity(scroll)
    return LayerTrack(section.name, index, layer, top, left, width, height, opacity, visible)


def _rectangle(layer: LayerBox) -> Box:
    """The picture within its area; along an axis on which it repeats, the whole area."""
    left, width = layer.across.start, layer.across.extent
    top, height = layer.down.start, layer.down.extent
    if layer.across.step:
        left, width = 0.0, layer.motion.width
    if layer.down.step:
        top, height = 0.0, layer.motion.height
    return Box(left, top, width, height)
