"""Declarations of one rule, shorter where a shorthand or a number without a unit says the same.

Source: https://www.w3.org/TR/css-cascade-5/#shorthand
"""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence

from rising_lantern.exports.rules import Declarations, split

_NO_LENGTH = re.compile(r"0(px|[sld]?v[whib]|v(min|max)|cq[whib]|r?em|ex|ch)")
_INSISTS = " !important"
_BACKGROUND = ("background-image", "background-position", "background-size", "background-repeat")
_TRACKS = ("grid-template-rows", "grid-template-columns")


def shortened(declarations: Declarations) -> dict[str, str]:
    """Return declarations with shorthands in place of those that they are made of.

    A shorthand also resets what it does not say: of what the rule declares itself, all of that
    stands behind it.
    """
    result = dict(declarations)
    if "background-color" not in result:
        result = _joined(result, _BACKGROUND, "background", _background)
    result = _joined(result, _TRACKS, "grid-template", " / ".join)
    return {
        name: value if name.startswith("--") else _without_units_of_zero(value)
        for name, value in result.items()
    }


def _without_units_of_zero(value: str) -> str:
    """A value in which a length of nothing is a number, as it may be outside of functions."""
    return " ".join("0" if _NO_LENGTH.fullmatch(word) else word for word in split(value, " "))


def _joined(
    declared: dict[str, str],
    names: Sequence[str],
    shorthand: str,
    join: Callable[[Sequence[str]], str],
) -> dict[str, str]:
    """Declarations with a shorthand in front of the others that it resets."""
    values = [declared.get(name, "") for name in names]
    insisting = [value.endswith(_INSISTS) for value in values]
    if "" in values or (any(insisting) and not all(insisting)):
        return declared
    value = join([value.removesuffix(_INSISTS) for value in values]) + _INSISTS * all(insisting)
    place = min(index for index, name in enumerate(declared) if name.startswith(f"{shorthand}-"))
    before = list(declared.items())[:place]
    after = {name: own for name, own in declared.items() if name not in dict(before)}
    return {
        **dict(before),
        shorthand: value,
        **{name: own for name, own in after.items() if name not in names},
    }


def _background(values: Sequence[str]) -> str:
    """A background: the place of its first picture is that of the others too."""
    image, position, size, repeat = values
    first, *others = split(image, ", ")
    return ", ".join([f"{first} {position} / {size} {repeat}", *others])
