"""Columns and the gaps between them: CSS Grid Layout 2, and CSS Box Alignment 3, section 8."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from rising_lantern.css.length_parsing import extent_from, is_length
from rising_lantern.css.lengths import Basis, Length
from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import Components, Token
from rising_lantern.errors import quoted

_GAP_REMEDY = "write one or two lengths, such as 24px or 24px 2rem"
_TRACKS_REMEDY = "write widths such as 1fr 2fr or 240px 1fr"
MOST_TRACKS = 24
"""The largest number of columns."""


@dataclass(frozen=True, slots=True)
class Gap:
    """A ``gap`` as specified: between rows, and between columns."""

    row: Length
    column: Length

    def css(self) -> str:
        """The gap as CSS text."""
        row, column = self.row.css(), self.column.css()
        return row if row == column else f"{row} {column}"


@dataclass(frozen=True, slots=True)
class GridTrack:
    """The width of a column.

    Attributes:
        share: Its share of the width that is left, in ``fr``; None where it has a length.
        length: The length; percentages count the width of all columns with their gaps.
    """

    share: float | None
    length: Length | None

    def css(self) -> str:
        """The width as CSS text. A share counts as it is, whatever stands in the column."""
        if self.length is not None:
            return self.length.css()
        return f"minmax(0, {number(self.share or 0.0)}fr)"


def parse_gap(text: str) -> Gap:
    """Parse a ``gap`` of lengths.

    Source: https://www.w3.org/TR/css-align-3/#gap-shorthand

    Raises:
        CssError: If the text is not a valid value, negative or a percentage.
    """
    source = Components(text)
    if not 1 <= len(source.tokens) <= 2:  # noqa: PLR2004 - rows and columns
        raise source.error(None, f"{quoted(text)} is not a gap", _GAP_REMEDY)
    row, *rest = [extent_from(source, token, _GAP_REMEDY) for token in source.tokens]
    # A percentage of a height that follows from the content would be of nothing.
    for token, length in zip(source.tokens, [row, *rest], strict=True):
        if "%" in length.units:
            raise source.error(token, "a gap cannot be a percentage", _GAP_REMEDY)
    return Gap(row, rest[0] if rest else row)


def parse_tracks(text: str) -> tuple[GridTrack, ...]:
    """Parse the columns of a grid: flexible widths and lengths.

    Source: https://www.w3.org/TR/css-grid-2/#track-sizing

    Raises:
        CssError: If the text is not a list of ``fr``, lengths and percentages.

    >>> [track.css() for track in parse_tracks("240px 2fr")]
    ['240px', 'minmax(0, 2fr)']
    """
    source = Components(text)
    if not source.tokens:
        raise source.error(None, "columns need widths", _TRACKS_REMEDY)
    if len(source.tokens) > MOST_TRACKS:
        problem = f"there are {len(source.tokens)} columns"
        raise source.error(source.tokens[MOST_TRACKS], problem, f"write at most {MOST_TRACKS}")
    return tuple(_track(source, token) for token in source.tokens)


def _track(source: Components, token: Token) -> GridTrack:
    if token.type == "dimension" and token.lower_unit == "fr":
        if token.value < 0:
            raise source.error(token, f"{quoted(token.serialize())} is negative", _TRACKS_REMEDY)
        return GridTrack(float(token.value), None)
    if not is_length(token):
        problem = f"{quoted(token.serialize())} is not the width of a column"
        raise source.error(token, problem, _TRACKS_REMEDY)
    return GridTrack(None, extent_from(source, token, _TRACKS_REMEDY))


def used_tracks(tracks: Sequence[GridTrack], basis: Basis, gap: float) -> list[tuple[float, float]]:
    """Where each column starts, and how wide it is, in px.

    Flexible columns share what lengths and gaps leave; all shares together count as one at least.

    Source: https://www.w3.org/TR/css-grid-2/#algo-find-fr-size

    Args:
        tracks: The columns; none for one as wide as the whole.
        basis: What lengths are relative to; its whole is the width of all columns.
        gap: The gap between two columns.
    """
    fixed = [track.length.px(basis) if track.length else 0.0 for track in tracks]
    shares = [track.share or 0.0 for track in tracks]
    left = max(basis.whole - sum(fixed) - gap * max(len(tracks) - 1, 0), 0.0)
    unit = left / max(sum(shares), 1.0)
    widths = [
        max(length, 0.0) + share * unit for length, share in zip(fixed, shares, strict=True)
    ] or [basis.whole]
    starts = [sum(widths[:index]) + gap * index for index in range(len(widths))]
    return list(zip(starts, widths, strict=True))
