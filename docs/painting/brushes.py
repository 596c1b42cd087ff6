"""What every scene is painted with: noise, ramps, blur, light and lanterns, on float arrays.

A canvas is RGB light of 0 to 1 (a little above for lights), float32, shaped (height, width, 3).
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from PIL import Image

Field = NDArray[np.float32]


def rgb(text: str) -> Field:
    """A colour of six hexadecimal digits as three channels."""
    return np.array([int(text[i : i + 2], 16) / 255 for i in (0, 2, 4)], dtype=np.float32)


def ramp(positions: Field, stops: list[tuple[float, str]]) -> Field:
    """Colours along a scale of 0 to 1, eased between stops; adds an axis of channels."""
    marks = np.array([stop for stop, _ in stops], dtype=np.float32)
    colors = np.stack([rgb(text) for _, text in stops])
    channels = [np.interp(positions, marks, colors[:, channel]) for channel in range(3)]
    return np.stack(channels, axis=-1).astype(np.float32)


def resized(field: Field, width: int, height: int) -> Field:
    """A two-dimensional field at another size, bicubic."""
    picture = Image.fromarray(field.astype(np.float32))
    return np.asarray(picture.resize((width, height), Image.Resampling.BICUBIC))


def noise(
    rng: np.random.Generator, width: int, height: int, cells: tuple[float, float], octaves: int = 5
) -> Field:
    """Smooth noise of mean 0 and about -1 to 1: finer and fainter octaves of random grids.

    Args:
        rng: Where the grids come from.
        width: In pixels.
        height: In pixels.
        cells: How many cells the coarsest grid has across and down.
        octaves: How many times the grid is made finer.
    """
    total = np.zeros((height, width), dtype=np.float32)
    strength = 1.0
    for octave in range(octaves):
        across = min(int(cells[0] * 2**octave) + 3, width)
        down = min(int(cells[1] * 2**octave) + 3, height)
        grid = rng.uniform(-1, 1, (down, across)).astype(np.float32)
        total += resized(grid, width, height) * strength
        strength *= 0.5
    return total / 1.4


def smooth(low: float, high: float, values: NDArray[np.floating] | float) -> Field:
    """0 below ``low``, 1 above ``high``, and a soft step between."""
    share = np.clip((np.asarray(values, dtype=np.float32) - low) / (high - low), 0, 1)
    return np.asarray(share * share * (3 - 2 * share), dtype=np.float32)


def blurred(canvas: Field, deviation: float, reduce: int = 4) -> Field:
    """A canvas blurred by a Gaussian, computed on a smaller copy."""
    height, width = canvas.shape[:2]
    small = np.stack(
        [resized(canvas[..., c], width // reduce, height // reduce) for c in range(3)], axis=-1
    )
    spread = deviation / reduce
    taps = np.arange(-int(3 * spread) - 1, int(3 * spread) + 2)
    weights = np.exp(-0.5 * (taps / spread) ** 2)
    weights /= weights.sum()
    for axis in (0, 1):
        reach = len(taps) // 2
        pad = [(reach, reach) if a == axis else (0, 0) for a in range(3)]
        padded = np.pad(small, pad, mode="edge")
        length = small.shape[axis]
        small = np.zeros_like(small)
        for i, weight in enumerate(weights):
            small += np.take(padded, range(i, i + length), axis=axis) * np.float32(weight)
    return np.stack([resized(small[..., c], width, height) for c in range(3)], axis=-1)


def bloom(canvas: Field, threshold: float, strength: float) -> Field:
    """A canvas whose bright places shine into their surroundings."""
    bright = np.clip(canvas - threshold, 0, None)
    glow = blurred(bright, 16) * 0.6 + blurred(bright, 60, 8) * 0.55
    return (canvas + glow * strength).astype(np.float32)


def add_glow(canvas: Field, x: float, y: float, radius: float, color: Field, power: float) -> None:
    """Add a soft round light, in place. It fades like the light of a small flame in haze."""
    height, width = canvas.shape[:2]
    reach = radius * 3
    x0, x1 = max(int(x - reach), 0), min(int(x + reach) + 1, width)
    y0, y1 = max(int(y - reach), 0), min(int(y + reach) + 1, height)
    if x0 >= x1 or y0 >= y1:
        return
    across = ((np.arange(x0, x1) - x) / radius) ** 2
    down = ((np.arange(y0, y1) - y) / radius) ** 2
    # A Gaussian of a distance is one across times one down.
    light = np.outer(np.exp(-1.6 * down), np.exp(-1.6 * across))
    light += np.outer(0.25 * np.exp(-0.45 * down), np.exp(-0.45 * across))
    canvas[y0:y1, x0:x1] += light.astype(np.float32)[..., None] * (color * np.float32(power))


def draw_lantern(canvas: Field, x: float, y: float, size: float, warmth: float) -> None:
    """Draw a floating paper lantern, in place.

    Args:
        canvas: Where.
        x: Its middle.
        y: Its lower edge.
        size: Its width in pixels.
        warmth: 0 amber to 1 rose.
    """
    half, tall = size / 2, size * 1.12
    height, width = canvas.shape[:2]
    x0, x1 = max(int(x - half - 2), 0), min(int(x + half + 3), width)
    y0, y1 = max(int(y - tall - 2), 0), min(int(y + 3), height)
    if x0 >= x1 or y0 >= y1:
        return
    u = ((np.arange(x0, x1) + 0.5 - x) / half)[None, :].astype(np.float32)
    v = ((y - np.arange(y0, y1) - 0.5) / tall)[:, None].astype(np.float32)
    waist = 0.86 + 0.14 * np.sin(np.clip(v, 0, 1) * np.pi)
    edge = 1 - np.abs(u) / waist
    soft = max(2.2 / size, 0.02)
    inside = smooth(0, soft * 2, edge) * smooth(0, soft, v) * smooth(0, soft, 1 - v)
    flame = np.exp(-((u / 0.62) ** 2) - ((v - 0.3) / 0.42) ** 2)
    paper = ramp(
        np.clip(flame, 0, 1),
        [(0, "b8441c"), (0.25, "e8742a"), (0.6, "ffb04e"), (0.85, "ffe09a"), (1, "fff6da")],
    )
    rose = ramp(
        np.clip(flame, 0, 1),
        [(0, "8f2f2f"), (0.25, "cf5148"), (0.6, "f79270"), (0.85, "ffd3a8"), (1, "fff0dc")],
    )
    paper = paper * (1 - warmth) + rose * warmth
    ribs = 1 - 0.22 * (np.abs(np.sin(v * np.pi * 4)) < 0.16) * (size > 26)  # noqa: PLR2004
    frame = 1 - 0.75 * ((v < 0.07) | (v > 0.95)) * (size > 12)  # noqa: PLR2004
    paper = paper * (ribs * frame)[..., None] * 1.06
    alpha = inside[..., None]
    canvas[y0:y1, x0:x1] = canvas[y0:y1, x0:x1] * (1 - alpha) + paper * alpha


def developed(
    rng: np.random.Generator,
    canvas: Field,
    grain: float = 0.012,
    vignette: float = 0.1,
    shoulder: float = 0.8,
) -> Image.Image:
    """A canvas as an 8-bit picture: highlights rolled off above a shoulder, a vignette, grain."""
    height, width = canvas.shape[:2]
    rolled, bright = np.minimum(canvas, shoulder), canvas > shoulder
    over = canvas[bright] - shoulder
    rolled[bright] += (1 - np.exp(-over / (1 - shoulder))) * (1 - shoulder)
    dx = np.linspace(-1, 1, width, dtype=np.float32)[None, :]
    dy = np.linspace(-1, 1, height, dtype=np.float32)[:, None]
    rolled *= (1 - vignette * (dx * dx + dy * dy))[..., None]
    specks = rng.normal(0, grain, (height, width)).astype(np.float32)
    rolled += specks[..., None]
    return Image.fromarray((np.clip(rolled, 0, 1) * 255 + 0.5).astype(np.uint8))
