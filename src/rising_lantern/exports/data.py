"""What the script knows of a page, as data: nothing in it is code."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import Any

from rising_lantern.exports.flow import height_of
from rising_lantern.exports.headers import HeaderWriter, is_switched_by_site
from rising_lantern.exports.motion import layer_data
from rising_lantern.exports.sources import ContentSource, PageSource, SectionSource, all_items
from rising_lantern.exports.stylesheet import PageSources, SheetWriter
from rising_lantern.exports.weights import Animated
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
        data["header"] = _header(view, writer.header_writer(view.header))
    layers = layer_data(view, sections.motion, sections.layer)
    if layers:
        data |= {"layers": layers, "still": writer.stills}
    if layers and insists:
        data["insists"] = True
        names = {layer["frames"] for layer in layers if "frames" in layer}
        animated = Animated.of(sections.motion.frames(names), writer.naming)
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

    That is what moves or arrives, and sections that overlap others whose height is measured.
    """
    return any(_overlaps_measured(view) for view in views.values()) or any(
        item.box.moves
        or item.box.motion.path
        or (isinstance(item, ContentSource) and item.entry.enter is not None)
        for view in views.values()
        for item in all_items(view)
    )


def _overlaps_measured(view: PageSource) -> bool:
    entries = [section.entry for section in view.sections]
    return any(entry.is_auto for entry in entries) and any(entry.overlap for entry in entries)


def _header(view: PageSource, writer: HeaderWriter) -> dict[str, Any]:
    """The header as the script knows it; its numbers are in the style sheet."""
    header = writer.header
    entry, box = header.entry, header.box
    data: dict[str, Any] = {"at": writer.here, "looks": list(_looks(writer))}
    if any(look.arrive for look in box.looks):
        data["arrivals"] = writer.arrivals
    if entry.hold_space:
        data["hold"] = True
    if entry.starts_under or box.home is not None:
        data["over"] = True
    if entry.container:
        data["container"] = entry.container.css("vh")
    if entry.under:
        data["steps"] = list(_steps(view, writer))
    return data


def _looks(writer: HeaderWriter) -> Iterator[dict[str, Any]]:
    entry = writer.header.entry
    for name in writer.header.box.look_names:
        change = entry.change_to(name)
        look: dict[str, Any] = {"name": name}
        if isinstance(change, Blend):
            look["blend"] = True
            if change.lag_ms:
                look["lag"] = change.lag_ms
        if entry.look(name).arrive:
            look["arrive"] = True
        if entry.look(name).going:
            look["going"] = entry.look(name).going
        yield look


def _steps(view: PageSource, writer: HeaderWriter) -> Iterator[list[str]]:
    """The looks by the tone of what is under the middle of the header, and where each starts.

    ``reach`` counts from the header's lower edge: the middle of its first look is above that.
    """
    entry, box = writer.header.entry, writer.header.box
    middle = height_of(writer.header, box.look_names[0])
    current = ""
    for section in view.sections:
        tone = section.entry.tone
        name = (entry.under.get(tone) if tone else None) or current or box.look_names[0]
        if not current:
            yield [name]
        elif name != current:
            lower = height_of(writer.header, current)
            yield [name, f"reach {section.box.name} + calc({lower} - {middle} / 2)"]
        current = name
