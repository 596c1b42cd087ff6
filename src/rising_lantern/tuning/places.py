"""Where a value stands that a header, text or box has: in itself, or in what it takes it from."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from rising_lantern.css.colors import Color, parse_color
from rising_lantern.css.syntax import CssError
from rising_lantern.plan.text.likeness import written_path
from rising_lantern.plan.text.nodes import Key, Node

Path = tuple[Key, ...]


@dataclass(frozen=True, slots=True)
class Places:
    """Where one value of a plan is written on a screen.

    Attributes:
        root: The plan as it was written.
        viewport: The screen.
        chain: The keys that can say it, the one that counts before others first.
        within: What has to be written for the first of them to be said: its text, or its look.
    """

    root: Node
    viewport: str
    chain: Sequence[Path]
    within: Path

    @property
    def standing(self) -> Path | None:
        """Where it stands; None where nothing says it, and it is what it is by default."""
        return next((found for path in self.chain if (found := self._written_path(path))), None)

    @property
    def named(self) -> Path | None:
        """The colour of the plan by whose name it is said; None where it is said otherwise."""
        node = self.root.at(self.standing or ())
        if node is None or not isinstance(node.value, str):
            return None
        path = ("colors", node.value.strip())
        return path if self.root.at(path) is not None else None

    @property
    def text(self) -> str | None:
        """What is written there; None where nothing is."""
        node = self.root.at(self.standing) if self.standing else None
        return None if node is None else str(node.plain())

    def color(self, names: dict[str, Color]) -> Color | None:
        """The colour that is written there; None where there is none, or something else."""
        try:
            return None if self.text is None else parse_color(self.text, names)
        except CssError:
            return None

    def to_change(self) -> Iterator[Path]:
        """Where it can be changed: where it stands, then in the first of its keys alone."""
        own = self.chain[0]
        places = [self.standing] if self.standing else []
        if written_path(self.root, self.within) is not None:
            places.append(own)
        yield from dict.fromkeys(places or [self.chain[-1]])

    def _written_path(self, path: Path) -> Path | None:
        """Where a key is written, for this screen or for all."""
        on_screen = (*path[:-1], "for", self.viewport, path[-1])
        return written_path(self.root, on_screen) or written_path(self.root, path)
