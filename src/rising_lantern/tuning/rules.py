"""Which knobs may mend the findings of each rule."""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator, Sequence
from typing import cast

from rising_lantern.checks.findings import Finding
from rising_lantern.css.colors import Color
from rising_lantern.css.numbers import number
from rising_lantern.layout.sections import LayerBox
from rising_lantern.legibility.contrast import ink_of
from rising_lantern.plan.changes import Fade
from rising_lantern.plan.headers import Header, Look
from rising_lantern.plan.nodes import Key
from rising_lantern.tuning.knobs import Knob, colors, moved, opacity, panel, shifted, veil
from rising_lantern.tuning.nearest import EVEN, luminance_of
from rising_lantern.view import View

_FADE_STEP = 10  # ms
_TIME = re.compile(r"[\d.]+m?s\b", re.IGNORECASE)
_HIGHEST_Z = 1_000_000

Maker = Callable[[View, Sequence[Finding]], Iterator[Knob]]
MAKERS: dict[str, Maker] = {}
"""By the name of a rule: from the view of the worst of some findings of it, worst first, that share
a path in the plan, to the knobs to try."""

SIBLINGS: dict[str, tuple[str, ...]] = {
    "late-switch": ("early-switch", "unreadable-part"),
    "early-switch": ("late-switch", "unreadable-part"),
    "never-reached": ("late-switch", "early-switch"),
    "soft-picture": ("gap",),
    "gap": ("soft-picture",),
}
"""Other rules that must not find more than before when one is mended."""


def _mends(*rules: str) -> Callable[[Maker], Maker]:
    def register(maker: Maker) -> Maker:
        MAKERS.update(dict.fromkeys(rules, maker))
        return maker

    return register


@_mends("unreadable-part")
def _unreadable_part(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    header = view.box.header
    path = findings[0].path
    if header is None:
        return
    look, name = str(path[3]), str(path[5])
    style = header.styles[header.looks.index(look)]
    placed = header.place_parts(style)[name]
    ink = ink_of(placed, view.plan.files.pictures)
    ground = (*path[:4], "background")
    for fill in style.fills:
        if isinstance(fill, Color):
            yield opacity("opacity of the header", ground, fill, ink)
        else:
            yield veil("opacity of the header", ground, fill)
    yield from _text_colors(header.entry, path)


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


@_mends("part-left-behind")
def _part_left_behind(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    header = view.box.header
    if header:
        yield from _text_colors(header.entry, findings[0].path)


@_mends("unreadable-content")
def _unreadable_content(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    path = findings[0].path
    section = view.box.section(str(path[3]))
    if section is None:
        return
    content = section.content[int(path[5])].entry
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


@_mends("late-switch", "early-switch", "never-reached")
def _mistimed(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    look = _look(view, findings[0])
    if look.from_:
        way = 1 if findings[0].rule == "early-switch" else -1
        steps = max(math.ceil(abs(one.measured - one.limit)) for one in findings)
        yield moved(findings[0].path, look.from_, way, steps)


@_mends("flicker")
def _flicker(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    look, path = _look(view, findings[0]), findings[0].path
    held = look.back or look.from_
    if held:
        steps = max(math.ceil(one.measured) for one in findings)
        yield Knob("position of 'back'", (*path, "back"), steps, lambda step: shifted(held, -step))
    yield from _held_space(view, findings)


@_mends("jump")
def _held_space(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    del view
    yield Knob("held space", (*findings[0].path[:2], "hold-space"), 1, lambda _: "true")


@_mends("slow-change")
def _slow_change(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    header, path = view.box.header, findings[0].path
    change = header.entry.change_to(str(path[3])) if header else None
    if not isinstance(change, Fade):
        return
    own = _look(view, findings[0]).change is not None
    path = path if own else (*path[:2], "change")
    written, longest = str(view.plan.root.find(path).plain()), change.duration_ms

    def text(step: int) -> str:
        time = f"{number(max(longest - step * _FADE_STEP, 0))}ms"
        return _TIME.sub(time, written, count=1)

    yield Knob("time of the fade", path, math.ceil(longest / _FADE_STEP), text)


@_mends("soft-picture")
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


@_mends("gap")
def _gap(view: View, findings: Sequence[Finding]) -> Iterator[Knob]:
    layer = _layer(view, findings[0].path)
    if layer is None:
        return
    height = math.floor(layer.size[1])
    steps = math.ceil(layer.motion.height) - height + 1
    path, size = (*findings[0].path, "size"), layer.entry.size
    width = size.width.css() if size.width and size.height else "auto"
    yield Knob("size of the picture", path, steps, lambda step: f"{width} {height + step}px")


@_mends("behind-something")
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
