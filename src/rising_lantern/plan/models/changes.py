"""How one look becomes the next: ``cut``, ``fade`` over time, ``blend`` over a distance."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Annotated

from rising_lantern.css.easings import EASE, LINEAR, Easing, easing_from
from rising_lantern.css.length_parsing import is_length, length_from
from rising_lantern.css.lengths import Length
from rising_lantern.css.syntax import Components, Token
from rising_lantern.css.times import time_from
from rising_lantern.errors import quoted
from rising_lantern.plan.models.base import css_value

_REMEDY = (
    "write cut, fade 260ms ease-out, blend 120px ease-in-out or blend 120px ease-in-out lag 150ms"
)


@dataclass(frozen=True, slots=True)
class Cut:
    """The new look replaces the old one at once."""


@dataclass(frozen=True, slots=True)
class Fade:
    """The looks mix over time, as a CSS transition does.

    Attributes:
        duration_ms: How long it takes.
        delay_ms: How long it waits before.
        easing: Its course.
    """

    duration_ms: float
    delay_ms: float = 0.0
    easing: Easing = field(default=EASE)


@dataclass(frozen=True, slots=True)
class Blend:
    """The looks mix over a distance of scroll.

    Attributes:
        distance: How far one scrolls from the threshold until the new look is complete.
        easing: Its course.
        lag_ms: How far behind the scroll it lags: the time in which it comes 95 % of the way.
    """

    distance: Length
    easing: Easing = field(default=LINEAR)
    lag_ms: float = 0.0


Change = Cut | Fade | Blend


def time_of(change: Change) -> float:
    """How long a change takes by itself, in ms; 0 where it follows the scroll at once."""
    if isinstance(change, Fade):
        return change.duration_ms
    return change.lag_ms if isinstance(change, Blend) else 0.0


def in_time(change: Change, ms: float) -> Change:
    """A change that takes another time by itself."""
    if isinstance(change, Fade):
        return replace(change, duration_ms=ms)
    return replace(change, lag_ms=ms) if isinstance(change, Blend) else change


def parse_change(text: str) -> Change:
    """Parse a change of looks.

    Raises:
        CssError: If the text is not valid.
    """
    source = Components(text)
    if not source.tokens or source.tokens[0].type != "ident":
        raise source.error(None, f"{quoted(text)} is not a change", _REMEDY)
    first, *rest = source.tokens
    match first.lower_value:
        case "cut" if not rest:
            return Cut()
        case "fade":
            return _fade(source, rest)
        case "blend":
            return _blend(source, rest)
        case _:
            raise source.error(first, f"{quoted(text)} is not a change", _REMEDY)


def _fade(source: Components, tokens: list[Token]) -> Fade:
    times = [time_from(source, token) for token in tokens if token.type == "dimension"]
    easings = [easing_from(source, token) for token in tokens if token.type != "dimension"]
    if not 1 <= len(times) <= 2 or len(easings) > 1:  # noqa: PLR2004
        raise source.error(
            None, "fade takes a time, an optional delay and an optional easing", _REMEDY
        )
    if times[0] < 0:
        raise source.error(tokens[0], "a duration cannot be negative", _REMEDY)
    return Fade(times[0], times[1] if len(times) > 1 else 0.0, easings[0] if easings else EASE)


def _blend(source: Components, tokens: list[Token]) -> Blend:
    lag = 0.0
    words = [token.type == "ident" and token.lower_value == "lag" for token in tokens]
    if any(words):
        place = words.index(True)
        if place + 2 != len(tokens):
            raise source.error(tokens[place], "'lag' takes one time, at the end", _REMEDY)
        lag = time_from(source, tokens[place + 1])
        if lag < 0:
            raise source.error(tokens[place + 1], "a lag cannot be negative", _REMEDY)
        tokens = tokens[:place]
    lengths = [token for token in tokens if is_length(token)]
    easings = [easing_from(source, token) for token in tokens if not is_length(token)]
    if len(lengths) != 1 or len(easings) > 1:
        raise source.error(None, "blend takes one distance and an optional easing", _REMEDY)
    distance = length_from(source, lengths)
    if distance.is_negative:
        raise source.error(lengths[0], "a blend distance cannot be negative", _REMEDY)
    return Blend(distance, easings[0] if easings else LINEAR, lag)


ChangeValue = Annotated[Change, css_value(parse_change, (Cut, Fade, Blend), "fade 260ms ease-out")]
"""A field of the plan that holds a change."""
