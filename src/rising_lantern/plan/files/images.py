"""Picture files of pixels: which formats are opened at all, and how large they may be."""

from __future__ import annotations

import struct
import warnings
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from typing import IO

from PIL import Image

MOST_PIXELS = 200_000_000
FORMATS = ("PNG", "JPEG", "WEBP", "GIF", "AVIF")
"""The formats of pictures, by Pillow's names: no other decoder sees a file."""


DAMAGES: tuple[type[Exception], ...] = (
    *(OSError, EOFError, ValueError, TypeError, LookupError, ArithmeticError, SyntaxError),
    *(RuntimeError, struct.error, zlib.error),
)
"""What decoders raise for incomplete or damaged files."""


class TooLargeError(ValueError):
    """A picture has more pixels than are decoded."""


@contextmanager
def opened_image(file: IO[bytes], formats: tuple[str, ...] = FORMATS) -> Iterator[Image.Image]:
    """A picture whose first bytes have been read.

    Args:
        file: The open file.
        formats: The formats that it may have.

    Raises:
        TooLargeError: If it has too many pixels.
        OSError: If it has none of the formats; where it is damaged, any of :data:`DAMAGES`.
    """
    # Pillow has a limit of its own, which is lower.
    known, Image.MAX_IMAGE_PIXELS = Image.MAX_IMAGE_PIXELS, MOST_PIXELS
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore", Image.DecompressionBombWarning)
            opened = Image.open(file, formats=formats)
    except Image.DecompressionBombError:
        raise TooLargeError(f"more than {MOST_PIXELS // 1_000_000} megapixels") from None
    finally:
        Image.MAX_IMAGE_PIXELS = known
    with opened:
        width, height = opened.size
        if width * height > MOST_PIXELS:
            raise TooLargeError(f"{width} x {height} pixels")
        yield opened
