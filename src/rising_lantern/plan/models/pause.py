"""The control of exported pages that stops what runs by itself."""

from __future__ import annotations

from typing import Annotated, Any, Self

from pydantic import BeforeValidator, StringConstraints, model_validator

from rising_lantern.css.contrast import contrast_of
from rising_lantern.css.lengths import px
from rising_lantern.plan.models.base import (
    ColorValue,
    Entry,
    Extent,
    Flag,
    FontSize,
    Name,
    Radius,
    Weight,
    key,
    wrong,
)
from rising_lantern.plan.models.layers import PositionValue

_Words = Annotated[str, StringConstraints(min_length=1, max_length=60)]
LEAST_CONTRAST = 4.5
"""What its letters and its icon contrast at least with its ground (WCAG 2.2, 1.4.3)."""


class Pause(Entry):
    """The control that stops slides and videos: in short what it says, or these keys.

    It stands in the first section in which something runs, and stops all of the page.
    """

    text: _Words = key("What it says.", "Pause the pictures", "Pause the pictures")
    icon_only: Flag = key(
        "Whether it is an icon alone; what it says then names it for screen readers.",
        True,
        False,
    )
    color: ColorValue | None = key(
        "Its colour; by default that of the page's texts.", "#fdf6e3", None
    )
    background: ColorValue | None = key(
        "Its opaque ground; by default the page's colour.", "#16213e", None
    )
    size: FontSize = key("Font size.", "16px", px(15))
    font: Name = key("A font of the plan, or sans or serif.", "serif", "sans")
    weight: Weight = key("As CSS font-weight.", 700, 400)
    padding: Extent = key("Room around what it shows.", "12px", px(10))
    radius: Radius = key("Radius of its corners.", "6px", px(20))
    at: PositionValue | None = key(
        "Its position in the section, as CSS background-position; by default the first of the "
        "section's corners and edges at which it covers nothing.",
        "right 24px bottom 24px",
        None,
    )

    @model_validator(mode="after")
    def _check(self) -> Self:
        if self.background is not None and self.background.alpha < 1:
            raise wrong("the background of the control lets something through", "make it opaque")
        if self.color is not None and self.color.alpha < 1:
            raise wrong("the colour of the control lets something through", "make it opaque")
        if self.color is not None and self.background is not None:
            contrast = contrast_of(self.color, self.background)
            if contrast < LEAST_CONTRAST:
                raise wrong(
                    f"the contrast of the control is {contrast:.2f}",
                    f"choose colours with at least {LEAST_CONTRAST}",
                )
        return self


def _short(value: Any) -> Any:
    if isinstance(value, bool):
        return {} if value else None
    return {"text": value} if isinstance(value, str) else value


PauseValue = Annotated[
    Pause | None, BeforeValidator(_short, json_schema_input_type=Flag | _Words | Pause)
]
"""The control; None where the plan leaves it out with ``pause: false``."""
