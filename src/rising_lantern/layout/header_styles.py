"""What a header looks like: the values of a look, or those of a state between two looks."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from rising_lantern.css.backgrounds import Position, Repeat, Size
from rising_lantern.css.colors import Color, laid_over
from rising_lantern.css.filters import Filter
from rising_lantern.css.shadows import UsedShadow
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.fills import Fill


@dataclass(frozen=True, slots=True)
class PartStyle:
    """The values of one part: those of a look, or those between two looks.

    Attributes:
        images: Pictures that are mixed: two while one fades into the other.
        shares: The share of each of them, 0 to 1; together 1.
        width: Width of the picture in CSS px.
        height: Height of the picture in CSS px.
        size: Font size of a text in CSS px.
        color: Colour of a text.
        hidden: Whether the part is left out.
        own_color: The colour that the part has for itself; None where it takes the look's.
        tinted: Whether a picture is a shape that is painted in the colour.
        leading: The line height of a text, as a multiple of its font size.
    """

    images: tuple[str, ...]
    shares: tuple[float, ...]
    width: float
    height: float
    size: float
    color: Color
    hidden: bool = False
    own_color: Color | None = None
    tinted: bool = False
    leading: float = 1.4

    @property
    def box_height(self) -> float:
        """The height of its box: that of the picture, or of a line of its text."""
        return self.height if self.images else self.size * self.leading


@dataclass(frozen=True, slots=True)
class HeaderLayer:
    """A picture or fill behind the parts of a header, which covers the header as it is.

    Attributes:
        name: The picture, by its name in the plan; None for a fill.
        picture: The same as a file.
        fill: Its colour or gradient; None for a picture.
        size: As CSS ``background-size``.
        position: As CSS ``background-position``.
        repeat: As CSS ``background-repeat``, along x and y.
        opacity: 0 to 1.
        filters: As CSS ``filter``.
        path: Where in the plan it is written.
    """

    name: str | None
    picture: Picture | None
    fill: Fill | None
    size: Size
    position: Position
    repeat: tuple[Repeat, Repeat]
    opacity: float
    filters: tuple[Filter, ...]
    path: tuple[str | int, ...] = field(default=(), compare=False)


Layers = tuple[HeaderLayer, ...]


@dataclass(frozen=True, slots=True)
class RowStyle:
    """The values of one row: those of a look, or those between two looks. Lengths are CSS px.

    Attributes:
        height: Its height; 0 where it is left out.
        fill: Its background.
        layers: Its pictures and fills over that, which are mixed: two sets while one fades.
        layer_shares: The share of each set, 0 to 1; together 1.
        padding: The room at its left and right end.
        lean: How much more room there is above its parts than below.
        border: The width of its border.
        edge: The colour of its border.
        clips: Whether what reaches out of it is cut off: some look leaves it out.
    """

    height: float
    fill: Color
    layers: tuple[Layers, ...]
    layer_shares: tuple[float, ...]
    padding: float
    lean: float
    border: float
    edge: Color
    clips: bool


@dataclass(frozen=True, slots=True)
class RowBox:
    """A stretch of a header in which parts stand. Lengths are CSS px.

    Attributes:
        left: Its left edge on the screen.
        width: Its width.
        height: Its height.
        top: Its distance from the header's upper edge.
        lean: How much more room there is above its parts than below.
        style: Its values; None for a header without rows.
    """

    left: float
    width: float
    height: float
    top: float = 0.0
    lean: float = 0.0
    style: RowStyle | None = None


@dataclass(frozen=True, kw_only=True)
class HeaderStyle:
    """A header as it is drawn: the values of a look, or those between two. Lengths are CSS px.

    Attributes:
        height: Its height.
        fills: Its backgrounds, which are mixed: two while one gradient becomes another.
        shares: The share of each of them, 0 to 1; together 1.
        layers: Sets of pictures and fills over those, the topmost first, mixed in the same way.
        layer_shares: The share of each set.
        color: The colour of its texts.
        shadow: Its shadows, the topmost first.
        padding: The room at its left and right end.
        lean: How much more room there is above its parts than below.
        border: The width of its border.
        edge: The colour of its border.
        blur: The standard deviation of the blur of what is behind it.
        left: Its left edge on the screen.
        width: Its width.
        standing: The height of the header that stays in the flow below it, where it arrives as a
            second header; None where the header itself changes.
        rows: The values of its rows, by name, from top to bottom; none where it has none.
        styles: The values of all parts, by name.
    """

    height: float
    fills: tuple[Fill, ...]
    shares: tuple[float, ...]
    layers: tuple[Layers, ...]
    layer_shares: tuple[float, ...]
    color: Color
    shadow: tuple[UsedShadow, ...]
    padding: float
    lean: float
    border: float
    edge: Color
    blur: float
    left: float
    width: float
    standing: float | None
    rows: Mapping[str, RowStyle] = field(hash=False, repr=False)
    styles: Mapping[str, PartStyle] = field(hash=False, repr=False)

    @property
    def stays(self) -> bool:
        """Whether it stays on the screen by itself: it has arrived as a second header."""
        return self.standing is not None

    @property
    def flow_height(self) -> float:
        """The height of the header that stands in the flow."""
        return self.height if self.standing is None else self.standing

    def seen_over(self, own: Color) -> Color:
        """A colour of the header with that of its highest row, where it has rows."""
        highest = max(self.rows.values(), key=lambda row: row.height, default=None)
        return laid_over(own, highest.fill) if highest else own

    @property
    def stretches(self) -> dict[str | None, RowBox]:
        """Where its parts stand, by the names of its rows; without rows it is one of no name."""
        if not self.rows:
            inset = self.padding + self.border
            whole = RowBox(self.left + inset, self.width - 2 * inset, self.height, lean=self.lean)
            return {None: whole}
        result: dict[str | None, RowBox] = {}
        top = 0.0
        for name, row in self.rows.items():
            inset = row.padding + row.border
            left, width = self.left + inset, self.width - 2 * inset
            result[name] = RowBox(left, width, row.height, top, row.lean, row)
            top += row.height
        return result
