"""Pictures and fonts that a plan names: found inside its folder, and looked at, not decoded."""

from __future__ import annotations

import os
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, replace
from pathlib import Path
from typing import IO, TYPE_CHECKING

from rising_lantern.errors import Fault, Place, PlanError
from rising_lantern.opening import NotAFileError, opened_file, refuse_special
from rising_lantern.plan.images import DAMAGES, MOST_PIXELS, TooLargeError, opened_image
from rising_lantern.plan.vectors import looks_like_svg, read_vector

if TYPE_CHECKING:
    from PIL import Image

MOST_FRAMES = 500
MOST_FONT_BYTES = 50_000_000
Stamp = tuple[int, int, int, int]
"""By which the state of a file is known: its device, inode, size, and time of its last change."""

_INSIDE = "name a file inside the plan's folder"
_READABLE = "give yourself the right to read it"


class FileFault(ValueError):  # noqa: N818 - a fault is what a plan has
    """A file that the plan names and that cannot be used.

    Attributes:
        problem: What is wrong.
        remedy: What would be right.
    """

    def __init__(self, problem: str, remedy: str) -> None:
        super().__init__(f"{problem}; {remedy}")
        self.problem = problem
        self.remedy = remedy


@dataclass(frozen=True, slots=True)
class Picture:
    """A picture file.

    Attributes:
        path: The file.
        width: As it is shown, in its own pixels.
        height: The same.
        is_jpeg: Whether it can be halved while it is decoded.
        is_vector: Whether it is SVG, as sharp at any size.
        stamp: The state of the file, so that what is kept of another one is not used.
        frames: How many pictures are in it: more than one where it is an animation.
        frame: Which of them this is.
    """

    path: Path
    width: int
    height: int
    is_jpeg: bool = False
    is_vector: bool = False
    stamp: Stamp = (0, 0, 0, 0)
    frames: int = 1
    frame: int = 0

    def at(self, frame: int) -> Picture:
        """One of the pictures of an animation."""
        return replace(self, frame=frame)

    @contextmanager
    def opened(self) -> Iterator[IO[bytes]]:
        """The file, open for reading.

        Raises:
            PlanError: Where it is not there any more, or is another one by now.
        """
        try:
            with opened_file(self.path) as opened:
                if _stamp(os.fstat(opened.fileno())) != self.stamp:
                    raise self.fault("the picture has changed since the plan was read")
                yield opened
        except NotAFileError as error:
            raise self.fault(f"the picture is {error} by now") from None
        except FileNotFoundError:
            raise self.fault("the picture is not there any more") from None

    def fault(
        self, problem: str, remedy: str = "leave it as it is, and run this again"
    ) -> PlanError:
        """The error for something that is wrong with the file."""
        return PlanError([Fault(Place(str(self.path)), problem, remedy)])


def stamp_of(path: Path) -> Stamp:
    """The state of a file.

    Raises:
        OSError: Where it cannot be reached.
    """
    return _stamp(path.stat())


def _stamp(found: os.stat_result) -> Stamp:
    # The time of the last change of a file cannot be set by its owner, that of writing can.
    return found.st_dev, found.st_ino, found.st_size, found.st_ctime_ns


def locate(folder: Path, name: str) -> Path:
    """The file that a name in a plan stands for.

    Args:
        folder: The plan's folder.
        name: A path relative to it, with forward slashes.

    Raises:
        FileFault: Where the name leads out of the folder, or to nothing.
    """
    if "://" in name or name.startswith(("//", "data:")):
        raise FileFault(f"'{_short(name)}' is a web address", _INSIDE)
    if not name or "\0" in name or "\\" in name:
        raise FileFault(f"'{_short(name)}' is no file name", _INSIDE)
    relative = Path(name)
    if relative.is_absolute() or ".." in relative.parts:
        raise FileFault(f"'{_short(name)}' leads out of the plan's folder", _INSIDE)
    root = folder.resolve()
    try:
        path = (root / relative).resolve()
        if not path.is_relative_to(root):
            problem = f"'{_short(name)}' is a link that leads out of the plan's folder"
            raise FileFault(problem, _INSIDE)
        refuse_special(path.stat().st_mode)
    except FileNotFoundError:
        remedy = _near(root, relative)
        raise FileFault(f"there is no file '{_short(name)}' beside the plan", remedy) from None
    except NotAFileError as error:
        raise FileFault(f"'{_short(name)}' is {error}", _INSIDE) from None
    except PermissionError:
        raise FileFault(f"'{_short(name)}' cannot be read: permission denied", _READABLE) from None
    except (OSError, RuntimeError):
        raise FileFault(f"'{_short(name)}' cannot be reached", _INSIDE) from None
    if not os.access(path, os.R_OK):
        raise FileFault(f"'{_short(name)}' cannot be read: permission denied", _READABLE)
    return path


def picture(folder: Path, name: str) -> Picture:
    """A picture of the plan, with its size read from its first bytes.

    Raises:
        FileFault: Where it is out of reach, is no picture, or is too large.
    """
    path = locate(folder, name)
    if looks_like_svg(path):
        return _vector(path, name)
    remedy = "save it as PNG, JPEG, WebP, GIF, AVIF or SVG"
    try:
        with opened_file(path) as file, opened_image(file) as opened:
            stamp = _stamp(os.fstat(file.fileno()))
            width, height = opened.size
            # EXIF orientations 5 to 8 lie on their side.
            turned = opened.getexif().get(0x0112, 1) in range(5, 9)
            # MPO: a JPEG with more pictures behind it, of which the first is shown.
            is_jpeg = opened.format in {"JPEG", "MPO"}
            frames = _count_frames(opened)
    except TooLargeError as error:
        limit = f"make it smaller: {MOST_PIXELS // 1_000_000} megapixels are the most"
        raise FileFault(f"'{_short(name)}' has {error}", limit) from None
    except DAMAGES:
        raise FileFault(f"'{_short(name)}' is not a picture that can be read", remedy) from None
    if frames > MOST_FRAMES:
        problem = f"'{_short(name)}' has more than {MOST_FRAMES} pictures in it"
        raise FileFault(problem, "make it a shorter animation, or a single picture")
    if not width or not height:
        raise FileFault(f"'{_short(name)}' has no pixels", remedy)
    size = (height, width) if turned else (width, height)
    return Picture(path, *size, is_jpeg, stamp=stamp, frames=frames)


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
            opened._seek(count, False)  # type: ignore[attr-defined]  # noqa: SLF001
            count += 1
    except EOFError:
        pass
    return count


def _vector(path: Path, name: str) -> Picture:
    try:
        vector = read_vector(path)
    except (OSError, ValueError) as error:
        problem = f"'{_short(name)}' is not an SVG that can be drawn: {error}"
        raise FileFault(problem, "save it again as plain SVG, without entities") from None
    size = (max(round(vector.width), 1), max(round(vector.height), 1))
    if size[0] * size[1] > MOST_PIXELS:
        large = f"{float(size[0]):,.6g} x {float(size[1]):,.6g} px"
        raise FileFault(f"'{_short(name)}' is {large} large", "make it smaller")
    return Picture(path, *size, is_vector=True, stamp=stamp_of(path))


def font_file(folder: Path, name: str) -> Path:
    """A font of the plan.

    Raises:
        FileFault: Where it is out of reach, or is no font.
    """
    path = locate(folder, name)
    # OpenType 1.9.1, table directory: the versions that a font file can start with.
    if path.stat().st_size > MOST_FONT_BYTES:
        limit = f"{MOST_FONT_BYTES // 1_000_000} MB are the most for a font"
        raise FileFault(f"'{_short(name)}' is too large", limit)
    with opened_file(path) as opened:
        is_font = opened.read(4) in {b"\0\1\0\0", b"OTTO", b"true", b"ttcf"}
    if is_font:
        is_font = _opens_as_font(path)
    if not is_font:
        raise FileFault(f"'{_short(name)}' is not a font", "name a TrueType or OpenType font file")
    return path


def _opens_as_font(path: Path) -> bool:
    from PIL import ImageFont  # noqa: PLC0415 - few plans bring fonts

    try:
        ImageFont.truetype(path, 16, layout_engine=ImageFont.Layout.BASIC).getlength("Lantern")
    except (OSError, ValueError):
        return False
    return True


def _near(root: Path, relative: Path) -> str:
    from difflib import get_close_matches  # noqa: PLC0415 - only when something is amiss

    beside = (root / relative).parent
    try:
        names = sorted(path.name for path in beside.iterdir())[:2000] if beside.is_dir() else []
    except OSError:
        names = []
    close = get_close_matches(relative.name, names, 1)
    return f"did you mean '{(relative.parent / close[0]).as_posix()}'?" if close else _INSIDE


def _short(name: str) -> str:
    clean = "".join(character if character.isprintable() else "?" for character in name)
    return clean if len(clean) <= 80 else clean[:77] + "..."  # noqa: PLR2004
