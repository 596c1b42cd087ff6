"""``show``: on which pages and screens something is there."""

from __future__ import annotations

import re
from collections.abc import Iterable
from functools import lru_cache
from typing import Annotated

from pydantic import Field

from rising_lantern.plan.models.base import Entry, Name, key

Pattern = Annotated[str, Field(min_length=1, max_length=200)]


class ShowViewports(Entry):
    """Screens, by their names."""

    only: tuple[Name, ...] | None = key(
        "The viewports that it is on; by default all.", ["laptop"], None
    )
    except_: tuple[Name, ...] = key("The viewports that it is not on.", ["laptop"], ())


class Show(Entry):
    """Pages by name, by kind or by a glob on their path; ``except`` beats ``only``."""

    only: tuple[Pattern, ...] | None = key(
        "The pages that it is on, by name, kind or a glob on the path; by default all.",
        ["home", "/journal/*"],
        None,
    )
    except_: tuple[Pattern, ...] = key("The pages that it is not on.", ["/journal/*"], ())
    viewports: ShowViewports = key(
        "The viewports, in the same way.", {"except": ["laptop"]}, ShowViewports()
    )

    def applies(self, names: Iterable[str], path: str, viewport: str) -> bool:
        """Whether it holds for a page on a screen.

        Args:
            names: The page's name and kind.
            path: The page's path.
            viewport: The screen's name.
        """
        words = frozenset(names)
        screens = self.viewports
        on_page = self.only is None or _any(self.only, words, path)
        on_screen = screens.only is None or viewport in screens.only
        if viewport in screens.except_ or _any(self.except_, words, path):
            return False
        return on_page and on_screen


def matches(pattern: str, path: str) -> bool:
    """Whether a glob names a path: * is any run without a slash, ** any run, ? a character."""
    return _glob(pattern).match(path) is not None


def _any(patterns: tuple[str, ...], words: frozenset[str], path: str) -> bool:
    return any(
        matches(pattern, path) if "/" in pattern else pattern in words for pattern in patterns
    )


@lru_cache(maxsize=4096)
def _glob(pattern: str) -> re.Pattern[str]:
    """A glob on a path as a pattern: ``*`` is any run within a path, ``?`` any one character."""
    pieces = re.split(r"(\*+|\?)", pattern)
    wild = {"*": "[^/]*", "?": "[^/]"}
    return re.compile(
        "".join(
            ".*" if piece.startswith("**") else wild.get(piece, re.escape(piece))
            for piece in pieces
        )
        + r"\Z"
    )
