"""The river at dusk: sky, hills, a lit shore, and lanterns on rippled water."""

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
    resized,
    rgb,
    smooth,
)
from PIL import Image

WIDTH, HEIGHT = 2400, 1600
_HORIZON = 700

_DUSK = [
    (0.0, "141b3c"),
    (0.25, "27305f"),
    (0.5, "554a80"),
    (0.7, "a2668a"),
    (0.84, "e08f7f"),
    (0.94, "f7bd86"),
    (1.0, "fbd9a0"),
]
_MORNING = [
    (0.0, "b9cfe0"),
    (0.35, "d3dfe6"),
    (0.65, "ebe7dd"),
    (0.85, "f8eedb"),
    (1.0, "fdf5e4"),
]


def dusk_river(seed: int = 7) -> Image.Image:
    """The opening picture: lanterns set afloat after sunset."""
    rng = np.random.default_rng(seed)
    canvas = _sky(rng, _DUSK, cloud="f3a58c", shade="2d2a55", amount=0.55)
    _hills(rng, canvas, ["6a5680", "473f6b", "2a2a50"], 0.55)
    _shore_lights(rng, canvas)
    ripples = _ripples(rng)
    _water(canvas, ripples, tint="1b2448", depth=0.58)
    lanterns = _scatter(rng, 150)
    for x, y, size, _ in lanterns:
        _reflection(canvas, ripples, x, y, size)
    for x, y, size, warmth in lanterns:
        add_glow(canvas, x, y - size * 0.5, size * 1.5, rgb("ff9a45"), 0.15)
        draw_lantern(canvas, x, y, size, warmth)
    return developed(rng, bloom(canvas, 0.72, 0.55))


def morning_river(seed: int = 23) -> Image.Image:
    """The river in morning mist: pale all over."""
    rng = np.random.default_rng(seed)
    canvas = _sky(rng, _MORNING, cloud="ffffff", shade="c2cfd8", amount=0.5)
    _hills(rng, canvas, ["cfd9dc", "b7c6cb", "98adb3"], 0.35)
    ripples = _ripples(rng)
    _water(canvas, ripples, tint="cfdcdd", depth=0.35)
    _mist(rng, canvas)
    for x, y, size in ((560, 1010, 210), (1690, 905, 120), (2050, 1190, 330)):
        _boat(canvas, ripples, x, y, size)
    return developed(rng, canvas, grain=0.008)


def _sky(
    rng: np.random.Generator, stops: list[tuple[float, str]], cloud: str, shade: str, amount: float
) -> Field:
    """Sky down to the horizon, on a canvas of the whole size."""
    canvas = np.zeros((HEIGHT, WIDTH, 3), dtype=np.float32)
    down = np.linspace(0, 1, _HORIZON, dtype=np.float32)
    canvas[:_HORIZON] = ramp(down, stops)[:, None, :]
    # Cloud banks get flatter and closer together towards the horizon.
    banks = noise(rng, WIDTH, _HORIZON, (3, 7), 6) + 0.35 * noise(rng, WIDTH, _HORIZON, (9, 26), 4)
    cover = smooth(0.05, 0.75, banks) * smooth(0.1, 0.75, down)[:, None]
    lit = smooth(-0.2, 0.5, np.roll(banks, -14, axis=0) - banks + 0.12)
    color = rgb(shade) * (1 - lit[..., None]) + rgb(cloud) * lit[..., None]
    alpha = (cover * amount)[..., None]
    canvas[:_HORIZON] = canvas[:_HORIZON] * (1 - alpha) + color * alpha
    return canvas


def _hills(rng: np.random.Generator, canvas: Field, colors: list[str], haze: float) -> None:
    """Ridges behind each other, each paler towards its foot."""
    for index, color in enumerate(colors):
        base = _HORIZON - 150 + index * 62
        ridge = noise(rng, WIDTH, 1, (3 + index * 2.5, 1), 7)[0] * (62 - index * 12)
        top = base + ridge + (26 if index == 2 else 0)  # noqa: PLR2004
        rows = np.arange(_HORIZON, dtype=np.float32)[:, None]
        inside = smooth(0, 2.5, rows - top[None, :])
        foot = np.clip((rows - top[None, :]) / 190, 0, 1) * haze
        under = canvas[_HORIZON - 1].mean(axis=0)
        tone = rgb(color) * (1 - foot[..., None]) + under * foot[..., None] * 0.75
        canvas[:_HORIZON] = canvas[:_HORIZON] * (1 - inside[..., None]) + tone * inside[..., None]


def _shore_lights(rng: np.random.Generator, canvas: Field) -> None:
    """Houses and a row of lamps along the far shore."""
    band = canvas[_HORIZON - 46 : _HORIZON]
    band *= np.linspace(0.92, 0.5, len(band), dtype=np.float32)[:, None, None]
    x = 40.0
    while x < WIDTH - 60:
        width, height = rng.uniform(24, 70), rng.uniform(14, 46)
        if rng.random() < 0.62:  # noqa: PLR2004
            top = int(_HORIZON - height)
            canvas[top:_HORIZON, int(x) : int(x + width)] = rgb("1e1f3d") * rng.uniform(0.8, 1.15)
            middle = int(x + width / 2)
            for row in range(int(width / 2)):  # a roof
                line = top - int(row * 0.5)
                canvas[line, int(x) + row : int(x + width) - row] = rgb("191a35")
            for _ in range(int(width / 11)):
                wx, wy = rng.uniform(x + 4, x + width - 6), rng.uniform(top + 3, _HORIZON - 8)
                canvas[int(wy) : int(wy) + 4, int(wx) : int(wx) + 3] = rgb("ffcf86") * 1.05
            add_glow(canvas, middle, _HORIZON - 10, 26, rgb("ff9e4f"), 0.08)
        x += width + rng.uniform(0, 46)
    for lamp in np.arange(30, WIDTH, 74) + rng.uniform(-18, 18, len(np.arange(30, WIDTH, 74))):
        add_glow(canvas, float(lamp), _HORIZON - 7, 8, rgb("ffc774"), 0.75)


def _ripples(rng: np.random.Generator) -> Field:
    """How the water leans, -1 to 1, in perspective: long flat wavelets that shrink far away."""
    rows = HEIGHT - _HORIZON
    near = (np.arange(rows, dtype=np.float32) + 6) / rows
    distance = 1 / near
    texture = noise(rng, 2048, 2048, (60, 150), 4)
    x = (np.arange(WIDTH, dtype=np.float32) - WIDTH / 2)[None, :]
    u = (x * distance[:, None] ** 0.82 * 0.55 + 1024) % 2047
    v = (distance[:, None] * 420 + 37) % 2047
    leaning = texture[np.broadcast_to(v, u.shape).astype(int), u.astype(int)]
    return np.asarray(leaning * smooth(0, 0.05, near)[:, None])


def _water(canvas: Field, ripples: Field, tint: str, depth: float) -> None:
    """Mirror what stands above the horizon, bent by the ripples, and darker towards the viewer."""
    rows = HEIGHT - _HORIZON
    near = np.linspace(0, 1, rows, dtype=np.float32)[:, None]
    mirrored = _HORIZON - 2 - near * _HORIZON * 0.93 + ripples * (10 + 130 * near)
    source = np.clip(mirrored, 0, _HORIZON - 1).astype(int)
    columns = np.broadcast_to(np.arange(WIDTH)[None, :], source.shape)
    reflected = canvas[source, columns]
    mix = (near**0.8 * depth)[..., None]
    water = reflected * (1 - mix) * 0.93 + rgb(tint) * mix
    glints = smooth(0.45, 1.0, ripples) * (0.16 - 0.1 * near)
    canvas[_HORIZON:] = water + glints[..., None] * canvas[_HORIZON - 60].mean(axis=0) * 0.9


def _scatter(rng: np.random.Generator, count: int) -> list[tuple[float, float, float, float]]:
    """Lanterns from far to near: (x, y of the waterline, size, warmth), in a loose stream."""
    found: list[tuple[float, float, float, float]] = []
    for near in np.sort(rng.random(count) ** 2.1):
        y = _HORIZON + 16 + near * (HEIGHT - _HORIZON - 60)
        bend = WIDTH * (0.58 + 0.2 * np.sin(near * 4.2 + 0.6))
        x = bend + rng.normal(0, 0.15 + 0.2 * near) * WIDTH
        size = 6 + near * 96
        if all(abs(x - a) > size * 1.25 or y - b > size * 0.9 for a, b, _, _ in found[-24:]):
            found.append((float(x), float(y), float(size), float(rng.random() ** 2)))
    return found


def _reflection(canvas: Field, ripples: Field, x: float, y: float, size: float) -> None:
    """A broken column of light below a lantern."""
    length = size * 3.4
    x0, x1 = max(int(x - size * 1.6), 0), min(int(x + size * 1.6), WIDTH)
    y0, y1 = int(y), min(int(y + length), HEIGHT)
    if x0 >= x1 or y0 >= y1:
        return
    lean = ripples[y0 - _HORIZON : y1 - _HORIZON, x0:x1]
    fall = ((np.arange(y0, y1) - y) / length)[:, None]
    across = (np.arange(x0, x1)[None, :] - x + lean * size * 0.55) / (size * (0.36 + 0.3 * fall))
    light = np.exp(-(across**2)) * (1 - fall) ** 1.5 * (0.3 + 0.7 * smooth(-0.35, 0.3, lean))
    color = ramp(np.clip(light, 0, 1), [(0, "a83a12"), (0.5, "f08a38"), (1, "ffd690")])
    canvas[y0:y1, x0:x1] += color * light[..., None] * 0.55


def _mist(rng: np.random.Generator, canvas: Field) -> None:
    """Banks of mist over the far shore."""
    rows = np.arange(HEIGHT, dtype=np.float32)
    height = np.exp(-(((rows - _HORIZON - 10) / 120) ** 2))[:, None]
    wisps = 0.7 + 0.45 * resized(noise(rng, 600, 400, (3, 12), 4), WIDTH, HEIGHT)
    alpha = np.clip(height * wisps, 0, 0.95)[..., None]
    canvas[:] = canvas * (1 - alpha) + rgb("f7f3ea") * alpha


def _boat(canvas: Field, ripples: Field, x: float, y: float, size: float) -> None:
    """A moored rowing boat and its reflection."""
    half, deep = size / 2, size * 0.15
    x0, x1 = int(x - half), int(x + half)
    u = (np.arange(x0, x1) + 0.5 - x) / half
    sheer = deep * (0.55 * u**2 - 0.2 * u**4)
    for y_step in range(int(-deep * 1.8), int(deep * 2.0)):
        row = int(y) + y_step
        if not _HORIZON < row < HEIGHT:
            continue
        mirrored = y_step > 0
        lean = ripples[row - _HORIZON, x0:x1] * size * 0.05
        level = np.abs(y_step + lean) if mirrored else np.full_like(lean, -y_step)
        hull = (level < deep * 0.9 + sheer) & (level > deep * 0.9 * (np.abs(u) ** 7))
        rim = hull & (level > deep * 0.74 + sheer)
        tone = np.where(rim[:, None], rgb("e9dcc4"), rgb("5d6f78"))
        fade = 0.35 * (1 - y_step / (deep * 2.0)) if mirrored else 0.94
        alpha = (hull * fade)[:, None]
        canvas[row, x0:x1] = canvas[row, x0:x1] * (1 - alpha) + tone * alpha
