"""A header's state as properties, each of which fades by itself."""

from __future__ import annotations

from collections.abc import Callable, Hashable
from dataclasses import replace
from typing import Any

from rising_lantern.css.borders import snapped_width
from rising_lantern.css.colors import Color, Premultiplied
from rising_lantern.css.numbers import between
from rising_lantern.css.shadows import mix_shadows
from rising_lantern.css.transitions import Timing, Transition, changed
from rising_lantern.layout.headers import PartStyle, RowStyle
from rising_lantern.scroll.states import HeaderState

Property = tuple[Hashable, ...]
Values = dict[Property, Any]

_PLAIN = ("height", "color", "shadow", "padding", "lean", "border", "edge", "blur")
_OF_PARTS = ("width", "height", "size", "color")
_OF_ROWS = ("height", "fill", "padding", "lean", "border", "edge")
# Before what has no name, or the name of a row, where parts have their own names.
_ROW, _FILL, _LAYERS = "", "=fill", "=layers"


def values_of(state: HeaderState, *, plain: bool) -> Values:
    """The values of a state's properties.

    Args:
        state: The state.
        plain: Whether the header's backgrounds are colours, which become one another; else they
            are mixed by their shares, as the pictures of parts are.
    """
    values: Values = {(name,): _free(getattr(state, name)) for name in _PLAIN}
    if plain:
        values["background",] = _free(state.fills[0])
    else:
        values |= {
            (_FILL, fill): share for fill, share in zip(state.fills, state.shares, strict=True)
        }
    values |= {
        (_LAYERS, None, layers): share
        for layers, share in zip(state.layers, state.layer_shares, strict=True)
    }
    for name, row in state.rows.items():
        values |= {(_ROW, name, of): _free(getattr(row, of)) for of in _OF_ROWS}
        values |= {
            (_LAYERS, name, layers): share
            for layers, share in zip(row.layers, row.layer_shares, strict=True)
        }
    for name, style in state.styles.items():
        values |= {(name, of): _free(getattr(style, of)) for of in _OF_PARTS}
        values |= {
            (name, "image", image): share
            for image, share in zip(style.images, style.shares, strict=True)
        }
    return values


def with_values(state: HeaderState, values: Values) -> HeaderState:
    """A state with other values of its properties."""
    plain = {name: _seen(values[name,]) for name in _PLAIN}
    plain["border"] = snapped_width(plain["border"])
    fills: dict[Any, float] = {key[1]: share for key, share in values.items() if key[0] == _FILL}
    if ("background",) in values:
        fills = {_seen(values["background",]): 1.0}
    styles = {name: _style(style, name, values) for name, style in state.styles.items()}
    return replace(
        state,
        **plain,
        complete=None,
        fills=tuple(fills),
        shares=tuple(fills.values()),
        **_layers(None, values),
        rows={name: _row(row, name, values) for name, row in state.rows.items()},
        styles=styles,
    )


def _row(row: RowStyle, name: str, values: Values) -> RowStyle:
    own = {of: _seen(values[_ROW, name, of]) for of in _OF_ROWS}
    own["border"] = snapped_width(own["border"])
    return replace(row, **own, **_layers(name, values))


def _layers(row: str | None, values: Values) -> dict[str, Any]:
    """The pictures and fills of a row, or of the header itself, in their shares."""
    mixed = {key[2]: share for key, share in values.items() if key[:2] == (_LAYERS, row)}
    return {"layers": tuple(mixed), "layer_shares": tuple(mixed.values())}


def _style(style: PartStyle, name: str, values: Values) -> PartStyle:
    images: dict[Any, float] = {
        key[2]: share
        for key, share in values.items()
        if len(key) == 3 and key[0] == name  # noqa: PLR2004 - a picture of this part
    }
    own = {of: _seen(values[name, of]) for of in _OF_PARTS}
    return replace(style, **own, images=tuple(images), shares=tuple(images.values()))


def _free(value: Any) -> Any:
    """A value as it is mixed: a colour, which may overshoot on its way, not clamped."""
    return Premultiplied.of(value) if isinstance(value, Color) else value


def _seen(value: Any) -> Any:
    return value.color() if isinstance(value, Premultiplied) else value


def _mixer(key: Property) -> Callable[[Any, Any, float], Any]:
    """How values of a property are mixed."""
    if key[0] in {_FILL, _LAYERS} or "image" in key[1:2]:
        # An opacity is clamped wherever it is computed (CSS Color 4, 3.2).
        return lambda first, second, share: min(max(between(first, second, share), 0.0), 1.0)
    return _mix


def _mix(first: Any, second: Any, share: float) -> Any:
    if isinstance(first, Premultiplied):
        return first.mixed(second, share)
    if isinstance(first, tuple):
        return mix_shadows(first, second, share)
    return between(first, second, share)


def values_at(values: Values, running: dict[Property, Transition[Any]], now: float) -> Values:
    """What is seen of some values: what is declared, but for what is on its way."""
    seen = dict(values)
    for key, item in running.items():
        seen[key] = _mixer(key)(item.start, item.end, item.progress(now))
    return seen


def transitions(
    running: dict[Property, Transition[Any]],
    before: Values,
    after: Values,
    now: float,
    timing: Timing,
) -> dict[Property, Transition[Any]]:
    """What runs after a style has changed, property by property.

    Args:
        running: What ran before.
        before: The values before the change, as declared.
        after: The values after it.
        now: The time in ms.
        timing: How long the change takes.
    """
    started: dict[Property, Transition[Any]] = {}
    # What one of the two does not have is a share of nothing.
    for key in {**before, **after, **running}:
        values = (before.get(key, 0.0), after.get(key, 0.0))
        one = changed(running.get(key), values, now, timing, _mixer(key))
        if one is not None:
            started[key] = one
    return started
