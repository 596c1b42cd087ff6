"""Readings as tables."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from rising_lantern.legibility.readings import Reading
from rising_lantern.scroll.moments import Sweep

if TYPE_CHECKING:
    import pandas as pd

_FIGURES = ["scroll_px", "contrast", "median"]


def header_table(swept: Sweep, readings: dict[str, Reading]) -> pd.DataFrame:
    """A row for each part of the header and each position."""
    header = swept.header
    looks = np.array(header.box.looks if header else [], dtype=object)
    worn = looks[header.look] if header else looks
    return _table(
        swept, ["part", "look"], [((name, worn), read) for name, read in readings.items()]
    )


def content_table(swept: Sweep, readings: dict[tuple[str, int], Reading]) -> pd.DataFrame:
    """A row for each text and each position."""
    return _table(swept, ["section", "content"], list(readings.items()))


def _table(
    swept: Sweep, names: list[str], readings: list[tuple[tuple[object, ...], Reading]]
) -> pd.DataFrame:
    import pandas as pd  # noqa: PLC0415 - few calls want a table

    tables = [
        pd.DataFrame(
            dict(zip(names, values, strict=True))
            | {
                "scroll_px": swept.scroll,
                "contrast": reading.contrast,
                "median": reading.median,
            }
        )
        for values, reading in readings
    ]
    if not tables:
        return pd.DataFrame(columns=[*names, *_FIGURES])
    return pd.concat(tables, ignore_index=True)
