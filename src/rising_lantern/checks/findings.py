"""Findings, and the rules that make them."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Literal

import numpy as np
from numpy.typing import NDArray

from rising_lantern.errors import Place
from rising_lantern.layout.headers import LookStyle
from rising_lantern.layout.pages import GROUND, PageBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.legibility.contrast import luminance, part_limit, ratio
from rising_lantern.plan.models.limits import Check
from rising_lantern.plan.text.messages import place_of
from rising_lantern.plan.text.nodes import Key
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scroll.moments import Sweep, sweep
from rising_lantern.scroll.switches import Switches

if TYPE_CHECKING:
    from rising_lantern.legibility.backdrops import Screened
    from rising_lantern.legibility.readings import Reading, Stride
    from rising_lantern.paint.frames import Painter

Floats = NDArray[np.float64]

_SECTION_PATH = 3  # keys ahead of the name of a section in a path

Level = Literal["error", "warning", "note"]
LEVELS: tuple[Level, ...] = ("error", "warning", "note")


@dataclass(frozen=True, slots=True)
class Finding:
    """One thing that a rule has measured to be wrong.

    Attributes:
        rule: The rule's name.
        level: How much it matters.
        page: The page.
        viewport: The viewport.
        subject: What it is about: a section and layer, a header and look.
        scroll: From where to where along the scroll it holds, in px.
        measured: The figure.
        limit: The figure that it should keep to.
        message: What is wrong.
        remedy: What fixes it.
        path: The keys that lead to it in the plan.
        place: Its place in the plan's file.
        silenced: The reason for which the plan lets it pass; None where it does not.
    """

    rule: str
    level: Level
    page: str
    viewport: str
    subject: str
    scroll: tuple[float, float]
    measured: float
    limit: float
    message: str
    remedy: str
    path: tuple[Key, ...]
    place: Place
    silenced: str | None = None

    @property
    def key(self) -> str:
        """The path as ``--set`` takes it, such as ``headers.main.looks.solid.from``."""
        return ".".join(str(key) for key in self.path)


@dataclass(frozen=True)
class Checked:
    """What a rule looks at: one page at one viewport.

    Attributes:
        plan: The plan.
        box: The page as it is laid out.
        switches: Where its header switches, or None without a header.
        max_scroll: How far it scrolls, in px.
        by: What the plan is checked by.
        fresh: The sections that show other pictures than in a view that was looked at before;
            None where there is no such view.
        focus: The paths of the texts that are looked at; None for all.
    """

    plan: PlanFile
    box: PageBox
    switches: Switches | None
    max_scroll: int
    by: Check
    fresh: frozenset[str] | None = None
    focus: frozenset[tuple[Key, ...]] | None = None

    def scroll(self) -> Floats:
        """Every px of scroll at which there may be something new to read, as an array."""
        scroll = np.arange(self.max_scroll + 1, dtype=np.float64)
        if self.fresh is None or GROUND in self.fresh:
            return scroll
        swept = sweep(self.box, self.switches, scroll)
        seen = np.zeros(len(scroll), dtype=np.bool_)
        for section in self.box.sections:
            if section.name in self.fresh:
                top = swept.top_of(section)
                seen |= (top < self.box.screen.height) & (top + section.height > 0)
        return scroll[seen]

    @property
    def slides(self) -> str:
        """The pictures that show of layers with several."""
        names = [layer.name for layer in self.box.layers() if len(layer.entry.pictures) > 1]
        return " and ".join(dict.fromkeys(name for name in names if name))

    def has_slides_at(self, finding: Finding) -> bool:
        """Whether a layer with several pictures is where something is found."""
        sliding = {
            section.name
            for section in (*self.box.sections, *((self.box.ground,) if self.box.ground else ()))
            if any(len(layer.entry.pictures) > 1 for layer in section.layers)
        }
        if not sliding or GROUND in sliding:
            return bool(sliding)
        if finding.path[0] == "pages":
            return len(finding.path) > _SECTION_PATH and finding.path[_SECTION_PATH] in sliding
        scroll = np.arange(finding.scroll[0], finding.scroll[1] + 1)
        swept = sweep(self.box, self.switches, np.clip(scroll, 0, self.max_scroll))
        height = self.box.screen.height
        tops = {
            section: swept.top_of(section)
            for section in self.box.sections
            if section.name in sliding
        }
        return any(
            bool(((top < height) & (top + section.height > 0)).any())
            for section, top in tops.items()
        )

    def limit(self, name: str, style: LookStyle) -> float:
        """The contrast that a part of the header needs in what it wears."""
        header = self.box.header
        assert header is not None  # noqa: S101 - it has parts
        return part_limit(style.parts[name], header.entry.parts[name], self.by)

    def in_section(self, name: str, *keys: Key) -> tuple[Key, ...]:
        """The path to something in a section, or in what the page has behind all of them."""
        return self.box.path_to(name, *keys)

    def in_header(self, *keys: Key) -> tuple[Key, ...]:
        """The path to something in the header."""
        return ("headers", self.box.header.name if self.box.header else "", *keys)

    def texts(
        self, swept: Sweep, stride: Stride | None = None
    ) -> Iterator[tuple[tuple[str, int], Screened, Reading]]:
        """Where each text is along a sweep, and how well it can be read; see :meth:`contrasts`."""
        from rising_lantern.legibility.readings import WHOLE  # noqa: PLC0415
        from rising_lantern.legibility.texts import text_readings  # noqa: PLC0415 - it paints

        wanted = {
            (section.name, place)
            for section in self.box.sections
            for place in range(len(section.content))
            if self.focus is None or self.in_section(section.name, "content", place) in self.focus
        }
        return text_readings(swept, self._painter, wanted, stride or WHOLE)

    def contrasts(self, swept: Sweep, stride: Stride | None = None) -> dict[str, Floats]:
        """The contrast of each part of the header at each position of a sweep.

        Args:
            swept: The positions.
            stride: Which of those that have to be painted are; the others get no number.
        """
        from rising_lantern.legibility.readings import WHOLE, readings_of  # noqa: PLC0415 - it paints

        made = readings_of(swept, self._painter, self.plan.files.pictures, stride or WHOLE)
        return {name: reading.contrast for name, reading in made.items()}

    def edge_contrast(self, swept: Sweep, place: int) -> float:
        """The median contrast of a header's last row with the row of the page just below it.

        Args:
            swept: A sweep.
            place: Which of its positions.

        Returns:
            A ratio from 1 to 21; not a number where no such row is on the screen.
        """
        header = swept.header
        if header is None:
            return float("nan")
        style = header.styles[header.style[place]]
        left = max(whole_px(style.left), 0)
        columns = slice(left, max(whole_px(style.left + style.width), left))
        bottom = whole_px(float(header.top[place] + header.height[place]))
        own = self._painter.behind_header(swept, place)[-1:, columns]
        below = self._painter.page_rows(swept, place, bottom, bottom + 1)[:, columns]
        if not own.size or not below.size:
            return float("nan")
        return float(np.median(ratio(luminance(own), luminance(below))))

    @cached_property
    def left_behind(self) -> dict[tuple[str, str], tuple[float, float, str]]:
        """The parts that keep something of their own into a look in which they cannot be seen.

        Their contrast there, the limit, and what they keep, by look and part.
        """
        found: dict[tuple[str, str], tuple[float, float, str]] = {}
        for place in range(1, len(self.switches.steps) if self.switches else 0):
            found |= self._left_behind_at(place)
        return found

    def _left_behind_at(self, place: int) -> dict[tuple[str, str], tuple[float, float, str]]:
        switches = self.switches
        assert switches is not None  # noqa: S101 - it has steps
        header = switches.header
        before, step = switches.steps[place - 1], switches.steps[place]
        start = math.ceil(step.start + step.blend)
        if start > self.max_scroll or step.look == before.look:
            return {}
        look = header.looks[step.look]
        swept = sweep(self.box, switches, np.array([float(start)]))
        found = {}
        for name, contrast in self.contrasts(swept).items():
            limit = self.limit(name, header.styles[step.look])
            kept = header.entry.kept(name, header.looks[before.look], look)
            if kept and contrast[0] < limit:
                found[look, name] = float(contrast[0]), limit, kept
        return found

    @cached_property
    def _painter(self) -> Painter:
        from rising_lantern.paint.frames import Painter  # noqa: PLC0415 - few rules paint

        return Painter(self.box, self.plan.files.pictures)

    def finding(  # noqa: PLR0913 - a finding's own fields
        self,
        rule: Rule,
        subject: str,
        *,
        at: tuple[Key, ...] = (),
        scroll: tuple[float, float] | None = None,
        measured: float,
        limit: float,
        message: str,
        remedy: str,
        level: Level | None = None,
    ) -> Finding:
        """A finding of a rule on this page and viewport.

        By default it is about the page, holds along all of the scroll, and matters as much as
        the rule says.
        """
        path = at or ("pages", self.box.page)
        return Finding(
            rule.name,
            level or rule.level,
            self.box.page,
            self.box.viewport,
            subject,
            scroll or (0.0, float(self.max_scroll)),
            measured,
            limit,
            message,
            remedy,
            path,
            place_of(self.plan.root, path, self.plan.name),
        )


@dataclass(frozen=True, slots=True)
class Rule:
    """A rule of ``check``.

    Attributes:
        name: Its name.
        level: How much its findings matter.
        explanation: What it measures, and why that matters.
        find: The function that finds.
    """

    name: str
    level: Level
    explanation: str
    find: Callable[[Checked, Rule], Iterator[Finding]]


Finder = Callable[[Checked, Rule], Iterator[Finding]]
RULES: dict[str, Rule] = {}
"""All rules by their names, in the order in which they were registered."""


def rule(name: str, level: Level) -> Callable[[Finder], Finder]:
    """Register a function as a rule. Its docstring is the explanation that people read.

    Raises:
        ValueError: Where the name is taken.
    """

    def register(find: Finder) -> Finder:
        if name in RULES:
            raise ValueError(f"there is a rule '{name}' already")
        RULES[name] = Rule(name, level, " ".join((find.__doc__ or "").split()), find)
        return find

    return register
