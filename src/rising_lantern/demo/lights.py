"""Lights to lay over pictures: a paper lantern and a reed pattern as SVG, and a candle's flame."""

from __future__ import annotations

import numpy as np
from PIL import Image

LANTERN = """\
<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 160" width="120" height="160">
  <defs>
    <radialGradient id="halo">
      <stop offset="0" stop-color="#ffd48a" stop-opacity=".75"/>
      <stop offset=".45" stop-color="#f4a259" stop-opacity=".28"/>
      <stop offset="1" stop-color="#f4a259" stop-opacity="0"/>
    </radialGradient>
    <linearGradient id="paper" x1="0" y1="0" x2="0" y2="1">
      <stop offset="0" stop-color="#e98f4a"/>
      <stop offset=".55" stop-color="#ffc873"/>
      <stop offset="1" stop-color="#fff1c4"/>
    </linearGradient>
  </defs>
  <ellipse cx="60" cy="82" rx="60" ry="78" fill="url(#halo)"/>
  <path d="M38 48h44l10 62H28z" fill="url(#paper)"/>
  <path d="M49 48l-7 62M60 48v62M71 48l7 62" stroke="#b8622b" stroke-opacity=".45" fill="none"/>
  <path d="M36 45h48v4H36zM26 109h68v5H26z" fill="#6b3a1d"/>
</svg>
"""

REED = """\
<svg xmlns="http://www.w3.org/2000/svg" width="56" height="56">
  <path d="M0 14c14-12 14 12 28 0s14 12 28 0M0 42c14-12 14 12 28 0s14 12 28 0" fill="none"
    stroke="#16213e" stroke-width="2" stroke-linecap="round"/>
</svg>
"""

_FRAMES = 10
_SIZE = (240, 320)
_WICK, _WAX = 0.78, 0.86  # where they begin, from the picture's upper edge
_HALF_CANDLE = 0.24  # of the picture's half width


def flame() -> list[Image.Image]:
    """A candle's flame that leans to and fro, 240 x 320 px on night blue, a round of ten frames."""
    width, height = _SIZE
    x = (np.arange(width, dtype=np.float64) + 0.5) / width * 2 - 1
    y = (np.arange(height, dtype=np.float64) + 0.5) / height
    return [_flame(x[None, :], y[:, None], index / _FRAMES) for index in range(_FRAMES)]


def _flame(x: np.ndarray, y: np.ndarray, phase: float) -> Image.Image:
    turn = 2 * np.pi * phase
    rise = np.clip((0.82 - y) / 0.62, 0, 1)  # 0 at the wick, 1 at the tip
    lean = 0.10 * np.sin(turn) * rise**2 + 0.03 * np.sin(2 * turn + 5 * rise) * rise
    broad = 0.34 * np.sqrt(rise) * (1 - rise) ** 0.75 * (1 + 0.05 * np.cos(turn)) + 1e-3
    burns = (rise > 0) & (rise < 1)
    body = np.exp(-(((x - lean) / broad) ** 2) * 1.6) * burns
    core = np.exp(-(((x - lean) / (broad * 0.45)) ** 2) * 1.4) * np.clip(rise * 3, 0, 1) * burns
    halo = np.exp(-((x / 0.42) ** 2) - ((y - 0.56) / 0.22) ** 2) * (0.6 + 0.05 * np.sin(turn))
    night, ember, gold, white = (
        np.array(color) / 255
        for color in ((11, 16, 38), (214, 104, 40), (255, 186, 92), (255, 246, 214))
    )
    canvas = night + halo[..., None] * (ember - night) * 0.6
    canvas = canvas + body[..., None] * (gold - canvas)
    canvas = canvas + np.clip(core * 0.95, 0, 1)[..., None] * (white - canvas)
    wick = np.exp(-((x / 0.02) ** 2)) * ((y > _WICK) & (y < _WAX))
    wax = (np.abs(x) < _HALF_CANDLE) & (y > _WAX)
    canvas = canvas * (1 - wick[..., None])
    canvas = np.where(
        wax[..., None], np.array((236, 216, 178)) / 255 * (1.25 - 0.5 * y)[..., None], canvas
    )
    return Image.fromarray((np.clip(canvas, 0, 1) * 255 + 0.5).astype(np.uint8))
