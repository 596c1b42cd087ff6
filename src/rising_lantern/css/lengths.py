"""Lengths and percentages as values: CSS Values and Units 4, sections 6 and 10.

A length is a small expression tree, so that ``calc(100vh - 80px)`` stays as it is until a viewport
is known.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, field
from typing import Any, Protocol

from rising_lantern.css.numbers import number

# CSS Values 4, 6.2: absolute lengths, in CSS px.
_ABSOLUTE = {
    "px": 1.0,
    "cm": 96 / 2.54,
    "mm": 9.6 / 2.54,
    "q": 2.4 / 2.54,
    "in": 96.0,
    "pt": 96 / 72,
    "pc": 16.0,
}
# CSS Values 4, 6.1.2: with the browser's bars, without, and as they are. vh is lvh wherever there
# are any.
_HEIGHT_UNITS = frozenset({"vh", "svh", "lvh", "dvh"})
_WIDTH_UNITS = frozenset({"vw", "svw", "lvw", "dvw"})
UNITS = frozenset(_ABSOLUTE) | _HEIGHT_UNITS | _WIDTH_UNITS | {"vmin", "vmax", "em", "rem"}
SIDES = ("top", "right", "bottom", "left")
# CSS Values 4, 10.4: the strategies of round().
STRATEGIES: dict[str, Callable[[float], float]] = {
    "nearest": lambda steps: math.floor(steps + 0.5),
    "up": math.ceil,
    "down": math.floor,
    "to-zero": math.trunc,
}


@dataclass(frozen=True, slots=True)
class Basis:
    """What relative lengths are relative to. All in CSS px.

    Attributes:
        viewport_width: Width of the viewport with its scrollbar, as ``vw`` counts it.
        viewport_height: Height of the viewport.
        font_size: Size of the text at hand, for ``em``.
        root_font_size: Size of the root's text, for ``rem``.
        whole: What 100% stands for.
        bar: The height of browser bars that come and go; 0 for none.
        bar_shown: Whether they are shown, so that the viewport is lower by it.
        safe_area: What the top, right, bottom and left of the screen keep free for its own shape.
    """

    viewport_width: float
    viewport_height: float
    font_size: float = 16.0
    root_font_size: float = 16.0
    whole: float = 0.0
    bar: float = 0.0
    bar_shown: bool = False
    safe_area: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)

    def _height(self, unit: str) -> float:
        """The height of the viewport that a unit counts."""
        if unit == "dvh":
            return self.viewport_height
        large = self.viewport_height + self.bar * self.bar_shown
        return large - self.bar if unit == "svh" else large

    def unit(self, name: str) -> float:
        """One of a unit (lower case), in CSS px."""
        if name in _ABSOLUTE:
            return _ABSOLUTE[name]
        if name in _HEIGHT_UNITS:
            return self._height(name) / 100
        if name in _WIDTH_UNITS:
            return self.viewport_width / 100
        relative = {
            "%": self.whole / 100,
            "em": self.font_size,
            "rem": self.root_font_size,
            "vmin": min(self.viewport_width, self._height("lvh")) / 100,
            "vmax": max(self.viewport_width, self._height("lvh")) / 100,
        }
        return relative[name]


Data = list[Any]
"""An expression as numbers, texts and lists, for JSON."""


class Expression(Protocol):
    """A length that is not computed yet."""

    def px(self, basis: Basis) -> float:
        """The length in CSS px."""
        ...

    def css(self, percent: str) -> str:
        """The length as it may stand inside ``calc()``, with a unit in the place of ``%``."""
        ...

    def data(self) -> Data:
        """The length as plain data: ``[value, unit]`` or ``[operator, ...]``."""
        ...


@dataclass(frozen=True, slots=True)
class Term:
    """A number and its unit."""

    value: float
    unit: str

    def px(self, basis: Basis) -> float:
        """The length in CSS px."""
        return self.value * basis.unit(self.unit)

    def css(self, percent: str) -> str:
        """The length as CSS text."""
        return f"{number(self.value)}{percent if self.unit == '%' else self.unit}"

    def data(self) -> Data:
        """The length as plain data."""
        return [self.value, self.unit]


@dataclass(frozen=True, slots=True)
class SafeArea:
    """What one side of the screen keeps free: ``env(safe-area-inset-*)``.

    Source: https://www.w3.org/TR/css-env-1/#safe-area-insets
    """

    side: str

    def px(self, basis: Basis) -> float:
        """The length in CSS px."""
        return basis.safe_area[SIDES.index(self.side)]

    def css(self, percent: str) -> str:
        """The length as CSS text."""
        del percent
        return f"env(safe-area-inset-{self.side}, 0px)"

    def data(self) -> Data:
        """The length as plain data."""
        return ["safe-area", self.side]


@dataclass(frozen=True, slots=True)
class Sum:
    """The sum of several lengths."""

    parts: tuple[Expression, ...]

    def px(self, basis: Basis) -> float:
        """The length in CSS px."""
        return math.fsum(part.px(basis) for part in self.parts)

    def css(self, percent: str) -> str:
        """The length as CSS text."""
        first, *others = (part.css(percent) for part in self.parts)
        signed = (f"- {text[1:]}" if text.startswith("-") else f"+ {text}" for text in others)
        return f"({' '.join([first, *signed])})"

    def data(self) -> Data:
        """The length as plain data."""
        return ["sum", *(part.data() for part in self.parts)]


@dataclass(frozen=True, slots=True)
class Scaled:
    """A length times a number."""

    factor: float
    part: Expression

    def px(self, basis: Basis) -> float:
        """The length in CSS px."""
        return self.factor * self.part.px(basis)

    def css(self, percent: str) -> str:
        """The length as CSS text."""
        return f"({number(self.factor)} * {self.part.css(percent)})"

    def data(self) -> Data:
        """The length as plain data."""
        return ["times", self.factor, self.part.data()]


@dataclass(frozen=True, slots=True)
class Extreme:
    """The least or the greatest of several lengths: ``min()`` or ``max()``.

    Source: https://www.w3.org/TR/css-values-4/#comp-func
    """

    name: str
    parts: tuple[Expression, ...]

    def px(self, basis: Basis) -> float:
        """The length in CSS px."""
        pick = min if self.name == "min" else max
        return pick(part.px(basis) for part in self.parts)

    def css(self, percent: str) -> str:
        """The length as CSS text."""
        return f"{self.name}({', '.join(part.css(percent) for part in self.parts)})"

    def data(self) -> Data:
        """The length as plain data."""
        return [self.name, *(part.data() for part in self.parts)]


@dataclass(frozen=True, slots=True)
class Rounded:
    """A length rounded to a multiple of another one: ``round()``.

    Source: https://www.w3.org/TR/css-values-4/#round-func
    """

    strategy: str
    part: Expression
    step: Expression

    def px(self, basis: Basis) -> float:
        """The length in CSS px; a step of nothing gives nothing (10.9.1: not a number is 0)."""
        value, step = self.part.px(basis), self.step.px(basis)
        if step == 0:
            return 0.0
        return float(STRATEGIES[self.strategy](value / abs(step)) * abs(step))

    def css(self, percent: str) -> str:
        """The length as CSS text."""
        return f"round({self.strategy}, {self.part.css(percent)}, {self.step.css(percent)})"

    def data(self) -> Data:
        """The length as plain data."""
        return ["round", self.strategy, self.part.data(), self.step.data()]


@dataclass(frozen=True, slots=True)
class Length:
    """A specified length or percentage.

    Attributes:
        expression: What it comes to, once a viewport is known.
        text: The author's own words.
    """

    expression: Expression
    text: str = field(default="", compare=False)

    def px(self, basis: Basis) -> float:
        """The length in CSS px."""
        return self.expression.px(basis)

    def css(self, percent: str = "%") -> str:
        """The length as a CSS value that can stand anywhere.

        Args:
            percent: The unit to write in the place of ``%``, where it counts something else.
        """
        text = self.expression.css(percent)
        return f"calc{text}" if text.startswith("(") else text

    def split_percentage(self) -> tuple[float, Length] | None:
        """Its percentage, and the length that is added to it.

        None where the percentage is inside ``min()``, ``max()`` or ``round()``.
        """
        found = _split_percentage(self.expression)
        return None if found is None else (found[0], Length(found[1]))

    @property
    def units(self) -> frozenset[str]:
        """The units in it, ``%`` among them."""
        return frozenset(_units(self.expression.data()))

    @property
    def is_negative(self) -> bool:
        """Whether it is below zero on every screen: a single term with a minus."""
        return isinstance(self.expression, Term) and self.expression.value < 0

    @property
    def is_percentage(self) -> bool:
        """Whether it is a bare percentage."""
        return isinstance(self.expression, Term) and self.expression.unit == "%"


def scaled_by(factor: float, part: Expression) -> Expression:
    """A length times a number, as simple as it can be said."""
    return Term(factor * part.value, part.unit) if isinstance(part, Term) else Scaled(factor, part)


def _units(data: Data) -> Iterator[str]:
    """The units in an expression that is given as data."""
    if isinstance(data[0], float | int):
        yield data[1]
        return
    for item in data:
        if isinstance(item, list):
            yield from _units(item)


def _split_percentage(expression: Expression) -> tuple[float, Expression] | None:
    match expression:
        case Term(value, "%"):
            return value, Term(0.0, "px")
        case Scaled(factor, part):
            inner = _split_percentage(part)
            return None if inner is None else (factor * inner[0], scaled_by(factor, inner[1]))
        case Sum(parts):
            split = [_split_percentage(part) for part in parts]
            known = [item for item in split if item is not None]
            if len(known) < len(split):
                return None
            rest = tuple(item for _, item in known if item != Term(0.0, "px"))
            whole = math.fsum(share for share, _ in known)
            return whole, rest[0] if len(rest) == 1 else Sum(rest) if rest else Term(0.0, "px")
        case Extreme() | Rounded():
            return None if "%" in str(expression.data()) else (0.0, expression)
        case _:
            return 0.0, expression


def px(value: float) -> Length:
    """A length in CSS px."""
    return Length(Term(value, "px"), f"{number(value)}px")


def percent(value: float) -> Length:
    """A length in per cent."""
    return Length(Term(value, "%"), f"{number(value)}%")
