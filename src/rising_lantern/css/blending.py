"""Blend modes: Compositing and Blending 1, section 10, on 8-bit pixels."""

from __future__ import annotations

from collections.abc import Callable
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.blendmodes import SEPARABLE, BlendMode
from rising_lantern.css.compositing import Bytes, is_opaque_alpha, lay_over

Floats = NDArray[np.floating[Any]]

_PIXELS = 8192  # mixed at a time: what is computed on the way stays in the processor's cache
_FEWEST_LOOKED_UP = 4000  # pixels from which a table of all pairs of levels is worth its making


def blend_over(below: Bytes, above: Bytes, mode: BlendMode) -> None:
    """Blend premultiplied RGBA pixels with those below them, in place.

    Source: https://www.w3.org/TR/compositing-1/#blending

    Args:
        below: Opaque RGB or premultiplied RGBA, shaped (height, width, 3 or 4); changed.
        above: Premultiplied RGBA, shaped (height, width, 4).
        mode: How they mix.
    """
    if mode == "normal":
        lay_over(below, above)
        return
    rows = max(_PIXELS // max(below.shape[1], 1), 1)
    table = _table_for(below, above, mode)
    for first in range(0, len(below), rows):
        target, laid = below[first : first + rows], above[first : first + rows]
        if table is None:
            _blend(target, laid, _MODES[mode])
        else:
            for channel in range(3):
                pairs = laid[..., channel].astype(np.uint16)
                pairs <<= 8
                pairs |= target[..., channel]
                target[..., channel] = table.take(pairs)


def _table_for(below: Bytes, above: Bytes, mode: BlendMode) -> Bytes | None:
    """What becomes of each pair of levels, where a mode treats all pixels and colours alike."""
    alpha = above[..., 3]
    if below.shape[-1] != 3 or mode not in SEPARABLE or not alpha.size:  # noqa: PLR2004 - opaque
        return None
    level = int(alpha.flat[0])
    known = alpha.size >= _FEWEST_LOOKED_UP and (alpha == level).all()
    return _table(mode, level) if known else None


@lru_cache(maxsize=64)
def _table(mode: BlendMode, alpha: int) -> Bytes:
    """The level that each premultiplied level, of some alpha, makes of each level below it.

    Returns:
        By 256 times the upper level and the lower one.
    """
    pairs = np.arange(3 * -(-65536 // 3), dtype=np.uint32).reshape(1, -1, 3)
    below = (pairs & 255).astype(np.uint8)
    above = np.full((*below.shape[:2], 4), alpha, dtype=np.uint8)
    above[..., :3] = (pairs >> 8).astype(np.uint8)
    _blend(below, above, _MODES[mode])
    return below.ravel()


def _blend(below: Bytes, above: Bytes, mix: Callable[[Floats, Floats], Floats]) -> None:
    # Section 10.1: cs (1 - ab) + cb (1 - as) + as ab B(cb, cs), colours premultiplied but in B.
    source, share = _straight(above)
    if below.shape[-1] == 3:  # noqa: PLR2004 - opaque
        backdrop = _levels(below)
        mixed = mix(backdrop, source) - backdrop
        mixed *= share
        mixed += backdrop
        below[...] = _bytes(mixed)
        return
    backdrop, room = _straight(below)
    mixed = (
        source * share * (1 - room)
        + backdrop * room * (1 - share)
        + share * room * mix(backdrop, source)
    )
    below[..., :3] = _bytes(mixed)
    below[..., 3:] = _bytes(share + room - share * room)


def _levels(pixels: Bytes) -> Floats:
    return np.divide(pixels, 255, dtype=np.float32)


def _bytes(levels: Floats) -> Bytes:
    """Levels of 0 to 1 as bytes; the array is used up."""
    levels *= 255
    levels += np.float32(0.5)
    return np.clip(levels, 0, 255, out=levels).astype(np.uint8)


def _straight(pixels: Bytes) -> tuple[Floats, Floats]:
    """Premultiplied pixels as colours that are not, and their alpha, all 0 to 1."""
    alpha = pixels[..., 3:]
    if is_opaque_alpha(alpha):
        return _levels(pixels[..., :3]), np.ones((1, 1, 1), dtype=np.float32)
    color = np.divide(pixels[..., :3], np.maximum(alpha, 1), dtype=np.float32)
    return np.minimum(color, 1, out=color), _levels(alpha)


# --- 10.1: separable modes, each colour by itself ----------------------------------------------


def _multiply(b: Floats, s: Floats) -> Floats:
    return b * s


def _screen(b: Floats, s: Floats) -> Floats:
    return b + s - b * s


def _hard_light(b: Floats, s: Floats) -> Floats:
    return np.where(s <= 0.5, _multiply(b, 2 * s), _screen(b, 2 * s - 1))  # noqa: PLR2004


def _overlay(b: Floats, s: Floats) -> Floats:
    return _hard_light(s, b)


def _color_dodge(b: Floats, s: Floats) -> Floats:
    room = 1 - s
    quotient = np.divide(b, room, out=np.ones_like(b + s), where=room > 0)
    return np.where(b == 0, 0, np.minimum(quotient, 1)).astype(np.float32)


def _color_burn(b: Floats, s: Floats) -> Floats:
    quotient = np.divide(1 - b, s, out=np.ones_like(b + s), where=s > 0)
    return np.where(b == 1, 1, 1 - np.minimum(quotient, 1)).astype(np.float32)


def _soft_light(b: Floats, s: Floats) -> Floats:
    curve = np.where(b <= 0.25, ((16 * b - 12) * b + 4) * b, np.sqrt(b))  # noqa: PLR2004
    lighter = b + (2 * s - 1) * (curve - b)
    return np.where(s <= 0.5, b - (1 - 2 * s) * b * (1 - b), lighter)  # noqa: PLR2004


def _difference(b: Floats, s: Floats) -> Floats:
    return np.abs(b - s)


def _exclusion(b: Floats, s: Floats) -> Floats:
    return b + s - 2 * b * s


# --- 10.2: non-separable modes, a colour as a whole --------------------------------------------

_LUM = np.array([0.3, 0.59, 0.11], dtype=np.float32)


def _lum(color: Floats) -> Floats:
    return np.asarray((color * _LUM).sum(axis=-1, keepdims=True))


def _sat(color: Floats) -> Floats:
    return np.asarray(color.max(axis=-1, keepdims=True) - color.min(axis=-1, keepdims=True))


def _clip_color(color: Floats) -> Floats:
    lum = _lum(color)
    least, most = color.min(axis=-1, keepdims=True), color.max(axis=-1, keepdims=True)
    # A grey that rounding has taken out of range has no span to be scaled by.
    below, above = (np.where(span > 0, span, 1) for span in (lum - least, most - lum))
    color = np.where(least < 0, lum + (color - lum) * lum / below, color)
    return np.where(most > 1, lum + (color - lum) * (1 - lum) / above, color)


def _set_lum(color: Floats, lum: Floats) -> Floats:
    return _clip_color(color + (lum - _lum(color)))


def _set_sat(color: Floats, sat: Floats) -> Floats:
    least, span = color.min(axis=-1, keepdims=True), _sat(color)
    return np.asarray(
        np.divide((color - least) * sat, span, out=np.zeros_like(color), where=span > 0)
    )


def _hue(b: Floats, s: Floats) -> Floats:
    return _set_lum(_set_sat(s, _sat(b)), _lum(b))


def _saturation(b: Floats, s: Floats) -> Floats:
    return _set_lum(_set_sat(b, _sat(s)), _lum(b))


def _color(b: Floats, s: Floats) -> Floats:
    return _set_lum(s, _lum(b))


def _luminosity(b: Floats, s: Floats) -> Floats:
    return _set_lum(b, _lum(s))


_MODES: dict[str, Callable[[Floats, Floats], Floats]] = {
    "multiply": _multiply,
    "screen": _screen,
    "overlay": _overlay,
    "darken": np.minimum,
    "lighten": np.maximum,
    "color-dodge": _color_dodge,
    "color-burn": _color_burn,
    "hard-light": _hard_light,
    "soft-light": _soft_light,
    "difference": _difference,
    "exclusion": _exclusion,
    "hue": _hue,
    "saturation": _saturation,
    "color": _color,
    "luminosity": _luminosity,
}
