"""What stands over the layers of a section, laid out: texts, pictures and boxes."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.easings import Easing
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.layout.links import LinkBox
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.texts import TextBlock
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.text.nodes import Key


@dataclass(frozen=True, slots=True)
class Entrance:
    """How a text arrives when it comes onto the screen.

    Attributes:
        x: From how far to the right of its place it comes, in CSS px.
        y: From how far below its place.
        opacity: Its opacity at first, 0 to 1.
        time_ms: The time that it takes, in ms.
        easing: Its course.
    """

    x: float
    y: float
    opacity: float
    time_ms: float
    easing: Easing


@dataclass(frozen=True, slots=True)
class ButtonLook:
    """A button while something is done with it.

    Attributes:
        state: ``hover``, ``focus`` or ``pressed``.
        color: The colour of its letters.
        background: Its opaque background in this state; None if the state does not change it.
    """

    state: str
    color: Color
    background: Color | None


@dataclass(frozen=True, slots=True)
class ContentBox:
    """A text in its section.

    Attributes:
        path: The keys that lead to it in its section.
        words: The text itself.
        motion: How the section's box, in which it is placed, moves for it.
        box: Its border box with the panel, from the section's upper left corner.
        text: Its lines, from the same corner.
        rest: The same without the letters of its links.
        links: Its links.
        color: The colour of its letters.
        states: Of a button: the states in which it has other colours.
        weight: Its ``font-weight``.
        panel: The colour of the panel behind it; None without a panel.
        radius: The radius of the panel's corners, in CSS px.
        shadows: The text's shadows, the topmost first.
        blend: As CSS ``mix-blend-mode``.
        z: Its ``z-index``.
        entrance: How it arrives; None where it is in its place from the start.
    """

    path: tuple[Key, ...]
    words: str
    motion: Motion
    box: Rect
    text: TextBlock
    rest: TextBlock
    links: tuple[LinkBox, ...]
    color: Color
    states: tuple[ButtonLook, ...]
    weight: int
    panel: Color | None
    radius: float
    shadows: tuple[UsedShadow, ...]
    blend: BlendMode
    z: int
    entrance: Entrance | None

    @property
    def moves(self) -> bool:
        """Whether it moves otherwise than with the page."""
        return self.motion.speed != 1

    def moved(self, left: float, top: float) -> ContentBox:
        """A copy that is moved to the right and down, in px."""
        return replace(
            self,
            box=self.box.moved(left, top),
            text=self.text.moved(left, top),
            rest=self.rest.moved(left, top),
            links=tuple(link.moved(left, top) for link in self.links),
        )


@dataclass(frozen=True, slots=True)
class FigureBox:
    """A picture in its section, or a box behind other content.

    Attributes:
        path: The keys that lead to it in its section.
        words: What it shows, in words, or its file; nothing for a box.
        motion: How the section's box, in which it is placed, moves for it.
        box: Its border box, from the section's upper left corner.
        background: The colour of a box; None for none.
        border: The width of its border, in CSS px.
        edge: The colour of its border.
        radius: The radius of its corners, in CSS px.
        shadows: Its shadows, the topmost first.
        name: The picture that it shows, by its name in the plan; None for a box.
        picture: The same as a file.
        z: Its ``z-index``.
    """

    path: tuple[Key, ...]
    words: str
    motion: Motion
    box: Rect
    background: Color | None = None
    border: float = 0.0
    edge: Color = TRANSPARENT
    radius: float = 0.0
    shadows: tuple[UsedShadow, ...] = ()
    name: str | None = None
    picture: Picture | None = None
    z: int = 0

    @property
    def moves(self) -> bool:
        """Whether it moves otherwise than with the page."""
        return self.motion.speed != 1

    @property
    def drawn(self) -> Rect:
        """Where the whole picture stands: it covers the box, cut off on both sides alike.

        Source: https://www.w3.org/TR/css-images-3/#the-object-fit
        """
        if self.picture is None:
            return self.box
        width, height = self.picture.width, self.picture.height
        scale = max(self.box.width / width, self.box.height / height)
        left = self.box.left + (self.box.width - width * scale) / 2
        top = self.box.top + (self.box.height - height * scale) / 2
        return Rect(left, top, width * scale, height * scale)

    def moved(self, left: float, top: float) -> FigureBox:
        """A copy that is moved to the right and down, in px."""
        return replace(self, box=self.box.moved(left, top))


Item = ContentBox | FigureBox
"""Something that stands over the layers of a section."""
