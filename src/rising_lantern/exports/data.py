"""What the script knows of a page, as data: nothing in it is code."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from itertools import product
from typing import Any

from rising_lantern.exports.flow import height_of
from rising_lantern.exports.headers import HeaderWriter, is_switched_by_site
from rising_lantern.exports.motion import MOVED_BY, is_placed_by_script, layer_data
from rising_lantern.exports.sources import (
    ContentSource,
    PageSource,
    SectionSource,
    all_items,
    all_sections,
)
from rising_lantern.exports.stylesheet import PageSources, SheetWriter
from rising_lantern.exports.timelines import edge_words
from rising_lantern.exports.weights import Animated
from rising_lantern.layout.sections import tone_of
from rising_lantern.layout.slides import SlideTiming
from rising_lantern.plan.models.base import Tone
from rising_lantern.plan.models.changes import Blend
from rising_lantern.plan.text.screen_widths import ScreenRange


def page_data(
    page: str,
    views: PageSources,
    writer: SheetWriter,
    ranges: Sequence[ScreenRange],
    *,
    insists: bool = False,
) -> dict[str, Any]:
    """What the script knows of a page on each of its screens, the widest first.

    Args:
        page: The page's name.
        views: The page at each viewport.
        writer: What writes the style sheet.
        ranges: The screens of each viewport, the widest first.
        insists: Whether what the script declares is to be ``!important``, in our layer.
    """
    screens = [
        {"media": item.media} | _screen(views[item.name], writer, page, insists=insists)
        for item in ranges
        if item.name in views
    ]
    alike = all({**item, "media": ""} == {**screens[0], "media": ""} for item in screens)
    return {"screens": [screens[0] | {"media": "all"}] if alike else screens}


def _screen(view: PageSource, writer: SheetWriter, page: str, *, insists: bool) -> dict[str, Any]:
    sections = writer.section_writer(page, view)
    root = writer.naming.page(page)
    data: dict[str, Any] = {
        "sections": {
            section.box.name: sections.section(section).removeprefix(f"{root} ")
            for section in view.sections
        }
    }
    scroller = view.page.scroll_container
    if scroller:
        data["scroller"] = scroller.text
    measured = [section.box.name for section in view.sections if is_measured(section)]
    if measured:
        data["measured"] = measured
    if view.header and not is_switched_by_site(view.header):
        data["header"] = _header(view, writer)
    layers = layer_data(view, sections.motion, sections.layer)
    if layers:
        data |= {"layers": layers, "still": writer.stills}
    if layers and insists:
        data["insists"] = True
        names = {layer["frames"] for layer in layers if "frames" in layer}
        animated = Animated.of(sections.motion.frames(names, MOVED_BY), writer.naming)
        data["layers"] = [
            layer | ({"moved": animated.moved(layer["frames"])} if "frames" in layer else {})
            for layer in layers
        ]
    return data


def is_measured(section: SectionSource) -> bool:
    """Whether a section's height is known on the page only: it follows from what is in it."""
    return section.entry.is_auto or section.entry.selector is not None


def needs_layers(views: PageSources) -> bool:
    """Whether a page has anything that ``lantern-layers.js`` does.

    That is layers that it places, and heights that are known on the page only, where something
    depends on them: what moves, and sections that overlap others.
    """
    return any(map(_needs_layers, views.values()))


def _needs_layers(view: PageSource) -> bool:
    layers = (layer for section in all_sections(view) for layer in section.layers)
    if _overlaps_measured(view) or any(map(is_placed_by_script, layers)):
        return True
    if view.page.scroll_container is not None:
        return _moves(view)
    # A layer's area depends on its own section; where a text settles, on all above it.
    measured = [section for section in view.sections if is_measured(section)]
    texts = (item for section in view.sections for item in section.content)
    return any(layer.box.moves for section in measured for layer in section.layers) or (
        bool(measured) and any(text.box.moves for text in texts)
    )


def needs_early(data: Mapping[str, Any], views: PageSources) -> bool:
    """Whether the first picture of a page would show what its scripts are about to change.

    Args:
        data: What the script knows of the page.
        views: The page at each viewport.
    """
    screens = data["screens"]
    changes = any(screen.get("layers") or "top" in screen.get("header", {}) for screen in screens)
    return changes or has_entrances(views)


def needs_moves(views: PageSources) -> bool:
    """Whether anything on a page moves along the scroll, as ``lantern-moves.js`` can move it."""
    return any(map(_moves, views.values()))


def _moves(view: PageSource) -> bool:
    return any(item.box.moves or item.box.motion.path for item in all_items(view))


def has_entrances(views: PageSources) -> bool:
    """Whether texts of a page arrive, as ``lantern-enters.js`` lets them."""
    return any(
        isinstance(item, ContentSource) and item.entry.enter is not None
        for view in views.values()
        for item in all_items(view)
    )


def _overlaps_measured(view: PageSource) -> bool:
    entries = [section.entry for section in view.sections]
    return any(entry.is_auto for entry in entries) and any(entry.overlap for entry in entries)


def _header(view: PageSource, pages: SheetWriter) -> dict[str, Any]:
    """The header as the script knows it; its numbers are in the style sheet."""
    assert view.header is not None  # noqa: S101 - the page has one
    writer = pages.header_writer(view.header)
    header = writer.header
    entry, box = header.entry, header.box
    data: dict[str, Any] = {"at": writer.here, "looks": list(_looks(writer))}
    top = view.look_at_top
    if header.by_css:
        data["css"] = True
    elif top and not top.arrive and top.name != header.at_first:
        data["top"] = top.name
    if any(look.arrive for look in box.looks):
        data["arrivals"] = writer.arrivals
    if entry.hold_space:
        data["hold"] = True
    if entry.starts_under or box.home is not None:
        data["over"] = True
    if entry.container:
        data["container"] = entry.container.css("vh")
    if entry.under:
        data["steps"] = list(_steps(view, writer, _tones_of(view, {})))
        data |= _tone_cases(view, writer, pages)
    return data


def _tone_cases(view: PageSource, writer: HeaderWriter, pages: SheetWriter) -> dict[str, Any]:
    """The slides whose tones the header follows, and the steps for each set of them."""
    running = list(toned_layers(view))
    if not running:
        return {}
    sections = pages.section_writer(view.box.page, view)
    root = f"{pages.naming.page(view.box.page)} "
    slides = [section.layers[index].box.slides for section, index, _ in running]
    keys = [(section.box.name, index) for section, index, _ in running]
    tones = [
        {
            "at": sections.slides(section, index).removeprefix(root),
            "count": len(names),
            "every": run.every_ms,
            "half": run.half_ms,
        }
        for (section, index, run), names in zip(running, slides, strict=True)
    ]
    sets = [
        list(_steps(view, writer, _tones_of(view, dict(zip(keys, places, strict=True)))))
        for places in product(*(range(len(names)) for names in slides))
    ]
    return {"tones": tones, "sets": sets}


def toned_layers(view: PageSource) -> Iterator[tuple[SectionSource, int, SlideTiming]]:
    """The layers whose slides run and have tones that the header follows."""
    if view.header is None or not view.header.entry.under:
        return
    for section in view.sections:
        for index, layer in enumerate(section.layers):
            if layer.box.run is not None and any(layer.box.tones):
                yield section, index, layer.box.run


def _tones_of(view: PageSource, places: Mapping[tuple[str, int], int]) -> list[Tone | None]:
    """The tone of each section while some slides show.

    Args:
        view: The page at a viewport.
        places: How many slides further on a layer is, by its section and its place; by default
            it shows what it shows in the layout.
    """

    def tone(section: SectionSource, index: int) -> Tone | None:
        box = section.layers[index].box
        place = places.get((section.box.name, index))
        return box.tone if place is None else box.tones[box.order[place]]

    return [
        tone_of(section.entry.tone, (tone(section, index) for index in range(len(section.layers))))
        for section in view.sections
    ]


def _looks(writer: HeaderWriter) -> Iterator[dict[str, Any]]:
    entry = writer.header.entry
    for name in writer.header.box.look_names:
        change = entry.change_to(name)
        look: dict[str, Any] = {"name": name}
        if isinstance(change, Blend):
            look["blend"] = True
            if change.lag_ms:
                look["lag"] = change.lag_ms
        edge = entry.look(name).from_
        if writer.header.by_css and edge and edge.edge:
            look["edge"] = edge_words(edge)
        if entry.look(name).arrive:
            look["arrive"] = True
        if entry.look(name).going:
            look["going"] = entry.look(name).going
        yield look


def _steps(
    view: PageSource, writer: HeaderWriter, tones: Sequence[Tone | None]
) -> Iterator[list[str]]:
    """The looks by the tone of what is under the middle of the header, and where each starts.

    ``reach`` counts from the header's lower edge: the middle of its first look is above that.
    """
    entry, box = writer.header.entry, writer.header.box
    middle = height_of(writer.header, box.look_names[0])
    current = ""
    for section, tone in zip(view.sections, tones, strict=True):
        name = (entry.under.get(tone) if tone else None) or current or box.look_names[0]
        if not current:
            yield [name]
        elif name != current:
            lower = height_of(writer.header, current)
            yield [name, f"reach {section.box.name} + calc({lower} - {middle} / 2)"]
        current = name
