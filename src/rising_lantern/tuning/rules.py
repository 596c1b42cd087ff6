"""Which values may be changed to clear the findings of each rule, in the order to try them."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator, Sequence
from difflib import SequenceMatcher
from typing import cast

from rising_lantern.checks.backgrounds import centred_position, displacement, missing_room
from rising_lantern.checks.edges import on_grid
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.reading import stands_above_a_picture
from rising_lantern.checks.switching import FADE_STEP_MS
from rising_lantern.css.colors import Color
from rising_lantern.css.numbers import number
from rising_lantern.layout.sections import LayerBox
from rising_lantern.legibility.contrast import ink_of
from rising_lantern.plan.files.folder import FileFault
from rising_lantern.plan.files.pictures import Picture, find_picture
from rising_lantern.plan.models.changes import Fade
from rising_lantern.plan.models.headers import Header, Look
from rising_lantern.plan.text.nodes import Key
from rising_lantern.tuning.knobs import (
    Knob,
    colors,
    lengthened,
    moved,
    one_of,
    opacity,
    panel,
    plan_colors,
    shifted,
    veil,
)
from rising_lantern.tuning.nearest import EVEN, luminance_of
from rising_lantern.view import View

_TIME = re.compile(r"[\d.]+m?s\b", re.IGNORECASE)
_HIGHEST_Z = 1_000_000
_PART_PATH = 5  # keys ahead of the name of a part in the path to it
_MOST_PICTURES = 6
_OTHER_SHAPE = 0.01  # of a picture's proportions

Maker = Callable[[View, Sequence[Finding]], Iterator[Knob]]
MAKERS: dict[str, Maker] = {}
"""By the name of a rule: from the view of the worst of some findings of it, worst first, that share
a path in the plan, to the knobs to try."""

BESIDE: dict[str, tuple[str, ...]] = {
    "late-switch": ("early-switch", "unreadable-part"),
    "early-switch": ("late-switch", "unreadable-part"),
    "never-reached": ("late-switch", "early-switch"),
    "part-left-behind": ("unreadable-part",),
    "soft-picture": ("gap",),
    "gap": ("soft-picture",),
}
"""Other rules that may not find more on the way to the value; all rules prove it at the end."""


def _fixes(*rules: str) -> Callable[[Maker], Maker]:
    def register(maker: Maker) -> Maker:
        MAKERS.update(dict.fromkeys(rules, maker))
        return maker

    return register


@_fixes("unreadable-part")
def _unreadable_part(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    header = view.box.header
    path = findings[0].path
    if header is None:
        return
    if stands_above_a_picture(view.box, header):
        yield from one_of("place above the first section", (*path[:2], "over"), ["true"])
    look, name = str(path[3]), str(path[5])
    yield from _known_colors(view, header.entry, path)
    yield from _pictures(view, header.entry, path)
    yield from _neighbours(view, findings)
    style = header.styles[header.looks.index(look)]
    ink = ink_of(header.place_parts(style)[name], view.plan.files.pictures)
    ground = (*path[:4], "background")
    for fill in style.fills:
        if isinstance(fill, Color):
            yield opacity("opacity of the header", ground, fill, ink)
        else:
            yield veil("opacity of the header", ground, fill)
    yield from _text_colors(header.entry, path)


def _known_colors(view: View, header: Header, path: tuple[Key, ...]) -> Iterator[Knob]:
    """Colours that the plan has for a text in a look: its own, then the look's."""
    look, part = header.look(str(path[3])), header.parts[str(path[5])]
    if part.text is None:
        return
    names = view.plan.documents[view.viewport].colors
    own = look.part(str(path[5])).color or part.color
    current, shared = own or look.color or header.color, look.color or header.color
    where = (*path[:6], "color") if own else (*path[:4], "color")
    what = "colour of the text" if own else "colour of the texts"
    yield from plan_colors(what, where, names, current)
    if own and own != shared and shared.alpha == 1:
        yield from one_of(what, where, [shared.text or shared.hex()[:7]])


def _pictures(view: View, header: Header, path: tuple[Key, ...]) -> Iterator[Knob]:
    """Other pictures of the same shape from the same folder, those with the likest name first."""
    name = header.image_of(str(path[5]), str(path[3])) if len(path) > _PART_PATH else None
    if name is None:
        return
    shape = view.plan.files.pictures[name]
    folder = name.rpartition("/")[0]
    others = [
        other
        for other in view.plan.files.beside(name)
        if _alike(view, other, shape) and other != name
    ]
    likest = sorted(others, key=lambda other: -SequenceMatcher(None, name, other).ratio())
    where = (*path[:6], "image")
    yield from one_of(
        f"picture, from {folder or 'the same folder'}", where, likest[:_MOST_PICTURES]
    )


def _alike(view: View, name: str, shape: Picture) -> bool:
    """Whether a file is a picture of the same proportions as another one."""
    try:
        other = view.plan.files.pictures.get(name) or find_picture(view.plan.files.folder, name)
    except FileFault:
        return False
    return abs(other.width * shape.height / (other.height * shape.width) - 1) < _OTHER_SHAPE


def _neighbours(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    """The look after this one starting earlier, or this one later, where that may be enough."""
    switches, path = view.switches, findings[0].path
    if switches is None or switches.header.entry.under:
        return
    names = [switches.header.looks[step.look] for step in switches.steps]
    place = names.index(str(path[3])) if str(path[3]) in names else -1
    first = min(one.scroll[0] for one in findings)
    last = max(one.scroll[1] for one in findings)
    if 0 <= place < len(names) - 1:
        following = switches.header.entry.look(names[place + 1])
        steps = math.ceil(switches.steps[place + 1].start - first)
        if following.from_ and steps > 0:
            yield moved((*path[:3], names[place + 1], "from"), following.from_, -1, steps)
    own = switches.header.entry.look(str(path[3]))
    if place > 0 and own.from_:
        steps = math.ceil(last - switches.steps[place].start) + 1
        if steps > 0:
            yield moved((*path[:4], "from"), own.from_, 1, steps)


def _text_colors(header: Header, path: tuple[Key, ...]) -> Iterator[Knob]:
    """The colour of a text in a look: its own, or the look's."""
    look, name = header.look(str(path[3])), str(path[5])
    part = header.parts[name]
    if part.text is None:
        return
    own = look.part(name).color or part.color
    if own:
        yield from colors("colour of the text", (*path[:6], "color"), own)
    else:
        yield from colors("colour of the texts", (*path[:4], "color"), look.color or header.color)


@_fixes("part-left-behind")
def _part_left_behind(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    header, path = view.box.header, findings[0].path
    if header:
        yield from _known_colors(view, header.entry, path)
        yield from _pictures(view, header.entry, path)
        yield from _text_colors(header.entry, path)


@_fixes("no-picture-below")
def _no_picture_below(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    """Another colour for the texts of the first look, from the plan's own."""
    header = view.box.header
    if header is None or not header.entry.looks:
        return
    del findings
    look = header.looks[0]
    current = header.styles[0].color
    names = view.plan.documents[view.viewport].colors
    yield from plan_colors(
        "colour of the texts", ("headers", header.name, "looks", look, "color"), names, current
    )


@_fixes("barely-scrolls")
def _barely_scrolls(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    """Room: a higher last section, where the section is on the screen for too little scroll."""
    found = findings[0]
    section = view.box.section(str(found.path[3]))
    if section is None or "scroll only" not in found.message:
        return
    most = missing_room(view.box, section, found.limit)
    last = view.box.sections[-1]
    if not most:
        return
    yield lengthened("height of the last section", (*found.path[:3], last.name, "height"),
                     last.entry.height, most)  # fmt: skip


@_fixes("seam")
def _seam(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    path = findings[0].path
    section = view.box.section(str(path[3]))
    if section:
        yield from one_of("height", path, [on_grid(section.entry.height)])


@_fixes("off-centre")
def _off_centre(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    path = findings[0].path
    section, layer = view.box.section(str(path[3])), _layer(view, path)
    if section and layer:
        off = displacement(view.box, section, layer)
        yield from one_of("position", (*path, "position"), [centred_position(layer, off)])


@_fixes("never-seen")
def _never_seen(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    look = _look(view, findings[0])
    if look.from_:
        yield moved(findings[0].path, look.from_, 1, max(view.max_scroll, 1))


@_fixes("slit")
def _slit(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    del view
    yield from one_of("top", findings[0].path, ["0px"])


@_fixes("unreadable-content")
def _unreadable_content(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    path = findings[0].path
    section = view.box.section(str(path[3]))
    if section is None:
        return
    content = section.content[int(path[5])].entry
    names = view.plan.documents[view.viewport].colors
    yield from plan_colors("colour of the text", (*path, "color"), names, content.color)
    layers = [
        (layer.entry, (*path[:4], "layers", index)) for index, layer in enumerate(section.layers)
    ]
    for layer, where in layers:
        if isinstance(layer.fill, Color):
            yield opacity("opacity of a tint", (*where, "fill"), layer.fill, content.color)
        elif layer.fill is not None:
            yield veil("opacity of a tint", (*where, "fill"), layer.fill)
    yield from colors("colour of the text", (*path, "color"), content.color)
    for layer, where in layers:
        if layer.fill is None and not layer.filter and luminance_of(content.color) > EVEN:
            yield Knob("brightness of the picture", (*where, "filter"), 99, _dimmed)
    if content.panel:
        where = (*path, "panel", "color")
        yield opacity("opacity of its panel", where, content.panel.color, content.color)
    else:
        yield panel((*path, "panel"), content.color)


def _dimmed(step: int) -> str:
    return f"brightness({number(1 - step / 100)})"


@_fixes("late-switch", "early-switch", "never-reached")
def _mistimed(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    look = _look(view, findings[0])
    if look.from_:
        way = 1 if findings[0].rule == "early-switch" else -1
        steps = max(math.ceil(abs(one.measured - one.limit)) for one in findings)
        yield moved(findings[0].path, look.from_, way, steps)


@_fixes("flicker")
def _flicker(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    look, path = _look(view, findings[0]), findings[0].path
    held = look.back or look.from_
    if held:
        steps = max(math.ceil(one.measured) for one in findings)
        yield Knob("position of 'back'", (*path, "back"), steps, lambda step: shifted(held, -step))
    yield from _held_space(view, findings)


@_fixes("jump")
def _held_space(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    del view
    yield Knob("held space", (*findings[0].path[:2], "hold-space"), 1, lambda _: "true")


@_fixes("slow-change")
def _slow_change(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    header, path = view.box.header, findings[0].path
    change = header.entry.change_to(str(path[3])) if header else None
    if not isinstance(change, Fade):
        return
    own = _look(view, findings[0]).change is not None
    path = path if own else (*path[:2], "change")
    written, longest = str(view.plan.root.find(path).plain()), change.duration_ms

    def text(step: int) -> str:
        time = f"{number(max(longest - step * FADE_STEP_MS, 0))}ms"
        return _TIME.sub(time, written, count=1)

    yield Knob("time of the fade", path, math.ceil(longest / FADE_STEP_MS), text)


@_fixes("soft-picture")
def _soft_picture(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    layer = _layer(view, findings[0].path)
    if layer is None or not layer.moves or layer.entry.attachment:
        return
    speed = layer.entry.rate
    way = 1 if speed < 1 else -1

    def text(step: int) -> str:
        return number(round(speed + way * step / 100, 2))

    path = (*findings[0].path, "speed")
    yield Knob("speed", path, math.ceil(abs(1 - speed) * 100), text)


@_fixes("gap")
def _gap(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    layer = _layer(view, findings[0].path)
    if layer is None:
        return
    height = math.floor(layer.size[1])
    steps = math.ceil(layer.motion.height) - height + 1
    path, size = (*findings[0].path, "size"), layer.entry.size
    width = size.width.css() if size.width and size.height else "auto"
    yield Knob("size of the picture", path, steps, lambda step: f"{width} {height + step}px")


@_fixes("behind-something")
def _behind_something(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    header = view.box.header
    if header:
        z = header.entry.z
        path = findings[0].path
        yield Knob("z of the header", path, _HIGHEST_Z - z, lambda step: str(z + step))


def _look(view: View, finding: Finding) -> Look:
    header = view.box.header
    assert header is not None  # noqa: S101 - the finding is about one of its looks
    return header.entry.look(str(finding.path[3]))


def _layer(view: View, path: tuple[Key, ...]) -> LayerBox | None:
    """The layer that a path leads to."""
    if "layers" not in path:
        return None
    section = view.box.ground if path[2] == "background" else view.box.section(str(path[3]))
    layers = section.layers if section else ()
    index = cast("int", path[-1])
    return layers[index] if index < len(layers) else None
