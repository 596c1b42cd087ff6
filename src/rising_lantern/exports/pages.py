"""A page of a plan as HTML, for all of its screens at once."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from itertools import zip_longest
from textwrap import shorten
from typing import Any

import jinja2
from markupsafe import Markup

from rising_lantern.exports.content import kind_of
from rising_lantern.exports.headers import backdrops_of, gradient_fills, images_of
from rising_lantern.exports.headings import heading_levels
from rising_lantern.exports.motion import is_placed_by_script
from rising_lantern.exports.names import Naming
from rising_lantern.exports.sections import is_clipped
from rising_lantern.exports.sources import (
    ContentSource,
    HeaderSource,
    LayerSource,
    PageSource,
    SectionSource,
)
from rising_lantern.exports.stylesheet import PageSources, section_names
from rising_lantern.exports.videos import described_video
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.addresses import telephone
from rising_lantern.plan.models.content import Content, collapsed
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.models.headers import Part
from rising_lantern.plan.models.sizes import OneLine
from rising_lantern.plan.text.nodes import Key
from rising_lantern.plan.text.screen_widths import ScreenRange

_MODULE, _CLASSIC = Markup('type="module"'), Markup("defer")
_SIDES = ("start", "center", "end")
_DESCRIBED = 160  # characters of a description, which search engines show

Headings = dict[tuple[str, str], int]
"""The levels of the texts of a page that are headings, by their section and key."""


@cache
def _template() -> jinja2.Template:
    """The template of a page, which takes as long to prepare as a page takes to write."""
    environment = jinja2.Environment(
        loader=jinja2.FunctionLoader(resource),
        autoescape=True,
        undefined=jinja2.StrictUndefined,
    )
    environment.policies["json.dumps_kwargs"] = {"sort_keys": False}  # their order counts
    return environment.get_template("page.html.j2")


def head_of(html: str) -> list[str]:
    """Return what a page that was written here has in its head for this export, line by line.

    The data of the scripts, which is long, is left out.
    """
    head = html[: html.index("</head>")]
    wanted = ('<link rel="stylesheet"', '<link rel="preload"', "<script")
    lines = [line.strip() for line in head.splitlines()]
    data = re.compile(r"(<script type=\"application/json\"[^>]*>).*(</script>)")
    return [data.sub(r"\1…\2", line) for line in lines if line.startswith(wanted)]


@dataclass(frozen=True)
class FirstPicture:
    """A picture of the first screen of a page.

    Attributes:
        address: Its address.
        several: Its addresses with the densities of the screens that they are for; empty for one.
        media: The media query of the screens that show it; empty for all.
    """

    address: str
    several: str
    media: str


@dataclass(frozen=True)
class Needs:
    """What a page loads.

    Attributes:
        data: What the script knows of it.
        sheets: The addresses of its style sheets, in their order.
        fonts: Those of the fonts that it is set in.
        scripts: Those of its scripts, in their order.
        pictures: Pictures that are to be loaded soon.
        early: The script that stands behind its header; empty for none.
    """

    data: Mapping[str, Any]
    sheets: Sequence[str]
    fonts: Sequence[str]
    scripts: Sequence[str]
    pictures: Sequence[FirstPicture]
    early: str


@dataclass(frozen=True)
class Markups:
    """Writes pages.

    Attributes:
        naming: How everything is named.
        ranges: The screens of each viewport, the widest first.
        pictures: The plan's pictures.
        urls: Gives the address of a picture.
        first_frames: Gives the address of the first frame of a video.
        links: Where a link with some words leads: pages by their names and titles.
        file_of: Gives the file of a page by its name or a path; None where there is none.
        targets: The sections that links lead to.
        script_kind: ``module`` or ``classic``.
    """

    naming: Naming
    ranges: Sequence[ScreenRange]
    pictures: Mapping[str, Picture]
    urls: Callable[[str], str]
    first_frames: Callable[[str], str]
    links: Mapping[str, str]
    file_of: Callable[[str], str | None]
    targets: frozenset[str]
    script_kind: str
    stills: bool

    def page(
        self,
        page: str,
        views: PageSources,
        document: Document,
        needs: Needs,
    ) -> str:
        """The HTML of a page.

        Args:
            page: Its name.
            views: It at each viewport.
            document: The plan, for what is the same at all of them.
            needs: What it loads.
        """
        entry = document.pages[page]
        words = entry.title or (f"{document.title} – {page}" if document.title else page)
        facts = _Facts.of(views)
        script = next(iter(views.values())).box.script
        return _template().render(
            p=self.naming.prefix,
            naming=self.naming,
            page=page,
            own_file=self.file_of(page),
            lang=script.language,
            dir=script.direction,
            title=words,
            description=_description(views, entry.description, facts.headings),
            # Without this, browsers keep the page out of what the screen's shape takes.
            fit=", viewport-fit=cover" if _reaches_edges(document) else "",
            needs=needs,
            early=Markup(needs.early),  # noqa: S704 - our own script
            kind=_MODULE if self.script_kind == "module" else _CLASSIC,
            headers=[self._header(name, views) for name in _header_names(views)],
            ground=self._section("", views, facts) if _has_ground(views) else None,
            sections=[self._section(name, views, facts) for name in section_names(views) if name],
        )

    # --- headers -------------------------------------------------------------------------------

    def _header(self, name: str, views: PageSources) -> dict[str, Any]:
        """A header with what it is on all of the screens that show it."""
        shown = {
            screen: view.header
            for screen, view in views.items()
            if view.header and view.header.box.name == name
        }
        some = next(iter(shown.values()))
        at_first = some.at_first
        index = some.box.look_names.index(at_first)
        return {
            "name": name,
            "rows": [
                {
                    "name": row,
                    "sides": self._sides(shown, row),
                    "backdrops": _backdrops(shown.values(), row),
                }
                for row in dict.fromkeys(row for item in shown.values() for row in item.entry.rows)
            ],
            "sides": self._sides(shown, None),
            "fills": max(len(gradient_fills(header.box)) for header in shown.values()),
            "backdrops": _backdrops(shown.values(), None),
            "arrivals": [look.name for look in some.box.looks if look.arrive],
            "inside": some.box.home,
            "at_first": at_first,
            "by_css": some.by_css,
            "drawn_first": some.box.look_names[some.box.standing(index)],
        }

    def _sides(
        self, shown: Mapping[str, HeaderSource], row: str | None
    ) -> list[tuple[str, list[dict[str, Any]]]]:
        """The groups of parts of a row, or of a header without rows, by their sides."""
        found = [(side, self._side(side, row, shown)) for side in _SIDES]
        return [(side, parts) for side, parts in found if parts]

    def _side(
        self, side: str, row: str | None, shown: Mapping[str, HeaderSource]
    ) -> list[dict[str, Any]]:
        """The parts on one side; one that differs between screens stands there once for each."""
        order = list(dict.fromkeys(name for item in shown.values() for name in item.entry.parts))
        return [part for name in order for part in self._variants((side, row), name, shown)]

    def _variants(
        self, place: tuple[str, str | None], name: str, shown: Mapping[str, HeaderSource]
    ) -> Iterator[dict[str, Any]]:
        groups: list[tuple[dict[str, Any], list[str]]] = []
        for screen, header in shown.items():
            part = header.entry.parts.get(name)
            if part is None:
                continue
            own = part.side, header.box.parts[name].row
            described = self._part(header, name, part) | {"place": own}
            same = next((group for group in groups if group[0] == described), None)
            if same:
                same[1].append(screen)
            else:
                groups.append((described, [screen]))
        for described, screens in groups:
            if described["place"] == place:
                yield described | {"only": _only(screens, list(shown))}

    def _part(self, header: HeaderSource, name: str, part: Part) -> dict[str, Any]:
        words = part.text or (part.alt,)
        pictured = part.text is None
        images = [
            self._picture(image, part.alt) | {"looks": looks}
            for image, looks in images_of(header, name).items()
        ]
        return {
            "name": name,
            "label": name.replace("-", " ").replace("_", " ").capitalize(),
            "links": [self._link(text, part, pictured=pictured) for text in words],
            "images": images,
        }

    def _picture(self, name: str, alt: str) -> dict[str, Any]:
        """A picture as an ``img``, with the size of its file."""
        picture = self.pictures[name]
        size = {"width": picture.width, "height": picture.height}
        return {"file": self.urls(name), "alt": alt} | size

    def _link(self, text: str, part: Part, *, pictured: bool) -> dict[str, Any]:
        """Where something in a header leads, or that it is pressed."""
        own = part.links.get(text)
        href = self._address(own) if own else telephone(text) if part.text else None
        href = href or self.links.get(text.casefold())
        if href is None and part.logo:
            href = self.links.get("")
        several = part.text is not None and len(part.text) > 1
        if href is None and several:
            href = "#"
        # What has no name cannot be pressed by everyone: it is for the eye only.
        return {"text": text, "href": href, "pressed": bool(text) or not pictured}

    # --- sections ------------------------------------------------------------------------------

    def _section(self, name: str, views: PageSources, facts: _Facts) -> dict[str, Any]:
        known = {
            screen: section
            for screen, view in views.items()
            if (section := _find(view, name)) is not None
        }
        count = max(len(section.layers) for section in known.values())
        layers = [
            {
                "index": index,
                "slides": max(
                    len(section.layers[index].entry.slides)
                    for section in known.values()
                    if index < len(section.layers)
                )
                if any(
                    index < len(section.layers) and section.layers[index].entry.every is not None
                    for section in known.values()
                )
                else 0,
                "videos": list(self._videos(known, index)),
                "placed": any(
                    index < len(section.layers) and is_placed_by_script(section.layers[index])
                    for section in known.values()
                ),
                "clipped": any(
                    index < len(section.layers) and is_clipped(section, section.layers[index])
                    for section in known.values()
                ),
            }
            for index in range(count)
        ]
        every = {screen: section.content for screen, section in known.items()}
        contents = list(self._contents(name, every, (), facts))
        return {
            "name": name,
            "id": name if name in self.targets else "",
            "layers": list(reversed(layers)),
            "border": any(section.box.border > 0 for section in known.values()),
            "flowing": [item for item in contents if item["flows"]],
            "placed": [item for item in contents if not item["flows"]],
            "pauses": list(_pauses(name, views)),
        }

    def _videos(self, known: Mapping[str, SectionSource], index: int) -> Iterator[dict[str, Any]]:
        """The videos of a layer: each that it has on some of the screens."""
        found: dict[tuple[str | None, str | None], tuple[LayerSource, list[str]]] = {}
        for screen, section in known.items():
            if index < len(section.layers) and section.layers[index].entry.video:
                layer = section.layers[index]
                key = layer.entry.video, layer.entry.poster
                found.setdefault(key, (layer, []))[1].append(screen)
        for layer, screens in found.values():
            described = described_video(
                layer, self.pictures, self.urls, self.first_frames, still=self.stills
            )
            yield described | {"only": _only(screens, list(known))}

    def _contents(
        self,
        section: str,
        known: Mapping[str, Sequence[ContentSource]],
        holder: tuple[Key, ...],
        facts: _Facts,
    ) -> Iterator[dict[str, Any]]:
        """The content of a section, or of a box of it on some screens.

        What differs between screens stands there once for each.

        Args:
            section: The section's name.
            known: Its content on each screen.
            holder: The path of the box; empty for the section itself.
            facts: What is known of the page as a whole.
        """
        own = {
            screen: {item.box.path: item for item in items if _is_in(item, holder)}
            for screen, items in known.items()
        }
        for path in sorted({path for items in own.values() for path in items}, key=_order):
            groups: list[tuple[dict[str, Any], list[str]]] = []
            for screen, items in own.items():
                if path not in items:
                    continue
                described = self._content(section, items[path], facts)
                same = next((group for group in groups if group[0] == described), None)
                if same:
                    same[1].append(screen)
                else:
                    groups.append((described, [screen]))
            for described, screens in groups:
                inside = {screen: known[screen] for screen in screens}
                yield described | {
                    "only": _only(screens, list(known)),
                    "inside": list(self._contents(section, inside, path, facts))
                    if described["kind"] == "box"
                    else [],
                }

    def _pieces(self, entry: Content) -> list[dict[str, str | None]]:
        """A text in pieces, each with where it leads, or None."""
        text, rest = _words(entry.text or "", entry.size), 0
        links = {}
        for words, target in entry.links.items():
            found = re.search(
                r"[ \t\n\r\f]+".join(map(re.escape, collapsed(words).split(" "))), text
            )
            if found:
                links[found.span()] = target
        pieces: list[dict[str, str | None]] = []
        for (start, end), target in sorted(links.items()):
            pieces += [
                {"text": text[rest:start], "href": None},
                {"text": text[start:end], "href": self._address(target)},
            ]
            rest = end
        pieces.append({"text": text[rest:], "href": None})
        return [piece for piece in pieces if piece["text"]]

    def _address(self, target: str) -> str:
        """Where a link leads: the file of a page of the plan, or the address itself."""
        page, mark, place = target.partition("#")
        file = self.file_of(page) if page else None
        return f"{file}{mark}{place}" if file else target

    def _content(self, section: str, content: ContentSource, facts: _Facts) -> dict[str, Any]:
        """One content as the page has it, without what is in it."""
        entry = content.entry
        described: dict[str, Any] = {
            "key": content.key,
            "kind": kind_of(content),
            "flows": content.flows,
            "enters": entry.enter is not None,
        }
        if entry.image is not None:
            described |= self._picture(entry.image, entry.alt) | {"lazy": section in facts.below}
        if entry.text is not None:
            level = facts.headings.get((section, content.key))
            tag = f"h{level}" if level else "p"
            described |= {"tag": tag, "pieces": self._pieces(entry), "href": None}
            described |= {"lang": entry.lang, "dir": entry.dir}
            if entry.button:
                described |= {"tag": "a", "href": self._address(entry.button.to)}
        return described


def _pauses(section: str, views: PageSources) -> Iterator[dict[str, Any]]:
    """The controls in a section that stop what runs: one that differs stands there for each."""
    groups: dict[tuple[str, bool], list[str]] = {}
    for screen, view in views.items():
        if view.pause and view.box.pause and view.box.pause.section == section:
            groups.setdefault((view.pause.text, view.pause.icon_only), []).append(screen)
    for (text, icon_only), screens in groups.items():
        yield {"text": text, "icon_only": icon_only, "only": _only(screens, list(views))}


def _order(path: tuple[Key, ...]) -> tuple[int, ...]:
    """By what content is sorted: its place, after those of the boxes that it is in."""
    return tuple(step for step in path if isinstance(step, int))


def _is_in(content: ContentSource, holder: tuple[Key, ...]) -> bool:
    """Whether a content is in a box, or in its section itself, and in nothing between."""
    return content.box.path[: len(holder)] == holder and (
        len(content.box.path) == len(holder) + (3 if holder else 2)
    )


def _words(text: str, size: object) -> str:
    """The words of a text; white space of one that is set on lines of its own is as it is shown."""
    if not isinstance(size, OneLine):
        return text
    return "\n".join(map(collapsed, text.split("\n")))


@dataclass(frozen=True, slots=True)
class _Facts:
    """What is known of a page as a whole.

    Attributes:
        headings: The levels of texts that are headings.
        below: The sections that start below the first screen, wherever they are shown.
    """

    headings: Headings
    below: frozenset[str]

    @classmethod
    def of(cls, views: PageSources) -> _Facts:
        """What is known of a page on all of its screens."""
        seen = {
            section.box.name
            for view in views.values()
            for section in view.sections
            if view.box.flow.room(0) + section.box.top < view.box.screen.height
        }
        every = {section.box.name for view in views.values() for section in view.sections}
        return cls(_headings(views), frozenset(every - seen))


def _headings(views: PageSources) -> Headings:
    """The levels of the texts of a page; what some screens leave out is as the others have it."""
    levels: Headings = {}
    for view in views.values():
        levels = heading_levels(view) | levels
    firsts = [key for key, level in levels.items() if level == 1]
    return levels | dict.fromkeys(firsts[1:], 2)


def _description(views: PageSources, own: str | None, headings: Headings) -> str:
    """What a page says of itself to search engines: its own words, or its first paragraph."""
    if own:
        return collapsed(own)
    for section in next(iter(views.values())).sections:
        for content in section.texts:
            plain = content.entry.button is None and (section.box.name, content.key) not in headings
            if plain:
                return shorten(collapsed(content.entry.text or ""), _DESCRIBED, placeholder=" …")
    return ""


def link_words(view: PageSource) -> Iterator[str]:
    """The words in a page's header that lead somewhere, or that are pressed."""
    for part in view.header.entry.parts.values() if view.header else ():
        words = part.text or ((part.alt,) if part.alt and not part.logo else ())
        yield from (text for text in words if text not in part.links and not telephone(text))


def _only(screens: Sequence[str], everywhere: Sequence[str]) -> Markup:
    """The attribute of what is shown on some screens only; names of viewports are plain."""
    if set(screens) == set(everywhere):
        return Markup("")
    return Markup(' data-screens="{}"').format(" ".join(screens))


def _reaches_edges(document: Document) -> bool:
    """Whether a page is laid out around the shape of some screen."""
    return any(viewport.safe_area for viewport in document.viewports.values())


def _backdrops(headers: Iterable[HeaderSource], row: str | None) -> list[int]:
    """How many layers each set of a header, or of a row of it, has at most on any screen."""
    counts = [map(len, backdrops_of(header.box).get(row, {})) for header in headers]
    return [max(column) for column in zip_longest(*counts, fillvalue=0)]


def _header_names(views: PageSources) -> list[str]:
    return list(dict.fromkeys(view.header.box.name for view in views.values() if view.header))


def _has_ground(views: PageSources) -> bool:
    return any(view.ground for view in views.values())


def _find(view: PageSource, name: str) -> SectionSource | None:
    if not name:
        return view.ground
    return next((item for item in view.sections if item.box.name == name), None)


def resource(name: str) -> str:
    """A text file of this package."""
    return files(__package__).joinpath(name).read_text("utf-8")
