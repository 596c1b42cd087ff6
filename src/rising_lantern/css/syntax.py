"""CSS Syntax 3: the component values of a text, and faults that know their place in it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import tinycss2

from rising_lantern.errors import quoted

# CSS Syntax 3, 3.3: each of these is one new line.
_NEWLINE = re.compile(r"\r\n|[\n\r\f]")

Token = Any
"""A node of tinycss2, which has no types of its own."""

_SEPARATORS = frozenset({"whitespace", "comment"})
_MOST_DEPTH = 24  # of brackets: values are read, computed and written by recursion
_MOST_SIGNS = 20_000


class CssError(ValueError):
    """A text that the grammar of its CSS value does not allow.

    Attributes:
        problem: What is wrong, in the author's terms.
        remedy: What would be right.
        offset: Where in the text, in characters from its start.
    """

    def __init__(self, problem: str, remedy: str, offset: int = 0) -> None:
        super().__init__(f"{problem}; {remedy}")
        self.problem = problem
        self.remedy = remedy
        self.offset = offset


class Components:
    """The component values of one CSS text, without white space between them.

    Keeps the text, so that a fault in any component, however deeply nested, can be given its
    offset in what the author wrote.

    Source: https://www.w3.org/TR/css-syntax-3/#parse-list-of-component-values
    """

    def __init__(self, text: str) -> None:
        if len(text) > _MOST_SIGNS:
            raise CssError(
                f"this value has {len(text):,} characters", f"write at most {_MOST_SIGNS:,}"
            )
        self.text = text
        self._line_starts = [0, *(found.end() for found in _NEWLINE.finditer(text))]
        nodes = tinycss2.parse_component_value_list(text, skip_comments=True)
        self.tokens = significant(nodes)
        for token, depth in _flatten(self.tokens):
            if token.type == "error":
                problem = f"{quoted(text)} cannot be read as CSS"
                raise self.error(token, problem, "close every bracket")
            if depth > _MOST_DEPTH:
                problem = f"brackets are nested more than {_MOST_DEPTH} deep"
                raise self.error(token, problem, "simplify it")

    def offset(self, token: Token) -> int:
        """Characters from the start of the text to a token."""
        return int(self._line_starts[token.source_line - 1] + token.source_column - 1)

    def error(self, token: Token | None, problem: str, remedy: str) -> CssError:
        """A fault at a token, or at the end of the text for None."""
        offset = len(self.text) if token is None else self.offset(token)
        return CssError(problem, remedy, offset)


def significant(tokens: list[Token]) -> list[Token]:
    """The tokens that are neither white space nor comments."""
    return [token for token in tokens if token.type not in _SEPARATORS]


def split_commas(tokens: list[Token]) -> list[list[Token]]:
    """The runs of tokens between commas (CSS Values 4, 2.1: the ``#`` multiplier)."""
    runs: list[list[Token]] = [[]]
    for token in tokens:
        if token == ",":  # noqa: S105 - a token of CSS
            runs.append([])
        else:
            runs[-1].append(token)
    return runs


def written(tokens: list[Token]) -> str:
    """The tokens as CSS text."""
    return str(tinycss2.serialize(tokens)).strip()


def _flatten(tokens: list[Token]) -> Iterator[tuple[Token, int]]:
    """All tokens with how many brackets are around them, in the order of the text."""
    waiting = [(token, 0) for token in reversed(tokens)]
    while waiting:
        token, depth = waiting.pop()
        yield token, depth
        inner = getattr(token, "arguments", None) or getattr(token, "content", None) or []
        waiting.extend((item, depth + 1) for item in reversed(inner))
