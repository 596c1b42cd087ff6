"""Filter functions: Filter Effects 1, sections 6 and 13."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.angles import degrees, is_angle
from rising_lantern.css.length_parsing import length_from
from rising_lantern.css.lengths import Basis, Length, px
from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import Components, Token, significant, written
from rising_lantern.errors import quoted

_REMEDY = (
    "write one or more of blur(), brightness(), contrast(), grayscale(), hue-rotate(), invert(), "
    "opacity(), saturate() and sepia()"
)
_AMOUNTS = frozenset(
    {"brightness", "contrast", "grayscale", "invert", "opacity", "saturate", "sepia"}
)
_NO_MORE_THAN_1 = frozenset({"grayscale", "invert", "opacity", "sepia"})

# Filter Effects 1, 13.1: what is added to the luminance by each channel.
_LUMA = (0.2126, 0.7152, 0.0722)
_HUE_LUMA = (0.213, 0.715, 0.072)


@dataclass(frozen=True, slots=True)
class Filter:
    """One filter function.

    Source: https://www.w3.org/TR/filter-effects-1/#FilterFunction

    Attributes:
        name: Its name in CSS.
        amount: 1 for 100%, or degrees for ``hue-rotate``; of no meaning for ``blur``.
        radius: The deviation of a ``blur``.
    """

    name: str
    amount: float = 1.0
    radius: Length | None = None

    def css(self) -> str:
        """The function as CSS text."""
        if self.radius:
            return f"{self.name}({self.radius.css()})"
        return f"{self.name}({number(self.amount)}{'deg' * (self.name == 'hue-rotate')})"

    def applied(self, pixels: NDArray[np.floating]) -> NDArray[np.float32]:
        """Colours after the filter: Filter Effects 1, 13.1; not for ``blur``.

        Args:
            pixels: RGBA of 0 to 1, not premultiplied, shaped (..., 4).
        """
        color, alpha = pixels[..., :3], pixels[..., 3:]
        match self.name:
            case "brightness":
                color = color * self.amount
            case "contrast":
                color = (color - 0.5) * self.amount + 0.5
            case "invert":
                color = color * (1 - 2 * self.amount) + self.amount
            case "opacity":
                alpha = alpha * self.amount
            case _:
                color = color @ np.array(self._matrix(), dtype=pixels.dtype).T
        joined = np.concatenate([color, alpha], axis=-1)
        return np.asarray(np.clip(joined, 0, 1), dtype=np.float32)

    @property
    def is_separable(self) -> bool:
        """Whether it changes each colour channel by itself, and no alpha."""
        return self.name in {"brightness", "contrast", "invert"}

    def deviation(self, basis: Basis) -> float:
        """The deviation of a ``blur`` in CSS px; 0 for any other filter."""
        return max(self.radius.px(basis), 0.0) if self.radius else 0.0

    def _matrix(self) -> _Matrix:
        """The colour matrix of a filter that mixes the channels."""
        one = [[1.0, 0.0, 0.0], [0.0, 1.0, 0.0], [0.0, 0.0, 1.0]]
        grey = [list(_HUE_LUMA)] * 3 if self.name == "saturate" else [list(_LUMA)] * 3
        if self.name == "saturate":
            return _between(grey, one, self.amount)
        if self.name == "grayscale":
            return _between(one, grey, self.amount)
        if self.name == "sepia":
            brown = [[0.393, 0.769, 0.189], [0.349, 0.686, 0.168], [0.272, 0.534, 0.131]]
            return _between(one, brown, self.amount)
        return _hue_rotation(math.radians(self.amount))


_Matrix = list[list[float]]


def _between(first: _Matrix, second: _Matrix, share: float) -> _Matrix:
    return [
        [a + (b - a) * share for a, b in zip(row, other, strict=True)]
        for row, other in zip(first, second, strict=True)
    ]


def _hue_rotation(angle: float) -> _Matrix:
    """Filter Effects 1, 13.1.6: the matrix of ``hue-rotate``."""
    cosine, sine = math.cos(angle), math.sin(angle)
    red, green, blue = _HUE_LUMA
    return [
        [
            red + cosine * (1 - red) - sine * red,
            green - cosine * green - sine * green,
            blue - cosine * blue + sine * (1 - blue),
        ],
        [
            red - cosine * red + sine * 0.143,
            green + cosine * (1 - green) + sine * 0.14,
            blue - cosine * blue - sine * 0.283,
        ],
        [
            red - cosine * red - sine * (1 - red),
            green - cosine * green + sine * green,
            blue + cosine * (1 - blue) + sine * blue,
        ],
    ]


def parse_filters(text: str) -> tuple[Filter, ...]:
    """Parse a ``<filter-value-list>``, in the order in which the filters work; ``none`` is none.

    Source: https://www.w3.org/TR/filter-effects-1/#FilterProperty

    Raises:
        CssError: If the text is not a valid list.
    """
    source = Components(text)
    if len(source.tokens) == 1 and source.tokens[0].type == "ident":
        if source.tokens[0].lower_value == "none":
            return ()
        raise source.error(source.tokens[0], f"{quoted(text)} is not a filter", _REMEDY)
    if not source.tokens:
        raise source.error(None, f"{quoted(text)} is not a filter", _REMEDY)
    return tuple(_filter(source, token) for token in source.tokens)


def _filter(source: Components, token: Token) -> Filter:
    name = token.lower_name if token.type == "function" else ""
    arguments = significant(token.arguments) if name else []
    if name == "blur":
        radius = length_from(source, arguments) if arguments else px(0)
        if radius.is_negative or radius.is_percentage:
            raise source.error(
                token, "a blur radius must be a length of zero or more", "write blur(4px)"
            )
        return Filter(name, radius=radius)
    if name == "hue-rotate":
        return Filter(name, _angle(source, token, arguments))
    if name in _AMOUNTS:
        amount = _amount(source, token, arguments)
        return Filter(name, min(amount, 1.0) if name in _NO_MORE_THAN_1 else amount)
    raise source.error(token, f"{quoted(written([token]))} is not a filter", _REMEDY)


def _amount(source: Components, token: Token, arguments: list[Token]) -> float:
    if not arguments:
        return 1.0
    value = arguments[0]
    share = {"number": 1.0, "percentage": 0.01}.get(value.type)
    if len(arguments) > 1 or share is None or not math.isfinite(value.value) or value.value < 0:
        raise source.error(
            value,
            f"{quoted(written(arguments))} is not an amount for {token.lower_name}()",
            "write a number or percentage of zero or more, such as 1.2 or 120%",
        )
    return float(value.value * share)


def _angle(source: Components, token: Token, arguments: list[Token]) -> float:
    if not arguments:
        return 0.0
    value = arguments[0]
    is_zero = value.type == "number" and value.value == 0
    if len(arguments) > 1 or not (is_zero or is_angle(value)) or not math.isfinite(value.value):
        problem = f"{quoted(written(arguments))} is not an angle for {token.lower_name}()"
        raise source.error(value, problem, "write for example 40deg")
    return 0.0 if is_zero else degrees(value)
