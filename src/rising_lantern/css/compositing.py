"""Simple alpha compositing in 8 bits: Compositing and Blending 1, section 5.

Colours here are premultiplied, as browsers keep them, and every product is rounded to the
nearest 8-bit level.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Bytes = NDArray[np.uint8]

_BLOCK = 16384  # pixels that are laid at a time: what is computed stays in the processor's cache


def premultiply(pixels: Bytes) -> Bytes:
    """RGBA pixels, shaped (..., 4), with their colours multiplied by their alpha."""
    if is_opaque(pixels):
        return pixels
    result = pixels.copy()
    result[..., :3] = scale(pixels[..., :3], pixels[..., 3:])
    return result


def scale(values: Bytes, by: Bytes) -> Bytes:
    """``values * by / 255``, rounded to the nearest level. The shapes broadcast."""
    product = values.astype(np.uint16) * by
    product += 128
    product += product >> 8
    product >>= 8
    return product.astype(np.uint8)


def lay_over(below: Bytes, above: Bytes) -> None:
    """Lay premultiplied RGBA pixels over opaque RGB or premultiplied RGBA ones, in place.

    Source: https://www.w3.org/TR/compositing-1/#simplealphacompositing

    Args:
        below: Shaped (height, width, 3 or 4); changed.
        above: Shaped (height, width, 4), or one row or pixel that is laid over all of them.
    """
    height, width, channels = below.shape
    # Whole rows of a colour are copied many times faster than pixels.
    above = np.repeat(above, width, axis=1) if above.shape[1] == 1 else above
    if is_opaque(above):
        copy_channels(below, above)
        return
    above = np.broadcast_to(above, (height, width, 4))
    rows = max(_BLOCK // max(width, 1), 1)
    for first in range(0, height, rows):
        target, laid = below[first : first + rows], above[first : first + rows]
        rest = 255 - laid[..., 3]
        for channel in range(channels):
            target[..., channel] = scale(target[..., channel], rest) + laid[..., channel]


def copy_channels(target: NDArray[np.uint8 | np.uint16], pixels: Bytes) -> None:
    """Copy as many channels as a target has: one by one, which is faster than pixel by pixel."""
    for channel in range(target.shape[-1]):
        target[..., channel] = pixels[..., channel]


def is_opaque(pixels: Bytes) -> bool:
    """Whether nothing shows through any of some RGBA pixels."""
    return is_opaque_alpha(pixels[..., 3])


def is_opaque_alpha(alpha: Bytes) -> bool:
    """Whether nothing shows through any of some pixels, by their alpha."""
    return bool((alpha == 255).all())  # noqa: PLR2004 - the highest level
