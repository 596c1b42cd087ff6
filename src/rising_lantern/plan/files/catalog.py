"""The files of a plan: every picture and font that it names, each looked up once."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

from rising_lantern.plan.files.locate import Stamp
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.files.source_files import SourceFile

SUFFIXES = frozenset({".png", ".jpg", ".jpeg", ".webp", ".gif", ".avif", ".svg"})
"""Endings of picture files."""

MOST_FILES = 2_000
"""The number of files of a folder that are examined."""


@dataclass(frozen=True, slots=True)
class Files:
    """The files of a plan, looked up once each.

    Attributes:
        folder: The plan's folder.
        pictures: By the name that the plan has for them.
        fonts: The same.
        tokens: Its file of design tokens, and the state of that file; None without one.
    """

    folder: Path
    pictures: dict[str, Picture] = field(default_factory=dict)
    fonts: dict[str, SourceFile] = field(default_factory=dict)
    tokens: tuple[Path, Stamp] | None = None

    def only(self, pictures: Iterable[str]) -> Files:
        """The files with some of the pictures only."""
        kept = {name: self.pictures[name] for name in pictures if name in self.pictures}
        return Files(self.folder, kept, self.fonts, self.tokens)

    def beside(self, name: str) -> list[str]:
        """The picture files in the folder of a picture, as a plan names them, in order."""
        inner = name.rpartition("/")[0]
        there = sorted((self.folder / inner).iterdir())[:MOST_FILES]
        known = [path for path in there if path.suffix.lower() in SUFFIXES and path.is_file()]
        return [f"{inner}/{path.name}" if inner else path.name for path in known]
