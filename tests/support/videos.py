"""Small videos for plans."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction
from pathlib import Path
from typing import Any

import av
import numpy as np

_CODECS = {".webm": "libvpx-vp9", ".mp4": "libx264"}


def write_video(
    path: Path,
    count: int,
    *,
    rate: int = 20,
    size: tuple[int, int] = (320, 180),
    level: Callable[[int], int] = lambda _: 60,
    options: dict[str, str] | None = None,
) -> None:
    """A grey video with a light square that goes from left to right.

    Args:
        path: The file, .webm or .mp4.
        count: How many frames it has.
        rate: How many a second.
        size: Of its frames, in px.
        level: Gives how light each of them is, 0 to 255.
        options: Those of the encoder.
    """
    with av.open(str(path), "w") as container:
        stream: Any = container.add_stream(_CODECS[path.suffix], rate=Fraction(rate))
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
        stream.options = {"crf": "12", "b": "0", **(options or {})}
        for index in range(count):
            pixels = np.full((size[1], size[0], 3), level(index), dtype=np.uint8)
            left = index * (size[0] - 40) // max(count - 1, 1)
            pixels[20:60, left : left + 40] = (250, 200, 90)
            frame = av.VideoFrame.from_ndarray(pixels, format="rgb24")
            container.mux(stream.encode(frame))
        container.mux(stream.encode())


def write_sound(path: Path) -> None:
    """A file with sound and no picture in it."""
    with av.open(str(path), "w") as container:
        stream: Any = container.add_stream("libopus", rate=48_000)
        for _ in range(50):
            silence = av.AudioFrame.from_ndarray(
                np.zeros((1, 1920), np.int16), format="s16", layout="stereo"
            )
            silence.sample_rate = 48_000
            container.mux(stream.encode(silence))
        container.mux(stream.encode())
