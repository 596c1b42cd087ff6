"""Where a background picture stands: CSS Backgrounds and Borders 3, sections 3.4, 3.6 and 3.9."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Literal

from rising_lantern.css.length_parsing import is_length, length_from
from rising_lantern.css.lengths import Basis, Length, Scaled, Sum, percent
from rising_lantern.css.syntax import Components, Token, written
from rising_lantern.errors import quoted

_SIZE_REMEDY = "write cover, contain, auto, or a width and a height such as 480px auto"
_POSITION_REMEDY = "write two places such as 50% 40%, left 20px or right 10% bottom 0"
_REPEAT_REMEDY = "write repeat, repeat-x, repeat-y, no-repeat, space or round"
_X_SIDES = {"left": 0.0, "center": 50.0, "right": 100.0}
_Y_SIDES = {"top": 0.0, "center": 50.0, "bottom": 100.0}

Repeat = Literal["repeat", "no-repeat", "space", "round"]


@dataclass(frozen=True, slots=True)
class Rect:
    """A rectangle in CSS px: its left and top edge, its width and height; y grows downwards."""

    left: float
    top: float
    width: float
    height: float

    @property
    def right(self) -> float:
        """Its right edge."""
        return self.left + self.width

    @property
    def bottom(self) -> float:
        """Its lower edge."""
        return self.top + self.height

    def moved(self, left: float = 0.0, top: float = 0.0) -> Rect:
        """The rectangle moved to the right and down, in px."""
        return Rect(self.left + left, self.top + top, self.width, self.height)


@dataclass(frozen=True, slots=True)
class Size:
    """A ``background-size``. A width or height of None is ``auto``.

    Attributes:
        fit: ``cover`` or ``contain``; None where lengths are given.
        width: Percentages refer to the positioning area.
        height: The same.
    """

    fit: Literal["cover", "contain"] | None = None
    width: Length | None = None
    height: Length | None = None

    def css(self) -> str:
        """The size as CSS text."""
        return self.fit or " ".join(
            length.css() if length else "auto" for length in (self.width, self.height)
        )

    def used(
        self,
        area: tuple[float, float],
        natural: tuple[float, float] | None,
        basis: Basis,
        repeat: tuple[Repeat, Repeat] = ("no-repeat", "no-repeat"),
    ) -> tuple[float, float]:
        """Width and height of the picture in CSS px (section 3.9).

        Args:
            area: Width and height of the positioning area.
            natural: The picture's own width and height; None for a gradient, which has neither
                and takes its area's where a size is left open.
            basis: What relative lengths are relative to.
            repeat: How it repeats along x and y: ``round`` makes it fit a whole number of times.
        """
        size = self.asked(area, natural, basis)
        if "round" not in repeat or min(size) <= 0:
            return size
        # The second step of section 3.9, and its third: what is auto keeps the proportions.
        width, height = (
            whole / max(math.floor(whole / side + 0.5), 1) if mode == "round" else side
            for whole, side, mode in zip(area, size, repeat, strict=True)
        )
        if natural and repeat[1] != "round" and self.height is None:
            height = natural[1] * width / natural[0]
        elif natural and repeat[0] != "round" and self.width is None:
            width = natural[0] * height / natural[1]
        return width, height

    def asked(
        self, area: tuple[float, float], natural: tuple[float, float] | None, basis: Basis
    ) -> tuple[float, float]:
        """The size before ``round`` changes it, which is what a position counts in Chromium."""
        if self.fit and natural is None:
            return area
        if self.fit and natural:
            pick = max if self.fit == "cover" else min
            scale = pick(area[0] / natural[0], area[1] / natural[1])
            return natural[0] * scale, natural[1] * scale
        width = _extent(self.width, area[0], basis)
        height = _extent(self.height, area[1], basis)
        if natural is None:
            return area[0] if width is None else width, area[1] if height is None else height
        if width is None:
            return natural if height is None else (natural[0] * height / natural[1], height)
        return width, natural[1] * width / natural[0] if height is None else height


def _extent(length: Length | None, whole: float, basis: Basis) -> float | None:
    return None if length is None else max(length.px(replace(basis, whole=whole)), 0.0)


@dataclass(frozen=True, slots=True)
class Position:
    """A ``<position>``: percentages count the room that the picture leaves in its area."""

    x: Length
    y: Length

    def css(self) -> str:
        """The position as CSS text."""
        return f"{self.x.css()} {self.y.css()}"

    def used(
        self, area: tuple[float, float], size: tuple[float, float], basis: Basis
    ) -> tuple[float, float]:
        """Left and top of a picture of some size within an area, in CSS px (section 3.6)."""
        return (
            self.x.px(replace(basis, whole=area[0] - size[0])),
            self.y.px(replace(basis, whole=area[1] - size[1])),
        )


COVER = Size("cover")
CENTER = Position(percent(50), percent(50))


@dataclass(frozen=True, slots=True)
class Tiles:
    """Where copies of a picture start along one axis, in CSS px.

    Attributes:
        start: Where one copy starts.
        step: How far it is from one copy to the next; 0 for a single copy.
        extent: How long a copy is.
    """

    start: float
    step: float
    extent: float

    def moved(self, by: float) -> Tiles:
        """The copies moved further on, in px."""
        return replace(self, start=self.start + by)

    def whole(self) -> Tiles:
        """The copies with their extent and distance in whole px, one at least.

        Used for very many copies of a few px, where the difference cannot be seen.
        """
        extent = max(math.floor(self.extent + 0.5), 1)
        step = max(math.floor(self.step + 0.5), extent) if self.step else 0
        return Tiles(math.floor(self.start + 0.5), step, extent)

    def count(self, low: float, high: float) -> float:
        """About how many copies touch the stretch from low to high."""
        return (high - low) / self.step + 2 if self.step > 0 else 1.0

    def starts(self, low: float, high: float) -> list[float]:
        """The starts of the copies that touch the stretch from low to high, in order."""
        if self.extent <= 0:
            return []
        if self.step <= 0:
            return [self.start] if self.start < high and self.start + self.extent > low else []
        first = math.floor((low - self.extent - self.start) / self.step) + 1
        last = math.ceil((high - self.start) / self.step) - 1
        return [self.start + index * self.step for index in range(first, last + 1)]


def tiles(mode: Repeat, area: float, extent: float, offset: float) -> Tiles:
    """Copies along one axis (section 3.4).

    Source: https://www.w3.org/TR/css-backgrounds-3/#the-background-repeat

    Args:
        mode: How the picture repeats along this axis.
        area: Extent of the positioning area in CSS px.
        extent: Extent of the picture, for ``round`` as it has been rounded.
        offset: Where ``position`` puts it.
    """
    if mode == "no-repeat" or extent <= 0:
        return Tiles(offset, 0.0, extent)
    if mode == "space":
        count = math.floor(area / extent)
        if count > 1:
            return Tiles(0.0, extent + (area - count * extent) / (count - 1), extent)
        return Tiles(offset, 0.0, extent)
    return Tiles(offset, extent, extent)


def parse_size(text: str) -> Size:
    """Parse a ``background-size``.

    Source: https://www.w3.org/TR/css-backgrounds-3/#the-background-size

    Raises:
        CssError: If the text is not valid.
    """
    source = Components(text)
    words = source.tokens
    if (
        len(words) == 1
        and words[0].type == "ident"
        and words[0].lower_value in {"cover", "contain"}
    ):
        return Size(words[0].lower_value)
    if not 1 <= len(words) <= 2:  # noqa: PLR2004
        raise source.error(
            words[2] if words else None, f"{quoted(text)} is not a size", _SIZE_REMEDY
        )
    lengths = [_auto_or_length(source, word) for word in words]
    for word, length in zip(words, lengths, strict=True):
        if length and length.is_negative:
            raise source.error(word, "a size cannot be negative", _SIZE_REMEDY)
    return Size(None, lengths[0], lengths[1] if len(lengths) > 1 else None)


def _auto_or_length(source: Components, word: Token) -> Length | None:
    if word.type == "ident" and word.lower_value == "auto":
        return None
    if not is_length(word) and word.type != "number":
        raise source.error(word, f"{quoted(written([word]))} is not a size", _SIZE_REMEDY)
    return length_from(source, [word])


def parse_position(text: str) -> Position:
    """Parse a ``<position>`` of one, two or four words.

    Source: https://www.w3.org/TR/css-backgrounds-3/#the-background-position

    Raises:
        CssError: If the text is not valid.
    """
    source = Components(text)
    return position_from(source, source.tokens)


def position_from(source: Components, words: list[Token]) -> Position:
    """The position that some tokens of a text stand for.

    Raises:
        CssError: If they are not valid.
    """
    if len(words) == 4:  # noqa: PLR2004
        return _from_edges(source, words)
    if not 1 <= len(words) <= 2:  # noqa: PLR2004
        raise source.error(None, f"{quoted(written(words))} is not a position", _POSITION_REMEDY)
    first, second = words[0], words[1] if len(words) > 1 else None
    if _is_side(first, "top", "bottom") or (second and _is_side(second, "left", "right")):
        first, second = second, first
    return Position(
        _place(source, first, _X_SIDES) if first else percent(50),
        _place(source, second, _Y_SIDES) if second else percent(50),
    )


def _is_side(word: Token, *sides: str) -> bool:
    return word.type == "ident" and word.lower_value in sides


def _place(source: Components, word: Token, sides: dict[str, float]) -> Length:
    if word.type == "ident" and word.lower_value in sides:
        return percent(sides[word.lower_value])
    if is_length(word) or word.type == "number":
        return length_from(source, [word])
    raise source.error(word, f"{quoted(written([word]))} is not a position here", _POSITION_REMEDY)


def _from_edges(source: Components, words: list[Token]) -> Position:
    """CSS Backgrounds 3, 3.6: ``right 10% bottom 20px`` counts from those edges."""
    pairs = [(words[0], words[1]), (words[2], words[3])]
    if _is_side(pairs[0][0], "top", "bottom"):
        pairs.reverse()
    places = []
    for (side, distance), sides in zip(pairs, (_X_SIDES, _Y_SIDES), strict=True):
        if side.type != "ident" or side.lower_value not in sides or side.lower_value == "center":
            raise source.error(
                side, f"{quoted(written([side]))} is not an edge here", _POSITION_REMEDY
            )
        length = length_from(source, [distance])
        if sides[side.lower_value]:
            far = Sum((percent(100).expression, Scaled(-1.0, length.expression)))
            length = Length(far, written([side, distance]))
        places.append(length)
    return Position(*places)


def parse_repeat(text: str) -> tuple[Repeat, Repeat]:
    """Parse a ``background-repeat``: how a picture repeats along x and along y.

    Source: https://www.w3.org/TR/css-backgrounds-3/#the-background-repeat

    Raises:
        CssError: If the text is not valid.
    """
    source = Components(text)
    words = [word.lower_value if word.type == "ident" else "" for word in source.tokens]
    if words == ["repeat-x"]:
        return "repeat", "no-repeat"
    if words == ["repeat-y"]:
        return "no-repeat", "repeat"
    modes: dict[str, Repeat] = {
        "repeat": "repeat",
        "no-repeat": "no-repeat",
        "space": "space",
        "round": "round",
    }
    if not 1 <= len(words) <= 2 or any(word not in modes for word in words):  # noqa: PLR2004
        raise source.error(None, f"{quoted(text)} is not a repeat style", _REPEAT_REMEDY)
    return modes[words[0]], modes[words[-1]]
