"""Blending: what is looked up in a table is what is computed."""

from __future__ import annotations

from typing import get_args

import numpy as np
import pytest

from rising_lantern.css.blending import blend_over
from rising_lantern.css.blendmodes import SEPARABLE, BlendMode


@pytest.mark.parametrize("alpha", [1, 77, 230, 255])
@pytest.mark.parametrize("mode", [mode for mode in get_args(BlendMode) if mode in SEPARABLE])
def test_a_large_area_is_blended_as_its_pixels_are(mode: BlendMode, alpha: int) -> None:
    rng = np.random.default_rng(alpha)
    below = rng.integers(0, 256, (90, 80, 3), dtype=np.uint8)
    above = np.full((90, 80, 4), alpha, dtype=np.uint8)
    above[..., :3] = rng.integers(0, alpha + 1, (90, 80, 3))
    whole = below.copy()
    blend_over(whole, above, mode)
    pieces = below.copy()
    for first in range(0, 90, 10):
        rows = slice(first, first + 10)
        blend_over(pieces[rows], above[rows], mode)
    assert np.abs(whole.astype(int) - pieces).max() <= (mode != "normal")
    assert (whole == pieces).mean() > 0.9999
