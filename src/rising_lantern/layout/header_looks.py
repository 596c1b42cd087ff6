"""Laying out a header on a screen: the used values of each of its looks."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.layout.fonts import ENGLISH, FontBook, Script
from rising_lantern.layout.header_styles import HeaderLayer, Layers, PartStyle, RowStyle
from rising_lantern.layout.headers import (
    MOST_HEADER_PX,
    PLAIN,
    HeaderBox,
    HeaderPart,
    LinkInk,
    LookBox,
)
from rising_lantern.layout.screen import Screen, centered, font_px
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.base import Auto
from rising_lantern.plan.models.headers import Header, Look, Part, PartLook, states_in


@dataclass(frozen=True, slots=True)
class Surroundings:
    """What a header is laid out in.

    Attributes:
        screen: The screen.
        fonts: The plan's fonts.
        pictures: The plan's pictures, by name.
        within: The left edge and the width of its container, in CSS px.
        home: The section that it sticks within; None for the page or a container.
        script: The language and direction of the page.
    """

    screen: Screen
    fonts: FontBook
    pictures: Mapping[str, Picture]
    within: tuple[float, float]
    home: str | None
    script: Script = ENGLISH


def lay_out_header(name: str, entry: Header, on: Surroundings) -> HeaderBox:
    """Lay out a header on a screen, in each of its looks.

    Args:
        name: Its name in the plan.
        entry: Its values in the plan.
        on: What it is laid out in.
    """
    screen = on.screen
    tall = screen.basis(whole=screen.large_height)
    bare = HeaderBox(
        name=name,
        screen=screen,
        position=entry.position,
        inset=0.0 if entry.position == "static" else entry.top.px(tall),
        z=entry.z,
        starts_under=entry.starts_under,
        hold_space=entry.hold_space,
        home=on.home,
        container=entry.container.px(tall) if entry.container else None,
        gap=entry.gap.px(screen.basis()),
        parts={
            part_name: _part(part_name, part, next(iter(entry.rows), None), on)
            for part_name, part in entry.parts.items()
        },
        looks=(),
        by_tone={},
        is_rtl=on.script.direction == "rtl",
    )
    looks: list[LookBox] = []
    for look_name, look in (entry.looks or {PLAIN: Look()}).items():
        standing = looks[-1].flow_height if look.arrive and looks else None
        looks.append(_look(bare, entry, (look_name, look), on, standing))
    names = [look.name for look in looks]
    by_tone: dict[str, int] = {
        tone: names.index(look_name) for tone, look_name in entry.under.items()
    }
    return replace(bare, looks=tuple(looks), by_tone=by_tone)


def _part(name: str, part: Part, first_row: str | None, on: Surroundings) -> HeaderPart:
    face = None if part.text is None else on.fonts.face(part.font, part.weight, on.script)
    return HeaderPart(
        name=name,
        words=part.text or (),
        face=face,
        weight=part.weight,
        gap=part.gap,
        side=part.side,
        row=part.row or first_row,
        is_logo=part.logo,
        least_contrast=part.least_contrast,
    )


def _look(
    header: HeaderBox,
    entry: Header,
    named: tuple[str, Look],
    on: Surroundings,
    standing: float | None,
) -> LookBox:
    name, look = named
    screen = on.screen
    tall, wide = screen.basis(whole=screen.large_height), screen.basis(whole=screen.client_width)
    border, padding = look.border or entry.border, entry.padding_in(name)
    # A header that arrives is one of its own, on the screen wherever the first one lives.
    within = (0.0, float(screen.client_width)) if standing is not None else on.within
    left, width = _span(entry, on, within)
    styles = {
        part_name: _part_style(part, look.part(part_name), _text_color(entry, part, name), on)
        for part_name, part in entry.parts.items()
    }
    rows = {row: _row(header, entry, (name, row), styles, on) for row in entry.rows}
    edge = border.used(tall) if border else 0.0
    height = sum(row.height for row in rows.values())
    if not rows:
        height = _height(header, entry, (name, None), styles, edge)
    bare = LookBox(
        name=name,
        start=look.from_,
        back=look.back,
        change=entry.change_to(name),
        arrive=look.arrive,
        going=look.going,
        after=look.after.px(tall),
        height=min(height, MOST_HEADER_PX),
        fills=(look.background or entry.background,),
        shares=(1.0,),
        layers=(_layers(header.name, entry, name, on),),
        layer_shares=(1.0,),
        color=look.color or entry.color,
        shadow=tuple(
            shadow.used(tall) for shadow in (entry.shadow if look.shadow is None else look.shadow)
        ),
        padding=padding.left.px(wide),
        lean=padding.top.px(wide) - padding.bottom.px(wide),
        border=edge,
        edge=border.color if border else TRANSPARENT,
        blur=(look.blur or entry.blur).px(tall),
        left=left,
        width=width,
        standing=standing,
        rows=rows,
        styles=styles,
        parts={},
        links={
            part_name: inks
            for part_name, part in entry.parts.items()
            if (inks := tuple(_link_inks(part, look.part(part_name), styles[part_name].color)))
        },
    )
    return replace(bare, parts=header.place_parts(bare))


def _layers(
    header: str, entry: Header, look: str, on: Surroundings, row: str | None = None
) -> Layers:
    """The pictures and fills of a header in a look, or of one of its rows."""
    own, layers = entry.look(look).layers, entry.layers_in(look)
    place: tuple[str, ...] = ()
    if row is not None:
        own, layers = entry.look(look).row(row).layers, entry.row_in(look, row).layers
        place = ("rows", row)
    path = ("headers", header, *(("looks", look) if own is not None else ()), *place, "layers")
    return tuple(
        HeaderLayer(
            name=layer.image,
            picture=on.pictures[layer.image] if layer.image else None,
            fill=layer.fill,
            size=layer.size,
            position=layer.position,
            repeat=layer.repeat,
            opacity=layer.opacity,
            filters=layer.filter,
            path=(*path, index),
        )
        for index, layer in enumerate(layers)
    )


def _row(
    header: HeaderBox,
    entry: Header,
    place: tuple[str, str],
    styles: Mapping[str, PartStyle],
    on: Surroundings,
) -> RowStyle:
    """The used values of a row in a look, both by their names."""
    look, name = place
    row, padding = entry.row_in(look, name), entry.padding_in(look, name)
    screen = on.screen
    tall, wide = screen.basis(whole=screen.large_height), screen.basis(whole=screen.client_width)
    border = 0.0 if row.hidden or row.border is None else row.border.used(tall)
    return RowStyle(
        height=0.0 if row.hidden else _height(header, entry, place, styles, border),
        fill=row.background or TRANSPARENT,
        layers=(_layers(header.name, entry, look, on, name),),
        layer_shares=(1.0,),
        padding=padding.left.px(wide),
        lean=padding.top.px(wide) - padding.bottom.px(wide),
        border=border,
        edge=row.border.color if row.border else TRANSPARENT,
        clips=any(entry.row_in(item, name).hidden for item in entry.looks or [look]),
    )


def _height(
    header: HeaderBox,
    entry: Header,
    place: tuple[str, str | None],
    styles: Mapping[str, PartStyle],
    border: float,
) -> float:
    """The height of a row in a look, or of a header without rows: its own, or around its parts."""
    look, row = place
    screen, height = header.screen, entry.height_in(look, row)
    if not isinstance(height, Auto):
        return max(height.px(screen.basis(whole=screen.large_height)), 0.0)
    shown = [
        styles[name]
        for name, part in header.parts.items()
        if part.row == row and not styles[name].hidden
    ]
    # It is a number of the style sheet, which does not follow the size of a reader's text.
    heights = [
        style.box_height if style.images else style.box_height / screen.text_scale
        for style in shown
    ]
    padding, wide = entry.padding_in(look, row), screen.basis(whole=screen.client_width)
    room = padding.top.px(wide) + padding.bottom.px(wide)
    return max(heights, default=0.0) + room + 2 * border


def _text_color(entry: Header, part: Part, look: str) -> Color:
    """The colour that texts have around a part: that of its row, or of the header."""
    name = part.row or next(iter(entry.rows), None)
    own = None if name is None else entry.row_in(look, name).color
    return own or entry.look(look).color or entry.color


def _span(entry: Header, on: Surroundings, within: tuple[float, float]) -> tuple[float, float]:
    """Its left edge and its width, in the middle of a stretch given by its own left and width."""
    width = max(entry.width.px(on.screen.basis(whole=within[1])), 0.0)
    from_right = on.script.direction == "rtl"
    return within[0] + centered(width, within[1], from_right=from_right), width


def _link_inks(part: Part, change: PartLook, color: Color) -> Iterator[LinkInk]:
    """The states of a part's links that have colours of their own, in a look."""
    for name, state in states_in(part, change).items():
        if state.color is not None or state.background is not None:
            yield LinkInk(name, state.color or color, state.background)


def _part_style(part: Part, change: PartLook, color: Color, on: Surroundings) -> PartStyle:
    size = font_px(change.size or part.size, on.screen)
    own = change.color or part.color
    hidden = part.hidden if change.hidden is None else change.hidden
    name = change.image or part.image
    if name is None:
        return PartStyle((), (), 0.0, 0.0, size, own or color, hidden, own, leading=part.leading)
    picture = on.pictures[name]
    asked = change.width or part.width
    width = float(picture.width)
    if asked:
        width = max(asked.px(on.screen.basis(whole=on.screen.client_width)), 0.0)
    height = width * picture.height / picture.width
    tinted = part.tint is not None
    return PartStyle((name,), (1.0,), width, height, size, own or color, hidden, own, tinted)
