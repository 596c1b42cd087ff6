"""The content of a section: texts, pictures and boxes, placed or flowing in columns.

What flows stands one below the other, or in rows of several columns, from the section's padding
on: the grid of CSS Grid Layout 2 with rows as high as their highest item. Its lines are a whole
number of px high: so WebKit takes them anyway, and sections meet on px.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.grids import used_tracks
from rising_lantern.css.lengths import Length, Term
from rising_lantern.layout.fonts import ENGLISH, Face, FontBook, Script
from rising_lantern.layout.items import ButtonLook, ContentBox, Entrance, FigureBox, Item
from rising_lantern.layout.links import LinkBox, split_links
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.screen import Screen, font_px
from rising_lantern.layout.texts import (
    Align,
    Style,
    TextBlock,
    one_line_size,
    set_text,
    share_of,
)
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.content import (
    Card,
    Content,
    Enter,
    Flowing,
    LinkColors,
    collapsed,
    widest,
)
from rising_lantern.plan.models.pages import Section
from rising_lantern.plan.models.sizes import OneLine
from rising_lantern.plan.text.nodes import Key


@dataclass(frozen=True, slots=True)
class Materials:
    """What content is set with.

    Attributes:
        screen: The screen.
        fonts: The plan's fonts.
        pictures: The plan's pictures.
        script: The language and direction of the page.
    """

    screen: Screen
    fonts: FontBook
    pictures: dict[str, Picture]
    script: Script = ENGLISH

    def face(self, entry: Content) -> Face:
        """What a text is set in."""
        own = Script(entry.lang or self.script.language, entry.dir or self.script.direction)
        return self.fonts.face(entry.font, entry.weight, own)


@dataclass(frozen=True, slots=True)
class Standing:
    """Where a section stands, for what is in it.

    Attributes:
        box: Its border box, from the first section's upper edge.
        settled: How far its upper edge is above the screen's where it is in the middle of the
            screen, in CSS px.
    """

    box: Rect
    settled: float

    def motion(self, speed: float) -> Motion:
        """How the section's box moves for content; at rest that is in its place in the middle."""
        ahead = (speed - 1) * self.settled
        return Motion(speed, 0.0, self.box.left, ahead, self.box.width, self.box.height)


def lay_out_content(
    entry: Section, place: Standing, colors: tuple[Color, LinkColors | None], on: Materials
) -> Iterator[Item]:
    """The content of a section, in the order in which it is painted: first what flows.

    Args:
        entry: The section's values in the plan.
        place: Where it stands.
        colors: Those of texts and of links that have none of their own.
        on: What it is set with.
    """
    context = _Context(place, colors[0], on, colors[1])
    yield from _flow(entry, _flowing(entry), place.box.width, context)[0]
    for index, item in enumerate(entry.content):
        if not flows_in(entry, item):
            yield from _place(item, ("content", index), context)


def flowing_height(entry: Section, width: float, on: Materials) -> float:
    """The height of a section that follows from its content, in CSS px.

    Args:
        entry: The section's values in the plan.
        width: Its width.
        on: What its content is set with.
    """
    context = _Context(Standing(Rect(0.0, 0.0, width, 0.0), 0.0), TRANSPARENT, on)
    height = _flow(entry, _flowing(entry), width, context)[1]
    basis = on.screen.basis(whole=on.screen.large_height)
    return max(height, entry.min_height.px(basis) if entry.min_height else 0)


def flows_in(section: Section, item: Content) -> bool:
    """Whether a content of a section flows in it, rather than being placed."""
    return section.flows and item.at is None


def _flowing(entry: Section) -> list[tuple[tuple[Key, ...], Content]]:
    return [
        (("content", index), item)
        for index, item in enumerate(entry.content)
        if flows_in(entry, item)
    ]


@dataclass(frozen=True, slots=True)
class _Context:
    """What content inherits.

    Attributes:
        place: Where its section stands.
        color: The colour of texts that have none of their own.
        on: What it is set with.
        links: The colours of links that have none of their own; None for those of their texts.
        speed: The speed of the box that it is in; None outside of boxes.
    """

    place: Standing
    color: Color
    on: Materials
    links: LinkColors | None = None
    speed: float | None = None

    def share(self, align: Align) -> float:
        """The share of the room beside a content that is on its left."""
        return share_of(align, self.on.script.direction)

    def motion(self, entry: Content) -> Motion:
        """How the section's box moves for a content."""
        return self.place.motion(entry.speed if self.speed is None else self.speed)


@dataclass(frozen=True, slots=True)
class _Cell:
    """A content with all that is in it, from its upper left corner.

    Attributes:
        items: The content itself first, then what is in it.
        width: In CSS px.
        height: In CSS px.
        share: The share of the room beside it that is on its left.
        stretches: Whether it is as high as its row.
    """

    items: tuple[Item, ...]
    width: float
    height: float
    share: float
    stretches: bool = False

    def moved(self, left: float, top: float, height: float) -> Iterator[Item]:
        """Its items in a row of some height."""
        for index, item in enumerate(self.items):
            if self.stretches and index == 0:
                item = replace(item, box=replace(item.box, height=height))  # noqa: PLW2901
            yield item.moved(left, top)


def _flow(
    holder: Flowing,
    entries: Sequence[tuple[tuple[Key, ...], Content]],
    width: float,
    context: _Context,
    whole: float | None = None,
) -> tuple[list[Item], float]:
    """What flows in a section or box, from its padding box's corner, and the height of it all.

    Args:
        holder: The section or box.
        entries: What flows in it, with the path to each.
        width: The width of its padding box.
        context: What is inherited.
        whole: What percentages of its padding count: the width of the place that it stands in; by
            default its own.
    """
    screen = context.on.screen
    insets, basis = holder.insets, screen.basis(whole=width if whole is None else whole)
    left, top = insets.left.px(basis), insets.top.px(basis)
    inner = max(width - left - insets.right.px(basis), 0.0)
    gaps = holder.gaps.row.px(basis), holder.gaps.column.px(basis)
    tracks = used_tracks(holder.columns, screen.basis(whole=inner), gaps[1])
    if context.on.script.direction == "rtl":
        tracks = [(inner - start - room, room) for start, room in tracks]
    items: list[Item] = []
    for first in range(0, len(entries), len(tracks)):
        top += gaps[0] if first else 0.0
        row = [
            (_cell(entry, path, room, context, flows=True), start, room)
            for (path, entry), (start, room) in zip(
                entries[first : first + len(tracks)], tracks, strict=False
            )
        ]
        height = max(cell.height for cell, _, _ in row)
        for cell, start, room in row:
            # What is wider than its column starts at the column's edge when it is not centred.
            beside = (room - cell.width) * cell.share
            items += cell.moved(left + start + beside, top, height)
        top += height
    return items, top + insets.bottom.px(basis)


def _place(entry: Content, path: tuple[Key, ...], context: _Context) -> Iterator[Item]:
    """A content with a place of its own, as CSS ``background-position`` has it."""
    whole = context.place.box
    cell = _cell(entry, path, whole.width, context, flows=False)
    # What does not fit starts at the upper left corner: there is no free space.
    area = (max(whole.width, cell.width), max(whole.height, cell.height))
    screen = context.on.screen
    basis = screen.basis(font_size=_font_size(entry, whole.width, context, flows=False))
    left, top = entry.place.used(area, (cell.width, cell.height), basis)
    yield from cell.moved(left, top, cell.height)


def _cell(
    entry: Content, path: tuple[Key, ...], room: float, context: _Context, *, flows: bool
) -> _Cell:
    """A content in a room of some width."""
    if entry.text is not None:
        return _text(entry, entry.text, path, room, context, flows=flows)
    if entry.image is not None:
        return _picture(entry, entry.image, path, room, context, flows=flows)
    assert entry.box is not None  # noqa: S101 - one of the three is given
    return _card(entry, entry.box, path, room, context, flows=flows)


def _text(
    entry: Content,
    words: str,
    path: tuple[Key, ...],
    room: float,
    context: _Context,
    *,
    flows: bool,
) -> _Cell:
    screen = context.on.screen
    size = _font_size(entry, room, context, flows=flows)
    basis = screen.basis(font_size=size)
    padding = entry.panel.padding.px(basis) if entry.panel else 0.0
    radius = entry.panel.radius.px(basis) if entry.panel else 0.0
    align = _align(entry, flows=flows)
    face = context.on.face(entry)
    style = Style(face, size, entry.leading, align, whole_lines=flows)
    fills = isinstance(entry.size, OneLine)
    block = set_text(words, style, None if fills else _room(entry, room, size, screen, flows=flows))
    outer = (block.box.width + 2 * padding, block.box.height + 2 * padding)
    block = block.moved(padding, padding)
    color = entry.color or context.color
    rest, linked = split_links(block, collapsed(words), entry.spans)
    item = ContentBox(
        path=path,
        words=words,
        motion=context.motion(entry),
        box=Rect(0.0, 0.0, *outer),
        text=block,
        rest=rest,
        links=tuple(_links(entry, linked, color, context)),
        color=color,
        states=tuple(_states(entry, color)),
        weight=entry.weight,
        panel=entry.panel.color if entry.panel else None,
        radius=radius,
        shadows=tuple(shadow.used(basis) for shadow in entry.shadow),
        blend=entry.blend,
        z=entry.z,
        entrance=_entrance(entry.enter, outer, size, screen) if entry.enter else None,
    )
    return _Cell((item,), *outer, context.share(align))


def _states(entry: Content, color: Color) -> Iterator[ButtonLook]:
    """The states of a button."""
    for name, state in entry.button.states.items() if entry.button else ():
        yield ButtonLook(name, state.color or color, state.background)


def _links(
    entry: Content, blocks: Sequence[TextBlock], color: Color, context: _Context
) -> Iterator[LinkBox]:
    """The links of a text, with the colours of the text or the page."""
    colors = entry.link_color or context.links
    own = colors.color if colors else color
    for words, block in zip(entry.links, blocks, strict=True):
        yield LinkBox(
            words=words,
            text=block,
            color=own,
            visited=(colors.visited if colors else None) or own,
            focus=(colors.focus if colors else None) or own,
            underlined=entry.underline,
        )


def _room(entry: Content, whole: float, size: float, screen: Screen, *, flows: bool) -> float:
    """The width of a text's lines, in a room of some width."""
    asked = widest(entry, flows=flows).px(screen.basis(whole=whole, font_size=size))
    padding = entry.panel.padding.px(screen.basis(font_size=size)) if entry.panel else 0.0
    return max(min(asked, whole - 2 * padding), 0.0)


def _font_size(entry: Content, whole: float, context: _Context, *, flows: bool) -> float:
    """The font size of a text in a room of some width; of other content, that of the page."""
    screen, size = context.on.screen, entry.size
    if entry.text is None:
        return screen.root_font_size
    if not isinstance(size, OneLine):
        return font_px(size, screen)
    face = context.on.face(entry)
    room = _room(entry, whole, 0.0, screen, flows=flows)
    most = font_px(size.most, screen) / screen.text_scale if size.most else None
    return one_line_size(entry.text, face, room, most) * screen.text_scale


def _picture(
    entry: Content,
    name: str,
    path: tuple[Key, ...],
    room: float,
    context: _Context,
    *,
    flows: bool,
) -> _Cell:
    screen, picture = context.on.screen, context.on.pictures[name]
    ratio = picture.width / picture.height
    own = entry.height.px(screen.basis(whole=screen.large_height)) if entry.height else None
    asked = float(picture.width) if own is None else own * ratio
    if entry.width:
        asked = entry.width.px(screen.basis(whole=room))
    width = min(asked, room)
    height = width / ratio if own is None else own
    item = FigureBox(
        path=path,
        words=entry.alt or name,
        motion=context.motion(entry),
        box=Rect(0.0, 0.0, width, height),
        radius=entry.radius.px(screen.basis()),
        shadows=tuple(shadow.used(screen.basis()) for shadow in entry.shadow),
        name=name,
        picture=picture,
        z=entry.z,
    )
    return _Cell((item,), width, height, context.share(_align(entry, flows=flows)))


def _card(
    entry: Content,
    card: Card,
    path: tuple[Key, ...],
    room: float,
    context: _Context,
    *,
    flows: bool,
) -> _Cell:
    screen = context.on.screen
    place = min(widest(entry, flows=flows).px(screen.basis(whole=room)), room)
    border = card.border.used(screen.basis()) if card.border else 0.0
    # No box is narrower than its padding and border; it then hangs over the end of its place.
    basis = screen.basis(whole=place)
    width = max(place, card.insets.left.px(basis) + card.insets.right.px(basis) + 2 * border)
    before = place - width if context.on.script.direction == "rtl" else 0.0
    inherited = replace(
        context,
        color=card.color or context.color,
        speed=entry.speed if context.speed is None else context.speed,
    )
    entries = [((*path, "box", "content", index), item) for index, item in enumerate(card.content)]
    inner, high = _flow(card, entries, width - 2 * border, inherited, place)
    height = high + 2 * border
    item = FigureBox(
        path=path,
        words="",
        motion=context.motion(entry),
        box=Rect(before, 0.0, width, height),
        background=card.background,
        border=border,
        edge=card.border.color if card.border else TRANSPARENT,
        radius=card.radius.px(screen.basis()),
        shadows=tuple(shadow.used(screen.basis()) for shadow in card.shadow),
        z=entry.z,
    )
    inside = [replace(each.moved(before + border, border), z=entry.z) for each in inner]
    share = context.share(_align(entry, flows=flows))
    return _Cell((item, *inside), place, height, share, stretches=flows)


def _align(entry: Content, *, flows: bool) -> Align:
    """The alignment of a content: its own, or that of its place."""
    return entry.align or ("start" if flows else leaning(entry.place.x))


def _entrance(
    enter: Enter, size: tuple[float, float], font_size: float, screen: Screen
) -> Entrance:
    """Percentages count the width and the height of the text, as in CSS ``translate``."""
    x, y = (
        length.px(screen.basis(whole=side, font_size=font_size))
        for length, side in zip((enter.x, enter.y), size, strict=True)
    )
    return Entrance(x, y, enter.opacity, enter.time, enter.easing)


def leaning(x: Length) -> Align:
    """How the lines of a text are aligned that is placed somewhere across its section."""
    if not (isinstance(x.expression, Term) and x.expression.unit == "%"):
        return "start"
    share = x.expression.value
    if 40 <= share <= 60:  # noqa: PLR2004
        return "center"
    return "start" if share < 50 else "end"  # noqa: PLR2004
