"""How numbers are written in CSS text."""

from __future__ import annotations


def number(value: float) -> str:
    """A number in CSS syntax, to six decimals and without padding: ``0.4``, ``12``, ``-3.25``."""
    text = f"{value:.6f}".rstrip("0").rstrip(".")
    return "0" if text in {"-0", ""} else text
