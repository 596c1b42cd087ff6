"""Knobs: values of a plan that can be turned in steps, each step the last digit that is shown."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace

from rising_lantern.base.solving import least
from rising_lantern.css.colors import BLACK, TRANSPARENT, WHITE, Color
from rising_lantern.css.contrast import luminance_of
from rising_lantern.css.gradients import Gradient
from rising_lantern.css.lengths import Length, Term
from rising_lantern.css.numbers import number
from rising_lantern.css.oklab import distance
from rising_lantern.plan.models.thresholds import Threshold, shifted
from rising_lantern.plan.text.nodes import Key
from rising_lantern.tuning.nearest import EVEN, nearest

_FINE = 4000  # steps of luminance from black to white


@dataclass(frozen=True, slots=True)
class Knob:
    """A value of a plan, and its steps away from what it is.

    Attributes:
        what: What it is, in words.
        path: The keys that lead to it.
        steps: How many steps there are; the first one is 1.
        text: The value at a step, written as in a plan.
        cost: How far a step is from what it is: of two knobs of one value the lesser counts.
        choices: Whether the steps are values to choose from, the best first, so that one may do
            where the next does not.
        now: What counts where nothing is written there, such as what is inherited; None where
            that is nothing.
    """

    what: str
    path: tuple[Key, ...]
    steps: int
    text: Callable[[int], str]
    cost: Callable[[int], float] = float
    choices: bool = False
    now: str | None = None


def one_of(
    what: str, path: tuple[Key, ...], values: Sequence[str], now: str | None = None
) -> Iterator[Knob]:
    """A value to choose among some, the best first; nothing where there is none."""
    if values:
        yield Knob(what, path, len(values), lambda step: values[step - 1], choices=True, now=now)


def _color_text(color: Color) -> str | None:
    """A colour as it is written; None for one that nobody wrote."""
    return color.text or (color.hex()[:7] if color.alpha == 1 else None)


def opacity(what: str, path: tuple[Key, ...], color: Color, against: Color) -> Knob:
    """A colour that gets more opaque, a hundredth at a time.

    Args:
        what: What it is.
        path: Where it stands.
        color: The colour; where nothing is to be seen of it, black or white.
        against: What is to stand out from it.
    """
    if color.alpha == 0:
        color = replace(BLACK if luminance_of(against) > EVEN else WHITE, alpha=0.0)
    first, now = math.floor(color.alpha * 100 + 1e-6), _color_text(color) if color.alpha else None

    def text(step: int) -> str:
        red, green, blue, _ = color.bytes
        return f"rgb({red} {green} {blue} / {number((first + step) / 100)})"

    return Knob(what, path, 100 - first, text, now=now)


def panel(path: tuple[Key, ...], against: Color) -> Knob:
    """A panel where there is none, a hundredth more opaque at a time."""
    return _new("opacity of a panel", path, "color", against)


def tint(path: tuple[Key, ...], against: Color) -> Knob:
    """A layer of one colour where there is none, a hundredth more opaque at a time."""
    return _new("opacity of a new tint", path, "fill", against)


def _new(what: str, path: tuple[Key, ...], key: str, against: Color) -> Knob:
    """A mapping of one colour where there is none."""
    inner = opacity("", path, TRANSPARENT, against)
    return Knob(what, path, inner.steps, lambda step: f'{{{key}: "{inner.text(step)}"}}')


def veil(what: str, path: tuple[Key, ...], gradient: Gradient) -> Knob:
    """A gradient whose colours all get more opaque, a hundredth of their alpha at a time."""
    alphas = [stop.color.alpha for stop in gradient.stops if stop.color]
    most = max(alphas, default=0.0)

    def text(step: int) -> str:
        # Rounded, so that what is proved is what is written.
        stops = tuple(
            replace(stop, color=replace(stop.color, alpha=_more(stop.color.alpha, step)))
            if stop.color
            else stop
            for stop in gradient.stops
        )
        return replace(gradient, stops=stops).css()

    # As far as the most opaque of them goes.
    return Knob(what, path, math.floor((1 / most - 1) * 100) if most else 0, text)


def _more(alpha: float, step: int) -> float:
    return min(round(alpha * (1 + step / 100), 3), 1.0)


def colors(what: str, path: tuple[Key, ...], color: Color, most: float = 1.0) -> Iterator[Knob]:
    """An opaque colour that gets lighter, and one that gets darker, near to itself in OKLab.

    Args:
        what: What it is.
        path: Where it stands.
        color: The colour.
        most: How far from it a shade may be, in OKLab.
    """
    if color.alpha == 1:
        yield from (_tone(what, path, color, most, lighter=lighter) for lighter in (True, False))


def plan_colors(
    what: str, path: tuple[Key, ...], names: dict[str, Color], color: Color
) -> Iterator[Knob]:
    """The plan's own colours in the place of a colour, the nearest in OKLab first."""
    opaque = {name: item for name, item in names.items() if item.alpha == 1 and item != color}
    nearest_first = sorted(opaque, key=lambda name: distance(color, opaque[name]))
    yield from one_of(what, path, nearest_first, _color_text(color))


def _tone(what: str, path: tuple[Key, ...], color: Color, most: float, *, lighter: bool) -> Knob:
    own = luminance_of(color)
    steps = math.floor((1 - own if lighter else own) * _FINE) + 1

    def shade(step: int) -> Color:
        wanted = own + (step if lighter else -step) / _FINE
        return nearest(color, min(max(wanted, 0.0), 1.0), lighter=lighter)

    if distance(color, shade(steps)) > most:
        far = least(lambda step: distance(color, shade(step)) > most, 0, steps)
        steps = (far or 1) - 1
    return Knob(
        what,
        path,
        steps,
        lambda step: shade(step).hex()[:7],
        lambda step: distance(color, shade(step)),
        now=_color_text(color),
    )


def moved(path: tuple[Key, ...], threshold: Threshold, way: int, steps: int) -> Knob:
    """A threshold that moves along the scroll, a px at a time.

    Args:
        path: Where it stands.
        threshold: What it is.
        way: 1 down the page, -1 up.
        steps: How far at most, in px.
    """
    return Knob("position of 'from'", path, steps, lambda step: shifted(threshold, way * step))


def lengthened(what: str, path: tuple[Key, ...], length: Length, steps: int) -> Knob:
    """A length that gets longer, a px at a time."""
    expression = length.expression
    if isinstance(expression, Term) and expression.unit == "px":
        return Knob(what, path, steps, lambda step: f"{number(expression.value + step)}px")
    return Knob(what, path, steps, lambda step: f"calc({length.css()} + {step}px)")
