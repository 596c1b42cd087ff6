"""Viewports: the screens that a plan is for."""

from __future__ import annotations

import re
from typing import Annotated, Any, Self

from pydantic import GetJsonSchemaHandler, model_validator
from pydantic.json_schema import JsonSchemaValue
from pydantic_core import CoreSchema

from rising_lantern.css.lengths import Basis, px
from rising_lantern.css.schemes import Scheme
from rising_lantern.css.syntax import CssError
from rising_lantern.errors import quoted
from rising_lantern.plan.models.base import (
    Entry,
    Extent,
    Flag,
    InsetsValue,
    Number,
    Whole,
    css_value,
    key,
    kind_of,
    wrong,
)

_SHORT = re.compile(r"(.*?)(?:@([0-9]+(?:\.[0-9]+)?))?\Z", re.DOTALL)
_SIDES = re.compile(r"\s*([0-9]{1,9})\s*x\s*([0-9]{1,9})\s*\Z")
LARGEST = 16_384
"""The longest side of a screen, in CSS px."""
_LARGEST_RATIO = 8
_LARGEST_SCROLLBAR = 40
_REMEDY = "write WIDTHxHEIGHT, such as 1280x800 or 390x844@3"

Sides = tuple[int, int]


def parse_sides(text: str) -> Sides:
    """Parse ``1280x800``: width and height in CSS px.

    Raises:
        CssError: If the text is not a screen size.
    """
    found = _SIDES.match(text)
    if not found:
        raise CssError(f"{quoted(text)} is not a screen size", _REMEDY)
    width, height = int(found[1]), int(found[2])
    if not (1 <= width <= LARGEST and 1 <= height <= LARGEST):
        raise CssError(
            f"{quoted(text)} is not a screen size", f"write sides of 1 to {LARGEST:,} px"
        )
    return width, height


SidesValue = Annotated[Sides, css_value(parse_sides, tuple, "1280x800")]


class Viewport(Entry):
    """A screen: in short its size with a pixel ratio, `390x844@3`, or these keys."""

    size: SidesValue = key("Width including the scrollbar, and height, in CSS px.", "1280x800")
    ratio: Number = key("Device pixels per CSS px.", 2, 1.0, gt=0, le=_LARGEST_RATIO)
    scrollbar: Whole = key(
        "Width in CSS px of a classic scrollbar on pages that scroll.",
        15,
        0,
        ge=0,
        le=_LARGEST_SCROLLBAR,
    )
    from_: Whole | None = key(
        "The width in CSS px from which its values apply in exported pages, up to the next wider "
        "viewport's; by default its own width, and 0 for the narrowest.",
        720,
        None,
        ge=0,
        le=LARGEST,
    )
    touch: Flag = key("Whether it is a touch screen.", True, default_factory=bool)
    bar: Extent = key(
        "The height of browser bars that come and go: the size is that without them. svh and dvh "
        "count them, and `check` looks at pages with and without.",
        "56px",
        px(0),
    )
    safe_area: InsetsValue | None = key(
        "What the screen's own shape takes from its top, right, bottom and left, in px: "
        "env(safe-area-inset-top) and its like in lengths.",
        "47px 0px 34px",
        None,
    )
    scheme: Scheme | None = key(
        "The colour scheme that its readers prefer. Exported pages have the values of a dark one "
        "for readers who prefer dark, from its width up to the next wider viewport's.",
        "dark",
        None,
    )

    @property
    def width(self) -> int:
        """Width in CSS px, with the scrollbar."""
        return self.size[0]

    @property
    def height(self) -> int:
        """Height in CSS px."""
        return self.size[1]

    @property
    def start(self) -> int:
        """The width in CSS px from which its values apply."""
        return self.width if self.from_ is None else self.from_

    @property
    def has_bar(self) -> bool:
        """Whether it has a bar that comes and goes."""
        return self.bar.px(Basis(*self.size)) > 0

    @model_validator(mode="after")
    def _check(self) -> Self:
        area = self.safe_area
        sides = (area.top, area.right, area.bottom, area.left) if area else ()
        for name, length in (("bar", self.bar), *(("safe-area", side) for side in sides)):
            if length.units - {"px"}:
                raise wrong(f"the {name} is {quoted(length.text)}", "write it in px")
        if self.bar.px(Basis(*self.size)) * 2 > self.height:
            raise wrong("the bar takes up more than half of the screen", "write a lower one")
        return self

    @model_validator(mode="before")
    @classmethod
    def _short_form(cls, value: Any) -> Any:
        if isinstance(value, dict):
            return value
        if not isinstance(value, str):
            raise wrong(f"a viewport cannot be {kind_of(value)}", _REMEDY)
        found = _SHORT.match(value)
        size, ratio = (found[1], found[2]) if found else (value, None)
        return {"size": size} if ratio is None else {"size": size, "ratio": float(ratio)}

    @classmethod
    def __get_pydantic_json_schema__(
        cls, core_schema: CoreSchema, handler: GetJsonSchemaHandler
    ) -> JsonSchemaValue:
        result = handler.resolve_ref_schema(handler(core_schema))
        short = {"type": "string", "examples": ["1280x800", "390x844@3"]}
        return {"anyOf": [short, result]}
