"""Texts, pictures and boxes as CSS: placed over a section, or flowing in it."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from rising_lantern.css.lengths import Length, px
from rising_lantern.css.numbers import number
from rising_lantern.exports.motion import MotionWriter
from rising_lantern.exports.names import Naming
from rising_lantern.exports.rules import (
    ON_SCREEN,
    CssRule,
    Statement,
    family,
)
from rising_lantern.exports.sources import ContentSource, SectionSource
from rising_lantern.exports.stillness import Stillness
from rising_lantern.exports.values import Palette
from rising_lantern.layout.content import leaning
from rising_lantern.layout.items import ContentBox, FigureBox
from rising_lantern.layout.links import OFFSET, THICKNESS
from rising_lantern.layout.texts import Align, share_of, widest_line
from rising_lantern.plan.models.content import Content, Flowing, widest
from rising_lantern.plan.models.sizes import OneLine

_PSEUDO = {"hover": ":hover", "focus": ":focus-visible", "pressed": ":active"}
_RING = {"outline": "2px solid currentcolor", "outline-offset": "3px"}
_SPARE = 2  # hundredths of its place by which a text of one line may be too long
_DECIMALS = 4  # of a width in font sizes: 0.05 px of a line that is 2,000 px wide


@dataclass(frozen=True)
class ContentWriter:
    """Writes the rules of what stands over the layers of sections.

    What is placed is in an element that is as large as its section, a grid whose tracks share out
    the room beside it. What flows is in a cell of the grid of its section or box.

    Attributes:
        section: Gives the selector of a section.
        naming: How everything is named.
        palette: How colours are written.
        motion: How motion is written.
        still: What has been found to stand still on paper or for some readers.
        driven: What has been found to move at a speed, by its key frames.
    """

    section: Callable[[SectionSource], str]
    naming: Naming
    palette: Palette
    motion: MotionWriter
    still: Stillness
    driven: dict[str, list[str]]

    def place(self, section: SectionSource, content: ContentSource) -> str:
        """The selector of what a content is placed by: its place or its cell."""
        return f"{self.section(section)} {self.naming.one('content', content.key)}"

    def item(self, section: SectionSource, content: ContentSource) -> str:
        """The selector of a content itself."""
        return f"{self.place(section, content)} > {self.naming.kind(kind_of(content))}"

    def numbers(self, section: SectionSource) -> dict[str, str]:
        """The font sizes of a section's texts, as custom properties."""
        return {
            self.naming.variable(*_size_words(section, content)): content.entry.size.css()
            for content in section.content
            if content.entry.text is not None and not isinstance(content.entry.size, OneLine)
        }

    def statements(self, section: SectionSource) -> Iterator[Statement]:
        """The rules of all content of a section."""
        if any(content.flows and not content.is_nested for content in section.content):
            flow = f"{self.section(section)} > {self.naming.kind('flow')}"
            yield CssRule(flow, _grid(section.entry))
        for content in section.content:
            yield from self._content(section, content)

    def _content(self, section: SectionSource, content: ContentSource) -> Iterator[Statement]:
        place, item = self.place(section, content), self.item(section, content)
        moving: dict[str, str] = {}
        if not content.is_nested:
            moving = self.motion.numbers(section, content)
        standing, moved = self._standing(section, content)
        placed = moving | standing
        if placed:
            yield CssRule(place, placed)
        if moving:
            self.driven.setdefault(self.motion.frames_of(content), []).append(place)
            self.still.add(place, {"animation": "none"})
        yield CssRule(item, self._item(content) | moved)
        yield from self._links(item, content)
        yield from self._button(item, content)
        yield from self._entering(place, item, content)

    # --- where it stands -----------------------------------------------------------------------

    def _standing(
        self, section: SectionSource, content: ContentSource
    ) -> tuple[dict[str, str], dict[str, str]]:
        """What a content's place or cell declares, and by what the content is moved in it."""
        entry = content.entry
        placed: dict[str, str] = {}
        moved: dict[str, str] = {}
        if isinstance(entry.size, OneLine):
            # Its text is measured by the width of its place.
            placed["container-type"] = "inline-size"
        elif entry.text is not None:
            # Tracks and widths measure em in the font size of the place, which is the text's.
            placed["font-size"] = self.naming.use(*_size_words(section, content))
        if content.flows:
            placed |= self._cell(content)
        else:
            columns, left = tracks(entry.place.x, self._track(content), content.box.box.left)
            rows, top = tracks(entry.place.y, "auto", content.box.box.top)
            placed |= {"grid-template-columns": columns, "grid-template-rows": rows}
            if (left, top) != ("0px", "0px"):
                places = {"left": left, "top": top}
                moved = {"position": "relative"}
                moved |= {side: place for side, place in places.items() if place != "0px"}
        if entry.z:
            placed["z-index"] = str(entry.z)
        if entry.blend != "normal":
            placed["mix-blend-mode"] = entry.blend
        return placed, moved

    def _track(self, content: ContentSource) -> str:
        """The width of what is placed, as a grid track."""
        entry = content.entry
        if entry.text is not None:
            return f"fit-content({_outer_width(entry, flows=False)})"
        return f"min({self._width(content)}, 100%)"

    def _cell(self, content: ContentSource) -> dict[str, str]:
        """The declarations of the cell of what flows."""
        entry = content.entry
        if entry.text is not None:
            cell = self._text_cell(entry)
        else:
            cell = {"width": self._width(content)}
            if cell["width"] != "100%":
                cell["max-width"] = "100%"
            if entry.box is not None:
                cell |= {"display": "grid", "align-self": "stretch"}
        if entry.align and entry.align != "start" and "justify-content" not in cell:
            cell["justify-self"] = entry.align
        return cell

    @staticmethod
    def _text_cell(entry: Content) -> dict[str, str]:
        align = entry.align or "start"
        most = f"min(100%, {_outer_width(entry, flows=True)})"
        if isinstance(entry.size, OneLine):
            cell = {"width": "100%", "display": "grid", "justify-items": align}
            return cell | ({"max-width": most} if entry.width else {})
        if entry.width is None:
            return {}
        # No less than its longest word, as where it is placed.
        tracks = {"grid-template-columns": f"fit-content({most})", "justify-content": align}
        return {"width": "100%", "display": "grid"} | tracks

    @staticmethod
    def _width(content: ContentSource) -> str:
        """The width of a picture or box: a picture without one has that of its file."""
        entry, box = content.entry, content.box
        if entry.width is None and isinstance(box, FigureBox) and box.picture is not None:
            if entry.height is not None:
                ratio = box.picture.width / box.picture.height
                return f"calc({entry.height.css('vh')} * {number(ratio)})"
            return f"{number(box.picture.width)}px"
        return widest(entry, flows=content.flows).css()

    # --- what it is ----------------------------------------------------------------------------

    def _item(self, content: ContentSource) -> dict[str, str]:
        if content.entry.text is not None:
            return self._text(content)
        if content.entry.image is not None:
            return self._picture(content)
        return self._box(content)

    def _text(self, content: ContentSource) -> dict[str, str]:
        entry, box = content.entry, content.box
        assert isinstance(box, ContentBox)  # noqa: S101 - it is a text
        leading = number(entry.leading)
        align = entry.align or ("start" if content.flows else leaning(entry.place.x))
        leading = f"round({leading}em, 1px)" if content.flows else leading
        font = family(entry.font, self.naming.prefix)
        declarations = {
            # As large as the text of its place.
            "font": f"{entry.weight} 1em/{leading} {font}",
            "color": self.palette.color(box.color),
            **({"text-align": align} if align != "start" else {}),
        }
        if isinstance(entry.size, OneLine):
            share = self._share(content, align)
            declarations |= {
                "font-size": _line_size(content, box),
                # It is as wide as its room. For readers who space letters further it breaks into
                # lines; for browsers that set letters on whole px it has some room to spare.
                "margin-left": f"{number(-_SPARE * share)}cqw",
                "margin-right": f"{number(-_SPARE * (1 - share))}cqw",
                "text-wrap": "balance",
                "overflow-wrap": "anywhere",
            }
        if entry.shadow:
            # A text's shadow has no spread.
            declarations["text-shadow"] = self.palette.shadows(entry.shadow, spread=False)
        if entry.panel:
            declarations["background-color"] = self.palette.color(entry.panel.color)
            declarations["padding"] = entry.panel.padding.css()
            if entry.panel.radius.css() != "0px":
                declarations["border-radius"] = entry.panel.radius.css()
        return declarations

    def _share(self, content: ContentSource, align: Align) -> float:
        """The share of the room beside a content that is on its left."""
        if content.flows:
            return share_of(align, self.motion.flow.page.box.script.direction)
        split = content.entry.place.x.split_percentage()
        return min(max(split[0], 0.0), 100.0) / 100 if split else 0.0

    def _links(self, item: str, content: ContentSource) -> Iterator[Statement]:
        """The colours and underlines of a text's links, in each of their states."""
        box = content.box
        link = next(iter(box.links), None) if isinstance(box, ContentBox) else None
        if link is None:
            return
        here = f"{item} > a"
        plain = {"color": self.palette.color(link.color)}
        if not content.entry.underline:
            plain["text-decoration"] = "none"
        yield CssRule(here, plain)
        if link.visited != link.color:
            yield CssRule(f"{here}:visited", {"color": self.palette.color(link.visited)})
        if link.focus not in (link.color, link.visited):
            yield CssRule(f"{here}:focus-visible", {"color": self.palette.color(link.focus)})

    def _button(self, item: str, content: ContentSource) -> Iterator[Statement]:
        """A button in its states; what is said last counts while it is pressed."""
        button = content.entry.button
        if button is None:
            return
        plain = {"display": "block", "text-decoration": "none", "cursor": "pointer"}
        yield CssRule(f"{item}[href]", plain)
        for name, state in button.states.items():
            declarations = {}
            if state.color:
                declarations["color"] = self.palette.color(state.color)
            if state.background:
                declarations["background-color"] = self.palette.color(state.background)
            if declarations:
                yield CssRule(f"{item}{_PSEUDO[name]}", declarations)

    def _picture(self, content: ContentSource) -> dict[str, str]:
        entry = content.entry
        declarations = {"height": entry.height.css("vh") if entry.height else "auto"}
        if entry.radius.css() != "0px":
            declarations["border-radius"] = entry.radius.css()
        if entry.shadow:
            declarations["box-shadow"] = self.palette.shadows(entry.shadow)
        return declarations

    def _box(self, content: ContentSource) -> dict[str, str]:
        card = content.entry.box
        assert card is not None  # noqa: S101 - it is a box
        declarations = _grid(card)
        if card.background:
            declarations["background-color"] = self.palette.color(card.background)
        if card.border:
            declarations["border"] = self.palette.border(card.border)
        if card.radius.css() != "0px":
            declarations["border-radius"] = card.radius.css()
        if card.shadow:
            declarations["box-shadow"] = self.palette.shadows(card.shadow)
        return declarations

    def _entering(self, place: str, text: str, content: ContentSource) -> Iterator[Statement]:
        """How a text arrives: the script marks it while it waits below the screen."""
        enter = content.entry.enter
        if not enter:
            return
        course = f"{number(enter.time)}ms {enter.easing.css()}"
        moving = {"transition": f"translate {course}, opacity {course}"}
        yield CssRule(text, moving, (ON_SCREEN,))
        waiting = {
            "translate": f"{enter.x.css('vw')} {enter.y.css('vh')}",
            "opacity": number(enter.opacity),
            "transition": "none",
        }
        waits = f"{place}[data-waiting] > {self.naming.kind('text')}"
        yield CssRule(waits, waiting, (ON_SCREEN,))


def link_rules(contents: Iterable[ContentSource], naming: Naming) -> Iterator[Statement]:
    """What links in texts, and texts that are links, have in common.

    Args:
        contents: The content of all pages.
        naming: How everything is named.
    """
    root, kind = naming.any_page, naming.kind
    known = list(contents)
    if any(content.entry.links for content in known):
        thick, far = (f"max(1px, round({number(size)}em, 1px))" for size in (THICKNESS, OFFSET))
        link = {
            "text-decoration": f"underline {thick}",
            "text-underline-offset": far,
            "text-decoration-skip-ink": "none",
        }
        yield CssRule(f"{root} {kind('text')} > a", link)
        yield CssRule(f"{root} {kind('text')} > a:focus-visible", _RING)
    if any(content.entry.button for content in known):
        yield CssRule(f"{root} {kind('text')}[href]:focus-visible", _RING)


def _size_words(section: SectionSource, content: ContentSource) -> tuple[str, ...]:
    """The words for the font size of a text."""
    return "text", section.box.name, content.key, "size"


def kind_of(content: ContentSource) -> str:
    """What a content is called among our own elements."""
    if content.entry.text is not None:
        return "text"
    return "picture" if content.entry.image is not None else "box"


def _grid(holder: Flowing) -> dict[str, str]:
    """The grid in which content flows."""
    declarations: dict[str, str] = {}
    if holder.padding:
        declarations["padding"] = holder.padding.css()
    if holder.gap:
        declarations["gap"] = holder.gap.css()
    if holder.columns:
        declarations["grid-template-columns"] = " ".join(track.css() for track in holder.columns)
    return declarations


def _outer_width(entry: Content, *, flows: bool) -> str:
    """The largest width of a text with its panel."""
    width = widest(entry, flows=flows).css()
    if entry.panel is None:
        return width
    return f"calc({width} + 2 * {entry.panel.padding.css()})"


def _line_size(content: ContentSource, box: ContentBox) -> str:
    """The font size at which the longest line of a text is as wide as its room.

    Source: https://www.w3.org/TR/css-conditional-5/#container-lengths
    """
    entry, size = content.entry, content.entry.size
    room = "100cqw"
    if entry.panel:
        room = f"100cqw - 2 * {entry.panel.padding.css()}"
    if not content.flows or entry.width is not None:
        # The width of the place; a cell has that of the text already.
        own = widest(entry, flows=content.flows).css("cqw")
        room = room if content.flows else f"min({own}, {room})"
    ems = round(widest_line(entry.text or "", box.text.face), _DECIMALS)
    fitting = f"calc(max({room}, 0px) / {number(ems)})" if ems else "1px"
    most = size.most.css() if isinstance(size, OneLine) and size.most else None
    return f"min({most}, {fitting})" if most else fitting


def tracks(place: Length, middle: str, used: float) -> tuple[str, str]:
    """Grid tracks and an offset that place a box as ``background-position`` would.

    The tracks share out the room that the box leaves: none where it does not fit, so that it
    starts at the edge.

    Args:
        place: Where it stands along an axis.
        middle: The track of the box itself.
        used: Where that is on the planned screen, in px, for other kinds of positions.
    """
    split = place.split_percentage()
    if split is None or not 0 <= split[0] <= 100:  # noqa: PLR2004 - a share of the room
        split = 0.0, px(used)
    share, offset = split
    return f"{number(share)}fr {middle} {number(100 - share)}fr", offset.css()
