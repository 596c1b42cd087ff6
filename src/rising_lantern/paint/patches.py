"""Patches: pixels that are laid onto a frame, kept in the form that is quickest to lay."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from rising_lantern.css.compositing import Bytes

# Rows that are blended at once. 8 rows of 1280 px in 16 bits stay within a core's own cache,
# which makes the sums several times faster than over a whole frame.
_ROWS = 8


@dataclass(frozen=True, slots=True)
class Patch:
    """Pixels with a place of their own.

    Attributes:
        left: Column of the first pixel.
        top: Row of the first pixel.
        color: Premultiplied colours, shaped (height, width, 3).
        rest: What is left of the pixels below, 0 to 255, shaped as the colours; None where
            nothing is.
    """

    left: int
    top: int
    color: Bytes
    rest: Bytes | None

    @property
    def height(self) -> int:
        """How many rows it has."""
        return int(self.color.shape[0])

    def lay(self, frame: Bytes, at: int, low: int, high: int) -> None:
        """Lay its rows onto some rows of a frame, in place.

        Args:
            frame: Opaque RGB, shaped (height, width, 3).
            at: The frame's row on which the patch's origin stands.
            low: The first row of the frame that may change.
            high: The row after the last one that may.
        """
        first = max(at + self.top, low)
        last = min(at + self.top + self.height, high)
        if first >= last:
            return
        source = slice(first - at - self.top, last - at - self.top)
        target = frame[first:last, self.left : self.left + self.color.shape[1]]
        if self.rest is None:
            target[...] = self.color[source]
        else:
            _blend(target, self.color[source], self.rest[source])


def _blend(below: Bytes, color: Bytes, rest: Bytes) -> None:
    """``color + below * rest / 255`` in place, the product rounded to the nearest level."""
    for row in range(0, len(below), _ROWS):
        rows = slice(row, row + _ROWS)
        product = below[rows] * rest[rows].astype(np.uint16)
        product += 128
        product += product >> 8
        product >>= 8
        np.add(product, color[rows], out=below[rows], casting="unsafe")


def patches_of(pixels: Bytes, top: int = 0) -> tuple[Patch, ...]:
    """Premultiplied RGBA pixels as few patches that leave out what is clear.

    Args:
        pixels: Shaped (height, width, 4).
        top: The row of the first pixel.
    """
    alpha = pixels[..., 3]
    rows = alpha.any(axis=1)
    made: list[Patch] = []
    for first, last in _runs(rows):
        columns = np.flatnonzero(alpha[first:last].any(axis=0))
        left, right = int(columns[0]), int(columns[-1]) + 1
        part = pixels[first:last, left:right]
        color = np.ascontiguousarray(part[..., :3])
        opaque = bool((part[..., 3] == 255).all())  # noqa: PLR2004
        rest = None if opaque else np.repeat(255 - part[..., 3:], 3, axis=2)
        made.append(Patch(left, top + first, color, rest))
    return tuple(made)


def _runs(flags: np.ndarray[tuple[int], np.dtype[np.bool_]]) -> list[tuple[int, int]]:
    """First and after-last index of each run of true flags."""
    padded = np.concatenate([[0], flags.astype(np.int8), [0]])
    edges = np.flatnonzero(np.diff(padded))
    return [(int(a), int(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
