"""Easing functions: CSS Easing Functions 2, evaluated over arrays of progress."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from functools import lru_cache
from typing import Literal, Protocol, TypeVar

import numpy as np
from numpy.typing import ArrayLike, NDArray

from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import Components, Token, significant, split_commas, written
from rising_lantern.errors import quoted

Coordinate = TypeVar("Coordinate", float, NDArray[np.float64])

_ACCEPTED = (
    "write ease, ease-in, ease-out, ease-in-out, linear, step-start, step-end, "
    "cubic-bezier(), steps() or linear()"
)
_HALVINGS = 54  # an interval of 1 halved as often is one unit in the last place of a double
_BEZIER_NUMBERS = 4
_MOST_STEPS = 10_000


class Easing(Protocol):
    """A function from progress in time or space to progress of the change."""

    def __call__(self, progress: ArrayLike) -> NDArray[np.float64]:
        """The eased progress, for input progress of any shape in 0..1."""
        ...

    def css(self) -> str:
        """The easing as CSS text."""
        ...


@dataclass(frozen=True, slots=True)
class CubicBezier:
    """A cubic Bezier curve from (0, 0) to (1, 1): CSS Easing 2, 2.2.

    Source: https://www.w3.org/TR/css-easing-2/#cubic-bezier-easing-functions
    """

    x1: float
    y1: float
    x2: float
    y2: float

    def __call__(self, progress: ArrayLike) -> NDArray[np.float64]:
        """The curve's y at the given x, both ends exact."""
        y = np.array(progress, dtype=np.float64)
        if y.size == 1:
            return np.full_like(y, _height(self, min(max(y.item(), 0.0), 1.0)))
        np.clip(y, 0.0, 1.0, out=y)
        inner = (y > 0) & (y < 1)
        if inner.any():
            y[inner] = self._inner(y[inner])
        return y

    def _inner(self, x: NDArray[np.float64]) -> NDArray[np.float64]:
        """The curve's y between its ends.

        x(u) rises with u, since both handles lie within 0..1: halving always finds it, also
        where the curve stands upright and a derivative would mislead.
        """
        low, high = np.zeros_like(x), np.ones_like(x)
        for _ in range(_HALVINGS):
            middle = (low + high) / 2
            below = _bezier(middle, self.x1, self.x2) < x
            low, high = np.where(below, middle, low), np.where(below, high, middle)
        return _bezier((low + high) / 2, self.y1, self.y2)

    def css(self) -> str:
        """The easing as CSS text."""
        values = (self.x1, self.y1, self.x2, self.y2)
        name = _keyword(self)
        if name:
            return name
        return f"cubic-bezier({', '.join(number(value) for value in values)})"


_Jump = Literal["jump-start", "jump-end", "jump-both", "jump-none"]
_JUMPS: dict[str, _Jump] = {
    "start": "jump-start",
    "end": "jump-end",
    "jump-start": "jump-start",
    "jump-end": "jump-end",
    "jump-both": "jump-both",
    "jump-none": "jump-none",
}


@dataclass(frozen=True, slots=True)
class Steps:
    """A staircase: CSS Easing 2, 2.3.

    Source: https://www.w3.org/TR/css-easing-2/#step-easing-functions
    """

    count: int
    jump: _Jump

    def __call__(self, progress: ArrayLike) -> NDArray[np.float64]:
        """The height of the stair at the given progress."""
        x = np.clip(np.asarray(progress, dtype=np.float64), 0.0, 1.0)
        rises = self.count + {"jump-both": 1, "jump-none": -1}.get(self.jump, 0)
        stair = np.floor(x * self.count)
        if self.jump in {"jump-start", "jump-both"}:
            stair = stair + 1
        return np.asarray(np.clip(stair, 0, rises) / rises)

    def css(self) -> str:
        """The easing as CSS text."""
        return f"steps({self.count}, {self.jump})"


@dataclass(frozen=True, slots=True)
class Linear:
    """Straight lines between points: CSS Easing 2, 2.1.

    Source: https://www.w3.org/TR/css-easing-2/#the-linear-easing-function

    Attributes:
        points: (input, output) pairs; inputs do not fall.
    """

    points: tuple[tuple[float, float], ...] = ((0.0, 0.0), (1.0, 1.0))

    def __call__(self, progress: ArrayLike) -> NDArray[np.float64]:
        """The line's height at the given progress."""
        x = np.asarray(progress, dtype=np.float64)
        inputs = np.array([point[0] for point in self.points])
        outputs = np.array([point[1] for point in self.points])
        # Where two points share an input, the later one holds from there on.
        right = np.clip(np.searchsorted(inputs, x, side="right"), 1, len(inputs) - 1)
        left = right - 1
        span = inputs[right] - inputs[left]
        share = np.where(span > 0, (x - inputs[left]) / np.where(span > 0, span, 1.0), 1.0)
        return np.asarray(outputs[left] + (outputs[right] - outputs[left]) * share)

    def css(self) -> str:
        """The easing as CSS text."""
        name = _keyword(self)
        if name:
            return name
        stops = (f"{number(output)} {number(at * 100)}%" for at, output in self.points)
        return f"linear({', '.join(stops)})"


LINEAR = Linear()
EASE = CubicBezier(0.25, 0.1, 0.25, 1.0)

# CSS Easing 2, 2.2 and 2.3: the keywords.
_KEYWORDS: dict[str, Easing] = {
    "linear": LINEAR,
    "ease": EASE,
    "ease-in": CubicBezier(0.42, 0.0, 1.0, 1.0),
    "ease-out": CubicBezier(0.0, 0.0, 0.58, 1.0),
    "ease-in-out": CubicBezier(0.42, 0.0, 0.58, 1.0),
    "step-start": Steps(1, "jump-start"),
    "step-end": Steps(1, "jump-end"),
}


def _keyword(easing: Easing) -> str | None:
    """The keyword that means the same, or None."""
    return next((name for name, known in _KEYWORDS.items() if known == easing), None)


def parse_easing(text: str) -> Easing:
    """Parse an ``<easing-function>``.

    Source: https://www.w3.org/TR/css-easing-2/#typedef-easing-function

    Raises:
        CssError: If the text is not valid.

    >>> float(parse_easing("ease")(0.4).round(6))
    0.682541
    """
    source = Components(text)
    if len(source.tokens) != 1:
        raise source.error(None, f"{quoted(text)} is not a single easing", _ACCEPTED)
    return easing_from(source, source.tokens[0])


def easing_from(source: Components, token: Token) -> Easing:
    """The easing that one token of a text stands for.

    Raises:
        CssError: If it is not valid.
    """
    if token.type == "ident" and token.lower_value in _KEYWORDS:
        return _KEYWORDS[token.lower_value]
    readers: dict[str, Callable[[Components, Token], Easing]] = {
        "cubic-bezier": _read_bezier,
        "steps": _read_steps,
        "linear": _read_linear,
    }
    if token.type == "function" and token.lower_name in readers:
        return readers[token.lower_name](source, token)
    raise source.error(token, f"{quoted(written([token]))} is not an easing", _ACCEPTED)


def _read_bezier(source: Components, token: Token) -> CubicBezier:
    runs = split_commas(significant(token.arguments))
    values = [run[0].value for run in runs if len(run) == 1 and run[0].type == "number"]
    if len(values) != _BEZIER_NUMBERS or len(runs) != _BEZIER_NUMBERS:
        raise source.error(
            token, "cubic-bezier() takes four numbers", "write cubic-bezier(.2, 0, .4, 1)"
        )
    if not all(math.isfinite(value) for value in values):
        raise source.error(token, "cubic-bezier() needs finite numbers", "use smaller numbers")
    x1, y1, x2, y2 = values
    if not (0 <= x1 <= 1 and 0 <= x2 <= 1):
        raise source.error(
            token,
            "the first and third number of cubic-bezier() lie outside 0 to 1",
            "keep both within 0 to 1, so that time runs forward",
        )
    return CubicBezier(x1, y1, x2, y2)


def _read_steps(source: Components, token: Token) -> Steps:
    remedy = "write steps(4) or steps(4, jump-start)"
    count, *more = split_commas(significant(token.arguments))
    word = more[0][0].lower_value if more and more[0] and more[0][0].type == "ident" else "end"
    jump = _JUMPS.get(word)
    well_formed = len(count) == 1 and count[0].type == "number" and count[0].is_integer
    if not well_formed or len(more) > 1 or (more and len(more[0]) != 1):
        raise source.error(token, "steps() takes a whole number and a jump keyword", remedy)
    if jump is None:
        raise source.error(more[0][0], f"{quoted(word)} is not a jump keyword", remedy)
    least = 2 if jump == "jump-none" else 1
    if not least <= count[0].int_value <= _MOST_STEPS:
        raise source.error(
            count[0],
            f"steps() cannot have {count[0].int_value} steps here",
            f"write from {least} to {_MOST_STEPS}",
        )
    return Steps(count[0].int_value, jump)


def _read_linear(source: Components, token: Token) -> Linear:
    """CSS Easing 2, 2.1.2: fill in the inputs that are left out, and let none fall."""
    stops: list[tuple[float | None, float]] = []
    for run in split_commas(significant(token.arguments)):
        outputs = [item.value for item in run if item.type == "number"]
        inputs = [item.value / 100 for item in run if item.type == "percentage"]
        if len(outputs) != 1 or len(inputs) + 1 != len(run) or len(inputs) > 2:  # noqa: PLR2004
            raise source.error(
                run[0] if run else token,
                f"{quoted(written(run))} is not a stop of linear()",
                "write linear(0, 0.3 40%, 1)",
            )
        if not all(math.isfinite(value) for value in [*outputs, *inputs]):
            raise source.error(run[0], "linear() takes finite numbers", "use smaller numbers")
        stops += [(at, outputs[0]) for at in inputs] or [(None, outputs[0])]
    if len(stops) < 2:  # noqa: PLR2004
        raise source.error(token, "linear() takes two stops or more", "write linear(0, 0.3 40%, 1)")
    return Linear(tuple(zip(_filled([at for at, _ in stops]), [y for _, y in stops], strict=True)))


def _filled(inputs: list[float | None]) -> list[float]:
    ends = [0.0 if inputs[0] is None else inputs[0], *inputs[1:-1]]
    ends.append(1.0 if inputs[-1] is None else inputs[-1])
    greatest = -math.inf
    known: dict[int, float] = {}
    for index, at in enumerate(ends):
        if at is not None:
            greatest = max(greatest, at)
            known[index] = greatest
    filled: list[float] = []
    for index in range(len(ends)):
        before = max(place for place in known if place <= index)
        after = min(place for place in known if place >= index)
        share = (index - before) / (after - before) if after > before else 0.0
        filled.append(known[before] + (known[after] - known[before]) * share)
    return filled


@lru_cache(maxsize=1024)
def _height(curve: CubicBezier, x: float) -> float:
    """A curve's y at one place: all properties of a transition ask for the same ones."""
    if not 0 < x < 1:
        return x
    low, high = 0.0, 1.0
    for _ in range(_HALVINGS):
        middle = (low + high) / 2
        if _bezier(middle, curve.x1, curve.x2) < x:
            low = middle
        else:
            high = middle
    return _bezier((low + high) / 2, curve.y1, curve.y2)


def _bezier(u: Coordinate, first: float, second: float) -> Coordinate:
    """One coordinate of the curve at its parameter."""
    rest = 1 - u
    return 3 * rest * rest * u * first + 3 * rest * u * u * second + u * u * u
