"""Remarks on a plan that is in order: what nothing uses."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

from rising_lantern.css.colors import Color
from rising_lantern.errors import Fault, Place
from rising_lantern.plan.messages import place_of
from rising_lantern.plan.nodes import Node
from rising_lantern.plan.references import Files

_PICTURES = frozenset({".png", ".jpg", ".jpeg", ".webp", ".gif", ".svg"})
_MOST_FILES = 2_000


class NamedColors:
    """The names of colours that have been asked for while a plan was read."""

    def __init__(self) -> None:
        self.used: set[str] = set()

    def named(self, colors: dict[str, Color]) -> dict[str, Color]:
        """A mapping that remembers which of its names are used."""
        return _Watched(colors, self.used)


class _Watched(dict[str, Color]):
    def __init__(self, colors: dict[str, Color], used: set[str]) -> None:
        super().__init__(colors)
        self._used = used

    def __getitem__(self, name: str) -> Color:
        self._used.add(name)
        return super().__getitem__(name)


def remarks_on(
    root: Node,
    name: str,
    files: Files,
    colors: NamedColors,
) -> tuple[Fault, ...]:
    """All remarks on a plan, in the order of the file.

    Args:
        root: The plan's nodes.
        name: Its name.
        files: The files that it names.
        colors: The colours that it uses.
    """
    return (*sorted(_unused_colors(root, name, colors)), *_unused_pictures(name, files))


def _unused_colors(root: Node, name: str, colors: NamedColors) -> Iterator[Fault]:
    entries = root.find(("colors",)).value if root.child("colors") else {}
    for color in entries if isinstance(entries, dict) else {}:
        if color not in colors.used:
            place = place_of(root, ("colors", color), name, at_key=True)
            yield Fault(place, f"nothing uses the colour '{color}'", "use it, or leave it out")


def _unused_pictures(name: str, files: Files) -> Iterator[Fault]:
    """Pictures in the folders that the plan takes pictures from and that it does not name."""
    used = {picture.path for picture in files.pictures.values()}
    folders = sorted({path.parent for path in used})
    there = [path for folder in folders for path in sorted(folder.iterdir())[:_MOST_FILES]]
    for path in there:
        if path.suffix.lower() in _PICTURES and path.resolve() not in used and path.is_file():
            shown = path.relative_to(files.folder.resolve())
            yield Fault(Place(name), f"nothing uses '{_plain(shown)}'", "name it, or take it away")


def _plain(path: Path) -> str:
    return "".join(c if c.isprintable() else "?" for c in path.as_posix())
