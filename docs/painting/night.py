"""Night: stars over poplars with lanterns rising, and a crowd with its lights out of focus."""

from __future__ import annotations

import numpy as np
from brushes import (
    Field,
    add_glow,
    bloom,
    developed,
    draw_lantern,
    noise,
    ramp,
    rgb,
    smooth,
)
from PIL import Image

WIDTH, HEIGHT = 2400, 1600


def night_sky(seed: int = 11) -> Image.Image:
    """Stars, a band of mist, dark trees, and a few lanterns in the air."""
    rng = np.random.default_rng(seed)
    down = np.linspace(0, 1, HEIGHT, dtype=np.float32)
    stops = [(0, "060a1c"), (0.45, "0e1836"), (0.8, "1d2c55"), (1, "35406d")]
    canvas = np.repeat(ramp(down, stops)[:, None, :], WIDTH, axis=1)
    _galaxy(rng, canvas)
    _stars(rng, canvas)
    for _ in range(26):
        high = rng.random()
        size = 10 + 52 * (1 - high) ** 2
        x = WIDTH * (0.72 - 0.42 * high) + rng.normal(0, 0.09) * WIDTH
        y = HEIGHT * (0.86 - 0.72 * high) + rng.normal(0, 40)
        add_glow(canvas, x, y - size / 2, size * 1.9, rgb("ff9a45"), 0.22)
        draw_lantern(canvas, x, y, size, float(rng.random() ** 2))
    _trees(rng, canvas)
    return developed(rng, bloom(canvas, 0.72, 0.5))


def crowd_of_lights(seed: int = 3) -> Image.Image:
    """Lanterns in people's hands, far out of focus: the busiest picture of the site."""
    rng = np.random.default_rng(seed)
    down = np.linspace(0, 1, HEIGHT, dtype=np.float32)
    stops = [(0, "1a1430"), (0.4, "3a1f3c"), (0.7, "3a1c22"), (1, "120a12")]
    canvas = np.repeat(ramp(down, stops)[:, None, :], WIDTH, axis=1)
    canvas *= (1 + 0.35 * noise(rng, WIDTH, HEIGHT, (4, 3), 4))[..., None]
    colors = ["ff8a2b", "ffb454", "ffd28a", "ff6d3a", "ffe9c0", "f0566a", "8fb3ff"]
    weights = [0.27, 0.25, 0.16, 0.13, 0.1, 0.05, 0.04]
    for near in np.sort(rng.random(330)):
        radius = 9 + 92 * near**2.1
        y = HEIGHT * (0.33 + 0.5 * near) + rng.normal(0, 90 + 60 * near)
        color = rgb(colors[rng.choice(len(colors), p=weights)])
        _disc(canvas, rng.uniform(-40, WIDTH + 40), y, radius, color, rng.uniform(0.16, 0.62))
    for near in np.sort(rng.random(46)):
        _head(canvas, rng.uniform(0, WIDTH), HEIGHT * (0.8 + 0.16 * near), 70 + 120 * near)
    return developed(rng, bloom(canvas, 0.78, 0.35))


def _galaxy(rng: np.random.Generator, canvas: Field) -> None:
    x = np.linspace(-1, 1, WIDTH, dtype=np.float32)[None, :]
    y = np.linspace(-1, 1, HEIGHT, dtype=np.float32)[:, None]
    across = x * 0.62 + y * 0.5 + 0.18
    cloud = 0.6 + 0.75 * noise(rng, WIDTH, HEIGHT, (6, 5), 6)
    light = np.exp(-((across / 0.26) ** 2)) * np.clip(cloud, 0, None)
    rift = smooth(0.15, 0.5, noise(rng, WIDTH, HEIGHT, (9, 7), 5)) * np.exp(-((across / 0.1) ** 2))
    light *= 1 - 0.6 * rift
    canvas += light[..., None] * (rgb("8f96c9") * 0.3)


def _stars(rng: np.random.Generator, canvas: Field) -> None:
    count = 5200
    x, y = rng.integers(0, WIDTH, count), (rng.random(count) ** 0.9 * HEIGHT * 0.93).astype(int)
    power = (rng.random(count) ** 7 * 0.95 + 0.1).astype(np.float32)
    tint = np.where(rng.random(count)[:, None] < 0.3, rgb("ffe2c0"), rgb("d5e0ff"))  # noqa: PLR2004
    np.add.at(canvas, (y, x), tint * power[:, None])
    for star in np.flatnonzero(power > 0.5):  # noqa: PLR2004
        add_glow(canvas, float(x[star]), float(y[star]), 2.2, tint[star], float(power[star]) * 0.7)


def _trees(rng: np.random.Generator, canvas: Field) -> None:
    """Poplars and bushes along the lower edge, black against the sky."""
    columns = np.arange(WIDTH, dtype=np.float32)
    top = HEIGHT - 95 - 46 * noise(rng, WIDTH, 1, (5, 1), 6)[0]
    x = -30.0
    while x < WIDTH + 30:
        if rng.random() < 0.55:  # noqa: PLR2004
            tall, wide = rng.uniform(140, 430), rng.uniform(26, 46)
            u = np.abs(columns - x) / wide
            shape = np.where(u < 1, tall * (1 - u**2.4), 0)
            ragged = 34 * noise(rng, WIDTH, 1, (340, 1), 3)[0] * (u < 1)
            top = np.minimum(top, HEIGHT - 70 - shape - ragged)
        x += rng.uniform(24, 190)
    rows = np.arange(HEIGHT, dtype=np.float32)[:, None]
    inside = smooth(0, 4, rows - top[None, :])[..., None]
    canvas[:] = canvas * (1 - inside) + rgb("050812") * inside


def _disc(canvas: Field, x: float, y: float, radius: float, color: Field, power: float) -> None:
    """A light out of focus: an even disc with a brighter rim."""
    x0, x1 = max(int(x - radius - 2), 0), min(int(x + radius + 3), WIDTH)
    y0, y1 = max(int(y - radius - 2), 0), min(int(y + radius + 3), HEIGHT)
    if x0 >= x1 or y0 >= y1:
        return
    dx, dy = np.arange(x0, x1) - x, np.arange(y0, y1) - y
    distance = np.sqrt(dx[None, :] ** 2 + dy[:, None] ** 2) / radius
    inside = 1 - smooth(1 - 2.6 / radius, 1, distance)
    light = inside * (0.66 + 0.34 * smooth(0.72, 0.98, distance)) * power
    part = canvas[y0:y1, x0:x1]
    part += (1 - np.clip(part, 0, 1)) * light[..., None] * color


def _head(canvas: Field, x: float, y: float, size: float) -> None:
    """The dark, soft outline of somebody's head and shoulders."""
    x0, x1 = max(int(x - size * 2), 0), min(int(x + size * 2), WIDTH)
    y0 = max(int(y - size), 0)
    if x0 >= x1 or y0 >= HEIGHT:
        return
    dx = ((np.arange(x0, x1) - x) / size)[None, :]
    dy = ((np.arange(y0, HEIGHT) - y) / size)[:, None]
    head = 1 - smooth(0.38, 0.5, np.sqrt(dx**2 + (dy * 0.82) ** 2))
    shoulders = smooth(0, 0.12, dy - 0.42 - 0.2 * np.abs(dx) ** 2.4)
    alpha = np.maximum(head, shoulders)[..., None] * 0.93
    canvas[y0:, x0:x1] = canvas[y0:, x0:x1] * (1 - alpha) + rgb("0d0810") * alpha
