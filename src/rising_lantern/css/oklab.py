"""OKLab, in which equal distances look equally large: CSS Color 4, 8.3 and its sample code."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.color_spaces import LMS_TO_OKLAB, XYZ_TO_LMS, XYZ_TO_SRGB
from rising_lantern.css.colors import Color


@lru_cache(maxsize=1)
def _matrices() -> tuple[Floats, Floats]:
    """From light to the responses of cones, and from their cube roots to OKLab."""
    return np.array(XYZ_TO_LMS) @ np.linalg.inv(XYZ_TO_SRGB), np.array(LMS_TO_OKLAB)


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
    to_cones, to_lab = _matrices()
    return np.asarray(np.cbrt(light @ to_cones.T) @ to_lab.T)


def light_of_oklab(lab: Floats) -> Floats:
    """Amounts of red, green and blue light of OKLab coordinates, shaped (..., 3).

    Colours outside of sRGB have amounts below 0 or above 1.
    """
    to_cones, to_lab = (np.linalg.inv(matrix) for matrix in _matrices())
    return np.asarray((lab @ to_lab.T) ** 3 @ to_cones.T)


def hue_between(first: Floats, second: Floats) -> Floats:
    """The angle between the hues of OKLab coordinates, in degrees, 0 to 180."""
    cross = first[..., 1] * second[..., 2] - first[..., 2] * second[..., 1]
    dot = first[..., 1] * second[..., 1] + first[..., 2] * second[..., 2]
    return np.asarray(np.degrees(np.abs(np.arctan2(cross, dot))))


def oklab(color: Color) -> Floats:
    """OKLab coordinates of a colour: lightness 0 to 1, a and b.

    Source: https://www.w3.org/TR/css-color-4/#ok-lab
    """
    return oklab_of_light(light_of(np.array(color.rgba[:3])))


def distance(first: Color, second: Color) -> float:
    """How far two colours are apart in OKLab; 1 lies between black and white."""
    return float(np.linalg.norm(oklab(first) - oklab(second)))
