"""Fingerprints: whether a page at a viewport is made from the same as before."""

from __future__ import annotations

import hashlib
import json
from functools import cache
from importlib.resources import files
from pathlib import Path
from typing import Any

from rising_lantern._version import __version__
from rising_lantern.plan.files.source_files import SourceFile
from rising_lantern.plan.text.conditions import on_screen
from rising_lantern.plan.text.likeness import written_out
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.plan.text.removal import without_nulls


class Fingerprints:
    """The fingerprints of a plan's pages at its viewports.

    Two are equal if all that a view depends on is equal: what the plan says of the page, of its
    headers and of all pages alike, the content of every file that it names, and this library
    itself. What it says on the other viewports counts as well: some rules look at the neighbours
    of a screen.

    Args:
        plan: The plan.
    """

    def __init__(self, plan: PlanFile) -> None:
        self._plan = plan
        self._said = {viewport: _said_on(plan, viewport) for viewport in plan.documents}

    def of(self, page: str, viewport: str, asked: object = None) -> str:
        """The fingerprint of a page at a viewport, in hex.

        Args:
            page: The page's name.
            viewport: The viewport's name.
            asked: What else the result depends on, such as options; told apart by its ``repr``.
        """
        own = [self._on_page(page, screen) for screen in self._plan.documents]
        known = self._plan.of_page(page).files
        content = {name: picture.file.digest for name, picture in sorted(known.pictures.items())}
        content |= {name: font.digest for name, font in sorted(known.fonts.items())}
        if known.tokens:
            content["tokens"] = SourceFile.of(known.tokens[0]).digest
        return fingerprint_of(page, viewport, own, content, repr(asked))

    def _on_page(self, page: str, viewport: str) -> dict[str, Any]:
        """What the plan says on a viewport, without other pages and headers."""
        said = self._said[viewport]
        names = self._plan.documents[viewport].headers_on(page, viewport)
        headers = said.get("headers") or {}
        return said | {
            "pages": said["pages"][page],
            "headers": {name: headers[name] for name in names},
        }


def fingerprint_of(*parts: object) -> str:
    """The fingerprint, in hex, of a result of this library that depends on some data."""
    whole = [_library(), *parts]
    return hashlib.sha256(json.dumps(whole, default=str).encode()).hexdigest()


def _said_on(plan: PlanFile, viewport: str) -> dict[str, Any]:
    """What a plan says on a viewport, with everything written out."""
    node = written_out(on_screen(plan.root, viewport), plan.name)[0]
    said: dict[str, Any] = without_nulls(node).plain()
    return said


@cache
def _library() -> tuple[str, int]:
    """This library: its version, and when any of its files was last changed."""
    own = Path(str(files("rising_lantern"))).rglob("*.*")
    return __version__, max(path.stat().st_mtime_ns for path in own if path.suffix != ".pyc")
