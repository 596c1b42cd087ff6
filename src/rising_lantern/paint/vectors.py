"""SVG pictures as pixels, drawn at the size at which they are shown."""

from __future__ import annotations

import io
import subprocess
import sys
from importlib.resources import files
from importlib.util import find_spec
from operator import attrgetter
from pathlib import Path

import numpy as np
from PIL import Image

from rising_lantern.css.compositing import Bytes, premultiply
from rising_lantern.errors import RequestError
from rising_lantern.paint.shelf import Shelf
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.files.vectors import MOST_BYTES, vector_of

MOST_PIXELS = 80_000_000
_MOST_SECONDS = 5  # of computing
_MOST_WAIT = 60  # seconds, on a machine that does other things as well
_MOST_BYTES = 1_000_000_000  # of memory
_NO_MEMORY = 3
_kept = Shelf[Bytes](30_000_000, attrgetter("nbytes"))


def drawn(picture: Picture, width: int, height: int) -> Bytes:
    """An SVG picture as premultiplied RGBA pixels.

    Args:
        picture: The picture.
        width: Whole px.
        height: The same.

    Raises:
        PlanError: If the file cannot be drawn.
        RequestError: If it would take more than 80 megapixels.
    """
    if width < 1 or height < 1:
        return np.zeros((max(height, 0), max(width, 0), 4), dtype=np.uint8)
    if width * height > MOST_PIXELS:
        raise RequestError(
            f"'{picture.path.name}' is drawn at {width:,} x {height:,} px, and "
            f"{MOST_PIXELS // 1_000_000} megapixels is the limit: give it a smaller size"
        )
    key = (picture, width, height)
    return _kept.get(key, lambda: _draw_once(picture, width, height))


def _draw_once(picture: Picture, width: int, height: int) -> Bytes:
    try:
        with picture.opened() as file:
            vector = vector_of(file.read(MOST_BYTES + 1))
        data = _draw_in_process(vector.sized(width, height), with_fonts=vector.has_text)
        with Image.open(io.BytesIO(data), formats=("PNG",)) as opened:
            pixels = np.asarray(opened.convert("RGBA").resize((width, height)))
    except (OSError, ValueError) as error:
        problem = f"the SVG cannot be drawn: {error}"
        raise picture.fault(problem, "save it again as plain SVG") from error
    return premultiply(pixels)


def _draw_in_process(text: str, *, with_fonts: bool) -> bytes:
    """An SVG drawn by a process of its own, which may fail, as PNG.

    Raises:
        ValueError: If it cannot be drawn within the limits.
    """
    found = find_spec("resvg_py")
    place = str(Path(found.origin).parents[1]) if found and found.origin else ""
    program = str(files(__package__).joinpath("svg_process.py"))
    limits = [str(_MOST_SECONDS), str(_MOST_BYTES)]
    fonts = "fonts" if with_fonts else ""
    # Without site packages of its own the process starts in a few milliseconds.
    command = [sys.executable, "-I", "-S", program, place, *limits, fonts]
    try:
        ended = subprocess.run(  # noqa: S603 - our own program, and no shell
            command, input=text.encode(), capture_output=True, timeout=_MOST_WAIT, check=False
        )
    except subprocess.TimeoutExpired:
        raise ValueError("it takes too long") from None
    if ended.returncode < 0 or ended.returncode == _NO_MEMORY:
        raise ValueError(
            f"it takes more than {_MOST_SECONDS} s or {_MOST_BYTES // 1_000_000_000} GB to draw"
        )
    if ended.returncode:
        raise ValueError(ended.stderr.decode("utf-8", "replace").strip()[:200] or "it is damaged")
    return ended.stdout
