"""Box shadows: CSS Backgrounds and Borders 3, section 6.1."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from rising_lantern.css.colors import BLACK, TRANSPARENT, Color, color_from, mix
from rising_lantern.css.length_parsing import is_length, length_from
from rising_lantern.css.lengths import Basis, Length, Term, px
from rising_lantern.css.numbers import between
from rising_lantern.css.syntax import Components, CssError, Token, split_commas, written
from rising_lantern.errors import quoted

_REMEDY = "write for example 0 2px 12px rgb(0 0 0 / .2)"
MOST = 1000
"""The largest offset, blur or spread, in px; larger ones are cut down to it."""

_FEWEST_LENGTHS, _MOST_LENGTHS = 2, 4


@dataclass(frozen=True, slots=True)
class Shadow:
    """One outer shadow as specified."""

    x: Length
    y: Length
    blur: Length
    spread: Length
    color: Color

    def css(self) -> str:
        """The shadow as CSS text."""
        lengths = (self.x, self.y, self.blur, self.spread)
        return " ".join([*(length.css() for length in lengths), self.color.css()])

    def used(self, basis: Basis) -> UsedShadow:
        """The shadow in CSS px."""
        x, y, blur, spread = (
            min(max(length.px(basis), -MOST), MOST)
            for length in (self.x, self.y, self.blur, self.spread)
        )
        return UsedShadow(x, y, max(blur, 0.0), spread, self.color)


@dataclass(frozen=True, slots=True)
class UsedShadow:
    """One outer shadow, its offsets, blur and spread in CSS px; the blur is twice its deviation."""

    x: float
    y: float
    blur: float
    spread: float
    color: Color


NO_SHADOW = UsedShadow(0.0, 0.0, 0.0, 0.0, TRANSPARENT)


def parse_shadows(text: str, names: Mapping[str, Color] | None = None) -> tuple[Shadow, ...]:
    """Parse a ``box-shadow`` of outer shadows, the topmost first; ``none`` gives none.

    Source: https://www.w3.org/TR/css-backgrounds-3/#box-shadow

    Raises:
        CssError: If the text is not a valid value.
    """
    source = Components(text)
    if [token.lower_value for token in source.tokens if token.type == "ident"] == ["none"]:
        return ()
    return tuple(_shadow(source, run, names or {}) for run in split_commas(source.tokens))


def parse_text_shadows(text: str, names: Mapping[str, Color] | None = None) -> tuple[Shadow, ...]:
    """Parse a ``text-shadow``, the topmost first (CSS Text Decoration 3, 4: it has no spread).

    Source: https://www.w3.org/TR/css-text-decor-3/#text-shadow-property

    Raises:
        CssError: If the text is not a valid value.
    """
    shadows = parse_shadows(text, names)
    if any(shadow.spread != px(0) for shadow in shadows):
        raise CssError("a text shadow has no spread", "write for example 0 2px 8px #0008")
    return shadows


def _shadow(source: Components, run: list[Token], names: Mapping[str, Color]) -> Shadow:
    # A number without a unit is taken for a length too, so that the fault says what it lacks.
    sizes = [token for token in run if is_length(token) or token.type == "number"]
    lengths = [length_from(source, [token]) for token in sizes]
    colors = [color_from(source, token, names) for token in run if token not in sizes]
    if not _FEWEST_LENGTHS <= len(lengths) <= _MOST_LENGTHS or len(colors) > 1:
        raise source.error(
            run[0] if run else None, f"{quoted(written(run))} is not a shadow", _REMEDY
        )
    if len(lengths) > _FEWEST_LENGTHS and lengths[2].is_negative:
        raise source.error(run[0], "a shadow's blur cannot be negative", _REMEDY)
    if any(length.is_percentage for length in lengths):
        raise source.error(run[0], "a shadow takes no percentages", _REMEDY)
    x, y, blur, spread = (*lengths, px(0), px(0))[:_MOST_LENGTHS]
    for token, length in zip(sizes, lengths, strict=True):
        if isinstance(length.expression, Term) and abs(length.expression.value) > MOST:
            problem = f"{quoted(written([token]))} is too much for a shadow"
            raise source.error(token, problem, f"write at most {MOST}px")
    return Shadow(x, y, blur, spread, colors[0] if colors else BLACK)


def mix_shadows(
    first: tuple[UsedShadow, ...], second: tuple[UsedShadow, ...], progress: float
) -> tuple[UsedShadow, ...]:
    """Shadows between two lists (CSS Backgrounds 3, 6.1: the shorter one gets clear ones).

    Source: https://www.w3.org/TR/css-backgrounds-3/#shadow-interpolation
    """
    count = max(len(first), len(second))
    first += (NO_SHADOW,) * (count - len(first))
    second += (NO_SHADOW,) * (count - len(second))
    return tuple(
        UsedShadow(
            between(a.x, b.x, progress),
            between(a.y, b.y, progress),
            max(between(a.blur, b.blur, progress), 0.0),
            between(a.spread, b.spread, progress),
            mix(a.color, b.color, progress),
        )
        for a, b in zip(first, second, strict=True)
    )
