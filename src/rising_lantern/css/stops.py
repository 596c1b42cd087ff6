"""Colour stops on a gradient line: CSS Images 3, section 3.4, and hints of CSS Images 4."""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.colors import Color, color_from, is_color, mix
from rising_lantern.css.length_parsing import length_from
from rising_lantern.css.lengths import Basis, Length
from rising_lantern.css.syntax import Components, CssError, Token, written
from rising_lantern.errors import quoted

_REMEDY = "write two colours or more, such as #0003, transparent 60%"
_MOST_STOPS = 200


@dataclass(frozen=True, slots=True)
class ColorStop:
    """A colour on the gradient line, or for a colour of None a hint of the middle between two.

    Attributes:
        color: The colour, or None.
        at: Where on the gradient line, from its start; None to be spaced evenly.
    """

    color: Color | None
    at: Length | None


def stops_css(stops: tuple[ColorStop, ...]) -> list[str]:
    """The stops as CSS text, with the plan's colour names resolved."""
    words = (
        (stop.color.css() if stop.color else "", stop.at.css() if stop.at else "") for stop in stops
    )
    return [" ".join(word for word in pair if word) for pair in words]


def ramp(
    stops: tuple[ColorStop, ...],
    along: NDArray[np.float64],
    line: float,
    basis: Basis,
    *,
    repeating: bool,
) -> NDArray[np.float32]:
    """Colours at distances along a gradient line.

    Source: https://www.w3.org/TR/css-images-3/#color-stop-syntax

    Args:
        stops: The stops as specified.
        along: Distances from the line's start, of any shape.
        line: Length of the line: what 100% stands for.
        basis: What relative stops are relative to.
        repeating: Whether the stops are repeated along the line.

    Returns:
        Premultiplied RGBA of 0 to 1, with an axis of channels added.
    """
    places, placed = _place_stops(stops, line, basis)
    first, last = places[0], places[-1]
    if repeating and last > first:
        along = (along - first) % (last - first) + first
    colors = np.array([_premultiply(stop.color) for stop in placed])
    marks = np.array(places)
    if (np.diff(marks) > 0).all():
        channels = [np.interp(along, marks, channel) for channel in colors.T]
        return np.stack(channels, axis=-1).astype(np.float32)
    right = np.clip(np.searchsorted(marks, along, side="right"), 1, len(marks) - 1)
    span = marks[right] - marks[right - 1]
    share = np.where(
        span > 0, (along - marks[right - 1]) / np.where(span > 0, span, 1), along >= marks[right]
    )
    share = np.clip(share, 0.0, 1.0)[..., None]
    mixed = colors[right - 1] + (colors[right] - colors[right - 1]) * share
    return np.asarray(mixed, dtype=np.float32)


Place = Callable[[Components, list[Token]], Length]
"""Reads where a stop stands: a length, or on a circle an angle."""


def read_stops(
    source: Components,
    token: Token,
    runs: list[list[Token]],
    names: Mapping[str, Color],
    place: Place = length_from,
) -> tuple[ColorStop, ...]:
    """The stops of a gradient.

    Raises:
        CssError: If they are not valid.
    """
    stops = [stop for run in runs for stop in _stops(source, token, run, names, place)]
    _check_stops(source, token, stops)
    return tuple(stops)


def _stops(
    source: Components,
    token: Token,
    run: list[Token],
    names: Mapping[str, Color],
    place: Place,
) -> list[ColorStop]:
    """CSS Images 3, 3.4: one run is a hint, a colour, or a colour with one or two places."""
    if not run:
        raise source.error(token, "a colour stop is empty", _REMEDY)
    colors = [item for item in run if is_color(item, names)]
    if not colors and all(item.type not in {"ident", "hash"} for item in run):
        return [ColorStop(None, place(source, run))]
    if len(colors) != 1:
        odd = next((item for item in run if item.type in {"ident", "hash", "function"}), run[0])
        color_from(source, odd, names)
        raise source.error(run[0], f"{quoted(written(run))} is not a colour stop", _REMEDY)
    color = color_from(source, colors[0], names)
    places = [item for item in run if item is not colors[0]]
    if len(places) > 2:  # noqa: PLR2004
        raise source.error(places[2], "a colour stop has at most two positions", _REMEDY)
    lengths: list[Length | None] = [place(source, [item]) for item in places]
    return [ColorStop(color, length) for length in lengths or [None]]


def _check_stops(source: Components, token: Token, stops: list[ColorStop]) -> None:
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


def _place_stops(
    stops: tuple[ColorStop, ...], line: float, basis: Basis
) -> tuple[list[float], list[ColorStop]]:
    """CSS Images 3, 3.4.3: every stop's position on the line in CSS px, in rising order.

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
    places = _space_evenly(given)
    return _without_hints(places, list(stops))


def _space_evenly(given: list[float | None]) -> list[float]:
    """Places for the stops that have none, evenly between their neighbours."""
    places: list[float] = []
    for index, position in enumerate(given):
        if position is not None:
            places.append(position)
            continue
        after = next(i for i in range(index, len(given)) if given[i] is not None)
        step = ((given[after] or 0.0) - places[-1]) / (after - index + 1)
        places.append(places[-1] + step)
    return places


def _without_hints(
    places: list[float], stops: list[ColorStop]
) -> tuple[list[float], list[ColorStop]]:
    """CSS Images 4, 3.5.3: between two colours with a hint at H the mix is P^(log .5 / log H).

    Source: https://www.w3.org/TR/css-images-4/#color-interpolation-hint
    """
    new_places: list[float] = []
    new_stops: list[ColorStop] = []
    for index, (position, stop) in enumerate(zip(places, stops, strict=True)):
        if stop.color is not None:
            new_places.append(position)
            new_stops.append(stop)
            continue
        before, after = stops[index - 1].color, stops[index + 1].color
        start, end = places[index - 1], places[index + 1]
        if before is None or after is None or end <= start:
            continue
        hint = (position - start) / (end - start)
        for share in _knots(hint):
            new_places.append(start + (end - start) * share)
            new_stops.append(ColorStop(mix(before, after, _apply_hints(share, hint)), None))
    return new_places, new_stops


def _knots(hint: float) -> list[float]:
    """Where the curve of a hint is cut into straight pieces: at the nine places browsers use."""
    if hint > 0.5:  # noqa: PLR2004 - the longer side gets seven of them
        long = [hint * (7 + step) / 13 for step in range(7)]
        return [*long, hint + (1 - hint) / 3, hint + (1 - hint) * 2 / 3]
    long = [hint + (1 - hint) * step / 13 for step in range(7)]
    return [hint / 3, hint * 2 / 3, *long]


def _apply_hints(share: float, hint: float) -> float:
    if hint <= 0:
        return 1.0
    if hint >= 1:
        return 0.0
    return float(share ** (math.log(0.5) / math.log(hint)))


def _premultiply(color: Color | None) -> tuple[float, float, float, float]:
    if color is None:
        raise CssError("a gradient stop has no colour", _REMEDY)
    return (
        color.red * color.alpha,
        color.green * color.alpha,
        color.blue * color.alpha,
        color.alpha,
    )
