"""What an earlier export in a folder was made from: its pictures and first looks are taken over."""

from __future__ import annotations

import hashlib
from pathlib import Path
from typing import Any

from rising_lantern.exports.first_looks import FirstLookTask
from rising_lantern.exports.notes import FirstLook
from rising_lantern.exports.renditions import Rendition, RenditionTask
from rising_lantern.outputs.kept import KeptResults
from rising_lantern.plan.text.fingerprints import Fingerprints, fingerprint_of
from rising_lantern.plan.text.reading import PlanFile


class KeptExport:
    """What is in a folder of an earlier export, and what its record says of this one.

    Args:
        plan: The plan.
        folder: The folder; None for none.

    Attributes:
        made: What each result is made from, for the record of the folder.
    """

    def __init__(self, plan: PlanFile, folder: Path | None) -> None:
        self._pictures = plan.files.pictures
        self._prints = Fingerprints(plan)
        self._kept = KeptResults(folder)
        self.made: dict[str, dict[str, Any]] = {}

    def first_look(self, page: str, viewport: str, task: FirstLookTask) -> FirstLook | None:
        """The look of a header on a page, if it is known from the same."""
        entry = self._kept.recorded(_look(page, task), self._print_of_look(page, viewport, task))
        if entry is None or entry.get("look") not in task.looks:
            return None
        worst = entry.get("worst")
        if not isinstance(worst, float | None):
            return None
        passes = entry.get("passes") is True
        return FirstLook(page, task.header, str(entry["look"]), passes=passes, worst=worst)

    def keep_look(self, page: str, viewport: str, task: FirstLookTask, found: FirstLook) -> None:
        """Record the look of a header on a page."""
        own = {"look": found.look, "passes": found.passes, "worst": found.worst}
        self.made[_look(page, task)] = {"from": self._print_of_look(page, viewport, task)} | own

    def renditions(self, viewport: str, task: RenditionTask) -> tuple[Rendition, ...] | None:
        """A picture in the sizes for a screen, if they are there, made from the same."""
        entry = self._kept.recorded(_picture(viewport, task), self._print_of_picture(task))
        if entry is None:
            return None
        try:
            found = tuple(
                Rendition(float(density), str(suffix), self._kept.content_of(digest))
                for density, suffix, digest in entry["sizes"]
            )
        except (OSError, LookupError, TypeError, ValueError):
            return None
        return found or None

    def keep_renditions(
        self, viewport: str, task: RenditionTask, found: tuple[Rendition, ...]
    ) -> None:
        """Record a picture in the sizes for a screen."""
        sizes = [
            [item.density, item.suffix, hashlib.sha256(item.data).hexdigest()] for item in found
        ]
        own = {"from": self._print_of_picture(task), "sizes": sizes}
        self.made[_picture(viewport, task)] = own

    def _print_of_look(self, page: str, viewport: str, task: FirstLookTask) -> str:
        return self._prints.of(page, viewport, task)

    def _print_of_picture(self, task: RenditionTask) -> str:
        return fingerprint_of(self._pictures[task.picture].file.digest, task.share)


def _look(page: str, task: FirstLookTask) -> str:
    return f"look {page} {task.header}"


def _picture(viewport: str, task: RenditionTask) -> str:
    return f"picture {viewport} {task.picture}"
