"""Lengths and percentages: CSS Values and Units 4, sections 6 (lengths) and 10 (math functions).

A parsed length is a small expression tree, so that ``calc(100vh - 80px)`` is kept as it was
meant until a viewport is known.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Protocol

from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import (
    Components,
    Token,
    significant,
    split_commas,
    written,
)
from rising_lantern.errors import quoted

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
# CSS Values 4, 6.1.2. No screen here has a browser bar that hides, so the small, large and
# dynamic viewports are one.
_HEIGHT_UNITS = frozenset({"vh", "svh", "lvh", "dvh"})
_WIDTH_UNITS = frozenset({"vw", "svw", "lvw", "dvw"})
_UNITS = frozenset(_ABSOLUTE) | _HEIGHT_UNITS | _WIDTH_UNITS | {"vmin", "vmax", "em", "rem"}
_MATH = frozenset({"calc", "min", "max", "clamp", "round"})
# CSS Values 4, 10.4: the strategies of round().
_STRATEGIES: dict[str, Callable[[float], float]] = {
    "nearest": lambda steps: math.floor(steps + 0.5),
    "up": math.ceil,
    "down": math.floor,
    "to-zero": math.trunc,
}
_ACCEPTED = "write a number with a unit, such as 320px, 50vh or 12%"
_CLAMP_ARGUMENTS = 3
_ROUND_ARGUMENTS = 3  # with the strategy


@dataclass(frozen=True, slots=True)
class Basis:
    """What relative lengths are relative to. All in CSS px.

    Attributes:
        viewport_width: Width of the viewport with its scrollbar, as ``vw`` counts it.
        viewport_height: Height of the viewport.
        font_size: Size of the text at hand, for ``em``.
        root_font_size: Size of the root's text, for ``rem``.
        whole: What 100% stands for.
    """

    viewport_width: float
    viewport_height: float
    font_size: float = 16.0
    root_font_size: float = 16.0
    whole: float = 0.0

    def unit(self, name: str) -> float:
        """One of a unit (lower case), in CSS px."""
        if name in _ABSOLUTE:
            return _ABSOLUTE[name]
        if name in _HEIGHT_UNITS:
            return self.viewport_height / 100
        if name in _WIDTH_UNITS:
            return self.viewport_width / 100
        relative = {
            "%": self.whole / 100,
            "em": self.font_size,
            "rem": self.root_font_size,
            "vmin": min(self.viewport_width, self.viewport_height) / 100,
            "vmax": max(self.viewport_width, self.viewport_height) / 100,
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
class Sum:
    """The sum of several lengths."""

    parts: tuple[Expression, ...]

    def px(self, basis: Basis) -> float:
        """The length in CSS px."""
        return math.fsum(part.px(basis) for part in self.parts)

    def css(self, percent: str) -> str:
        """The length as CSS text."""
        return f"({' + '.join(part.css(percent) for part in self.parts)})"

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
        return float(_STRATEGIES[self.strategy](value / abs(step)) * abs(step))

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
    def is_negative(self) -> bool:
        """Whether it is below zero on every screen: a single term with a minus."""
        return isinstance(self.expression, Term) and self.expression.value < 0

    @property
    def is_percentage(self) -> bool:
        """Whether it is a bare percentage."""
        return isinstance(self.expression, Term) and self.expression.unit == "%"


def _split_percentage(expression: Expression) -> tuple[float, Expression] | None:
    match expression:
        case Term(value, "%"):
            return value, Term(0.0, "px")
        case Scaled(factor, part):
            inner = _split_percentage(part)
            return None if inner is None else (factor * inner[0], _scaled(factor, inner[1]))
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


def parse_length(text: str) -> Length:
    """Parse a length, a percentage, a math function or a plain sum of these.

    Source: https://www.w3.org/TR/css-values-4/#lengths

    Args:
        text: For example ``320px``, ``calc(100vh - 4rem)`` or ``50% + 20px``.

    Raises:
        CssError: If the text is none of these.

    >>> parse_length("100vh - 80px").px(Basis(1280, 800))
    720.0
    """
    return length_from(Components(text))


def length_from(source: Components, tokens: list[Token] | None = None) -> Length:
    """The length that some tokens of a text stand for; all of its tokens for None.

    Raises:
        CssError: If they are not valid.
    """
    tokens = source.tokens if tokens is None else tokens
    value = _sum(source, tokens)
    if isinstance(value, float):
        if value != 0:
            raise source.error(
                tokens[0] if tokens else None, f"{quoted(written(tokens))} has no unit", _ACCEPTED
            )
        value = Term(0.0, "px")
    return Length(value, written(tokens))


def is_length(token: Token) -> bool:
    """Whether a token could be a length: decides where a grammar has alternatives."""
    if token.type == "number":
        return bool(token.value == 0)
    if token.type == "function":
        return token.lower_name in _MATH
    return token.type in {"dimension", "percentage"}


# CSS Values 4, 10.1: <calc-sum> = <calc-product> [ [ '+' | '-' ] <calc-product> ]*
def _sum(source: Components, tokens: list[Token]) -> Expression | float:
    runs, signs = _split(source, tokens, "+-")
    values = [_product(source, run) for run in runs]
    if len(values) == 1:
        return values[0]
    numbers = [value for value in values if isinstance(value, float)]
    if len(numbers) == len(values):
        return math.fsum(a if sign == "+" else -a for a, sign in zip(numbers, signs, strict=True))
    for value, run in zip(values, runs, strict=True):
        if isinstance(value, float) and value != 0:
            raise source.error(run[0], f"{quoted(written(run))} has no unit", _ACCEPTED)
    lengths = [Term(0.0, "px") if isinstance(value, float) else value for value in values]
    return Sum(
        tuple(
            part if sign == "+" else _scaled(-1.0, part)
            for part, sign in zip(lengths, signs, strict=True)
        )
    )


# CSS Values 4, 10.1: <calc-product> = <calc-value> [ '*' <calc-value> | '/' <calc-value> ]*
def _product(source: Components, tokens: list[Token]) -> Expression | float:
    runs, signs = _split(source, tokens, "*/")
    values = [_value(source, run) for run in runs]
    result = values[0]
    for value, run, sign in zip(values[1:], runs[1:], signs[1:], strict=True):
        if sign == "/":
            if not isinstance(value, float) or value == 0:
                raise source.error(run[0], "a length can only be divided by a number", _ACCEPTED)
            value = 1 / value  # noqa: PLW2901
        if isinstance(value, float):
            result = result * value if isinstance(result, float) else _scaled(value, result)
        elif isinstance(result, float):
            result = _scaled(result, value)
        else:
            raise source.error(run[0], "two lengths cannot be multiplied", _ACCEPTED)
    return result


def _scaled(factor: float, part: Expression) -> Expression:
    return Term(factor * part.value, part.unit) if isinstance(part, Term) else Scaled(factor, part)


def _split(
    source: Components, tokens: list[Token], operators: str
) -> tuple[list[list[Token]], list[str]]:
    """The runs between some operators, and the operator before each (``+`` or ``*`` first)."""
    runs: list[list[Token]] = [[]]
    signs = [operators[0]]
    for token in tokens:
        if token.type == "literal" and token.value in operators:
            runs.append([])
            signs.append(token.value)
        else:
            runs[-1].append(token)
    for index, run in enumerate(runs):
        if not run:
            place = tokens[0] if tokens and index == 0 else None
            raise source.error(place, f"{quoted(source.text)} is not a length", _ACCEPTED)
    return runs, signs


# CSS Values 4, 10.1: <calc-value> = <number> | <dimension> | <percentage> | ( <calc-sum> )
def _value(source: Components, tokens: list[Token]) -> Expression | float:
    token, *more = tokens
    if more and token.type == "number" and _is_unit(more[0]):
        unit = written([more[0]])
        raise source.error(
            more[0],
            f"there is a space between {quoted(written([token]))} and its unit",
            f"remove the space: {written([token])}{unit}",
        )
    if more:
        raise source.error(
            more[0],
            f"{quoted(written([more[0]]))} cannot follow {quoted(written([token]))}",
            "write + or - with a space on each side between two lengths",
        )
    if token.type in {"number", "dimension", "percentage"} and not math.isfinite(token.value):
        raise source.error(token, f"{quoted(written([token]))} is not finite", _ACCEPTED)
    match token.type:
        case "number":
            return float(token.value)
        case "percentage":
            return Term(token.value, "%")
        case "dimension":
            return _dimension(source, token)
        case "() block":
            return _sum(source, significant(token.content))
        case "function" if token.lower_name in _MATH:
            return _math(source, token)
        case _:
            raise source.error(token, f"{quoted(written([token]))} is not a length", _ACCEPTED)


def _is_unit(token: Token) -> bool:
    """Whether a token is the name of a unit, or a percent sign by itself."""
    is_name = token.type == "ident" and token.lower_value in _UNITS
    return is_name or (token.type == "literal" and token.value == "%")


def _dimension(source: Components, token: Token) -> Term:
    if token.lower_unit not in _UNITS:
        raise source.error(
            token,
            f"{quoted(written([token]))} has an unknown unit",
            "use px, em, rem, vw, vh, vmin, vmax, an absolute unit or %",
        )
    return Term(token.value, token.lower_unit)


# CSS Values 4, 10.2 and 10.3: min(), max() and clamp() take calculations.
def _math(source: Components, token: Token) -> Expression | float:
    runs = split_commas(significant(token.arguments))
    strategy = ""
    if token.lower_name == "round":
        strategy = "nearest"
        if len(runs) == _ROUND_ARGUMENTS and len(runs[0]) == 1 and runs[0][0].type == "ident":
            strategy, runs = runs[0][0].lower_value, runs[1:]
    arguments = [_sum(source, run) for run in runs]
    if token.lower_name == "calc":
        if len(arguments) != 1:
            raise source.error(token, "calc() takes one calculation", _ACCEPTED)
        return arguments[0]
    lengths = [
        Term(0.0, "px") if isinstance(argument, float) and argument == 0 else argument
        for argument in arguments
    ]
    if any(isinstance(length, float) for length in lengths):
        raise source.error(
            token, f"{quoted(written([token]))} has a number without a unit", _ACCEPTED
        )
    parts: tuple[Expression, ...] = tuple(lengths)  # type: ignore[arg-type]
    if token.lower_name == "round":
        if strategy not in _STRATEGIES or len(parts) != _ROUND_ARGUMENTS - 1:
            names = ", ".join(_STRATEGIES)
            raise source.error(
                token,
                "round() takes a length and the step to round to",
                f"write round(down, 31.3vh, 4px); before the length can stand {names}",
            )
        return Rounded(strategy, parts[0], parts[1])
    if token.lower_name != "clamp":
        return Extreme(token.lower_name, parts)
    if len(parts) != _CLAMP_ARGUMENTS:
        raise source.error(token, "clamp() takes three lengths", "write clamp(least, middle, most)")
    least, middle, most = parts
    return Extreme("max", (least, Extreme("min", (middle, most))))
