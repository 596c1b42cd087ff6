"""Pages and their sections."""

from __future__ import annotations

from typing import Annotated, Any, Self

from pydantic import BeforeValidator, ConfigDict, StringConstraints, model_validator

from rising_lantern.css.bidi import Direction
from rising_lantern.css.colors import BLACK, WHITE, Color
from rising_lantern.css.lengths import Length, percent
from rising_lantern.errors import quoted
from rising_lantern.plan.models.base import (
    Auto,
    BorderValue,
    ColorValue,
    Entry,
    Extent,
    HeightValue,
    Language,
    Name,
    SelectorValue,
    Tone,
    Whole,
    any_of,
    key,
    like,
    missing,
    wrong,
)
from rising_lantern.plan.models.content import Content, Flowing, LinkColorsValue
from rising_lantern.plan.models.layers import Layer

_FLOWING = tuple(Flowing.model_fields)


class Section(Flowing):
    """A part of a page, as wide as the screen unless it is boxed."""

    model_config = ConfigDict(json_schema_extra=any_of("height", "min-height", *_FLOWING))

    like: str | None = like("section of its page, or PAGE.SECTION of another one,", "hero")

    height: HeightValue = key(
        "Height, or 'auto' for that of the content that flows; percentages are of the screen's "
        "height. It can be left out where content flows.",
        "100vh",
        Auto.AUTO,
    )
    min_height: Extent | None = key("With 'height: auto', the least height.", "60vh", None)
    overlap: Extent | None = key(
        "How far it lies over the section above, or under it with a lower 'z'; at most the height "
        "of either. Percentages are of the screen's height.",
        "80px",
        None,
    )
    width: Extent = key("Width.", "1100px", percent(100))
    background: ColorValue | None = key("A colour under all of its layers.", "#0b1026", None)
    border: BorderValue | None = key("As CSS border.", "2px solid #16213e", None)
    z: Whole = key("As CSS z-index.", 5, 0, ge=-1_000_000, le=1_000_000)
    tone: Tone | None = key(
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
        "Texts, pictures and boxes over the layers.", [{"text": "Saltmere"}], (), max_length=200
    )

    @model_validator(mode="after")
    def _check(self) -> Self:
        if isinstance(self.height, Length):
            if self.min_height is not None:
                raise wrong(
                    "the section has both a height and a min-height",
                    "keep one, or write 'height: auto'",
                )
        elif not self.model_fields_set & {"height", "min_height", *_FLOWING}:
            raise missing("height")
        return self

    @property
    def is_auto(self) -> bool:
        """Whether its height follows from what flows in it."""
        return self.height is Auto.AUTO

    @property
    def flows(self) -> bool:
        """Whether content without a place of its own flows."""
        return self.is_auto or bool(self.padding or self.gap or self.columns)

    @property
    def all_layers(self) -> tuple[Layer, ...]:
        """Its layers, and below them its screenshot, as wide as it is, from its upper edge on."""
        if self.picture is None:
            return self.layers
        screenshot = {"image": self.picture, "size": "100% auto", "position": "0 0"}
        return (*self.layers, Layer.model_validate(screenshot))


PagePath = Annotated[str, StringConstraints(pattern=r"^/", max_length=500)]


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

    like: str | None = like("page", "home", "Paths are never taken over.")

    path: PagePath | None = key("Its path on the site; by default its name.", "/visit", None)
    paths: tuple[PagePath, ...] = key(
        "The paths that it stands for, in place of 'path'; * is any run within a path, ** any at "
        "all and ? one character.",
        ["/moorings/*", "/hours"],
        (),
        max_length=1000,
    )
    kind: Name | None = key("The kind of page, which 'show' of a header can name.", "article", None)
    title: str | None = key("The title in the browser.", "How to find us", None, max_length=300)
    description: str | None = key(
        "What it is about, in a sentence or two, for search engines; by default its first "
        "paragraph.",
        "Four hundred lanterns on the river, and how to see them.",
        None,
        max_length=500,
    )
    scroll_container: SelectorValue | None = key(
        "The CSS selector, on your own site, of the element that scrolls in place of the window.",
        "#app > .scroller",
        None,
    )
    lang: Language | None = key("Its language; by default the site's.", "ar", None)
    dir: Direction | None = key("Its direction; by default the site's.", "rtl", None)
    color: ColorValue = key("Colour of its texts.", "#16213e", BLACK)
    link_color: LinkColorsValue | None = key(
        "Colours of the links in its texts; by default those of the texts.", "#7b3f00", None
    )
    background: Annotated[
        PageBackground,
        BeforeValidator(_short_background, json_schema_input_type=str | PageBackground),
    ] = key("What is behind its sections.", {"color": "#fdf6e3"}, PageBackground())
    sections: dict[Name, Section] = key(
        "Its sections by name, from top to bottom.",
        {"hero": {"height": "100vh"}},
        min_length=1,
    )

    @property
    def layer_count(self) -> int:
        """How many layers it has, by which the time of working on it is guessed."""
        own = sum(len(section.layers) for section in self.sections.values())
        return own + len(self.background.layers)

    def paths_as(self, name: str) -> tuple[str, ...]:
        """The paths that it stands for, globs among them, at least one.

        Args:
            name: The page's name, after which it is called where it has none.
        """
        return self.paths or (self.path or f"/{name}",)

    @model_validator(mode="after")
    def _check(self) -> Self:
        if self.path is not None and self.paths:
            raise wrong("the page has both a path and paths", "write all of them in 'paths'")
        first, section = next(iter(self.sections.items()))
        if section.overlap is not None:
            raise wrong(
                f"section {quoted(first)} is the first one, and has nothing to overlap",
                "remove its 'overlap'",
            )
        return self
