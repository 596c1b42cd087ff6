"""Colour spaces: CSS Color 4, sections 10 to 17, to and from CIE XYZ with a D65 white."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import lru_cache

import numpy as np

Triple = tuple[float, float, float]
Matrix = tuple[Triple, Triple, Triple]

# CSS Color 4, 10.7 and 17: linear-light matrices to and from CIE XYZ with a D65 white.
XYZ_TO_SRGB = (
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
# CSS Color 4, 17: from XYZ to the responses of cones, and from their cube roots to OKLab.
XYZ_TO_LMS = (
    (0.8190224379967030, 0.3619062600528904, -0.1288737815209879),
    (0.0329836539323885, 0.9292868615863434, 0.0361446663506424),
    (0.0481771893596242, 0.2642395317527308, 0.6335478284694309),
)
LMS_TO_OKLAB = (
    (0.2104542683093140, 0.7936177747023054, -0.0040720430116193),
    (1.9779985324311684, -2.4285922420485799, 0.4505937096174110),
    (0.0259040424655478, 0.7827717124575296, -0.8086757549230774),
)
_D50_WHITE = (0.3457 / 0.3585, 1.0, (1 - 0.3457 - 0.3585) / 0.3585)
_LAB_EPSILON, _LAB_KAPPA = 216 / 24389, 24389 / 27

POLAR = {"hsl": "srgb", "hwb": "srgb", "lch": "lab", "oklch": "oklab"}
"""The rectangular space of each polar one."""

RECTANGULAR = frozenset(
    [
        "srgb",
        "srgb-linear",
        "display-p3",
        "a98-rgb",
        "prophoto-rgb",
        "rec2020",
        "lab",
        "oklab",
        "xyz",
        "xyz-d50",
        "xyz-d65",
    ]
)
"""The spaces without a hue."""


def converted(channels: Triple, source: str, target: str) -> Triple:
    """A colour of one space in another.

    Source: https://www.w3.org/TR/css-color-4/#color-conversion

    Args:
        channels: The colour; lightness of ``lab`` is 0 to 100, that of ``oklab`` 0 to 1, hues are
            degrees, shares of ``hsl`` and ``hwb`` 0 to 100, channels of the others 0 to 1.
        source: The space that it is in.
        target: The space that it is wanted in.
    """
    plain = _from_polar(source, channels) if source in POLAR else channels
    own, wanted = POLAR.get(source, source), POLAR.get(target, target)
    if own != wanted:
        plain = _ENCODERS[wanted](_DECODERS[own](plain))
    return _to_polar(target, plain) if target in POLAR else plain


# --- polar spaces --------------------------------------------------------------------------------


def _from_polar(space: str, channels: Triple) -> Triple:
    if space == "hsl":
        return _from_hsl(channels)
    if space == "hwb":
        hue, white, black = channels[0], channels[1] / 100, channels[2] / 100
        if white + black >= 1:
            return (white / (white + black),) * 3
        return _each(lambda c: c * (1 - white - black) + white, _from_hsl((hue, 100.0, 50.0)))
    lightness, chroma, hue = channels
    angle = math.radians(hue)
    return lightness, chroma * math.cos(angle), chroma * math.sin(angle)


def _from_hsl(channels: Triple) -> Triple:
    """HSL in sRGB.

    Source: https://www.w3.org/TR/css-color-4/#hsl-to-rgb
    """
    hue, saturation, lightness = channels[0], channels[1] / 100, channels[2] / 100
    reach = saturation * min(lightness, 1 - lightness)

    def channel(offset: float) -> float:
        place = (offset + hue / 30) % 12
        return lightness - reach * max(-1.0, min(place - 3, 9 - place, 1.0))

    return channel(0), channel(8), channel(4)


def _to_polar(space: str, channels: Triple) -> Triple:
    if space in {"hsl", "hwb"}:
        hue, saturation, lightness = _to_hsl(channels)
        if space == "hsl":
            return hue, saturation, lightness
        return hue, min(channels) * 100, (1 - max(channels)) * 100
    lightness, a, b = channels
    return lightness, math.hypot(a, b), math.degrees(math.atan2(b, a)) % 360


def _to_hsl(channels: Triple) -> Triple:
    """SRGB as hue, saturation and lightness.

    Source: https://www.w3.org/TR/css-color-4/#rgb-to-hsl
    """
    red, green, blue = channels
    high, low = max(channels), min(channels)
    lightness, range_ = (high + low) / 2, high - low
    if range_ == 0:
        return 0.0, 0.0, lightness * 100
    room = min(lightness, 1 - lightness)
    saturation = (high - lightness) / room if room else 0.0
    if high == red:
        hue = (green - blue) / range_ + (6 if green < blue else 0)
    elif high == green:
        hue = (blue - red) / range_ + 2
    else:
        hue = (red - green) / range_ + 4
    hue *= 60
    if saturation < 0:
        hue, saturation = hue + 180, -saturation
    return hue % 360, saturation * 100, lightness * 100


# --- rectangular spaces --------------------------------------------------------------------------


def _oklab_to_xyz(channels: Triple) -> Triple:
    cones = _each(lambda v: v**3, _times(_inverse(LMS_TO_OKLAB), channels))
    return _times(_inverse(XYZ_TO_LMS), cones)


def _xyz_to_oklab(xyz: Triple) -> Triple:
    return _times(LMS_TO_OKLAB, _each(math.cbrt, _times(XYZ_TO_LMS, xyz)))


def _lab_to_xyz(channels: Triple) -> Triple:
    """CIE Lab, which has a D50 white.

    Source: https://www.w3.org/TR/css-color-4/#lab-to-lab
    """
    lightness, a, b = channels
    y = (lightness + 16) / 116
    x, z = a / 500 + y, y - b / 200
    shares = (
        x**3 if x**3 > _LAB_EPSILON else (116 * x - 16) / _LAB_KAPPA,
        y**3 if lightness > _LAB_KAPPA * _LAB_EPSILON else lightness / _LAB_KAPPA,
        z**3 if z**3 > _LAB_EPSILON else (116 * z - 16) / _LAB_KAPPA,
    )
    first, second, third = (share * white for share, white in zip(shares, _D50_WHITE, strict=True))
    return _times(_D50_TO_D65, (first, second, third))


def _xyz_to_lab(xyz: Triple) -> Triple:
    shares = [
        value / white
        for value, white in zip(_times(_inverse(_D50_TO_D65), xyz), _D50_WHITE, strict=True)
    ]
    x, y, z = (
        math.cbrt(share) if share > _LAB_EPSILON else (_LAB_KAPPA * share + 16) / 116
        for share in shares
    )
    return 116 * y - 16, 500 * (x - y), 200 * (y - z)


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


def _each(function: Callable[[float], float], triple: Triple) -> Triple:
    a, b, c = triple
    return function(a), function(b), function(c)


def _times(matrix: Matrix, vector: Triple) -> Triple:
    first, second, third = (sum(m * v for m, v in zip(row, vector, strict=True)) for row in matrix)
    return first, second, third


@lru_cache(maxsize=16)
def _inverse(matrix: Matrix) -> Matrix:
    first, second, third = (
        (float(row[0]), float(row[1]), float(row[2])) for row in np.linalg.inv(matrix)
    )
    return first, second, third


def _prophoto_encode(value: float) -> float:
    return value * 16 if abs(value) < 1 / 512 else _odd_power(value, 1 / 1.8)


def _rec2020_encode(value: float) -> float:
    size = abs(value)
    alpha, beta = 1.09929682680944, 0.018053968510807
    encoded = size * 4.5 if size < beta else alpha * size**0.45 - (alpha - 1)
    return encoded if value >= 0 else -encoded


_DECODERS: dict[str, Callable[[Triple], Triple]] = {
    "srgb": lambda c: _times(_inverse(XYZ_TO_SRGB), _each(_srgb_decode, c)),
    "srgb-linear": lambda c: _times(_inverse(XYZ_TO_SRGB), c),
    "display-p3": lambda c: _times(_P3_TO_XYZ, _each(_srgb_decode, c)),
    "a98-rgb": lambda c: _times(_A98_TO_XYZ, _each(lambda v: _odd_power(v, 563 / 256), c)),
    "rec2020": lambda c: _times(_REC2020_TO_XYZ, _each(_rec2020_decode, c)),
    "prophoto-rgb": lambda c: _times(
        _D50_TO_D65, _times(_PROPHOTO_TO_XYZ_D50, _each(_prophoto_decode, c))
    ),
    "lab": _lab_to_xyz,
    "oklab": _oklab_to_xyz,
    "xyz": lambda c: c,
    "xyz-d65": lambda c: c,
    "xyz-d50": lambda c: _times(_D50_TO_D65, c),
}
_ENCODERS: dict[str, Callable[[Triple], Triple]] = {
    "srgb": lambda c: _each(_srgb_encode, _times(XYZ_TO_SRGB, c)),
    "srgb-linear": lambda c: _times(XYZ_TO_SRGB, c),
    "display-p3": lambda c: _each(_srgb_encode, _times(_inverse(_P3_TO_XYZ), c)),
    "a98-rgb": lambda c: _each(
        lambda v: _odd_power(v, 256 / 563), _times(_inverse(_A98_TO_XYZ), c)
    ),
    "rec2020": lambda c: _each(_rec2020_encode, _times(_inverse(_REC2020_TO_XYZ), c)),
    "prophoto-rgb": lambda c: _each(
        _prophoto_encode, _times(_inverse(_PROPHOTO_TO_XYZ_D50), _times(_inverse(_D50_TO_D65), c))
    ),
    "lab": _xyz_to_lab,
    "oklab": _xyz_to_oklab,
    "xyz": lambda c: c,
    "xyz-d65": lambda c: c,
    "xyz-d50": lambda c: _times(_inverse(_D50_TO_D65), c),
}
