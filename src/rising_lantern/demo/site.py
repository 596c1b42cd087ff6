"""Writing the sample site: its plan, its pictures, its logos and icons."""

from __future__ import annotations

import shutil
from collections.abc import Iterator
from importlib.resources import files
from importlib.util import find_spec
from os import PathLike
from pathlib import Path

from PIL import Image

from rising_lantern.demo import lights, marks
from rising_lantern.plan.generated.schema import MODELINE, SCHEMA_FILE, schema_text

PLAN = "regatta.yaml"
TRAPS = "traps.yaml"
SCREENS = "screens.yaml"
TOKENS = "tokens.json"
FONT = "fonts/DejaVuSans.ttf"
_SHADES = ("light", "dark")
_VIDEO = "afloat.webm"
SCENES = (
    "dusk-river.jpg",
    "morning-river.jpg",
    "woven-paper.jpg",
    "night-sky.jpg",
    "crowd-of-lights.jpg",
    "jetty-planks.jpg",
    "afloat.jpg",
    _VIDEO,
)
"""The pictures and the video that the package brings."""


def write_site(folder: Path) -> Iterator[Path]:
    """Write the sample site into a folder, file by file.

    Files of the same names are replaced, others left alone. Where the package is not installed
    that reads videos, the plan has a picture in the place of its video.

    Args:
        folder: Where; it is made if it is not there.

    Yields:
        Each file when it has been written, the plan last.
    """
    for inner in ("pictures", "marks"):
        (folder / inner).mkdir(parents=True, exist_ok=True)
    for name, picture in _marks().items():
        yield _save_picture(picture, folder / "marks" / f"{name}.png")
    for name, drawing in _drawings().items():
        path = folder / "marks" / f"{name}.svg"
        path.write_text(drawing, "utf-8")
        yield path
    yield _save_animation(folder / "pictures" / "flame.gif")
    for name in SCENES:
        if name != _VIDEO or can_read_videos():
            path = folder / "pictures" / name
            path.write_bytes(scene(name))
            yield path
    font = folder / FONT
    font.parent.mkdir(exist_ok=True)
    shutil.copyfile(_font(), font)
    yield font
    schema = folder / SCHEMA_FILE
    schema.write_text(schema_text(), "utf-8")
    yield schema
    tokens = folder / TOKENS
    tokens.write_text(files(__package__).joinpath(TOKENS).read_text("utf-8"), "utf-8")
    yield tokens
    for name in (TRAPS, SCREENS, PLAN):
        plan = folder / name
        plan.write_text(MODELINE + plan_text(name), "utf-8")
        yield plan


def scene(name: str) -> bytes:
    """A picture or the video that the package brings, as it stands in its file."""
    return files(__package__).joinpath("pictures", name).read_bytes()


def can_read_videos() -> bool:
    """Whether the package is installed that reads videos."""
    return find_spec("av") is not None


def _font() -> Path:
    """A font with Arabic and Hebrew letters, which comes with Matplotlib."""
    found = find_spec("matplotlib")
    assert found is not None  # noqa: S101 - it draws our charts
    assert found.origin is not None  # noqa: S101 - it is a package with files
    return Path(found.origin).parent / "mpl-data" / FONT.replace("fonts/", "fonts/ttf/")


def plan_text(name: str) -> str:
    """A plan of the site, as far as it can be read here."""
    text = files(__package__).joinpath(name).read_text("utf-8")
    if can_read_videos():
        return text
    return text.replace(f"video: pictures/{_VIDEO}, poster: ", "image: ")


def sample_site(folder: str | PathLike[str] = "saltmere") -> Path:
    """Return the plan of the sample site, which is written unless it is in the folder already.

    Args:
        folder: Where; it is made if it does not exist.
    """
    plan = Path(folder) / PLAN
    if not plan.exists():
        for _ in write_site(Path(folder)):
            pass
    return plan


FILES = (
    *(f"marks/{name}-{shade}.png" for name in ("logo", "search", "ticket") for shade in _SHADES),
    *(f"marks/{name}.svg" for name in ("lantern", "reed")),
    "pictures/flame.gif",
    *(f"pictures/{name}" for name in SCENES),
    FONT,
    SCHEMA_FILE,
    TOKENS,
    TRAPS,
    SCREENS,
    PLAN,
)
"""The files that :func:`write_site` writes."""


def _marks() -> dict[str, Image.Image]:
    inks = {"light": marks.LIGHT, "dark": marks.DARK}
    drawings = {"logo": marks.logo, "search": marks.search, "ticket": marks.ticket}
    return {
        f"{name}-{shade}": draw(ink)
        for name, draw in drawings.items()
        for shade, ink in inks.items()
    }


def _drawings() -> dict[str, str]:
    return {"lantern": lights.LANTERN, "reed": lights.REED}


def _save_animation(path: Path) -> Path:
    first, *others = lights.flame()
    first.save(path, save_all=True, append_images=others, duration=90, loop=0)
    return path


def _save_picture(picture: Image.Image, path: Path) -> Path:
    picture.save(path, optimize=True)
    return path
