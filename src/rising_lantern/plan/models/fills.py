"""Fills: a colour, or a gradient."""

from __future__ import annotations

from typing import Annotated, get_args

from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.gradients import Gradient, parse_gradient
from rising_lantern.plan.models.base import named_css_value

Fill = Color | Gradient


def _parse_fill(text: str, names: dict[str, Color]) -> Fill:
    return parse_gradient(text, names) if "gradient(" in text else parse_color(text, names)


FillValue = Annotated[
    Fill,
    named_css_value(_parse_fill, (Color, *get_args(Gradient)), "linear-gradient(#0006, #0000)"),
]
"""A field of the plan that holds a fill."""
