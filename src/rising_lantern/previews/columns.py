"""Whole numbers along the scroll, packed so that a page of thousands of positions stays small."""

from __future__ import annotations

import base64
import zlib
from collections.abc import Mapping

import numpy as np

_LEVEL = 9


def packed(columns: Mapping[str, np.ndarray]) -> dict[str, object]:
    """Columns of equal length as text, with what is needed to read them.

    Each is rounded to 32-bit whole numbers; of each the differences from one row to the next are
    packed by zlib and written in base64.

    Args:
        columns: Numbers by their names; NaN counts as 0.
    """
    rows = len(next(iter(columns.values()))) if columns else 0
    table = np.zeros((len(columns), rows), dtype="<i4")
    for index, column in enumerate(columns.values()):
        table[index] = np.rint(np.nan_to_num(column))
    steps = np.diff(table, axis=1, prepend=0).astype("<i4")
    return {
        "names": list(columns),
        "rows": rows,
        "data": base64.b64encode(zlib.compress(steps.tobytes(), _LEVEL)).decode(),
    }
