"""Pictures and fonts that a plan names: found inside its folder, and looked at, not decoded."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import TYPE_CHECKING

from rising_lantern.plan.vectors import looks_like_svg, read_vector

if TYPE_CHECKING:
    from PIL import Image

MOST_PIXELS = 200_000_000
MOST_FRAMES = 500
_INSIDE = "name a file inside the plan's folder"


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
        stamp: When the file was written, so that what is kept of another state is not used.
        frames: How many pictures are in it: more than one where it is an animation.
        frame: Which of them this is.
    """

    path: Path
    width: int
    height: int
    is_jpeg: bool = False
    is_vector: bool = False
    stamp: int = 0
    frames: int = 1
    frame: int = 0

    def at(self, frame: int) -> Picture:
        """One of the pictures of an animation."""
        return replace(self, frame=frame)


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
        is_file = path.is_file()
    except (OSError, RuntimeError):
        raise FileFault(f"'{_short(name)}' cannot be reached", _INSIDE) from None
    if not path.is_relative_to(root):
        raise FileFault(f"'{_short(name)}' is a link that leads out of the plan's folder", _INSIDE)
    if not is_file:
        raise FileFault(f"there is no file '{_short(name)}' beside the plan", _near(root, relative))
    return path


def picture(folder: Path, name: str) -> Picture:
    """A picture of the plan, with its size read from its first bytes.

    Raises:
        FileFault: Where it is out of reach, is no picture, or is too large.
    """
    from PIL import Image, UnidentifiedImageError  # noqa: PLC0415 - plans without pictures

    path = locate(folder, name)
    if looks_like_svg(path):
        return _vector(path, name)
    remedy = "save it as PNG, JPEG, WebP or GIF again"
    try:
        with Image.open(path) as opened:
            width, height = opened.size
            if width * height > MOST_PIXELS:
                raise FileFault(
                    f"'{_short(name)}' has {width} x {height} pixels",
                    f"make it smaller: {MOST_PIXELS // 1_000_000} megapixels are the most",
                )
            # EXIF orientations 5 to 8 lie on their side.
            turned = opened.getexif().get(0x0112, 1) in range(5, 9)
            is_jpeg = opened.format == "JPEG"
            frames = _count_frames(opened)
            if frames > MOST_FRAMES:
                raise FileFault(
                    f"'{_short(name)}' has more than {MOST_FRAMES} pictures in it",
                    "make it a shorter animation, or a single picture",
                )
    except Image.DecompressionBombError:
        raise FileFault(
            f"'{_short(name)}' is far too large", "make it smaller: 200 megapixels are the most"
        ) from None
    except (UnidentifiedImageError, OSError, SyntaxError, ValueError) as error:
        if isinstance(error, FileFault):
            raise
        raise FileFault(f"'{_short(name)}' is not a picture that can be read", remedy) from None
    if not width or not height:
        raise FileFault(f"'{_short(name)}' has no pixels", remedy)
    size = (height, width) if turned else (width, height)
    return Picture(path, *size, is_jpeg, stamp=path.stat().st_mtime_ns, frames=frames)


def _count_frames(opened: Image.Image) -> int:
    """How many pictures a file holds; one more than the most where there are more.

    A GIF does not say it: its pictures are stepped over one by one.
    """
    if not getattr(opened, "is_animated", False) or opened.format not in {"GIF", "WEBP", "PNG"}:
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
        problem = f"'{_short(name)}' is not an SVG that can be drawn: {error}"
        raise FileFault(problem, "save it again as plain SVG, without entities") from None
    size = (max(round(vector.width), 1), max(round(vector.height), 1))
    if size[0] * size[1] > MOST_PIXELS:
        raise FileFault(f"'{_short(name)}' is {size[0]} x {size[1]} px large", "make it smaller")
    return Picture(path, *size, is_vector=True, stamp=path.stat().st_mtime_ns)


def font_file(folder: Path, name: str) -> Path:
    """A font of the plan.

    Raises:
        FileFault: Where it is out of reach, or is no font.
    """
    path = locate(folder, name)
    # OpenType 1.9.1, table directory: the versions that a font file can start with.
    with path.open("rb") as opened:
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
