"""Tables on the terminal."""

from __future__ import annotations

from collections.abc import Sequence

from rising_lantern.cli.terminal import echo, style


def print_table(rows: Sequence[Sequence[str]], named: int = 0) -> None:
    """Print a table with a heading; cells that a row shares with the one above are left blank.

    Args:
        rows: The heading and the rows.
        named: How many cells a row may share with the one above it.
    """
    widths = [max(len(row[column]) for row in rows) for column in range(len(rows[0]))]
    last: Sequence[str] = ()
    for index, row in enumerate(rows):
        again = index > 0 and row[:named] == last and named > 0
        last = row[:named]
        cells = [cell.ljust(width) for cell, width in zip(row, widths, strict=True)]
        if again:
            cells[:named] = [" " * width for width in widths[:named]]
        line = "  ".join(cells).rstrip()
        echo(style(line, bold=True) if index == 0 else line)
