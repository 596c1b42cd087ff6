"""Times: CSS Values and Units 4, section 7.2."""

from __future__ import annotations

import math

from rising_lantern.css.syntax import Components, Token, written
from rising_lantern.errors import quoted

_REMEDY = "write 300ms or 0.3s"
_MOST_MS = 60_000.0


def parse_time(text: str) -> float:
    """Parse a time of zero or more, in milliseconds.

    Source: https://www.w3.org/TR/css-values-4/#time

    Raises:
        CssError: If the text is not valid.
    """
    source = Components(text)
    if len(source.tokens) != 1:
        raise source.error(None, f"{quoted(text)} is not a single time", _REMEDY)
    time = time_from(source, source.tokens[0])
    if time < 0:
        raise source.error(source.tokens[0], f"{quoted(text)} is negative", _REMEDY)
    return time


def time_from(source: Components, token: Token) -> float:
    """The milliseconds that one token of a text stands for, a minute at most.

    Raises:
        CssError: If it is not valid.
    """
    unit = token.lower_unit if token.type == "dimension" else ""
    factor = {"ms": 1.0, "s": 1000.0}.get(unit)
    if factor is None or not math.isfinite(token.value):
        raise source.error(token, f"{quoted(written([token]))} is not a time", _REMEDY)
    if abs(token.value * factor) > _MOST_MS:
        raise source.error(token, f"{quoted(written([token]))} is too long", "use a minute or less")
    return float(token.value * factor)
