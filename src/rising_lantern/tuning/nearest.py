"""The shade of a colour nearest to it that has at least, or at most, some luminance."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.colors import Color
from rising_lantern.css.contrast import WEIGHTS
from rising_lantern.css.oklab import (
    channels_of,
    hue_between,
    light_of,
    light_of_oklab,
    oklab,
    oklab_of_light,
)

_WEIGHTS = np.array(WEIGHTS)
_HAIR = 1e-9
_LIGHTNESSES, _CHROMAS = 501, 41  # shades that are compared, before they are rounded to 8 bits
_NEUTRAL = 0.02  # the chroma in OKLab below which the eye sees no hue
_BEYOND = 0.03  # of all light, outside of sRGB
_TURN = 6.0  # degrees by which rounding to 8 bits may turn a hue

EVEN = 0.05 * 21**0.5 - 0.05
"""The luminance from which black and white stand out alike."""


def nearest(color: Color, luminance: float, *, lighter: bool) -> Color:
    """The 8-bit shade nearest in OKLab whose luminance is no less, or no more, than a figure.

    It has the hue of the colour. A colour without one stays neutral, and black and white are
    shades of every colour.

    Args:
        color: An opaque colour.
        luminance: WCAG 2.2 relative luminance, 0 to 1.
        lighter: Whether the figure is the least or the most that it may have.
    """
    levels, distances, lights = _shades(color)
    fits = lights >= luminance - _HAIR if lighter else lights <= luminance + _HAIR
    best = levels[np.argmin(np.where(fits, distances, np.inf))]
    red, green, blue = (float(level) / 255 for level in best)
    return Color(red, green, blue)


@lru_cache(maxsize=8)
def _shades(color: Color) -> tuple[Floats, Floats, Floats]:
    """Levels of the shades of a colour, how far they are from it, and their luminance."""
    own = oklab(color)
    levels = np.repeat(np.arange(256, dtype=np.float64)[:, None], 3, axis=1)
    if np.hypot(own[1], own[2]) >= _NEUTRAL:
        levels = np.concatenate([levels[[0, -1]], _tints(own)])
    light = light_of(levels / 255)
    lab = oklab_of_light(light)
    return levels, np.sqrt(((lab - own) ** 2).sum(axis=-1)), light @ _WEIGHTS


def _tints(own: Floats) -> Floats:
    """Levels of colours of the same hue, of every lightness and of no more chroma."""
    lightness, share = np.meshgrid(
        np.linspace(0, 1, _LIGHTNESSES), np.linspace(0, 1, _CHROMAS), indexing="ij"
    )
    lab = np.stack([lightness, own[1] * share, own[2] * share], axis=-1).reshape(-1, 3)
    light = light_of_oklab(lab)
    # What is a little outside is cut to the edge, where it may have kept its hue.
    inside = ((light >= -_BEYOND) & (light <= 1 + _BEYOND)).all(axis=-1)
    levels = np.round(np.clip(channels_of(light[inside]), 0, 1) * 255)
    _, first = np.unique(levels @ [65536.0, 256.0, 1.0], return_index=True)
    levels = levels[first]
    turned = hue_between(oklab_of_light(light_of(levels / 255)), own)
    return np.asarray(levels[turned <= _TURN])
