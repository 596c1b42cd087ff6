"""Which values may be changed to clear the findings of each rule, in the order to try them.

A value that is to be changed is read from the plan, as the author wrote it; its used value on a
screen is read from the view.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from difflib import SequenceMatcher

from rising_lantern.checks.backgrounds import centred_position, displacement, missing_room
from rising_lantern.checks.directions import STEADY_PX
from rising_lantern.checks.edges import on_grid
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.focus import kept_position
from rising_lantern.checks.legibility import stands_above_a_picture
from rising_lantern.checks.switching import FADE_STEP_MS
from rising_lantern.css.colors import Color
from rising_lantern.css.numbers import number
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.sections import LayerBox, SectionBox
from rising_lantern.legibility.contrast import ink_of, is_shape
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.pictures import Picture, find_picture
from rising_lantern.plan.models.base import Auto
from rising_lantern.plan.models.changes import Fade, time_of
from rising_lantern.plan.models.headers import Header, Look, Part
from rising_lantern.plan.models.layers import Layer
from rising_lantern.plan.models.pages import Section
from rising_lantern.plan.text.nodes import Key
from rising_lantern.registry import Registry
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
_MOST_PICTURES = 6
_OTHER_SHAPE = 0.01  # of a picture's proportions
_Path = tuple[Key, ...]

Maker = Callable[["Case"], Iterator[Knob]]
MAKERS = Registry[Maker]("knobs of the rule")
"""By the name of a rule: from some findings of it to the values to try."""

BESIDE: dict[str, tuple[str, ...]] = {
    "late-switch": ("early-switch", "unreadable-part"),
    "early-switch": ("late-switch", "unreadable-part"),
    "never-reached": ("late-switch", "early-switch"),
    "part-left-behind": ("unreadable-part",),
    "soft-picture": ("gap",),
    "gap": ("soft-picture",),
}
"""Other rules that may not find more on the way to the value; all rules prove it at the end."""


@dataclass(frozen=True)
class Case:
    """Findings of one rule that share a path in the plan, and what they are about.

    Attributes:
        view: The view of the worst of them.
        findings: The findings, the worst first.
    """

    view: View
    findings: Sequence[Finding]

    @property
    def worst(self) -> Finding:
        """The worst finding."""
        return self.findings[0]

    @property
    def path(self) -> _Path:
        """The path that the findings share."""
        return self.worst.path

    @property
    def box(self) -> HeaderBox:
        """The header as it is laid out."""
        header = self.view.box.header
        assert header is not None  # noqa: S101 - the finding is about it
        return header

    @property
    def header(self) -> Header:
        """The header in the plan."""
        return self.view.document.headers[self.box.name]

    @property
    def header_path(self) -> _Path:
        """The path to the header."""
        return ("headers", self.box.name)

    @property
    def look(self) -> Look:
        """The look in the plan; one without values where the plan has none."""
        return self.header.look(self.worst.subject.look or "")

    @property
    def look_path(self) -> _Path:
        """The path to the look."""
        return (*self.header_path, "looks", self.worst.subject.look or "")

    @property
    def part_name(self) -> str:
        """The name of the part."""
        return self.worst.subject.part or ""

    @property
    def part(self) -> Part:
        """The part in the plan."""
        return self.header.parts[self.part_name]

    @property
    def part_path(self) -> _Path:
        """The path to what the look changes in the part."""
        return (*self.look_path, "parts", self.part_name)

    @property
    def section(self) -> Section | None:
        """The section in the plan; None for what the page has behind its sections."""
        sections = self.view.document.pages[self.view.page].sections
        return sections.get(self.worst.subject.section or "")

    @property
    def section_box(self) -> SectionBox | None:
        """The section as it is laid out, or what the page has behind its sections."""
        name = self.worst.subject.section
        return next(
            (section for section in self.view.box.all_sections if section.name == name),
            None,
        )

    @property
    def section_path(self) -> _Path:
        """The path to the section."""
        return self.view.box.path_to(self.worst.subject.section or "")

    @property
    def layer_box(self) -> LayerBox | None:
        """The layer as it is laid out."""
        section, index = self.section_box, self.worst.subject.layer
        return section.layers[index] if section and index is not None else None

    @property
    def layer(self) -> Layer | None:
        """The layer in the plan; None for a section's screenshot."""
        index, page = self.worst.subject.layer, self.view.document.pages[self.view.page]
        layers = self.section.layers if self.section else page.background.layers
        return layers[index] if index is not None and index < len(layers) else None


def _fixes(*rules: str) -> Callable[[Maker], Maker]:
    def register(maker: Maker) -> Maker:
        for name in rules:
            MAKERS.add(name, maker)
        return maker

    return register


@_fixes("unreadable-part")
def _unreadable_part(case: Case) -> Iterator[Knob]:
    if stands_above_a_picture(case.view.box, case.box):
        yield from one_of("place above the first section", (*case.header_path, "over"), ["true"])
    yield from _known_colors(case)
    yield from _pictures(case)
    yield from _neighbours(case)
    look = case.box.looks[case.box.look_names.index(case.worst.subject.look or "")]
    ink = ink_of(look.parts[case.part_name], case.view.plan.files.pictures)
    ground = (*case.look_path, "background")
    row = case.box.parts[case.part_name].row
    if row is not None:
        where = (*case.look_path, "rows", row, "background")
        yield opacity("opacity of the row", where, look.rows[row].fill, ink)
    if isinstance(look.fill, Color):
        yield opacity("opacity of the header", ground, look.fill, ink)
    else:
        yield veil("opacity of the header", ground, look.fill)
    yield from _text_colors(case)


def _shared_color(case: Case) -> tuple[_Path, Color]:
    """The colour that a part has in common with others, that of its row or the look's."""
    row = case.box.parts[case.part_name].row
    if row is not None:
        own = case.header.row_in(case.worst.subject.look or "", row).color
        if own:
            return (*case.look_path, "rows", row, "color"), own
    return (*case.look_path, "color"), case.look.color or case.header.color


def _known_colors(case: Case) -> Iterator[Knob]:
    """Colours that the plan has for a text in a look: its own, then the look's."""
    look, part = case.look, case.part
    if part.text is None and not part.tint:
        return
    names = case.view.document.colors
    own = look.part(case.part_name).color or part.color
    shared_path, shared = _shared_color(case)
    where = (*case.part_path, "color") if own else shared_path
    what = "colour of the text" if own else "colour of the texts"
    yield from plan_colors(what, where, names, own or shared)
    if own and own != shared and shared.alpha == 1:
        yield from one_of(what, where, [shared.text or shared.hex()[:7]])


def _pictures(case: Case) -> Iterator[Knob]:
    """Other pictures of the same shape from the same folder, those with the likest name first."""
    name = case.header.image_of(case.part_name, case.worst.subject.look or "")
    if name is None:
        return
    files = case.view.plan.files
    shape = files.pictures[name]
    folder = name.rpartition("/")[0]
    others = [
        other for other in files.beside(name) if other != name and _alike(case.view, other, shape)
    ]
    likest = sorted(others, key=lambda other: -SequenceMatcher(None, name, other).ratio())
    where = (*case.part_path, "image")
    yield from one_of(
        f"picture, from {folder or 'the same folder'}", where, likest[:_MOST_PICTURES]
    )


def _tint(case: Case) -> Iterator[Knob]:
    """The picture as a shape in the look's colour, where all that it has is one colour."""
    names = {case.header.image_of(case.part_name, look) for look in case.header.looks}
    pictures = [case.view.plan.files.pictures[name] for name in names if name]
    if not case.part.tint and pictures and all(is_shape(picture) for picture in pictures):
        where = (*case.header_path, "parts", case.part_name, "tint")
        yield from one_of("tint of the picture", where, ["current"])


def _alike(view: View, name: str, shape: Picture) -> bool:
    """Whether a file is a picture of the same proportions as another one."""
    files = view.plan.files
    try:
        other = files.pictures.get(name) or find_picture(files.folder, name)
    except FileFault:
        return False
    return abs(other.width * shape.height / (other.height * shape.width) - 1) < _OTHER_SHAPE


def _neighbours(case: Case) -> Iterator[Knob]:
    """The look after this one starting earlier, or this one later, where that may be enough."""
    switches = case.view.switches
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


def _text_colors(case: Case) -> Iterator[Knob]:
    """The colour of a text in a look: its own, or the look's."""
    if case.part.text is None and not case.part.tint:
        return
    own = case.look.part(case.part_name).color or case.part.color
    if own:
        yield from colors("colour of the text", (*case.part_path, "color"), own)
    else:
        yield from colors("colour of the texts", *_shared_color(case))


@_fixes("part-left-behind")
def _part_left_behind(case: Case) -> Iterator[Knob]:
    yield from _known_colors(case)
    yield from _tint(case)
    yield from _pictures(case)
    yield from _text_colors(case)


@_fixes("no-picture-below")
def _no_picture_below(case: Case) -> Iterator[Knob]:
    """Another colour for the texts of the first look, from the plan's own."""
    if not case.header.looks:
        return
    first = case.box.looks[0]
    where = (*case.header_path, "looks", first.name, "color")
    yield from plan_colors("colour of the texts", where, case.view.document.colors, first.color)


@_fixes("barely-scrolls")
def _barely_scrolls(case: Case) -> Iterator[Knob]:
    """Room: a higher last section, where the section is on the screen for too little scroll."""
    section, page = case.section_box, case.view.box
    if section is None:
        return
    most = missing_room(page, section, case.worst.limit)
    if not most:
        return
    last = page.sections[-1].name
    height = case.view.document.pages[page.page].sections[last].height
    if isinstance(height, Auto):
        return
    yield lengthened("height of the last section", page.path_to(last, "height"), height, most)


@_fixes("seam")
def _seam(case: Case) -> Iterator[Knob]:
    if case.section and not isinstance(case.section.height, Auto):
        yield from one_of("height", case.path, [on_grid(case.section.height)])


@_fixes("off-centre")
def _off_centre(case: Case) -> Iterator[Knob]:
    section, layer = case.section_box, case.layer_box
    if section and layer:
        off = displacement(case.view.box, section, layer)
        yield from one_of("position", (*case.path, "position"), [centred_position(layer, off)])


@_fixes("focus-lost")
def _focus_lost(case: Case) -> Iterator[Knob]:
    section, subject = case.section_box, case.worst.subject
    for track in case.view.every_px.layers() if section else ():
        if (track.section, track.index) != (subject.section, subject.layer) or section is None:
            continue
        kept = kept_position(section, track, case.view.box.screen.client_width)
        path = (*case.section_path, "layers", track.index, "position")
        yield from one_of("position", path, [kept] if kept else [])


@_fixes("never-seen")
def _never_seen(case: Case) -> Iterator[Knob]:
    look = case.header.look(str(case.path[-2]))  # the one that replaces it
    if look.from_:
        yield moved(case.path, look.from_, 1, max(case.view.max_scroll, 1))


@_fixes("slit")
def _slit(case: Case) -> Iterator[Knob]:
    yield from one_of("top", case.path, ["0px"])


@_fixes("unreadable-content")
def _unreadable_content(case: Case) -> Iterator[Knob]:
    section, box, index = case.section, case.section_box, case.worst.subject.content
    if section is None or box is None or index is None:
        return
    content, path = box.content[index], case.path
    names = case.view.document.colors
    yield from plan_colors("colour of the text", (*path, "color"), names, content.color)
    layers = [
        (layer, (*case.section_path, "layers", position))
        for position, layer in enumerate(section.layers)
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
        yield opacity("opacity of its panel", where, content.panel, content.color)
    else:
        yield panel((*path, "panel"), content.color)


def _dimmed(step: int) -> str:
    return f"brightness({number(1 - step / 100)})"


@_fixes("late-switch", "early-switch", "never-reached")
def _mistimed(case: Case) -> Iterator[Knob]:
    if case.look.from_:
        way = 1 if case.worst.rule == "early-switch" else -1
        steps = max(math.ceil(finding.excess) for finding in case.findings)
        yield moved(case.path, case.look.from_, way, steps)


@_fixes("flicker")
def _flicker(case: Case) -> Iterator[Knob]:
    held = case.look.back or case.look.from_
    if held:
        steps = max(math.ceil(finding.measured) for finding in case.findings)
        path = (*case.path, "back")
        yield Knob("position of 'back'", path, steps, lambda step: shifted(held, -step))
    yield from _held_space(case)


@_fixes("restless", "covers-return")
def _direction(case: Case) -> Iterator[Knob]:
    look = case.box.looks[case.box.look_names.index(case.worst.subject.look or "")]
    unseen = max(finding.measured for finding in case.findings)
    wanted = STEADY_PX if case.worst.rule == "restless" else look.after + unseen
    yield from one_of("distance of 'after'", case.path, [f"{math.ceil(wanted)}px"])


@_fixes("jump")
def _held_space(case: Case) -> Iterator[Knob]:
    yield Knob("held space", (*case.header_path, "hold-space"), 1, lambda _: "true")


@_fixes("slow-change")
def _slow_change(case: Case) -> Iterator[Knob]:
    change = case.header.change_to(case.worst.subject.look or "")
    longest = time_of(change)
    path = case.path if case.look.change else (*case.header_path, "change")
    node = case.view.plan.written(path)
    written = "" if node is None else str(node.plain())

    def text(step: int) -> str:
        time = f"{number(max(longest - step * FADE_STEP_MS, 0))}ms"
        return _TIME.sub(time, written, count=1)

    what = "time of the fade" if isinstance(change, Fade) else "lag of the blend"
    yield Knob(what, path, math.ceil(longest / FADE_STEP_MS), text)


@_fixes("soft-picture")
def _soft_picture(case: Case) -> Iterator[Knob]:
    layer, box = case.layer, case.layer_box
    if layer is None or box is None or not box.moves or layer.attachment:
        return
    speed = layer.rate
    way = 1 if speed < 1 else -1

    def text(step: int) -> str:
        return number(round(speed + way * step / 100, 2))

    yield Knob("speed", (*case.path, "speed"), math.ceil(abs(1 - speed) * 100), text)


@_fixes("gap")
def _gap(case: Case) -> Iterator[Knob]:
    layer, box = case.layer, case.layer_box
    if layer is None or box is None:
        return
    height = math.floor(box.size[1])
    steps = math.ceil(box.motion.height) - height + 1
    path, size = (*case.path, "size"), layer.size
    width = size.width.css() if size.width and size.height else "auto"
    yield Knob("size of the picture", path, steps, lambda step: f"{width} {height + step}px")


@_fixes("behind-something")
def _behind_something(case: Case) -> Iterator[Knob]:
    z = case.box.z
    yield Knob("z of the header", case.path, _HIGHEST_Z - z, lambda step: str(z + step))
