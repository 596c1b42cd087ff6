"""Paths: stops along the scroll that place, fade and scale a layer."""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.easings import CubicBezier, Easing, Linear, Steps

_HAIR = 1e-10
_SMALLEST = 0.01  # a layer that is scaled to nothing cannot cover anything


@dataclass(frozen=True, slots=True)
class PathPoint:
    """One stop of a path on a page.

    Attributes:
        at: Its scroll position, in px.
        x: How far to the right of its place the layer is there, in px.
        y: How far below its place, in px.
        opacity: 0 to 1.
        scale: Scale factor.
        easing: Easing on the way to the next stop.
    """

    at: float
    x: float
    y: float
    opacity: float
    scale: float
    easing: Easing


@dataclass(frozen=True)
class Path:
    """A layer's path on a page. All functions take scroll positions in px, of any shape.

    Attributes:
        points: The stops; no position is below the one before it.
        before: Px down the screen per px scrolled ahead of the first stop, on top of the layer's
            own motion.
        after: The same beyond the last stop.
    """

    points: tuple[PathPoint, ...]
    before: float = 0.0
    after: float = 0.0

    @property
    def moves(self) -> bool:
        """Whether it does more than fade."""
        still = all(point.x == point.y == 0 and point.scale == 1 for point in self.points)
        return not still or self.before != 0 or self.after != 0

    @property
    def least_scale(self) -> float:
        """The smallest scale, 1 at most; an easing that overshoots may take it further down."""
        least = float(self.scale(np.array(list(self.kinks(())))).min())
        return min(1.0, max(least, _SMALLEST))

    def x(self, scroll: Floats | float) -> Floats:
        """How far to the right of its place the layer is."""
        return self._between("x", scroll)

    def y(self, scroll: Floats | float) -> Floats:
        """How far below its place the layer is."""
        first, last = self.points[0].at, self.points[-1].at
        ahead = np.minimum(np.asarray(scroll) - first, 0.0)
        beyond = np.maximum(np.asarray(scroll) - last, 0.0)
        return self._between("y", scroll) + self.before * ahead + self.after * beyond

    def opacity(self, scroll: Floats | float) -> Floats:
        """How opaque the layer is, 0 to 1."""
        return np.clip(self._between("opacity", scroll), 0.0, 1.0)

    def scale(self, scroll: Floats | float) -> Floats:
        """How many times as large the layer is."""
        return np.maximum(self._between("scale", scroll), 0.0)

    def kinks(self, slopes: Iterable[float]) -> Iterator[float]:
        """Scroll positions where the path, on top of a straight course, may turn or jump.

        Args:
            slopes: The straight courses, in px down the screen per px scrolled.
        """
        slopes = tuple(slopes)
        marks = [point.at for point in self.points]
        for first, last in zip(self.points, self.points[1:], strict=False):
            run = last.at - first.at
            rises = [last.x - first.x, last.y - first.y, last.scale - first.scale]
            if run > 0:
                turns = _turns(first.easing, run, rises, (*slopes, 0.0))
                marks += [first.at + run * share for share in turns]
        # Where the way jumps, what is hard before it and hard behind it counts as well.
        for mark in marks:
            hair = _HAIR * max(abs(mark), 1.0)
            yield from (mark - hair, mark, mark + hair)

    @cached_property
    def _positions(self) -> Floats:
        return np.array([point.at for point in self.points])

    def _between(self, name: str, scroll: Floats | float) -> Floats:
        s = np.asarray(scroll, dtype=np.float64)
        values = np.array([getattr(point, name) for point in self.points])
        index = np.clip(np.searchsorted(self._positions, s, side="right") - 1, 0, None)
        result = np.array(values[index])
        for position in range(len(self.points) - 1):
            inside = (index == position) & (s >= self._positions[position])
            if values[position] == values[position + 1] or not inside.any():
                continue
            run = self._positions[position + 1] - self._positions[position]
            share = self.points[position].easing((s[inside] - self._positions[position]) / run)
            result[inside] = values[position] + (values[position + 1] - values[position]) * share
        return np.asarray(result)


def _turns(easing: Easing, run: float, rises: list[float], slopes: tuple[float, ...]) -> set[float]:
    """Shares of the way at which ``slope * run * x + rise * easing(x)`` may turn or jump."""
    if isinstance(easing, Linear):
        return {min(max(at, 0.0), 1.0) for at, _ in easing.points}
    if isinstance(easing, Steps):
        return {step / easing.count for step in range(easing.count + 1)}
    found: set[float] = set()
    if isinstance(easing, CubicBezier):
        for rise in rises:
            for slope in slopes:
                found |= _bezier_turns(easing, slope * run, rise)
    return found


def _bezier_turns(easing: CubicBezier, run: float, rise: float) -> set[float]:
    """Where ``run * x(u) + rise * y(u)`` turns: the roots of its derivative, a quadratic in u."""
    # A cubic with handles p and q has the derivative 3 ((3p - 3q + 1) u^2 + (2q - 4p) u + p).
    a, b, c = (
        run * item + rise * other
        for item, other in zip(
            _derivative(easing.x1, easing.x2), _derivative(easing.y1, easing.y2), strict=True
        )
    )
    if abs(a) <= 1e-12 * (abs(b) + abs(c)):
        roots = [-c / b] if b else []
    else:
        inner = b * b - 4 * a * c
        roots = [(-b + sign * math.sqrt(inner)) / (2 * a) for sign in (-1, 1)] if inner >= 0 else []
    return {_cubic(u, easing.x1, easing.x2) for u in roots if 0 < u < 1}


def _derivative(p: float, q: float) -> tuple[float, float, float]:
    return 3 * p - 3 * q + 1, 2 * q - 4 * p, p


def _cubic(u: float, p: float, q: float) -> float:
    rest = 1 - u
    return 3 * rest * rest * u * p + 3 * rest * u * u * q + u**3
