"""Parsing lengths: CSS Values and Units 4, sections 6 (lengths) and 10 (math functions)."""

from __future__ import annotations

import math

from rising_lantern.css.lengths import (
    SIDES,
    STRATEGIES,
    UNITS,
    Expression,
    Extreme,
    Length,
    Rounded,
    SafeArea,
    Sum,
    Term,
    scaled_by,
)
from rising_lantern.css.syntax import (
    Components,
    Token,
    significant,
    split_commas,
    written,
)
from rising_lantern.errors import quoted

_MATH = frozenset({"calc", "min", "max", "clamp", "round"})
_ENV = "env"
_SAFE_AREA = "safe-area-inset-"
_ACCEPTED = "write a number with a unit, such as 320px, 50vh or 12%"
_CLAMP_ARGUMENTS = 3
_ROUND_ARGUMENTS = 3  # with the strategy


def parse_length(text: str) -> Length:
    """Parse a length, a percentage, a math function or a plain sum of these.

    Source: https://www.w3.org/TR/css-values-4/#lengths

    Args:
        text: For example ``320px``, ``calc(100vh - 4rem)`` or ``50% + 20px``.

    Raises:
        CssError: If the text is none of these.

    >>> from rising_lantern.css.lengths import Basis
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


def extent_from(source: Components, token: Token, remedy: str) -> Length:
    """The length that one token stands for, where it cannot be negative.

    Raises:
        CssError: If it is not a length, or negative.
    """
    length = length_from(source, [token])
    if length.is_negative:
        raise source.error(token, f"{quoted(length.text)} is negative", remedy)
    return length


def is_length(token: Token) -> bool:
    """Whether a token could be a length: decides where a grammar has alternatives."""
    if token.type == "number":
        return bool(token.value == 0)
    if token.type == "function":
        return token.lower_name in _MATH or token.lower_name == _ENV
    return token.type in {"dimension", "percentage"}


# CSS Values 4, 10.1: <calc-sum> = <calc-product> [ [ '+' | '-' ] <calc-product> ]*
def _sum(source: Components, tokens: list[Token]) -> Expression | float:
    runs, signs = _split_at(source, tokens, "+-")
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
            part if sign == "+" else scaled_by(-1.0, part)
            for part, sign in zip(lengths, signs, strict=True)
        )
    )


# CSS Values 4, 10.1: <calc-product> = <calc-value> [ '*' <calc-value> | '/' <calc-value> ]*
def _product(source: Components, tokens: list[Token]) -> Expression | float:
    runs, signs = _split_at(source, tokens, "*/")
    values = [_value(source, run) for run in runs]
    result = values[0]
    for value, run, sign in zip(values[1:], runs[1:], signs[1:], strict=True):
        if sign == "/":
            if not isinstance(value, float) or value == 0:
                raise source.error(run[0], "a length can only be divided by a number", _ACCEPTED)
            value = 1 / value  # noqa: PLW2901
        if isinstance(value, float):
            result = result * value if isinstance(result, float) else scaled_by(value, result)
        elif isinstance(result, float):
            result = scaled_by(result, value)
        else:
            raise source.error(run[0], "two lengths cannot be multiplied", _ACCEPTED)
    return result


def _split_at(
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
        case "function" if token.lower_name == _ENV:
            return _environment(source, token)
        case _:
            raise source.error(token, f"{quoted(written([token]))} is not a length", _ACCEPTED)


def _environment(source: Components, token: Token) -> Expression:
    """A variable of the screen; what it falls back on is the viewport's own to say."""
    name = next(iter(significant(token.arguments)), None)
    word = name.lower_value if name is not None and name.type == "ident" else ""
    side = word.removeprefix(_SAFE_AREA)
    if not word.startswith(_SAFE_AREA) or side not in SIDES:
        sides = ", ".join(f"{_SAFE_AREA}{side}" for side in SIDES)
        raise source.error(token, f"{quoted(written([token]))} is unknown here", f"known: {sides}")
    return SafeArea(side)


def _is_unit(token: Token) -> bool:
    """Whether a token is the name of a unit, or a percent sign by itself."""
    is_name = token.type == "ident" and token.lower_value in UNITS
    return is_name or (token.type == "literal" and token.value == "%")


def _dimension(source: Components, token: Token) -> Term:
    if token.lower_unit not in UNITS:
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
        if strategy not in STRATEGIES or len(parts) != _ROUND_ARGUMENTS - 1:
            names = ", ".join(STRATEGIES)
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
