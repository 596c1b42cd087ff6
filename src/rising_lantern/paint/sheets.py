"""Sheets: what a section paints, one sheet for each speed at which it moves.

A section's background, layers and content, from the lowest to the topmost, are laid together as
long as they move together. Laying over is associative, so a colour all over, whose motion cannot
be seen, joins whatever is just below it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.pages import ContentBox, LayerBox, PageBox, SectionBox
from rising_lantern.paint.fills import paint_color, paint_layer, paint_panel
from rising_lantern.paint.patches import Patch, patches_of
from rising_lantern.paint.texts import paint_text
from rising_lantern.plan.files import Picture

_PAGE_RATE = 1.0
_SPARE_ROWS = 2


@dataclass(frozen=True, slots=True)
class Sheet:
    """Pixels of a section that move together.

    Attributes:
        rate: Pixels up the screen per pixel scrolled.
        patches: The pixels, from the sheet's first row, which stands at the area's top.
    """

    rate: float
    patches: tuple[Patch, ...]


Paintable = Color | LayerBox | ContentBox


def sheets_of(
    page: PageBox, section: SectionBox, pictures: dict[str, Picture]
) -> tuple[Sheet, ...]:
    """The sheets of a section, the lowest first. The lowest covers the section and is opaque."""
    groups = _grouped(page, section)
    sheets = [
        _painted(page, section, rate, things, pictures, opaque=index == 0)
        for index, (rate, things) in enumerate(groups)
    ]
    # What lies under an opaque sheet is never seen.
    lowest = max(index for index, sheet in enumerate(sheets) if _covers(sheet, section, page))
    return tuple(sheets[lowest:])


def area_height(rate: float, section: SectionBox, page: PageBox) -> float:
    """The height of the positioning area of what moves at some speed, in CSS px."""
    return rate * section.height + (1 - rate) * page.screen.height


def _grouped(page: PageBox, section: SectionBox) -> list[tuple[float, list[Paintable]]]:
    """What a section paints, in runs of one speed."""
    things: list[tuple[float | None, Paintable]] = [(None, page.background)]
    if section.entry.background:
        things.append((None, section.entry.background))
    for layer in reversed(section.layers):
        things.append((None if layer.entry.is_uniform else layer.entry.rate, layer))
    things += [(_PAGE_RATE, content) for content in section.content]
    groups: list[tuple[float | None, list[Paintable]]] = []
    for rate, thing in things:
        current = groups[-1] if groups else None
        if current and (rate is None or current[0] is None or rate == current[0]):
            groups[-1] = (current[0] if rate is None else rate, [*current[1], thing])
        else:
            groups.append((rate, [thing]))
    return [(_PAGE_RATE if rate is None else rate, members) for rate, members in groups]


def _painted(  # noqa: PLR0913 - what to paint, where, and on what
    page: PageBox,
    section: SectionBox,
    rate: float,
    things: list[Paintable],
    pictures: dict[str, Picture],
    *,
    opaque: bool,
) -> Sheet:
    height = math.ceil(area_height(rate, section, page))
    canvas = np.zeros((height, page.screen.client_width, 4), dtype=np.uint8)
    if opaque:
        paint_color(canvas, Color(1.0, 1.0, 1.0))  # the browser's own canvas
    for thing in things:
        _paint(canvas, thing, page, pictures)
    if rate not in {0.0, 1.0} and height:
        # A moving sheet stands between px; its last row serves where rounding reaches beyond.
        canvas = np.concatenate([canvas, np.repeat(canvas[-1:], _SPARE_ROWS, axis=0)])
    return Sheet(rate, patches_of(canvas))


def _paint(canvas: Bytes, thing: Paintable, page: PageBox, pictures: dict[str, Picture]) -> None:
    match thing:
        case Color():
            paint_color(canvas, thing)
        case LayerBox():
            paint_layer(canvas, thing, pictures, page.screen.basis())
        case ContentBox():
            if thing.entry.panel:
                paint_panel(canvas, thing.box, thing.radius, thing.entry.panel.color)
            paint_text(canvas, thing.text, thing.entry.color)


def _covers(sheet: Sheet, section: SectionBox, page: PageBox) -> bool:
    """Whether a sheet is opaque all over its area."""
    if len(sheet.patches) != 1:
        return sheet.rate == _PAGE_RATE and section.height == 0
    patch = sheet.patches[0]
    tall = patch.height >= math.ceil(area_height(sheet.rate, section, page))
    wide = patch.color.shape[1] == page.screen.client_width
    return patch.rest is None and patch.top == 0 and tall and wide
