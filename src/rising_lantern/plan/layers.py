"""Layers: the pictures and fills behind a section, and how they move."""

from __future__ import annotations

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from rising_lantern.css.backgrounds import (
    CENTER,
    COVER,
    Position,
    Repeat,
    Size,
    parse_position,
    parse_repeat,
    parse_size,
)
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.gradients import LinearGradient, parse_gradient
from rising_lantern.plan.base import Entry, css_value, named_css_value, wrong

Fill = Color | LinearGradient


def _parse_fill(text: str, names: dict[str, Color]) -> Fill:
    return parse_gradient(text, names) if "gradient(" in text else parse_color(text, names)


FillValue = Annotated[
    Fill, named_css_value(_parse_fill, (Color, LinearGradient), "linear-gradient(#0006, #0000)")
]
SizeValue = Annotated[Size, css_value(parse_size, Size, "cover")]
PositionValue = Annotated[Position, css_value(parse_position, Position, "50% 40%")]
RepeatValue = Annotated[tuple[Repeat, Repeat], css_value(parse_repeat, tuple, "no-repeat")]


class Layer(Entry):
    """One background picture or fill."""

    image: Annotated[str | None, Field(description="A picture file in the plan's folder.")] = None
    fill: Annotated[FillValue | None, Field(description="A colour or linear gradient.")] = None
    size: Annotated[SizeValue, Field(description="As CSS background-size.")] = COVER
    position: Annotated[PositionValue, Field(description="As CSS background-position.")] = CENTER
    repeat: Annotated[RepeatValue, Field(description="As CSS background-repeat.")] = (
        "no-repeat",
        "no-repeat",
    )
    attachment: Annotated[
        Literal["scroll", "fixed"] | None, Field(description="As CSS background-attachment.")
    ] = None
    speed: Annotated[
        float | None,
        Field(
            ge=0,
            le=1,
            allow_inf_nan=False,
            description="Pixels up the screen per pixel scrolled: 1 with the page, 0 stays.",
        ),
    ] = None
    opacity: Annotated[float, Field(ge=0, le=1, allow_inf_nan=False)] = 1.0

    @model_validator(mode="after")
    def _check(self) -> Self:
        if (self.image is None) == (self.fill is None):
            problem = "has both" if self.image else "has neither"
            raise wrong(
                f"the layer {problem} an image and a fill", "give it exactly one of the two"
            )
        if self.speed is not None and self.attachment is not None:
            raise wrong(
                "the layer has both an attachment and a speed", "keep one: fixed is speed 0"
            )
        return self

    @property
    def rate(self) -> float:
        """Pixels that it moves up the screen per pixel scrolled."""
        if self.speed is not None:
            return self.speed
        return 0.0 if self.attachment == "fixed" else 1.0

    @property
    def is_uniform(self) -> bool:
        """Whether it is one colour all over, so that no motion of it can be seen."""
        return isinstance(self.fill, Color)
