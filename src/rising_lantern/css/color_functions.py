"""Colours made from others: CSS Color 5, ``color-mix()``, relative colours and ``light-dark()``."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from rising_lantern.css.angles import degrees, is_angle
from rising_lantern.css.color_spaces import POLAR, RECTANGULAR, Triple, converted
from rising_lantern.css.syntax import Components, Token, significant, split_commas, written
from rising_lantern.errors import quoted

Channels = tuple[Triple, float]
"""The channels of a colour in gamma-encoded sRGB, not clamped, and its alpha."""

Resolve = Callable[[Token], "Channels | None"]
"""Gives the channels of a colour that a token stands for, or None."""

_MIX_REMEDY = "write for example color-mix(in oklab, #16213e 30%, white)"
_FROM_REMEDY = "write for example rgb(from #16213e r g b / .5) or oklch(from red l c h)"
_SCHEME_REMEDY = "write light-dark(#16213e, white)"
_HUES = ("shorter", "longer", "increasing", "decreasing")
_ACHROMATIC = 1e-4  # a share of the strongest chroma below which a hue means nothing
_TURN, _HALF = 360.0, 180.0


@dataclass(frozen=True, slots=True)
class _Form:
    """A function of relative colours.

    Attributes:
        space: The space of its channels.
        names: What its channels are called.
        units: How many of its units one of the space's is.
        wholes: What 100% of each channel is; None for a hue.
    """

    space: str
    names: str
    units: float
    wholes: tuple[float | None, float | None, float | None]


_RGB = _Form("srgb", "rgb", 255.0, (255.0, 255.0, 255.0))
_HSL = _Form("hsl", "hsl", 1.0, (None, 100.0, 100.0))
_FORMS = {
    "rgb": _RGB,
    "rgba": _RGB,
    "hsl": _HSL,
    "hsla": _HSL,
    "hwb": _Form("hwb", "hwb", 1.0, (None, 100.0, 100.0)),
    "lab": _Form("lab", "lab", 1.0, (100.0, 125.0, 125.0)),
    "lch": _Form("lch", "lch", 1.0, (100.0, 150.0, None)),
    "oklab": _Form("oklab", "lab", 1.0, (1.0, 0.4, 0.4)),
    "oklch": _Form("oklch", "lch", 1.0, (1.0, 0.4, None)),
}


def is_computed(token: Token) -> bool:
    """Whether a token is a colour that is made from others."""
    if token.type != "function":
        return False
    if token.lower_name in {"color-mix", "light-dark"}:
        return True
    first = next(iter(significant(token.arguments)), None)
    known = token.lower_name in _FORMS or token.lower_name == "color"
    return known and first is not None and _is_word(first, "from")


def computed(source: Components, token: Token, resolve: Resolve) -> Channels:
    """The colour that such a token stands for.

    Source: https://www.w3.org/TR/css-color-5/

    Args:
        source: The text that it is in.
        token: The token.
        resolve: Gives the colours in it.

    Raises:
        CssError: If it is not valid.
    """

    def inner(item: Token) -> Channels:
        found = computed(source, item, resolve) if is_computed(item) else resolve(item)
        if found is None:
            raise source.error(item, f"{quoted(written([item]))} is not a colour", _MIX_REMEDY)
        return found

    if token.lower_name == "color-mix":
        return _mix(source, token, inner)
    if token.lower_name == "light-dark":
        runs = [significant(run) for run in split_commas(token.arguments)]
        if [len(run) for run in runs] != [1, 1]:
            raise source.error(token, "light-dark() takes two colours", _SCHEME_REMEDY)
        light, _ = (inner(run[0]) for run in runs)
        return light
    return _relative(source, token, inner)


# --- color-mix() ---------------------------------------------------------------------------------


def _mix(source: Components, token: Token, inner: Callable[[Token], Channels]) -> Channels:
    """A mix of two colours.

    Source: https://www.w3.org/TR/css-color-5/#color-mix
    """
    method, *runs = [significant(run) for run in split_commas(token.arguments)]
    if len(runs) == 1 or len(runs) > 2 or not runs:  # noqa: PLR2004 - it mixes two
        raise source.error(token, "color-mix() takes a space and two colours", _MIX_REMEDY)
    space, hue = _method(source, token, method)
    ends = [_share(source, token, run) for run in runs]
    first, second = (inner(item) for item, _ in ends)
    one, two = (share for _, share in ends)
    if one is None:
        one = 1 - two if two is not None else 0.5
    if two is None:
        two = 1 - one
    if one + two == 0:
        raise source.error(token, "the shares of color-mix() are both 0%", _MIX_REMEDY)
    share, whole = two / (one + two), min(one + two, 1.0)
    return _between(space, hue, (first, second), share, whole)


def _method(source: Components, token: Token, words: list[Token]) -> tuple[str, str]:
    """The space that colours are mixed in, and the way that hues take."""
    if len(words) < 2 or not _is_word(words[0], "in"):  # noqa: PLR2004
        raise source.error(token, "color-mix() starts with a colour space", _MIX_REMEDY)
    space = getattr(words[1], "lower_value", "")
    if space not in RECTANGULAR and space not in POLAR:
        known = f"{quoted(written([words[1]]))} is not a colour space"
        raise source.error(words[1], known, "write in srgb, in oklab or in oklch, for example")
    hue = "shorter"
    if len(words) > 2:  # noqa: PLR2004
        hue = getattr(words[2], "lower_value", "")
        valid = len(words) == 4 and _is_word(words[3], "hue") and hue in _HUES  # noqa: PLR2004
        if space not in POLAR or not valid:
            raise source.error(words[2], "only a hue can stand here", f"write {_HUES[1]} hue")
    return space, hue


def _share(source: Components, token: Token, run: list[Token]) -> tuple[Token, float | None]:
    """A colour of a mix, and its share, 0 to 1."""
    shares = [item for item in run if item.type == "percentage"]
    others = [item for item in run if item.type != "percentage"]
    if len(others) != 1 or len(shares) > 1:
        place = run[0] if run else token
        raise source.error(place, "color-mix() takes a colour and its share here", _MIX_REMEDY)
    if shares and not 0 <= shares[0].value <= 100:  # noqa: PLR2004 - per cent
        raise source.error(shares[0], "a share is 0% to 100%", _MIX_REMEDY)
    return others[0], shares[0].value / 100 if shares else None


def _between(
    space: str, hue: str, ends: tuple[Channels, Channels], share: float, whole: float
) -> Channels:
    """A colour between two in a space, premultiplied but for its hue.

    Source: https://www.w3.org/TR/css-color-4/#interpolation
    """
    (first, one), (second, two) = ((_in_space(space, end[0]), end[1]) for end in ends)
    alpha = one + (two - one) * share
    place = _place_of_hue(space)
    angles = (0.0, 0.0)
    if place is not None:
        angles = _hues(first, second, place, space, hue)
    mixed = []
    for axis, (a, b) in enumerate(zip(first, second, strict=True)):
        if axis == place:
            mixed.append(angles[0] + (angles[1] - angles[0]) * share)
        elif alpha == 0:
            mixed.append(a + (b - a) * share)
        else:
            mixed.append((a * one * (1 - share) + b * two * share) / alpha)
    channels = (mixed[0], mixed[1], mixed[2])
    return converted(channels, space, "srgb"), alpha * whole


def _in_space(space: str, channels: Triple) -> Triple:
    return converted(channels, "srgb", space)


def _place_of_hue(space: str) -> int | None:
    if space not in POLAR:
        return None
    return 0 if POLAR[space] == "srgb" else 2


def _hues(first: Triple, second: Triple, place: int, space: str, way: str) -> tuple[float, float]:
    """The hues to go between; one that means nothing takes over the other."""
    one, two = first[place], second[place]
    if _is_grey(space, first):
        one = two
    elif _is_grey(space, second):
        two = one
    turn = two - one
    if way == "shorter":
        two -= _TURN if turn > _HALF else -_TURN if turn < -_HALF else 0.0
    elif way == "longer" and 0 < turn < _HALF:
        two -= _TURN
    elif (way == "longer" and -_HALF < turn <= 0) or (way == "increasing" and turn < 0):
        two += _TURN
    elif way == "decreasing" and turn > 0:
        two -= _TURN
    return one, two


def _is_grey(space: str, channels: Triple) -> bool:
    """Whether the hue of a colour means nothing (CSS Color 4, 12.2)."""
    if space == "hsl":
        return channels[1] <= 100 * _ACHROMATIC
    if space == "hwb":
        return channels[1] + channels[2] >= 100 * (1 - _ACHROMATIC)
    return channels[1] <= (150 if space == "lch" else 0.4) * _ACHROMATIC


# --- relative colours ----------------------------------------------------------------------------


def _relative(source: Components, token: Token, inner: Callable[[Token], Channels]) -> Channels:
    """A colour that starts from another one.

    Source: https://www.w3.org/TR/css-color-5/#relative-colors
    """
    words = significant(token.arguments)[1:]
    if not words:
        raise source.error(token, "a relative colour needs a colour", _FROM_REMEDY)
    origin, alpha = inner(words[0])
    words = words[1:]
    if token.lower_name == "color":
        space = getattr(words[0], "lower_value", "") if words else ""
        if space not in RECTANGULAR or space in {"lab", "oklab"}:
            raise source.error(token, "color() needs a colour space", _FROM_REMEDY)
        names = "xyz" if space.startswith("xyz") else "rgb"
        form, words = _Form(space, names, 1.0, (1.0, 1.0, 1.0)), words[1:]
    else:
        form = _FORMS[token.lower_name]
    own = [channel * form.units for channel in _in_space(form.space, origin)]
    known = dict(zip(form.names, own, strict=True)) | {"alpha": alpha}
    slash = [index for index, item in enumerate(words) if item == "/"]
    given, opacity = (words[: slash[0]], words[slash[0] + 1 :]) if slash else (words, [])
    if len(given) != len(own) or len(opacity) != bool(slash):
        raise source.error(token, "a relative colour has three channels", _FROM_REMEDY)
    numbers = _Numbers(source, known)
    made = [
        numbers.value(item, whole) / form.units
        for item, whole in zip(given, form.wholes, strict=True)
    ]
    if opacity:
        alpha = numbers.value(opacity[0], 1.0)
    channels = (made[0], made[1], made[2])
    return converted(channels, form.space, "srgb"), min(max(alpha, 0.0), 1.0)


@dataclass(frozen=True)
class _Numbers:
    """Computes the channels of a relative colour.

    Attributes:
        source: The text that they are in.
        known: The channels of the colour that they start from, by name.
    """

    source: Components
    known: dict[str, float]

    def value(self, token: Token, whole: float | None) -> float:
        """One channel: a number, a share of ``whole``, an angle, a channel's name or a calc()."""
        if token.type == "percentage" and whole is not None:
            return float(token.value) / 100 * whole
        if whole is None and is_angle(token):
            return degrees(token)
        return self._operand(token)

    def _operand(self, token: Token) -> float:
        if token.type == "number":
            return float(token.value)
        if token.type == "ident" and token.lower_value in {*self.known, "none"}:
            return self.known.get(token.lower_value, 0.0)
        if token.type == "() block":
            return self._sum(token, token.content)
        if token.type == "function" and token.lower_name == "calc":
            return self._sum(token, token.arguments)
        found = self._extreme(token) if token.type == "function" else None
        if found is not None:
            return found
        names = ", ".join(self.known)
        raise self.source.error(
            token,
            f"{quoted(written([token]))} is not a channel",
            f"write a number, calc() or one of {names}",
        )

    def _extreme(self, token: Token) -> float | None:
        """A ``min()``, ``max()`` or ``clamp()``; None for another function."""
        if token.lower_name not in {"min", "max", "clamp"}:
            return None
        values = [self._sum(token, run) for run in split_commas(token.arguments)]
        if token.lower_name != "clamp":
            return min(values) if token.lower_name == "min" else max(values)
        if len(values) != 3:  # noqa: PLR2004 - least, middle, most
            return None
        return max(values[0], min(values[1], values[2]))

    def _sum(self, place: Token, tokens: list[Token]) -> float:
        """A calculation: sums of products (CSS Values 4, 10.1)."""
        words = significant(tokens)
        if len(words) % 2 == 0:
            raise self.source.error(place, "the calculation is not complete", _FROM_REMEDY)
        total, product, sign = 0.0, self._operand(words[0]), 1.0
        for operator, operand in zip(words[1::2], words[2::2], strict=True):
            value = self._operand(operand)
            if operator == "*":
                product *= value
            elif operator == "/":
                if value == 0:
                    raise self.source.error(operand, "division by zero", _FROM_REMEDY)
                product /= value
            elif operator in ("+", "-"):
                total += sign * product
                product, sign = value, 1.0 if operator == "+" else -1.0
            else:
                problem = f"{quoted(written([operator]))} cannot stand in a calculation"
                raise self.source.error(operator, problem, _FROM_REMEDY)
        result = total + sign * product
        if not math.isfinite(result):
            raise self.source.error(place, "the calculation has no finite result", _FROM_REMEDY)
        return result


def _is_word(token: Token, word: str) -> bool:
    return bool(token.type == "ident" and token.lower_value == word)
