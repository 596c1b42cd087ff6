"""Style rules as nested text, as it would be written by hand: CSS Nesting 1.

Rules that follow each other and begin with the same simple selector stand in one block, and so do
those under the same condition. Their order stays, and so does their specificity: what is nested in
a rule of one selector counts as much as when it is written out (section 3.2).

Source: https://www.w3.org/TR/css-nesting-1/
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from rising_lantern.exports.rules import (
    WIDTH,
    KeyFrames,
    Statement,
    outer,
    selector_lines,
    split,
    value_lines,
)
from rising_lantern.exports.shorthands import shortened

_COMBINATORS = frozenset(">+~")
_MARGIN = "  "

Selector = tuple[str, ...]
"""A complex selector in pieces: each a simple selector, with what joins it to the one before.

A piece starts with a combinator, with a space for a descendant, or with ``&`` for the same element.
"""


@dataclass(frozen=True, slots=True)
class _Leaf:
    """A rule or key frames, as far as they are still to be written.

    Attributes:
        statement: The whole of it.
        conditions: The conditional rules around it that have not been opened.
        selectors: Its selectors behind the pieces that have been opened; none where it has none.
        comment: What stands before it.
    """

    statement: Statement
    conditions: tuple[str, ...]
    selectors: tuple[Selector, ...] = ()
    comment: str = ""

    @classmethod
    def of(cls, statement: Statement) -> _Leaf:
        """A statement of which nothing has been written."""
        if isinstance(statement, KeyFrames) or statement.selector.startswith("@"):
            return cls(statement, statement.within)
        selectors = tuple(pieces_of(item) for item in split(statement.selector, ", "))
        return cls(statement, statement.within, selectors)

    @property
    def head(self) -> str:
        """The piece that all of its selectors begin with; empty where there is none."""
        first = {selector[0] if selector else "" for selector in self.selectors}
        head = first.pop() if len(first) == 1 else ""
        # & cannot stand for a pseudo-element (section 3.1).
        return "" if head.startswith("&::") else head

    @property
    def condition(self) -> str:
        """The outermost condition; empty for none."""
        return self.conditions[0] if self.conditions else ""

    @property
    def is_own(self) -> bool:
        """Whether it is about the element of the block that it stands in."""
        return self.selectors == ((),)

    def behind_head(self) -> _Leaf:
        """The rule within a block of the piece that its selectors begin with."""
        return replace(self, selectors=tuple(selector[1:] for selector in self.selectors))

    def behind_condition(self) -> _Leaf:
        """The rule within a block of its outermost condition."""
        return replace(self, conditions=self.conditions[1:])


def nested_lines(blocks: Iterable[tuple[str, Sequence[Statement]]]) -> Iterator[str]:
    """Blocks of statements as lines, each block with its title in a comment.

    Args:
        blocks: Titles and statements. Rules that declare nothing are left out.
    """
    leaves: list[_Leaf] = []
    for title, statements in blocks:
        listed = _ordered(statements)
        leaves += [
            replace(_Leaf.of(item), comment="" if index else title)
            for index, item in enumerate(listed)
        ]
    yield from _lines(leaves, depth=0)


def _ordered(statements: Sequence[Statement]) -> list[Statement]:
    """Statements with what stands alone last, where it parts no rules; empty ones are left out."""
    rules = [item for item in statements if isinstance(item, KeyFrames) or item.declarations]
    return sorted(rules, key=lambda item: _stands_alone(item) and not item.within)


def _stands_alone(item: Statement) -> bool:
    """Whether it is about no element: key frames, and properties that are registered."""
    return isinstance(item, KeyFrames) or item.selector.startswith("@property")


def pieces_of(selector: str) -> Selector:
    """The pieces of a complex selector.

    >>> pieces_of('.a[b="c d"] > .e .f:is(.g, .h)')
    (' .a', '&[b="c d"]', '> .e', ' .f', '&:is(.g, .h)')
    """
    pieces: list[str] = []
    joint = " "
    for word in split(selector, " "):
        if word in _COMBINATORS:
            joint = f"{word} "
            continue
        for simple in _simple_selectors(word):
            pieces.append(joint + simple)
            joint = "&"
        joint = " "
    return tuple(pieces)


def _simple_selectors(compound: str) -> Iterator[str]:
    """The simple selectors of a compound selector."""
    start = 0
    for index in outer(compound):
        begins = compound[index] in ".#[:" and compound[index - 1 : index] != ":"
        if index > start and begins:
            yield compound[start:index]
            start = index
    yield compound[start:]


def _lines(leaves: Sequence[_Leaf], depth: int) -> Iterator[str]:
    """Leaves as lines: in blocks where several begin alike, one by one elsewhere."""
    place = 0
    while place < len(leaves):
        leaf = leaves[place]
        if leaf.comment:
            yield from [""] * (depth == 0 or place > 0)
            yield f"{_MARGIN * depth}/* {leaf.comment} */"
        alike = _run(leaves, place, lambda item: item.head)
        together = _run(leaves, place, lambda item: item.condition)
        if alike > 1 and alike >= together:
            opening, inner = _opened(leaves[place : place + alike])
            yield from _block(_selector(opening, nested=depth > 0), inner, depth)
            place += alike
        elif together:
            inner = [item.behind_condition() for item in leaves[place : place + together]]
            yield from _block(leaf.condition, inner, depth)
            place += together
        else:
            yield from _statement(leaf, depth, is_first=all(map(_declares, leaves[:place])))
            place += 1


def _opened(leaves: Sequence[_Leaf]) -> tuple[Selector, list[_Leaf]]:
    """All pieces that the selectors of some rules begin with, and the rules behind them."""
    opening: Selector = ()
    inner = list(leaves)
    while inner[0].head and all(item.head == inner[0].head for item in inner):
        opening += (inner[0].head,)
        inner = [item.behind_head() for item in inner]
    return opening, inner


def _declares(leaf: _Leaf) -> bool:
    """Whether it stands in its block as declarations, without a block of its own."""
    return leaf.is_own and not leaf.conditions


def _run(leaves: Sequence[_Leaf], place: int, key: Callable[[_Leaf], str]) -> int:
    """How many leaves from a place on have the key of the first; none where that is empty."""
    first, end = key(leaves[place]), place
    while first and end < len(leaves) and key(leaves[end]) == first:
        end += 1
    return end - place


def _block(opening: str, inner: Sequence[_Leaf], depth: int) -> Iterator[str]:
    """A block with what stands in it; the comment of the first rule stands above it."""
    yield from selector_lines(opening, _MARGIN * depth)
    yield from _lines([replace(inner[0], comment=""), *inner[1:]], depth + 1)
    yield f"{_MARGIN * depth}}}"


def _statement(leaf: _Leaf, depth: int, *, is_first: bool) -> Iterator[str]:
    """A rule or key frames as lines."""
    statement, margin = leaf.statement, _MARGIN * depth
    if isinstance(statement, KeyFrames):
        yield from (margin + line for line in statement.lines())
        return
    declared = shortened(statement.declarations).items()
    if leaf.is_own and is_first:
        for name, value in declared:
            yield from value_lines(f"{margin}{name}: ", value)
        return
    selector = _text(leaf.selectors, nested=depth > 0) if leaf.selectors else statement.selector
    inner = "; ".join(f"{name}: {value}" for name, value in declared)
    line = f"{margin}{selector} {{ {inner}; }}"
    if len(declared) == 1 and len(line) < WIDTH:
        yield line
        return
    yield from selector_lines(selector, margin)
    for name, value in declared:
        yield from value_lines(f"{margin}{_MARGIN}{name}: ", value)
    yield f"{margin}}}"


def _text(selectors: Sequence[Selector], *, nested: bool) -> str:
    """Selectors as text, in a block or outside of one."""
    return ", ".join(_selector(selector, nested=nested) for selector in selectors)


def _selector(selector: Selector, *, nested: bool) -> str:
    if not selector:
        return "&"
    first, *others = selector
    if not first.startswith(" "):
        start = first
    elif nested and first[1].isalpha():
        start = f"&{first}"  # engines of 2023 take no type selector in front
    else:
        start = first[1:]
    return start + "".join(
        item.removeprefix("&") if item[0] in "& " else f" {item}" for item in others
    )
