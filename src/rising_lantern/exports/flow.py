"""The flow of a page as CSS lengths, so that what depends on it follows the size of the window."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from fractions import Fraction

from rising_lantern.css.numbers import number
from rising_lantern.exports.names import Naming
from rising_lantern.exports.sources import HeaderSource, PageSource, SectionSource
from rising_lantern.exports.values import extent, font_size
from rising_lantern.plan.models.base import Auto

_MOST_PX = 10_000  # of the width of a picture, for proportions in whole numbers


@dataclass(frozen=True, slots=True)
class FlowLengths:
    """The places and sizes of a page's flow, each a CSS value that can stand inside ``calc()``.

    Attributes:
        page: The page.
        naming: How everything is named.
    """

    page: PageSource
    naming: Naming

    @property
    def screen(self) -> str:
        """The height of what the page scrolls in: the screen, or an element of the site."""
        if self.page.page.scroll_container is None:
            return "100vh"
        return f"var({self.naming.variable('screen')}, 100vh)"

    @property
    def above(self) -> str:
        """That height as a negative length, within ``calc()``."""
        return "-100vh" if self.screen == "100vh" else f"-1 * {self.screen}"

    def room(self, look: int) -> str:
        """What the header takes up above the first section in one of its looks."""
        header = self.page.header
        if header is None or header.entry.starts_under or header.box.home is not None:
            return "0px"
        names = header.box.look_names
        first = height_of(header, names[0])
        if not header.box.in_flow:
            return f"max({header.entry.top.css('vh')} + {first}, 0px)"
        if header.entry.hold_space:
            return first
        return height_of(header, names[header.box.standing(look)])

    def top(self, section: SectionSource) -> str:
        """A section's upper edge, from the first one's."""
        if section is self.page.ground:
            return "0px"
        place = next(index for index, item in enumerate(self.page.sections) if item is section)
        top = added(map(self._advance, self.page.sections[:place]))
        overlap = self.overlap(section)
        return f"({top} - {overlap})" if overlap else top

    def overlap(self, section: SectionSource) -> str:
        """How far a section lies over the one above; empty where it does not."""
        length = section.entry.overlap
        if length is None:
            return ""
        place = next(index for index, item in enumerate(self.page.sections) if item is section)
        above = self.height(self.page.sections[place - 1])
        return f"min({extent(length)}, {above}, {self.height(section)})"

    def _advance(self, section: SectionSource) -> str:
        """How much further down the page a section ends than the one above."""
        overlap = self.overlap(section)
        return f"({self.height(section)} - {overlap})" if overlap else self.height(section)

    def height(self, section: SectionSource) -> str:
        """A section's height; that of what is behind all of them is the document's."""
        if section is self.page.ground:
            sections = [self._advance(section) for section in self.page.sections]
            rooms = [room for room in [self.room(0)] if room != "0px"]
            return f"max({self.screen}, {added([*rooms, *sections], bare=True)})"
        return self.naming.use("section", section.box.name)

    def reach(self, section: SectionSource) -> tuple[str, str]:
        """How far a section's upper edge can be above the screen's while it is on the screen.

        The same range as :meth:`rising_lantern.layout.flow.Flow.reachable` gives in px.
        """
        looks = range(len(self.page.header.box.looks)) if self.page.header else range(1)
        rooms = list(dict.fromkeys(self.room(look) for look in looks))
        top = self.top(section)
        whole = added(map(self._advance, self.page.sections))
        most, least = (
            rooms[0] if len(rooms) == 1 else f"{name}({', '.join(rooms)})"
            for name in ("max", "min")
        )
        most_above = added(length for length in (top, most) if length != "0px")
        ends = f"max({_negative(least)}, {whole} - {self.screen})"
        if top != "0px":
            ends += f" - {top}"
        elif most == "0px":
            # The first section, which starts at the upper edge: no less than 0 is left of it.
            return "0px", f"min({ends}, {self.height(section)})"
        low = f"max({_negative(most_above)}, {self.above})"
        return low, f"max(min({ends}, {self.height(section)}), {low})"


def _negative(length: str) -> str:
    """A CSS length with the other sign, inside of a function."""
    return length if length == "0px" else f"0px - {length}"


def height_of(header: HeaderSource, look: str) -> str:
    """The height of a header in one of its looks, as CSS."""
    entry = header.entry
    rows = [name for name in entry.rows if not entry.row_in(look, name).hidden]

    def given(part: str) -> str:
        own, change = entry.parts[part], entry.look(look).part(part)
        if own.text is not None:
            return font_size(change.size or own.size)
        width = change.width or own.width
        return width.css("vw") if width else f"{number(header.look(look).styles[part].width)}px"

    if not entry.rows:
        return own_height(header, look, None, given)
    return sum_of(own_height(header, look, row, given) for row in rows)


def own_height(
    header: HeaderSource, look: str, row: str | None, length: Callable[[str], str]
) -> str:
    """The height of a row in a look, or of a header without rows, as CSS.

    Args:
        header: The header.
        look: The look that it has.
        row: The row; None for a header without rows.
        length: Gives the font size of a text or the width of a picture, by the part's name;
            asked for where the height is that of the parts.
    """
    height, box = header.entry.height_in(look, row), header.look(look)
    if not isinstance(height, Auto):
        return extent(height)
    heights = []
    for name, style in box.styles.items():
        if header.box.parts[name].row != row or style.hidden:
            continue
        if style.images:
            shape = Fraction(style.height / style.width if style.width else 0.0)
            # As the sides of the picture are, and no share with many decimals.
            high, wide = shape.limit_denominator(_MOST_PX).as_integer_ratio()
            heights.append(f"{length(name)} * {high}" + f" / {wide}" * (wide > 1))
        else:
            heights.append(f"{length(name)} * {number(style.leading)}")
    border = box.rows[row].border if row else box.border
    padding = header.entry.padding_in(look, row)
    room = f"{padding.top.css('vw')} + {padding.bottom.css('vw')}"
    highest = f"max({', '.join(heights)})" if len(heights) > 1 else "".join(heights) or "0px"
    return f"calc({highest} + {room} + {number(2 * border)}px)"


def sum_of(lengths: Iterable[str]) -> str:
    """The sum of some CSS lengths, as a value by itself."""
    parts = list(lengths)
    return f"calc({added(parts, bare=True)})" if len(parts) > 1 else added(parts)


def added(lengths: Iterable[str], *, bare: bool = False) -> str:
    """The sum of some CSS lengths, in brackets unless it stands in a function by itself."""
    parts = list(lengths)
    if len(parts) < 2:  # noqa: PLR2004 - a sum needs two
        return parts[0] if parts else "0px"
    total = " + ".join(parts)
    return total if bare else f"({total})"
