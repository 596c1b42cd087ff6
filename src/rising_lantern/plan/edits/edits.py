"""Edits of a plan's text: set, add, remove, duplicate, move, rename. Each can be undone."""

from __future__ import annotations

import copy
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Protocol

from rising_lantern.base.arguments import given, text
from rising_lantern.errors import RequestError, quoted
from rising_lantern.plan.edits import placing
from rising_lantern.plan.edits.drafts import Data, Draft
from rising_lantern.plan.edits.renaming import renamed
from rising_lantern.plan.edits.splices import spliced
from rising_lantern.plan.edits.syntax import Keys, Value
from rising_lantern.plan.text.nodes import NEW, Key
from rising_lantern.plan.text.set_values import existing_path, path_of, value_given


class Edit(Protocol):
    """A change of a plan's text."""

    @property
    def words(self) -> str:
        """What it does, such as ``set headers.main.height to 80px``."""
        ...

    def made_in(self, draft: Draft) -> Draft:
        """The draft with the change made.

        Raises:
            PlanError: If the text is no plan, or a path leads nowhere.
            RequestError: If it cannot be made there.
        """
        ...


@dataclass(frozen=True, slots=True)
class Undo:
    """The inverse of an edit: what makes of a text the one before it, to the character.

    Attributes:
        words: What it does.
        at: Where the two texts begin to differ, in characters.
        old: The piece that has to stand there.
        new: The piece that stood there before.
    """

    words: str
    at: int
    old: str
    new: str

    @classmethod
    def of(cls, edit: Edit, before: str, after: str) -> Undo:
        """The inverse of an edit, by the texts before and after it."""
        most = min(len(before), len(after))
        first = next((at for at in range(most) if before[at] != after[at]), most)
        rest = range(most - first)
        last = next((at for at in rest if before[-1 - at] != after[-1 - at]), most - first)
        old, new = (text[first : len(text) - last] for text in (after, before))
        return cls(f"undo: {edit.words}", first, old, new)

    def made_in(self, draft: Draft) -> Draft:
        """The draft as it was; see :meth:`Edit.made_in`."""
        end = self.at + len(self.old)
        if draft.text[self.at : end] != self.old:
            raise RequestError(f"the text has changed since: {self.words} is not possible")
        return replace(draft, text=spliced(draft.text, [(self.at, end, self.new)]))


def edited(draft: Draft, edits: Iterable[Edit]) -> tuple[Draft, tuple[Undo, ...]]:
    """A draft with some edits made in it one after the other, and what undoes them.

    Args:
        draft: The draft.
        edits: The edits, the first first.

    Returns:
        The draft with all of them, and their inverses, the last first.

    Raises:
        PlanError: If a path leads nowhere.
        RequestError: If one of them cannot be made, or is no edit.
    """
    undone: list[Undo] = []
    for edit in edits:
        if not hasattr(edit, "made_in"):
            raise RequestError(f"{given(edit)} is not an edit; write Set('title', 'Saltmere')")
        after = edit.made_in(draft)
        undone.insert(0, Undo.of(edit, draft.text, after.text))
        draft = after
    return draft, tuple(undone)


@dataclass(frozen=True, slots=True)
class Set:
    """Set a value: change the one that is there, or put it in.

    Attributes:
        path: Where, as ``--set`` takes it, or as keys and indices; ``new`` stands for a new entry
            in front of the others in a list.
        value: The value, written as in a plan: ``80px``, or ``{color: white}``.
    """

    path: str | Keys
    value: str

    def __post_init__(self) -> None:
        _check_path(self.path)
        text("a value", self.value, "80px")

    @property
    def words(self) -> str:
        """What it does."""
        return f"set {path_words(self.path)} to {self.value}"

    def made_in(self, draft: Draft) -> Draft:
        """The draft with the value set; see :meth:`Edit.made_in`."""
        root = draft.root
        path = path_of(root, self.path, self.value) if isinstance(self.path, str) else self.path
        *holder, key = path
        value, plain = _read_value(draft, self.path, self.value)

        def meant(data: Data) -> None:
            if isinstance(data, list) and key == NEW:
                data.insert(0, copy.deepcopy(plain))
            else:
                data[key] = copy.deepcopy(plain)

        return draft.changed(
            self.words,
            tuple(holder),
            meant,
            lambda whole, root: placing.with_value(whole, root, path, value, draft.notation),
        )


@dataclass(frozen=True, slots=True)
class Add:
    """Add an entry to a mapping or a list.

    Attributes:
        path: The path that the entry gets: its key, or its index in the list.
        value: The value, written as in a plan.
        before: The key that it comes before; None for the end of the mapping.
    """

    path: str | Keys
    value: str
    before: Key | None = None

    def __post_init__(self) -> None:
        _check_path(self.path)
        text("a value", self.value, "80px")

    @property
    def words(self) -> str:
        """What it does."""
        return f"add {path_words(self.path)}: {self.value}"

    def made_in(self, draft: Draft) -> Draft:
        """The draft with the entry in it; see :meth:`Edit.made_in`."""
        *above, key = _keys(self.path)
        holder = _existing(draft, tuple(above))
        there = _plain(draft, holder)
        key = _check_new_key(there, key, self.path)
        index = _index_before(there, key, self.before)
        value, plain = _read_value(draft, self.path, self.value)
        piece = value if isinstance(there, list) else f"{draft.notation.key(key)}: {value}"

        def meant(data: Data) -> None:
            if isinstance(data, list):
                data.insert(index, copy.deepcopy(plain))
            else:
                _insert(data, index, key, copy.deepcopy(plain))

        def place(whole: str, root: Value) -> str | None:
            inside = root.at(holder)
            if inside is None or inside.entries is None:
                return None
            return placing.with_entry(whole, inside, index, piece)

        return draft.changed(self.words, holder, meant, place)


@dataclass(frozen=True, slots=True)
class Remove:
    """Remove an entry of a mapping or a list, with what is in it and the comments there.

    Attributes:
        path: Where it stands.
    """

    path: str | Keys

    def __post_init__(self) -> None:
        _check_path(self.path)

    @property
    def words(self) -> str:
        """What it does."""
        return f"remove {path_words(self.path)}"

    def made_in(self, draft: Draft) -> Draft:
        """The draft without it; see :meth:`Edit.made_in`."""
        *holder, key = _existing(draft, self.path)

        def meant(data: Data) -> None:
            del data[key]

        def place(whole: str, root: Value) -> str | None:
            found = _place_in(root, tuple(holder), key)
            above = _place_in(root, tuple(holder[:-1]), holder[-1]) if holder else None
            if found is None:
                return None
            entry = above and (above[0].entries or [])[above[1]]
            return placing.without_entry(whole, *found, entry or None)

        return draft.changed(self.words, tuple(holder), meant, place)


@dataclass(frozen=True, slots=True)
class Duplicate:
    """Put an entry of a mapping or a list once more behind itself.

    Attributes:
        path: Where it stands.
        key: The key of the copy; None in a list.
    """

    path: str | Keys
    key: str | None = None

    def __post_init__(self) -> None:
        _check_path(self.path)
        if self.key is not None:
            text("a key", self.key, "second")

    @property
    def words(self) -> str:
        """What it does."""
        return f"duplicate {path_words(self.path)}" + (f" as {self.key}" if self.key else "")

    def made_in(self, draft: Draft) -> Draft:
        """The draft with the copy in it; see :meth:`Edit.made_in`."""
        *holder, key = _existing(draft, self.path)
        there = _plain(draft, tuple(holder))
        if isinstance(there, list) != (self.key is None):
            needed = "no key" if isinstance(there, list) else "a key of its own"
            raise RequestError(f"the copy of {path_words(self.path)} needs {needed}")
        if self.key is not None:
            _check_new_key(there, self.key, self.path)
        index = int(key) if isinstance(there, list) else list(there).index(key)

        def meant(data: Data) -> None:
            copied = copy.deepcopy(data[key])
            if isinstance(data, list):
                data.insert(index + 1, copied)
            else:
                _insert(data, index + 1, self.key, copied)

        def place(whole: str, root: Value) -> str | None:
            found = _place_in(root, tuple(holder), key)
            word = None if self.key is None else draft.notation.key(self.key)
            return placing.with_copy(whole, *found, word) if found else None

        return draft.changed(self.words, tuple(holder), meant, place)


@dataclass(frozen=True, slots=True)
class Move:
    """Move an entry to another place in its mapping or list: layers, sections, headers.

    Attributes:
        path: Where it stands.
        to: The place that it gets, counted from 0.
    """

    path: str | Keys
    to: int

    def __post_init__(self) -> None:
        _check_path(self.path)
        if isinstance(self.to, bool) or not isinstance(self.to, int):
            raise RequestError(f"{given(self.to)} is not a place; count from 0")

    @property
    def words(self) -> str:
        """What it does."""
        return f"move {path_words(self.path)} to place {self.to + 1}"

    def made_in(self, draft: Draft) -> Draft:
        """The draft with the entry there; see :meth:`Edit.made_in`."""
        *holder, key = _existing(draft, self.path)
        there = _plain(draft, tuple(holder))
        index = int(key) if isinstance(there, list) else list(there).index(key)
        if not 0 <= self.to < len(there):
            raise RequestError(
                f"{path_words(self.path)} is one of {len(there)}: its place is from 0 to "
                f"{len(there) - 1}, not {self.to}"
            )
        order = [place for place in range(len(there)) if place != index]
        order.insert(self.to, index)

        def place(whole: str, root: Value) -> str | None:
            inside = root.at(tuple(holder))
            if inside is None or len(inside.entries or ()) != len(there):
                return None
            return placing.with_order(whole, inside, order)

        return draft.changed(self.words, tuple(holder), lambda data: _reorder(data, order), place)


@dataclass(frozen=True, slots=True)
class Rename:
    """Give another name to a header, look, row, part, page, section, viewport, colour or font.

    What names it follows: ``show``, ``like``, ``past NAME``, ``under``, ``row``, ``for``, links,
    colours in every value, and what is silenced.

    Attributes:
        path: Where it stands.
        name: The new name.
    """

    path: str | Keys
    name: str

    def __post_init__(self) -> None:
        _check_path(self.path)
        text("a name", self.name, "hero")

    @property
    def words(self) -> str:
        """What it does."""
        return f"rename {path_words(self.path)} to {self.name}"

    def made_in(self, draft: Draft) -> Draft:
        """The draft with the new name; see :meth:`Edit.made_in`."""
        return renamed(draft, _existing(draft, self.path), self.name, self.words)


def path_words(path: str | Keys) -> str:
    """A path as it is written for people, and as ``--set`` takes it where no name has a dot."""
    return path if isinstance(path, str) else ".".join(str(key) for key in path)


def _check_path(path: object) -> None:
    """See that something is a path: text, or keys and indices."""
    keys = path if isinstance(path, tuple) else (path,)
    kinds = str | int if isinstance(path, tuple) else str
    if not keys or not all(isinstance(key, kinds) for key in keys):
        raise RequestError(f"{given(path)} is not a path; write 'headers.main.height'")


def _keys(path: str | Keys) -> Keys:
    if isinstance(path, tuple):
        return path
    return tuple(int(word) if word.isdigit() else word for word in path.split("."))


def _existing(draft: Draft, path: str | Keys) -> Keys:
    """The keys of a path that leads to a value of the text."""
    root = draft.root
    if isinstance(path, str):
        return existing_path(root, path)
    if root.at(path) is None:
        raise RequestError(f"the plan has no {path_words(path)}")
    return path


def _plain(draft: Draft, holder: Keys) -> Data:
    """The mapping or list at a path, as data."""
    node = draft.root.at(holder)
    if node is None or not isinstance(node.value, dict | list):
        where = path_words(holder) or "the plan"
        raise RequestError(f"{where} has no entries")
    return node.plain()


def _check_new_key(there: Data, key: Key | str, path: str | Keys) -> Key:
    """A key that is not there yet, or an index up to the end of a list."""
    if isinstance(there, list):
        if not isinstance(key, int) or not 0 <= key <= len(there):
            raise RequestError(f"{path_words(path)}: the list has {len(there)} entries")
        return key
    if key in there or str(key) in there:
        raise RequestError(f"{path_words(path)}: {quoted(key)} is there already")
    return str(key)


def _index_before(there: Data, key: Key, before: Key | None) -> int:
    if isinstance(there, list):
        return int(key)
    if before is None:
        return len(there)
    if before not in there:
        raise RequestError(f"there is no {quoted(before)} to come before")
    return list(there).index(before)


def _place_in(root: Value, holder: Keys, key: Key) -> tuple[Value, int] | None:
    """The mapping or list at a path with the index of an entry that stands in it itself."""
    inside = root.at(holder)
    entry = inside.entry(key) if inside else None
    if inside is None or entry is None:
        return None
    return inside, (inside.entries or []).index(entry)


def _read_value(draft: Draft, path: str | Keys, value: str) -> tuple[str, Data]:
    """A value as it is written into the text, and as it is read."""
    plain = value_given(draft.name, path_words(path), value).plain()
    return draft.notation.value(value), plain


def _insert(data: Data, index: int, key: Key | str | None, value: Data) -> None:
    """Put an entry into a mapping at a place."""
    data[key] = value
    order = list(range(len(data) - 1))
    order.insert(index, len(data) - 1)
    _reorder(data, order)


def _reorder(data: Data, order: list[int]) -> None:
    """Bring the entries of a mapping or list into another order, in place."""
    if isinstance(data, list):
        data[:] = [data[index] for index in order]
        return
    keys = list(data)
    for key in [keys[index] for index in order]:
        data[key] = data.pop(key)
