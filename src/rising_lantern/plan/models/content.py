"""Content: what stands over a section's background, placed or flowing."""

from __future__ import annotations

import re
from typing import Annotated, Any, Literal, Self

from pydantic import BeforeValidator, ConfigDict, ValidationInfo, model_validator

from rising_lantern.css.backgrounds import CENTER, Position
from rising_lantern.css.bidi import Direction
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import Color
from rising_lantern.css.easings import EASE
from rising_lantern.css.grids import Gap, GridTrack, parse_gap, parse_tracks
from rising_lantern.css.insets import Insets
from rising_lantern.css.lengths import Length, percent, px
from rising_lantern.css.shadows import Shadow, parse_shadows, parse_text_shadows
from rising_lantern.errors import listed, quoted
from rising_lantern.plan.models.addresses import AddressValue
from rising_lantern.plan.models.base import (
    AnyLength,
    BorderValue,
    ColorValue,
    CssField,
    Entry,
    Extent,
    Flag,
    InsetsValue,
    Language,
    Name,
    Number,
    Radius,
    ShadowValue,
    TimeValue,
    Weight,
    Whole,
    any_of,
    css_value,
    key,
    named_css_value,
    wrong,
)
from rising_lantern.plan.models.layers import EasingValue, PositionValue
from rising_lantern.plan.models.sizes import FontSizeValue, OneLine

_text_shadows = named_css_value(parse_text_shadows, tuple, "0 1px 4px #0008")
_box_shadows = named_css_value(parse_shadows, tuple, "0 2px 12px #0003")


def _shadows(value: Any, info: ValidationInfo) -> Any:
    """Shadows of a picture's box, or of a text's letters, which have no spread."""
    kind = _box_shadows if info.data.get("image") is not None else _text_shadows
    return kind.validate(value, info)


ContentShadowValue = Annotated[tuple[Shadow, ...], CssField(_shadows, "0 1px 4px #0008")]
GapValue = Annotated[Gap, css_value(parse_gap, Gap, "24px")]
TracksValue = Annotated[tuple[GridTrack, ...], css_value(parse_tracks, tuple, "1fr 2fr")]

_NO_INSETS = Insets(px(0), px(0), px(0), px(0))
_NO_GAP = Gap(px(0), px(0))
_SPACES = re.compile(r"[ \t\n\r\f]+")
PLACED_WIDTH = percent(88)
"""The largest width of what is placed, where it has none of its own."""


class Panel(Entry):
    """A box behind a text."""

    color: ColorValue = key("Its colour, which may have alpha.", "rgb(253 246 227 / .9)")
    padding: Extent = key("Room around the text.", "40px", px(24))
    radius: Radius = key("Radius of its corners.", "6px", px(0))


class Enter(Entry):
    """How a text arrives when it comes onto the screen."""

    x: AnyLength = key("Distance to the right of its place from which it comes.", "-40px", px(0))
    y: AnyLength = key("Distance below its place from which it comes.", "30px", px(0))
    opacity: Number = key("Opacity at first, 0 to 1.", 0, 1.0, ge=0, le=1)
    time: TimeValue = key("Duration.", "600ms", 400.0)
    easing: EasingValue = key("Easing.", "cubic-bezier(.2, 1.4, .4, 1)", EASE)


class Flowing(Entry):
    """What content flows in."""

    padding: InsetsValue | None = key("As CSS padding: room around what flows.", "72px 6vw", None)
    gap: GapValue | None = key("As CSS gap, in lengths: room between what flows.", "24px", None)
    columns: TracksValue = key(
        "As CSS grid-template-columns, in fr and lengths: columns in which content flows.",
        "1fr 2fr",
        (),
    )

    @property
    def insets(self) -> Insets:
        """Its padding, which may be none."""
        return self.padding or _NO_INSETS

    @property
    def gaps(self) -> Gap:
        """Its gaps, which may be none."""
        return self.gap or _NO_GAP


class Card(Flowing):
    """A box with content of its own, which flows in it from top to bottom or in columns."""

    background: ColorValue | None = key("Its colour, which may have alpha.", "#fdf6e3", None)
    color: ColorValue | None = key(
        "Colour of its texts; by default that of what it is in.", "#16213e", None
    )
    border: BorderValue | None = key("As CSS border.", "1px solid #16213e", None)
    radius: Radius = key("Radius of its corners.", "12px", px(0))
    shadow: ShadowValue = key("As CSS box-shadow.", "0 2px 12px #0003", ())
    content: tuple[Content, ...] = key(
        "What is in it; it flows.", [{"text": "Every day from ten"}], (), max_length=100
    )


class LinkColors(Entry):
    """Colours of links: in short the colour, or these keys."""

    color: ColorValue = key("Their colour.", "#7b3f00")
    visited: ColorValue | None = key(
        "The same once a link has been followed; by default the colour.", "#4a2545", None
    )
    focus: ColorValue | None = key(
        "The same while a link has the focus; by default the colour.", "#16213e", None
    )


def _short_link_colors(value: Any) -> Any:
    return {"color": value} if isinstance(value, str | Color) else value


LinkColorsValue = Annotated[
    LinkColors, BeforeValidator(_short_link_colors, json_schema_input_type=str | LinkColors)
]


class ButtonState(Entry):
    """What a button changes while something is done with it."""

    color: ColorValue | None = key("Colour of its text.", "#fdf6e3", None)
    background: ColorValue | None = key("Its opaque background.", "#16213e", None)

    @model_validator(mode="after")
    def _check(self) -> Self:
        if self.background is not None and self.background.alpha < 1:
            raise wrong("the background lets something through", "make it opaque")
        return self


class Button(Entry):
    """What makes a text a button: in short where it leads, or these keys."""

    to: AddressValue = key("A page of the plan, a path or an address.", "/tickets")
    hover: ButtonState | None = key(
        "While the pointer is over it.", {"background": "#f7b97c"}, None
    )
    focus: ButtonState | None = key("While it has the focus.", {"background": "#f7b97c"}, None)
    pressed: ButtonState | None = key("While it is pressed.", {"color": "#0b1026"}, None)

    @property
    def states(self) -> dict[str, ButtonState]:
        """Those of its states in which it differs, by their names."""
        known = {"hover": self.hover, "focus": self.focus, "pressed": self.pressed}
        return {name: state for name, state in known.items() if state is not None}


ButtonValue = Annotated[
    Button,
    BeforeValidator(
        lambda value: {"to": value} if isinstance(value, str) else value,
        json_schema_input_type=str | Button,
    ),
]


class Content(Entry):
    """A text, a picture or a box over a section's layers. Exactly one of the three is given.

    What has an 'at' is placed there. Without one it flows, in a section that has a padding, a gap,
    columns, a min-height or 'height: auto'; in other sections it is placed in the middle.
    """

    model_config = ConfigDict(json_schema_extra=any_of("text", "image", "box"))

    text: str | None = key(
        "A text; its line breaks are kept.", "The river", None, min_length=1, max_length=5000
    )
    image: str | None = key("A picture file in the plan's folder.", "photo.png", None)
    box: Card | None = key("A box with content of its own.", {"padding": "24px"}, None)
    alt: str = key("Of a picture: what it shows, in words.", "Lanterns", "", max_length=500)
    size: FontSizeValue = key(
        "Font size; 'one-line' makes the text as large as one line allows, 'one-line 240px' no "
        "larger than that.",
        "48px",
        px(18),
    )
    color: ColorValue | None = key(
        "Colour of the text; by default that of its box or of the page.", "#16213e", None
    )
    links: dict[str, AddressValue] = key(
        "Words of the text that are links, each with a page of the plan, a path or an address.",
        {"river": "/lanterns"},
        {},
        max_length=50,
    )
    link_color: LinkColorsValue | None = key(
        "Colours of the links; by default those of the page.", "#7b3f00", None
    )
    underline: Flag = key("Whether links are underlined.", False, True)
    button: ButtonValue | None = key(
        "Makes the text, with its panel, a button that leads somewhere.", "/tickets", None
    )
    lang: Language | None = key("Language of the text; by default the page's.", "he", None)
    dir: Direction | None = key(
        "Direction of the text, as in HTML; by default the page's.", "rtl", None
    )
    font: Name = key("A font of the plan, or sans or serif.", "serif", "sans")
    weight: Weight = key("As CSS font-weight.", 700, 400)
    leading: Number = key("Line height, as a multiple of the font size.", 1.2, 1.4, gt=0, le=10)
    align: Literal["start", "center", "end"] | None = key(
        "Where it stands in its column, and the alignment of the lines of a text; by default "
        "that of 'at', or start.",
        "center",
        None,
    )
    at: PositionValue | None = key(
        "Its position in the section, as CSS background-position.", "50% 40%", None
    )
    width: Extent | None = key(
        "The largest width of a text, or the width of a box; by default 88% of the section where "
        "it is placed, and its whole column where it flows. Of a picture: its width, by default "
        "that of the file, or of its proportions where it has a height; at most its column.",
        "640px",
        None,
    )
    height: Extent | None = key(
        "Of a picture: its height, to which it is cut; by default that of its proportions.",
        "320px",
        None,
    )
    radius: Radius = key("Of a picture: the radius of its corners.", "8px", px(0))
    panel: Panel | None = key("A box behind the text.", {"color": "white"}, None)
    shadow: ContentShadowValue = key(
        "As CSS text-shadow; of a picture as CSS box-shadow.", "0 1px 4px #0008", ()
    )
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
        "Level of a heading, 1 to 6, or 0 for a paragraph; by default texts larger than the rest "
        "of their section are its headings, by their sizes, and the page's first is of level 1.",
        2,
        None,
        ge=0,
        le=6,
    )
    z: Whole = key("As CSS z-index.", 5, 0, ge=-1_000_000, le=1_000_000)
    enter: Enter | None = key("How a text arrives.", {"y": "30px", "opacity": 0}, None)

    @model_validator(mode="after")
    def _check(self) -> Self:
        kinds = [name for name in _OWN if getattr(self, name) is not None]
        if len(kinds) != 1:
            problem = "has several" if kinds else "has none"
            raise wrong(f"the content {problem} of text, image and box", "give it exactly one")
        (kind,) = kinds
        others = {key for name, keys in _OWN.items() if name != kind for key in keys}
        foreign = sorted(self.model_fields_set & (others - _OWN[kind]))
        if foreign:
            article = "an" if kind == "image" else "a"
            raise wrong(f"{article} {kind} has no {quoted(foreign[0])}", "remove it")
        if self.box is not None:
            self._check_box(self.box)
        self._check_links()
        self._check_button()
        if isinstance(self.size, OneLine):
            self._check_line()
        return self

    def _check_box(self, card: Card) -> None:
        for item in card.content:
            nested = sorted(item.model_fields_set & _PLACING)
            if nested:
                raise wrong(
                    f"what is in a box flows, and has no {listed(nested)}",
                    "remove it, or give it to the box",
                )

    def _check_links(self) -> None:
        """The words of links stand in the text, and in no other link."""
        text, taken = collapsed(self.text or ""), list[tuple[int, int]]()
        for words in self.links:
            span = place_of_words(text, words)
            if span is None:
                raise wrong(f"the text has no words {quoted(words)}", "write them as in the text")
            if any(low < span[1] and span[0] < high for low, high in taken):
                raise wrong(f"{quoted(words)} is in another link", "keep one of them")
            taken.append(span)

    def _check_button(self) -> None:
        if self.button is None:
            return
        if self.links:
            raise wrong("a button has no links in it", "keep the button or its links")
        if self.level is not None:
            raise wrong("a button is no heading", "remove 'level', or the button")
        if self.panel is None and any(state.background for state in self.button.states.values()):
            raise wrong("a button without a panel has no background to change", "give it a panel")

    @property
    def spans(self) -> list[tuple[int, int]]:
        """From where to where each link stands in the text with single spaces."""
        text = collapsed(self.text or "")
        found = [place_of_words(text, words) for words in self.links]
        return [span for span in found if span is not None]

    def _check_line(self) -> None:
        """A text that fills its line has no font size that em could be measured in."""
        lengths = [self.width, self.panel.padding if self.panel else None]
        if any(length is not None and "em" in length.units for length in lengths):
            raise wrong(
                "a text of 'size: one-line' cannot have a width or padding in em",
                "write them in px, rem, vw or %",
            )

    @property
    def place(self) -> Position:
        """Where it is placed, where it is placed at all."""
        return self.at or CENTER


_OWN: dict[str, set[str]] = {
    "text": {
        "size",
        "color",
        "links",
        "link_color",
        "underline",
        "button",
        "font",
        "weight",
        "leading",
        "panel",
        "shadow",
        "blend",
        "level",
        "enter",
    },
    "image": {"alt", "height", "radius", "shadow"},
    "box": set(),
}
_PLACING = {"at", "z", "speed", "blend", "enter"}


def collapsed(text: str) -> str:
    """A text with single spaces: those that CSS collapses, which a no-break space is not.

    Source: https://www.w3.org/TR/css-text-3/#white-space-phase-1
    """
    return " ".join(word for word in _SPACES.split(text) if word)


def place_of_words(text: str, words: str) -> tuple[int, int] | None:
    """From where to where some words stand in a text, white space between words taken as one.

    Args:
        text: The text, with single spaces.
        words: The words.
    """
    wanted = collapsed(words)
    start = text.find(wanted) if wanted else -1
    return (start, start + len(wanted)) if start >= 0 else None


def widest(entry: Content, *, flows: bool) -> Length:
    """The width that a text may have, or that a box has."""
    return entry.width or (percent(100) if flows else PLACED_WIDTH)
