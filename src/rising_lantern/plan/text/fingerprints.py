"""Fingerprints: whether a page at a viewport is made from the same as before."""

from __future__ import annotations

import hashlib
import json
from collections.abc import Iterable
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

    Two are equal if all that a view depends on is equal: what the plan says on that viewport of
    the page, of its headers and of all pages alike, the content of every file that it names, and
    this library itself.

    Args:
        plan: The plan.
    """

    def __init__(self, plan: PlanFile) -> None:
        self._plan = plan
        self._said: dict[str, dict[str, Any]] = {}

    def of(self, page: str, viewport: str, asked: object = None) -> str:
        """The fingerprint of a page at a viewport, in hex.

        Args:
            page: The page's name.
            viewport: The viewport's name.
            asked: What else the result depends on, such as options; told apart by its ``repr``.
        """
        said = self._on(viewport)
        names = self._plan.documents[viewport].headers_on(page, viewport)
        headers = said.get("headers") or {}
        screens = said.get("viewports") or {}
        own = said | {
            "pages": {page: (said.get("pages") or {}).get(page)},
            "headers": {name: headers.get(name) for name in names},
            "viewports": {viewport: screens.get(viewport)},
        }
        known = self._plan.of_page(page).files
        content = {name: picture.file.digest for name, picture in sorted(known.pictures.items())}
        content |= {name: font.digest for name, font in sorted(known.fonts.items())}
        if known.tokens:
            content["tokens"] = SourceFile.of(known.tokens[0]).digest
        whole = [_library(), page, viewport, own, content, repr(asked)]
        return hashlib.sha256(json.dumps(whole, default=str).encode()).hexdigest()

    def _on(self, viewport: str) -> dict[str, Any]:
        """What the plan says on a viewport, with everything written out."""
        if viewport not in self._said:
            plan = self._plan
            node = written_out(on_screen(plan.root, viewport), plan.name)[0]
            said: dict[str, Any] = without_nulls(node).plain()
            self._said[viewport] = said
        return self._said[viewport]


@cache
def _library() -> tuple[str, int]:
    """This library: its version, and when any of its files was last changed."""
    return __version__, max(
        _modification_times(Path(str(files("rising_lantern"))).rglob("*.*")), default=0
    )


def _modification_times(paths: Iterable[Path]) -> Iterable[int]:
    return (path.stat().st_mtime_ns for path in paths if path.suffix != ".pyc")
