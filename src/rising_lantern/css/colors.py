"""Colours: CSS Color 4, taken to sRGB, and mixed and laid over each other as browsers do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from difflib import get_close_matches

import numpy as np
import tinycss2.color4

from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import Components, Token, written
from rising_lantern.errors import quoted

_ACCEPTED = (
    "write a colour such as #16213e, rgb(0 0 0 / .4), oklch(60% .1 250) or a name of the plan"
)

# CSS Color 4, 10.7 and 17: linear-light matrices to and from CIE XYZ with a D65 white.
_XYZ_TO_SRGB = (
    (12831 / 3959, -329 / 214, -1974 / 3959),
    (-851781 / 878810, 1648619 / 878810, 36519 / 878810),
    (705 / 12673, -2585 / 12673, 705 / 667),
)
_P3_TO_XYZ = (
    (608311 / 1250200, 189793 / 714400, 198249 / 1000160),
    (35783 / 156275, 247089 / 357200, 198249 / 2500400),
    (0.0, 32229 / 714400, 5220557 / 5000800),
)
_A98_TO_XYZ = (
    (573536 / 994567, 263643 / 1420810, 187206 / 994567),
    (591459 / 1989134, 6239551 / 9945670, 374412 / 4972835),
    (53769 / 1989134, 351524 / 4972835, 4929758 / 4972835),
)
_PROPHOTO_TO_XYZ_D50 = (
    (0.7977666449006423, 0.13518129740053308, 0.0313477341283922),
    (0.2880748288194013, 0.711835234241873, 0.00008993693872564),
    (0.0, 0.0, 0.8251046025104602),
)
_REC2020_TO_XYZ = (
    (63426534 / 99577255, 20160776 / 139408157, 47086771 / 278816314),
    (26158966 / 99577255, 472592308 / 697040785, 8267143 / 139408157),
    (0.0, 19567812 / 697040785, 295819943 / 278816314),
)
# CSS Color 4, 17: Bradford adaptation from D50 to D65.
_D50_TO_D65 = (
    (0.955473421488075, -0.02309845494876471, 0.06325924320057072),
    (-0.0283697093338637, 1.0099953980813041, 0.021041441191917323),
    (0.012314014864481998, -0.020507649298898964, 1.330365926242124),
)

_Triple = tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Color:
    """A colour in sRGB, not premultiplied.

    Attributes:
        red, green, blue, alpha: 0 to 1 each.
        text: The author's own words.
    """

    red: float
    green: float
    blue: float
    alpha: float = 1.0
    text: str = field(default="", compare=False)

    @property
    def rgba(self) -> tuple[float, float, float, float]:
        """The four channels, 0 to 1."""
        return self.red, self.green, self.blue, self.alpha

    @property
    def bytes(self) -> tuple[int, int, int, int]:
        """The four channels in 8 bits, rounded half up as browsers do."""
        red, green, blue, alpha = (int(channel * 255 + 0.5) for channel in self.rgba)
        return red, green, blue, alpha

    @property
    def premultiplied_bytes(self) -> tuple[int, int, int, int]:
        """The colour as it is laid over others: each channel times the alpha, in 8 bits."""
        red, green, blue, alpha = self.bytes
        scaled = [(channel * alpha + 127) // 255 for channel in (red, green, blue)]
        return scaled[0], scaled[1], scaled[2], alpha

    def hex(self) -> str:
        """``#rrggbbaa``."""
        return "#" + "".join(f"{channel:02x}" for channel in self.bytes)

    def css(self) -> str:
        """The colour in the legacy syntax, which every browser mixes in sRGB."""
        red, green, blue, _ = self.bytes
        return f"rgba({red}, {green}, {blue}, {number(self.alpha)})"


TRANSPARENT = Color(0.0, 0.0, 0.0, 0.0, "transparent")
BLACK = Color(0.0, 0.0, 0.0, 1.0, "black")
WHITE = Color(1.0, 1.0, 1.0, 1.0, "white")


def parse_color(text: str, names: Mapping[str, Color] | None = None) -> Color:
    """Parse a colour, or the name of one.

    Source: https://www.w3.org/TR/css-color-4/#color-syntax

    Args:
        text: A CSS colour, for example ``#16213e`` or ``oklch(60% .2 260)``.
        names: Colours that the plan names.

    Raises:
        CssError: If the text is not a colour.

    >>> parse_color("rgb(0 0 0 / 40%)").hex()
    '#00000066'
    """
    source = Components(text)
    if len(source.tokens) != 1:
        raise source.error(
            source.tokens[1] if source.tokens else None,
            f"{quoted(text)} is not a single colour",
            _ACCEPTED,
        )
    return color_from(source, source.tokens[0], names or {})


def color_from(source: Components, token: Token, names: Mapping[str, Color]) -> Color:
    """The colour that one token of a text stands for.

    Raises:
        CssError: If it is not valid.
    """
    found = _found(token, names)
    text = written([token])
    if found is None:
        raise source.error(token, f"{quoted(text)} is not a colour", _remedy(token, names))
    if found == "currentcolor":
        raise source.error(token, "'currentcolor' has no meaning in a plan", _ACCEPTED)
    if isinstance(found, Color):
        return found
    red, green, blue = (min(max(channel, 0.0), 1.0) for channel in _to_srgb(found))
    return Color(red, green, blue, found.alpha, text)


def _found(token: Token, names: Mapping[str, Color]) -> Token | Color | None:
    """What tinycss2 makes of a token, or the plan's colour of that name; None for no colour."""
    if token.type == "ident" and token.value in names:
        return names[token.value]
    try:
        return tinycss2.color4.parse_color(token)
    except (ValueError, IndexError, TypeError):
        return None


def _remedy(token: Token, names: Mapping[str, Color]) -> str:
    """The nearest name, where a word may be a slip in one."""
    words = list(names) if token.type == "ident" else []
    close = get_close_matches(getattr(token, "value", ""), words, 1) if words else []
    return f"did you mean {quoted(close[0])}?" if close else _ACCEPTED


def is_color(token: Token, names: Mapping[str, Color]) -> bool:
    """Whether a token is a colour: decides where a grammar has alternatives."""
    return _found(token, names) not in {None, "currentcolor"}


def mix(first: Color, second: Color, progress: float) -> Color:
    """A colour between two, premultiplied in sRGB (CSS Color 4, 12.3), as transitions mix.

    Source: https://www.w3.org/TR/css-color-4/#interpolation

    Args:
        first: The colour at progress 0.
        second: The colour at progress 1.
        progress: The eased progress; may overshoot 0..1, and is then clamped per channel.
    """
    if progress == 0:
        return first
    if progress == 1:
        return second
    return Premultiplied.of(first).mixed(Premultiplied.of(second), progress).color()


@dataclass(frozen=True, slots=True)
class Premultiplied:
    """A colour in sRGB as it is mixed: its channels times its alpha, none of them clamped."""

    red: float
    green: float
    blue: float
    alpha: float

    @classmethod
    def of(cls, color: Color) -> Premultiplied:
        """A colour, premultiplied."""
        red, green, blue = (channel * color.alpha for channel in color.rgba[:3])
        return cls(red, green, blue, color.alpha)

    def mixed(self, other: Premultiplied, progress: float) -> Premultiplied:
        """A colour on the straight line through two; progress may lie outside 0..1."""
        ends = zip(
            (self.red, self.green, self.blue, self.alpha),
            (other.red, other.green, other.blue, other.alpha),
            strict=True,
        )
        red, green, blue, alpha = (a + (b - a) * progress for a, b in ends)
        return Premultiplied(red, green, blue, alpha)

    def color(self) -> Color:
        """The colour that is seen of it: every channel clamped."""
        alpha = min(max(self.alpha, 0.0), 1.0)
        if alpha == 0:
            return TRANSPARENT
        channels = (channel / alpha for channel in (self.red, self.green, self.blue))
        red, green, blue = (min(max(channel, 0.0), 1.0) for channel in channels)
        return Color(red, green, blue, alpha)


def _to_srgb(parsed: Token) -> _Triple:
    """The gamma-encoded sRGB channels of a parsed colour, not clamped.

    Source: https://www.w3.org/TR/css-color-4/#color-conversion
    """
    space = parsed.space
    if space in {"srgb", "hsl", "hwb"}:
        red, green, blue, _ = parsed.to("srgb")
        return red, green, blue
    x, y, z = _to_xyz(parsed, space)
    linear = _times(_XYZ_TO_SRGB, (x, y, z))
    return _each(_srgb_encode, linear)


def _to_xyz(parsed: Token, space: str) -> _Triple:  # noqa: PLR0911 - one for each space
    """CIE XYZ with a D65 white."""
    a, b, c = (coordinate or 0.0 for coordinate in parsed.coordinates)
    match space:
        case "lab" | "lch":
            return _times(_D50_TO_D65, tuple(parsed.to("xyz-d50"))[:3])
        case "oklab" | "oklch":
            return tuple(parsed.to("xyz-d65"))[:3]
        case "srgb-linear":
            return _times(_inverse(_XYZ_TO_SRGB), (a, b, c))
        case "display-p3":
            return _times(_P3_TO_XYZ, _each(_srgb_decode, (a, b, c)))
        case "a98-rgb":
            return _times(_A98_TO_XYZ, _each(lambda v: _odd_power(v, 563 / 256), (a, b, c)))
        case "rec2020":
            return _times(_REC2020_TO_XYZ, _each(_rec2020_decode, (a, b, c)))
        case "prophoto-rgb":
            linear = _each(_prophoto_decode, (a, b, c))
            return _times(_D50_TO_D65, _times(_PROPHOTO_TO_XYZ_D50, linear))
        case "xyz-d50":
            return _times(_D50_TO_D65, (a, b, c))
        case _:
            return a, b, c


# CSS Color 4, 17: the sRGB transfer function, mirrored below zero.
def _srgb_encode(value: float) -> float:
    size = abs(value)
    encoded = 1.055 * size ** (1 / 2.4) - 0.055 if size > 0.0031308 else 12.92 * size  # noqa: PLR2004
    return encoded if value >= 0 else -encoded


def _srgb_decode(value: float) -> float:
    size = abs(value)
    decoded = ((size + 0.055) / 1.055) ** 2.4 if size > 0.04045 else size / 12.92  # noqa: PLR2004
    return decoded if value >= 0 else -decoded


def _prophoto_decode(value: float) -> float:
    return value / 16 if abs(value) <= 16 / 512 else _odd_power(value, 1.8)


def _rec2020_decode(value: float) -> float:
    """ITU-R BT.2020's own curve, which browsers use.

    Source: https://www.w3.org/TR/css-color-4/#predefined-rec2020
    """
    size = abs(value)
    alpha, beta = 1.09929682680944, 0.018053968510807
    decoded = size / 4.5 if size < 4.5 * beta else ((size + alpha - 1) / alpha) ** (1 / 0.45)
    return decoded if value >= 0 else -decoded


def _odd_power(value: float, exponent: float) -> float:
    power = float(abs(value) ** exponent)
    return power if value >= 0 else -power


def _each(function: object, triple: _Triple) -> _Triple:
    a, b, c = triple
    return function(a), function(b), function(c)  # type: ignore[operator]


def _times(matrix: tuple[_Triple, _Triple, _Triple], vector: _Triple) -> _Triple:
    first, second, third = (sum(m * v for m, v in zip(row, vector, strict=True)) for row in matrix)
    return first, second, third


def _inverse(matrix: tuple[_Triple, _Triple, _Triple]) -> tuple[_Triple, _Triple, _Triple]:
    first, second, third = (
        (float(row[0]), float(row[1]), float(row[2])) for row in np.linalg.inv(matrix)
    )
    return first, second, third
