"""Viewports: the screens that a plan is looked at on."""

from __future__ import annotations

import re
from typing import Annotated, Any

from pydantic import BeforeValidator, Field, WithJsonSchema

from rising_lantern.plan.base import Entry, kind_of, wrong

_SHORT = re.compile(r"([0-9]+)\s*x\s*([0-9]+)(?:@([0-9]+(?:\.[0-9]+)?))?\Z")
_LARGEST = 16_384
_LARGEST_RATIO = 8
_LARGEST_SCROLLBAR = 40
_REMEDY = "write WIDTHxHEIGHT, such as 1280x800 or 390x844@3"


class Viewport(Entry):
    """A screen size in CSS px."""

    width: Annotated[int, Field(ge=1, le=_LARGEST, description="Width with the scrollbar.")]
    height: Annotated[int, Field(ge=1, le=_LARGEST, description="Height that pages show in.")]
    ratio: Annotated[
        float, Field(gt=0, le=_LARGEST_RATIO, description="Device pixels per CSS px.")
    ] = 1.0
    scrollbar: Annotated[
        int, Field(ge=0, le=_LARGEST_SCROLLBAR, description="Width of a classic scrollbar.")
    ] = 0
    touch: Annotated[bool, Field(description="Whether it is scrolled by touch.")] = False


def _short_form(value: Any) -> Any:
    """Read ``1280x800@2``, and the ``size`` of the long form."""
    if isinstance(value, Viewport):
        return value
    if isinstance(value, str):
        return _sizes(value)
    if isinstance(value, dict) and "size" in value:
        rest = {key: item for key, item in value.items() if key != "size"}
        if not isinstance(value["size"], str):
            raise wrong(f"'size' is {kind_of(value['size'])}", _REMEDY)
        return _sizes(value["size"]) | rest
    raise wrong("a viewport needs a size", _REMEDY)


def _sizes(text: str) -> dict[str, Any]:
    found = _SHORT.match(text.strip())
    if not found:
        raise wrong(f"'{text}' is not a screen size", _REMEDY)
    width, height = int(found[1][:9]), int(found[2][:9])
    if not (1 <= width <= _LARGEST and 1 <= height <= _LARGEST):
        raise wrong(f"'{text}' is no size for a screen", f"write sides of 1 to {_LARGEST} px")
    if found[3] and not 0 < float(found[3]) <= _LARGEST_RATIO:
        raise wrong(f"'{text}' has no usable pixel ratio", f"write a ratio up to {_LARGEST_RATIO}")
    return {"width": width, "height": height, "ratio": float(found[3] or 1)}


_SCHEMA = {
    "anyOf": [
        {"type": "string", "examples": ["1280x800", "390x844@3"]},
        {
            "type": "object",
            "additionalProperties": False,
            "required": ["size"],
            "properties": {
                "size": {"type": "string", "examples": ["1280x800"]},
                "ratio": {"type": "number"},
                "scrollbar": {"type": "integer"},
                "touch": {"type": "boolean"},
            },
        },
    ]
}
ViewportValue = Annotated[Viewport, BeforeValidator(_short_form), WithJsonSchema(_SCHEMA)]
"""A field of the plan that holds a viewport, in its short or long form."""
