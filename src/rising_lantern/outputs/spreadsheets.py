"""Tables for spreadsheets: CSV in which no text of a plan is taken for a formula."""

from __future__ import annotations

import csv
import re
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import pandas as pd

# What spreadsheets take for the beginning of a formula, also full-width, and white space before it.
_FORMULA = re.compile(r"[\t\r\n ]*[=+\-@＝＋－＠]|[\t\r]")
_QUANTITY = re.compile(r"(-?\d+(?:\.\d+)?(?:e[-+]?\d+)?) ?(px|em|rem|vw|vh|%|ms|s|deg|fr)?")


def sheet_text(table: pd.DataFrame) -> str:
    """A table as CSV for spreadsheets: texts are quoted, and marked as texts where they have to be.

    Source: https://www.rfc-editor.org/rfc/rfc4180

    Args:
        table: The table.
    """
    safe = table.map(_as_text).rename(columns=_as_text)
    return safe.to_csv(index=False, quoting=csv.QUOTE_NONNUMERIC, lineterminator="\n")


def _as_text(value: Any) -> Any:
    """A cell; a text that would be a formula has an apostrophe before it."""
    return f"'{value}" if isinstance(value, str) and _FORMULA.match(value) else value


def quantity(text: str) -> tuple[float | int | str, str]:
    """Split a text such as ``-80px`` into a number and its unit; other texts have no unit.

    >>> quantity("-80px")
    (-80, 'px')
    >>> quantity("over 48px of scroll")
    ('over 48px of scroll', '')
    """
    found = _QUANTITY.fullmatch(text)
    if not found:
        return text, ""
    number = float(found[1])
    return (int(number) if number.is_integer() else number), found[2] or ""
