"""What all entries of a plan share: frozen models, and CSS values as their fields."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from difflib import get_close_matches
from enum import Enum
from functools import lru_cache
from typing import Annotated, Any, Literal, TypeVar

from pydantic import (
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    Strict,
    StringConstraints,
    ValidationInfo,
)
from pydantic_core import PydanticCustomError, core_schema

from rising_lantern.css.borders import Border, parse_border
from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.insets import Insets, parse_even_insets, parse_insets
from rising_lantern.css.length_parsing import parse_length
from rising_lantern.css.lengths import Length, Term
from rising_lantern.css.selectors import Selector, parse_selector
from rising_lantern.css.shadows import Shadow, parse_shadows
from rising_lantern.css.syntax import CssError
from rising_lantern.css.times import parse_time
from rising_lantern.errors import listed, quoted

Value = TypeVar("Value")
_KEPT = 4096  # values of one kind that are kept parsed: a plan says the same ones many times


class Entry(BaseModel):
    """An object of the plan. Its keys are written with hyphens; unknown ones are faults."""

    model_config = ConfigDict(
        frozen=True,
        extra="forbid",
        arbitrary_types_allowed=True,
        alias_generator=lambda name: name.rstrip("_").replace("_", "-"),
        validate_by_name=False,
        validate_by_alias=True,
    )


def key(  # noqa: PLR0913 - what a key has, each by its own name
    description: str,
    example: Any,
    default: Any = ...,
    *,
    default_factory: Callable[[], Any] | None = None,
    ge: float | None = None,
    gt: float | None = None,
    le: float | None = None,
    min_length: int | None = None,
    max_length: int | None = None,
    pattern: str | None = None,
    alias: str | None = None,
) -> Any:
    """A key of the plan: what it means, an example, and what holds where it is left out.

    Numbers have to be finite; bounds are as pydantic names them.
    """
    limits: dict[str, Any] = {
        name: value
        for name, value in (
            ("ge", ge),
            ("gt", gt),
            ("le", le),
            ("min_length", min_length),
            ("max_length", max_length),
            ("pattern", pattern),
            ("default_factory", default_factory),
            ("alias", alias),
        )
        if value is not None
    }
    if default is not ... and default_factory is None:
        limits["default"] = default
    if {"ge", "gt", "le"} & set(limits):
        limits["allow_inf_nan"] = False
    return Field(description=description, examples=[example], **limits)


def like(kind: str, example: str, kept: str = "") -> Any:
    """The key by which an entry takes over another one; it is written out before it is read."""
    description = f"The {kind} that it takes over; what is written here counts instead. {kept}"
    return key(description.strip(), example, None)


Language = Annotated[
    str, StringConstraints(pattern=r"^[A-Za-z]{2,8}(-[A-Za-z0-9]{1,8})*$", max_length=35)
]


def any_of(*keys: str) -> dict[str, Any]:
    """What a JSON Schema says of an object that needs one of some keys."""
    return {"anyOf": [{"required": [key]} for key in keys]}


def nearest(word: str, known: Iterable[str]) -> str:
    """What to say of a name that is not known: the nearest one, or all."""
    names = list(known)
    close = get_close_matches(word, names, 1, cutoff=0.55)
    if close:
        return f"did you mean {quoted(close[0])}?"
    return f"known: {listed(names)}" if names else "there are none yet"


def wrong(problem: str, remedy: str, offset: int = 0) -> PydanticCustomError:
    """A fault for pydantic to collect: what is wrong, what would be right, and where in a text."""
    context = {"problem": problem, "remedy": remedy, "offset": offset}
    return PydanticCustomError("plan", "{problem}; {remedy}", context)


def missing(key: str) -> PydanticCustomError:
    """A fault for pydantic to collect: a key that is needed in this case is not there."""
    return PydanticCustomError("plan_missing", "{key} is missing", {"key": key})


AS_TEXT = "write it as text"
"""The remedy for a value that is not text; replaced by the key's own example where there is one."""


def as_text(value: object) -> str:
    """A scalar of the plan as CSS text; YAML reads ``0`` and ``.5`` as numbers."""
    if isinstance(value, str):
        return value
    if isinstance(value, int | float) and not isinstance(value, bool):
        return repr(value)
    raise wrong(f"a CSS value is needed here, not {kind_of(value)}", AS_TEXT)


def kind_of(value: object) -> str:
    """What a YAML author would call a value."""
    names = {dict: "a mapping", list: "a list", bool: "true or false", type(None): "nothing"}
    return names.get(type(value), "a number" if isinstance(value, int | float) else "text")


def names_of(info: ValidationInfo) -> dict[str, Color]:
    """The colours that the plan names, as far as they have been read."""
    names: dict[str, Color] = (info.context or {}).get("colors", {})
    return names


def read_css(parse: Callable[[str], Value], value: object) -> Value:
    """Parse a CSS value, turning its fault into one that pydantic collects."""
    try:
        return parse(as_text(value))
    except CssError as error:
        raise wrong(error.problem, error.remedy, error.offset) from None


@dataclass(frozen=True, slots=True)
class CssField:
    """Tells pydantic how a field reads its value, and a JSON Schema what may stand there.

    Attributes:
        validate: Gives the value, or raises a fault for pydantic to collect.
        example: A value as an author writes it.
    """

    validate: Callable[[Any, ValidationInfo], Any]
    example: str

    def __get_pydantic_core_schema__(self, _source: Any, _handler: Any) -> core_schema.CoreSchema:
        return core_schema.with_info_plain_validator_function(self.validate)

    def __get_pydantic_json_schema__(self, _schema: Any, _handler: Any) -> dict[str, Any]:
        return {"type": ["string", "number"], "examples": [self.example]}


def css_value(parse: Callable[[str], Any], kind: type | tuple[type, ...], example: str) -> CssField:
    """A field type for a CSS value that needs no colour names of the plan."""
    cached = lru_cache(maxsize=_KEPT)(parse)

    def validate(value: object, _info: ValidationInfo) -> Any:
        return value if isinstance(value, kind) else read_css(cached, value)

    return CssField(validate, example)


def named_css_value(
    parse: Callable[..., Any], kind: type | tuple[type, ...], example: str
) -> CssField:
    """A field type for a CSS value in which colours of the plan may be named."""

    def validate(value: object, info: ValidationInfo) -> Any:
        if isinstance(value, kind):
            return value
        known: dict[Any, Any] = (info.context or {}).get("parsed", {})
        found = known.get((parse, str(value)))
        if found is None:
            found = read_css(lambda text: parse(text, names_of(info)), value)
            known[parse, str(value)] = found
        return found

    return CssField(validate, example)


def parse_extent(text: str) -> Length:
    """Parse a length that is not negative.

    Raises:
        CssError: If it is not a length, or negative.
    """
    length = parse_length(text)
    if length.is_negative:
        raise CssError(f"{quoted(text)} is negative", "write zero or more")
    return length


def parse_font_size(text: str) -> Length:
    """Parse a font size.

    Raises:
        CssError: If it is not a length, negative or too large.
    """
    length = parse_extent(text)
    if isinstance(length.expression, Term) and length.expression.value > MOST_FONT_PX:
        raise CssError(
            f"{quoted(text)} is too large a font size", f"write at most {MOST_FONT_PX}px"
        )
    return length


MOST_FONT_PX = 2000
"""The largest font size; what is larger on some screen is reduced to it."""

FontSize = Annotated[Length, css_value(parse_font_size, Length, "18px")]
"""The size of a text."""

AnyLength = Annotated[Length, css_value(parse_length, Length, "-20px")]
"""A length or percentage of any sign."""

Extent = Annotated[Length, css_value(parse_extent, Length, "320px")]
"""A length that is not negative."""


def parse_radius(text: str) -> Length:
    """Parse a radius, which is one length for all corners, whatever the size of the box.

    Raises:
        CssError: If it is not a length, negative or in percent.
    """
    length = parse_extent(text)
    if "%" in length.units:
        raise CssError(
            f"{quoted(text)} is a share of the box", "write a length, such as 999px for round ends"
        )
    return length


Radius = Annotated[Length, css_value(parse_radius, Length, "6px")]
"""The radius of corners."""


class Auto(Enum):
    """A height that follows from the content."""

    AUTO = "auto"

    def css(self) -> str:
        """The value as CSS."""
        return self.value


def parse_height(text: str) -> Length | Auto:
    """Parse a length that is not negative, or ``auto``.

    Raises:
        CssError: If it is neither.
    """
    return Auto.AUTO if text.strip().lower() == "auto" else parse_extent(text)


HeightValue = Annotated[Length | Auto, css_value(parse_height, (Length, Auto), "100vh")]
"""A height."""

ColorValue = Annotated[Color, named_css_value(parse_color, Color, "#16213e")]
"""A colour of CSS Color 4, or the name of one of the plan's."""

InsetsValue = Annotated[Insets, css_value(parse_insets, Insets, "72px 6vw")]
"""A padding."""

EvenInsetsValue = Annotated[Insets, css_value(parse_even_insets, Insets, "12px 40px")]
"""A padding that is the same on the left and right."""

ShadowValue = Annotated[
    tuple[Shadow, ...], named_css_value(parse_shadows, tuple, "0 2px 12px #0003")
]
"""Shadows, the topmost first."""

BorderValue = Annotated[Border, named_css_value(parse_border, Border, "2px solid #16213e")]
"""A solid border."""

SelectorValue = Annotated[Selector, css_value(parse_selector, Selector, "main > .hero")]
"""A selector of the author's own site."""

TimeValue = Annotated[float, css_value(parse_time, float, "300ms")]
"""A time, in milliseconds."""

Name = Annotated[str, StringConstraints(pattern=r"^[A-Za-z][A-Za-z0-9_-]*$", max_length=60)]
"""A name that the author gives: a letter, then letters, digits, - and _."""


def _whole(value: object) -> object:
    return int(value) if isinstance(value, float) and value.is_integer() else value


# What YAML reads as true is not taken for 1, nor a quoted number for a number.
Whole = Annotated[int, Strict(), BeforeValidator(_whole)]
"""A whole number; ``2.0`` is one as well, as JSON Schema has it."""

Number = Annotated[float, Strict()]
"""A number, and nothing that can be taken for one."""

Flag = Annotated[bool, Strict()]
"""True or false, and nothing that can be taken for them."""

Tone = Literal["dark", "light"]
"""What something is to a header over it."""

Weight = Annotated[int, Field(ge=1, le=1000), Strict(), BeforeValidator(_whole)]
"""A ``font-weight`` (CSS Fonts 4, 2.4)."""
