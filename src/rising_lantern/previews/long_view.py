"""The long scene: a whole page as one tall picture, without its header."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from PIL import Image

from rising_lantern.css.compositing import Bytes
from rising_lantern.scenes.scene import Scene

_TALL, _NARROW, _TALLEST = 1400, 96, 12_000  # px of the picture
_MOST_FRAMES = 400  # of a section


@dataclass(frozen=True, eq=False)
class LongView:
    """A whole page as one picture.

    Attributes:
        pixels: The picture, RGB.
        scale: Its px for each CSS px of the page.
        height: How high the page is, in CSS px.
    """

    pixels: Bytes
    scale: float
    height: int


def long_view(scene: Scene) -> LongView:
    """Draw a page as one tall picture: each section as it looks in the middle of the screen.

    What is higher than the screen is drawn in pieces as high as that.

    Args:
        scene: The page at a viewport.
    """
    screen, end = scene.box.screen, scene.max_scroll
    height = end + screen.height
    scale = max(min(_TALL / height, 1.0), _NARROW / screen.client_width)
    scale = min(scale, _TALLEST / height, 1.0)
    width = max(round(screen.client_width * scale), 1)
    pixels = np.empty((max(round(height * scale), 1), width, 3), dtype=np.uint8)
    edges = _edges(scene, height)
    places = [
        min(max((first + last - screen.height) / 2, 0.0), float(end))
        for first, last in pairwise(edges)
    ]
    for frame, place, first, last in zip(
        scene.page_rows([round(place) for place in places]), places, edges, edges[1:], strict=False
    ):
        low, high = round(first * scale), round(last * scale)
        if low >= high:
            continue
        top = min(max(first - round(place), 0.0), screen.height - 1.0)
        bottom = min(max(last - round(place), top + 1.0), float(screen.height))
        box = (0.0, top, float(screen.client_width), bottom)
        strip = Image.fromarray(frame).resize(
            (width, high - low), Image.Resampling.BOX, box, reducing_gap=2.0
        )
        pixels[low:high] = np.asarray(strip)
    return LongView(pixels, scale, height)


def _edges(scene: Scene, height: int) -> list[float]:
    """Where the pieces of a page meet: at its sections, and within those that exceed the screen."""
    screen = scene.box.screen.height
    room = scene.box.flow.room(0)
    found = {0.0, float(height)}
    for section in scene.box.sections:
        found |= {room + section.top, room + section.top + section.height}
    sections = sorted(edge for edge in found if 0 <= edge <= height)
    edges = sections[:1]
    for first, last in pairwise(sections):
        count = min(math.ceil((last - first) / screen), _MOST_FRAMES)
        edges += [first + (last - first) * (index + 1) / count for index in range(count)]
    return edges
