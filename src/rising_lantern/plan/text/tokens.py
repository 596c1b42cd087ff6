"""Colours from a file of design tokens: ``colors: {from: tokens.json}``.

Source: https://www.designtokens.org/tr/drafts/format/
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass, field, replace
from pathlib import Path

from rising_lantern.base.opening import opened_file
from rising_lantern.css.color_spaces import RECTANGULAR
from rising_lantern.css.numbers import number
from rising_lantern.errors import Fault, Place, PlanError, quoted
from rising_lantern.plan.files.locate import FileFault, Stamp, locate, stamp_of
from rising_lantern.plan.models.base import nearest
from rising_lantern.plan.text.messages import place_of
from rising_lantern.plan.text.nodes import MOST_BYTES, Key, Mark, Node, parse

FROM = "from"

NAME = re.compile(r"[A-Za-z][A-Za-z0-9_-]{0,59}\Z")
"""What a name of a plan is: a letter, then letters, digits, - and _."""

_COLORS = "colors"
_ALIAS = re.compile(r"\{([^{}]+)\}\Z")
_MOST_ALIASES = 40  # one after the other
_FUNCTIONS = {"lab", "lch", "oklab", "oklch"}
_SPACES = RECTANGULAR - {"lab", "oklab", "xyz"}
_REMEDY = 'write a hex colour, or {"colorSpace": "srgb", "components": [0.1, 0.2, 0.4]}'

_Path = tuple[str, ...]


def with_tokens(root: Node, folder: Path, file: str) -> tuple[Node, list[Fault]]:
    """A plan with the colours of its file of design tokens, and the faults of that file.

    Each colour is called as its token, with the names of the groups before it: ``brand.ink`` is
    ``brand-ink``. Colours that the plan has itself count instead.

    Args:
        root: The plan's nodes.
        folder: The plan's folder, which the file has to be in.
        file: The name of the plan, for messages.
    """
    colors = root.child(_COLORS)
    source = colors.child(FROM) if colors else None
    if colors is None or source is None or not is_token_file(FROM, source):
        return root, []
    assert isinstance(colors.value, dict)  # noqa: S101 - it has a child of that name
    own = {name: node for name, node in colors.value.items() if name != FROM}
    tokens, faults = _read(str(source.value), folder, place_of(root, (_COLORS, FROM), file))
    value: dict[Key, Node] = {**tokens, **own}
    whole = {**root.value, _COLORS: replace(colors, value=value)}  # type: ignore[dict-item]
    return replace(root, value=whole), faults


def token_file(root: Node, folder: Path) -> tuple[Path, Stamp] | None:
    """The file of design tokens that a plan names, and its state; None where it has none."""
    source = root.at((_COLORS, FROM))
    if source is None or not is_token_file(FROM, source):
        return None
    try:
        path = locate(folder, str(source.value))
        return path, stamp_of(path)
    except (FileFault, OSError):
        return None  # reported where it is read


def is_token_file(key: Key, node: Node) -> bool:
    """Whether an entry of a plan's colours names a file; a colour may be called 'from' as well."""
    text = node.value
    return key == FROM and isinstance(text, str) and text.lower().endswith(".json")


def _read(name: str, folder: Path, place: Place) -> tuple[dict[Key, Node], list[Fault]]:
    try:
        root = parse(_text(locate(folder, name), name), name, option=name)
    except FileFault as fault:
        return {}, [Fault(place, fault.problem, fault.remedy)]
    except (OSError, UnicodeDecodeError):
        return {}, [Fault(place, f"{quoted(name)} is not text", "save it as JSON in UTF-8")]
    except PlanError as error:
        return {}, list(error.faults)
    reader = _Tokens(name, root)
    return reader.colors(), reader.faults


def _text(path: Path, name: str) -> str:
    """The text of a file.

    Raises:
        FileFault: If it is too large.
        OSError: If it cannot be read.
        UnicodeDecodeError: If it is not UTF-8.
    """
    with opened_file(path) as opened:
        data = opened.read(MOST_BYTES + 1)
    if len(data) > MOST_BYTES:
        raise FileFault(f"{quoted(name)} is too large", f"keep it under {MOST_BYTES:,} bytes")
    return data.decode("utf-8-sig")


@dataclass
class _Tokens:
    """The tokens of a file.

    Attributes:
        file: Its name.
        root: Its nodes.
        faults: What is wrong in it.
    """

    file: str
    root: Node
    faults: list[Fault] = field(default_factory=list)

    def colors(self) -> dict[Key, Node]:
        """Its colours by the names that the plan has for them, as CSS text at their places."""
        result: dict[Key, Node] = {}
        for path, token, kind in self._walk(self.root, (), None):
            value = token.child("$value")
            if value is None or self._kind(path, token, kind) != "color":
                continue
            name = re.sub(r"[^A-Za-z0-9_-]+", "-", "-".join(path)).strip("-")
            mark = value.mark
            if not NAME.match(name):
                remedy = "start it with a letter, and use at most 60 letters and digits"
                self._wrong(mark, f"{quoted('.'.join(path))} cannot be a name", remedy)
            elif name in result:
                self._wrong(mark, f"two tokens are called {quoted(name)}", "rename one of them")
            else:
                text = self._color(path, value)
                if text is not None:
                    result[name] = Node(text, mark, token.key_mark)
        return result

    def _walk(
        self, node: Node, path: _Path, kind: str | None
    ) -> Iterator[tuple[_Path, Node, str | None]]:
        """Every token with its path and the type of the groups that it is in."""
        waiting = [(node, path, kind)]
        while waiting:
            group, here, inherited = waiting.pop()
            if not isinstance(group.value, dict):
                continue
            inherited = self._own_kind(group) or inherited
            if "$value" in group.value:
                yield here, group, inherited
                continue
            waiting += [
                (child, (*here, str(key)), inherited)
                for key, child in reversed(group.value.items())
                if not str(key).startswith("$")
            ]

    @staticmethod
    def _own_kind(node: Node) -> str | None:
        own = node.child("$type")
        return str(own.value) if own else None

    def _kind(self, path: _Path, token: Node, inherited: str | None) -> str | None:
        """The type of a token: its own, that of what it stands for, or that of its group."""
        own = self._own_kind(token)
        if own is not None:
            return own
        target = self._target(token.child("$value"))
        if target is not None and target != path:
            found = self._at(target)
            if found is not None:
                steps = [self.root.at(target[:index]) for index in range(len(target) + 1)]
                kinds = [self._own_kind(step) for step in steps if step is not None]
                known = [kind for kind in kinds if kind is not None]
                return known[-1] if known else inherited
        return inherited

    @staticmethod
    def _target(value: Node | None) -> _Path | None:
        """The path that an alias names."""
        text = value.value if value else None
        found = _ALIAS.match(text) if isinstance(text, str) else None
        return tuple(found[1].split(".")) if found else None

    def _at(self, path: _Path) -> Node | None:
        """The value of a token at a path."""
        token = self.root.at(path)
        return token.child("$value") if token else None

    def _color(self, path: _Path, value: Node) -> str | None:
        """A colour as CSS text; None where it has a fault, which is kept."""
        start, known = value.mark, [path]
        target = self._target(value)
        while target is not None:
            found = self._at(target)
            if found is None:
                names = [".".join(item[0]) for item in self._walk(self.root, (), None)]
                problem = f"there is no token {quoted('.'.join(target))}"
                return self._refuse(start, problem, nearest(".".join(target), names))
            if target in known or len(known) > _MOST_ALIASES:
                return self._refuse(start, "the alias leads back to itself", "give it a colour")
            known.append(target)
            value, target = found, self._target(found)
        if isinstance(value.value, str):
            return value.value
        if not isinstance(value.value, dict):
            return self._refuse(value.mark, "this is not a colour", _REMEDY)
        return self._of_components(value)

    def _of_components(self, value: Node) -> str | None:
        """A colour that is given by its space and components."""
        space, components = value.child("colorSpace"), value.child("components")
        items = components.value if components else None
        if space is None or not isinstance(items, list) or len(items) != 3:  # noqa: PLR2004
            return self._refuse(value.mark, "a colour has a space and three components", _REMEDY)
        alpha = value.child("alpha")
        numbers = [item.value for item in (*items, *([alpha] if alpha else []))]
        if not all(_is_number(item) or item == "none" for item in numbers):
            return self._refuse(value.mark, "a component is a number or 'none'", _REMEDY)
        first, second, third, *rest = (
            number(float(item)) if _is_number(item) else "none"  # type: ignore[arg-type]
            for item in numbers
        )
        opacity = f" / {rest[0]}" if rest else ""
        name = str(space.value)
        if name in {"hsl", "hwb"}:
            return f"{name}({first} {second}% {third}%{opacity})"
        if name in _FUNCTIONS:
            return f"{name}({first} {second} {third}{opacity})"
        if name not in _SPACES:
            known = [*sorted(_SPACES), "hsl", "hwb", *sorted(_FUNCTIONS)]
            return self._refuse(
                space.mark, f"there is no colour space {quoted(name)}", nearest(name, known)
            )
        return f"color({name} {first} {second} {third}{opacity})"

    def _refuse(self, mark: Mark, problem: str, remedy: str) -> str | None:
        """No colour, for a fault that is kept."""
        self._wrong(mark, problem, remedy)
        return None

    def _wrong(self, mark: Mark, problem: str, remedy: str) -> None:
        """Keep a fault of the file."""
        self.faults.append(Fault(Place(self.file, mark.line, mark.column), problem, remedy))


def _is_number(value: object) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)
