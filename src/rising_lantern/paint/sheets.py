"""Sheets: what a section paints, one sheet for each speed at which it moves.

A section's background, layers and content, from the lowest to the topmost, are laid together as
long as they move together. Laying over is associative, so a colour all over, whose motion cannot
be seen, joins whatever is just below it.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from rising_lantern.css.colors import WHITE, Color
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
Pictures = dict[str, Picture]


def sheets_of(page: PageBox, section: SectionBox, pictures: Pictures) -> tuple[Sheet, ...]:
    """The sheets of a section, the lowest first. The lowest covers the section and is opaque."""
    first, *others = _grouped(page, section)
    sheets = [_lowest(page, section, first, pictures)]
    sheets += [_upper(page, section, group, pictures) for group in others]
    # What lies under an opaque sheet is never seen.
    hiding = [index for index, sheet in enumerate(sheets) if _covers(sheet, section, page)]
    return tuple(sheets[max(hiding, default=0) :])


def area_height(rate: float, section: SectionBox, page: PageBox) -> float:
    """The height of the positioning area of what moves at some speed, in CSS px."""
    return rate * section.height + (1 - rate) * page.screen.height


@dataclass(frozen=True, slots=True)
class Group:
    """Neighbours in the stack of a section that move at one speed, the lowest first."""

    rate: float
    things: tuple[Paintable, ...]


def _grouped(page: PageBox, section: SectionBox) -> list[Group]:
    """What a section paints, in runs of one speed."""
    things: list[tuple[float | None, Paintable]] = [(None, page.background)]
    if section.entry.background:
        things.append((None, section.entry.background))
    things += [
        (None if layer.entry.is_uniform else layer.entry.rate, layer)
        for layer in reversed(section.layers)
    ]
    things += [(_PAGE_RATE, content) for content in section.content]
    runs: list[tuple[float | None, tuple[Paintable, ...]]] = []
    for rate, thing in things:
        below = runs[-1][0] if runs else None
        if runs and (rate is None or below is None or rate == below):
            runs[-1] = (below if rate is None else rate, (*runs[-1][1], thing))
        else:
            runs.append((rate, (thing,)))
    return [Group(_PAGE_RATE if rate is None else rate, members) for rate, members in runs]


def _lowest(page: PageBox, section: SectionBox, group: Group, pictures: Pictures) -> Sheet:
    """The sheet that all others lie on: opaque, painted as one."""
    canvas = _canvas(page, section, group.rate)
    paint_color(canvas, WHITE)  # the browser's own canvas
    for thing in group.things:
        _paint(canvas, thing, page, pictures)
    if group.rate not in {0.0, 1.0} and len(canvas):
        # A moving sheet stands between px; its last row serves where rounding reaches beyond.
        canvas = np.concatenate([canvas, np.repeat(canvas[-1:], _SPARE_ROWS, axis=0)])
    return Sheet(group.rate, patches_of(canvas))


def _upper(page: PageBox, section: SectionBox, group: Group, pictures: Pictures) -> Sheet:
    """A sheet that others show through: each thing by itself, so that few pixels are laid."""
    patches: list[Patch] = []
    for thing in group.things:
        canvas = _canvas(page, section, group.rate)
        _paint(canvas, thing, page, pictures)
        patches += patches_of(canvas)
    return Sheet(group.rate, tuple(patches))


def _canvas(page: PageBox, section: SectionBox, rate: float) -> Bytes:
    height = math.ceil(area_height(rate, section, page))
    return np.zeros((height, page.screen.client_width, 4), dtype=np.uint8)


def _paint(canvas: Bytes, thing: Paintable, page: PageBox, pictures: Pictures) -> None:
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
        return False
    patch = sheet.patches[0]
    tall = patch.height >= math.ceil(area_height(sheet.rate, section, page))
    wide = patch.color.shape[1] == page.screen.client_width
    return patch.rest is None and patch.top == 0 and tall and wide
