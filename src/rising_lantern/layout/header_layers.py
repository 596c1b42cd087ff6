"""Where the pictures and fills of a header stand, for the size that it has."""

from __future__ import annotations

from rising_lantern.css.backgrounds import Rect, tiles
from rising_lantern.css.colors import Color
from rising_lantern.layout.header_styles import HeaderLayer
from rising_lantern.layout.motion import Course, motion_of
from rising_lantern.layout.screen import Screen
from rising_lantern.layout.sections import LayerBox


def layer_box(layer: HeaderLayer, width: float, height: float, screen: Screen) -> LayerBox:
    """A layer of a header of some size, which moves with the header.

    Args:
        layer: The layer.
        width: The width of what it covers, in CSS px.
        height: Its height.
        screen: The screen.
    """
    area, basis = Rect(0.0, 0.0, width, height), screen.basis()
    natural = (layer.picture.width, layer.picture.height) if layer.picture else None
    extent = (width, height)
    size = layer.size.used(extent, natural, basis, layer.repeat)
    left, top = layer.position.used(extent, layer.size.asked(extent, natural, basis), basis)
    return LayerBox(
        motion=motion_of(Course(1.0), area, screen),
        clip=area,
        name=layer.name,
        picture=layer.picture,
        natural=natural,
        size=size,
        across=tiles(layer.repeat[0], width, size[0], left),
        down=tiles(layer.repeat[1], height, size[1], top),
        position=layer.position,
        focus=None,
        fill=layer.fill,
        slides=(layer.name,) if layer.name else (),
        run=None,
        video=None,
        opacity=layer.opacity,
        filters=layer.filters,
        blend="normal",
        is_uniform=isinstance(layer.fill, Color),
    )
