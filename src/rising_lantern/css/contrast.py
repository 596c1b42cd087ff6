"""Contrast of colours: WCAG 2.2 relative luminance and contrast ratio."""

from __future__ import annotations

from functools import lru_cache

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.colors import Color
from rising_lantern.css.oklab import light_of

WEIGHTS = (0.2126, 0.7152, 0.0722)
"""What red, green and blue light add to luminance (WCAG 2.2, relative luminance)."""


@lru_cache(maxsize=256)
def luminance_of(color: Color) -> float:
    """Relative luminance, 0 to 1, of a colour in 8 bits, its alpha left out.

    Source: https://www.w3.org/TR/WCAG22/#dfn-relative-luminance
    """
    return float(light_of(np.array(color.bytes[:3]) / 255) @ np.array(WEIGHTS))


def ratio(first: Floats | float, second: Floats | float) -> Floats:
    """Contrast ratio, 1 to 21, of two luminances (WCAG 2.2, contrast ratio).

    Source: https://www.w3.org/TR/WCAG22/#dfn-contrast-ratio
    """
    lighter, darker = np.maximum(first, second), np.minimum(first, second)
    return np.asarray((lighter + 0.05) / (darker + 0.05))


def contrast_of(first: Color, second: Color) -> float:
    """The contrast ratio, 1 to 21, of two opaque colours."""
    return float(ratio(luminance_of(first), luminance_of(second)))
