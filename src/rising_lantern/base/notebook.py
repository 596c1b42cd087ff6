"""How results look in a notebook: small HTML tables, with every text escaped."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from html import escape

_CELL = "text-align: left; vertical-align: top"


def html_table(title: str, rows: Iterable[Sequence[object]], heads: Sequence[str] = ()) -> str:
    """A table with a caption.

    Args:
        title: The caption.
        rows: The cells of each row.
        heads: The headings of the columns; none for a table without headings.
    """
    head = "".join(f'<th style="{_CELL}">{escape(text)}</th>' for text in heads)
    body = "".join(
        "<tr>" + "".join(f'<td style="{_CELL}">{escape(str(cell))}</td>' for cell in row) + "</tr>"
        for row in rows
    )
    thead = f"<thead><tr>{head}</tr></thead>" if heads else ""
    return (
        f'<table><caption style="{_CELL}"><b>{escape(title)}</b></caption>'
        f"{thead}<tbody>{body}</tbody></table>"
    )
