"""Patches: pixels that are laid onto a frame, kept in the form that is quickest to lay."""

from __future__ import annotations

import threading
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.compositing import (
    Bytes,
    copy_channels,
    is_opaque,
    is_opaque_alpha,
    lay_over,
)
from rising_lantern.paint.bands import Bands

# Rows that are blended at once. So few of 1280 px stay, in 16 bits, within a core's own cache,
# which makes the sums several times faster than over a whole frame.
_ROWS = 32

# What each alpha leaves of what is below it, of 256.
_RESTS = (((255 - np.arange(256)) * 256 + 127) // 255).astype(np.uint16)


@dataclass(frozen=True, slots=True)
class Patch:
    """Pixels with a place of their own.

    Attributes:
        left: Column of the first pixel.
        top: Row of the first pixel.
        color: Premultiplied colours, shaped (height, width, 3): 8 bits where nothing is left of
            what is below; else 16, each 256 times its level, and half a level for the rounding.
        rest: What is left of the pixels below, 0 to 256, of the same shape; None where nothing is.
            Of both, what is the same along rows is held once.
    """

    left: int
    top: int
    color: NDArray[np.uint8 | np.uint16]
    rest: NDArray[np.uint16] | None

    @property
    def size(self) -> int:
        """How many bytes it takes up."""
        return distinct(self.color).nbytes + (
            0 if self.rest is None else distinct(self.rest).nbytes
        )

    @property
    def height(self) -> int:
        """How many rows it has."""
        return int(self.color.shape[0])

    @property
    def width(self) -> int:
        """How many columns it has."""
        return int(self.color.shape[1])

    @property
    def is_opaque(self) -> bool:
        """Whether nothing of what is below shows through."""
        return self.rest is None

    def colors(self, rows: slice, columns: slice) -> Bytes:
        """Some of its colours, where it is opaque: RGB."""
        return np.asarray(self.color[rows, columns], dtype=np.uint8)

    def pixel_of(self, rows: slice, columns: slice) -> Patch | None:
        """Its pixel in some rows and columns, as a patch; None where they are not all the same."""
        color = self.color[rows, columns]
        rest = None if self.rest is None else self.rest[rows, columns]
        for values in (color, rest):
            if values is not None and not (values.size and _is_same(distinct(values))):
                return None
        return Patch(0, 0, color[:1, :1], None if rest is None else rest[:1, :1])

    def spread(self, height: int, width: int) -> Patch:
        """Return its one pixel, repeated over a number of rows and columns."""
        shape = height, width, 3
        rest = None if self.rest is None else np.broadcast_to(self.rest, shape)
        return Patch(0, 0, np.broadcast_to(self.color, shape), rest)

    def lay(self, frame: Bytes, at: tuple[int, int], low: int, high: int) -> None:
        """Lay it onto some rows of a frame, in place. What reaches beyond the frame is cut off.

        Args:
            frame: Opaque RGB or, more slowly, premultiplied RGBA.
            at: The frame's column and row on which the patch's origin stands.
            low: The first row of the frame that may change.
            high: The row after the last one that may.
        """
        seen = _visible_part(self, frame, at, low, high)
        if seen is None:
            return
        target, rows, columns = seen
        if frame.shape[-1] == 4:  # noqa: PLR2004 - with alpha
            lay_over(target, self._pixels(rows, columns))
            return
        if self.rest is None:
            target[...] = self.color[rows, columns]
            return
        _blend(target, self.color[rows, columns], self.rest[rows, columns])

    def _pixels(self, rows: slice, columns: slice) -> Bytes:
        """Some of its pixels as premultiplied RGBA."""
        color = self.color[rows, columns]
        alpha = np.full((*color.shape[:2], 1), 255, dtype=np.uint8)
        if self.rest is not None:
            rest = self.rest[rows, columns, :1]
            alpha[...] = 255 - (rest * 255 + 128) // 256
            color = np.right_shift(color, 8)
        return np.concatenate([color.astype(np.uint8), alpha], axis=-1)


@dataclass(frozen=True, slots=True)
class StoredPatch:
    """Pixels with a place of their own, of an area that is painted in bands.

    Attributes:
        left: Column of the first pixel.
        top: Row of the first pixel.
        width: How many columns it has.
        height: How many rows it has.
        is_opaque: Whether nothing of what is below shows through.
        bands: The area.
        corner: Its first column and row in the area.
    """

    left: int
    top: int
    width: int
    height: int
    is_opaque: bool
    bands: Bands
    corner: tuple[int, int]

    @property
    def size(self) -> int:
        """How many bytes it holds by itself: the bands have a limit of their own."""
        return 0

    def lay(self, frame: Bytes, at: tuple[int, int], low: int, high: int) -> None:
        """Lay it onto some rows of a frame; see :meth:`Patch.lay`."""
        seen = _visible_part(self, frame, at, low, high)
        if seen is not None:
            target, rows, columns = seen
            lay_over(target, self._pixels(rows, columns))

    def colors(self, rows: slice, columns: slice) -> Bytes:
        """Some of its colours, where it is opaque: RGB."""
        return self._pixels(rows, columns)[..., :3]

    def _pixels(self, rows: slice, columns: slice) -> Bytes:
        column, row = self.corner
        read = self.bands.read(row + rows.start, row + rows.stop)
        return read[:, column + columns.start : column + columns.stop]


def _visible_part(
    patch: Patch | StoredPatch, frame: Bytes, at: tuple[int, int], low: int, high: int
) -> tuple[Bytes, slice, slice] | None:
    """The part of a frame that a patch covers, and the rows and columns of it that do, if any."""
    x, y = at[0] + patch.left, at[1] + patch.top
    first, last = max(y, low), min(y + patch.height, high)
    left, right = max(x, 0), min(x + patch.width, frame.shape[1])
    if first >= last or left >= right:
        return None
    return frame[first:last, left:right], slice(first - y, last - y), slice(left - x, right - x)


def stored_patches(bands: Bands, top: int = 0, left: int = 0) -> tuple[StoredPatch, ...]:
    """An area that is painted in bands as patches that leave out what is clear.

    Args:
        bands: The area.
        top: The row of its first pixel.
        left: Its column.
    """
    result: list[StoredPatch] = []
    for low, high in bands.spans():
        pixels = bands.read(low, high)
        alpha = pixels[..., 3]
        for first, last in _runs(np.asarray(alpha.any(axis=1))):
            part = alpha[first:last]
            columns = np.flatnonzero(part.any(axis=0))
            start, end = int(columns[0]), int(columns[-1]) + 1
            is_opaque = is_opaque_alpha(part[:, start:end])
            place = (left + start, top + low + first, end - start, last - first)
            result.append(StoredPatch(*place, is_opaque, bands, (start, low + first)))
    return tuple(result)


def _blend(below: Bytes, color: NDArray[np.uint8 | np.uint16], rest: NDArray[np.uint16]) -> None:
    """``color + below * rest`` in place, within one level of what the exact quotient rounds to.

    256 times a level below, at most ``255 rest``, and 256 times one of the patch, at most
    ``256 (255 - alpha)``, just fit into 16 bits together.
    """
    room = _scratch(below.shape[1] * below.shape[2], threading.get_ident())
    product = room.reshape(_ROWS, *below.shape[1:])
    for first in range(0, len(below), _ROWS):
        target = below[first : first + _ROWS]
        work = product[: len(target)]
        np.copyto(work, target)
        np.multiply(work, rest[first : first + _ROWS], out=work)
        np.add(work, color[first : first + _ROWS], out=work)
        np.right_shift(work, 8, out=work)
        np.copyto(target, work, casting="unsafe")


@lru_cache(maxsize=64)
def _scratch(width: int, thread: int) -> NDArray[np.uint16]:
    """Room for sums over a few rows of some width, kept for each thread."""
    del thread
    return np.empty(_ROWS * width, dtype=np.uint16)


def patches_of(pixels: Bytes, top: int = 0, left: int = 0) -> tuple[Patch, ...]:
    """Premultiplied RGBA pixels as few patches that leave out what is clear.

    Args:
        pixels: Shaped (height, width, 4).
        top: The row of the first pixel.
        left: Its column.
    """
    alpha = pixels[..., 3]
    rows = np.asarray(alpha.any(axis=1))
    result: list[Patch] = []
    for first, last in _runs(rows):
        columns = np.flatnonzero(alpha[first:last].any(axis=0))
        start, end = int(columns[0]), int(columns[-1]) + 1
        part = pixels[first:last, start:end]
        result.append(Patch(left + start, top + first, *_prepare(part)))
    return tuple(result)


def _prepare(pixels: Bytes) -> tuple[NDArray[np.uint8 | np.uint16], NDArray[np.uint16] | None]:
    """The colours of premultiplied RGBA pixels, and what they leave of what is below them."""
    shape = *pixels.shape[:2], 3
    if is_opaque(pixels):
        opaque = np.empty(shape, dtype=np.uint8)
        copy_channels(opaque, pixels)
        return opaque, None
    if is_even(pixels):
        pixels = pixels[:, :1]
    if is_even(pixels.swapaxes(0, 1)):
        pixels = pixels[:1]
    color = np.empty((*pixels.shape[:2], 3), dtype=np.uint16)
    copy_channels(color, pixels)
    color *= 256
    color += 128
    return _spread(color, shape), _spread(_RESTS.take(pixels[..., 3])[..., None], shape)


def _spread(values: NDArray[np.uint16], shape: tuple[int, int, int]) -> NDArray[np.uint16]:
    """Values for all pixels of a shape, from those of one row or column where all are the same.

    Sums are fast where a row lies in one piece, or is one value from end to end.
    """
    if values.shape[1] == 1 and (values == values[..., :1]).all():
        return np.broadcast_to(values[..., :1], shape)
    if values.shape[1:] != shape[1:]:
        rows = np.empty((len(values), *shape[1:]), dtype=np.uint16)
        for channel in range(shape[2]):
            rows[..., channel] = values[..., channel % values.shape[2]]
        values = rows
    return np.broadcast_to(values, shape)


def is_even(values: NDArray[np.uint8 | np.uint16]) -> bool:
    """Whether all pixels of each row are the same."""
    # Of most pictures the first row says that they are not.
    is_likely = (values[:1] == values[:1, :1]).all()
    # Neighbours are compared many times faster than each with the first.
    return bool(is_likely and (values[:, 1:] == values[:, :-1]).all())


def _is_same(values: NDArray[np.uint8 | np.uint16]) -> bool:
    """Whether all pixels are the same."""
    return is_even(values) and is_even(values[:, :1].swapaxes(0, 1))


def distinct(values: NDArray[np.uint8 | np.uint16]) -> NDArray[np.uint8 | np.uint16]:
    """The colours, or the rest, of some pixels of a patch, without those that are held once."""
    return values[tuple(slice(None if step else 1) for step in values.strides)]


def _runs(flags: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """First and after-last index of each run of true flags."""
    padded = np.concatenate([[0], flags.astype(np.int8), [0]])
    edges = np.flatnonzero(np.diff(padded))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
