"""Where a picture of a browser differs from a frame: by squares, since a mean hides a lost word."""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import product

import numpy as np
from numpy.typing import NDArray

from rising_lantern.css.compositing import Bytes

SQUARE = 8
"""Px: the side of the squares whose mean colours are compared."""

_NEIGHBORS = (-1, 0, 1)  # px by which an edge may stand elsewhere

MOST_SPOT = 40.0
"""Of 255: how far two neighbouring squares may be apart."""

Floats = NDArray[np.float32]


@dataclass(frozen=True, slots=True)
class Spots:
    """How far squares of two pictures are apart, after what moves by a px has been allowed for.

    Attributes:
        apart: The difference of each square in its worst channel, of 255; 0 where none is
            compared.
        mean: That of all squares that are compared, as they are.
    """

    apart: Floats
    mean: float

    @property
    def worst(self) -> float:
        """The difference of two neighbouring squares: the greatest that both of them reach."""
        across = np.minimum(self.apart[:, 1:], self.apart[:, :-1])
        down = np.minimum(self.apart[1:], self.apart[:-1])
        return float(max(across.max(initial=0.0), down.max(initial=0.0)))

    @property
    def differ(self) -> bool:
        """Whether two neighbouring squares are seen to differ."""
        return self.worst > MOST_SPOT

    @property
    def place(self) -> tuple[int, int]:
        """The left and upper edge of the square that differs most, in px."""
        row, column = np.unravel_index(int(self.apart.argmax()), self.apart.shape)
        return int(column) * SQUARE, int(row) * SQUARE


def spots_of(shot: Bytes, frame: Bytes, ignored: NDArray[np.bool_] | None = None) -> Spots:
    """Compare a picture with a frame, square by square.

    A square of the picture agrees where it lies between what the frame has there and a px beside
    it: browsers round what moves by fractions of a px in their own ways, and the edges of letters.

    Args:
        shot: RGB pixels.
        frame: As large.
        ignored: Squares that are not compared; by default none.
    """
    found, wanted = _pool(shot), _pool(frame)
    low, high = wanted.copy(), wanted.copy()
    padded = np.pad(frame, [(1, 1), (1, 1), (0, 0)], mode="edge")
    height, width = frame.shape[:2]
    for down, across in product(_NEIGHBORS, _NEIGHBORS):
        moved = _pool(padded[1 + down : 1 + down + height, 1 + across : 1 + across + width])
        np.minimum(low, moved, out=low)
        np.maximum(high, moved, out=high)
    apart = np.maximum(np.maximum(found - high, low - found), 0.0).max(axis=-1)
    plain = np.abs(found - wanted).mean(axis=-1)
    if ignored is not None:
        apart, plain = np.where(ignored, 0.0, apart), plain[~ignored]
    return Spots(apart, float(plain.mean()) if plain.size else 0.0)


def squares_within(
    boxes: list[tuple[float, float, float, float]], shape: tuple[int, ...], room: float = 0.0
) -> NDArray[np.bool_]:
    """The squares that some boxes touch.

    Args:
        boxes: The left and upper edge, the width and the height of each, in px.
        shape: How many squares there are down and across.
        room: How far around each box they are taken as well, in px.
    """
    result = np.zeros(shape, dtype=np.bool_)
    for left, top, width, height in boxes:
        rows = slice(_square(top - room), _square(top + height + room) + 1)
        result[rows, _square(left - room) : _square(left + width + room) + 1] = True
    return result


def squares_inside(
    boxes: list[tuple[float, float, float, float]], shape: tuple[int, ...]
) -> NDArray[np.bool_]:
    """The squares that lie wholly in one of some boxes; see :func:`squares_within`."""
    result = np.zeros(shape, dtype=np.bool_)
    for left, top, width, height in boxes:
        first, last = (math.ceil(max(place, 0.0) / SQUARE) for place in (top, left))
        rows = slice(first, _square(top + height))
        result[rows, last : _square(left + width)] = True
    return result


def squares_in(shape: tuple[int, ...]) -> tuple[int, int]:
    """How many squares a picture has down and across."""
    return shape[0] // SQUARE, shape[1] // SQUARE


def _square(place: float) -> int:
    return max(int(place // SQUARE), 0)


def _pool(pixels: Bytes) -> Floats:
    """The mean colours of squares."""
    rows, columns = squares_in(pixels.shape)
    whole = pixels[: rows * SQUARE, : columns * SQUARE].astype(np.float32)
    return np.asarray(whole.reshape(rows, SQUARE, columns, SQUARE, 3).mean(axis=(1, 3)))
