"""YAML 1.2 text as a tree that knows where each value and key stands.

Only what a plan needs is accepted: no tags, no second document, and limits on size, depth and
on what aliases may unfold to, so that a stranger's file costs little to refuse.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass, replace
from typing import Any

import yaml

from rising_lantern.errors import Fault, Place, PlanError, quoted
from rising_lantern.plan.text.comments import cut_off

Key = str | int
Scalar = str | int | float | bool | None

MOST_BYTES = 16_000_000
_MOST_DEPTH = 40
MOST_NODES = 500_000
_MOST_DIGITS = 40

# YAML 1.2.2, 10.3.2: the core schema.
_NULL = re.compile(r"(null|Null|NULL|~|)\Z")
_BOOL = re.compile(r"(true|True|TRUE|false|False|FALSE)\Z")
_INT = re.compile(r"[-+]?[0-9]+\Z")
_FLOAT = re.compile(r"[-+]?(\.[0-9]+|[0-9]+(\.[0-9]*)?)([eE][-+]?[0-9]+)?\Z")
_MERGE = "<<"  # a key that takes over those of another mapping
# C0 and C1, without tab and new line.
_CONTROL = re.compile(r"[\x00-\x08\x0b-\x1f\x7f-\x9f]")


@dataclass(frozen=True, slots=True)
class Mark:
    """Where something starts.

    Attributes:
        line: Counted from 1.
        column: Counted from 1.
        quoted: Whether quotes stand before it.
        one_line: Whether it ends on the line where it starts.
        end: The column after its end; 0 for a mapping or list.
        option: The option that it was given by, where it does not stand in the file.
    """

    line: int
    column: int
    quoted: bool = False
    one_line: bool = True
    option: str | None = None
    end: int = 0


@dataclass(frozen=True, slots=True)
class Node:
    """A value of the plan and its place.

    Attributes:
        value: A scalar, a list of nodes, or a mapping from keys to nodes.
        mark: Where the value starts.
        key_mark: Where the key that leads to it starts; None in a list.
        size: How many nodes it unfolds to.
    """

    value: Scalar | list[Node] | dict[Key, Node]
    mark: Mark
    key_mark: Mark | None = None
    size: int = 1

    def plain(self) -> Any:
        """The value as plain Python data."""
        if isinstance(self.value, dict):
            return {key: child.plain() for key, child in self.value.items()}
        if isinstance(self.value, list):
            return [child.plain() for child in self.value]
        return self.value

    def child(self, key: Key) -> Node | None:
        """The node under a key or index, or None."""
        if isinstance(self.value, dict):
            return self.value.get(key)
        if isinstance(self.value, list) and isinstance(key, int) and 0 <= key < len(self.value):
            return self.value[key]
        return None

    def at(self, path: tuple[Key, ...]) -> Node | None:
        """The node at a path, or None."""
        node: Node | None = self
        for key in path:
            node = node.child(key) if node else None
        return node

    def find(self, path: tuple[Key, ...]) -> Node:
        """The node at a path, or the last one on the way to it."""
        node = self
        for key in path:
            child = node.child(key)
            if child is None:
                break
            node = child
        return node


def parse(text: str, file: str, option: str | None = None) -> Node:
    """Parse YAML into nodes.

    Args:
        text: The plan's text.
        file: Its name, for messages.
        option: The option that the text was given by, where it is not the file's.

    Raises:
        PlanError: If it is not YAML, is empty, or is too large.
    """
    builder = _Builder(file, option)
    text = SURROGATES.sub(_join_surrogates, text)
    try:
        builder.take_all(text)
    except UnicodeEncodeError as error:
        # Of an option whose bytes are no text.
        where = Mark(1, error.start + 1)
        raise builder.refused(where, "a character here is not text", "write it in UTF-8") from None
    except yaml.reader.ReaderError as error:
        line = text.count("\n", 0, error.position) + 1
        raise builder.refused(
            Mark(line, 1), "a character here is not text", "save the plan as plain UTF-8 text"
        ) from None
    except yaml.MarkedYAMLError as error:
        mark = error.problem_mark or error.context_mark
        last = mark.line + 1 if mark else 0
        cut = [fault for fault in builder.cut_off(text) if (fault.place.line or 0) <= last]
        if cut:
            raise PlanError(cut) from None
        if mark:
            _refuse_depth(text[: mark.index], _Builder(file, option))
        where = Mark(mark.line + 1, mark.column + 1) if mark else Mark(1, 1)
        raise builder.refused(
            where, f"this cannot be read as YAML: {_parser_words(error)}", _yaml_remedy(text, where)
        ) from None
    builder.faults += builder.cut_off(text)
    return builder.finished()


def _refuse_depth(text: str, builder: _Builder) -> None:
    """Raise the fault of nesting in the text ahead of an error, where there is one.

    The parser reads ahead of its events, and may meet a limit of its own before the event comes
    that reaches ours: without what follows the error it gives the events that it had held back.
    """
    with suppress(yaml.YAMLError):
        builder.take_all(text)


SURROGATES = re.compile(
    r"(?<!\\)((?:\\\\)*)\\u([dD][89abAB][0-9a-fA-F]{2})\\u([dD][c-fC-F][0-9a-fA-F]{2})"
)
"""Two escapes by which JSON writes a character beyond the first 65,536: YAML does not know them."""


def _join_surrogates(pair: re.Match[str]) -> str:
    code = 0x10000 + ((int(pair[2], 16) - 0xD800) << 10) + (int(pair[3], 16) - 0xDC00)
    return f"{pair[1]}\\U{code:08x}"


LOADER = getattr(yaml, "CSafeLoader", yaml.SafeLoader)
"""What reads YAML: in C where PyYAML was built with it."""


def _parser_words(error: yaml.MarkedYAMLError) -> str:
    words = error.problem or error.context or "it is incomplete"
    return str(words).replace("{", "(").replace("}", ")")


def _yaml_remedy(text: str, where: Mark) -> str:
    lines = text.splitlines()
    line = lines[where.line - 1] if where.line <= len(lines) else ""
    if "\t" in line[: where.column + 1]:
        return "indent with spaces instead of tabs"
    return "check the indentation, the quotes and the brackets just before"


class _Builder:
    """Builds the tree from parser events, without recursion."""

    def __init__(self, file: str, option: str | None) -> None:
        self.file = option or file
        self.option = option
        self.faults: list[Fault] = []
        self._open: list[_OpenNode] = []
        self._anchors: dict[str, Node] = {}
        self._root: Node | None = None
        self._documents = 0
        self._lines: set[int] = set()  # in the middle of a text of several lines

    def cut_off(self, text: str) -> list[Fault]:
        """The values that end where a colour begins; none of an option, which has no comments."""
        return [] if self.option else list(cut_off(text, self.file, self._lines))

    def refused(self, mark: Mark, problem: str, remedy: str) -> PlanError:
        """The error for a fault that ends the reading."""
        return PlanError(
            [*self.faults, Fault(Place(self.file, mark.line, mark.column), problem, remedy)]
        )

    def take_all(self, text: str) -> None:
        """Take the events of a text, one after the other."""
        for event in yaml.parse(text, Loader=LOADER):
            self.take(event)

    def take(self, event: yaml.Event) -> None:
        """Take one event of the parser."""
        match event:
            case yaml.DocumentStartEvent():
                self._documents += 1
                if self._documents > 1:
                    raise self.refused(
                        self._mark(event),
                        "a second document starts here",
                        "keep one plan in a file",
                    )
            case yaml.ScalarEvent():
                self._refuse_tag(event)
                self._note_controls(event)
                if event.start_mark and event.end_mark:
                    first, last = event.start_mark.line, event.end_mark.line
                    self._lines.update(range(first + 2, last + 2))
                self._add(Node(_resolve(event), self._mark(event)), event.anchor)
            case yaml.AliasEvent():
                self._alias(event)
            case yaml.MappingStartEvent() | yaml.SequenceStartEvent():
                self._refuse_tag(event)
                if len(self._open) >= _MOST_DEPTH:
                    raise self.refused(
                        self._mark(event),
                        f"brackets or indents are nested more than {_MOST_DEPTH} deep",
                        "a plan needs about ten levels",
                    )
                is_map = isinstance(event, yaml.MappingStartEvent)
                self._open.append(_OpenNode(self._mark(event), event.anchor, is_map))
            case yaml.MappingEndEvent() | yaml.SequenceEndEvent():
                closed = self._open.pop()
                self._add(closed.node(), closed.anchor)
            case _:
                pass

    def finished(self) -> Node:
        """The root of the tree."""
        if self.faults:
            raise PlanError(self.faults)
        if self._root is None or self._root.value is None:
            raise self.refused(
                Mark(1, 1), "the plan is empty", "write 'rising-lantern: 1' and pages"
            )
        return self._root

    def _mark(self, event: Any) -> Mark:
        start, end = event.start_mark, event.end_mark
        quoted = getattr(event, "style", None) in {"'", '"'}
        one_line = start.line == end.line
        end_column = end.column + 1 if isinstance(event, yaml.ScalarEvent) else 0
        column = start.column + 1
        return Mark(start.line + 1, column, quoted, one_line, self.option, end_column)

    def _alias(self, event: yaml.AliasEvent) -> None:
        node = self._anchors.get(event.anchor or "")
        if node is None:
            raise self.refused(
                self._mark(event),
                f"*{event.anchor} is not defined yet",
                f"set &{event.anchor} on a value before it",
            )
        self._add(node, None)

    def _refuse_tag(self, event: Any) -> None:
        if event.tag is not None and event.tag != "!":
            raise self.refused(
                self._mark(event),
                f"the tag {quoted(event.tag)} is not allowed",
                "write the value without a tag",
            )

    def _note_controls(self, event: yaml.ScalarEvent) -> None:
        """Escapes of a quoted text can hold what no text has, and what a terminal obeys."""
        found = _CONTROL.search(event.value)
        if found:
            mark = self._mark(event)
            problem = f"the control character U+{ord(found[0]):04X} is in this text"
            place = Place(self.file, mark.line, mark.column)
            self.faults.append(Fault(place, problem, "remove it"))

    def _add(self, node: Node, anchor: str | None) -> None:
        if anchor is not None:
            self._anchors[anchor] = node
        if not self._open:
            self._root = node
            return
        top = self._open[-1]
        top.size += node.size
        if top.size > MOST_NODES:
            raise self.refused(
                node.mark,
                f"the plan expands to more than {MOST_NODES:,} values",
                "use fewer aliases, or several plans",
            )
        if not top.is_map:
            top.items.append(node)
        elif top.key is None:
            self._take_key(top, node)
        else:
            key, key_mark = top.key
            top.key = None
            if key == _MERGE and not key_mark.quoted:
                self._merge(top, node)
            else:
                top.children.setdefault(key, replace(node, key_mark=key_mark))

    def _merge(self, top: _OpenNode, node: Node) -> None:
        """Take over the keys of a mapping, or of several of which the first counts before others.

        Source: https://yaml.org/type/merge.html
        """
        several = node.value if isinstance(node.value, list) else [node]
        for one in several:
            if not isinstance(one.value, dict):
                raise self.refused(
                    one.mark,
                    f"'{_MERGE}' takes over the keys of a mapping",
                    "write an alias of a mapping after it, such as *name",
                )
            for key, child in one.value.items():
                top.merged.setdefault(key, child)

    def _take_key(self, top: _OpenNode, node: Node) -> None:
        if isinstance(node.value, bool) or not isinstance(node.value, str | int):
            raise self.refused(node.mark, "this cannot be a key", "use a plain word as the key")
        if node.value == _MERGE and not node.mark.quoted:
            top.key = (node.value, node.mark)
            return
        if node.value in top.children:
            first = top.children[node.value].key_mark
            self.faults.append(
                Fault(
                    Place(self.file, node.mark.line, node.mark.column),
                    f"the key {quoted(node.value)} is used twice",
                    f"remove one (the first is on line {first.line if first else 1})",
                )
            )
        top.key = (node.value, node.mark)


class _OpenNode:
    """A mapping or list whose end has not come yet."""

    def __init__(self, mark: Mark, anchor: str | None, is_map: bool) -> None:  # noqa: FBT001
        self.mark = mark
        self.anchor = anchor
        self.is_map = is_map
        self.children: dict[Key, Node] = {}
        self.merged: dict[Key, Node] = {}
        self.items: list[Node] = []
        self.key: tuple[Key, Mark] | None = None
        self.size = 1

    def node(self) -> Node:
        if not self.is_map:
            return Node(self.items, self.mark, size=self.size)
        return Node({**self.merged, **self.children}, self.mark, size=self.size)


def _resolve(event: yaml.ScalarEvent) -> Scalar:
    """A scalar by the core schema: YAML 1.2.2, 10.3.2.

    Source: https://yaml.org/spec/1.2.2/#103-core-schema
    """
    text = event.value
    if event.style or len(text) > _MOST_DIGITS:
        return str(text)
    if _NULL.match(text):
        return None
    if _BOOL.match(text):
        return text[0] in "tT"
    if _INT.match(text):
        return int(text)
    if _FLOAT.match(text):
        return float(text)
    return str(text)


NEW = "new"
"""In a path, what a new entry in front of the others in a list is called."""


def replaced(root: Node, path: tuple[Key, ...], value: Node) -> Node:
    """A tree in which another value stands at a path. Mappings on the way are made."""
    if not path:
        return replace(value, key_mark=root.key_mark)
    key, *rest = path
    inner = root.child(key)
    if inner is None and rest:
        inner = Node({}, value.mark)
    result = replaced(inner, tuple(rest), value) if inner else value
    if isinstance(root.value, dict):
        return replace(root, value={**root.value, key: result})
    if isinstance(root.value, list) and isinstance(key, int) and inner:
        return replace(root, value=[*root.value[:key], result, *root.value[key + 1 :]])
    if isinstance(root.value, list) and key == NEW:
        return replace(root, value=[result, *root.value])
    raise KeyError(key)


def without(root: Node, path: tuple[Key, ...]) -> Node:
    """A tree in which what stands at a path is left out."""
    key, *rest = path
    inner = root.child(key)
    if inner is None:
        return root
    if rest:
        return replaced(root, (key,), without(inner, tuple(rest)))
    if isinstance(root.value, dict):
        return replace(root, value={k: child for k, child in root.value.items() if k != key})
    if isinstance(root.value, list):
        return replace(root, value=[c for i, c in enumerate(root.value) if i != key])
    return root


def walk(node: Node, path: tuple[Key, ...] = ()) -> Iterator[tuple[tuple[Key, ...], Node]]:
    """Every node below one, itself first, with its path."""
    waiting = [(path, node)]
    while waiting:
        path, node = waiting.pop()
        yield path, node
        children: list[tuple[Key, Node]] = []
        if isinstance(node.value, dict):
            children = list(node.value.items())
        elif isinstance(node.value, list):
            children = list(enumerate(node.value))
        waiting += [((*path, key), child) for key, child in reversed(children)]
