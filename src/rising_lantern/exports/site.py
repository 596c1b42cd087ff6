"""What an export consists of: a style sheet, scripts, pages, and the files that they need."""

from __future__ import annotations

import hashlib
import re
import shutil
from base64 import b64encode
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from itertools import chain
from mimetypes import guess_type
from pathlib import Path
from typing import Literal

from rising_lantern.exports.data import (
    has_entrances,
    needs_early,
    needs_layers,
    needs_moves,
    page_data,
    toned_layers,
)
from rising_lantern.exports.fonts import subset_font
from rising_lantern.exports.media import media_of
from rising_lantern.exports.names import Naming
from rising_lantern.exports.pages import FirstPicture, Markups, Needs, resource
from rising_lantern.exports.renditions import Renditions
from rising_lantern.exports.sheets import sheets_of
from rising_lantern.exports.sources import (
    PageSource,
    SectionSource,
    has_direction,
    has_selectors,
    has_video,
    source_of,
)
from rising_lantern.exports.stylesheet import PageSources, SheetWriter
from rising_lantern.exports.timelines import follows_by_css
from rising_lantern.exports.videos import first_frame
from rising_lantern.exports.weights import Weight
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.files.source_files import SourceFile
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.plan.text.screen_widths import ScreenRange, screen_ranges

ASSETS = "assets"
_PREFIXED = 'const PREFIX = "{}";'  # the line by which each script knows how all is named
ScriptKind = Literal["module", "classic"]


@dataclass(frozen=True, slots=True)
class ExportOptions:
    """How an export is written.

    Attributes:
        prefix: What custom properties, key frames and attributes start with.
        weight: How the style sheet holds its own against other rules of the site; None for a
            cascade layer, or specific selectors where the plan has selectors of the site.
        script: Whether the script is a module, or one for sites that cannot run modules.
    """

    prefix: str = "lantern"
    weight: Weight | None = None
    script: ScriptKind = "module"


@dataclass
class Assets:
    """The files that pages need beside them, by names of plain letters.

    Attributes:
        files: What to copy or write: files or bytes by name.
    """

    files: dict[str, SourceFile | bytes] = field(default_factory=dict)

    def of_file(self, file: SourceFile) -> str:
        """The address of a file: the same for the same file."""
        name = self._name_of(file.path, file.path.suffix, file.digest[:16])
        self.files[name] = file
        return name

    def of_bytes(self, path: Path, suffix: str, data: bytes) -> str:
        """The address of what has been made from a file."""
        name = self._name_of(path, suffix, hashlib.sha256(data).hexdigest()[:16])
        self.files[name] = data
        return name

    def _name_of(self, path: Path, suffix: str, digest: str) -> str:
        stem = re.sub(r"[^a-z0-9]+", "-", path.stem.lower()).strip("-")[:40] or "file"
        return f"{ASSETS}/{stem}-{digest}{re.sub(r'[^a-z0-9.]', '', suffix.lower())[:8]}"


@dataclass(frozen=True)
class Site:
    """An export of some pages of a plan at some viewports.

    Attributes:
        plan: The plan.
        views: The pages at each viewport, by their names.
        options: How it is written.
        renditions: Pictures in the sizes that screens need.
    """

    plan: PlanFile
    views: Mapping[str, PageSources]
    options: ExportOptions
    renditions: Renditions = field(default_factory=dict)

    @property
    def document(self) -> Document:
        """The plan, for what is the same on all screens."""
        return next(iter(self.plan.documents.values()))

    @property
    def naming(self) -> Naming:
        """How everything is named."""
        return Naming(self.options.prefix)

    @property
    def ranges(self) -> tuple[ScreenRange, ...]:
        """The screens of each viewport, the widest first."""
        screens = dict.fromkeys(screen for views in self.views.values() for screen in views)
        return screen_ranges(self.plan, screens)

    @property
    def weight(self) -> Weight:
        """How the style sheet holds its own."""
        return self.options.weight or ("specific" if self.is_attached else "layer")

    @property
    def is_attached(self) -> bool:
        """Whether the plan names elements of the site by selectors."""
        return any(has_selectors(view) for views in self.views.values() for view in views.values())

    def writer(self, assets: Assets) -> SheetWriter:
        """What writes the style sheet.

        Args:
            assets: Where the pictures and fonts that it names are gathered.
        """
        return SheetWriter(
            self.naming,
            self.ranges,
            self.document.colors,
            self.plan.files.pictures,
            self._faces(assets),
            lambda name, viewport: self._image(name, viewport, assets),
            lambda name: self._mask(name, assets),
            self.document.less_motion == "still",
        )

    def _url(self, name: str, assets: Assets) -> str:
        return assets.of_file(self.plan.files.pictures[name].file)

    def _first_frame(self, name: str, assets: Assets) -> str:
        video = self.plan.files.pictures[name]
        return assets.of_bytes(video.path, ".jpg", first_frame(video))

    def _mask(self, name: str, assets: Assets) -> str:
        """A picture as a mask. Browsers load none from a disk, where classic scripts are for."""
        if self.options.script != "classic":
            return f'url("{self._url(name, assets)}")'
        file = self.plan.files.pictures[name].file
        kind = guess_type(file.path.name)[0] or "image/png"
        return f'url("data:{kind};base64,{b64encode(file.read_bytes()).decode()}")'

    def _image(self, name: str, viewport: str, assets: Assets) -> str:
        """A picture as a CSS image: of several, browsers take the one for their screen."""
        choices = self._choices(name, viewport, assets)
        if len(choices) == 1:
            return f'url("{choices[0][0]}")'
        sets = (f'url("{address}") {density:g}x' for address, density in choices)
        return f"image-set({', '.join(sets)})"

    def _choices(self, name: str, viewport: str, assets: Assets) -> tuple[tuple[str, float], ...]:
        """The addresses of a picture, each with the density of the screens that it is for."""
        made = self.renditions.get((name, viewport))
        if not made:
            return ((self._url(name, assets), 1.0),)
        path = self.plan.files.pictures[name].path
        return tuple((assets.of_bytes(path, item.suffix, item.data), item.density) for item in made)

    def _first_pictures(self, views: PageSources, assets: Assets) -> Iterator[FirstPicture]:
        """The pictures of the first screen, which style sheets name too late to be there soon."""
        found: dict[tuple[tuple[str, float], ...], list[str]] = {}
        for screen, view in views.items():
            first = [*view.sections[:1], *([view.ground] if view.ground else [])]
            for layer in chain.from_iterable(section.layers for section in first):
                if layer.box.name and not layer.entry.video and not layer.entry.picture:
                    choices = self._choices(layer.box.name, screen, assets)
                    found.setdefault(choices, []).append(screen)
        for choices, screens in found.items():
            media = "" if len(screens) == len(views) else media_of(self.ranges, screens)
            several = ", ".join(f"{address} {density:g}x" for address, density in choices)
            yield FirstPicture(choices[0][0], several if len(choices) > 1 else "", media)

    def files(self) -> dict[str, SourceFile | bytes]:
        """All files, by their names: bytes, or files to copy."""
        assets = Assets()
        writer = self.writer(assets)
        prefix = self.options.prefix
        sheets = sheets_of(writer, self.views, self.weight)
        markup = Markups(
            self.naming,
            self.ranges,
            self.plan.files.pictures,
            lambda name: self._url(name, assets),
            lambda name: self._first_frame(name, assets),
            self.links,
            self.file_of,
            self.targets,
            self.options.script,
            self.document.less_motion == "still",
        )
        files: dict[str, SourceFile | bytes] = {
            name: text.encode() for name, text in sheets.texts.items()
        }
        for script in self.scripts:
            files[script] = self._script(script.replace(prefix, "lantern", 1)).encode()
        for page, views in self.views.items():
            needs = self._needs(page, writer, sheets.of_page(page), assets)
            files[f"{page}.html"] = markup.page(page, views, self.document, needs).encode()
        return files | assets.files

    def _needs(
        self, page: str, writer: SheetWriter, sheets: Sequence[str], assets: Assets
    ) -> Needs:
        """What a page loads."""
        views = self.views[page]
        insists = self.weight == "important"
        data = page_data(page, views, writer, self.ranges, insists=insists)
        first = (text for view in views.values() for text in _first_texts(view))
        faces = dict.fromkeys(writer.faces[text[:2]] for text in first)
        return Needs(
            data,
            sheets,
            list(faces),
            self.scripts_of(views),
            list(self._first_pictures(views, assets)),
            self.early_script if needs_early(data, views) else "",
        )

    def _script(self, name: str) -> str:
        own, usual = (_PREFIXED.format(prefix) for prefix in (self.options.prefix, "lantern"))
        text = resource(name).replace(usual, own)
        if self.options.script == "module":
            return text
        return '"use strict";\n(() => {\n' + text.replace("export function", "function") + "})();\n"

    @property
    def early_script(self) -> str:
        """The script that stands in pages whose first picture would be another one without it."""
        return resource("early.js").replace("data-lantern", f"data-{self.options.prefix}")

    @property
    def scripts(self) -> list[str]:
        """The names of all scripts, in the order in which they are loaded."""
        used = {name for views in self.views.values() for name in self.scripts_of(views)}
        return [name for name in self._all_scripts if name in used]

    @property
    def _all_scripts(self) -> list[str]:
        kinds = ("-layers", "-moves", "-enters", "-direction", "-tones", "", "-video")
        return [f"{self.options.prefix}{kind}.js" for kind in kinds]

    def scripts_of(self, views: PageSources) -> list[str]:
        """The names of the scripts that a page needs, in the order in which they are loaded."""
        needed = (
            needs_layers(views),
            needs_moves(views),
            has_entrances(views),
            any(map(has_direction, views.values())),
            any(any(toned_layers(view)) for view in views.values()),
            True,
            any(map(has_video, views.values())),
        )
        return [name for name, is_used in zip(self._all_scripts, needed, strict=True) if is_used]

    @property
    def links(self) -> dict[str, str]:
        """Where words of a header lead: the pages whose name or title they are."""
        document = self.document
        links = {"": f"{next(iter(self.views))}.html"}
        for page in self.views:
            entry = document.pages[page]
            for words in (page, entry.title or ""):
                if words:
                    links.setdefault(words.casefold(), f"{page}.html")
        return links

    @property
    def targets(self) -> frozenset[str]:
        """The names of sections that links lead to, with an address such as ``/visit#camp``."""
        entries = [
            holder.entry
            for views in self.views.values()
            for view in views.values()
            for holder in (content for section in view.sections for content in section.content)
        ]
        addresses = [address for entry in entries for address in entry.links.values()]
        addresses += [entry.button.to for entry in entries if entry.button]
        addresses += [
            address
            for header in self.document.headers.values()
            for part in header.parts.values()
            for address in part.links.values()
        ]
        return frozenset(address.partition("#")[2] for address in addresses)

    def file_of(self, target: str) -> str | None:
        """The file of a page, by its name or a path of it; None where it has none."""
        page = self.document.page_at(target) if target.startswith("/") else target
        return f"{page}.html" if page in self.views else None

    def _faces(self, assets: Assets) -> dict[tuple[str, int], str]:
        """Addresses of the fonts in use, by font and weight, each with the characters it needs."""
        used: dict[SourceFile, set[str]] = {}
        faces: dict[tuple[str, int], SourceFile] = {}
        known = (view for views in self.views.values() for view in views.values())
        for font, weight, file, words in chain.from_iterable(map(_texts_of, known)):
            faces[font, weight] = file
            used.setdefault(file, set()).update(words)
        urls = {
            file: assets.of_bytes(file.path, ".woff2", subset_font(file, characters))
            for file, characters in used.items()
        }
        return {face: urls[file] for face, file in faces.items()}


_FontText = tuple[str, int, SourceFile, str]
"""The font and the weight of a text, its file, and the text."""


def _texts_of(view: PageSource) -> Iterator[_FontText]:
    """Every text of a page at a viewport with the font that it is set in."""
    for section in view.sections:
        yield from _section_texts(section)
    pause = view.box.pause
    if pause and view.pause and isinstance(pause.items[0], ContentBox):
        file = pause.items[0].text.face.file
        yield view.pause.font, view.pause.weight, file, view.pause.text
    yield from _header_texts(view)


def _first_texts(view: PageSource) -> Iterator[_FontText]:
    """Those of the first screen: of the header, and of the first section that has any."""
    yield from _header_texts(view)
    yield from next(filter(None, (list(_section_texts(item)) for item in view.sections)), ())


def _section_texts(section: SectionSource) -> Iterator[_FontText]:
    for source in section.texts:
        entry, box = source.entry, source.box
        assert isinstance(box, ContentBox)  # noqa: S101 - it is a text
        yield entry.font, entry.weight, box.text.face.file, box.words


def _header_texts(view: PageSource) -> Iterator[_FontText]:
    if view.header is None:
        return
    for name, part in view.header.entry.parts.items():
        face = view.header.box.parts[name].face
        if face and (part.selector is None or "font" in part.model_fields_set):
            yield part.font, part.weight, face.file, "".join(part.text or ())


def code_in(files: Mapping[str, SourceFile | bytes]) -> Iterator[str]:
    """The style sheet, scripts and pages among exported files, as text."""
    for name, content in files.items():
        if isinstance(content, bytes) and name.endswith((".css", ".js", ".html")):
            yield content.decode()


def pages_in(files: Mapping[str, SourceFile | bytes]) -> Iterator[tuple[str, str]]:
    """The names of the pages among exported files, and their text."""
    for name, content in files.items():
        if isinstance(content, bytes) and name.endswith(".html"):
            yield name.removesuffix(".html"), content.decode()


def write_files(files: Mapping[str, SourceFile | bytes], folder: Path) -> None:
    """Write exported files into a folder that is there.

    Raises:
        PlanError: If a file of the plan has changed since the plan was read.
    """
    for name, content in files.items():
        place = folder / name
        place.parent.mkdir(exist_ok=True)
        if isinstance(content, bytes):
            place.write_bytes(content)
        else:
            with content.opened() as source, place.open("wb") as target:
                shutil.copyfileobj(source, target)


def site_of(
    plan: PlanFile,
    boxes: Sequence[PageBox],
    options: ExportOptions,
    first_looks: Mapping[tuple[str, str], str] | None = None,
) -> Site:
    """The export of some pages.

    Args:
        plan: The plan.
        boxes: Each page at each viewport, laid out.
        options: How it is written.
        first_looks: The look that a header is in where nothing switches it, by the names of the
            page and the header; by default the first of its looks.
    """
    views: dict[str, dict[str, PageSource]] = {}
    for box in boxes:
        views.setdefault(box.page, {})[box.viewport] = source_of(box, plan.documents[box.viewport])
    known = {page: _with_switching(page, own, first_looks or {}) for page, own in views.items()}
    return Site(plan, known, options)


def _with_switching(
    page: str, views: PageSources, first_looks: Mapping[tuple[str, str], str]
) -> PageSources:
    """A page whose headers know how they switch, which depends on all of its screens."""
    result = dict(views)
    for screen, view in views.items():
        if view.header is None:
            continue
        name = view.header.box.name
        at_first = first_looks.get((page, name), view.header.at_first)
        by_css = follows_by_css(views.values(), name)
        header = replace(view.header, at_first=at_first, by_css=by_css)
        result[screen] = replace(view, header=header)
    return result
