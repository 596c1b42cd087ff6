"""Headers: their parts, and the looks that they wear along the scroll."""

from __future__ import annotations

from typing import Annotated, Any, Literal, Self

from pydantic import BeforeValidator, Field, model_validator

from rising_lantern.css.colors import BLACK, TRANSPARENT
from rising_lantern.css.lengths import px
from rising_lantern.css.shadows import Shadow, parse_shadows
from rising_lantern.plan.base import (
    AnyLength,
    ColorValue,
    Entry,
    Extent,
    Name,
    Weight,
    named_css_value,
    wrong,
)
from rising_lantern.plan.changes import Blend, Change, ChangeValue, Cut
from rising_lantern.plan.conditions import Show
from rising_lantern.plan.thresholds import ThresholdValue

ShadowValue = Annotated[
    tuple[Shadow, ...], named_css_value(parse_shadows, tuple, "0 2px 12px #0003")
]


def _one_or_many(value: Any) -> Any:
    return [value] if isinstance(value, str) else value


Words = Annotated[tuple[Annotated[str, Field(max_length=200)], ...], BeforeValidator(_one_or_many)]


class Part(Entry):
    """Something that stands in a header: a text or row of texts, or a picture."""

    text: Annotated[Words | None, Field(description="A text, or several side by side.")] = None
    image: Annotated[str | None, Field(description="A picture file in the plan's folder.")] = None
    alt: Annotated[str, Field(max_length=500, description="What a picture stands for.")] = ""
    width: Annotated[Extent | None, Field(description="Width of a picture.")] = None
    size: Annotated[Extent, Field(description="Font size of a text.")] = px(16)
    font: Annotated[Name, Field(description="A font of the plan, or sans or serif.")] = "sans"
    weight: Annotated[Weight, Field(description="As CSS font-weight.")] = 400
    color: Annotated[ColorValue | None, Field(description="Its own colour; else the look's.")] = (
        None
    )
    gap: Annotated[Extent, Field(description="Room between several texts.")] = px(28)
    side: Annotated[Literal["start", "center", "end"], Field(description="Where it stands.")] = (
        "start"
    )

    @model_validator(mode="after")
    def _check(self) -> Self:
        if (self.image is None) == (self.text is None):
            problem = "has both" if self.image else "has neither"
            raise wrong(f"the part {problem} a text and an image", "give it exactly one of the two")
        return self


class PartLook(Entry):
    """What a look changes in one part."""

    image: Annotated[str | None, Field(description="Another picture.")] = None
    width: Annotated[Extent | None, Field(description="Another width of the picture.")] = None
    size: Annotated[Extent | None, Field(description="Another font size.")] = None
    color: Annotated[ColorValue | None, Field(description="Another colour.")] = None


class Look(Entry):
    """One appearance of a header. What it leaves out is as the header has it."""

    from_: Annotated[
        ThresholdValue | None, Field(description="Where it starts; the first look has none.")
    ] = None
    back: Annotated[
        ThresholdValue | None, Field(description="Where it is given up going back up.")
    ] = None
    background: ColorValue | None = None
    color: Annotated[ColorValue | None, Field(description="Colour of texts.")] = None
    height: Extent | None = None
    shadow: Annotated[ShadowValue | None, Field(description="As CSS box-shadow.")] = None
    parts: dict[Name, PartLook] = Field(default_factory=dict)
    change: Annotated[
        ChangeValue | None, Field(description="How this look comes; else as the header has it.")
    ] = None


class Header(Entry):
    """A header and the looks that it wears."""

    position: Literal["static", "absolute", "fixed", "sticky"] = "fixed"
    z: Annotated[int, Field(ge=-1_000_000, le=1_000_000, description="As CSS z-index.")] = 10
    height: Extent = px(80)
    top: Annotated[AnyLength, Field(description="How far below the screen's edge it stands.")] = px(
        0
    )
    hold_space: Annotated[
        bool, Field(description="Keep the first look's height in the flow, by a margin below.")
    ] = False
    padding: Annotated[Extent, Field(description="Room at its left and right end.")] = px(32)
    gap: Annotated[Extent, Field(description="Room between its parts.")] = px(28)
    background: ColorValue = TRANSPARENT
    color: Annotated[ColorValue, Field(description="Colour of texts.")] = BLACK
    shadow: Annotated[ShadowValue, Field(description="As CSS box-shadow.")] = ()
    parts: dict[Name, Part] = Field(default_factory=dict)
    looks: dict[Name, Look] = Field(default_factory=dict)
    change: ChangeValue = Cut()
    show: Annotated[Show, Field(description="The pages and screens that it is on.")] = Show()

    @model_validator(mode="after")
    def _check(self) -> Self:
        for index, (name, look) in enumerate(self.looks.items()):
            if index == 0 and look.from_:
                raise wrong(
                    f"the first look '{name}' has a 'from'",
                    "put a look without one before it: that is what the header wears at the top",
                )
            if index and not look.from_:
                raise wrong(f"the look '{name}' has no 'from'", "say from where it is worn")
            if look.back and isinstance(self.change_to(name), Blend):
                raise wrong(
                    f"the look '{name}' has both a blend and a 'back'",
                    "leave 'back' out: a blend runs back along the same stretch of scroll",
                )
            self._check_parts(name, look)
        return self

    def _check_parts(self, name: str, look: Look) -> None:
        for part_name, change in look.parts.items():
            part = self.parts.get(part_name)
            if part is None:
                known = ", ".join(self.parts) or "none yet"
                raise wrong(
                    f"the look '{name}' names a part '{part_name}' that the header does not have",
                    f"its parts are: {known}",
                )
            if change.image and not part.image:
                raise wrong(
                    f"the look '{name}' gives the text '{part_name}' an image",
                    "give the part an image instead of a text, or the look a colour",
                )

    def change_to(self, look: str) -> Change:
        """How a look comes."""
        return self.looks[look].change or self.change
