"""Selectors of the author's own site: Selectors 4."""

from __future__ import annotations

from dataclasses import dataclass

import cssselect2
import tinycss2

from rising_lantern.css.syntax import Components, CssError
from rising_lantern.errors import quoted

_REMEDY = "write a CSS selector, such as main > .hero or #top"


@dataclass(frozen=True, slots=True)
class Selector:
    """A selector that can stand inside ``:is()``.

    Attributes:
        text: It as CSS text, without comments.
    """

    text: str


def parse_selector(text: str) -> Selector:
    """Parse a selector, or several with commas between them.

    Source: https://www.w3.org/TR/selectors-4/#grammar

    Raises:
        CssError: If it is not valid, or selects a pseudo-element.

    >>> parse_selector("main >  .hero").text
    'main > .hero'
    """
    source = Components(text)
    nodes = tinycss2.parse_component_value_list(text, skip_comments=True)
    words = [" " if node.type == "whitespace" else tinycss2.serialize([node]) for node in nodes]
    plain = "".join(words).strip()
    try:
        compiled = cssselect2.compile_selector_list(plain)
    except (cssselect2.SelectorError, ValueError, TypeError, AttributeError) as error:
        raise source.error(
            source.tokens[0] if source.tokens else None,
            f"{quoted(text)} is not a selector",
            _REMEDY,
        ) from error
    if not source.tokens or any(item.pseudo_element for item in compiled):
        raise CssError(f"{quoted(text)} does not select an element", _REMEDY)
    return Selector(plain)
