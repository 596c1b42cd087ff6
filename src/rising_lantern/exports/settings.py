"""The settings of a plan one by one, for people who fill in the dialogs of a site editor.

A row is one setting of one thing in one state on one page, with its value on each screen.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from rising_lantern.css.lengths import Length, percent
from rising_lantern.css.numbers import number
from rising_lantern.errors import RequestError, shortened
from rising_lantern.exports.entries import color_words, easing_words, said_by, value_words
from rising_lantern.exports.sources import (
    ContentSource,
    HeaderSource,
    LayerSource,
    PageSource,
    SectionSource,
    source_of,
)
from rising_lantern.layout.fonts import ENGLISH
from rising_lantern.layout.headers import LookBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.models.base import Auto
from rising_lantern.plan.models.changes import Blend, Change, Cut, Fade
from rising_lantern.plan.models.headers import Part, states_in
from rising_lantern.plan.models.layers import Layer, PathStop
from rising_lantern.plan.models.pause import Pause
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scroll.switches import Switch, Switches

NONE = "–"
"""What stands where a screen does not have something."""

_PER = 100  # px of scroll, for which speeds are given in words


@dataclass(frozen=True, slots=True)
class Setting:
    """One setting.

    Attributes:
        page: The page's name.
        thing: What it is a setting of.
        state: The look of the header in which it holds; empty for always.
        name: What it sets, with its unit.
        values: Its value on each viewport.
    """

    page: str
    thing: str
    state: str
    name: str
    values: Mapping[str, str]


@dataclass(frozen=True, slots=True)
class SettingsView:
    """A page at a viewport, with what its settings need.

    Attributes:
        source: The page with its values in the plan.
        switches: Where its header switches; None without a header.
    """

    source: PageSource
    switches: Switches | None


Key = tuple[str, str, str]


def settings_of(page: str, views: Mapping[str, SettingsView]) -> Iterator[Setting]:
    """The settings of a page.

    Args:
        page: Its name.
        views: It at each viewport.
    """
    found: dict[Key, dict[str, str]] = {}
    for viewport, view in views.items():
        for thing, state, name, value in _rows(view):
            found.setdefault((thing, state, name), {})[viewport] = value
    for (thing, state, name), values in found.items():
        yield Setting(page, thing, state, name, {item: values.get(item, NONE) for item in views})


def settings_on(plan: PlanFile, views: Iterable[tuple[PageBox, Switches | None]]) -> list[Setting]:
    """The settings of some pages at their viewports.

    Args:
        plan: The plan.
        views: Each page at a viewport, with where its header switches.
    """
    pages: dict[str, dict[str, SettingsView]] = {}
    for box, switches in views:
        source = source_of(box, plan.documents[box.viewport])
        pages.setdefault(box.page, {})[box.viewport] = SettingsView(source, switches)
    return [item for page, own in pages.items() for item in settings_of(page, own)]


_Row = tuple[str, str, str, str]


def _rows(view: SettingsView) -> Iterator[_Row]:
    source = view.source
    yield "page", "", "background colour", color_words(source.box.background)
    script = source.box.script
    if script.language != ENGLISH.language:
        yield "page", "", "lang", script.language
    if script.direction != ENGLISH.direction:
        yield "page", "", "dir", script.direction
    for key, words in said_by(source.page, _OF_PAGES):
        yield "page", "", key, words
    if source.header and view.switches:
        yield from _header(source.header, view.switches)
    if source.ground:
        for index, layer in enumerate(source.ground.layers):
            yield from _layer(f"page, layer {index + 1}", layer)
    for section in source.sections:
        yield from _section(section)
    if source.pause:
        yield from _pause(source.box, source.pause)


def _section(section: SectionSource) -> Iterator[_Row]:
    """A section with its layers and content."""
    thing, entry = f"section {section.box.name}", section.entry
    height = (
        "that of its content"
        if isinstance(entry.height, Auto)
        else _length(entry.height, "of the screen's height")
    )
    yield thing, "", "height", height
    if entry.width != percent(100):
        yield thing, "", "width", _length(entry.width, "of the screen's width")
    if entry.overlap:
        overlap = _length(entry.overlap, "of the screen's height")
        yield thing, "", "overlap with the section above", overlap
    if entry.background:
        yield thing, "", "background colour", color_words(entry.background)
    if entry.z:
        yield thing, "", "stacking (z-index)", str(entry.z)
    for key, words in said_by(entry, _OF_SECTIONS):
        yield thing, "", key, words
    for index, layer in enumerate(section.layers):
        yield from _layer(f"{thing}, layer {index + 1}", layer)
    for content in section.content:
        yield from _content(thing, content)


def _pause(page: PageBox, entry: Pause) -> Iterator[_Row]:
    """The control that stops what runs, with what the plan leaves to the page."""
    pause = page.pause
    if pause is None:
        return
    thing = f"section {pause.section}, pause control"
    yield thing, "", "text", entry.text
    yield thing, "", "position", pause.at.css()
    yield thing, "", "colour", color_words(pause.color)
    yield thing, "", "background", color_words(pause.background)
    yield thing, "", "font size", entry.size.css()
    yield thing, "", "padding", entry.padding.css()
    yield thing, "", "radius", entry.radius.css()
    for key, words in said_by(entry, _OF_PAUSES):
        yield thing, "", key, words


# What has settings of its own above, or none: names, and what takes over others.
_OF_PAGES = ("lang", "dir", "like", "path", "paths", "kind", "background", "sections")
_OF_SECTIONS = ("like", "height", "width", "overlap", "background", "z", "layers", "content")
_OF_CONTENT = ("box",)
_OF_BOXES = ("content",)
_OF_LAYERS = (
    *("fill", "image", "slides", "video", "size", "position", "repeat", "opacity", "filter"),
    *("speed", "drift", "path", "blend"),
)
_OF_HEADERS = (
    *("like", "position", "z", "top", "over", "height", "padding", "background", "layers", "blur"),
    *("solid", "border", "color", "shadow", "rows", "parts", "looks", "change", "show"),
)
_OF_PAUSES = ("text", "at", "color", "background", "size", "padding", "radius")
_OF_PARTS = ("image", "width", "size", "weight", "color", "hidden", "states")


def _content(thing: str, content: ContentSource) -> Iterator[_Row]:
    """A text, picture or box of a section, with what differs from its defaults."""
    entry = content.entry
    kind = "text" if entry.text is not None else "box" if entry.box else "picture"
    place = ".".join(str(int(step) + 1) for step in content.key.split("-"))
    words = f' "{shortened(entry.text)}"' if entry.text is not None else ""
    what = f"{thing}, {kind} {place}{words}"
    rows = [*said_by(entry, _OF_CONTENT), *(said_by(entry.box, _OF_BOXES) if entry.box else ())]
    if entry.text is not None:
        keys = {key for key, _ in rows}
        rows += [("size", entry.size.css())] if "size" not in keys else []
    for key, said in rows or [("shown", "yes")]:
        yield what, "", key, said


def _header(header: HeaderSource, switches: Switches) -> Iterator[_Row]:
    entry, box = header.entry, header.box
    thing = f"header {box.name}"
    yield thing, "", "position", entry.position
    yield thing, "", "stacking (z-index)", str(entry.z)
    if entry.position != "static":
        yield thing, "", "distance from the top", _length(entry.top, "of the screen's height")
    yield thing, "", "lies over the first section", "yes" if entry.starts_under else "no"
    for key, words in said_by(entry, _OF_HEADERS):
        yield thing, "", key, words
    for index, step in enumerate(switches.steps):
        yield from _switch(thing, switches, index, step.start, step.back)
    if switches.directed and switches.directed_look:
        yield from _direction_words(thing, switches, switches.directed_look, switches.directed)
    for index, layer in enumerate(entry.layers):
        yield from _layer_content(f"{thing}, layer {index + 1}", layer)
    for look in box.looks:
        yield from _look_rows(thing, header, look.name)
    for name, part in entry.parts.items():
        for key, words in said_by(part, _OF_PARTS):
            yield f"{thing}, {name}", "", key, words
        for look in box.looks:
            yield from _part(f"{thing}, {name}", (header, look.name, name), part)


def _look_rows(thing: str, header: HeaderSource, look: str) -> Iterator[_Row]:
    """All of one look."""
    entry, first = header.entry, header.box.look_names[0]
    yield from _look(thing, header, look)
    yield from _header_rows(thing, header, look)
    for index, layer in enumerate(entry.look(look).layers or ()):
        for what, _, setting, words in _layer_content(f"{thing}, layer {index + 1}", layer):
            yield what, look, setting, words
    arrive = entry.look(look).arrive
    if arrive:
        yield thing, look, "arrive", arrive
    if look != first or entry.under:
        yield from _change(thing, look, entry.change_to(look))


def _switch(
    thing: str, switches: Switches, index: int, start: float, back: float
) -> Iterator[_Row]:
    look = switches.look_of(index).name
    if index == 0:
        yield thing, look, "starts", "at the top of the page"
        return
    times = sum(
        1 for item in switches.steps[: index + 1] if switches.header.looks[item.look].name == look
    )
    again = f" ({times})" if times > 1 else ""
    never = ", which this page does not reach" if start > switches.max_scroll else ""
    yield thing, look, f"starts{again}", f"at or beyond {number(start)} px{never}"
    if back != start:
        yield thing, look, f"ends going up{again}", f"below {number(back)} px"


def _direction_words(thing: str, switches: Switches, look: LookBox, step: Switch) -> Iterator[_Row]:
    """Where the look holds that holds in one direction."""
    never = ", which this page does not reach" if step.start > switches.max_scroll else ""
    words = f"at or beyond {number(step.start)} px{never}"
    yield thing, look.name, f"holds going {look.going}", words
    yield thing, look.name, "after turning round by", f"{number(look.after)} px"
    if step.back != step.start:
        yield thing, look.name, "ends", f"below {number(step.back)} px"


def _look(thing: str, header: HeaderSource, look: str) -> Iterator[_Row]:
    entry, own = header.entry, header.entry.look(look)
    yield thing, look, "background", value_words(own.background or entry.background)
    yield thing, look, "text colour", color_words(own.color or entry.color)
    if not entry.rows:
        yield thing, look, "height", _header_height(entry.height_in(look))
    yield thing, look, "padding", entry.padding_in(look).css()
    shadow = entry.shadow if own.shadow is None else own.shadow
    for number_, item in enumerate(shadow, 1):
        yield thing, look, "shadow" if len(shadow) == 1 else f"shadow {number_}", value_words(item)
    border = own.border or entry.border
    if border:
        yield thing, look, "border", value_words(border)
    blur = own.blur or entry.blur
    if blur.css() != "0px":
        yield thing, look, "blur of what is behind it", blur.css()
    solid = own.solid or entry.solid
    if solid:
        yield thing, look, "solid", color_words(solid)


def _header_rows(thing: str, header: HeaderSource, look: str) -> Iterator[_Row]:
    """The rows of a header in a look."""
    entry = header.entry
    for name in entry.rows:
        row, what = entry.row_in(look, name), f"{thing}, row {name}"
        if row.hidden:
            yield what, look, "shown", "no"
            continue
        yield what, look, "height", _header_height(row.height)
        if row.background:
            yield what, look, "background", color_words(row.background)
        if row.color:
            yield what, look, "text colour", color_words(row.color)
        if row.border:
            yield what, look, "border", value_words(row.border)
        if row.padding:
            yield what, look, "padding", row.padding.css()
        for index, layer in enumerate(row.layers):
            for item, _, setting, words in _layer_content(f"{what}, layer {index + 1}", layer):
                yield item, look, setting, words


def _header_height(height: Length | Auto) -> str:
    if isinstance(height, Auto):
        return "that of its parts and padding"
    return _length(height, "of the screen's height")


def _change(thing: str, look: str, change: Change) -> Iterator[_Row]:
    if isinstance(change, Cut):
        yield thing, look, "change", "at once"
    if isinstance(change, Fade):
        yield thing, look, "change", f"over {number(change.duration_ms)} ms"
        if change.delay_ms:
            yield thing, look, "delay of the change", f"{number(change.delay_ms)} ms"
        yield thing, look, "easing of the change", easing_words(change.easing)
    if isinstance(change, Blend):
        distance = _length(change.distance, "of the page's scroll range")
        yield thing, look, "change", f"over {distance} of scroll"
        yield thing, look, "easing of the change", easing_words(change.easing)
        if change.lag_ms:
            yield thing, look, "lag of the change", f"{number(change.lag_ms)} ms"


def _part(thing: str, of: tuple[HeaderSource, str, str], part: Part) -> Iterator[_Row]:
    header, look, name = of
    style = header.look(look).styles[name]
    if style.hidden:
        yield thing, look, "hidden", "yes"
        return
    if part.text is not None:
        yield thing, look, "font size", f"{number(style.size)} px"
        yield thing, look, "colour", color_words(style.color)
        yield thing, look, "font weight", str(part.weight)
    else:
        yield thing, look, "file", header.entry.image_of(name, look) or ""
        yield thing, look, "width", f"{number(style.width)} px"
    for state, own in states_in(part, header.entry.look(look).part(name)).items():
        if own.color:
            yield thing, look, f"{state}: colour", color_words(own.color)
        if own.background:
            yield thing, look, f"{state}: background", color_words(own.background)
        if own.underline is not None:
            yield thing, look, f"{state}: underlined", "yes" if own.underline else "no"


def _layer(thing: str, layer: LayerSource) -> Iterator[_Row]:
    entry = layer.entry
    yield from _layer_content(thing, entry)
    if not layer.box.is_uniform or entry.speed is not None:
        yield thing, "", "speed", speed_words(entry.rate)
    if entry.drift:
        yield thing, "", "drift", drift_words(entry.drift)
    if entry.path:
        yield thing, "", "path", "; ".join(map(_stop, entry.path))
    if entry.blend != "normal":
        yield thing, "", "blend mode", entry.blend
    for index, slide in enumerate(entry.slides, 1):
        if slide.tone:
            yield thing, "", f"tone while file {index} shows", slide.tone
    for key, words in said_by(entry, _OF_LAYERS):
        yield thing, "", key, words


def _layer_content(thing: str, entry: Layer) -> Iterator[_Row]:
    """What a layer shows, and where."""
    if entry.fill:
        yield thing, "", "fill", value_words(entry.fill)
    for index, picture in enumerate(entry.pictures, 1):
        yield thing, "", "file" if len(entry.pictures) == 1 else f"file {index}", picture
    if entry.pictures:
        yield thing, "", "size", entry.size.css()
        yield thing, "", "position", entry.position.css()
        if set(entry.repeat) != {"no-repeat"}:
            yield thing, "", "repeat", " ".join(entry.repeat)
    if entry.opacity < 1:
        yield thing, "", "opacity", f"{number(entry.opacity * 100)} %"
    if entry.filter:
        yield thing, "", "filter", " ".join(item.css() for item in entry.filter)


def drift_words(drift: float) -> str:
    """A drift, and the px that a picture moves aside while the page scrolls by 100 px."""
    side = "right" if drift > 0 else "left"
    return f"{number(drift)}: {number(abs(drift) * _PER)} px to the {side} for {_PER} px of scroll"


def _stop(stop: PathStop) -> str:
    return (
        f"at {stop.at.text}: {stop.x.css()} right, {stop.y.css()} down, "
        f"{number(stop.scale)} times as large, opacity {number(stop.opacity)}, "
        f"easing {easing_words(stop.easing)}"
    )


# --- words ---------------------------------------------------------------------------------------


def _length(length: Length, whole: str) -> str:
    text = length.css()
    return f"{text} {whole}" if "%" in text else text


def speed_words(speed: float) -> str:
    """A speed, and the px that a picture moves while the page scrolls by 100 px."""
    if speed == 0:
        return "0: fixed, stays with the screen"
    if speed == 1:
        return "1: moves with the page"
    moved = number(abs(speed) * _PER)
    return f"{number(speed)}: {moved} px {'up' if speed > 0 else 'down'} for {_PER} px of scroll"


def speed_from(page_px: float, picture_px: float) -> float:
    """The speed of a motion that was measured elsewhere.

    Args:
        page_px: How far the page was scrolled down, in px.
        picture_px: How far the picture moved up the screen meanwhile, in px; negative for down.

    Raises:
        RequestError: If the page was not scrolled.

    >>> speed_from(400, 160)
    0.4
    """
    if not page_px:
        raise RequestError("a speed needs a distance that the page was scrolled, other than 0 px")
    return picture_px / page_px


def markdown(settings: Sequence[Setting], title: str) -> str:
    """Settings as Markdown: a table for each page and thing.

    Args:
        settings: The settings.
        title: The plan's title.
    """
    lines = [f"# Settings of {_cell(title)}", ""]
    lines += [
        (
            "For the dialogs of a site editor. A look starts *at or beyond* its position: an "
            "editor that means *beyond* needs one px less. Speeds are the px that a picture moves "
            "up the screen for each px of scroll; scales differ between editors, so the motion "
            "for 100 px of scroll stands beside each."
        ),
    ]
    page = thing = None
    for item in settings:
        if item.page != page:
            lines += ["", f"## Page {item.page}"]
            page, thing = item.page, None
        if item.thing != thing:
            thing = item.thing
            heads = ["state", "setting", *item.values]
            lines += ["", f"### {_cell(thing)}", "", _line(heads), _line(["---"] * len(heads))]
        values = list(item.values.values())
        lines.append(_line([item.state or "always", item.name, *values]))
    return "\n".join(lines) + "\n"


def _line(cells: Sequence[str]) -> str:
    return "| " + " | ".join(_cell(cell) for cell in cells) + " |"


def _cell(text: str) -> str:
    """A text in a cell of Markdown, where nothing in it means anything."""
    plain = " ".join(text.split()).replace("\\", "\\\\").replace("|", "\\|")
    return plain.replace("<", "&lt;").replace("`", "\\`").replace("[", "\\[")
