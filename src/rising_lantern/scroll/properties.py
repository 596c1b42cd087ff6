"""A header's state as properties, each of which fades by itself."""

from __future__ import annotations

from collections.abc import Hashable, Iterator
from dataclasses import replace
from typing import Any

from rising_lantern.css.transitions import Timing, Transition, changed
from rising_lantern.layout.header_styles import PartStyle, RowStyle
from rising_lantern.scroll.mixing import (
    COLOR,
    HEADER_VALUES,
    PART_VALUES,
    ROW_VALUES,
    SHARE,
    Mixing,
    Style,
    Table,
)
from rising_lantern.scroll.states import HeaderState

Property = tuple[Hashable, ...]
Values = dict[Property, Any]

# Before what has no name, or the name of a row, where parts have their own names.
_ROW, _FILL, _LAYERS = "", "=fill", "=layers"


def values_of(state: HeaderState, *, plain: bool) -> Values:
    """The values of a state's properties.

    Args:
        state: The state.
        plain: Whether the header's backgrounds are colours, which become one another; else they
            are mixed by their shares, as the pictures of parts are.
    """
    values: Values = dict(_free_values((), HEADER_VALUES, state))
    if plain:
        values["background",] = COLOR.free(state.fills[0])
    else:
        values |= {
            (_FILL, fill): share for fill, share in zip(state.fills, state.shares, strict=True)
        }
    values |= {
        (_LAYERS, None, layers): share
        for layers, share in zip(state.layers, state.layer_shares, strict=True)
    }
    for name, row in state.rows.items():
        values |= _free_values((_ROW, name), ROW_VALUES, row)
        values |= {
            (_LAYERS, name, layers): share
            for layers, share in zip(row.layers, row.layer_shares, strict=True)
        }
    for name, style in state.styles.items():
        values |= _free_values((name,), PART_VALUES, style)
        values |= {
            (name, "image", image): share
            for image, share in zip(style.images, style.shares, strict=True)
        }
    return values


def _free_values(of: Property, table: Table, style: Style) -> Iterator[tuple[Property, Any]]:
    """The values of a table as they are mixed, each with its property."""
    for name, mixing in table.items():
        yield (*of, name), mixing.free(getattr(style, name))


def _seen_values(of: Property, table: Table, values: Values) -> dict[str, Any]:
    """What is seen of the values of a table, by their names."""
    return {name: mixing.seen(values[*of, name]) for name, mixing in table.items()}


def with_values(state: HeaderState, values: Values) -> HeaderState:
    """A state with other values of its properties."""
    fills: dict[Any, float] = {key[1]: share for key, share in values.items() if key[0] == _FILL}
    if ("background",) in values:
        fills = {COLOR.seen(values["background",]): 1.0}
    styles = {name: _style(style, name, values) for name, style in state.styles.items()}
    return replace(
        state,
        **_seen_values((), HEADER_VALUES, values),
        complete=None,
        fills=tuple(fills),
        shares=tuple(fills.values()),
        **_layers(None, values),
        rows={name: _row(row, name, values) for name, row in state.rows.items()},
        styles=styles,
    )


def _row(row: RowStyle, name: str, values: Values) -> RowStyle:
    own = _seen_values((_ROW, name), ROW_VALUES, values)
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
    own = _seen_values((name,), PART_VALUES, values)
    return replace(style, **own, images=tuple(images), shares=tuple(images.values()))


def _mixing(key: Property) -> Mixing:
    """How values of a property are mixed."""
    if key[0] in {_FILL, _LAYERS} or "image" in key[1:2]:
        return SHARE
    if key == ("background",):
        return COLOR
    table = ROW_VALUES if key[0] == _ROW else PART_VALUES if len(key) > 1 else HEADER_VALUES
    return table[str(key[-1])]


def values_at(values: Values, running: dict[Property, Transition[Any]], now: float) -> Values:
    """What is seen of some values: what is declared, but for what is on its way."""
    seen = dict(values)
    for key, item in running.items():
        seen[key] = _mixing(key).mix(item.start, item.end, item.progress(now))
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
        one = changed(running.get(key), values, now, timing, _mixing(key).mix)
        if one is not None:
            started[key] = one
    return started
