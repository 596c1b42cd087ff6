"""How many pixels each picture of a page has to have, in closed form from its area."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass

from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import LayerBox
from rising_lantern.plan.files.pictures import Picture


@dataclass(frozen=True, slots=True)
class Need:
    """What one picture needs in one place.

    Attributes:
        picture: Its name in the plan.
        pixels: The width and height that it has.
        page: The page.
        viewport: The viewport.
        place: The section and the layer, or the header and the part.
        needed: Width and height in device pixels at which it is as sharp as the screen.
        path: The keys that lead to the place in the plan.
    """

    picture: str
    pixels: tuple[int, int]
    page: str
    viewport: str
    place: str
    needed: tuple[int, int]
    path: tuple[str | int, ...]

    @property
    def enlargement(self) -> float:
        """How many times a pixel of it is enlarged; above 1 it is soft, far below it is waste."""
        return max(a / max(b, 1) for a, b in zip(self.needed, self.pixels, strict=True))

    @property
    def waste(self) -> float:
        """The share of its pixels that this screen does not need, 0 to 1."""
        needed = self.needed[0] * self.needed[1]
        return max(1 - needed / max(self.pixels[0] * self.pixels[1], 1), 0.0)


def needs_of(page: PageBox, ratio: float, pictures: dict[str, Picture]) -> list[Need]:
    """What every picture of a page needs, sections first, then the header in all of its looks.

    Args:
        page: The page at a viewport.
        ratio: Device pixels per CSS px.
        pictures: The plan's pictures.
    """
    drawn: list[tuple[str | None, str, tuple[float, float], tuple[str | int, ...]]] = [
        (
            layer.name,
            f"{section.name}, layer {index}",
            _largest(layer),
            page.path_to(section.name, "layers", index),
        )
        for section in (*page.sections, *((page.ground,) if page.ground else ()))
        for index, layer in enumerate(section.layers)
    ]
    if page.header:
        for look, style in zip(page.header.looks, page.header.styles, strict=True):
            drawn += [
                (
                    part.images[-1] if part.images else None,
                    f"{name} of {look}",
                    (part.width, part.height),
                    ("headers", page.header.name, "parts", name),
                )
                for name, part in style.parts.items()
            ]
    return [
        _need(name, pictures[name], page, (place, path), (size[0] * ratio, size[1] * ratio))
        for name, place, size, path in drawn
        if name is not None
    ]


def _need(
    name: str,
    picture: Picture,
    page: PageBox,
    at: tuple[str, tuple[str | int, ...]],
    device: tuple[float, float],
) -> Need:
    needed = (math.ceil(device[0] - 1e-6), math.ceil(device[1] - 1e-6))
    # A vector has as many pixels as are asked of it.
    pixels = needed if picture.is_vector else (picture.width, picture.height)
    return Need(name, pixels, page.page, page.viewport, at[0], needed, at[1])


def _largest(layer: LayerBox) -> tuple[float, float]:
    """Width and height of a layer's picture where its path makes it largest."""
    path = layer.motion.path
    scale = max(float(path.scale(s)) for s in path.kinks(())) if path else 1.0
    return layer.size[0] * scale, layer.size[1] * scale


def greatest(needs: Iterable[Need]) -> list[Need]:
    """For each picture and viewport the place that asks most of it, in the order of both."""
    found: dict[tuple[str, str], Need] = {}
    for need in needs:
        key = (need.picture, need.viewport)
        if key not in found or need.needed > found[key].needed:
            found[key] = need
    return list(found.values())
