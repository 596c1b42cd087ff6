"""Remarks on a plan that is in order: what nothing uses, and what is not looked at whole."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from contextlib import suppress
from pathlib import Path

from rising_lantern.base.opening import opened_file
from rising_lantern.css.colors import Color
from rising_lantern.errors import Fault, Place, quoted
from rising_lantern.plan.files.catalog import MOST_FILES, SUFFIXES, Files
from rising_lantern.plan.files.videos import LONGEST
from rising_lantern.plan.files.videos import SUFFIXES as VIDEO_SUFFIXES
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.text.conditions import CONDITION
from rising_lantern.plan.text.consistency import pictures_of
from rising_lantern.plan.text.messages import place_of
from rising_lantern.plan.text.nodes import MOST_BYTES, Node
from rising_lantern.plan.text.tokens import is_token_file

_PLANS = frozenset({".yaml", ".yml", ".json"})
_MOST_NAMED = 8


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
    root: Node, name: str, colors: NamedColors, documents: Iterable[Document], files: Files
) -> tuple[Fault, ...]:
    """All remarks on a plan, in the order of the file.

    Args:
        root: The plan's nodes.
        name: Its name.
        colors: The colours that it uses.
        documents: It on each of its viewports.
        files: The files that it names.
    """
    videos = {
        remark for document in documents for remark in _long_videos(root, name, document, files)
    }
    return tuple(sorted((*_unused_colors(root, name, colors), *videos)))


def _long_videos(root: Node, name: str, document: Document, files: Files) -> Iterator[Fault]:
    """Videos of which not every frame is looked at."""
    for path, video in pictures_of(document):
        clip = files.pictures[video].clip
        if clip and not clip.is_whole:
            every = clip.seconds / len(clip.times)
            yield Fault(
                place_of(root, path, name),
                f"{quoted(video)} is {clip.seconds:,.0f} s long: one of its frames is looked at "
                f"every {every:.2g} s",
                f"cut it to {LONGEST:.0f} s, to have all of them looked at",
            )


def _unused_colors(root: Node, name: str, colors: NamedColors) -> Iterator[Fault]:
    entries = root.find(("colors",)).value if root.child("colors") else {}
    for color, node in entries.items() if isinstance(entries, dict) else ():
        own = color != CONDITION and not is_token_file(color, node)
        if own and color not in colors.used:
            place = place_of(root, ("colors", color), name, at_key=True)
            yield Fault(place, f"nothing uses the colour {quoted(color)}", "use it, or remove it")


def unused_pictures(name: str, files: Files) -> list[str]:
    """Pictures in the folders that a plan takes pictures from and that no plan there names.

    Args:
        name: The plan's file.
        files: The files that it names.
    """
    used = {picture.path for picture in files.pictures.values()}
    folders = sorted({path.parent for path in used})
    there = [path for folder in folders for path in sorted(folder.iterdir())[:MOST_FILES]]
    root = files.folder.resolve()
    others = [
        path.relative_to(root).as_posix()
        for path in there
        if path.suffix.lower() in (SUFFIXES | VIDEO_SUFFIXES)
        and path.resolve() not in used
        and path.is_file()
    ]
    texts = list(_other_plans(Path(name), root)) if others else []
    return [other for other in others if not any(other in text for text in texts)]


def _other_plans(own: Path, folder: Path) -> Iterator[str]:
    """The texts of the other plans in a folder."""
    for path in sorted(folder.iterdir())[:MOST_FILES]:
        if path.suffix.lower() not in _PLANS or path.name == own.name:
            continue
        with suppress(OSError), opened_file(path) as opened:
            data = opened.read(MOST_BYTES + 1)
            text = data.decode("utf-8", "replace") if len(data) <= MOST_BYTES else ""
            if "rising-lantern" in text:
                yield text


def unused_remark(name: str, files: Files) -> tuple[Fault, ...]:
    """One remark on the pictures that nothing uses; none where all are used."""
    unused = [_plain(unused_picture) for unused_picture in unused_pictures(name, files)]
    if not unused:
        return ()
    listed = ", ".join(unused[:_MOST_NAMED])
    more = f" and {len(unused) - _MOST_NAMED} more" if len(unused) > _MOST_NAMED else ""
    return (Fault(Place(name), f"nothing uses {listed}{more}", "use them, or remove them"),)


def _plain(name: str) -> str:
    return "".join(c if c.isprintable() else "?" for c in name)
