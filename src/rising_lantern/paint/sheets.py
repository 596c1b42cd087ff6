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
from rising_lantern.errors import RequestError
from rising_lantern.layout.motion import Motion, motion_of
from rising_lantern.layout.pages import ContentBox, LayerBox, PageBox, SectionBox
from rising_lantern.paint.fills import paint_color, paint_layer, paint_panel
from rising_lantern.paint.patches import Patch, patches_of
from rising_lantern.paint.texts import paint_text, paint_text_shadow
from rising_lantern.plan.files import Picture

_SPARE = 2
MOST_PIXELS = 80_000_000


@dataclass(frozen=True, slots=True)
class Sheet:
    """Pixels of a section that move together.

    Attributes:
        motion: How they move, and the area that they are painted over.
        patches: The pixels, from the sheet's first row, which stands at the area's top.
    """

    motion: Motion
    patches: tuple[Patch, ...]


Paintable = Color | LayerBox | ContentBox
Pictures = dict[str, Picture]


def sheets_of(page: PageBox, section: SectionBox, pictures: Pictures) -> tuple[Sheet, ...]:
    """The sheets of a section, the lowest first. The lowest covers the section and is opaque.

    Raises:
        RequestError: Where they would take more than 80 megapixels each.
    """
    groups = _grouped(page, section)
    _check_size(page, section, groups)
    first, *others = groups
    sheets = [_lowest(page, first, pictures)]
    sheets += [_upper(page, group, pictures) for group in others]
    # What lies under an opaque sheet is never seen.
    hiding = [index for index, sheet in enumerate(sheets) if _covers(sheet)]
    return tuple(sheets[max(hiding, default=0) :])


@dataclass(frozen=True, slots=True)
class Group:
    """Neighbours in the stack of a section that move at one speed, the lowest first."""

    motion: Motion
    things: tuple[Paintable, ...]


def _grouped(page: PageBox, section: SectionBox) -> list[Group]:
    """What a section paints, in runs of one speed."""
    still = motion_of(1.0, 0.0, (page.screen.client_width, section.height), page.screen.height)
    things: list[tuple[Motion | None, Paintable]] = [(None, page.background)]
    if section.entry.background:
        things.append((None, section.entry.background))
    things += [
        (None if layer.entry.is_uniform else layer.motion, layer)
        for layer in reversed(section.layers)
    ]
    things += [(still, content) for content in section.content]
    runs: list[tuple[Motion | None, tuple[Paintable, ...]]] = []
    for motion, thing in things:
        below = runs[-1][0] if runs else None
        if runs and (motion is None or below is None or motion == below):
            runs[-1] = (below if motion is None else motion, (*runs[-1][1], thing))
        else:
            runs.append((motion, (thing,)))
    return [Group(still if motion is None else motion, members) for motion, members in runs]


def _lowest(page: PageBox, group: Group, pictures: Pictures) -> Sheet:
    """The sheet that all others lie on: opaque, painted as one."""
    canvas = _canvas(group.motion)
    paint_color(canvas, WHITE)  # the browser's own canvas
    for thing in group.things:
        _paint(canvas, thing, page, pictures)
    if len(canvas) and not _is_on_whole_px(group.motion):
        # A moving sheet stands between px; its edges serve where rounding reaches beyond.
        canvas = np.pad(canvas, [(_SPARE, _SPARE), (_SPARE, _SPARE), (0, 0)], mode="edge")
        return Sheet(group.motion, patches_of(canvas, -_SPARE, -_SPARE))
    return Sheet(group.motion, patches_of(canvas))


def _upper(page: PageBox, group: Group, pictures: Pictures) -> Sheet:
    """A sheet that others show through: each thing by itself, so that few pixels are laid."""
    patches: list[Patch] = []
    for thing in group.things:
        canvas = _canvas(group.motion)
        _paint(canvas, thing, page, pictures)
        patches += patches_of(canvas)
    return Sheet(group.motion, tuple(patches))


def _canvas(motion: Motion) -> Bytes:
    return np.zeros((math.ceil(motion.height), math.ceil(motion.width), 4), dtype=np.uint8)


def _check_size(page: PageBox, section: SectionBox, groups: list[Group]) -> None:
    """Refuse what would not fit into memory, before it is painted."""
    for group in groups:
        if group.motion.width * group.motion.height > MOST_PIXELS:
            size = f"{group.motion.width:,.0f} x {group.motion.height:,.0f} px"
            raise RequestError(
                f"section '{section.name}' of page '{page.page}' at '{page.viewport}' takes {size} "
                f"to paint; {MOST_PIXELS // 1_000_000} megapixels are the most: split the section, "
                "or slow its layers down"
            )


def _is_on_whole_px(motion: Motion) -> bool:
    return motion.speed in {0.0, 1.0} and motion.drift == 0


def _paint(canvas: Bytes, thing: Paintable, page: PageBox, pictures: Pictures) -> None:
    match thing:
        case Color():
            paint_color(canvas, thing)
        case LayerBox():
            paint_layer(canvas, thing, pictures, page.screen.basis())
        case ContentBox():
            if thing.entry.panel:
                paint_panel(canvas, thing.box, thing.radius, thing.entry.panel.color)
            for shadow in reversed(thing.shadows):
                paint_text_shadow(canvas, thing.text, shadow)
            paint_text(canvas, thing.text, thing.entry.color)


def _covers(sheet: Sheet) -> bool:
    """Whether a sheet is opaque all over its area."""
    if len(sheet.patches) != 1:
        return False
    patch = sheet.patches[0]
    tall = patch.top <= 0 and patch.top + patch.height >= math.ceil(sheet.motion.height)
    right = patch.left + patch.color.shape[1]
    wide = patch.left <= 0 and right >= math.ceil(sheet.motion.width)
    return patch.rest is None and tall and wide
