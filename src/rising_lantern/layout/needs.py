"""How many pixels each picture of a page has to have, in closed form from its area."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import Any

from rising_lantern.errors import shortened
from rising_lantern.layout.header_layers import layer_box
from rising_lantern.layout.header_styles import Layers
from rising_lantern.layout.headers import LookBox
from rising_lantern.layout.items import FigureBox
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
        section: The section that it is a layer of, or what the page has behind them; or None.
        layer: The layer, by its index from the topmost.
        header: The header that it is a part of; or None.
        look: The look in which it is.
        row: The row of the header that it is a layer of; None for the header itself.
        part: The part.
        words: What it shows, where it is among the content of the section.
        needed: Width and height in device pixels at which it is as sharp as the screen.
        path: The keys that lead to the place in the plan.
    """

    picture: str
    pixels: tuple[int, int]
    page: str
    viewport: str
    needed: tuple[int, int]
    path: tuple[str | int, ...]
    section: str | None = None
    layer: int | None = None
    header: str | None = None
    look: str | None = None
    row: str | None = None
    part: str | None = None
    words: str = ""

    @property
    def within(self) -> tuple[str | int, ...]:
        """The keys that lead to it in its section, where it is among the content."""
        return (
            self.path[len(("pages", self.page, "sections", self.section)) :] if self.words else ()
        )

    @property
    def place(self) -> str:
        """Where it is, in words."""
        if self.words:
            return f'{self.section}, "{shortened(self.words)}"'
        if self.header is None:
            return f"{self.section}, layer {self.layer}"
        what = self.part or (f"{self.row}, " if self.row else "") + f"layer {self.layer}"
        return f"{self.header}, {what} in {self.look}"

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
        ratio: Device pixels per CSS px for which pictures are prepared; for videos at most one.
        pictures: The plan's pictures.
    """
    needs: list[Need] = []

    def add(
        name: str,
        size: tuple[float, float],
        path: tuple[str | int, ...],
        most: float = ratio,
        **place: Any,
    ) -> None:
        picture = pictures[name]
        # A hair less, so that rounding asks for no more than a whole number of pixels.
        width, height = (math.ceil(length * most - 1e-6) for length in size)
        # A vector has as many pixels as are asked of it.
        own = (width, height) if picture.is_vector else (picture.width, picture.height)
        needs.append(Need(name, own, page.page, page.viewport, (width, height), path, **place))

    for section in page.all_sections:
        for index, layer in enumerate(section.layers):
            if layer.name is not None:
                path = page.path_to(section.name, "layers", index)
                most = min(ratio, 1.0) if layer.video else ratio
                add(layer.name, _largest(layer), path, most, section=section.name, layer=index)
        for item in section.items:
            if isinstance(item, FigureBox) and item.name is not None:
                path = page.path_to(section.name, *item.path)
                size = item.drawn.width, item.drawn.height
                add(item.name, size, path, section=section.name, words=item.words)
    for look in page.header.looks if page.header else ():
        for place, name, size in _of_look(page, look):
            add(name, size, **place)
    return needs


def _of_look(
    page: PageBox, look: LookBox
) -> Iterator[tuple[dict[str, Any], str, tuple[float, float]]]:
    """The pictures of a header in a look: where each is, its name, and how large it is drawn."""
    header = page.header.name if page.header else ""
    here = {"header": header, "look": look.name}
    sets: list[tuple[str | None, Layers, float, float]] = [
        (None, look.layers[0], look.height, look.border)
    ]
    sets += [
        (name, row.layers[0], row.height, row.border)
        for name, row in look.rows.items()
        if row.height > 0
    ]
    for row_name, layers, height, border in sets:
        for index, layer in enumerate(layers):
            if layer.name is not None:
                box = layer_box(layer, look.width - 2 * border, height - 2 * border, page.screen)
                place = {**here, "path": layer.path, "row": row_name, "layer": index}
                yield place, layer.name, box.size
    for name, style in look.styles.items():
        if style.images:
            place = {**here, "path": ("headers", header, "parts", name), "part": name}
            yield place, style.images[-1], (style.width, style.height)


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
