"""Values of a plan as numbers that can be tried one after the other."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import partial

import numpy as np

from rising_lantern.api.plans import Plan
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.lengths import Term
from rising_lantern.css.numbers import number
from rising_lantern.css.oklab import channels_of, light_of_oklab, oklab
from rising_lantern.css.syntax import CssError
from rising_lantern.errors import RequestError, quoted
from rising_lantern.plan.models.thresholds import Threshold, parse_threshold, shifted
from rising_lantern.plan.text.nodes import Key
from rising_lantern.scenes.scene import Scene

_TIME = re.compile(r"(\d*\.?\d+)(m?s)\b", re.IGNORECASE)
_FINE = 0.01  # from one plain number to the next
_FIGURES = ("alpha", "lightness")
_SHARES = frozenset({"opacity"})  # numbers from 0 to 1
_POSITIVE = frozenset({"scale", "leading"})
_CHROMAS = 101  # shares of a colour's chroma that are tried until it is in sRGB
_HAIR = 1e-9
_UNITS = {
    "px": (400.0, 1.0),
    "em": (4.0, 0.1),
    "rem": (4.0, 0.1),
    "cm": (10.0, 0.1),
    "in": (4.0, 0.05),
    "pc": (25.0, 0.5),
    "pt": (300.0, 1.0),
    "q": (400.0, 4.0),
}
"""The greatest value that is tried and the step, for units other than percentages of something."""


@dataclass(frozen=True, slots=True)
class Scale:
    """A value of a plan as a number, and back.

    Attributes:
        current: The author's number.
        low: The least number to try.
        high: The greatest.
        step: The finest difference.
        unit: What it counts.
        text: A number as the plan writes it there.
    """

    current: float
    low: float
    high: float
    step: float
    unit: str
    text: Callable[[float], str]


def value_path(plan: Plan, key: str) -> tuple[tuple[Key, ...], str | None]:
    """The path of a value, and which of a colour's figures is meant: its alpha or lightness.

    Raises:
        RequestError: If the plan has no such value.
    """
    try:
        return plan.path_of(key), None
    except RequestError:
        outer, _, figure = key.rpartition(".")
        if not outer or figure not in _FIGURES:
            raise
        return plan.path_of(outer), figure


def scale_of(plan: Plan, key: str, scenes: Sequence[Scene]) -> Scale:
    """The scale of a value, by how it is written.

    Args:
        plan: The plan.
        key: The value's path; of a colour with ``.alpha`` or ``.lightness`` after it.
        scenes: The pages and screens on which it counts.

    Raises:
        RequestError: If it is none, or the plan has no such value.
    """
    path, figure = value_path(plan, key)
    node = plan.file.written(path)
    value = None if node is None else node.value
    if isinstance(value, int | float) and not isinstance(value, bool):
        return _plain_scale(float(value), str(path[-1]))
    if isinstance(value, str):
        found = (
            _threshold_scale(value, path, scenes)
            or _color_scale(value, figure, scenes[0].document.colors if scenes else {})
            or _time_scale(value)
        )
        if found:
            return found
    raise RequestError(
        f"{quoted(key)} is not a number: name a length, a threshold, a time, a colour or a plain "
        "number"
    )


def _plain_scale(value: float, key: str) -> Scale:
    if key == "z":
        return Scale(value, value - 50, value + 50, 1.0, "", _whole_text)
    low, high = round(value - 1, 2), round(value + 1, 2)
    if key in _SHARES:
        low, high = round(value % _FINE, 6) % _FINE, 1.0
    elif key in _POSITIVE:
        low = max(low, _FINE)
    return Scale(value, low, high, _FINE, "", _hundredths_text)


def _whole_text(one: float) -> str:
    return str(round(one))


def _hundredths_text(one: float) -> str:
    return number(round(one, 2))


def _color_scale(text: str, figure: str | None, names: dict[str, Color]) -> Scale | None:
    """The alpha or the lightness of a colour; by default the alpha of one that has some."""
    try:
        color = parse_color(text, names)
    except CssError:
        return None
    if figure == "alpha" or (figure is None and color.alpha < 1):
        return Scale(
            round(color.alpha, 2),
            0.0,
            1.0,
            _FINE,
            "alpha",
            partial(_alpha_text, color.bytes),
        )
    lightness = float(round(float(oklab(color)[0]) * 100))
    return Scale(
        lightness,
        0.0,
        100.0,
        1.0,
        "lightness",
        partial(_lightness_text, text, color, lightness),
    )


def _alpha_text(levels: tuple[int, ...], one: float) -> str:
    red, green, blue, _ = levels
    return f"rgb({red} {green} {blue} / {number(one)})"


def _lightness_text(text: str, color: Color, lightness: float, one: float) -> str:
    return text if one == lightness else _lit(color, one / 100)


def _lit(color: Color, lightness: float) -> str:
    """A colour with another lightness in OKLab, as strong as sRGB allows, as hex."""
    own = oklab(color)
    shares = np.linspace(1, 0, _CHROMAS)
    lab = np.stack([np.full(_CHROMAS, lightness), own[1] * shares, own[2] * shares], axis=-1)
    light = light_of_oklab(lab)
    inside = ((light >= -_HAIR) & (light <= 1 + _HAIR)).all(axis=-1)
    red, green, blue = np.clip(channels_of(light[int(np.argmax(inside))]), 0, 1)
    shade = Color(float(red), float(green), float(blue), color.alpha).hex()
    return shade[:7] if color.alpha == 1 else shade


def _threshold_scale(text: str, path: tuple[Key, ...], scenes: Sequence[Scene]) -> Scale | None:
    """A length, or the length that is added to an edge."""
    try:
        threshold = parse_threshold(text)
    except CssError:
        return None
    expression = threshold.offset.expression
    if threshold.edge:
        return _edge_scale(threshold, scenes)
    if not isinstance(expression, Term):
        return None
    unit, value = expression.unit, expression.value
    least = -abs(value) if value < 0 else 0.0
    most, step = _UNITS.get(unit, (100.0, 1.0))
    greatest = max(2 * abs(value), most)
    if path[-1] in {"from", "back", "at", "settle"} and unit == "px":
        greatest = float(max(value, *(scene.max_scroll for scene in scenes)))
    low = value - math.floor((value - least) / step) * step
    return Scale(value, round(low, 6), greatest, step, unit, partial(_length_text, unit))


def _length_text(unit: str, one: float) -> str:
    return f"{number(one)}{unit}"


def _edge_scale(threshold: Threshold, scenes: Sequence[Scene]) -> Scale | None:
    """What is added to an edge, from where that meets the top of the page to its end."""
    expression = threshold.offset.expression
    if not isinstance(expression, Term) or (expression.unit != "px" and expression.value):
        return None
    value = expression.value
    places = [(round(scene.box.flow.position(threshold, 0)), scene.max_scroll) for scene in scenes]
    low = value - max(max(index, 0) for index, _ in places)
    high = value + max(max(end - index, 0) for index, end in places)
    return Scale(value, low, high, 1.0, "px", partial(_move_to, threshold, value))


def _move_to(threshold: Threshold, value: float, one: float) -> str:
    return shifted(threshold, one - value)


def _time_scale(text: str) -> Scale | None:
    """The first time of a change, in ms."""
    found = _TIME.search(text)
    if found is None:
        return None
    value = float(found[1]) * (1.0 if found[2].lower() == "ms" else 1000.0)
    return Scale(
        value,
        value % 10,
        max(2 * value, 1000.0),
        10.0,
        "ms",
        partial(_time_text, text),
    )


def _time_text(text: str, one: float) -> str:
    return _TIME.sub(f"{number(one)}ms", text, count=1)
