"""The names of the blend modes: Compositing and Blending 1, section 10."""

from __future__ import annotations

from typing import Literal

BlendMode = Literal[
    "normal", "multiply", "screen", "overlay", "darken", "lighten", "color-dodge", "color-burn",
    "hard-light", "soft-light", "difference", "exclusion", "hue", "saturation", "color",
    "luminosity",
]  # fmt: skip
