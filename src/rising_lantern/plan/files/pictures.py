"""Pictures that a plan names: their size is read from the first bytes; nothing is decoded."""

from __future__ import annotations

from bisect import bisect_right
from contextlib import AbstractContextManager
from dataclasses import dataclass, field, replace
from functools import lru_cache
from pathlib import Path
from typing import IO

from PIL import Image

from rising_lantern.errors import PlanError, quoted
from rising_lantern.plan.files.images import DAMAGES, MOST_PIXELS, TooLargeError, opened_image
from rising_lantern.plan.files.locate import FileFault, Stamp, locate, stamp_of
from rising_lantern.plan.files.source_files import SourceFile
from rising_lantern.plan.files.vectors import looks_like_svg, read_vector

MOST_FRAMES = 500


@dataclass(frozen=True, slots=True)
class Clip:
    """How a video runs.

    Attributes:
        form: Its container, ``matroska`` or ``mov``.
        seconds: How long it is.
        times: The seconds at which the frames are shown that are looked at, from 0 on.
        is_whole: Whether those are all of its frames, as where it is not longer than a minute.
        start: The time that the file gives its first frame, in seconds.
    """

    form: str
    seconds: float
    times: tuple[float, ...]
    is_whole: bool = True
    start: float = 0.0

    def frame_at(self, second: float) -> int:
        """The number of the frame that is shown at a second, where it runs again and again."""
        within = second % self.seconds if self.seconds > 0 else 0.0
        return max(bisect_right(self.times, within) - 1, 0)


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture file, or a video.

    Attributes:
        file: The file.
        width: As it is shown, in its own pixels.
        height: The same.
        is_jpeg: Whether it can be halved while it is decoded.
        is_vector: Whether it is SVG, as sharp at any size.
        frames: How many pictures are in it: more than one where it is an animation.
        frame: Which of them this is.
        clip: How it runs, for a video; None for a picture.
    """

    file: SourceFile
    width: int
    height: int
    is_jpeg: bool = False
    is_vector: bool = False
    frames: int = 1
    frame: int = 0
    clip: Clip | None = field(default=None, compare=False, repr=False)

    @property
    def second(self) -> float | None:
        """The second of a video at which this frame of it is shown; None for a picture."""
        return self.clip.times[self.frame] if self.clip else None

    def at(self, frame: int) -> Picture:
        """One of the pictures of an animation or a video."""
        return replace(self, frame=frame)

    @property
    def path(self) -> Path:
        """Where the file is."""
        return self.file.path

    def opened(self) -> AbstractContextManager[IO[bytes]]:
        """The file, open for reading.

        Raises:
            PlanError: If something else is there by now, or nothing that can be read.
        """
        return self.file.opened()

    def fault(
        self, problem: str, remedy: str = "run this again, and leave the file alone meanwhile"
    ) -> PlanError:
        """The error for something that is wrong with the file."""
        return self.file.fault(problem, remedy)


def find_picture(folder: Path, name: str) -> Picture:
    """A picture of the plan, with its size read from its first bytes.

    Raises:
        FileFault: If it cannot be reached, is not a picture, or is too large.
    """
    path = locate(folder, name)
    try:
        return _read_picture(path, name, stamp_of(path))
    except OSError:
        raise FileFault(f"{quoted(name)} cannot be read", "check that it is there") from None


@lru_cache(maxsize=1024)
def _read_picture(path: Path, name: str, stamp: Stamp) -> Picture:
    """A picture file, read once for each state of it."""
    del stamp  # another state of the file is another picture
    if looks_like_svg(path):
        return _vector(path, name)
    remedy = "save it as PNG, JPEG, WebP, GIF, AVIF or SVG"
    try:
        own = SourceFile.of(path)
        with own.opened() as file, opened_image(file) as opened:
            width, height = opened.size
            # EXIF orientations 5 to 8 lie on their side.
            turned = opened.getexif().get(0x0112, 1) in range(5, 9)
            # MPO: a JPEG with more pictures behind it, of which the first is shown.
            is_jpeg = opened.format in {"JPEG", "MPO"}
            frames = _count_frames(opened)
    except TooLargeError as error:
        limit = f"make it smaller: {MOST_PIXELS // 1_000_000} megapixels is the limit"
        raise FileFault(f"{quoted(name)} has {error}", limit) from None
    except DAMAGES:
        raise FileFault(f"{quoted(name)} cannot be read as a picture", remedy) from None
    if frames > MOST_FRAMES:
        problem = f"{quoted(name)} has more than {MOST_FRAMES} pictures in it"
        raise FileFault(problem, "make it a shorter animation, or a single picture")
    if not width or not height:
        raise FileFault(f"{quoted(name)} has no pixels", remedy)
    size = (height, width) if turned else (width, height)
    return Picture(own, *size, is_jpeg, frames=frames)


def _count_frames(opened: Image.Image) -> int:
    """How many pictures a file holds; one more than the most where there are more.

    A GIF does not say it: its pictures are stepped over one by one.
    """
    if not getattr(opened, "is_animated", False) or opened.format not in {
        "GIF",
        "WEBP",
        "PNG",
        "AVIF",
    }:
        return 1
    if opened.format != "GIF":
        return int(getattr(opened, "n_frames", 1))
    count = 1
    try:
        while count <= MOST_FRAMES:
            opened._seek(count, False)  # type: ignore[attr-defined]  # noqa: FBT003, SLF001
            count += 1
    except EOFError:
        pass
    return count


def _vector(path: Path, name: str) -> Picture:
    try:
        vector = read_vector(path)
    except (OSError, ValueError) as error:
        problem = f"{quoted(name)} is not an SVG that can be drawn: {error}"
        raise FileFault(problem, "save it again as plain SVG, without entities") from None
    size = (max(round(vector.width), 1), max(round(vector.height), 1))
    if size[0] * size[1] > MOST_PIXELS:
        large = f"{float(size[0]):,.6g} x {float(size[1]):,.6g} px"
        raise FileFault(f"{quoted(name)} is {large}", "make it smaller")
    return Picture(SourceFile.of(path), *size, is_vector=True)
