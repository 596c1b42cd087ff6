"""``like:``, by which a header, page, look or section takes over another of its kind."""

from __future__ import annotations

from collections.abc import Container, Iterator
from dataclasses import dataclass, replace

from rising_lantern.errors import Fault, PlanError, quoted
from rising_lantern.plan.models.base import kind_of, nearest
from rising_lantern.plan.text.conditions import laid_over, on_screen
from rising_lantern.plan.text.messages import place_of
from rising_lantern.plan.text.nodes import MOST_NODES, Key, Node, replaced, walk

LIKE = "like"
_Path = tuple[Key, ...]

# The mappings whose entries can take over another, and what each always has for itself.
_OWN = {"headers": ("show",), "pages": ("path", "paths")}
_INNER = {"headers": "looks", "pages": "sections"}
_WORDS = {"headers": "header", "pages": "page", "looks": "look", "sections": "section"}


def written_out(root: Node, file: str) -> tuple[Node, dict[_Path, Fault]]:
    """The plan on one viewport, with everything that is taken over written out.

    What an entry says itself is laid over the other entry key by key. Places are kept: what is
    taken over stands where it was written.

    Args:
        root: The plan with every ``for:`` resolved.
        file: Its name, for messages.

    Returns:
        The plan, and the faults in what entries are like, by the path of the entry; these take
        over nothing.

    Raises:
        PlanError: If the plan becomes too large.
    """
    faults: dict[_Path, Fault] = {}
    for kind in _OWN:
        if _entries(root, (kind,)):
            root = _Entries(root, (kind,), file, faults).written_out()
    for kind, inner in _INNER.items():
        for name, node in _entries(root, (kind,)).items():
            if node.child(inner) and (kind, name) not in faults:
                root = _Entries(root, (kind, name, inner), file, faults).written_out()
    return root, faults


@dataclass
class _Entries:
    """A mapping of entries, some of which may be like others.

    Attributes:
        root: The plan.
        path: Where the mapping is.
        file: The plan's name.
        faults: What is found wrong.
    """

    root: Node
    path: _Path
    file: str
    faults: dict[_Path, Fault]

    def written_out(self) -> Node:
        """The plan with these entries written out."""
        entries = _entries(self.root, self.path)
        done: dict[_Path, Node] = {}
        size = 0
        for name in entries:
            for path in reversed(self._chain((*self.path, name), done)):
                done[path] = self._entry(path, done)
                size += done[path].size
            if size > MOST_NODES:
                problem = f"the plan expands to more than {MOST_NODES:,} values"
                place = place_of(self.root, (*self.path, name, LIKE), self.file)
                remedy = "take over less, or write several plans"
                raise PlanError([Fault(place, problem, remedy)])
        own = {name: done.get((*self.path, name), node) for name, node in entries.items()}
        if all(own[name] is entries[name] for name in own):
            return self.root
        whole = self.root.find(self.path)
        return replaced(self.root, self.path, replace(whole, value=own))

    def _chain(self, path: _Path, done: Container[_Path]) -> list[_Path]:
        """An entry, what it is like, what that is like, and so on, up to one that is done.

        One that is wrong ends it.
        """
        chain: dict[_Path, None] = {}
        here: _Path | None = path
        while here is not None and here not in done:
            chain[here] = None
            base = self._base(here)
            if base in chain:
                problem = f"{quoted(here[-1])} is like {quoted(base[-1])}, which is like it"
                if base == here:
                    problem = f"{quoted(here[-1])} is like itself"
                self._refuse(here, problem, "remove one 'like'")
                break
            here = base
        return list(chain)

    def _base(self, path: _Path) -> _Path | None:
        """The path of what an entry is like; a fault where there is no such thing."""
        node = self.root.at((*path, LIKE))
        if node is None:
            return None
        kind = _WORDS[str(self.path[-1])]
        if not isinstance(node.value, str):
            self._refuse(path, f"'like' is {kind_of(node.plain())}", f"write the name of a {kind}")
            return None
        base = _path_of_sibling(path, node.value)
        if base is None or not isinstance(getattr(self.root.at(base), "value", None), dict):
            known = _entries(self.root, base[:-1] if base else self.path)
            problem = f"there is no {kind} {quoted(node.value)}"
            remedy = nearest(str(base[-1] if base else node.value), map(str, known))
            self._refuse(path, problem, remedy)
            return None
        return base

    def _refuse(self, path: _Path, problem: str, remedy: str) -> None:
        """Note a fault in what an entry is like."""
        place = place_of(self.root, (*path, LIKE), self.file)
        self.faults[path] = Fault(place, problem, remedy)

    def _entry(self, path: _Path, done: dict[_Path, Node]) -> Node:
        """An entry written out, once what it is like is."""
        node = self.root.find(path)
        if node.child(LIKE) is None or not isinstance(node.value, dict):
            return node
        name = node.child(LIKE)
        assert name is not None  # noqa: S101 - just looked at
        own = {key: child for key, child in node.value.items() if key != LIKE}
        base = _path_of_sibling(path, name.value) if isinstance(name.value, str) else None
        below = done.get(base) if base else None
        if below is None or not isinstance(below.value, dict):
            return replace(node, value=own)
        kept = _OWN.get(str(self.path[0]), ()) if len(self.path) == 1 else ()
        taken = {key: child for key, child in below.value.items() if key not in kept}
        # A chain of many grows with each link, so that sizes are added up.
        return replace(node, value=laid_over(taken, own), size=node.size + below.size)


def _entries(root: Node, path: _Path) -> dict[Key, Node]:
    """The entries of a mapping; none where it is not one."""
    node = root.at(path)
    return node.value if node and isinstance(node.value, dict) else {}


def _path_of_sibling(path: _Path, name: str) -> _Path | None:
    """The path of an entry of the same kind as the one at a path.

    Args:
        path: The path of an entry.
        name: A name beside it or, of a look or a section, ``OWNER.NAME``.
    """
    words = name.split(".")
    if len(words) == 1:
        return (*path[:-1], name)
    is_inner = len(path) == len(("pages", "front", "sections", "hero"))
    if not is_inner or len(words) != len(("front", "hero")):
        return None
    return (path[0], words[0], path[2], words[1])


def written_path(root: Node, path: _Path) -> _Path | None:
    """Where a value stands in a plan as it was written, which may be in what its entry is like.

    Args:
        root: The plan as it was written.
        path: The path of a value of the plan with everything written out.

    Returns:
        A path; None where no ``like:`` leads to one.
    """
    waiting, known = [path], {path}
    while waiting:
        path = waiting.pop(0)
        if root.at(path) is not None:
            return path
        for base in _sources(root, path):
            if base not in known:
                known.add(base)
                waiting.append(base)
    return None


def _sources(root: Node, path: _Path) -> Iterator[_Path]:
    """Where else a value may come from: what its header or page is like, its look or section."""
    if len(path) > 2 and path[0] in _OWN:  # noqa: PLR2004 - the kind and a name
        name = root.at((*path[:2], LIKE))
        if name is not None and isinstance(name.value, str):
            yield (path[0], name.value, *path[2:])
    if len(path) > 4 and path[2] == _INNER.get(str(path[0])):  # noqa: PLR2004 - and an inner one
        where = written_path(root, (*path[:4], LIKE)) if path[4] != LIKE else None
        name = root.at(where) if where else None
        base = (
            _path_of_sibling(path[:4], name.value) if name and isinstance(name.value, str) else None
        )
        if base:
            yield (*base, *path[4:])


def followers(root: Node, kind: str, name: str) -> frozenset[str]:
    """The headers or pages that take over something of one of them, itself among them."""
    return _reachable({(base, own) for own, base in _links(root, kind)}, name)


def sources(root: Node, kind: str, name: str) -> frozenset[str]:
    """The headers or pages that one of them takes over something of, itself among them."""
    return _reachable(_links(root, kind), name)


def _links(root: Node, kind: str) -> set[tuple[str, str]]:
    """Headers or pages, each with another one of which it takes over something."""
    return {
        (str(path[1]), node.value.split(".")[0])
        for path, node in walk(root.child(kind) or root, (kind,))
        if len(path) > 2 and path[-1] == LIKE and isinstance(node.value, str)  # noqa: PLR2004
        if len(path) == 3 or "." in node.value  # noqa: PLR2004 - a name alone is beside it
    }


def _reachable(links: set[tuple[str, str]], start: str) -> frozenset[str]:
    following: dict[str, list[str]] = {}
    for one, other in links:
        following.setdefault(one, []).append(other)
    found, waiting = {start}, [start]
    while waiting:
        new = [other for other in following.get(waiting.pop(), ()) if other not in found]
        found.update(new)
        waiting += new
    return frozenset(found)


def as_read(root: Node, file: str) -> Node:
    """A plan as it was written, with every ``for:`` left out and every ``like:`` written out."""
    return written_out(on_screen(root, ""), file)[0]
