"""Gradients: CSS Images 3, section 3 (linear and radial), and CSS Images 4, section 3.3 (conic)."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.angles import degrees, is_angle
from rising_lantern.css.backgrounds import CENTER, Position, position_from
from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.length_parsing import is_length, length_from
from rising_lantern.css.lengths import Basis, Length, percent
from rising_lantern.css.numbers import number
from rising_lantern.css.stops import ColorStop, ramp, read_stops, stops_css
from rising_lantern.css.syntax import Components, Token, significant, split_commas, written
from rising_lantern.errors import quoted

_LINEAR_REMEDY = "write for example linear-gradient(to right, #0003, transparent 60%)"
_RADIAL_REMEDY = "write for example radial-gradient(circle at 50% 40%, #fff, transparent 70%)"
_CONIC_REMEDY = "write for example conic-gradient(from 45deg at 50% 40%, #fff, #000, #fff)"
_SIDES = {"top": (0, -1), "bottom": (0, 1), "left": (-1, 0), "right": (1, 0)}
_KINDS = frozenset({"linear-gradient", "radial-gradient", "conic-gradient"})
_TINY = 1e-6  # CSS Images 3, 3.2.3: a gradient of no size is drawn as one that is all but that

_FAR = 48  # px along each side of a gradient whose mean colour is taken

Extent = Literal["closest-side", "farthest-side", "closest-corner", "farthest-corner"]
_EXTENTS: dict[str, Extent] = {
    "closest-side": "closest-side",
    "farthest-side": "farthest-side",
    "closest-corner": "closest-corner",
    "farthest-corner": "farthest-corner",
}


@dataclass(frozen=True, slots=True)
class LinearGradient:
    """A specified linear gradient.

    Source: https://www.w3.org/TR/css-images-3/#linear-gradients

    Attributes:
        angle: Where it points, in degrees clockwise from up; None if it points to a corner.
        corner: (right, down) as -1 or 1 for the corner that it points to; None for an angle.
        stops: Its colour stops, as written.
        repeating: Whether its stops are repeated along the line.
        text: The author's own words.
    """

    angle: float | None
    corner: tuple[int, int] | None
    stops: tuple[ColorStop, ...]
    repeating: bool = False
    text: str = field(default="", compare=False)

    def css(self) -> str:
        """The gradient as CSS text, with the plan's colour names resolved."""
        if self.corner:
            vertical = "bottom" if self.corner[1] > 0 else "top"
            head = f"to {vertical} {'right' if self.corner[0] > 0 else 'left'}"
        else:
            head = f"{number(self.angle or 0)}deg"
        return _css("linear-gradient", head, self.stops, repeating=self.repeating)

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

    def pixels(
        self, width: int, height: int, basis: Basis, rows: tuple[int, int] | None = None
    ) -> NDArray[np.float32]:
        """The gradient over an area, sampled at pixel centres.

        Args:
            width: Width of the area in CSS px.
            height: Height of the area in CSS px.
            basis: What relative stops are relative to.
            rows: The first row that is wanted, and the one after the last; by default all.

        Returns:
            Premultiplied RGBA of 0 to 1, shaped (rows, width, 4). Along an axis on which nothing
            changes the shape is 1.
        """
        dx, dy = self.direction(width, height)
        line = abs(width * dx) + abs(height * dy)
        columns = np.arange(width) + 0.5 - width / 2 if abs(dx) > _TINY else np.zeros(1)
        places = np.arange(*(rows or (0, height))) + 0.5 - height / 2
        down = places if abs(dy) > _TINY else np.zeros(1)
        along = columns[None, :] * dx + down[:, None] * dy + line / 2
        return ramp(self.stops, along, line, basis, repeating=self.repeating)


@dataclass(frozen=True, slots=True)
class RadialGradient:
    """A specified radial gradient.

    Source: https://www.w3.org/TR/css-images-3/#radial-gradients

    Attributes:
        circle: Whether it is round whatever its area; else an ellipse.
        size: How far it reaches, or its radius or radii.
        at: Its centre, as a position of the area.
        stops: Its colour stops, as written.
        repeating: Whether its stops are repeated.
        text: The author's own words.
    """

    circle: bool
    size: Extent | tuple[Length, ...]
    at: Position
    stops: tuple[ColorStop, ...]
    repeating: bool = False
    text: str = field(default="", compare=False)

    def css(self) -> str:
        """The gradient as CSS text, with the plan's colour names resolved."""
        size = self.size
        words = size if isinstance(size, str) else " ".join(length.css() for length in size)
        shape = "circle" if self.circle else "ellipse"
        head = f"{shape} {words} at {self.at.css()}"
        return _css("radial-gradient", head, self.stops, repeating=self.repeating)

    def radii(self, width: float, height: float, basis: Basis) -> tuple[float, float]:
        """Its radii across and down in CSS px: CSS Images 3, 3.2.1."""
        x, y = self.at.used((width, height), (0.0, 0.0), basis)
        if not isinstance(self.size, str):
            across = self.size[0].px(replace(basis, whole=width))
            down = self.size[-1].px(replace(basis, whole=height))
            return max(across, _TINY), max(across if self.circle else down, _TINY)
        pick = min if self.size.startswith("closest") else max
        across, down = pick(abs(x), abs(width - x)), pick(abs(y), abs(height - y))
        if self.circle:
            radius = pick(across, down) if self.size.endswith("side") else math.hypot(across, down)
            across = down = radius
        elif self.size.endswith("corner"):
            across, down = across * math.sqrt(2), down * math.sqrt(2)
        return max(across, _TINY), max(down, _TINY)

    def pixels(
        self, width: int, height: int, basis: Basis, rows: tuple[int, int] | None = None
    ) -> NDArray[np.float32]:
        """The gradient over an area; see :meth:`LinearGradient.pixels`."""
        x, y = self.at.used((width, height), (0.0, 0.0), basis)
        across, down = self.radii(width, height, basis)
        columns = (np.arange(width) + 0.5 - x) / across
        places = (np.arange(*(rows or (0, height))) + 0.5 - y) / down
        along = np.hypot(columns[None, :], places[:, None]) * across
        return ramp(self.stops, along, across, basis, repeating=self.repeating)


@dataclass(frozen=True, slots=True)
class ConicGradient:
    """A specified conic gradient.

    Source: https://www.w3.org/TR/css-images-4/#conic-gradients

    Attributes:
        angle: Where it starts, in degrees clockwise from up.
        at: Its centre, as a position of the area.
        stops: Its colour stops; percentages of a turn.
        repeating: Whether its stops are repeated.
        text: The author's own words.
    """

    angle: float
    at: Position
    stops: tuple[ColorStop, ...]
    repeating: bool = False
    text: str = field(default="", compare=False)

    def css(self) -> str:
        """The gradient as CSS text, with the plan's colour names resolved."""
        head = f"from {number(self.angle)}deg at {self.at.css()}"
        return _css("conic-gradient", head, self.stops, repeating=self.repeating)

    def pixels(
        self, width: int, height: int, basis: Basis, rows: tuple[int, int] | None = None
    ) -> NDArray[np.float32]:
        """The gradient over an area; see :meth:`LinearGradient.pixels`."""
        x, y = self.at.used((width, height), (0.0, 0.0), basis)
        columns = (np.arange(width) + 0.5 - x)[None, :]
        places = (np.arange(*(rows or (0, height))) + 0.5 - y)[:, None]
        angles = np.degrees(np.arctan2(columns, -places)) - self.angle
        return ramp(self.stops, angles % 360.0, 360.0, basis, repeating=self.repeating)


Gradient = LinearGradient | RadialGradient | ConicGradient


def parse_gradient(text: str, names: Mapping[str, Color] | None = None) -> Gradient:
    """Parse a linear, radial or conic gradient, repeating or not.

    Source: https://www.w3.org/TR/css-images-3/#gradients

    Raises:
        CssError: If the text is not valid.
    """
    source = Components(text)
    if len(source.tokens) != 1 or not is_gradient(source.tokens[0]):
        raise source.error(None, f"{quoted(text)} is not a gradient", _LINEAR_REMEDY)
    return gradient_from(source, source.tokens[0], names or {})


def is_gradient(token: Token) -> bool:
    """Whether a token is a gradient."""
    if token.type != "function":
        return False
    return token.lower_name.removeprefix("repeating-") in _KINDS


def gradient_from(source: Components, token: Token, names: Mapping[str, Color]) -> Gradient:
    """The gradient that one function of a text stands for.

    Raises:
        CssError: If it is not valid.
    """
    readers = {
        "linear-gradient": _read_linear,
        "radial-gradient": _read_radial,
        "conic-gradient": _read_conic,
    }
    runs = split_commas(significant(token.arguments))
    result = readers[token.lower_name.removeprefix("repeating-")](source, token, runs, names)
    repeating = token.lower_name.startswith("repeating")
    return replace(result, repeating=repeating, text=written([token]))


@lru_cache(maxsize=64)
def mean_color(fill: Color | Gradient) -> Color:
    """The mean colour of a gradient over a square, premultiplied; a colour is its own mean."""
    if isinstance(fill, Color):
        return fill
    red, green, blue, alpha = (
        float(level) for level in fill.pixels(_FAR, _FAR, Basis(_FAR, _FAR)).mean(axis=(0, 1))
    )
    if alpha <= 0:
        return TRANSPARENT
    channels = [min(level / alpha, 1.0) for level in (red, green, blue)]
    return Color(channels[0], channels[1], channels[2], min(alpha, 1.0))


def _css(name: str, head: str, stops: tuple[ColorStop, ...], *, repeating: bool) -> str:
    return f"{'repeating-' * repeating}{name}({', '.join([head, *stops_css(stops)])})"


_Runs = list[list[Token]]
_Names = Mapping[str, Color]


def _read_linear(source: Components, token: Token, runs: _Runs, names: _Names) -> Gradient:
    angle, corner = 180.0, None
    if runs[0] and _is_direction(runs[0]):
        angle, corner = _direction(source, runs.pop(0))
    stops = read_stops(source, token, runs, names)
    return LinearGradient(None if corner else angle, corner, stops)


def _is_direction(run: list[Token]) -> bool:
    first = run[0]
    if first.type == "ident":
        return bool(first.lower_value == "to")
    return is_angle(first)


def _direction(source: Components, run: list[Token]) -> tuple[float, tuple[int, int] | None]:
    """CSS Images 3, 3.1: ``[ <angle> | to <side-or-corner> ]``."""
    first = run[0]
    if first.type == "dimension" and len(run) == 1:
        return _angle(source, first), None
    sides = [item.lower_value for item in run[1:] if item.type == "ident"]
    vectors = [_SIDES[side] for side in sides if side in _SIDES]
    x, y = (sum(vector[axis] for vector in vectors) for axis in (0, 1))
    well_formed = len(vectors) == len(run) - 1 and 1 <= len(vectors) <= 2  # noqa: PLR2004
    if not well_formed or abs(x) + abs(y) != len(vectors):
        raise source.error(first, f"{quoted(written(run))} is not a direction", _LINEAR_REMEDY)
    if x and y:
        return 0.0, (x, y)
    return math.degrees(math.atan2(x, -y)) % 360, None


def _angle(source: Components, token: Token) -> float:
    """Degrees within a turn."""
    if not is_angle(token) or not math.isfinite(token.value):
        raise source.error(
            token, f"{quoted(written([token]))} is not an angle", "write for example 45deg"
        )
    return degrees(token) % 360


def _word(token: Token) -> str:
    return str(token.lower_value) if token.type == "ident" else ""


def _split_at(run: list[Token], word: str) -> tuple[list[Token], list[Token]]:
    """The tokens before a word and those after it; all and none where it is missing."""
    words = [_word(item) for item in run]
    if word not in words:
        return run, []
    place = words.index(word)
    return run[:place], run[place + 1 :]


def _read_radial(source: Components, token: Token, runs: _Runs, names: _Names) -> Gradient:
    """CSS Images 3, 3.2: ``[ <shape> || <size> ]? [ at <position> ]?``, then stops."""
    circle, at = False, CENTER
    size: Extent | tuple[Length, ...] = "farthest-corner"
    head = runs[0]
    if head and (_word(head[0]) in _RADIAL_WORDS or is_length(head[0])):
        shape, place = _split_at(runs.pop(0), "at")
        at = position_from(source, place) if place else CENTER
        circle, size = _shape(source, head, shape)
    return RadialGradient(circle, size, at, read_stops(source, token, runs, names))


_RADIAL_WORDS = frozenset({"circle", "ellipse", "at", *_EXTENTS})


def _shape(
    source: Components, head: list[Token], shape: list[Token]
) -> tuple[bool, Extent | tuple[Length, ...]]:
    """Whether a radial gradient is a circle, and how far it reaches."""
    words = [_word(item) for item in shape if not is_length(item)]
    lengths = tuple(length_from(source, [item]) for item in shape if is_length(item))
    extents = [_EXTENTS[word] for word in words if word in _EXTENTS]
    shapes = [word for word in words if word in {"circle", "ellipse"}]
    circle = shapes == ["circle"] or (not shapes and len(lengths) == 1)
    wanted = {0} if extents else {0, 1} if circle else {0, 2}
    known = len(extents) + len(shapes) == len(words) and max(len(extents), len(shapes)) <= 1
    if not known or len(lengths) not in wanted:
        raise source.error(head[0], f"{quoted(written(head))} is not a shape", _RADIAL_REMEDY)
    if any(length.is_negative for length in lengths):
        raise source.error(head[0], "a gradient cannot have a negative size", _RADIAL_REMEDY)
    return circle, lengths or (extents[0] if extents else "farthest-corner")


def _read_conic(source: Components, token: Token, runs: _Runs, names: _Names) -> Gradient:
    """CSS Images 4, 3.3: ``[ from <angle> ]? [ at <position> ]?``, then stops by their angle."""
    angle, at = 0.0, CENTER
    head = runs[0]
    if head and _word(head[0]) in {"from", "at"}:
        turned, place = _split_at(runs.pop(0), "at")
        at = position_from(source, place) if place else CENTER
        if turned:
            if len(turned) != 2:  # noqa: PLR2004
                raise source.error(
                    turned[0],
                    f"{quoted(written(head))} is not a start angle or centre",
                    _CONIC_REMEDY,
                )
            angle = _angle(source, turned[1])
    return ConicGradient(angle, at, read_stops(source, token, runs, names, _turn))


def _turn(source: Components, tokens: list[Token]) -> Length:
    """Where a stop of a conic gradient stands, as a percentage of a turn."""
    (token, *more) = tokens
    if not more and is_angle(token):
        if not math.isfinite(token.value):
            raise source.error(token, f"{quoted(written(tokens))} is not an angle", _CONIC_REMEDY)
        return percent(degrees(token) / 3.6)
    length = length_from(source, tokens)
    if not length.is_percentage and written(tokens) != "0":
        raise source.error(
            token, f"{quoted(written(tokens))} is not an angle or percentage", _CONIC_REMEDY
        )
    return length
