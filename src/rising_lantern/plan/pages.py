"""Pages and their sections."""

from __future__ import annotations

from typing import Annotated, Any

from pydantic import BeforeValidator, Field

from rising_lantern.css.colors import WHITE
from rising_lantern.plan.base import ColorValue, Entry, Extent, Name
from rising_lantern.plan.content import Content
from rising_lantern.plan.layers import Layer


class Section(Entry):
    """A full-width part of a page."""

    height: Annotated[Extent, Field(description="Height; vh units count the screen.")]
    background: Annotated[
        ColorValue | None, Field(description="A colour under all of its layers.")
    ] = None
    layers: Annotated[
        tuple[Layer, ...], Field(max_length=50, description="Pictures and fills, topmost first.")
    ] = ()
    content: Annotated[
        tuple[Content, ...], Field(max_length=200, description="What stands over them.")
    ] = ()


class PageBackground(Entry):
    """What a page has behind its sections."""

    color: ColorValue = WHITE


def _short_background(value: Any) -> Any:
    return {"color": value} if isinstance(value, str) else value


class Page(Entry):
    """A page: its place on the site, and its sections from top to bottom."""

    path: Annotated[
        str | None, Field(pattern=r"^/", max_length=500, description="Its path on the site.")
    ] = None
    kind: Annotated[Name | None, Field(description="What kind of page it is.")] = None
    title: Annotated[str | None, Field(max_length=300)] = None
    background: Annotated[PageBackground, BeforeValidator(_short_background)] = PageBackground()
    sections: Annotated[dict[Name, Section], Field(min_length=1)]
