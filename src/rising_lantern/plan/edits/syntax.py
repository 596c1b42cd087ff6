"""Where each value stands in a text of YAML or JSON, so that it can be changed in place."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

import yaml

from rising_lantern.plan.text.nodes import LOADER, SURROGATES, Key

Keys = tuple[Key, ...]

_ANCHOR = re.compile(r"&[^\s,\[\]{}]+[ \t]*")
_COMMENT = re.compile(r"[ \t]*(?:#[^\r\n]*)?(?:\r\n|\n|\r|\Z)")
_FILLER = re.compile(r"(?:[ \t\r\n]|(?<!\S)#[^\r\n]*)*")


@dataclass(slots=True)
class Value:
    """A value of a text.

    Attributes:
        start: Where it begins, after its anchor, in characters from the start of the text.
        end: Where it ends: a block ends with the last value in it.
        flow: Whether it stands in brackets, or is no mapping or list.
        entries: What is in it, in the order of the text; None where it is no mapping or list.
        anchor: Where its anchor begins; None where it has none.
        is_alias: Whether it is an alias.
        is_list: Whether it is a list.
    """

    start: int
    end: int
    flow: bool = True
    entries: list[Member] | None = None
    anchor: int | None = None
    is_alias: bool = False
    is_list: bool = False

    def entry(self, key: Key) -> Member | None:
        """The entry under a key or index that stands in it itself."""
        if self.is_list:
            inside = isinstance(key, int) and 0 <= key < len(self.entries or ())
            return self.entries[key] if inside and self.entries else None  # type: ignore[index]
        return next((entry for entry in self.entries or () if entry.key == str(key)), None)

    def at(self, path: Keys) -> Value | None:
        """The value at a path; None where it does not stand there itself."""
        value: Value | None = self
        for key in path:
            entry = value.entry(key) if value else None
            value = entry.value if entry else None
        return value

    def walk(self) -> Iterator[Member]:
        """Every entry in it, and in those."""
        for entry in self.entries or ():
            yield entry
            yield from entry.value.walk()


@dataclass(slots=True)
class Member:
    """A key with its value, or an item of a list.

    Attributes:
        key: The key as it is read; None in a list.
        start: Where it begins: at its key, or at the dash of an item of a block.
        key_end: Where its key ends.
        value: Its value.
    """

    key: str | None
    start: int
    key_end: int
    value: Value

    @property
    def end(self) -> int:
        """Where it ends."""
        return max(self.value.end, self.key_end)


@dataclass(slots=True)
class _OpenValue:
    """A mapping or list whose end has not been read."""

    value: Value
    key: tuple[str | None, int, int] | None = None
    entries: list[Member] = field(default_factory=list)


def values_in(text: str) -> Value | None:
    """The value that a text holds, with where everything in it stands.

    None where it has several documents, keys that are no texts, or nothing.
    """
    opened: list[_OpenValue] = []
    root: Value | None = None
    # As many characters, and none that YAML does not know: what they say does not matter here.
    plain = SURROGATES.sub(lambda pair: "-" * len(pair[0]), text)
    for event in yaml.parse(plain, Loader=LOADER):
        if isinstance(event, yaml.MappingStartEvent | yaml.SequenceStartEvent):
            opened.append(_OpenValue(_value_of(text, event)))
            continue
        if isinstance(event, yaml.MappingEndEvent | yaml.SequenceEndEvent):
            done = opened.pop()
            value = _close(done, event)
        elif isinstance(event, yaml.ScalarEvent | yaml.AliasEvent):
            value = _value_of(text, event)
        else:
            continue
        if not opened:
            root = value if root is None else None
            continue
        _put(text, opened[-1], value, event)
    return root


def _value_of(text: str, event: Any) -> Value:
    start, end = event.start_mark.index, event.end_mark.index
    is_alias = isinstance(event, yaml.AliasEvent)
    anchor = None if is_alias or event.anchor is None else start
    if anchor is not None:
        start = anchor_end(text, start)
    if isinstance(event, yaml.ScalarEvent | yaml.AliasEvent):
        return Value(start, max(end, start), anchor=anchor, is_alias=is_alias)
    is_list = isinstance(event, yaml.SequenceStartEvent)
    if anchor is not None and not event.flow_style:
        start = next_sign(text, start)
    return Value(start, end, bool(event.flow_style), [], anchor, is_list=is_list)


def _close(done: _OpenValue, event: Any) -> Value:
    value = done.value
    value.entries = done.entries
    if value.flow:
        value.end = event.end_mark.index
    elif done.entries:
        value.end = done.entries[-1].end
    return value


def _put(text: str, holder: _OpenValue, value: Value, event: Any) -> None:
    """Put a value into the mapping or list that it stands in."""
    begin = value.start if value.anchor is None else value.anchor
    if holder.value.is_list:
        start = begin if holder.value.flow else _dash_before(text, begin)
        holder.entries.append(Member(None, start, start, value))
    elif holder.key is None:
        word = event.value if isinstance(event, yaml.ScalarEvent) else None
        holder.key = word, begin, value.end
    else:
        word, start, end = holder.key
        holder.key = None
        holder.entries.append(Member(word, start, end, value))


def _dash_before(text: str, place: int) -> int:
    """The dash of an item of a list, before its value: comments may stand between."""
    at = text.rfind("-", 0, place)
    while at > 0 and _FILLER.fullmatch(text, at + 1, place) is None:
        at = text.rfind("-", 0, at)
    return max(at, 0)


def anchor_end(text: str, place: int) -> int:
    """Where an anchor and the spaces behind it end."""
    found = _ANCHOR.match(text, place)
    return found.end() if found else place


def line_start(text: str, place: int) -> int:
    """Where the line of a place begins."""
    return max(text.rfind("\n", 0, place), text.rfind("\r", 0, place)) + 1


def line_end(text: str, place: int) -> int:
    """The start of the next line, after what ends at a place and a comment behind it.

    The place itself where it is a start of a line, and where something else follows it.
    """
    if place and text[place - 1] in "\r\n":
        return place
    found = _COMMENT.match(text, place)
    return found.end() if found else place


def begins_line(text: str, place: int) -> bool:
    """Whether nothing but spaces stands before a place in its line."""
    return not text[line_start(text, place) : place].strip(" ")


def next_sign(text: str, place: int) -> int:
    """The place of the next character that is no space, line break or comment."""
    found = _FILLER.match(text, place)
    return found.end() if found else place


def leading(text: str, place: int, after: int) -> int:
    """Where the comments begin that stand on lines of their own just above a place.

    Args:
        text: The text.
        place: Where an entry begins.
        after: A place at or after which they have to stand.
    """
    start = line_start(text, place)
    while start > after:
        above = line_start(text, start - 1 - (text[start - 2 : start] == "\r\n"))
        if above < after or not text[above:start].lstrip(" ").startswith("#"):
            break
        start = above
    return start
