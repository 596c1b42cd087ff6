"""Linear gradients: CSS Images 3, section 3."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from itertools import pairwise
from typing import TYPE_CHECKING

from rising_lantern.css.colors import Color, color_from, is_color, mix
from rising_lantern.css.lengths import Basis, Length, length_from
from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import (
    Components,
    CssError,
    Token,
    significant,
    split_commas,
    written,
)

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

_REMEDY = "write for example linear-gradient(to right, #0003, transparent 60%)"
_DEGREES = {"deg": 1.0, "grad": 0.9, "rad": 180 / math.pi, "turn": 360.0}
_SIDES = {"top": (0, -1), "bottom": (0, 1), "left": (-1, 0), "right": (1, 0)}
_NAMES = frozenset({"linear-gradient", "repeating-linear-gradient"})
_MOST_STOPS = 200


@dataclass(frozen=True, slots=True)
class Stop:
    """A colour on the gradient line, or for a colour of None a hint of the middle between two.

    Attributes:
        color: The colour, or None.
        at: Where on the gradient line, from its start; None to be spaced evenly.
    """

    color: Color | None
    at: Length | None


@dataclass(frozen=True, slots=True)
class LinearGradient:
    """A specified linear gradient.

    Attributes:
        angle: Where it points, in degrees clockwise from up; None if it points to a corner.
        corner: (right, down) as -1 or 1 for the corner that it points to; None for an angle.
        stops: Its colour stops, as written.
        repeating: Whether its stops are repeated along the line.
        text: The author's own words.
    """

    angle: float | None
    corner: tuple[int, int] | None
    stops: tuple[Stop, ...]
    repeating: bool = False
    text: str = field(default="", compare=False)

    def css(self) -> str:
        """The gradient as CSS text, with the plan's colour names resolved."""
        if self.corner:
            vertical = "bottom" if self.corner[1] > 0 else "top"
            head = f"to {vertical} {'right' if self.corner[0] > 0 else 'left'}"
        else:
            head = f"{number(self.angle or 0)}deg"
        parts = [head]
        for stop in self.stops:
            words = [stop.color.css() if stop.color else "", stop.at.css() if stop.at else ""]
            parts.append(" ".join(word for word in words if word))
        return f"{'repeating-' * self.repeating}linear-gradient({', '.join(parts)})"

    def direction(self, width: float, height: float) -> tuple[float, float]:
        """The unit vector that the gradient line points along, x to the right and y down.

        CSS Images 3, 3.1.1: towards a corner, the colour half-way stands on the line through the
        two corners beside it.
        """
        if self.corner:
            x, y = self.corner[0] * height, self.corner[1] * width
            size = math.hypot(x, y) or 1.0
            return x / size, y / size
        radians = math.radians(self.angle or 0.0)
        return math.sin(radians), -math.cos(radians)

    def pixels(self, width: int, height: int, basis: Basis) -> NDArray[np.float32]:
        """The gradient over an area, sampled at pixel centres.

        Args:
            width: Width of the area in CSS px.
            height: Height of the area in CSS px.
            basis: What relative stops are relative to.

        Returns:
            Premultiplied RGBA of 0 to 1, shaped (height, width, 4). Along an axis on which
            nothing changes the shape is 1.
        """
        import numpy as np  # noqa: PLC0415 - parsing a gradient needs no arrays

        dx, dy = self.direction(width, height)
        line = abs(width * dx) + abs(height * dy)
        columns = np.arange(width) + 0.5 - width / 2 if abs(dx) > 1e-12 else np.zeros(1)  # noqa: PLR2004
        rows = np.arange(height) + 0.5 - height / 2 if abs(dy) > 1e-12 else np.zeros(1)  # noqa: PLR2004
        along = columns[None, :] * dx + rows[:, None] * dy + line / 2
        return self._ramp(along, line, basis)

    def _ramp(self, along: NDArray[np.float64], line: float, basis: Basis) -> NDArray[np.float32]:
        """Premultiplied colours at distances along a gradient line of some length, in CSS px."""
        import numpy as np  # noqa: PLC0415 - parsing a gradient needs no arrays

        places, stops = _placed(self.stops, line, basis)
        first, last = places[0], places[-1]
        if self.repeating and last > first:
            along = (along - first) % (last - first) + first
        colors = np.array([_premultiplied(stop.color) for stop in stops])
        marks = np.array(places)
        right = np.clip(np.searchsorted(marks, along, side="right"), 1, len(marks) - 1)
        span = marks[right] - marks[right - 1]
        share = np.where(
            span > 0,
            (along - marks[right - 1]) / np.where(span > 0, span, 1),
            along >= marks[right],
        )
        share = np.clip(share, 0.0, 1.0)[..., None]
        mixed = colors[right - 1] + (colors[right] - colors[right - 1]) * share
        return np.asarray(mixed, dtype=np.float32)


def parse_gradient(text: str, names: Mapping[str, Color] | None = None) -> LinearGradient:
    """Parse ``linear-gradient()`` or ``repeating-linear-gradient()``.

    Raises:
        CssError: Where the text is neither.
    """
    source = Components(text)
    if len(source.tokens) != 1 or not is_gradient(source.tokens[0]):
        raise source.error(None, f"{text!r} is not a gradient", _REMEDY)
    return gradient_from(source, source.tokens[0], names or {})


def is_gradient(token: Token) -> bool:
    """Whether a token is a gradient that can be read."""
    return token.type == "function" and token.lower_name in _NAMES


def gradient_from(source: Components, token: Token, names: Mapping[str, Color]) -> LinearGradient:
    """The gradient that one function of a text stands for.

    Raises:
        CssError: Where it stands for none.
    """
    runs = split_commas(significant(token.arguments))
    angle, corner = 180.0, None
    if runs and runs[0] and _is_direction(runs[0]):
        angle, corner = _direction(source, runs.pop(0))
    stops = [stop for run in runs for stop in _stops(source, token, run, names)]
    _check_stops(source, token, stops)
    repeating = token.lower_name.startswith("repeating")
    return LinearGradient(
        None if corner else angle, corner, tuple(stops), repeating, written([token])
    )


def _is_direction(run: list[Token]) -> bool:
    first = run[0]
    if first.type == "ident":
        return bool(first.lower_value == "to")
    return first.type == "dimension" and first.lower_unit in _DEGREES


def _direction(source: Components, run: list[Token]) -> tuple[float, tuple[int, int] | None]:
    """CSS Images 3, 3.1: ``[ <angle> | to <side-or-corner> ]``."""
    first = run[0]
    if first.type == "dimension" and len(run) == 1 and math.isfinite(first.value):
        return first.value * _DEGREES[first.lower_unit] % 360, None
    sides = [item.lower_value for item in run[1:] if item.type == "ident"]
    vectors = [_SIDES[side] for side in sides if side in _SIDES]
    x, y = (sum(vector[axis] for vector in vectors) for axis in (0, 1))
    well_formed = len(vectors) == len(run) - 1 and 1 <= len(vectors) <= 2  # noqa: PLR2004
    if not well_formed or abs(x) + abs(y) != len(vectors):
        raise source.error(first, f"{written(run)!r} is not a direction", _REMEDY)
    if x and y:
        return 0.0, (x, y)
    return math.degrees(math.atan2(x, -y)) % 360, None


def _stops(
    source: Components, token: Token, run: list[Token], names: Mapping[str, Color]
) -> list[Stop]:
    """CSS Images 3, 3.4: one run is a hint, a colour, or a colour with one or two places."""
    if not run:
        raise source.error(token, "a colour stop is empty", _REMEDY)
    colors = [item for item in run if is_color(item, names)]
    if not colors and all(item.type not in {"ident", "hash"} for item in run):
        return [Stop(None, length_from(source, run))]
    if len(colors) != 1:
        odd = next((item for item in run if item.type in {"ident", "hash", "function"}), run[0])
        color_from(source, odd, names)
        raise source.error(run[0], f"{written(run)!r} is not a colour stop", _REMEDY)
    color = color_from(source, colors[0], names)
    places = [item for item in run if item is not colors[0]]
    if len(places) > 2:  # noqa: PLR2004
        raise source.error(places[2], "a colour stop has two places at most", _REMEDY)
    lengths: list[Length | None] = [length_from(source, [item]) for item in places]
    return [Stop(color, length) for length in lengths or [None]]


def _check_stops(source: Components, token: Token, stops: list[Stop]) -> None:
    problem = None
    if len([stop for stop in stops if stop.color]) < 2:  # noqa: PLR2004
        problem = "a gradient needs two colours or more"
    elif len(stops) > _MOST_STOPS:
        problem = f"a gradient of {len(stops)} stops has more than {_MOST_STOPS}"
    elif stops[0].color is None or stops[-1].color is None:
        problem = "a hint stands between two colours, not at an end"
    elif any(not a.color and not b.color for a, b in pairwise(stops)):
        problem = "two hints stand side by side"
    if problem:
        raise source.error(token, problem, _REMEDY)


def _placed(stops: tuple[Stop, ...], line: float, basis: Basis) -> tuple[list[float], list[Stop]]:
    """CSS Images 3, 3.4.3: every stop's place on the line in CSS px, none before its forerunner.

    Hints are turned into stops of their own along the curve that they stand for.
    """
    on_line = replace(basis, whole=line)
    given: list[float | None] = [stop.at.px(on_line) if stop.at else None for stop in stops]
    given[0] = 0.0 if given[0] is None else given[0]
    given[-1] = line if given[-1] is None else given[-1]
    greatest = -math.inf
    for index, place in enumerate(given):
        if place is not None:
            greatest = max(greatest, place)
            given[index] = greatest
    places = _spaced(given)
    return _without_hints(places, list(stops))


def _spaced(given: list[float | None]) -> list[float]:
    """Places for the stops that have none, evenly between their neighbours."""
    places: list[float] = []
    for index, place in enumerate(given):
        if place is not None:
            places.append(place)
            continue
        after = next(i for i in range(index, len(given)) if given[i] is not None)
        step = ((given[after] or 0.0) - places[-1]) / (after - index + 1)
        places.append(places[-1] + step)
    return places


def _without_hints(places: list[float], stops: list[Stop]) -> tuple[list[float], list[Stop]]:
    """CSS Images 4, 3.5.3: between two colours with a hint at H the mix is P^(log .5 / log H)."""
    new_places: list[float] = []
    new_stops: list[Stop] = []
    for index, (place, stop) in enumerate(zip(places, stops, strict=True)):
        if stop.color is not None:
            new_places.append(place)
            new_stops.append(stop)
            continue
        before, after = stops[index - 1].color, stops[index + 1].color
        start, end = places[index - 1], places[index + 1]
        if before is None or after is None or end <= start:
            continue
        hint = (place - start) / (end - start)
        for share in _knots(hint):
            new_places.append(start + (end - start) * share)
            new_stops.append(Stop(mix(before, after, _hinted(share, hint)), None))
    return new_places, new_stops


def _knots(hint: float) -> list[float]:
    """Where the curve of a hint is cut into straight pieces: at the nine places browsers use."""
    if hint > 0.5:  # noqa: PLR2004 - the longer side gets seven of them
        long = [hint * (7 + step) / 13 for step in range(7)]
        return [*long, hint + (1 - hint) / 3, hint + (1 - hint) * 2 / 3]
    long = [hint + (1 - hint) * step / 13 for step in range(7)]
    return [hint / 3, hint * 2 / 3, *long]


def _hinted(share: float, hint: float) -> float:
    if hint <= 0:
        return 1.0
    if hint >= 1:
        return 0.0
    return float(share ** (math.log(0.5) / math.log(hint)))


def _premultiplied(color: Color | None) -> tuple[float, float, float, float]:
    if color is None:
        raise CssError("a gradient's stop has no colour", _REMEDY)
    return (
        color.red * color.alpha,
        color.green * color.alpha,
        color.blue * color.alpha,
        color.alpha,
    )
