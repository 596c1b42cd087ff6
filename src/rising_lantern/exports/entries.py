"""What an entry of a plan says, key by key, in the words of settings."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from pydantic import BaseModel

from rising_lantern.css.borders import Border
from rising_lantern.css.colors import Color
from rising_lantern.css.easings import CubicBezier, Easing
from rising_lantern.css.grids import GridTrack
from rising_lantern.css.numbers import number
from rising_lantern.css.shadows import Shadow
from rising_lantern.plan.models.base import Auto
from rising_lantern.plan.models.changes import Blend, Cut, Fade

_TIMES = frozenset({"every", "time"})


def said_by(entry: BaseModel, but: Iterable[str] = ()) -> Iterator[tuple[str, str]]:
    """The keys of an entry that are not as they are by default, with their values in words.

    Args:
        entry: An object of the plan.
        but: Keys to leave out.

    Yields:
        The key's name, with spaces, and the value.
    """
    left_out = frozenset(but)
    for name, info in type(entry).model_fields.items():
        key = info.alias or name.replace("_", "-")
        value = getattr(entry, name)
        default = info.get_default(call_default_factory=True, validated_data={})
        if key not in left_out and value is not None and value != default:
            words = f"{number(value)} ms" if key in _TIMES else value_words(value)
            yield key.replace("-", " "), words


def value_words(value: Any) -> str:
    """A value of the plan in words, with its unit."""
    match value:
        case bool():
            words = "yes" if value else "no"
        case Auto():
            words = "that of its content"
        case int() | float():
            words = number(value)
        case str():
            words = value
        case BaseModel():
            said = ", ".join(f"{key} {text}" for key, text in said_by(value))
            words = said or "as by default"
        case Mapping():
            words = "; ".join(f"{key}: {value_words(item)}" for key, item in value.items())
        case tuple():
            words = "; ".join(map(value_words, value)) or "none"
        case _:
            words = _css_words(value)
    return words


def _css_words(value: Any) -> str:
    """A value of CSS in words."""
    match value:
        case Color():
            words = color_words(value)
        case Border():
            words = f"{value.width.css()} solid, {color_words(value.color)}"
        case Shadow():
            words = f"{value.x.css()} right, {value.y.css()} down, {value.blur.css()} blur, "
            words += f"{value.spread.css()} spread, {color_words(value.color)}"
        case Cut():
            words = "at once"
        case Fade():
            delay = f", after {number(value.delay_ms)} ms" if value.delay_ms else ""
            words = f"over {number(value.duration_ms)} ms, {easing_words(value.easing)}{delay}"
        case GridTrack():
            words = value.length.css() if value.length else f"{number(value.share or 0)}fr"
        case Blend():
            words = f"over {value.distance.css()} of scroll, {easing_words(value.easing)}"
        case CubicBezier():
            words = easing_words(value)
        case _:
            css = getattr(value, "css", None)
            words = str(css() if css else getattr(value, "text", value))
    return words


def color_words(color: Color) -> str:
    """A colour as editors take it: hex, and the opacity in per cent where it is not whole."""
    opacity = "" if color.alpha == 1 else f" at {number(round(color.alpha * 100, 1))} %"
    return color.hex()[:7] + opacity if color.alpha else "transparent"


def easing_words(easing: Easing) -> str:
    """An easing by its name, and by the four numbers of its curve where it has them."""
    text = easing.css()
    if not isinstance(easing, CubicBezier):
        return text
    numbers = ", ".join(number(value) for value in (easing.x1, easing.y1, easing.x2, easing.y2))
    return f"{text.partition('(')[0]} ({numbers})"
