"""Small videos for plans."""

from __future__ import annotations

import io
from collections.abc import Callable
from fractions import Fraction
from functools import cache
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
    kind: tuple[str, str] | None = None,
) -> None:
    """Write a grey video with a light square that goes from left to right.

    Args:
        path: The file, .webm or .mp4.
        count: How many frames it has.
        rate: How many a second.
        size: Of its frames, in px.
        level: Gives how light each of them is, 0 to 255.
        options: Those of the encoder.
        kind: Its container and its coding, by FFmpeg's names; by default by the file's ending.
    """
    levels = tuple(level(index) for index in range(count))
    more = tuple(sorted((options or {}).items()))
    kind = kind or (path.suffix[1:], _CODECS[path.suffix])
    path.write_bytes(_video(kind, levels, rate, size, more))


@cache
def _video(
    kind: tuple[str, str],
    levels: tuple[int, ...],
    rate: int,
    size: tuple[int, int],
    options: tuple[tuple[str, str], ...],
) -> bytes:
    """The file, written once for all tests of a process."""
    packed = io.BytesIO()
    with av.open(packed, "w", format=kind[0]) as container:
        stream: Any = container.add_stream(kind[1], rate=Fraction(rate))
        stream.width, stream.height, stream.pix_fmt = *size, "yuv420p"
        quick = {"cpu-used": "8", "deadline": "realtime", "preset": "veryfast"}
        stream.options = {"crf": "12", "b": "0", **quick, **dict(options)}
        if kind[1] == "libsvtav1":
            stream.options = {"preset": "12"}
        for index, grey in enumerate(levels):
            pixels = np.full((size[1], size[0], 3), grey, dtype=np.uint8)
            left = index * (size[0] - 40) // max(len(levels) - 1, 1)
            pixels[20:60, left : left + 40] = (250, 200, 90)
            frame = av.VideoFrame.from_ndarray(pixels, format="rgb24")
            container.mux(stream.encode(frame))
        container.mux(stream.encode())
    return packed.getvalue()


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
