"""What one part of a plan says of another: sections in thresholds, pages, fonts, files."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.css.syntax import Components
from rising_lantern.errors import Fault, quoted
from rising_lantern.plan.files.catalog import Files
from rising_lantern.plan.files.fonts import find_font
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.pictures import find_picture
from rising_lantern.plan.files.videos import find_video
from rising_lantern.plan.models.base import nearest
from rising_lantern.plan.models.content import Content
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.models.headers import Header, Look
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.models.thresholds import Threshold
from rising_lantern.plan.text.conditions import CONDITION
from rising_lantern.plan.text.messages import place_of
from rising_lantern.plan.text.nodes import Key, Node, walk

BUILT_IN_FONTS = ("sans", "serif")
_MOST_CASES = 64  # of the tones of slides that run independently of each other
_Path = tuple[Key, ...]


def check_conditions(root: Node, viewports: list[str], file: str) -> Iterator[Fault]:
    """Faults in every ``for:`` of the plan.

    A viewport that has a fault of its own is there all the same.
    """
    viewports = _names(root, "viewports") or viewports
    for path, node in walk(root):
        if not path or path[-1] != CONDITION:
            continue
        if not isinstance(node.value, dict):
            yield Fault(
                place_of(root, path, file),
                "'for' needs a mapping from viewports to values",
                "write the viewport below it, and below that the values that differ",
            )
            continue
        for name, inner in node.value.items():
            if name not in viewports:
                place = place_of(root, (*path, name), file, at_key=True)
                yield Fault(
                    place, f"there is no viewport {quoted(name)}", nearest(str(name), viewports)
                )
            elif not isinstance(inner.value, dict):
                place = place_of(root, (*path, name), file)
                yield Fault(place, f"{quoted(name)} has no values in it", "write keys and values")


def check_references(document: Document, root: Node, files: Files, file: str) -> Iterator[Fault]:
    """Faults in what a plan says of its own sections, pages, screens, fonts and files."""
    yield from _alike(root, file)
    yield from _paths(document, root, file)
    yield from _thresholds(document, root, file)
    yield from _insides(document, root, file)
    yield from _shows(document, root, file)
    yield from _fonts(document, root, files, file)
    yield from _tints(document, root, file)
    yield from _tones(document, root, file)
    for path, name in pictures_of(document):
        known = files.pictures.get(name)
        try:
            if path[-1] == "video":
                found = known if known and known.clip else find_video(files.folder, name)
            else:
                found = known if known and not known.clip else find_picture(files.folder, name)
            files.pictures.setdefault(name, found)
        except FileFault as fault:
            yield Fault(place_of(root, path, file), fault.problem, fault.remedy)


def _alike(root: Node, file: str) -> Iterator[Fault]:
    """Names of pages and of viewports that some file systems take for one, as files have them."""
    for kind in ("pages", "viewports"):
        known: dict[str, str] = {}
        for name in _names(root, kind):
            other = known.setdefault(name.lower(), name)
            if other != name:
                place = place_of(root, (kind, name), file, at_key=True)
                problem = f"{quoted(name)} and {quoted(other)} differ by case alone"
                yield Fault(
                    place,
                    problem,
                    "rename one: their files would have the same name on some systems",
                )


def _paths(document: Document, root: Node, file: str) -> Iterator[Fault]:
    """Pages whose paths get different headers, so that they look different."""
    for name, page in document.pages.items():
        for viewport in document.viewports if len(page.paths) > 1 else ():
            headers = [document.headers_at(name, path, viewport) for path in page.paths]
            index = next((i for i, own in enumerate(headers) if own != headers[0]), None)
            if index is None:
                continue
            first, other = (own[0] if own else "none" for own in (headers[0], headers[index]))
            both = quoted(page.paths[index]), quoted(page.paths[0])
            yield Fault(
                place_of(root, ("pages", name, "paths", index), file),
                f"{both[0]} gets other headers than {both[1]}: {other} instead of {first}"
                if other != first
                else f"{both[0]} gets other headers after the first than {both[1]}",
                f"make it a page of its own, with 'like: {name}'",
            )
            break


def _tints(document: Document, root: Node, file: str) -> Iterator[Fault]:
    """Pictures that are to be shapes, and have none."""
    for header_name, header in document.headers.items():
        tinted = {name for name, part in header.parts.items() if part.tint}
        for path, picture in _header_pictures(header_name, header):
            if path[-2] in tinted and picture.lower().endswith((".jpg", ".jpeg")):
                yield Fault(
                    place_of(root, path, file),
                    f"{quoted(picture)} is tinted, and a JPEG has no transparency",
                    "use a PNG, WebP, AVIF or SVG whose background is transparent",
                )


def _tones(document: Document, root: Node, file: str) -> Iterator[Fault]:
    """Faults of pages on which slides with tones can be combined in too many ways."""
    cases: dict[Key, int] = {}
    last: dict[Key, _Path] = {}
    for path, layer in layers_of(document):
        followed = layer.every is not None and any(slide.tone for slide in layer.slides)
        if followed and "background" not in path:
            page = path[1]
            cases[page], last[page] = cases.get(page, 1) * len(layer.slides), path
    for page, count in cases.items():
        if count > _MOST_CASES:
            yield Fault(
                place_of(root, last[page], file),
                f"the slides of the page with tones make {count} cases",
                f"give tones to fewer; {_MOST_CASES} cases are the most",
            )


def pictures_of(document: Document) -> Iterator[tuple[_Path, str]]:
    """Every picture and video that is named, with the path to its name."""
    for name, header in document.headers.items():
        yield from _header_pictures(name, header)
    for here, layer in layers_of(document):
        yield from _layer_pictures(here, layer)
    for name, page in document.pages.items():
        for section_name, section in page.sections.items():
            if section.picture is not None:
                yield ("pages", name, "sections", section_name, "picture"), section.picture
    for here, content in contents_of(document):
        if content.image is not None:
            yield (*here, "image"), content.image


def contents_of(document: Document) -> Iterator[tuple[_Path, Content]]:
    """Every text, picture and box of every page, with the path to it."""
    for name, page in document.pages.items():
        for section_name, section in page.sections.items():
            here = ("pages", name, "sections", section_name)
            yield from _contents(section.content, here)


def _contents(contents: tuple[Content, ...], here: _Path) -> Iterator[tuple[_Path, Content]]:
    for index, content in enumerate(contents):
        path = (*here, "content", index)
        yield path, content
        if content.box is not None:
            yield from _contents(content.box.content, (*path, "box"))


def layers_of(document: Document) -> Iterator[tuple[_Path, Layer]]:
    """Every layer of every page, with the path to it."""
    for name, page in document.pages.items():
        for index, layer in enumerate(page.background.layers):
            yield ("pages", name, "background", "layers", index), layer
        for section_name, section in page.sections.items():
            for index, layer in enumerate(section.layers):
                yield ("pages", name, "sections", section_name, "layers", index), layer


def _layer_pictures(here: _Path, layer: Layer) -> Iterator[tuple[_Path, str]]:
    for index, slide in enumerate(layer.slides):
        yield (*here, "slides", index, "image"), slide.image
    for key in ("image", "poster", "video"):
        name = getattr(layer, key)
        if name is not None:
            yield (*here, key), name


def _header_pictures(name: str, header: Header) -> Iterator[tuple[_Path, str]]:
    owners: list[tuple[_Path, Header | Look]] = [(("headers", name), header)]
    owners += [
        (("headers", name, "looks", look_name), look) for look_name, look in header.looks.items()
    ]
    for owner, entry in owners:
        rows = [((*owner, "rows", row_name), row) for row_name, row in entry.rows.items()]
        for path, one in [(owner, entry), *rows]:
            for index, layer in enumerate(one.layers or ()):
                yield from _layer_pictures((*path, "layers", index), layer)
    for part_name, part in header.parts.items():
        if part.image is not None:
            yield ("headers", name, "parts", part_name, "image"), part.image
    for look_name, look in header.looks.items():
        for part_name, change in look.parts.items():
            if change.image is not None:
                path = ("headers", name, "looks", look_name, "parts", part_name, "image")
                yield path, change.image


def _thresholds(document: Document, root: Node, file: str) -> Iterator[Fault]:
    everywhere = _sections(root)
    for path, threshold in _thresholds_of(document):
        # What a layer waits for has to be on its own page; a header is on several.
        page = str(path[1]) if path[0] == "pages" else None
        sections = _names(root, "pages", page, "sections") if page else everywhere
        if threshold and threshold.section and threshold.section not in sections:
            word = Components(threshold.text)
            yield Fault(
                place_of(root, path, file, offset=word.offset(word.tokens[1])),
                f"{'this' if page else 'no'} page has {'no' if page else 'a'} section "
                f"{quoted(threshold.section)}",
                nearest(threshold.section, sections),
            )


def _thresholds_of(document: Document) -> Iterator[tuple[_Path, Threshold | None]]:
    for header_name, header in document.headers.items():
        for look_name, look in header.looks.items():
            here = ("headers", header_name, "looks", look_name)
            yield (*here, "from"), look.from_
            yield (*here, "back"), look.back
    for path, layer in layers_of(document):
        yield (*path, "settle"), layer.settle
        for index, stop in enumerate(layer.path):
            yield (*path, "path", index, "at"), stop.at


def _insides(document: Document, root: Node, file: str) -> Iterator[Fault]:
    sections = _sections(root)
    for name, header in document.headers.items():
        named = header.inside is not None and header.container is None
        if named and header.inside not in sections:
            place = place_of(root, ("headers", name, "inside"), file)
            remedy = nearest(header.inside or "", sections)
            yield Fault(place, f"no page has a section {quoted(header.inside)}", remedy)


def _sections(root: Node) -> list[str]:
    """The names of all sections. A section that has a fault of its own is there all the same."""
    pages = _names(root, "pages")
    return [name for page in pages for name in _names(root, "pages", page, "sections")]


def _names(root: Node, *path: Key) -> list[str]:
    """The keys of a mapping of the plan, whether or not all in it is in order."""
    node: Node | None = root
    for key in path:
        node = node.child(key) if node else None
    return [str(key) for key in node.value] if node and isinstance(node.value, dict) else []


def _shows(document: Document, root: Node, file: str) -> Iterator[Fault]:
    pages = _names(root, "pages")
    kinds = (root.find(("pages", page, "kind")).value for page in pages)
    pages = [*pages, *{kind: None for kind in kinds if isinstance(kind, str)}]
    viewports = _names(root, "viewports") or list(document.viewports)
    for name, header in document.headers.items():
        here: _Path = ("headers", name, "show")
        show = header.show
        for key, patterns in (("only", show.only or ()), ("except", show.except_)):
            for index, pattern in enumerate(patterns):
                if "/" not in pattern and pattern not in pages:
                    place = place_of(root, (*here, key, index), file)
                    yield Fault(
                        place,
                        f"there is no page or kind {quoted(pattern)}",
                        nearest(pattern, pages),
                    )
        screens = show.viewports
        for key, names in (("only", screens.only or ()), ("except", screens.except_)):
            for index, screen in enumerate(names):
                if screen not in viewports:
                    place = place_of(root, (*here, "viewports", key, index), file)
                    remedy = nearest(screen, viewports)
                    yield Fault(place, f"there is no viewport {quoted(screen)}", remedy)


def _fonts(document: Document, root: Node, files: Files, file: str) -> Iterator[Fault]:
    for name, weights in document.fonts.items():
        for weight, font in weights.items():
            try:
                files.fonts[font] = find_font(files.folder, font)
            except FileFault as fault:
                path = ("fonts", name, weight)
                yield Fault(place_of(root, path, file), fault.problem, fault.remedy)
    known = [*_names(root, "fonts"), *BUILT_IN_FONTS]
    for place_in_plan, font in _fonts_used(document):
        if font not in known:
            place = place_of(root, place_in_plan, file)
            yield Fault(place, f"there is no font {quoted(font)}", nearest(font, known))


def _fonts_used(document: Document) -> Iterator[tuple[_Path, str]]:
    for name, header in document.headers.items():
        for part_name, part in header.parts.items():
            yield ("headers", name, "parts", part_name, "font"), part.font
    for path, content in contents_of(document):
        yield (*path, "font"), content.font
    if document.pause:
        yield ("pause", "font"), document.pause.font
