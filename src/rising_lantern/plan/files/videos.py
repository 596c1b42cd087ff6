"""Videos that a plan names: read by a program of its own, within limits of time and memory."""

from __future__ import annotations

import json
import math
import subprocess
import sys
from collections.abc import Sequence
from functools import lru_cache
from importlib.resources import files
from importlib.util import find_spec
from pathlib import Path
from typing import IO

from rising_lantern.errors import quoted
from rising_lantern.plan.files.locate import FileFault, Stamp, locate, stamp_of
from rising_lantern.plan.files.pictures import Clip, Picture
from rising_lantern.plan.files.source_files import SourceFile

SUFFIXES = frozenset({".webm", ".mp4"})
"""Endings of video files."""

LONGEST = 60.0
"""Seconds up to which every frame of a video is looked at."""

MOST_FRAMES = 3_600
MOST_BYTES = 1_000_000_000
_MOST_SECONDS = 30  # of computing
_MOST_WAIT = 120  # seconds, on a machine that does other things as well
_MOST_MEMORY = 2_000_000_000
_NO_MEMORY = 3
_REMEDY = "save it as WebM (VP8, VP9, AV1) or MP4 (H.264, AV1)"
_CODECS = {"matroska": {"vp8", "vp9", "av1"}, "mov": {"h264", "av1"}}
_HEAD = 4096  # bytes, in which a file says what it is


class VideoError(ValueError):
    """Raised when a video cannot be read; the message completes a sentence."""


def find_video(folder: Path, name: str) -> Picture:
    """A video of the plan, with the times of its frames.

    Raises:
        FileFault: If it cannot be reached, is not a video, or is too large; or if the package that
            reads videos is not installed.
    """
    path = locate(folder, name)
    if find_spec("av") is None:
        problem = f"{quoted(name)} is a video, which needs the package 'av'"
        raise FileFault(problem, "install rising-lantern[video]")
    try:
        return _read_video(path, name, stamp_of(path))
    except OSError:
        raise FileFault(f"{quoted(name)} cannot be read", "check that it is there") from None


@lru_cache(maxsize=256)
def _read_video(path: Path, name: str, stamp: Stamp) -> Picture:
    """A video file, read once for each state of it."""
    del stamp  # another state of the file is another video
    own = SourceFile.of(path)
    with own.opened() as file:
        form = _form_of(file.read(_HEAD), name)
        if own.size > MOST_BYTES:
            raise FileFault(
                f"{quoted(name)} has more than {MOST_BYTES // 1_000_000} MB", "make it smaller"
            )
        try:
            text = run_apart(file, form, "probe", [str(LONGEST), str(MOST_FRAMES)])
            found = json.loads(text)
            size, times = (found["width"], found["height"]), tuple(found["times"])
            clip = Clip(form, found["seconds"], times, found["whole"], found["start"])
        except (VideoError, ValueError, KeyError) as error:
            problem = f"{quoted(name)} cannot be read as a video: {error}"
            raise FileFault(problem, _REMEDY) from None
    if found["codec"] not in _CODECS[form]:
        problem = f"{quoted(name)} is coded as {found['codec']}, which not all browsers show"
        raise FileFault(problem, _REMEDY)
    if not all(size) or not times or not math.isfinite(clip.seconds):
        raise FileFault(f"{quoted(name)} has no pictures in it", _REMEDY)
    return Picture(own, *size, frames=len(times), clip=clip)


def _form_of(start: bytes, name: str) -> str:
    """The container of a video, by its first bytes.

    Sources: https://www.rfc-editor.org/rfc/rfc8794#section-11 (EBML and its DocType), ISO/IEC
    14496-12, 4.3 (ftyp).

    Raises:
        FileFault: If it is neither WebM nor MP4.
    """
    if start.startswith(b"\x1a\x45\xdf\xa3"):
        _, found, rest = start.partition(b"\x42\x82")
        if not found or rest[1 : 1 + (rest[0] & 0x7F)].rstrip(b"\0") == b"webm":
            return "matroska"
        raise FileFault(f"{quoted(name)} is a Matroska file, which is no WebM", _REMEDY)
    if start[4:8] == b"ftyp":
        if start[8:12] == b"qt  ":
            raise FileFault(f"{quoted(name)} is a QuickTime file, which is no MP4", _REMEDY)
        return "mov"
    raise FileFault(f"{quoted(name)} is not a WebM or MP4 video", _REMEDY)


def run_apart(file: IO[bytes], form: str, task: str, arguments: Sequence[str]) -> bytes:
    """What the program that reads videos makes of one; see :mod:`video_process`.

    Raises:
        VideoError: If it cannot be read within the limits.
    """
    found = find_spec("av")
    place = str(Path(found.origin).parents[1]) if found and found.origin else ""
    program = str(files(__package__).joinpath("video_process.py"))
    limits = [str(_MOST_SECONDS), str(_MOST_MEMORY)]
    # Without site packages of its own the process starts quickly.
    command = [sys.executable, "-I", "-S", program, task, place, *limits, form, *arguments]
    try:
        ended = subprocess.run(  # noqa: S603 - our own program, and no shell
            command, stdin=file, capture_output=True, timeout=_MOST_WAIT, check=False
        )
    except subprocess.TimeoutExpired:
        raise VideoError("it takes too long") from None
    if ended.returncode < 0 or ended.returncode == _NO_MEMORY:
        limit = f"{_MOST_SECONDS} s or {_MOST_MEMORY // 1_000_000_000} GB"
        raise VideoError(f"it takes more than {limit} to read")
    if ended.returncode:
        raise VideoError(ended.stderr.decode("utf-8", "replace").strip()[:200] or "it is damaged")
    return ended.stdout
