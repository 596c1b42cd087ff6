"""A view as one HTML page that can be opened and scrolled by hand."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterator
from importlib.resources import files
from pathlib import Path
from typing import Any

import jinja2
from markupsafe import Markup

from rising_lantern.export.headers import gradient_fills
from rising_lantern.export.motion import layer_data, threshold_data
from rising_lantern.export.sections import is_clipped
from rising_lantern.export.sources import HeaderSource, PageSource, SectionSource, source_of
from rising_lantern.export.styles import page_css
from rising_lantern.layout.pages import PageBox
from rising_lantern.opening import opened_file
from rising_lantern.plan.models.changes import Blend, Fade
from rising_lantern.plan.text.reading import PlanFile

ASSETS = "assets"


class PageWriter:
    """Writes pages of a plan, and gathers the files that they need beside them.

    Attributes:
        assets: What to copy: the files by the names that the pages have for them.
    """

    def __init__(self, plan: PlanFile) -> None:
        self._plan = plan
        self.assets: dict[str, Path] = {}
        self._names: dict[Path, str] = {}
        environment = jinja2.Environment(
            loader=jinja2.FunctionLoader(_resource),
            autoescape=True,
            trim_blocks=True,
            undefined=jinja2.StrictUndefined,
        )
        self._template = environment.get_template("page.html.j2")

    def write(self, box: PageBox) -> str:
        """The HTML of a page at its viewport."""
        pictures = self._plan.files.pictures
        document = self._plan.documents[box.viewport]
        page = source_of(box, document)
        stills = document.less_motion == "still"
        css = page_css(page, self._faces(page), self._picture_url, pictures, stills=stills)
        entry = document.pages[box.page]
        return self._template.render(
            title=entry.title or box.page,
            css=Markup(css),  # noqa: S704 - written from parsed values and checked names only
            script=Markup(_resource("lantern.js")),  # noqa: S704 - our own file
            header=self._header(page) if page.header else None,
            ground=_section(page.ground) if page.ground else None,
            sections=[_section(section) for section in page.sections],
            data=(_data(page.header) if page.header else {})
            | {"layers": layer_data(page), "still": stills},
        )

    def _url(self, path: Path) -> str:
        """The address of a file: a name of plain letters, the same for the same file."""
        if path in self._names:
            return self._names[path]
        with opened_file(path) as opened:
            digest = hashlib.file_digest(opened, "sha256").hexdigest()[:16]
        stem = re.sub(r"[^a-z0-9]+", "-", path.stem.lower()).strip("-")[:40] or "file"
        suffix = re.sub(r"[^a-z0-9.]", "", path.suffix.lower())[:8]
        name = f"{ASSETS}/{stem}-{digest}{suffix}"
        self.assets[name] = path
        self._names[path] = name
        return name

    def _picture_url(self, name: str) -> str:
        return self._url(self._plan.files.pictures[name].path)

    def _faces(self, page: PageSource) -> dict[tuple[str, int], str]:
        """Addresses of the font files that a page uses, by font and weight."""
        used = {
            (text.entry.font, text.entry.weight, text.box.text.face)
            for section in page.sections
            for text in section.content
        }
        if page.header:
            for name, part in page.header.entry.parts.items():
                face = page.header.box.parts[name].face
                used |= {(part.font, part.weight, face)} if face else set()
        return {(font, weight): self._url(face.path) for font, weight, face in used}

    def _header(self, page: PageSource) -> dict[str, Any]:
        header = page.header
        if header is None:
            return {}
        sides = []
        for side in ("start", "center", "end"):
            parts = [
                self._part(header, name)
                for name, part in header.entry.parts.items()
                if part.side == side
            ]
            if parts:
                sides.append((side, parts))
        return {
            "looks": header.box.look_names,
            "sides": sides,
            "fills": list(gradient_fills(header.box)),
            "arrivals": [look.name for look in header.box.looks if look.arrive],
            "inside": header.box.home,
        }

    def _part(self, header: HeaderSource, name: str) -> dict[str, Any]:
        part = header.entry.parts[name]
        looks_of: dict[str, list[str]] = {}
        for look in header.box.look_names:
            image = header.entry.image_of(name, look)
            if image:
                looks_of.setdefault(image, []).append(look)
        images = [
            {
                "file": self._picture_url(image),
                "looks": looks,
                "width": self._plan.files.pictures[image].width,
                "height": self._plan.files.pictures[image].height,
            }
            for image, looks in looks_of.items()
        ]
        return {"name": name, "alt": part.alt, "texts": part.text or (), "images": images}


def _section(section: SectionSource) -> dict[str, Any]:
    layers = [
        {"index": index, "clipped": is_clipped(section, layer)}
        for index, layer in enumerate(section.layers)
    ]
    return {
        "name": section.box.name,
        "layers": list(reversed(layers)),
        "border": section.box.border > 0,
        "tone": section.entry.tone,
        "texts": [
            {"text": content.entry.text, "enters": content.entry.enter is not None}
            for content in section.content
        ],
    }


def _data(header: HeaderSource) -> dict[str, Any]:
    """What the script knows."""
    entry = header.entry
    return {
        "position": entry.position,
        "inset": entry.top.expression.data(),
        "holdSpace": entry.hold_space,
        "over": entry.starts_under or header.box.home is not None,
        "under": entry.under,
        "looks": list(_looks(header)),
    }


def _looks(header: HeaderSource) -> Iterator[dict[str, Any]]:
    for index, name in enumerate(header.box.look_names):
        look = header.entry.look(name)
        height = look.height or header.entry.height
        described: dict[str, Any] = {"name": name, "height": height.expression.data()}
        change = header.entry.change_to(name)
        if look.from_:
            described["from"] = threshold_data(look.from_)
        if look.back:
            described["back"] = threshold_data(look.back)
        if isinstance(change, Blend):
            described["blend"] = change.distance.expression.data()
            described["lag"] = change.lag_ms
        if look.arrive:
            described["standing"] = header.box.standing(index)
            described["takes"] = (
                change.duration_ms + change.delay_ms if isinstance(change, Fade) else 0
            )
        yield described


def _resource(name: str) -> str:
    return files(__package__).joinpath(name).read_text("utf-8")
