"""Woven paper: pale strips over and under each other, with fibres. Light all over."""

from __future__ import annotations

import numpy as np
from brushes import Field, developed, noise, rgb, smooth
from PIL import Image, ImageDraw

WIDTH, HEIGHT = 2400, 1600
_STRIP = 100


def woven_paper(seed: int = 5) -> Image.Image:
    """Hand-made lantern paper, cut into strips and woven."""
    rng = np.random.default_rng(seed)
    over = _weave()
    x, y = (np.arange(size, dtype=np.float32) for size in (WIDTH, HEIGHT))
    across = (y[:, None] % _STRIP) / _STRIP  # place across a horizontal strip
    down = (x[None, :] % _STRIP) / _STRIP  # place across a vertical strip
    place = np.where(over, across + 0 * down, down + 0 * across)
    along = np.where(over, down + 0 * across, across + 0 * down)
    bulge = np.sin(np.clip(along, 0, 1) * np.pi)
    edge = smooth(0, 0.045, place) * smooth(0, 0.045, 1 - place)
    light = 0.975 + 0.04 * bulge + 0.09 * (edge - 1)
    light *= 1 - 0.06 * (1 - smooth(0, 0.16, np.minimum(along, 1 - along)))
    tone = _tones(rng, over)
    canvas = tone * light[..., None]
    canvas *= (1 + 0.02 * noise(rng, WIDTH, HEIGHT, (90, 60), 4))[..., None]
    canvas *= (1 + 0.035 * noise(rng, WIDTH, HEIGHT, (3, 2), 3))[..., None]
    canvas += _fibres(rng)[..., None] * (rgb("b79a6b") - 1) * 0.5
    return developed(rng, canvas, grain=0.006, vignette=0.04, shoulder=0.98)


def _weave() -> np.ndarray[tuple[int, int], np.dtype[np.bool_]]:
    """Where a horizontal strip lies on top."""
    rows = (np.arange(HEIGHT) // _STRIP)[:, None]
    columns = (np.arange(WIDTH) // _STRIP)[None, :]
    return np.asarray((rows + columns) % 2 == 0)


def _tones(rng: np.random.Generator, over: np.ndarray) -> Field:
    """Each strip has its own tone of cream."""
    creams = np.stack([rgb(text) for text in ("fbf2dd", "f8ebce", "faf0d8", "f5e5c4", "fcf5e4")])
    rows = creams[rng.integers(0, len(creams), HEIGHT // _STRIP + 1)]
    columns = creams[rng.integers(0, len(creams), WIDTH // _STRIP + 1)]
    horizontal = rows[np.arange(HEIGHT) // _STRIP][:, None, :]
    vertical = columns[np.arange(WIDTH) // _STRIP][None, :, :]
    return np.where(over[..., None], horizontal, vertical).astype(np.float32)


def _fibres(rng: np.random.Generator) -> Field:
    """Thin curved threads pressed into the paper."""
    mask = Image.new("L", (WIDTH, HEIGHT))
    draw = ImageDraw.Draw(mask)
    for _ in range(900):
        x, y = rng.uniform(0, WIDTH), rng.uniform(0, HEIGHT)
        angle, bend = rng.uniform(0, 2 * np.pi), rng.normal(0, 0.09)
        points = [(x, y)]
        for _ in range(int(rng.uniform(8, 26))):
            angle += bend
            x, y = x + 5 * np.cos(angle), y + 5 * np.sin(angle)
            points.append((x, y))
        draw.line(points, fill=int(rng.uniform(25, 95)), width=1 if rng.random() < 0.8 else 2)  # noqa: PLR2004
    return np.asarray(mask, dtype=np.float32) / np.float32(255)
