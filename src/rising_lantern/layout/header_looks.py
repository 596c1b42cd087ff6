"""Laying out a header on a screen: the used values of each of its looks."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace

from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.layout.fonts import ENGLISH, FontBook, Script
from rising_lantern.layout.headers import (
    MOST_HEADER_PX,
    PLAIN,
    HeaderBox,
    HeaderLayer,
    HeaderPart,
    Layers,
    LookBox,
    PartStyle,
    RowStyle,
)
from rising_lantern.layout.screen import Screen, font_px
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.headers import Header, Look, Part, PartLook


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
    border = look.border or entry.border
    # A header that arrives is one of its own, on the screen wherever the first one lives.
    within = (0.0, float(screen.client_width)) if standing is not None else on.within
    left, width = _span(entry, screen, within)
    bare = LookBox(
        name=name,
        start=look.from_,
        back=look.back,
        change=entry.change_to(name),
        arrive=look.arrive,
        going=look.going,
        after=look.after.px(tall),
        height=min(max(entry.height_in(name).px(tall), 0.0), MOST_HEADER_PX),
        fill=look.background or entry.background,
        layers=_layers(header.name, entry, name, on),
        color=look.color or entry.color,
        shadow=tuple(
            shadow.used(tall) for shadow in (entry.shadow if look.shadow is None else look.shadow)
        ),
        padding=(look.padding or entry.padding).px(wide),
        border=border.used(tall) if border else 0.0,
        edge=border.color if border else TRANSPARENT,
        blur=(look.blur or entry.blur).px(tall),
        left=left,
        width=width,
        standing=standing,
        rows={row_name: _row(header.name, entry, name, row_name, on) for row_name in entry.rows},
        styles={
            part_name: _part_style(part, look.part(part_name), _text_color(entry, part, name), on)
            for part_name, part in entry.parts.items()
        },
        parts={},
    )
    return replace(bare, parts=header.place_parts(bare.styles, bare))


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


def _row(header: str, entry: Header, look: str, name: str, on: Surroundings) -> RowStyle:
    screen, row = on.screen, entry.row_in(look, name)
    tall, wide = screen.basis(whole=screen.large_height), screen.basis(whole=screen.client_width)
    padding = row.padding or entry.look(look).padding or entry.padding
    return RowStyle(
        height=0.0 if row.hidden else max(row.height.px(tall), 0.0),
        fill=row.background or TRANSPARENT,
        layers=(_layers(header, entry, look, on, name),),
        layer_shares=(1.0,),
        padding=padding.px(wide),
        border=0.0 if row.hidden or row.border is None else row.border.used(tall),
        edge=row.border.color if row.border else TRANSPARENT,
        clips=any(entry.row_in(item, name).hidden for item in entry.looks or [look]),
    )


def _text_color(entry: Header, part: Part, look: str) -> Color:
    """The colour that texts have around a part: that of its row, or of the header."""
    name = part.row or next(iter(entry.rows), None)
    own = None if name is None else entry.row_in(look, name).color
    return own or entry.look(look).color or entry.color


def _span(entry: Header, screen: Screen, within: tuple[float, float]) -> tuple[float, float]:
    """Its left edge and its width, in the middle of a stretch given by its own left and width.

    CSS 2, 10.3.3: auto margins of a box that is too wide are zero.

    Source: https://www.w3.org/TR/CSS22/visudet.html#blockwidth
    """
    width = max(entry.width.px(screen.basis(whole=within[1])), 0.0)
    return within[0] + max((within[1] - width) / 2, 0.0), width


def _part_style(part: Part, change: PartLook, color: Color, on: Surroundings) -> PartStyle:
    size = font_px(change.size or part.size, on.screen)
    own = change.color or part.color
    hidden = part.hidden if change.hidden is None else change.hidden
    name = change.image or part.image
    if name is None:
        return PartStyle((), (), 0.0, 0.0, size, own or color, hidden, own)
    picture = on.pictures[name]
    asked = change.width or part.width
    width = float(picture.width)
    if asked:
        width = max(asked.px(on.screen.basis(whole=on.screen.client_width)), 0.0)
    height = width * picture.height / picture.width
    tinted = part.tint is not None
    return PartStyle((name,), (1.0,), width, height, size, own or color, hidden, own, tinted)
