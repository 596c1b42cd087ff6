"""Views that an earlier preview in the same folder shows already, and that are as they were."""

from __future__ import annotations

import base64
import json
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from pathlib import Path
from typing import Any

from rising_lantern.checks.findings import LEVELS, Level
from rising_lantern.outputs.records import Record, record_of
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.previews.drawing import Drawing
from rising_lantern.previews.view_data import ViewData

_MOST_BYTES = 300_000_000
_BEGIN, _END = ' id="preview-data">', "</script>"


@dataclass(frozen=True)
class KeptViews:
    """What is in a folder of the views of a preview.

    Whatever is wrong with a file there costs time only: the view is drawn again.

    Args:
        folder: The folder.
    """

    folder: Path
    _documents: dict[str, Mapping[str, Any]] = field(default_factory=dict)

    def drawing(self, plan: PlanFile, page: str, viewport: str, fingerprint: str) -> Drawing | None:
        """A view as it was drawn before, if it was made from the same.

        Args:
            plan: The plan, in which findings have their places.
            page: The page's name.
            viewport: The viewport's name.
            fingerprint: What the view is made from.
        """
        record = self._record
        made = record.made.get(f"{page}.{viewport}")
        if not isinstance(made, Mapping) or made.get("from") != fingerprint:
            return None
        try:
            files = {name: _content(record, name) for name in made["files"]}
            counts: Counter[Level] = Counter(
                {level: int(made["counts"].get(level, 0)) for level in LEVELS}
            )
            views = list(_views(self._document(record, made["document"]), page, viewport))
        except (OSError, LookupError, TypeError, ValueError, AttributeError):
            return None
        return Drawing(files, [_renew_places(item, plan) for item in views], +counts)

    @cached_property
    def _record(self) -> Record:
        """What was written into the folder, and from what."""
        return record_of(self.folder)

    def _document(self, record: Record, name: str) -> Mapping[str, Any]:
        """The data of a preview page."""
        if name not in self._documents:
            text = _content(record, name).decode()
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


def _content(record: Record, name: object) -> bytes:
    """A file of the folder that is as it was written.

    Raises:
        ValueError: If it is not.
    """
    if not isinstance(name, str) or not record.is_unchanged(name):
        raise ValueError(name)
    path = record.folder / name
    if path.stat().st_size > _MOST_BYTES:
        raise ValueError(name)
    return path.read_bytes()


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
