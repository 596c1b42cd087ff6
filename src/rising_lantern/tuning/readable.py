"""Which values may be changed so that texts, links, icons and parts of headers can be read.

Values that others share come first: the colour of the plan that a text is in, where it stands.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from difflib import SequenceMatcher

from rising_lantern.checks.legibility import stands_above_a_picture
from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.contrast import luminance_of
from rising_lantern.css.gradients import Gradient
from rising_lantern.css.numbers import number
from rising_lantern.layout.items import ContentBox
from rising_lantern.legibility.contrast import ink_of, is_shape
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.pictures import Picture, find_picture
from rising_lantern.plan.models.fills import Fill
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.text.nodes import NEW
from rising_lantern.scenes.scene import Scene
from rising_lantern.tuning.cases import Case, fixes
from rising_lantern.tuning.knobs import (
    Knob,
    colors,
    moved,
    one_of,
    opacity,
    panel,
    plan_colors,
    tint,
    veil,
)
from rising_lantern.tuning.nearest import EVEN
from rising_lantern.tuning.places import Path, Places

_LINK_STATES = ("color", "visited", "focus")
_MOST_PICTURES = 6
_STILL_THAT = 0.3  # how far a colour of the plan may go, in OKLab: a light one stays light
_OTHER_SHAPE = 0.01  # of a picture's proportions


# --- colours, wherever they stand ----------------------------------------------------------------


def _places(case: Case, *chain: Path) -> Places:
    in_header = case.worst.subject.header is not None
    within = case.look_path if in_header else chain[0][:-1]
    return Places(case.scene.plan.root, case.scene.viewport, chain, within)


def _other_colors(case: Case, what: str, places: Places, color: Color) -> Iterator[Knob]:
    """The plan's other colours in place of one."""
    names = case.scene.document.colors
    for path in places.to_change():
        yield from plan_colors(what, path, names, color)


def _shades(what: str, places: Places, color: Color) -> Iterator[Knob]:
    """A colour that gets lighter or darker: that of the plan, then the one that is written."""
    if places.named:
        what_all = f"colour {places.named[-1]} of the plan"
        yield from colors(what_all, places.named, color, _STILL_THAT)
    for path in places.to_change():
        yield from colors(what, path, color)


def _grounds(
    case: Case, what: str, places: Places, against: Color, fill: Fill | None = None
) -> Iterator[Knob]:
    """A ground that gets more opaque: a colour, or the gradient that it is filled with."""
    written = places.color(case.scene.document.colors) or TRANSPARENT
    for path in places.to_change():
        if isinstance(fill, Gradient):
            yield veil(what, path, fill)
        else:
            yield opacity(what, path, written, against)


# --- parts of headers ----------------------------------------------------------------------------


@fixes("unreadable-part")
def _unreadable_part(case: Case) -> Iterator[Knob]:
    if stands_above_a_picture(case.scene.box, case.box):
        yield from one_of("place above the first section", (*case.header_path, "over"), ["true"])
    yield from _plan_colors(case)
    yield from _pictures(case)
    yield from _neighbours(case)
    look = case.box.looks[case.box.look_names.index(case.worst.subject.look or "")]
    ink = ink_of(look.parts[case.part_name], case.scene.plan.files.pictures)
    row = case.box.parts[case.part_name].row
    if row is not None:
        inner = ("rows", row, "background")
        places = _places(case, (*case.look_path, *inner), (*case.header_path, *inner))
        yield from _grounds(case, "opacity of the row", places, ink)
    grounds = _places(case, (*case.look_path, "background"), (*case.header_path, "background"))
    yield from _grounds(case, "opacity of the header", grounds, ink, look.fill)
    yield from _text_colors(case)


@fixes("runs-under")
def _runs_under(case: Case) -> Iterator[Knob]:
    """A header that is more opaque where the text passes below it."""
    header = case.scene.sweep([case.worst.worst]).header
    if header is None:
        return
    look = header.box.looks[int(header.look[0])]
    own = ("headers", header.box.name, "looks", look.name)
    chain = ((*own, "background"), ("headers", header.box.name, "background"))
    places = Places(case.scene.plan.root, case.scene.viewport, chain, own)
    yield from _grounds(case, "opacity of the header", places, look.color, look.fill)


def _color_places(case: Case) -> tuple[str, Places, Color]:
    """The colour of a part in a look: its own, or what it has in common with others."""
    part, look = case.part_name, case.look_path
    own = case.look.part(part).color or case.part.color
    if own:
        chain = (*look, "parts", part, "color"), (*case.header_path, "parts", part, "color")
        return "colour of the text", _places(case, *chain), own
    return "colour of the texts", *_common_color(case)


def _common_color(case: Case) -> tuple[Places, Color]:
    """The colour that a part has in common with others: that of its row, or the look's."""
    row = case.box.parts[case.part_name].row
    if row is not None:
        in_row = case.header.row_in(case.worst.subject.look or "", row).color
        if in_row:
            inner = ("rows", row, "color")
            places = _places(case, (*case.look_path, *inner), (*case.header_path, *inner))
            return places, in_row
    places = _places(case, (*case.look_path, "color"), (*case.header_path, "color"))
    return places, case.look.color or case.header.color


def _plan_colors(case: Case) -> Iterator[Knob]:
    """Colours that the plan has for a text in a look: its own, then the look's."""
    if case.part.text is None and not case.part.tint:
        return
    what, places, color = _color_places(case)
    yield from _other_colors(case, what, places, color)
    _, shared = _common_color(case)
    if color != shared and shared.alpha == 1:
        for path in places.to_change():
            yield from one_of(what, path, [shared.text or shared.hex()[:7]])


def _text_colors(case: Case) -> Iterator[Knob]:
    """The colour of a text in a look: its own, or the look's."""
    if case.part.text is not None or case.part.tint:
        yield from _shades(*_color_places(case))


def _pictures(case: Case) -> Iterator[Knob]:
    """Other pictures of the same shape from the same folder, those with the likest name first."""
    name = case.header.image_of(case.part_name, case.worst.subject.look or "")
    if name is None:
        return
    files = case.scene.plan.files
    shape = files.pictures[name]
    folder = name.rpartition("/")[0]
    others = [
        other for other in files.beside(name) if other != name and _alike(case.scene, other, shape)
    ]
    likest = sorted(others, key=lambda other: -SequenceMatcher(None, name, other).ratio())
    where = (*case.part_path, "image")
    if not case.header.looks:
        where = (*case.header_path, "parts", case.part_name, "image")
    yield from one_of(
        f"picture, from {folder or 'the same folder'}", where, likest[:_MOST_PICTURES]
    )


def _tint(case: Case) -> Iterator[Knob]:
    """The picture as a shape in the look's colour, where all that it has is one colour."""
    names = {case.header.image_of(case.part_name, look) for look in case.header.looks}
    pictures = [case.scene.plan.files.pictures[name] for name in names if name]
    if not case.part.tint and pictures and all(is_shape(picture) for picture in pictures):
        where = (*case.header_path, "parts", case.part_name, "tint")
        yield from one_of("tint of the picture", where, ["current"])


def _alike(scene: Scene, name: str, shape: Picture) -> bool:
    """Whether a file is a picture of the same proportions as another one."""
    files = scene.plan.files
    try:
        other = files.pictures.get(name) or find_picture(files.folder, name)
    except FileFault:
        return False
    return abs(other.width * shape.height / (other.height * shape.width) - 1) < _OTHER_SHAPE


def _neighbours(case: Case) -> Iterator[Knob]:
    """The look after this one starting earlier, or this one later, where that may be enough."""
    switches = case.scene.switches
    if switches is None or case.header.under:
        return
    names = [switches.look_of(step).name for step in range(len(switches.steps))]
    name = case.worst.subject.look or ""
    step = names.index(name) if name in names else -1
    first = min(finding.scroll[0] for finding in case.findings)
    last = max(finding.scroll[1] for finding in case.findings)
    if 0 <= step < len(names) - 1:
        following = case.header.look(names[step + 1])
        steps = math.ceil(switches.steps[step + 1].start - first)
        if following.from_ and steps > 0:
            where = (*case.header_path, "looks", names[step + 1], "from")
            yield moved(where, following.from_, -1, steps)
    if step > 0 and case.look.from_:
        steps = math.ceil(last - switches.steps[step].start) + 1
        if steps > 0:
            yield moved((*case.look_path, "from"), case.look.from_, 1, steps)


@fixes("part-left-behind")
def _part_left_behind(case: Case) -> Iterator[Knob]:
    yield from _plan_colors(case)
    yield from _tint(case)
    yield from _pictures(case)
    yield from _text_colors(case)


# --- texts and links of a page -------------------------------------------------------------------


@fixes("unreadable-content")
def _unreadable_content(case: Case) -> Iterator[Knob]:
    content = _text_of(case)
    if content is None:
        return
    if case.is_column:
        yield from _below_all(case, content.color)
        return
    path, what = case.path, "colour of the text"
    places = _places(case, *_in_what_it_is(case, path, "color"))
    yield from _other_colors(case, what, places, content.color)
    yield from _layers(case, content.color)
    yield from _shades(what, places, content.color)
    yield from _behind(case, path, content)


@fixes("unreadable-link")
def _unreadable_link(case: Case) -> Iterator[Knob]:
    """The colours of links in each state that the plan has them in, and what is behind."""
    if case.worst.subject.header is not None:
        yield from _link_in_header(case)
        return
    content = _text_of(case)
    if content is None:
        return
    path = case.path[:-2]
    links = tuple(_in_what_it_is(case, path, "link-color"))
    in_states = [tuple((*place, state) for place in links) for state in _LINK_STATES]
    for chain in (*in_states, links, tuple(_in_what_it_is(case, path, "color"))):
        places = _places(case, *chain)
        color = places.color(case.scene.document.colors)
        if color:
            yield from _other_colors(case, "colour of the link", places, color)
            yield from _shades("colour of the link", places, color)
    yield from _behind(case, path, content)


def _link_in_header(case: Case) -> Iterator[Knob]:
    """The colour of a part's links in a state: that of the look, else that of all looks."""
    subject, state = case.worst.subject, str(case.path[-1])
    look = next(item for item in case.box.looks if item.name == subject.look)
    color = next(ink.color for ink in look.links[subject.part or ""] if ink.state == state)
    whole = (*case.header_path, "parts", case.part_name, "states", state, "color")
    own = (*case.part_path, "states", state, "color") if case.header.looks else whole
    for where in (own,) if own == (*case.path, "color") else (whole, own):
        places = _places(case, where)
        yield from _other_colors(case, "colour of the link", places, color)
        yield from _shades("colour of the link", places, color)


@fixes("unmarked-link")
def _mark_link(case: Case) -> Iterator[Knob]:
    yield from one_of("underline of the links", (*case.path[:-2], "underline"), ["true"])


def _text_of(case: Case) -> ContentBox | None:
    """The text that findings are about."""
    section, index = case.section_box, case.worst.subject.content
    return None if section is None or index is None else section.content[index]


def _in_what_it_is(case: Case, path: Path, key: str) -> Iterator[Path]:
    """A key of a text, then of the boxes that it is in, then of its page."""
    yield (*path, key)
    for place in range(len(path) - 1, 0, -1):
        if path[place] == "box" and key == "color":
            yield (*path[: place + 1], key)
    yield ("pages", case.scene.page, key)


def _layers(case: Case, ink: Color) -> Iterator[Knob]:
    """Tints over the pictures behind a text that get more opaque, and pictures that get darker."""
    section = case.section
    layers = list(enumerate(section.layers)) if section else []
    for position, layer in layers:
        yield from _tint_layer(layer, (*case.section_path, "layers", position), ink)
    own = case.scene.plan.root.at((*case.section_path, "layers"))
    if own is not None and any(layer.fill is None for _, layer in layers):
        yield tint((*case.section_path, "layers", NEW), ink)
    for position, layer in layers:
        if layer.fill is None and not layer.filter and luminance_of(ink) > EVEN:
            where = (*case.section_path, "layers", position, "filter")
            yield Knob("brightness of the picture", where, 99, _dim)


def _below_all(case: Case, ink: Color) -> Iterator[Knob]:
    """What is behind all texts of a section: its layers, or where it has none its own colour."""
    section = case.section
    if section is None:
        return
    if section.layers:
        yield from _layers(case, ink)
        return
    page = case.scene.document.pages[case.scene.page]
    color = section.background or page.background.color
    if color is None or color.alpha < 1:
        return
    places = _places(case, (*case.section_path, "background"))
    what = "colour behind the texts"
    yield from _other_colors(case, what, places, color)
    yield from _shades(what, places, color)


def _tint_layer(layer: Layer, where: Path, ink: Color) -> Iterator[Knob]:
    """A tint that gets more opaque, by its own opacity and by that of its colours."""
    if layer.fill is None:
        return
    if layer.opacity < 1:
        first = math.floor(layer.opacity * 100 + 1e-6)
        yield Knob(
            "opacity of a tint",
            (*where, "opacity"),
            100 - first,
            lambda step: number((first + step) / 100),
        )
    if isinstance(layer.fill, Color):
        yield opacity("opacity of a tint", (*where, "fill"), layer.fill, ink)
    else:
        yield veil("opacity of a tint", (*where, "fill"), layer.fill)


def _behind(case: Case, path: Path, content: ContentBox) -> Iterator[Knob]:
    """One ground behind all that is in a box, then one behind a text alone."""
    names = case.scene.document.colors
    for place in range(len(path) - 1, 0, -1):
        if path[place] == "box":
            ground = _places(case, (*path[: place + 1], "background"))
            color = ground.color(names) or TRANSPARENT
            yield opacity("opacity of its box", ground.chain[0], color, content.color)
    if content.panel:
        panels = _places(case, (*path, "panel", "color"), (*path, "panel"))
        for where in panels.to_change():
            yield opacity("opacity of its panel", where, content.panel, content.color)
    else:
        yield panel((*path, "panel"), content.color)


def _dim(step: int) -> str:
    return f"brightness({number(1 - step / 100)})"
