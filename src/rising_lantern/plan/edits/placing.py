"""Changing a text where something stands in it, so that all else stays as it is."""

from __future__ import annotations

from collections.abc import Sequence

from rising_lantern.plan.edits.notation import Notation
from rising_lantern.plan.edits.splices import Splice, spliced
from rising_lantern.plan.edits.syntax import (
    Keys,
    Member,
    Value,
    anchor_end,
    begins_line,
    leading,
    line_end,
    line_start,
    next_sign,
)
from rising_lantern.plan.text.nodes import NEW


def with_value(text: str, root: Value, path: Keys, value: str, notation: Notation) -> str | None:
    """The text with a value set at a path; mappings on the way are made.

    Args:
        text: The text.
        root: What stands in it.
        path: The path.
        value: The value, as it is written.
        notation: How keys are written.
    """
    depth = next(at for at in range(len(path), -1, -1) if root.at(path[:at]) is not None)
    there = root.at(path[:depth])
    assert there is not None  # noqa: S101 - looked for just before
    if depth == len(path):
        return _with_another(text, root, path, value)
    value = notation.nested(path[depth + 1 :], value)
    if there.entries is None:
        whole = notation.nested(path[depth : depth + 1], value)
        is_nothing = not there.is_alias and text[there.start : there.end].strip("~") in {"", "null"}
        return _with_another(text, root, path[:depth], whole) if is_nothing else None
    if there.is_list:
        is_new = path[depth] == NEW
        return with_entry(text, there, 0, value) if is_new else None
    piece = f"{notation.key(path[depth])}: {value}"
    return with_entry(text, there, len(there.entries), piece)


def _with_another(text: str, root: Value, path: Keys, value: str) -> str:
    """The text with another value in the place of one."""
    old = root.at(path)
    assert old is not None  # noqa: S101 - it was looked for
    start, end = old.start, old.end
    if old.start == old.end:
        value = f" {value}"
    elif text[old.end - 1] in "\r\n":
        end = old.end - 1 - (text[old.end - 2 : old.end] == "\r\n")
    elif not old.flow and path:
        holder = root.at(path[:-1])
        entry = holder.entry(path[-1]) if holder else None
        if entry:
            return spliced(text, [_replace_block(text, entry, value)])
    return spliced(text, [(start, end, value)])


def _replace_block(text: str, entry: Member, value: str) -> Splice:
    """The exchange of a block below a key or dash for a value on the same line."""
    after = entry.key_end if entry.key is not None else entry.start
    sign = text.find(":" if entry.key is not None else "-", after)
    gap = text[sign + 1 : entry.value.start]
    if gap.strip():
        return entry.value.start, entry.value.end, value
    return sign + 1, entry.value.end, f" {value}"


def with_entry(text: str, holder: Value, index: int, piece: str) -> str:
    """The text with another entry in a mapping or list.

    Args:
        text: The text.
        holder: The mapping or list.
        index: How many entries are before it.
        piece: The entry, as it is written in brackets.
    """
    entries = holder.entries or []
    if holder.flow:
        return _with_entry_in_brackets(text, holder, index, piece)
    indent = " " * (entries[0].start - line_start(text, entries[0].start))
    piece = f"- {piece}" if holder.is_list else piece
    if index == 0:
        at = entries[0].start
        return spliced(text, [(at, at, f"{piece}{_break_of(text)}{indent}")])
    return _with_lines(text, entries[index - 1], f"{indent}{piece}")


def _with_lines(text: str, entry: Member, lines: str) -> str:
    """The text with lines after those of an entry of a block."""
    at = line_end(text, entry.end)
    line_break = _break_of(text)
    is_open = at > 0 and text[at - 1] not in "\r\n"
    return spliced(text, [(at, at, f"{line_break}{lines}" if is_open else lines + line_break)])


def _with_entry_in_brackets(text: str, holder: Value, index: int, piece: str) -> str:
    entries = holder.entries or []
    if not entries:
        return spliced(text, [(holder.start + 1, holder.start + 1, piece)])
    beside = entries[min(index, len(entries) - 1)]
    space = " "
    if begins_line(text, beside.start):
        space = _break_of(text) + text[line_start(text, beside.start) : beside.start]
    if index == len(entries):
        return spliced(text, [(beside.end, beside.end, f",{space}{piece}")])
    return spliced(text, [(beside.start, beside.start, f"{piece},{space}")])


def without_entry(text: str, holder: Value, index: int, above: Member | None) -> str:
    """The text without an entry of a mapping or list, and without the comments in it.

    Args:
        text: The text.
        holder: The mapping or list.
        index: Which of its entries.
        above: The entry whose value the holder is; None where it is the whole text.
    """
    entries = holder.entries or []
    entry = entries[index]
    if holder.flow:
        return spliced(text, _outside_of_brackets(text, entries, index))
    if len(entries) == 1:
        empty = "[]" if holder.is_list else "{}"
        if above is None:
            return spliced(text, [(holder.start, holder.end, empty)])
        return spliced(text, [_replace_block(text, above, empty)])
    end = line_end(text, entry.end)
    if begins_line(text, entry.start):
        return spliced(text, [(line_start(text, entry.start), end, "")])
    # Behind the dash of an item: what follows moves up to it, if no comment stands between.
    after = entries[index + 1].start
    is_bare = not text[end:after].strip()
    return spliced(text, [(entry.start, after if is_bare else entry.end, "")])


def _outside_of_brackets(text: str, entries: Sequence[Member], index: int) -> list[Splice]:
    """What goes with an entry in brackets: itself, and one comma; comments beside it stay."""
    entry = entries[index]
    if index + 1 < len(entries):
        comma = next_sign(text, entry.end)
        after = comma + 1
        while text[after : after + 1] == " ":
            after += 1
        if comma == entry.end:
            return [(entry.start, after, "")]
        return [(entry.start, entry.end, ""), (comma, comma + 1, "")]
    if index:
        comma = next_sign(text, entries[index - 1].end)
        if not text[comma + 1 : entry.start].strip():
            return [(comma, entry.end, "")]
        return [(comma, comma + 1, ""), (entry.start, entry.end, "")]
    return [(entry.start, entry.end, "")]


def with_copy(text: str, holder: Value, index: int, key: str | None) -> str:
    """The text with an entry once more behind itself.

    Args:
        text: The text.
        holder: The mapping or list that it is in.
        index: Which of the entries.
        key: The key of the copy, as it is written; None in a list.
    """
    entry = (holder.entries or [])[index]
    piece = _copy_entry(text, entry, key)
    if holder.flow:
        return _with_entry_in_brackets(text, holder, index + 1, piece)
    indent = " " * (entry.start - line_start(text, entry.start))
    return _with_lines(text, entry, f"{indent}{piece}")


def _copy_entry(text: str, entry: Member, key: str | None) -> str:
    """An entry with another key and without anchors, which would count from there on."""
    splices: list[Splice] = [] if key is None else [(entry.start, entry.key_end, key)]
    values = (entry.value, *(inner.value for inner in entry.value.walk()))
    anchors = [value.anchor for value in values if value.anchor is not None]
    splices += [(anchor, anchor_end(text, anchor), "") for anchor in anchors]
    piece = text[entry.start : entry.end]
    moved = [(start - entry.start, end - entry.start, new) for start, end, new in splices]
    return spliced(piece, moved).rstrip("\r\n")


def with_order(text: str, holder: Value, order: Sequence[int]) -> str:
    """The text with the entries of a mapping or list in another order.

    Each goes with the comment behind it and with those just above it.

    Args:
        text: The text.
        holder: The mapping or list.
        order: The index of the entry that comes to each place.
    """
    entries = holder.entries or []
    slots: list[tuple[int, int]] = []
    for entry in entries:
        start, end = entry.start, entry.end
        if not holder.flow:
            if begins_line(text, start):
                above = slots[-1][1] if slots else holder.start
                start = leading(text, start, above)
                while text[start] == " ":
                    start += 1
            end = start + len(text[start : line_end(text, entry.end)].rstrip("\r\n"))
        slots.append((start, end))
    pieces = [text[start:end] for start, end in slots]
    return spliced(
        text,
        [(*slot, pieces[index]) for slot, index in zip(slots, order, strict=True)],
    )


def _break_of(text: str) -> str:
    """How lines end in a text."""
    return "\r\n" if "\r\n" in text else "\n"
