"""The river at night, with lanterns that drift by: a few seconds of video that meet their start."""

from __future__ import annotations

import io
from collections.abc import Iterator
from dataclasses import dataclass
from fractions import Fraction

import av
import numpy as np
from PIL import Image

from rising_lantern.css.compositing import Bytes

RATE = 15  # frames a second
SECONDS = 4
_WIDTH, _HEIGHT = 1280, 720
_SHORE = 250  # px, where the water begins
_ROWS = 8  # of lanterns, one behind the other
_HALF_HIGH = 0.9  # of a lantern, in sizes
_SKY, _FAR, _NEAR = (
    np.array(color, np.float32) for color in ((8, 12, 30), (16, 26, 56), (6, 9, 22))
)
_GLOW = np.array((255, 176, 84), np.float32)
_PAPER = np.array((255, 226, 168), np.float32)


def poster() -> Image.Image:
    """Its first frame."""
    return Image.fromarray(next(frames()))


def frames() -> Iterator[Bytes]:
    """All of its frames, RGB; after the last one comes the first again."""
    ground, rows = _ground(), _rows()
    for index in range(RATE * SECONDS):
        yield _frame(ground, rows, index / (RATE * SECONDS))


def video() -> bytes:
    """All of it as WebM."""
    packed = io.BytesIO()
    # Without a random number in its head, so that it is the same every time.
    options = {"fflags": "+bitexact"}
    with av.open(packed, "w", format="webm", options=options) as container:
        stream = container.add_stream("libvpx-vp9", rate=Fraction(RATE))
        stream.width, stream.height, stream.pix_fmt = _WIDTH, _HEIGHT, "yuv420p"
        stream.options = {"crf": "38", "b": "0", "deadline": "realtime", "cpu-used": "8"}
        for pixels in frames():
            shown = av.VideoFrame.from_ndarray(pixels, format="rgb24")
            container.mux(stream.encode(shown))
        container.mux(stream.encode())
    return packed.getvalue()


def _ground() -> np.ndarray:
    """Sky, and water that gets darker towards the reader."""
    y = np.arange(_HEIGHT, dtype=np.float32)[:, None, None]
    depth = np.clip((y - _SHORE) / (_HEIGHT - _SHORE), 0, 1)
    water = _FAR + (_NEAR - _FAR) * depth
    sky = _SKY + (_FAR - _SKY) * (y / _SHORE) ** 3
    whole = np.where(y < _SHORE, sky, water)
    return np.repeat(whole, _WIDTH, axis=1).astype(np.float32)


@dataclass(frozen=True)
class _Row:
    """Lanterns one beside the other, all alike.

    Attributes:
        apart: How far it is from one to the next, in px.
        start: Where they are at first, as a share of that.
        height: How far they are below the shore, in px.
        sway: How far they go up and down, in px.
        phase: Where in that they start, as a share of the round.
        glow: How much of the light there is around a lantern, and in the water below it.
        body: Which px are paper.
    """

    apart: float
    start: float
    height: float
    sway: float
    phase: float
    glow: np.ndarray
    body: np.ndarray


def _rows() -> list[_Row]:
    """All lanterns, the farthest first."""
    rng = np.random.default_rng(20)
    rows = []
    for row in range(_ROWS):
        depth = (row + rng.uniform(0.2, 0.8)) / _ROWS
        start, sway, phase = rng.uniform(0, 1), rng.uniform(1, 6), rng.uniform(0, 1)
        height = 14 + depth**1.4 * (_HEIGHT - _SHORE - 70)
        lantern = _lantern(4 + 17 * depth)
        rows.append(_Row(180 + 340 * depth, start, height, sway * depth, phase, *lantern))
    return rows


def _lantern(size: float) -> tuple[np.ndarray, np.ndarray]:
    """The light of a lantern of some size, and its paper: how much of each px they take."""
    reach = round(size * 5.5)
    x = np.arange(-reach, reach, dtype=np.float32)[None, :] / size
    y = np.arange(-reach, reach, dtype=np.float32)[:, None] / size
    below = y > _HALF_HIGH
    glow = np.exp(-(x**2 + y**2) / 5) * 0.5
    mirrored = np.exp(-((x / 0.75) ** 2)) * np.exp(-(((y - 2.2) / 1.5) ** 2)) * below * 0.55
    ripples = 0.6 + 0.4 * np.cos(y * 5 + x)
    across = np.clip((0.62 + 0.12 * y - np.abs(x)) * size, 0, 1)
    body = across * np.clip((_HALF_HIGH - np.abs(y)) * size, 0, 1)
    return np.clip(glow + mirrored * ripples, 0, 1)[..., None], body[..., None]


def _frame(ground: np.ndarray, rows: list[_Row], share: float) -> Bytes:
    """One frame: in a round each lantern drifts to the place of the next one in its row."""
    canvas = ground.copy()
    for row in rows:
        turn = 2 * np.pi * (share + row.phase)
        top = round(_SHORE + row.height + row.sway * np.sin(turn)) - len(row.glow) // 2
        light = np.float32(0.87 + 0.13 * np.sin(3 * turn))
        # What is laid over the water, and how much is left of it: the same for the whole row.
        shade, paper = 1 - row.glow * light, 1 - row.body
        laid = _GLOW * (1 - shade) * paper + _PAPER * light * row.body
        left_over = np.repeat(shade * paper, 3, axis=2)
        for number in range(-1, int(_WIDTH / row.apart) + 2):
            left = round((number + row.start + share) * row.apart) - len(row.glow) // 2
            _lay(canvas, laid, left_over, (left, top))
    return np.clip(canvas + 0.5, 0, 255).astype(np.uint8)


def _lay(canvas: np.ndarray, laid: np.ndarray, left: np.ndarray, at: tuple[int, int]) -> None:
    """Lay one lantern onto a frame, as far as it is in it."""
    size = len(laid)
    first, last = max(at[0], 0), min(at[0] + size, _WIDTH)
    upper, lower = max(at[1], 0), min(at[1] + size, _HEIGHT)
    if last <= first or lower <= upper:
        return
    inner = np.s_[upper - at[1] : lower - at[1], first - at[0] : last - at[0]]
    window = canvas[upper:lower, first:last]
    window *= left[inner]
    window += laid[inner]
