"""What rules look at: one page at one viewport, with what several rules need of it."""

from __future__ import annotations

import math
from collections.abc import Container, Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from rising_lantern.base.arrays import Flags, Floats
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.remedies import Remedy, Setting
from rising_lantern.checks.subjects import Subject, of_link, of_text
from rising_lantern.css.colors import Color
from rising_lantern.css.contrast import ratio
from rising_lantern.layout.header_styles import PartStyle
from rising_lantern.layout.items import ContentBox, Item
from rising_lantern.layout.pages import GROUND, PageBox, is_pinned
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.sections import SectionBox
from rising_lantern.legibility.backdrops import ScreenBox
from rising_lantern.legibility.contrast import contrast_on, luminance, part_limit, text_limit
from rising_lantern.legibility.measurement import Measurement
from rising_lantern.legibility.parts import measure_parts
from rising_lantern.legibility.texts import measure_button, measure_links, measure_texts
from rising_lantern.paint.frames import Painter
from rising_lantern.paint.headers import Region
from rising_lantern.plan.models.document import Document
from rising_lantern.plan.models.limits import Check
from rising_lantern.plan.models.pages import Section
from rising_lantern.plan.text.nodes import Key
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scenes.scene import Scene
from rising_lantern.scroll.layers import LayerTrack
from rising_lantern.scroll.moments import Sweep, sweep
from rising_lantern.scroll.switches import Switches

Pair = tuple[NDArray[np.uint8], NDArray[np.uint8]]


@dataclass(frozen=True, slots=True)
class LinkOfPart:
    """The links of a part of the header in one of their states, where it is in one look.

    Attributes:
        subject: The part in its look, with the state.
        path: The keys that lead to the state in the plan.
        scroll: The positions, in px.
        contrast: The contrast at each; NaN where it is above the limit.
        limit: The contrast that it needs at each.
    """

    subject: Subject
    path: tuple[Key, ...]
    scroll: Floats
    contrast: Floats
    limit: Floats


@dataclass(frozen=True, slots=True)
class InState:
    """A link or button in one of its states, as it has been measured.

    Attributes:
        subject: What it is, with the state.
        height: The height of its letters, in CSS px.
        scroll: The positions, in px.
        box: Where it is on the screen.
        measurement: Its contrast.
        limit: The contrast that it needs.
    """

    subject: Subject
    height: float
    scroll: Floats
    box: ScreenBox
    measurement: Measurement
    limit: float


@dataclass(frozen=True, slots=True)
class TextAlong:
    """A text along the scroll positions at which its section can be on the screen.

    Attributes:
        section: Its section.
        index: Its place among the texts of the section.
        swept: The positions.
        box: Where it is on the screen.
        measurement: Its contrast, near to its limit.
        limit: The contrast that it needs.
    """

    section: SectionBox
    index: int
    swept: Sweep
    box: ScreenBox
    measurement: Measurement
    limit: float


@dataclass(frozen=True)
class CheckContext:
    """One page at one viewport, as rules look at it.

    Attributes:
        scene: The page.
        limits: What the plan is checked by.
        fresh: The sections that show other pictures than in a view that was checked before; None
            if there is no such view.
        focus: The paths of the texts to look at; None for all.
        remedies: Whether remedies that take a search are wanted.
    """

    scene: Scene
    limits: Check
    fresh: frozenset[str] | None = None
    focus: frozenset[tuple[Key, ...]] | None = None
    remedies: bool = True

    @property
    def plan(self) -> PlanFile:
        """The plan."""
        return self.scene.plan

    @property
    def box(self) -> PageBox:
        """The page as it is laid out."""
        return self.scene.box

    @property
    def switches(self) -> Switches | None:
        """Where its header switches; None without a header."""
        return self.scene.switches

    @property
    def max_scroll(self) -> int:
        """The last scroll position, in px."""
        return self.scene.max_scroll

    @property
    def document(self) -> Document:
        """The plan as it holds on the viewport."""
        return self.plan.documents[self.box.viewport]

    def section_entry(self, name: str) -> Section:
        """The values of a section in the plan, for remedies that change them."""
        return self.document.pages[self.box.page].sections[name]

    def is_pinned(self, section: SectionBox, index: int) -> bool:
        """Whether a fixed layer stands in a box of its own that stays with the screen."""
        if section.name != GROUND:
            return False
        return is_pinned(GROUND, self.document.pages[self.box.page].background.layers[index])

    @cached_property
    def sweep(self) -> Sweep:
        """The view at every px of scroll."""
        return self.at(np.arange(self.max_scroll + 1, dtype=np.float64))

    def near(self, section: SectionBox) -> Sweep:
        """The view at every px of scroll at which something of a section can be on the screen.

        What the page has behind its sections is on the screen everywhere.
        """
        if section.name == GROUND or not len(self.sweep):
            return self.sweep
        least, most = self._rooms
        top = min([0.0, *(layer.clip.top for layer in section.layers)])
        bottom = max([section.height, *(layer.clip.bottom for layer in section.layers)])
        first = math.floor(section.top + top + least - self.box.screen.height)
        last = math.ceil(section.top + bottom + most)
        return self.sweep.at(slice(max(first, 0), max(last + 1, 0)))

    @cached_property
    def _rooms(self) -> tuple[float, float]:
        """The least and the greatest room that the header takes up above the sections, in px."""
        rooms = self.sweep.shift + self.sweep.scroll
        return float(rooms.min()), float(rooms.max())

    def layers(self) -> Iterator[tuple[Sweep, LayerTrack]]:
        """Every layer of the page, where something of its section can be on the screen."""
        for section in self.box.all_sections:
            swept = self.near(section)
            for index in range(len(section.layers)):
                yield swept, swept.layer(section, index)

    def setting(self, path: tuple[Key, ...], value: str | None) -> Setting:
        """Return a value of the plan that counts on this view; None removes the entry.

        Args:
            path: The keys that lead to it, in the plan with everything written out.
            value: The value, written as in a plan.
        """
        return Setting.placed(self.plan.root, self.box.viewport, path, value)

    def remedy(self, words: str, path: tuple[Key, ...], value: str | None) -> Remedy:
        """Return a remedy that is one value of the plan; for the last two see :meth:`setting`."""
        return Remedy(words, (self.setting(path, value),))

    def at(self, scroll: Floats) -> Sweep:
        """The view at some scroll positions."""
        return sweep(self.box, self.switches, scroll)

    def _is_behind_header(self, swept: Sweep, names: Container[str]) -> Flags:
        """At which positions any of some sections is behind the header, or just below it."""
        header, behind = swept.header, np.zeros(len(swept), dtype=np.bool_)
        if header is None:
            return behind
        low, high = header.top - 1, header.top + header.height + 1
        for section in self.box.sections:
            if section.name in names:
                top = swept.top_of(section)
                behind |= (top < high) & (top + section.height > low)
        return behind

    @property
    def shown(self) -> tuple[str, ...]:
        """The names of the pictures and videos that show of layers with several."""
        return tuple(f"{layer.name}" for layer in self.box.layers() if layer.varies)

    @property
    def has_video(self) -> bool:
        """Whether a frame of a video shows."""
        return any(layer.is_video for layer in self.box.layers())

    @property
    def when(self) -> str:
        """When those show: which pictures, and which seconds of videos."""
        layers = [layer for layer in self.box.layers() if layer.varies]
        slides = [f"{layer.name}" for layer in layers if not layer.is_video]
        videos = [
            f"at {layer.picture.second:.1f} s of {layer.name}"
            for layer in layers
            if layer.picture and layer.picture.second is not None
        ]
        words = [f"while {' and '.join(dict.fromkeys(slides))} shows"] if slides else []
        return ", ".join([*words, *dict.fromkeys(videos)])

    def has_slides_at(self, finding: Finding) -> bool:
        """Whether a layer with several pictures is where something is found."""
        sliding = {
            section.name
            for section in self.box.all_sections
            if any(layer.varies for layer in section.layers)
        }
        if not sliding or GROUND in sliding:
            return bool(sliding)
        if finding.path[0] == "pages":
            return finding.subject.section in sliding
        first, last = (round(edge) for edge in finding.scroll)
        return bool(self._is_behind_header(self.sweep, sliding)[max(first, 0) : last + 1].any())

    def limit(self, name: str, style: PartStyle) -> float:
        """The contrast that a part of the header needs, with the values that it has."""
        header = self.box.header
        assert header is not None  # noqa: S101 - it has parts
        return part_limit(header.parts[name], style, self.limits)

    @cached_property
    def turned(self) -> Sweep | None:
        """The positions at which a reader who goes up has a look for that; None where none."""
        switches = self.switches
        if switches is None or switches.directed is None or self.sweep.header is None:
            return None
        swept = sweep(self.box, switches, self.sweep.scroll, "up")
        assert swept.header is not None  # noqa: S101 - as going down
        other = np.flatnonzero(swept.header.look != self.sweep.header.look)
        return swept.at(other) if other.size else None

    def part_limits(self, name: str, swept: Sweep) -> Floats:
        """The contrast that a part of the header needs at each position of a sweep."""
        header = swept.header
        assert header is not None  # noqa: S101 - it has parts
        limits = np.array([self.limit(name, state.styles[name]) for state in header.states])
        return np.asarray(limits[header.state])

    def texts(self) -> Iterator[TextAlong]:
        """Each text where its section can be on the screen, with its contrast near to its limit."""
        for section in self.box.sections:
            if not self._is_fresh(section):
                continue
            swept = self.near(section)
            needed = {
                (section.name, index): text_limit(content.text.size, content.weight, self.limits)
                for index, content in enumerate(section.content)
                if self.focus is None or self.box.path_to(section.name, *content.path) in self.focus
            }
            for (name, index), box, measurement in measure_texts(swept, self._painter, needed):
                yield TextAlong(section, index, swept, box, measurement, needed[name, index])

    def _is_fresh(self, section: SectionBox) -> bool:
        """Whether a section can look otherwise than in a view that was checked before."""
        return self.fresh is None or bool(self.fresh & {section.name, GROUND})

    def pressable(self) -> Iterator[InState]:
        """Each link and button of the page in each state in which it has other colours."""
        for place, section in enumerate(self.box.sections):
            if not self._is_fresh(section):
                continue
            swept = self.near(section)
            for index, content in enumerate(section.content):
                limit = text_limit(content.text.size, content.weight, self.limits)
                key = swept, self._painter, place, index, limit
                for link, state, box, found in measure_links(*key):
                    subject = replace(of_link(section.name, index, content, link), state=state)
                    height = link.text.box.height
                    yield InState(subject, height, swept.scroll, box, found, limit)
                for state, box, found in measure_button(*key):
                    subject = replace(of_text(section.name, index, content), state=state)
                    height = content.text.box.height
                    yield InState(subject, height, swept.scroll, box, found, limit)

    def part_links(self) -> Iterator[LinkOfPart]:
        """The links of each part of the header in each state in which they have other colours."""
        swept = self.sweep
        if swept.header is None:
            return
        for index, look in enumerate(swept.header.box.looks):
            here = swept.at(np.flatnonzero(swept.header.look == index))
            for name, inks in look.links.items():
                if name not in look.parts or not len(here):
                    continue
                for ink in inks:
                    if ink.background is None:
                        contrast = self.contrasts(here, {name: ink.color})[name]
                    else:
                        contrast = np.full(len(here), contrast_on(ink.background, ink.color))
                    subject = Subject(
                        header=swept.header.box.name, look=look.name, part=name, state=ink.state
                    )
                    path = self._path_to_state(subject)
                    limit = self.part_limits(name, here)
                    yield LinkOfPart(subject, path, here.scroll, contrast, limit)

    def _path_to_state(self, subject: Subject) -> tuple[Key, ...]:
        """The keys that lead to a state of a part's links: in its look, or for all looks."""
        header, look, part = subject.header or "", subject.look or "", subject.part or ""
        own = self.document.headers[header].look(look).part(part).states
        if own and subject.state in own.known:
            return (*subject.path(self.box.page), "states", subject.state)
        return ("headers", header, "parts", part, "states", subject.state)

    def contrasts(self, swept: Sweep, inks: Mapping[str, Color] | None = None) -> dict[str, Floats]:
        """The contrast of each part of the header at each position of a sweep.

        It is NaN where it need not be measured: where it is above the part's limit, and where the
        view that was checked before shows the same.

        Args:
            swept: The positions.
            inks: Other colours of some parts, which alone are measured.
        """
        header, fresh = swept.header, self.fresh
        if header is None:
            return {}
        places = np.arange(len(swept))
        if fresh is not None and GROUND not in fresh:
            places = np.flatnonzero(self._is_behind_header(swept, fresh))
        some = swept.at(places)
        names = header.box.parts if inks is None else inks
        needed = {name: self.part_limits(name, some) for name in names}
        result = {name: np.full(len(swept), np.nan) for name in names}
        measured = measure_parts(some, self._painter, self.plan.files.pictures, needed, inks=inks)
        for name, item in measured.items():
            result[name][places] = item.contrast
        return result

    def edge_contrast(self, swept: Sweep, index: int) -> float:
        """The median contrast of a header's last row with the row of the page just below it.

        Args:
            swept: A sweep.
            index: Which of its positions.

        Returns:
            A ratio from 1 to 21; NaN where no such row is on the screen.
        """
        header = swept.header
        if header is None:
            return math.nan
        state = header.states[header.state[index]]
        left = max(whole_px(state.left), 0)
        columns = slice(left, max(whole_px(state.left + state.width), left))
        bottom = whole_px(float(header.top[index] + header.height[index]))
        seen = min(bottom, self.box.screen.height)
        region = (max(seen - 1, 0), seen, columns.start, columns.stop)
        below = luminance(self._painter.page_rows(swept, index, bottom, bottom + 1)[:, columns])
        color = state.opaque_color
        if color is not None and seen > 0:
            own = luminance(np.array([[color.bytes[:3]]], dtype=np.uint8))
        else:
            own = luminance(self._painter.behind_header(swept, index, region))
        if not own.size or not below.size:
            return math.nan
        return float(np.median(ratio(own, below)))

    def behind_header(self, scroll: float, region: Region, *, clear: bool = False) -> Pair:
        """What is behind a header's parts at a scroll position, with the letters of texts or not.

        Args:
            scroll: The position, in px.
            region: The part of the screen: first and last row, first and last column.
            clear: Whether the header's own background is left out.

        Returns:
            RGB with the letters, and without them.
        """
        with_, without = (
            context._painter.behind_header(  # noqa: SLF001 - of its own kind
                context.at(np.array([scroll])), 0, region, bare=clear
            ).copy()
            for context in (self, self._wordless)
        )
        return with_, without

    @cached_property
    def _wordless(self) -> CheckContext:
        """The page without the letters of its texts."""
        sections = tuple(
            replace(section, items=tuple(_wordless(item) for item in section.items))
            for section in self.box.sections
        )
        return replace(self, scene=replace(self.scene, box=replace(self.box, sections=sections)))

    @cached_property
    def left_behind(self) -> dict[tuple[str, str], tuple[float, float, str]]:
        """The parts that keep something of their own into a look in which they cannot be seen.

        Their contrast there, the limit, and what they keep, by look and part.
        """
        found: dict[tuple[str, str], tuple[float, float, str]] = {}
        for step in range(1, len(self.switches.steps) if self.switches else 0):
            found |= self._find_left_behind(step)
        return found

    def _find_left_behind(self, step: int) -> dict[tuple[str, str], tuple[float, float, str]]:
        switches = self.switches
        assert switches is not None  # noqa: S101 - it has steps
        before, switch = switches.steps[step - 1], switches.steps[step]
        start = math.ceil(switch.start + switch.blend)
        if start > self.max_scroll or switch.look == before.look:
            return {}
        look = switches.look_of(step)
        found = {}
        for name, contrast in self.contrasts(self.at(np.array([float(start)]))).items():
            limit = self.limit(name, look.styles[name])
            kept = switches.header.kept(name, before.look, switch.look)
            if kept and contrast[0] < limit:
                found[look.name, name] = float(contrast[0]), limit, kept
        return found

    @property
    def _painter(self) -> Painter:
        return self.scene.painter


def _wordless(item: Item) -> Item:
    """A text without its letters; its panel stays."""
    if not isinstance(item, ContentBox):
        return item
    bare = replace(item.rest, lines=())
    return replace(item, text=replace(item.text, lines=()), rest=bare, links=())
