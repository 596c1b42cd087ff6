"""Content: what stands over a section's background."""

from __future__ import annotations

from typing import Annotated, Literal

from rising_lantern.css.backgrounds import CENTER
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import BLACK
from rising_lantern.css.easings import EASE
from rising_lantern.css.lengths import percent, px
from rising_lantern.css.shadows import Shadow, parse_text_shadows
from rising_lantern.plan.models.base import (
    AnyLength,
    ColorValue,
    Entry,
    Extent,
    FontSize,
    Name,
    Number,
    TimeValue,
    Weight,
    Whole,
    key,
    named_css_value,
)
from rising_lantern.plan.models.layers import EasingValue, PositionValue

TextShadowValue = Annotated[
    tuple[Shadow, ...], named_css_value(parse_text_shadows, tuple, "0 1px 4px #0008")
]


class Panel(Entry):
    """A box behind a text."""

    color: ColorValue = key("Its colour, which may have alpha.", "rgb(253 246 227 / .9)")
    padding: Extent = key("Room around the text.", "40px", px(24))
    radius: Extent = key("Radius of its corners.", "6px", px(0))


class Enter(Entry):
    """How a text arrives when it comes onto the screen."""

    x: AnyLength = key("Distance to the right of its place from which it comes.", "-40px", px(0))
    y: AnyLength = key("Distance below its place from which it comes.", "30px", px(0))
    opacity: Number = key("Opacity at first, 0 to 1.", 0, 1.0, ge=0, le=1)
    time: TimeValue = key("Duration.", "600ms", 400.0)
    easing: EasingValue = key("Easing.", "cubic-bezier(.2, 1.4, .4, 1)", EASE)


class Content(Entry):
    """A text over a section's layers."""

    text: str = key(
        "The text; its line breaks are kept.", "The river", min_length=1, max_length=5000
    )
    size: FontSize = key("Font size.", "48px", px(18))
    color: ColorValue = key("Colour of the text.", "#16213e", BLACK)
    font: Name = key("A font of the plan, or sans or serif.", "serif", "sans")
    weight: Weight = key("As CSS font-weight.", 700, 400)
    leading: Number = key("Line height, as a multiple of the font size.", 1.2, 1.4, gt=0, le=10)
    align: Literal["start", "center", "end"] | None = key(
        "Alignment of its lines; by default that of 'at'.", "center", None
    )
    at: PositionValue = key("Its position, as CSS background-position.", "50% 40%", CENTER)
    width: Extent = key("Maximum width of its lines.", "640px", percent(88))
    panel: Panel | None = key("A box behind the text.", {"color": "white"}, None)
    shadow: TextShadowValue = key("As CSS text-shadow.", "0 1px 4px #0008", ())
    blend: BlendMode = key("As CSS mix-blend-mode.", "screen", "normal")
    speed: Number = key(
        "Px up the screen per px scrolled: 1 moves with the page; it is where 'at' puts it when "
        "the section is centred on the screen, or as near to that as the page scrolls.",
        1.2,
        1.0,
        ge=-100,
        le=100,
    )
    level: Whole | None = key(
        "Level of a heading, 1 to 6, or 0 for a paragraph; by default the first text of a page is "
        "its heading of level 1.",
        2,
        None,
        ge=0,
        le=6,
    )
    z: Whole = key("As CSS z-index.", 5, 0, ge=-1_000_000, le=1_000_000)
    enter: Enter | None = key("How it arrives.", {"y": "30px", "opacity": 0}, None)
