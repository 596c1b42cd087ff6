"""Renaming a thing of a plan, with everything that names it.

Most of what names a thing is found by the reader: it is what is at fault once the thing has
another name. What the reader cannot tell is looked for: overrides of the same thing, names that
several pages share, links, and findings that are silenced.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from rising_lantern.errors import Fault, PlanError, RequestError, quoted
from rising_lantern.plan.edits.drafts import Draft
from rising_lantern.plan.edits.splices import Splice, spliced
from rising_lantern.plan.edits.syntax import Keys, Member, Value
from rising_lantern.plan.text.conditions import CONDITION
from rising_lantern.plan.text.likeness import followers, sources
from rising_lantern.plan.text.nodes import Node, walk
from rising_lantern.plan.text.tokens import NAME, is_token_file

_NAMED = {"viewports", "colors", "fonts", "headers", "pages"}
_NAMED_INSIDE = {"headers": {"looks", "parts", "rows"}, "pages": {"sections"}}
_CHANGED_BY_LOOKS = {"parts", "rows"}
_SILENCED_BY = {"pages": "page", "viewports": "viewport"}


def renamed(draft: Draft, path: Keys, new: str, words: str) -> Draft:
    """A draft in which a thing has another name, and everything that names it follows.

    Args:
        draft: The draft, which has no faults.
        path: Where the thing stands.
        new: Its new name.
        words: What is done, for messages.

    Raises:
        PlanError: If the draft has faults.
        RequestError: If the thing has no name of its own, or the name is taken or cannot be one.
    """
    kind, old = _kind_of(path), str(path[-1])
    root, tree = draft.root, draft.tree
    is_file = kind == "colors" and is_token_file(path[-1], root.find(path))
    if kind is None or is_file:
        raise RequestError(
            f"{words}: this has no name of its own; name a header, a look, row or part of one, a "
            "page, a section, a viewport, a colour or a font"
        )
    if not NAME.match(new):
        raise RequestError(
            f"{words}: {quoted(new)} is not a valid name; start with a letter; use only letters, "
            "digits, - and _"
        )
    if old == new:
        return draft
    targets = list(_same_things(root, path, kind))
    for target in targets:
        siblings = root.find(target[:-1])
        if siblings.child(new) is not None:
            raise RequestError(f"{words}: there is a {quoted(new)} already")
    spots = {(entry.start, entry.key_end) for entry in _entries_at(tree, targets)}
    if tree is None or not spots:
        raise RequestError(f"{words}: it is taken over from another place, where it has its name")
    splices: list[Splice] = [(*spot, draft.notation.key(new)) for spot in spots]
    splices += [(*spot, new) for spot in _spots_in_silences(draft.text, tree, kind, old)]
    splices += [(*spot, new) for spot in _spots_in_links(draft.text, tree, root, kind, targets)]
    splices += [(*spot, new) for spot in _spots_in_header(draft.text, tree, kind, targets)]
    changed = replace(draft, text=spliced(draft.text, splices))
    return _follow(changed, old, new)


def _kind_of(path: Keys) -> str | None:
    """The mapping whose entries are called what stands at a path; None for other things."""
    plain = _plain_path(path)
    if len(plain) == 2 and plain[0] in _NAMED:  # noqa: PLR2004 - the kind and a name
        return str(plain[0])
    if len(plain) == 4 and plain[2] in _NAMED_INSIDE.get(str(plain[0]), ()):  # noqa: PLR2004
        return str(plain[2])
    return None


def _plain_path(path: Keys) -> Keys:
    """A path without the screens that its values are for."""
    result: list[str | int] = []
    waiting = iter(path)
    for key in waiting:
        if key == CONDITION:
            next(waiting, None)
        else:
            result.append(key)
    return tuple(result)


def _same_things(root: Node, path: Keys, kind: str) -> Iterator[Keys]:
    """Where a thing is written: itself, and what is laid over it, by ``like`` and ``for``.

    Looks change parts and rows by their names. A section that headers name is the section of
    that name on every page.
    """
    plain = _plain_path(path)
    is_shared = kind == "sections" and _is_named_by_headers(root, str(plain[-1]))
    owners = None
    if kind not in _NAMED and not is_shared:
        owners = _relatives(root, str(plain[0]), str(plain[1]))
    for other, _ in walk(root):
        own = _plain_path(other)
        alike = own == plain
        if kind not in _NAMED and len(own) >= len(plain) and own[0] == plain[0]:
            inner = own[4:] if own[2] == "looks" and kind in _CHANGED_BY_LOOKS else own[2:]
            alike = inner == plain[2:] and (owners is None or str(own[1]) in owners)
        if alike and other[-1] == plain[-1]:
            yield other


def _relatives(root: Node, kind: str, name: str) -> frozenset[str]:
    """The headers or pages that share something with one of them by ``like``."""
    found, known = frozenset({name}), frozenset[str]()
    while found != known:
        known = found
        for item in known:
            found |= followers(root, kind, item) | sources(root, kind, item)
    return found


def _is_named_by_headers(root: Node, section: str) -> bool:
    word = re.compile(rf"\s*(?:past|reach)\s+{re.escape(section)}(?![\w-])", re.IGNORECASE)
    headers = root.child("headers")
    return headers is not None and any(
        isinstance(node.value, str)
        and (node.value == section if path[-1] == "inside" else word.match(node.value))
        for path, node in walk(headers)
        if path
    )


def _entries_at(tree: Value | None, paths: list[Keys]) -> Iterator[Member]:
    """The entries of a text that stand at some paths themselves."""
    for path in paths:
        holder = tree.at(path[:-1]) if tree else None
        entry = holder.entry(path[-1]) if holder and not holder.is_list else None
        if entry:
            yield entry


def _spots_in_silences(text: str, tree: Value, kind: str, old: str) -> Iterator[tuple[int, int]]:
    """Where findings about a thing are silenced."""
    silence = tree.at(("check", "silence"))
    for entry in silence.walk() if silence else ():
        if entry.key == _SILENCED_BY.get(kind):
            yield from _spots(text, entry.value, old, whole=True)
        elif entry.key == "subject" and kind not in _SILENCED_BY:
            yield from _spots(text, entry.value, old)


def _spots_in_links(
    text: str, tree: Value, root: Node, kind: str, targets: list[Keys]
) -> Iterator[tuple[int, int]]:
    """Where links lead to a page or a section: ``PAGE``, ``PAGE#SECTION`` or ``#SECTION``."""
    if kind not in {"pages", "sections"}:
        return
    old = str(targets[0][-1])
    owners = {name for target in targets for name in _relatives(root, "pages", str(target[1]))}
    for own, value in _addresses(tree):
        said = text[value.start : value.end].strip("'\"")
        page, _, section = said.partition("#")
        if kind == "pages" and page == old:
            start = text.index(old, value.start)
            yield start, start + len(old)
        # A header is on many pages: its '#SECTION' is the section of each.
        here = page in owners or (not page and (own is None or own in owners))
        if kind == "sections" and section == old and here:
            start = text.index(f"#{old}", value.start) + 1
            yield start, start + len(old)


def _addresses(tree: Value) -> Iterator[tuple[str | None, Value]]:
    """The addresses of links, each with the page that it stands on; None in headers."""
    for group in ("pages", "headers"):
        holder = tree.at((group,))
        for owner in (holder.entries if holder else None) or ():
            page = owner.key if group == "pages" else None
            for entry in owner.value.walk():
                found = entry.value.walk() if entry.key == "links" else ()
                for item in [entry] if entry.key == "to" else found:
                    if item.value.entries is None and not item.value.is_alias:
                        yield page, item.value


def _spots_in_header(
    text: str, tree: Value, kind: str, targets: list[Keys]
) -> Iterator[tuple[int, int]]:
    """Where a header says which row a part is in, or which look it has over a tone."""
    named_by = {"rows": "parts", "looks": "under"}.get(kind)
    for owner in {target[1] for target in targets if named_by}:
        holder = tree.at(("headers", owner, str(named_by)))
        for entry in holder.walk() if holder else ():
            if kind == "looks" or entry.key == "row":
                yield from _spots(text, entry.value, str(targets[0][-1]), whole=True)


def _spots(text: str, value: Value, old: str, *, whole: bool = False) -> Iterator[tuple[int, int]]:
    """Where a value says a name, as a word or as all that it says."""
    if value.entries is not None or value.is_alias:
        return
    if whole and text[value.start : value.end].strip("'\"") != old:
        return
    for found in _word(old).finditer(text, value.start, value.end):
        yield found.span()


def _word(name: str) -> re.Pattern[str]:
    return re.compile(rf"(?<![\w-]){re.escape(name)}(?![\w-])")


def _follow(draft: Draft, old: str, new: str) -> Draft:
    """A draft in which all that is at fault for want of a name has the new one."""
    while True:  # each round leaves fewer of the old names
        try:
            draft.read()
        except PlanError as error:
            spots = set(_faulty(draft, error.faults, old))
            if not spots:
                raise
            splices: list[Splice] = [(*spot, new) for spot in spots]
            draft = replace(draft, text=spliced(draft.text, splices))
        else:
            return draft


def _faulty(draft: Draft, faults: tuple[Fault, ...], old: str) -> Iterator[tuple[int, int]]:
    """Where the old name stands that faults are about."""
    tree = draft.tree
    lines = [0]
    for line in draft.text.splitlines(keepends=True):
        lines.append(lines[-1] + len(line))
    places = {
        lines[fault.place.line - 1] + (fault.place.column or 1) - 1
        for fault in faults
        if fault.place.line and fault.place.file == draft.name
    }
    for entry in tree.walk() if tree else ():
        value = entry.value
        for start, end, is_key in (
            (entry.start, entry.key_end, True),
            (value.start, value.end, False),
        ):
            hits = [place for place in places if start <= place < max(end, start + 1)]
            if not hits or (not is_key and value.entries is not None):
                continue
            found = _word(old).search(draft.text, min(hits), end) or _word(old).search(
                draft.text, start, end
            )
            if found:
                yield found.span()
