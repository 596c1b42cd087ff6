"""Scroll positions at which a look starts or ends."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Literal

from rising_lantern.css.length_parsing import length_from
from rising_lantern.css.lengths import Basis, Length, Sum, Term, px
from rising_lantern.css.numbers import number
from rising_lantern.css.syntax import Components, Token
from rising_lantern.errors import quoted
from rising_lantern.plan.models.base import css_value

_REMEDY = "write for example 240px, 30vh, 12%, past hero or reach programme - 40px"


@dataclass(frozen=True, slots=True)
class Threshold:
    """A specified scroll position.

    Attributes:
        edge: ``past`` for a section's lower edge, ``reach`` for its upper one; None where
            only a length is given.
        section: The section's name, or None.
        offset: The length that is given, or that is added to the edge. A percentage counts the
            scroll range.
        text: The author's own words.
    """

    edge: Literal["past", "reach"] | None
    section: str | None
    offset: Length
    text: str = field(default="", compare=False)

    def px(self, edge: float, basis: Basis) -> float:
        """The scroll position in CSS px.

        Args:
            edge: Where the section's edge meets the header's, for ``past`` and ``reach``.
            basis: What lengths are relative to; ``whole`` is the scroll range.
        """
        return self.offset.px(basis) + (edge if self.edge else 0.0)


def parse_threshold(text: str) -> Threshold:
    """Parse a threshold.

    Raises:
        CssError: If the text is not valid.

    >>> parse_threshold("past hero - 80px").section
    'hero'
    """
    source = Components(text)
    tokens = source.tokens
    if not tokens or tokens[0].type != "ident":
        return Threshold(None, None, length_from(source), text)
    edge = tokens[0].lower_value
    if edge not in {"past", "reach"}:
        raise source.error(tokens[0], f"{quoted(tokens[0].value)} is not a threshold", _REMEDY)
    if len(tokens) == 1 or tokens[1].type != "ident":
        place = tokens[1] if len(tokens) > 1 else None
        raise source.error(place, f"{quoted(edge)} needs the name of a section", _REMEDY)
    offset = _offset(source, tokens[2:])
    return Threshold(edge, tokens[1].value, offset, text)


def _offset(source: Components, tokens: list[Token]) -> Length:
    """What is added to an edge: nothing, or a sign and a sum of lengths."""
    if not tokens:
        return px(0)
    if tokens[0].type != "literal" or tokens[0].value not in "+-":
        raise source.error(tokens[0], "a + or - is needed here", _REMEDY)
    parsed = length_from(source, [*Components("0px").tokens, *tokens])
    assert isinstance(parsed.expression, Sum)  # noqa: S101 - a sign stands between
    _, *added = parsed.expression.parts
    return Length(added[0] if len(added) == 1 else Sum(tuple(added)))


ThresholdValue = Annotated[Threshold, css_value(parse_threshold, Threshold, "past hero - 80px")]
"""A field of the plan that holds a threshold."""


def shifted(threshold: Threshold, by: float) -> str:
    """A threshold a number of px further down the page, as a plan writes it."""
    expression = threshold.offset.expression
    edge = f"{threshold.edge} {threshold.section}" if threshold.edge else ""
    if not isinstance(expression, Term) or (expression.unit != "px" and expression.value != 0):
        sign = "-" if by < 0 else "+"
        if edge:
            return f"{threshold.text} {sign} {number(abs(by))}px"
        return f"calc({threshold.offset.css()} {sign} {number(abs(by))}px)"
    offset = expression.value + by
    if not edge:
        return f"{number(offset)}px"
    if offset == 0:
        return edge
    return f"{edge} {'-' if offset < 0 else '+'} {number(abs(offset))}px"
