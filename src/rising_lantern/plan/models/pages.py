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
    SelectorValue,
    Whole,
    key,
)
from rising_lantern.plan.models.content import Content
from rising_lantern.plan.models.layers import Layer


class Section(Entry):
    """A part of a page, as wide as the screen unless it is boxed."""

    height: Extent = key("Height; percentages are of the screen's height.", "100vh")
    width: Extent = key("Width.", "1100px", percent(100))
    background: ColorValue | None = key("A colour under all of its layers.", "#0b1026", None)
    border: BorderValue | None = key("As CSS border.", "2px solid #16213e", None)
    z: Whole = key("As CSS z-index.", 5, 0, ge=-1_000_000, le=1_000_000)
    tone: Literal["dark", "light"] | None = key(
        "Its tone, by which a header over it can choose its look.", "dark", None
    )
    selector: SelectorValue | None = key("Its CSS selector on your own site.", "main > .hero", None)
    picture: str | None = key(
        "A screenshot of what the section already shows on your site.", "photo.png", None
    )
    layers: tuple[Layer, ...] = key(
        "Pictures and fills, topmost first.", [{"fill": "#0008"}], (), max_length=50
    )
    content: tuple[Content, ...] = key(
        "Texts over the layers.", [{"text": "Saltmere"}], (), max_length=200
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
    kind: Name | None = key("The kind of page, which 'show' of a header can name.", "article", None)
    title: str | None = key("The title in the browser.", "How to find us", None, max_length=300)
    background: Annotated[
        PageBackground,
        BeforeValidator(_short_background, json_schema_input_type=str | PageBackground),
    ] = key("What is behind its sections.", {"color": "#fdf6e3"}, PageBackground())
    sections: dict[Name, Section] = key(
        "Its sections by name, from top to bottom.",
        {"hero": {"height": "100vh"}},
        min_length=1,
    )
