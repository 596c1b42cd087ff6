"""Contrast along the scroll: WCAG 2.2 relative luminance and contrast ratio."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.headers import PartBox, PartStyle
from rising_lantern.layout.screen import whole_px
from rising_lantern.paint.pictures import premultiplied
from rising_lantern.plan.files import Picture
from rising_lantern.scroll.moments import Sweep

Floats = NDArray[np.float64]

# The share of the pixels behind a part that may contrast less than the figure quoted for it.
_LEAST_SHARE = 0.05
_WEIGHTS = (0.2126, 0.7152, 0.0722)

TEXT, LARGE = 4.5, 3.0
_LARGE_PX, _LARGE_BOLD_PX, _BOLD = 24.0, 18.66, 700


def _linear(level: Floats) -> Floats:
    """WCAG 2.2, relative luminance: an sRGB channel of 0 to 1 as light."""
    return np.where(level <= 0.04045, level / 12.92, ((level + 0.055) / 1.055) ** 2.4)  # noqa: PLR2004


_LIGHT = _linear(np.arange(256) / 255)


def luminance(pixels: Bytes) -> Floats:
    """Relative luminance, 0 to 1, of RGB pixels shaped (..., 3 or more)."""
    return np.asarray(
        sum(_LIGHT[pixels[..., channel]] * weight for channel, weight in enumerate(_WEIGHTS))
    )


def ratio(first: Floats | float, second: Floats | float) -> Floats:
    """Contrast ratio, 1 to 21, of two luminances (WCAG 2.2, contrast ratio)."""
    lighter, darker = np.maximum(first, second), np.minimum(first, second)
    return np.asarray((lighter + 0.05) / (darker + 0.05))


def reached(behind: Bytes, color: Color) -> float:
    """The contrast that 95 % of the pixels behind a text reach.

    Args:
        behind: RGB pixels, shaped (height, width, 3), with at least one pixel.
        color: The text's colour; with alpha it is laid over each pixel first.
    """
    ink = np.array(color.rgba[:3]) * 255
    text = (behind * (1 - color.alpha) + ink * color.alpha + 0.5).astype(np.uint8)
    ratios = ratio(luminance(text), luminance(behind)).reshape(-1)
    place = int(_LEAST_SHARE * ratios.size)
    return float(np.partition(ratios, place)[place])


def part_contrasts(
    swept: Sweep, behind: Callable[[Sweep, int], Bytes], pictures: dict[str, Picture]
) -> dict[str, Floats]:
    """The contrast of each part of the header at each position of a sweep.

    Args:
        swept: The positions.
        behind: Gives the rows of the screen from the header's upper edge to its lower one,
            without its parts.
        pictures: The plan's pictures.

    Returns:
        Ratios by the parts' names, not a number where a part is not on the screen.
    """
    header = swept.header
    if header is None:
        return {}
    result = {name: np.full(len(swept), np.nan) for name in header.box.entry.parts}
    placed = [header.box.place_parts(style) for style in header.styles]
    names = {
        name for style in header.styles for part in style.parts.values() for name in part.images
    }
    inks = {name: ink(pictures[name]) for name in names}
    for place in range(len(swept)):
        rows = behind(swept, place)
        # A header that is partly above the screen has lost its first rows.
        lost = min(float(header.top[place]), 0.0)
        for name, part in placed[header.style[place]].items():
            pixels = _behind(rows, part, lost)
            if pixels.size:
                result[name][place] = reached(pixels, _color(part, inks))
    return result


def least_contrast(contrasts: dict[str, Floats], count: int) -> Floats:
    """The least contrast of any part at each of so many positions."""
    if not contrasts:
        return np.full(count, np.nan)
    return np.asarray(np.fmin.reduce(list(contrasts.values())))


def limit_of(style: PartStyle, weight: int) -> float:
    """The contrast that a part needs: WCAG 2.2, 1.4.3 for texts and 1.4.11 for pictures.

    Texts of 24 px, or of 18.66 px in bold, are large.

    Args:
        style: What the part wears.
        weight: The weight of its text.
    """
    large = style.size >= (_LARGE_BOLD_PX if weight >= _BOLD else _LARGE_PX)
    return LARGE if style.images or large else TEXT


def _behind(rows: Bytes, part: PartBox, lost: float) -> Bytes:
    top, bottom = (max(whole_px(edge + lost), 0) for edge in (part.box.top, part.box.bottom))
    left, right = (max(whole_px(edge), 0) for edge in (part.box.left, part.box.right))
    return rows[top:bottom, left:right]


def _color(part: PartBox, inks: dict[str, Color]) -> Color:
    """A text's colour, or what its topmost picture looks like from afar."""
    return inks[part.style.images[-1]] if part.style.images else part.style.color


def ink(picture: Picture) -> Color:
    """The mean colour of what is painted in a picture, weighed by its alpha."""
    red, green, blue, alpha = premultiplied(picture).sum(axis=(0, 1), dtype=np.float64)
    if alpha == 0:
        return TRANSPARENT
    shares = [min(float(channel / alpha), 1.0) for channel in (red, green, blue)]
    return Color(shares[0], shares[1], shares[2])
