"""The colour nearest to another one that has at least, or at most, some luminance."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.colors import Color
from rising_lantern.css.oklab import light_of, oklab, oklab_of_light
from rising_lantern.legibility.contrast import WEIGHTS

_WEIGHTS = np.array(WEIGHTS)
_HAIR = 1e-9
_COARSE = 5  # levels of 255 between two colours that are compared first
_WINDOW = 6  # levels to each side of a colour that are compared next

EVEN = 0.05 * 21**0.5 - 0.05
"""The luminance from which black and white stand out alike."""

Floats = NDArray[np.float64]


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
    target = oklab(color)
    levels, lab, lights = _coarse_colors()
    best = levels[_best(lab, lights, target, luminance, lighter=lighter)]
    while True:
        near = _colors_around(best)
        lab, lights = _measured(near)
        found = near[_best(lab, lights, target, luminance, lighter=lighter)]
        if (found == best).all():
            red, green, blue = (float(level) / 255 for level in best)
            return Color(red, green, blue)
        best = found


def _best(
    lab: Floats, lights: Floats, target: Floats, luminance: float, *, lighter: bool
) -> np.intp:
    """The index of the nearest colour that keeps to a luminance."""
    fits = lights >= luminance - _HAIR if lighter else lights <= luminance + _HAIR
    distances = ((lab - target) ** 2).sum(axis=-1)
    return np.argmin(np.where(fits, distances, np.inf))


@lru_cache(maxsize=1)
def _coarse_colors() -> tuple[Floats, Floats, Floats]:
    """Colours all over the cube of sRGB, black and white among them, with what is known of them."""
    steps = np.arange(0, 256, _COARSE, dtype=np.float64)
    levels = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), axis=-1).reshape(-1, 3)
    return levels, *_measured(levels)


def _colors_around(levels: Floats) -> Floats:
    """The colours in a window around one, itself among them."""
    steps = np.arange(-_WINDOW, _WINDOW + 1, dtype=np.float64)
    shifts = np.stack(np.meshgrid(steps, steps, steps, indexing="ij"), axis=-1).reshape(-1, 3)
    return np.unique(np.clip(levels + shifts, 0, 255), axis=0)


def _measured(levels: Floats) -> tuple[Floats, Floats]:
    """The OKLab coordinates and the luminance of colours given by their levels, 0 to 255."""
    light = light_of(levels / 255)
    return oklab_of_light(light), light @ _WEIGHTS
