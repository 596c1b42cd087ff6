"""Settings as tables: as they are shown, and for spreadsheets."""

from __future__ import annotations

from collections.abc import Sequence
from typing import TYPE_CHECKING

from rising_lantern.exports.settings import Setting
from rising_lantern.outputs.spreadsheets import quantity

if TYPE_CHECKING:
    import pandas as pd


def settings_frame(settings: Sequence[Setting]) -> pd.DataFrame:
    """Settings as a table."""
    import pandas as pd  # noqa: PLC0415 - few calls need a table

    viewports = list(settings[0].values) if settings else []
    rows = [
        (item.page, item.thing, item.state, item.name, *dict(item.values).values())
        for item in settings
    ]
    return pd.DataFrame(rows, columns=["page", "thing", "state", "setting", *viewports])


def measured(table: pd.DataFrame) -> pd.DataFrame:
    """A table of settings in which numbers and their units stand in columns of their own."""
    import pandas as pd  # noqa: PLC0415 - few calls need a table

    first = list(table.columns[:4])
    values: dict[str, list[object]] = {name: list(table[name]) for name in first}
    for viewport in table.columns[4:]:
        pairs = [quantity(text) for text in table[viewport]]
        values[viewport] = [number for number, _ in pairs]
        values[f"{viewport} unit"] = [unit for _, unit in pairs]
    return pd.DataFrame(values, dtype=object)
