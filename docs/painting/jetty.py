"""Jetty planks from above, wet after rain, with warm light from one side."""

from __future__ import annotations

import numpy as np
from brushes import Field, add_glow, developed, noise, ramp, rgb, smooth
from PIL import Image

WIDTH, HEIGHT = 2400, 1600
_PLANK = 160


def jetty_planks(seed: int = 17) -> Image.Image:
    """Weathered boards side by side, their grain, gaps and nails."""
    rng = np.random.default_rng(seed)
    canvas = np.empty((HEIGHT, WIDTH, 3), dtype=np.float32)
    for top in range(0, HEIGHT, _PLANK):
        canvas[top : top + _PLANK] = _plank(rng)[: HEIGHT - top]
    _joints(rng, canvas)
    x = np.linspace(0, 1, WIDTH, dtype=np.float32)[None, :]
    y = np.linspace(0, 1, HEIGHT, dtype=np.float32)[:, None]
    warm = np.exp(-(((x - 0.92) / 0.55) ** 2) - ((y - 0.1) / 0.8) ** 2)[..., None]
    canvas *= 0.62 + 0.75 * warm * rgb("ffd7a3") / rgb("ffd7a3").max()
    puddle = smooth(0.12, 0.45, noise(rng, WIDTH, HEIGHT, (5, 4), 5))[..., None]
    canvas = canvas * (1 - 0.25 * puddle) + puddle * rgb("3d4a6b") * 0.1
    sheen = puddle * smooth(0.3, 1.0, noise(rng, WIDTH, HEIGHT, (3, 34), 4))[..., None]
    canvas += sheen * rgb("ffc987") * 0.3
    for _ in range(5):
        add_glow(canvas, rng.uniform(1500, 2400), rng.uniform(0, 700), 230, rgb("ff9c4a"), 0.06)
    return developed(rng, canvas, grain=0.014)


def _plank(rng: np.random.Generator) -> Field:
    """One board with its grain running along it."""
    bend = noise(rng, WIDTH, _PLANK, (5, 1.2), 3) * 16
    rows = np.arange(_PLANK, dtype=np.float32)[:, None] + bend
    for _ in range(int(rng.integers(0, 3))):  # knots push the grain aside
        kx, ky = rng.uniform(0, WIDTH), rng.uniform(30, _PLANK - 30)
        dx = (np.arange(WIDTH) - kx)[None, :] / 120
        dy = (np.arange(_PLANK) - ky)[:, None] / 34
        rows = rows + 30 * np.sign(dy) * np.exp(-(dx**2) - dy**2)
    lines = noise(rng, 512, 1, (512 / 9, 1), 3)[0]
    grain = lines[(rows * 1.9 + 120).astype(int) % 512]
    fine = noise(rng, WIDTH, _PLANK, (26, 110), 3)
    value = np.clip(0.5 + 0.26 * grain + 0.12 * fine + rng.normal(0, 0.05), 0, 1)
    tones = [(0, "2e2520"), (0.35, "5c4a3c"), (0.65, "8a7360"), (1, "b8a088")]
    board = ramp(value, tones)
    across = np.arange(_PLANK, dtype=np.float32)
    edge = smooth(0, 9, across) * smooth(0, 12, _PLANK - 1 - across)
    gap = smooth(0, 5, across) * smooth(0, 5, _PLANK - 1 - across)
    shade = (0.55 + 0.45 * edge) * gap
    return np.asarray(board * shade[:, None, None])


def _joints(rng: np.random.Generator, canvas: Field) -> None:
    """Where boards meet end to end, and the nails that hold them."""
    for row in range(HEIGHT // _PLANK):
        top = row * _PLANK
        joint = int(rng.uniform(200, WIDTH - 200))
        canvas[top : top + _PLANK, joint - 2 : joint + 3] *= 0.18
        for x in (joint - 34, joint + 36, (joint + 1100) % WIDTH):
            for y in (top + 38, top + _PLANK - 38):
                _nail(canvas, x, y)


def _nail(canvas: Field, x: int, y: int) -> None:
    add = canvas[max(y - 9, 0) : y + 10, max(x - 9, 0) : x + 10]
    dy = (np.arange(add.shape[0]) - add.shape[0] // 2)[:, None]
    dx = (np.arange(add.shape[1]) - add.shape[1] // 2)[None, :]
    head = (1 - smooth(5, 7, np.sqrt(dx**2 + dy**2)))[..., None]
    lit = rgb("8b8580") * (0.75 - 0.04 * (dx + dy))[..., None]
    add[:] = add * (1 - head) + lit * head
