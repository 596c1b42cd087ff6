"""The names of the blend modes: Compositing and Blending 1, section 10."""

from __future__ import annotations

from typing import Literal, get_args

BlendMode = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color",
    "luminosity",
]  # fmt: skip

SEPARABLE = frozenset(get_args(BlendMode)[:-4])
"""The modes that mix each colour channel by itself: section 10.1."""
