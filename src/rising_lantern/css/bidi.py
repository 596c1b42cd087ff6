"""The order in which text of both directions is shown: the Unicode Bidirectional Algorithm.

Without its explicit formatting characters: what those do, pages say with ``dir``.

Source: https://www.unicode.org/reports/tr9/
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterator
from itertools import groupby, takewhile
from typing import Literal

Direction = Literal["ltr", "rtl"]

_STRONG = {"L": "L", "R": "R", "AL": "R", "EN": "R", "AN": "R"}
_NEUTRAL = frozenset({"B", "S", "WS", "ON"})
_IGNORED = frozenset({"LRE", "RLE", "LRO", "RLO", "PDF", "LRI", "RLI", "FSI", "PDI", "BN"})
# What a bracket is paired with: Unicode's property Bidi_Paired_Bracket of common ones.
_PAIRS = {"(": ")", "[": "]", "{": "}", "\u2045": "\u2046", "\u207d": "\u207e", "\u2329": "\u232a"}
_PAIRS |= {"\u3008": "\u3009", "\u300a": "\u300b", "\u300c": "\u300d", "\u27e8": "\u27e9"}
_CLOSING = {closing: opening for opening, closing in _PAIRS.items()}
_MOST_OPEN = 63  # brackets, BD16


def visual_runs(text: str, base: Direction) -> list[tuple[int, int, Direction]]:
    """A line of text in runs of one direction, from left to right: rules L1 and L2.

    Args:
        text: The line.
        base: The direction of its paragraph.

    Returns:
        Where each run starts and ends in the text, and its direction.
    """
    if base == "ltr" and not any(_is_right(sign) for sign in text):
        return [(0, len(text), "ltr")] if text else []
    levels = levels_of(text, base)
    runs = [
        (level, [place for place, _ in places])
        for level, places in groupby(enumerate(levels), key=lambda item: item[1])
    ]
    lowest_odd = min((level for level, _ in runs if level % 2), default=0)
    for turned in range(max((level for level, _ in runs), default=0), lowest_odd - 1, -1):
        if not turned:
            break
        runs = list(_reverse_from(runs, turned))
    return [(places[0], places[-1] + 1, "rtl" if level % 2 else "ltr") for level, places in runs]


def _reverse_from(
    runs: list[tuple[int, list[int]]], lowest: int
) -> Iterator[tuple[int, list[int]]]:
    """Runs, with each sequence of those from some level on in the opposite order."""
    for is_turned, together in groupby(runs, key=lambda run: run[0] >= lowest):
        own = list(together)
        yield from reversed(own) if is_turned else own


def _is_right(sign: str) -> bool:
    return unicodedata.bidirectional(sign) in {"R", "AL", "AN"}


def levels_of(text: str, base: Direction) -> list[int]:
    """The embedding level of each character: odd ones run from right to left.

    Args:
        text: A line.
        base: The direction of its paragraph.
    """
    start = 1 if base == "rtl" else 0
    original = [unicodedata.bidirectional(sign) or "L" for sign in text]
    kinds = ["BN" if kind in _IGNORED else kind for kind in original]
    edge = "R" if start else "L"
    _resolve_weak(kinds, edge)
    _resolve_brackets(text, original, kinds, edge)
    _resolve_neutral(kinds, edge)
    levels = [start + _above(kind, start) for kind in kinds]
    # L1: separators, and white space before them or at the end, are at the level of the paragraph.
    trailing = True
    for place in range(len(text) - 1, -1, -1):
        if original[place] in {"B", "S"}:
            trailing = True
        elif original[place] not in {"WS", "BN"} and original[place] not in _IGNORED:
            trailing = False
        if trailing:
            levels[place] = start
    return levels


def _above(kind: str, start: int) -> int:
    """Rules I1 and I2: how far a character is above the level of its paragraph."""
    if start % 2 == 0:
        return {"R": 1, "AN": 2, "EN": 2}.get(kind, 0)
    return 1 if kind in {"L", "EN", "AN"} else 0


def _resolve_weak(kinds: list[str], edge: str) -> None:
    """Rules W1 to W7, in place."""
    _resolve_marks(kinds, edge)
    _resolve_numbers(kinds, edge)
    for place in range(1, len(kinds) - 1):  # W4
        around = kinds[place - 1], kinds[place + 1]
        if around == ("EN", "EN") and kinds[place] in {"ES", "CS"}:
            kinds[place] = "EN"
        elif around == ("AN", "AN") and kinds[place] == "CS":
            kinds[place] = "AN"
    for first, after in _stretches(kinds, frozenset({"ET", "BN"})):  # W5
        beside = (kinds[first - 1] if first else "", kinds[after] if after < len(kinds) else "")
        if "EN" in beside:
            kinds[first:after] = ["EN"] * (after - first)
    kinds[:] = ["ON" if kind in {"ET", "ES", "CS", "BN"} else kind for kind in kinds]  # W6
    strong = edge  # W7
    for place, kind in enumerate(kinds):
        if kind in {"R", "L"}:
            strong = kind
        elif kind == "EN" and strong == "L":
            kinds[place] = "L"


def _resolve_marks(kinds: list[str], edge: str) -> None:
    """Rule W1, in place: marks are what they stand on."""
    before = edge
    for place, kind in enumerate(kinds):
        if kind == "NSM":
            kinds[place] = before
        elif kind != "BN":
            before = kind


def _resolve_numbers(kinds: list[str], edge: str) -> None:
    """Rules W2 and W3, in place: numbers after Arabic letters, and these themselves."""
    strong = edge
    for place, kind in enumerate(kinds):
        if kind in {"R", "L", "AL"}:
            strong = kind
        elif kind == "EN" and strong == "AL":
            kinds[place] = "AN"
    kinds[:] = ["R" if kind == "AL" else kind for kind in kinds]


def _stretches(kinds: list[str], among: frozenset[str]) -> Iterator[tuple[int, int]]:
    """Where runs of some kinds start and end."""
    for is_one, together in groupby(enumerate(kinds), key=lambda item: item[1] in among):
        if is_one:
            places = [place for place, _ in together]
            yield places[0], places[-1] + 1


def _resolve_brackets(text: str, original: list[str], kinds: list[str], edge: str) -> None:
    """Rule N0, in place: a pair of brackets has the direction of what is in it, or around it."""
    for opening, closing in _brackets(text, kinds):
        inside = {_STRONG[kind] for kind in kinds[opening + 1 : closing] if kind in _STRONG}
        if not inside:
            continue
        found = edge
        if edge not in inside:
            before = [_STRONG[kind] for kind in kinds[:opening] if kind in _STRONG]
            outside = before[-1] if before else edge
            found = outside if outside in inside else edge
        for place in (opening, closing):
            kinds[place] = found
            marks = takewhile(lambda mark: original[mark] == "NSM", range(place + 1, len(text)))
            for mark in marks:
                kinds[mark] = found


def _brackets(text: str, kinds: list[str]) -> list[tuple[int, int]]:
    """Pairs of brackets, by where they open: BD16."""
    open_ones: list[tuple[str, int]] = []
    pairs: list[tuple[int, int]] = []
    for place, sign in enumerate(text):
        if kinds[place] != "ON":
            continue
        if sign in _PAIRS:
            if len(open_ones) == _MOST_OPEN:
                break
            open_ones.append((_PAIRS[sign], place))
        elif sign in _CLOSING:
            for depth in range(len(open_ones) - 1, -1, -1):
                if open_ones[depth][0] == sign:
                    pairs.append((open_ones[depth][1], place))
                    del open_ones[depth:]
                    break
    return sorted(pairs)


def _resolve_neutral(kinds: list[str], edge: str) -> None:
    """Rules N1 and N2, in place."""
    for first, after in _stretches(kinds, _NEUTRAL):
        before = _STRONG[kinds[first - 1]] if first else edge
        behind = _STRONG[kinds[after]] if after < len(kinds) else edge
        kinds[first:after] = [before if before == behind else edge] * (after - first)
