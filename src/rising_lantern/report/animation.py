"""A gesture as a moving picture: animated WebP, GIF or MP4."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from fractions import Fraction
from pathlib import Path
from typing import Literal

import numpy as np
from PIL import Image

from rising_lantern.css.compositing import Bytes
from rising_lantern.errors import RequestError
from rising_lantern.scroll.gestures import RATE as SCREEN_RATE

Form = Literal["webp", "gif", "mp4"]
FORMS: tuple[Form, ...] = ("webp", "gif", "mp4")

RATE = 20  # pictures a second, a third of what a screen shows
_WIDEST = 960  # px
# Each picture is whole: what is taken over from the one before leaves traces of it.
_WEBP = {"quality": 80, "method": 2, "kmax": 1}


def shown_of(count: int) -> range:
    """The instants of a gesture that a moving picture shows, of those that a screen shows."""
    return range(0, count, SCREEN_RATE // RATE)


def write_animation(frames: Iterable[Bytes], path: Path, form: Form) -> None:
    """Write frames as a moving picture, 20 a second, at most 960 px wide.

    Args:
        frames: RGB pixels, all of one size; one at least.
        path: The file.
        form: How it is packed.

    Raises:
        RequestError: For an MP4 without the package that packs it.
    """
    pictures = (_reduce_colors(frame) for frame in frames)
    if form == "mp4":
        _write_video(pictures, path)
        return
    first = next(pictures)
    extra = _WEBP if form == "webp" else {"optimize": False}
    first.save(
        path,
        format=form,
        save_all=True,
        append_images=pictures,
        duration=1000 // RATE,
        loop=0,
        **extra,
    )


def _reduce_colors(frame: Bytes) -> Image.Image:
    picture = Image.fromarray(frame)
    if picture.width > _WIDEST:
        height = round(picture.height * _WIDEST / picture.width)
        picture = picture.resize((_WIDEST, height), Image.Resampling.BOX)
    return picture


def _write_video(pictures: Iterator[Image.Image], path: Path) -> None:
    try:
        import av  # noqa: PLC0415 - an extra
    except ImportError:
        raise RequestError(
            "an MP4 needs the package 'av': install rising-lantern[video], or write WebP"
        ) from None
    first = next(pictures)
    # The codec takes even sides only.
    size = (first.width // 2 * 2, first.height // 2 * 2)
    with av.open(str(path), "w", format="mp4") as container:
        stream = container.add_stream("libx264", rate=Fraction(RATE))
        stream.width, stream.height = size
        stream.pix_fmt = "yuv420p"
        stream.options = {"crf": "20", "preset": "veryfast"}
        for picture in (first, *pictures):
            whole = picture.crop((0, 0, *size))
            shown = av.VideoFrame.from_ndarray(np.asarray(whole), format="rgb24")
            for packet in stream.encode(shown):
                container.mux(packet)
        for packet in stream.encode():
            container.mux(packet)
