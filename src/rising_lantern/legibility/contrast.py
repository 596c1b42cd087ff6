"""Contrast along the scroll: WCAG 2.2 relative luminance and contrast ratio."""

from __future__ import annotations

from collections.abc import Mapping
from functools import lru_cache

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.css.contrast import WEIGHTS, luminance_of, ratio
from rising_lantern.css.oklab import light_of
from rising_lantern.layout.header_styles import PartStyle
from rising_lantern.layout.headers import HeaderPart, PartBox
from rising_lantern.paint.pictures import premultiplied
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.limits import Check

_SOLID, _ONE_COLOR = 200, 24  # of 255: an alpha that counts, and how far its colours may differ

# The share of the pixels behind a part that may contrast less than the figure quoted for it.
WORST, MEDIAN = 0.05, 0.5
# WCAG 2.2, 1.4.3 and 1.4.6: what texts and large texts need at each level. 1.4.11: pictures.
_NEEDED = {"AA": (4.5, 3.0), "AAA": (7.0, 4.5)}
_PICTURE = 3.0
_LARGE_PX, _LARGE_BOLD_PX, _BOLD = 24.0, 18.66, 700


_LIGHT = light_of(np.arange(256) / 255)
_SHARES = tuple(_LIGHT * weight for weight in WEIGHTS)


def luminance(pixels: Bytes) -> Floats:
    """Relative luminance, 0 to 1, of RGB pixels shaped (..., 3 or more).

    Source: https://www.w3.org/TR/WCAG22/#dfn-relative-luminance
    """
    red, green, blue = _SHARES
    light = red.take(pixels[..., 0])
    light += green.take(pixels[..., 1])
    light += blue.take(pixels[..., 2])
    return np.asarray(light)


def shares(pixels: Bytes) -> Floats:
    """What each channel of RGB pixels, shaped (..., 3), adds to their luminance."""
    return np.asarray(_LIGHT[pixels] * np.array(WEIGHTS))


def contrast_on(ground: Color, ink: Color) -> float:
    """The contrast of a colour with an opaque ground of one colour, as it is painted."""
    return float(ratios(np.array([[ground.bytes[:3]]], dtype=np.uint8), ink)[0, 0])


def ratios(behind: Bytes, color: Color) -> Floats:
    """The contrast of a text with each of the pixels behind it.

    Args:
        behind: RGB pixels, shaped (height, width, 3).
        color: The text's colour; with alpha it is laid over each pixel first.
    """
    light = luminance(behind)
    if color.alpha == 1:
        return ratio(luminance_of(color), light)
    ink = np.array(color.rgba[:3]) * 255
    text = (behind * (1 - color.alpha) + ink * color.alpha + 0.5).astype(np.uint8)
    return ratio(luminance(text), light)


def part_limit(part: HeaderPart, style: PartStyle, by: Check) -> float:
    """The contrast that a part needs: WCAG 2.2, 1.4.3 or 1.4.6 for texts, 1.4.11 for pictures.

    A part may ask for another figure, and so may the plan. Logos need none in WCAG; the figure
    for them is ours.

    Source: https://www.w3.org/TR/WCAG22/#non-text-contrast

    Args:
        part: The part.
        style: Its values in some state of the header.
        by: The limits that the plan is checked by.
    """
    if part.least_contrast is not None:
        return part.least_contrast
    if part.is_logo:
        return by.limits.logo or _PICTURE
    if style.images:
        return by.limits.picture or _PICTURE
    return text_limit(style.size, part.weight, by)


def text_limit(size: float, weight: int, by: Check) -> float:
    """The contrast that a text needs; those of 24 px, or of 18.66 px in bold, are large.

    Source: https://www.w3.org/TR/WCAG22/#contrast-minimum

    Args:
        size: Font size in px.
        weight: As CSS font-weight.
        by: What the plan is checked by.
    """
    text, large = _NEEDED[by.conformance]
    if size >= (_LARGE_BOLD_PX if weight >= _BOLD else _LARGE_PX):
        return by.limits.large_text or large
    return by.limits.text or text


def ink_of(part: PartBox, pictures: Mapping[str, Picture]) -> Color:
    """A text's colour, that of a tinted picture, or the mean colour of the topmost picture."""
    style = part.style
    is_inked = style.tinted or not style.images
    return style.color if is_inked else ink(pictures[style.images[-1]])


@lru_cache(maxsize=64)
def is_shape(picture: Picture) -> bool:
    """Whether a picture is one colour on nothing, as icons are, so that it can be tinted."""
    pixels = premultiplied(picture)
    alpha = pixels[..., 3].astype(np.float64)
    solid = alpha >= _SOLID
    if not solid.any() or not (alpha < 255 - _SOLID).any():
        return False
    colors = pixels[solid][:, :3] * (255 / alpha[solid])[:, None]
    return bool((np.ptp(colors, axis=0) <= _ONE_COLOR).all())


@lru_cache(maxsize=64)
def ink(picture: Picture) -> Color:
    """The mean colour of what is painted in a picture, weighed by its alpha."""
    red, green, blue, alpha = premultiplied(picture).sum(axis=(0, 1), dtype=np.float64)
    if alpha == 0:
        return TRANSPARENT
    shares = [min(float(channel / alpha), 1.0) for channel in (red, green, blue)]
    return Color(shares[0], shares[1], shares[2])
