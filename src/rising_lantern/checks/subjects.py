"""What findings are about: a page, something in one of its sections, or something in its header."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.errors import shortened
from rising_lantern.layout.items import ContentBox, FigureBox, Item
from rising_lantern.layout.links import LinkBox
from rising_lantern.layout.pages import path_in_page
from rising_lantern.layout.pause import PATH
from rising_lantern.layout.sections import SectionBox
from rising_lantern.plan.text.nodes import Key


@dataclass(frozen=True, slots=True)
class Subject:
    """What a finding is about; the page as a whole where nothing else is named.

    Attributes:
        section: The name of a section, or of what the page has behind all of them.
        layer: A layer of the section, by its index from the topmost.
        content: A text of the section, by its index among its texts.
        words: The beginning of that text, or what a picture of the section shows.
        within: The keys that lead to that text, picture or box in its section.
        header: The name of the header. With a section too, what of that covers the header.
        look: The name of one of its looks.
        part: The name of one of its parts.
        row: The name of one of its rows, whose layer it is.
        state: The state of a link or button, such as ``hover``; empty for that at first.

    ``str(subject)`` is what messages say and what the patterns of ``silence`` are held against.
    """

    section: str | None = None
    layer: int | None = None
    content: int | None = None
    words: str = ""
    within: tuple[Key, ...] = ()
    header: str | None = None
    look: str | None = None
    part: str | None = None
    row: str | None = None
    state: str = ""

    def __str__(self) -> str:
        if self.header is not None:
            return self._in_header(self.header)
        if self.section is None:
            return "page"
        if self.layer is not None:
            return f"{self.section}, layer {self.layer}"
        if not self.within:
            return self.section
        return f'{self.section}, "{self.words}"' if self.words else f"{self.section}, a box"

    def _in_header(self, header: str) -> str:
        if self.section is not None:
            text = "a text of " if self.content is not None else ""
            text = text or ("a box of " if self.within else "")
            return f"{header}, behind {text}{self.section}"
        if self.part is not None:
            state = f", {self.state}" if self.state else ""
            return f"{header}, {self.part} in {self.look}{state}"
        if self.layer is not None:
            row = f"{self.row}, " if self.row else ""
            return f"{header}, {row}layer {self.layer} in {self.look}"
        return header if self.look is None else f"{header}, look {self.look}"

    def path(self, page: str) -> tuple[Key, ...]:
        """The keys that lead to it in the plan."""
        if self.header is not None:
            path: tuple[Key, ...] = ("headers", self.header)
            path += () if self.look is None else ("looks", self.look)
            return path if self.part is None else (*path, "parts", self.part)
        if self.section is None:
            return ("pages", page)
        if self.within[:1] == PATH:
            return PATH
        inner: tuple[Key, ...] = () if self.layer is None else ("layers", self.layer)
        return path_in_page(page, self.section, *inner, *self.within)


def of_text(section: str, index: int, content: ContentBox) -> Subject:
    """A text of a section as a subject."""
    return Subject(section, content=index, words=shortened(content.words), within=content.path)


def of_link(section: str, index: int, content: ContentBox, link: LinkBox) -> Subject:
    """A link in a text as a subject."""
    path = (*content.path, "links", link.words)
    return Subject(section, content=index, words=shortened(link.words), within=path)


def of_item(section: SectionBox, item: Item) -> Subject:
    """A text, picture or box of a section as a subject."""
    if isinstance(item, FigureBox):
        return of_figure(section.name, item)
    index = next(place for place, text in enumerate(section.content) if text is item)
    return of_text(section.name, index, item)


def of_figure(section: str, figure: FigureBox) -> Subject:
    """A picture or box of a section as a subject."""
    return Subject(section, words=shortened(figure.words), within=figure.path)
