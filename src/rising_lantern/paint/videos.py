"""Frames of videos as pixels."""

from __future__ import annotations

from operator import attrgetter

import numpy as np

from rising_lantern.css.compositing import Bytes
from rising_lantern.errors import PlanError
from rising_lantern.paint.shelf import Shelf
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.files.videos import VideoError, run_apart

_AHEAD_BYTES = 40_000_000  # of frames that are decoded at once: the next ones are often wanted
_MOST_AHEAD = 48
_SMALL = 160  # px, the longer side of reduced frames
_kept = Shelf[Bytes](120_000_000, attrgetter("nbytes"))


def frame_of(picture: Picture) -> Bytes:
    """The frame of a video that is shown, as opaque RGBA, shaped (height, width, 4).

    Raises:
        PlanError: If the file turns out to be damaged.
    """
    count = max(min(_AHEAD_BYTES // (picture.width * picture.height * 4), _MOST_AHEAD), 1)
    first = picture.frame // count * count
    numbers = range(first, min(first + count, picture.frames))
    chunk = _kept.get((picture.at(first), count), lambda: _opaque(_decode(picture, numbers)))
    frame: Bytes = chunk[picture.frame - first]
    return frame


def small_frames(picture: Picture) -> Bytes:
    """All frames of a video that are looked at, reduced: RGB, shaped (frames, height, width, 3).

    Raises:
        PlanError: If the file turns out to be damaged.
    """
    scale = min(_SMALL / max(picture.width, picture.height), 1.0)
    width, height = (max(round(side * scale), 1) for side in (picture.width, picture.height))

    def decoded() -> Bytes:
        return _decode(picture, range(picture.frames), (width, height))

    return _kept.get((picture.at(0), "small"), decoded)


def _opaque(frames: Bytes) -> Bytes:
    return np.concatenate([frames, np.full_like(frames[..., :1], 255)], axis=-1)


def _decode(picture: Picture, numbers: range, size: tuple[int, int] | None = None) -> Bytes:
    clip = picture.clip
    assert clip is not None  # noqa: S101 - it is a video
    seconds = [f"{clip.start + clip.times[number]:.6f}" for number in numbers]
    width, height = size or (picture.width, picture.height)
    arguments = [str(width), str(height), *seconds]
    try:
        with picture.opened() as file:
            data = run_apart(file, clip.form, "frames", arguments)
        return np.frombuffer(data, np.uint8).reshape(len(seconds), height, width, 3)
    except (VideoError, OSError, ValueError) as error:
        raise _damage(picture, error) from error


def _damage(picture: Picture, error: Exception) -> PlanError:
    return picture.fault(f"the video cannot be read: {error}", "save it again")
