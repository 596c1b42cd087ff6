"""Measured contrast as tables."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np

from rising_lantern.legibility.measurement import Measurement
from rising_lantern.scroll.moments import Sweep

if TYPE_CHECKING:
    import pandas as pd

_FIGURES = ["scroll_px", "contrast", "median"]


def header_table(swept: Sweep, measured: dict[str, Measurement]) -> pd.DataFrame:
    """A row for each part of the header and each position."""
    header = swept.header
    looks = np.array(header.box.look_names if header else [], dtype=object)
    current = looks[header.look] if header else looks
    return _table(
        swept, ["part", "look"], [((name, current), item) for name, item in measured.items()]
    )


def content_table(swept: Sweep, measured: dict[tuple[str, int], Measurement]) -> pd.DataFrame:
    """A row for each text and each position."""
    return _table(swept, ["section", "content"], list(measured.items()))


def _table(
    swept: Sweep, names: list[str], measured: list[tuple[tuple[object, ...], Measurement]]
) -> pd.DataFrame:
    import pandas as pd  # noqa: PLC0415 - few calls want a table

    tables = [
        pd.DataFrame(
            dict(zip(names, values, strict=True))
            | {
                "scroll_px": swept.scroll,
                "contrast": item.contrast,
                "median": item.median,
            }
        )
        for values, item in measured
    ]
    if not tables:
        return pd.DataFrame(columns=[*names, *_FIGURES])
    return pd.concat(tables, ignore_index=True)
