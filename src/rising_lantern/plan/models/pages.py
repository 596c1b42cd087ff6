"""Pages and their sections."""

from __future__ import annotations

from typing import Annotated, Any, Literal

from pydantic import BeforeValidator

from rising_lantern.css.colors import WHITE, Color
from rising_lantern.css.lengths import percent
from rising_lantern.plan.models.base import (
    BorderValue,
    ColorValue,
    Entry,
    Extent,
    Name,
    Whole,
    key,
)
from rising_lantern.plan.models.content import Content
from rising_lantern.plan.models.layers import Layer


class Section(Entry):
    """A part of a page, as wide as the screen unless it is boxed."""

    height: Extent = key("How high it is; vh units and % count the screen.", "100vh")
    width: Extent = key("How wide it is.", "1100px", percent(100))
    background: ColorValue | None = key("A colour under all of its layers.", "#0b1026", None)
    border: BorderValue | None = key("As CSS border.", "2px solid #16213e", None)
    z: Whole = key("As CSS z-index.", 5, 0, ge=-1_000_000, le=1_000_000)
    tone: Literal["dark", "light"] | None = key(
        "What it is to a header over it, which can choose its look by that.", "dark", None
    )
    selector: str | None = key(
        "The CSS selector that it has on your own site.", "main > .hero", None, max_length=300
    )
    picture: str | None = key(
        "A screenshot that stands for what the section already shows.", "photo.png", None
    )
    layers: tuple[Layer, ...] = key(
        "Pictures and fills, topmost first.", [{"fill": "#0008"}], (), max_length=50
    )
    content: tuple[Content, ...] = key(
        "What stands over them.", [{"text": "Saltmere"}], (), max_length=200
    )

    @property
    def all_layers(self) -> tuple[Layer, ...]:
        """Its layers, and below them its screenshot, as wide as it is, from its upper edge on."""
        if self.picture is None:
            return self.layers
        screenshot = {"image": self.picture, "size": "100% auto", "position": "0 0"}
        return (*self.layers, Layer.model_validate(screenshot))


class PageBackground(Entry):
    """What a page has behind its sections."""

    color: ColorValue = key("Its colour.", "#fdf6e3", WHITE)
    layers: tuple[Layer, ...] = key(
        "Pictures and fills over the colour, topmost first.",
        [{"image": "photo.png", "attachment": "fixed"}],
        (),
        max_length=50,
    )


def _short_background(value: Any) -> Any:
    return {"color": value} if isinstance(value, str | Color) else value


class Page(Entry):
    """A page: its place on the site, and its sections from top to bottom."""

    path: str | None = key(
        "Its path on the site; by default its name.", "/visit", None, pattern=r"^/", max_length=500
    )
    kind: Name | None = key("What kind of page it is, for show.", "article", None)
    title: str | None = key("What the browser calls it.", "How to find us", None, max_length=300)
    background: Annotated[
        PageBackground,
        BeforeValidator(_short_background, json_schema_input_type=str | PageBackground),
    ] = key("What it has behind its sections.", {"color": "#fdf6e3"}, PageBackground())
    sections: dict[Name, Section] = key(
        "Its sections by their names, from top to bottom.",
        {"hero": {"height": "100vh"}},
        min_length=1,
    )
