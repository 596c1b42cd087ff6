"""The reference of the plan's format, made from the models that check it."""

from __future__ import annotations

import json
import re
from enum import Enum
from typing import Any

from pydantic import BaseModel
from pydantic.fields import FieldInfo
from pydantic_core import PydanticUndefined

from rising_lantern.plan.models.changes import Blend, Cut, Fade
from rising_lantern.plan.models.content import (
    Button,
    ButtonState,
    Card,
    Content,
    Enter,
    LinkColors,
    Panel,
)
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.models.headers import (
    Header,
    HeaderRow,
    LinkState,
    LinkStates,
    Look,
    Part,
    PartLook,
    RowLook,
)
from rising_lantern.plan.models.layers import Layer, PathStop, Slide
from rising_lantern.plan.models.limits import Check, Limits, Silence
from rising_lantern.plan.models.pages import Page, PageBackground, Section
from rising_lantern.plan.models.pause import Pause
from rising_lantern.plan.models.show import Show, ShowViewports
from rising_lantern.plan.models.viewports import Viewport

# The sections of the page, in order: the heading of each object, and its model.
OBJECTS: tuple[tuple[str, type[BaseModel]], ...] = (
    ("The plan", Document),
    ("A viewport", Viewport),
    ("A page", Page),
    ("A page's background", PageBackground),
    ("A section", Section),
    ("A layer", Layer),
    ("A slide", Slide),
    ("A stop of a layer's path", PathStop),
    ("Content", Content),
    ("A box", Card),
    ("Colours of links", LinkColors),
    ("A button", Button),
    ("What a button changes", ButtonState),
    ("A panel", Panel),
    ("How content enters", Enter),
    ("A header", Header),
    ("A row of a header", HeaderRow),
    ("A part", Part),
    ("States of a part's links", LinkStates),
    ("What a link changes", LinkState),
    ("A look", Look),
    ("What a look changes in a row", RowLook),
    ("What a look changes in a part", PartLook),
    ("Where a header is shown", Show),
    ("The viewports that it is shown on", ShowViewports),
    ("The control that stops what runs", Pause),
    ("Limits and silences of check", Check),
    ("Limits", Limits),
    ("A silenced finding", Silence),
)

_HEAD = """\
# The plan, key by key

A plan is YAML 1.2 or JSON. Every value that has a CSS syntax is written in that syntax, with the
meaning that it has in CSS. Lengths need units. Any object can have `for:`, a map from viewport
names to the values that differ there. `null` takes a value away that would be taken over by `for`,
by `like` or by a look from its header, and means what leaving the key out means. Names start with a
letter and contain letters, digits, `-` and `_`.

Lengths are sums, products, `calc()`, `min()`, `max()`, `clamp()` and `round()` of px, em, rem,
vw, vh, svh, lvh, dvh, vmin, vmax, %, cm, mm, q, in, pt and pc. Colours are those of CSS Color 4,
and the names of the plan's own colours. Gradients are linear, radial and conic, repeating or
not.

The models that check a plan make this page: `python -m rising_lantern.plan.generated.reference`.
"""


def reference() -> str:
    """The reference as Markdown: a table for each object, a row for each key."""
    return _HEAD + "".join(_table(heading, model) for heading, model in OBJECTS)


def _table(heading: str, model: type[BaseModel]) -> str:
    doc = " ".join((model.__doc__ or "").split())
    rows = [
        f"| `{info.alias or name}` | {info.description} | {_default(info)} | {_example(info)} |"
        for name, info in model.model_fields.items()
    ]
    head = "| key | what it means | by default | for example |\n| --- | --- | --- | --- |\n"
    return f"\n## {heading}\n\n{doc}\n\n{head}" + "\n".join(rows) + "\n"


def _default(info: FieldInfo) -> str:
    if info.is_required():
        return "required"
    value = info.get_default(call_default_factory=True, validated_data={})
    if value is None or value is PydanticUndefined or value in ((), "", {}):
        return "none"
    return f"`{_default_text(value)}`"


def _default_text(value: Any) -> str:
    """A default as an author would write it."""
    if isinstance(value, bool | Cut | Fade | Blend):
        return (str(value) if isinstance(value, bool) else type(value).__name__).lower()
    if isinstance(value, dict | tuple):
        words = dict.fromkeys(str(item) for item in value)
        return ", ".join(words) if isinstance(value, dict) else " ".join(words)
    if isinstance(value, BaseModel):
        return "{}"
    if isinstance(value, int | float):
        return f"{value:g}"
    if isinstance(value, Enum):
        return str(value.value)
    return str(getattr(value, "text", "") or getattr(value, "css", lambda: value)())


def _example(info: FieldInfo) -> str:
    (example,) = info.examples or [""]
    if isinstance(example, str) and not re.search(r"(^|\s)#", example):
        return f"`{example}`"
    # In JSON, as YAML would take a colour for a comment.
    return f"`{json.dumps(example)}`"


if __name__ == "__main__":
    import sys

    sys.stdout.write(reference())
