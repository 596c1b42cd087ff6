"""OKLab, in which equal distances look equally large: CSS Color 4, 8.3 and its sample code."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.colors import Color

Floats = NDArray[np.float64]

_TO_CONES = np.array(
    [
        [0.4122214708, 0.5363325363, 0.0514459929],
        [0.2119034982, 0.6806995451, 0.1073969566],
        [0.0883024619, 0.2817188376, 0.6299787005],
    ]
)
_TO_LAB = np.array(
    [
        [0.2104542553, 0.7936177850, -0.0040720468],
        [1.9779984951, -2.4285922050, 0.4505937099],
        [0.0259040371, 0.7827717662, -0.8086757660],
    ]
)


def light_of(channels: Floats) -> Floats:
    """Channels of sRGB, 0 to 1, as amounts of light (CSS Color 4, 17).

    Source: https://www.w3.org/TR/css-color-4/#color-conversion-code
    """
    return np.where(channels <= 0.04045, channels / 12.92, ((channels + 0.055) / 1.055) ** 2.4)  # noqa: PLR2004


def channels_of(light: Floats) -> Floats:
    """Amounts of light as channels of sRGB, 0 to 1."""
    curve = 1.055 * np.maximum(light, 0.0) ** (1 / 2.4) - 0.055
    return np.where(light <= 0.0031308, light * 12.92, curve)  # noqa: PLR2004


def oklab_of_light(light: Floats) -> Floats:
    """OKLab coordinates of amounts of red, green and blue light, shaped (..., 3)."""
    return np.asarray(np.cbrt(light @ _TO_CONES.T) @ _TO_LAB.T)


def oklab(color: Color) -> Floats:
    """OKLab coordinates of a colour: lightness 0 to 1, a and b.

    Source: https://www.w3.org/TR/css-color-4/#ok-lab
    """
    return oklab_of_light(light_of(np.array(color.rgba[:3])))


def distance(first: Color, second: Color) -> float:
    """How far two colours are apart in OKLab; 1 lies between black and white."""
    return float(np.linalg.norm(oklab(first) - oklab(second)))
