"""Colours: CSS Color 4 and 5, taken to sRGB, and mixed and laid over each other as browsers do."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from difflib import get_close_matches

import tinycss2.color4

from rising_lantern.css.color_functions import Channels, computed, is_computed
from rising_lantern.css.color_spaces import converted
from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import Components, Token, written
from rising_lantern.errors import quoted

_ACCEPTED = (
    "write a colour such as #16213e, rgb(0 0 0 / .4), oklch(60% .1 250) or a name of the plan"
)


@dataclass(frozen=True, slots=True)
class Color:
    """A colour in sRGB, not premultiplied.

    Attributes:
        red, green, blue, alpha: 0 to 1 each.
        text: The author's own words.
    """

    red: float
    green: float
    blue: float
    alpha: float = 1.0
    text: str = field(default="", compare=False)

    @property
    def rgba(self) -> tuple[float, float, float, float]:
        """The four channels, 0 to 1."""
        return self.red, self.green, self.blue, self.alpha

    @property
    def bytes(self) -> tuple[int, int, int, int]:
        """The four channels in 8 bits, rounded half up as browsers do."""
        red, green, blue, alpha = (int(channel * 255 + 0.5) for channel in self.rgba)
        return red, green, blue, alpha

    @property
    def premultiplied_bytes(self) -> tuple[int, int, int, int]:
        """The colour as it is laid over others: each channel times the alpha, in 8 bits."""
        red, green, blue, alpha = self.bytes
        scaled = [(channel * alpha + 127) // 255 for channel in (red, green, blue)]
        return scaled[0], scaled[1], scaled[2], alpha

    def hex(self) -> str:
        """``#rrggbbaa``."""
        return "#" + "".join(f"{channel:02x}" for channel in self.bytes)

    def css(self) -> str:
        """The colour in the legacy syntax, which every browser mixes in sRGB."""
        red, green, blue, _ = self.bytes
        return f"rgba({red}, {green}, {blue}, {number(self.alpha)})"


TRANSPARENT = Color(0.0, 0.0, 0.0, 0.0, "transparent")
BLACK = Color(0.0, 0.0, 0.0, 1.0, "black")
WHITE = Color(1.0, 1.0, 1.0, 1.0, "white")


def parse_color(text: str, names: Mapping[str, Color] | None = None) -> Color:
    """Parse a colour, or the name of one.

    Source: https://www.w3.org/TR/css-color-4/#color-syntax

    Args:
        text: A CSS colour, for example ``#16213e`` or ``oklch(60% .2 260)``.
        names: Colours that the plan names.

    Raises:
        CssError: If the text is not a colour.

    >>> parse_color("rgb(0 0 0 / 40%)").hex()
    '#00000066'
    """
    source = Components(text)
    if len(source.tokens) != 1:
        raise source.error(
            source.tokens[1] if source.tokens else None,
            f"{quoted(text)} is not a single colour",
            _ACCEPTED,
        )
    return color_from(source, source.tokens[0], names or {})


def color_from(source: Components, token: Token, names: Mapping[str, Color]) -> Color:
    """The colour that one token of a text stands for.

    Raises:
        CssError: If it is not valid.
    """
    found = _resolve(token, names)
    text = written([token])
    if isinstance(found, Color):
        return found
    if found == "currentcolor":
        raise source.error(token, "'currentcolor' has no meaning in a plan", _ACCEPTED)
    channels = (
        computed(source, token, lambda inner: _channels(inner, names))
        if is_computed(token)
        else _channels(token, names)
    )
    if channels is None:
        raise source.error(token, f"{quoted(text)} is not a colour", _remedy(token, names))
    red, green, blue = (min(max(channel, 0.0), 1.0) for channel in channels[0])
    return Color(red, green, blue, channels[1], text)


def _resolve(token: Token, names: Mapping[str, Color]) -> Token | Color | None:
    """What tinycss2 makes of a token, or the plan's colour of that name; None for no colour."""
    if token.type == "ident" and token.value in names:
        return names[token.value]
    if is_computed(token):
        return None
    try:
        return tinycss2.color4.parse_color(token)
    except (ValueError, IndexError, TypeError):
        return None


def _remedy(token: Token, names: Mapping[str, Color]) -> str:
    """The nearest name, where a word may be a slip in one."""
    words = list(names) if token.type == "ident" else []
    close = get_close_matches(getattr(token, "value", ""), words, 1) if words else []
    return f"did you mean {quoted(close[0])}?" if close else _ACCEPTED


def is_color(token: Token, names: Mapping[str, Color]) -> bool:
    """Whether a token is a colour: decides where a grammar has alternatives."""
    return is_computed(token) or _resolve(token, names) not in {None, "currentcolor"}


def laid_over(below: Color, above: Color) -> Color:
    """One colour over another one: Compositing and Blending 1, section 5.1.

    Source: https://www.w3.org/TR/compositing-1/#porterduffcompositingoperators_srcover
    """
    if below.alpha == 0 or above.alpha == 1:
        return above
    rest = below.alpha * (1 - above.alpha)
    alpha = above.alpha + rest
    shares = zip(below.rgba[:3], above.rgba[:3], strict=True)
    red, green, blue = ((one * rest + other * above.alpha) / alpha for one, other in shares)
    return Color(red, green, blue, alpha)


def mix(first: Color, second: Color, progress: float) -> Color:
    """A colour between two, premultiplied in sRGB (CSS Color 4, 12.3), as transitions mix.

    Source: https://www.w3.org/TR/css-color-4/#interpolation

    Args:
        first: The colour at progress 0.
        second: The colour at progress 1.
        progress: The eased progress; may overshoot 0..1, and is then clamped per channel.
    """
    if progress == 0:
        return first
    if progress == 1:
        return second
    return Premultiplied.of(first).mixed(Premultiplied.of(second), progress).color()


@dataclass(frozen=True, slots=True)
class Premultiplied:
    """A colour in sRGB as it is mixed: its channels times its alpha; alpha alone is clamped."""

    red: float
    green: float
    blue: float
    alpha: float

    @classmethod
    def of(cls, color: Color) -> Premultiplied:
        """A colour, premultiplied."""
        red, green, blue = (channel * color.alpha for channel in color.rgba[:3])
        return cls(red, green, blue, color.alpha)

    def mixed(self, other: Premultiplied, progress: float) -> Premultiplied:
        """A colour on the straight line through two; progress may lie outside 0..1.

        What is mixed from it further on starts with the alpha that is seen, as in Chromium, and
        with channels that may be beyond it.
        """
        ends = zip(
            (self.red, self.green, self.blue, self.alpha),
            (other.red, other.green, other.blue, other.alpha),
            strict=True,
        )
        red, green, blue, alpha = (a + (b - a) * progress for a, b in ends)
        return Premultiplied(red, green, blue, min(max(alpha, 0.0), 1.0))

    def color(self) -> Color:
        """The colour that is seen of it: every channel clamped."""
        alpha = min(max(self.alpha, 0.0), 1.0)
        if alpha == 0:
            return TRANSPARENT
        channels = (channel / alpha for channel in (self.red, self.green, self.blue))
        red, green, blue = (min(max(channel, 0.0), 1.0) for channel in channels)
        return Color(red, green, blue, alpha)


def _channels(token: Token, names: Mapping[str, Color]) -> Channels | None:
    """The channels in sRGB and the alpha of a token, not clamped; None if it is not a colour.

    Raises:
        CssError: If it is a colour of CSS Color 5 with a fault in it.
    """
    found = _resolve(token, names)
    if isinstance(found, Color):
        return found.rgba[:3], found.alpha
    if found is None or found == "currentcolor":
        return None
    space, (a, b, c) = found.space, (channel or 0.0 for channel in found.coordinates)
    if space in {"hsl", "hwb"}:
        return tuple(found.to("srgb"))[:3], found.alpha
    return converted((a, b, c), space, "srgb"), found.alpha
