"""Views that an earlier preview in the same folder shows already, and that are as they were."""

from __future__ import annotations

import base64
import json
from collections import Counter
from collections.abc import Mapping
from pathlib import Path
from typing import Any

from rising_lantern.checks.findings import LEVELS, Level
from rising_lantern.outputs.kept import KeptResults
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.previews.drawing import Drawing
from rising_lantern.previews.view_data import ViewData

_BEGIN, _END = ' id="preview-data">', "</script>"


class KeptViews:
    """What is in a folder of the views of a preview.

    Args:
        folder: The folder.
    """

    def __init__(self, folder: Path) -> None:
        self._kept = KeptResults(folder)
        self._documents: dict[str, Mapping[str, Any]] = {}

    def drawing(self, plan: PlanFile, page: str, viewport: str, fingerprint: str) -> Drawing | None:
        """A view as it was drawn before, if it was made from the same.

        Args:
            plan: The plan, in which findings have their places.
            page: The page's name.
            viewport: The viewport's name.
            fingerprint: What the view is made from.
        """
        made = self._kept.recorded(f"{page}.{viewport}", fingerprint)
        if made is None:
            return None
        try:
            files = {name: self._kept.content(name) for name in made["files"]}
            counts: Counter[Level] = Counter(
                {level: int(made["counts"].get(level, 0)) for level in LEVELS}
            )
            views = list(_views(self._document(made["document"]), page, viewport))
        except (OSError, LookupError, TypeError, ValueError, AttributeError):
            return None
        return Drawing(files, [_renew_places(item, plan) for item in views], +counts)

    def _document(self, name: str) -> Mapping[str, Any]:
        """The data of a preview page."""
        if name not in self._documents:
            text = self._kept.content(name).decode()
            start = text.index(_BEGIN) + len(_BEGIN)
            self._documents[name] = json.loads(text[start : text.index(_END, start)])
        return self._documents[name]


def made_of(drawing: Drawing, fingerprint: str, document: str) -> dict[str, Any]:
    """What the record of a folder keeps of a view, so that it is known again.

    Args:
        drawing: The view.
        fingerprint: What it is made from.
        document: The preview page that shows it.
    """
    return {
        "from": fingerprint,
        "files": sorted(drawing.files),
        "document": document,
        "counts": dict(drawing.counts),
    }


def _views(data: Mapping[str, Any], page: str, viewport: str) -> list[ViewData]:
    """The data of a page at a viewport, once with each picture of its slides."""
    names = f"{page}/{viewport}"
    found = []
    for slide, _ in data["slides"][names]:
        view = dict(data["views"][f"0/{names}/{int(slide)}"])
        view["long"] = _bare(view["long"])
        for key in ("frames", "closeUps"):
            view[key] = [item | {"picture": _bare(item["picture"])} for item in view[key]]
        used = [view["long"], *(item["picture"] for item in (*view["frames"], *view["closeUps"]))]
        pictures = {name: base64.b64decode(data["pictures"][f"0:{name}"]) for name in used}
        found.append(ViewData(view, pictures))
    return found


def _bare(name: str) -> str:
    """The name of a picture without the variant before it."""
    return str(name).removeprefix("0:")


def _renew_places(view: ViewData, plan: PlanFile) -> ViewData:
    """The data of a view whose findings say where in the file they are about something now."""
    findings = [
        item | {"place": str(plan.place_of(tuple(item["path"])))} for item in view.data["findings"]
    ]
    return ViewData(view.data | {"findings": findings}, view.pictures)
