"""SVG pictures as pixels, drawn at the size at which they are shown."""

from __future__ import annotations

import io
from functools import lru_cache

import numpy as np

from rising_lantern.css.compositing import Bytes, premultiply
from rising_lantern.errors import Fault, Place, PlanError, RequestError
from rising_lantern.plan.files import Picture
from rising_lantern.plan.vectors import read_vector

MOST_PIXELS = 80_000_000


@lru_cache(maxsize=32)
def drawn(picture: Picture, width: int, height: int) -> Bytes:
    """An SVG picture as premultiplied RGBA pixels.

    Args:
        picture: The picture.
        width: Whole px.
        height: The same.

    Raises:
        PlanError: Where the file cannot be drawn.
        RequestError: Where it would take more than 80 megapixels.
    """
    import resvg_py  # noqa: PLC0415 - few plans have SVG
    from PIL import Image  # noqa: PLC0415 - the same

    if width < 1 or height < 1:
        return np.zeros((max(height, 0), max(width, 0), 4), dtype=np.uint8)
    if width * height > MOST_PIXELS:
        raise RequestError(f"'{picture.path.name}' is drawn at {width:,} x {height:,} px")
    try:
        vector = read_vector(picture.path)
        data = resvg_py.svg_to_bytes(
            svg_string=vector.sized(width, height), skip_system_fonts=not vector.has_text
        )
    except (OSError, ValueError) as error:
        fault = Fault(Place(str(picture.path)), "the SVG cannot be drawn", "save it again, plainer")
        raise PlanError([fault]) from error
    with Image.open(io.BytesIO(bytes(data))) as opened:
        pixels = np.asarray(opened.convert("RGBA").resize((width, height)))
    return premultiply(pixels)
