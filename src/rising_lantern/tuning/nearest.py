"""The colour nearest to another one that is as light, or as dark, as is asked for."""

from __future__ import annotations

from itertools import product

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.colors import Color
from rising_lantern.css.oklab import channels_of, light_of, oklab, oklab_of_light
from rising_lantern.legibility.contrast import WEIGHTS

_WEIGHTS = np.array(WEIGHTS)
_HAIR = 1e-9

EVEN = 0.05 * 21**0.5 - 0.05
"""The luminance from which black and white stand out alike."""


def luminance_of(color: Color) -> float:
    """WCAG 2.2 relative luminance, 0 to 1."""
    return float(light_of(np.array(color.rgba[:3])) @ _WEIGHTS)


def nearest(color: Color, luminance: float, *, lighter: bool) -> Color:
    """The 8-bit colour nearest in OKLab whose luminance is no less, or no more, than a figure.

    Args:
        color: An opaque colour.
        luminance: WCAG 2.2 relative luminance, 0 to 1.
        lighter: Whether the figure is the least or the most that it may have.
    """
    from scipy.optimize import Bounds, LinearConstraint, minimize  # noqa: PLC0415 - only tuning wants it

    target = oklab(color)
    own, light = luminance_of(color), light_of(np.array(color.rgba[:3]))
    if own == luminance:
        return _rounded(color, light, luminance, lighter=lighter)
    # From the way to white or to black, on which there is one of that luminance.
    end = np.ones(3) if luminance > own else np.zeros(3)
    share = (luminance - own) / (float(end @ _WEIGHTS) - own)
    start = np.clip(light + (end - light) * share, 0, 1)
    found = minimize(
        lambda light: float(np.sum((oklab_of_light(np.abs(light)) - target) ** 2)) * 1e3,
        start,
        method="SLSQP",
        bounds=Bounds(0, 1),
        constraints=LinearConstraint(_WEIGHTS, luminance, luminance),
    )
    return _rounded(color, np.clip(found.x, 0, 1), luminance, lighter=lighter)


def _rounded(color: Color, light: NDArray[np.float64], luminance: float, *, lighter: bool) -> Color:
    """Of the 8-bit colours around one, the nearest that keeps to the luminance."""
    levels = channels_of(light) * 255
    around = [sorted({int(np.floor(one)), int(np.ceil(one))}) for one in levels]
    shares = [[min(level, 255) / 255 for level in one] for one in around]
    colors = [Color(red, green, blue) for red, green, blue in product(*shares)]
    sign = 1 if lighter else -1
    fitting = [one for one in colors if sign * (luminance_of(one) - luminance) >= -_HAIR]
    target = oklab(color)
    return min(
        fitting or [Color(1, 1, 1) if lighter else Color(0, 0, 0)],
        key=lambda one: float(np.linalg.norm(oklab(one) - target)),
    )
