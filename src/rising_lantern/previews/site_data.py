"""The exported pages as the preview page runs them: their text, and the files that they need."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any

from rising_lantern.exports.site import ASSETS, ExportOptions, site_of
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.files.source_files import SourceFile
from rising_lantern.plan.files.videos import SUFFIXES
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.plan.text.screen_widths import ScreenRange

_MOST_VIDEO_BYTES = 20_000_000


@dataclass(frozen=True)
class SiteData:
    """Pages as they are exported.

    Attributes:
        data: The style sheets, the scripts and each page as text, by name, and the media features
            that set viewports of one width apart.
        assets: The files that they need, by their addresses; the same for the same content.
    """

    data: dict[str, Any]
    assets: dict[str, SourceFile | bytes] = field(repr=False)


def site_data(plan: PlanFile, boxes: Sequence[PageBox]) -> SiteData:
    """The export of some pages for the preview page.

    Args:
        plan: The plan.
        boxes: Each page at each viewport, laid out.
    """
    site = site_of(plan, boxes, ExportOptions(script="classic"))
    files = site.files()
    texts = {
        name: content.decode()
        for name, content in files.items()
        if isinstance(content, bytes) and not name.startswith(ASSETS)
    }
    data = {
        "sheets": {name: text for name, text in texts.items() if name.endswith(".css")},
        "scripts": {name: texts[name] for name in site.scripts},
        "pages": {
            name.removesuffix(".html"): text
            for name, text in texts.items()
            if name.endswith(".html")
        },
        "features": _features(site.ranges, plan),
    }
    assets = {
        name: content
        for name, content in files.items()
        if name.startswith(f"{ASSETS}/") and not _is_large_video(content)
    }
    return SiteData(data, assets)


def _features(ranges: Sequence[ScreenRange], plan: PlanFile) -> dict[str, str]:
    """The media features that hold at each viewport, where any set viewports apart."""
    has_schemes = any(item.scheme for item in ranges)
    features: dict[str, str] = {}
    for item in ranges:
        prefers = f"(prefers-color-scheme: {plan.viewport(item.name).scheme or 'light'})"
        held = " and ".join(filter(None, (item.feature, prefers if has_schemes else "")))
        if held:
            features[item.name] = held
    return features


def _is_large_video(content: SourceFile | bytes) -> bool:
    """Whether a file is a video that the preview page leaves out: it shows the poster then."""
    return (
        isinstance(content, SourceFile)
        and content.path.suffix.lower() in SUFFIXES
        and content.size > _MOST_VIDEO_BYTES
    )
