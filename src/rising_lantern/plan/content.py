"""Content: what stands over a section's background."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from rising_lantern.css.backgrounds import CENTER
from rising_lantern.css.colors import BLACK
from rising_lantern.css.lengths import percent, px
from rising_lantern.plan.base import ColorValue, Entry, Extent, Name, Weight
from rising_lantern.plan.layers import PositionValue


class Panel(Entry):
    """A box behind a text."""

    color: Annotated[ColorValue, Field(description="Its colour, with alpha if you like.")]
    padding: Annotated[Extent, Field(description="Room around the text.")] = px(24)
    radius: Annotated[Extent, Field(description="How round its corners are.")] = px(0)


class Content(Entry):
    """A text over a section's layers."""

    text: Annotated[str, Field(min_length=1, max_length=5000)]
    size: Annotated[Extent, Field(description="Font size.")] = px(18)
    color: Annotated[ColorValue, Field(description="Colour of the text.")] = BLACK
    font: Annotated[Name, Field(description="A font of the plan, or sans or serif.")] = "sans"
    weight: Annotated[Weight, Field(description="As CSS font-weight.")] = 400
    leading: Annotated[
        float, Field(gt=0, le=10, allow_inf_nan=False, description="Line height in font sizes.")
    ] = 1.4
    align: Annotated[
        Literal["start", "center", "end"] | None,
        Field(description="How lines stand to each other; by default as 'at' leans."),
    ] = None
    at: Annotated[PositionValue, Field(description="Where, as CSS background-position.")] = CENTER
    width: Annotated[Extent, Field(description="The widest that its lines may get.")] = percent(88)
    panel: Annotated[Panel | None, Field(description="A box behind it.")] = None
