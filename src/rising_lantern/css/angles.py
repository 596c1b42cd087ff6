"""Angles: CSS Values and Units 4, section 7.1."""

from __future__ import annotations

import math

from rising_lantern.css.syntax import Token

_DEGREES = {"deg": 1.0, "grad": 0.9, "rad": 180 / math.pi, "turn": 360.0}


def is_angle(token: Token) -> bool:
    """Whether a token is an angle."""
    return token.type == "dimension" and token.lower_unit in _DEGREES


def degrees(token: Token) -> float:
    """The degrees of a token that is an angle; not finite where its number is not.

    Source: https://www.w3.org/TR/css-values-4/#angles
    """
    return float(token.value * _DEGREES[token.lower_unit])
