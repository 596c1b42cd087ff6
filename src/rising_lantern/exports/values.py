"""Values of the plan as CSS text, as near as possible to how the author wrote them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import tinycss2

from rising_lantern.css.borders import Border
from rising_lantern.css.color_functions import is_computed
from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.gradients import Gradient
from rising_lantern.css.lengths import (
    Expression,
    Extreme,
    Length,
    SafeArea,
    Scaled,
    Sum,
    Term,
)
from rising_lantern.css.numbers import number
from rising_lantern.css.shadows import Shadow
from rising_lantern.css.syntax import Components, Token, written
from rising_lantern.exports.names import Naming
from rising_lantern.layout.header_styles import HeaderLayer
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.models.thresholds import Threshold

# Functions whose colours every browser mixes in sRGB.
_LEGACY = ("rgb", "rgba", "hsl", "hsla", "hwb")
# Words of gradients, which a plan may also call its colours.
_WORDS = frozenset(
    [
        "to",
        "top",
        "bottom",
        "left",
        "right",
        "center",
        "at",
        "from",
        "circle",
        "ellipse",
        "closest-side",
        "closest-corner",
        "farthest-side",
        "farthest-corner",
    ]
)


@dataclass(frozen=True)
class Palette:
    """How colours are written: by the plan's names, or in the author's words.

    Attributes:
        naming: How custom properties are named.
        colors: The plan's colours, by name.
    """

    naming: Naming
    colors: Mapping[str, Color]

    def color(self, color: Color) -> str:
        """A colour as CSS text."""
        name = next((name for name, known in self.colors.items() if known == color), None)
        if name is not None:
            return self.naming.use("color", name)
        return plain_color(color)

    def fill(self, fill: Color | Gradient) -> str:
        """A colour or gradient as CSS text."""
        if isinstance(fill, Color):
            return self.color(fill)
        tokens = Components(fill.text).tokens
        plain = all(_is_legacy(token) for token in _inner(tokens))
        if not fill.text or not plain or _WORDS & set(self.colors):
            return fill.css()
        return self._name_colors(fill.text)

    def border(self, border: Border | None) -> str:
        """A border as CSS text; an invisible one for None."""
        if border is None:
            return "0px solid transparent"
        return f"{border.width.css()} solid {self.color(border.color)}"

    def shadow(self, shadow: Shadow, *, spread: bool = True) -> str:
        """A shadow as CSS text; a text's has no spread."""
        lengths = [shadow.x, shadow.y, shadow.blur]
        if spread and shadow.spread.css() != "0px":
            lengths.append(shadow.spread)
        return " ".join([*(short(length) for length in lengths), self.color(shadow.color)])

    def shadows(self, shadows: tuple[Shadow, ...], *, spread: bool = True) -> str:
        """Shadows as CSS text; an invisible one for none, which others can fade from."""
        if not shadows:
            return "0 0 0 0 transparent" if spread else "none"
        return ", ".join(self.shadow(shadow, spread=spread) for shadow in shadows)

    def _name_colors(self, text: str) -> str:
        """A text with the plan's colours in the places of their names."""
        nodes = tinycss2.parse_component_value_list(text, skip_comments=True)
        return "".join(map(self._token, nodes)).strip()

    def _token(self, token: Token) -> str:
        if token.type == "ident" and token.value in self.colors:
            return self.naming.use("color", token.value)
        if token.type == "function":
            return f"{token.name}({''.join(map(self._token, token.arguments)).strip()})"
        return " " if token.type == "whitespace" else str(tinycss2.serialize([token]))


def plain_color(color: Color) -> str:
    """A colour in the author's words, or in a syntax that every browser mixes in sRGB."""
    if color == TRANSPARENT:
        return "transparent"
    tokens = Components(color.text).tokens if color.text else []
    if tokens and all(_is_legacy(token) for token in tokens):
        return written(tokens)
    red, green, blue, _ = color.bytes
    if color.alpha == 1:
        digits = color.hex()[1:7]
        return f"#{digits[::2] if digits[::2] == digits[1::2] else digits}"
    return f"rgb({red} {green} {blue} / {number(color.alpha)})"


def _is_legacy(token: Token) -> bool:
    if token.type != "function":
        return True
    return token.lower_name in _LEGACY and not is_computed(token)


def _inner(tokens: list[Token]) -> list[Token]:
    """The tokens of the function that a gradient is."""
    return [item for token in tokens for item in getattr(token, "arguments", ())]


def short(length: Length, percent: str = "%") -> str:
    """A length as CSS text, zero without its unit."""
    text = length.css(percent)
    return "0" if text == "0px" else text


def extent(length: Length) -> str:
    """A height as CSS; percentages count the screen, and less than nothing is nothing."""
    text = length.css("vh")
    return text if _is_positive(length.expression) else f"max({text}, 0px)"


def _is_positive(expression: Expression) -> bool:
    """Whether a length can be seen to be no less than nothing on any screen."""
    match expression:
        case Term(value=value):
            return value >= 0
        case SafeArea():
            return True
        case Sum(parts=parts):
            return all(map(_is_positive, parts))
        case Scaled(factor=factor, part=part):
            return factor >= 0 and _is_positive(part)
        case Extreme(name=name, parts=parts):
            return (all if name == "min" else any)(map(_is_positive, parts))
        case _:
            return False


def difference(first: Length, second: Length, percent: str) -> str:
    """One length less another, as CSS text."""
    if second.css(percent) == "0px":
        return first.css(percent)
    inner = (length.css(percent).removeprefix("calc") for length in (first, second))
    return f"calc({' - '.join(inner)})"


def font_size(length: Length) -> str:
    """A font size as CSS that can stand in any length; percentages are of the root's."""
    text = length.css()
    return text if "%" not in text else f"calc({length.css(' * 0.01rem')})"


def placed(layer: Layer | HeaderLayer) -> dict[str, str]:
    """The size and position of a layer's background; a gradient that is to fit fills its area."""
    fit = "100% 100%" if layer.fill and layer.size.fit else layer.size.css()
    return {"background-size": fit, "background-position": layer.position.css()}


def threshold(place: Threshold) -> str:
    """A threshold as the script reads it: the author's words, one space between them."""
    return " ".join(written([token]) for token in Components(place.text).tokens)
