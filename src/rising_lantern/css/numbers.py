"""How numbers are written in CSS text."""

from __future__ import annotations


def number(value: float) -> str:
    """A number in CSS syntax, to six decimals and without padding: ``0.4``, ``12``, ``-3.25``."""
    text = f"{value:.6f}".rstrip("0").rstrip(".")
    return "0" if text in {"-0", ""} else text


def between(first: float, second: float, share: float) -> float:
    """The number at a share of the way from one to another; the share may lie outside 0..1.

    >>> between(96, 64, 0.25)
    88.0
    """
    return first + (second - first) * share
