"""Findings, and the rules that make them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import cached_property
from typing import TYPE_CHECKING, Literal

import numpy as np
from numpy.typing import NDArray

from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.reading import PlanFile
from rising_lantern.scroll.moments import Sweep
from rising_lantern.scroll.switches import Switches

if TYPE_CHECKING:
    from rising_lantern.paint.frames import Painter

Floats = NDArray[np.float64]

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
        remedy: What mends it.
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


@dataclass(frozen=True)
class Checked:
    """What a rule looks at: one page at one viewport.

    Attributes:
        plan: The plan.
        box: The page as it is laid out.
        switches: Where its header switches, or None without a header.
        max_scroll: How far it scrolls, in px.
    """

    plan: PlanFile
    box: PageBox
    switches: Switches | None
    max_scroll: int

    def contrasts(self, swept: Sweep, every: int = 1) -> dict[str, Floats]:
        """The contrast of each part of the header at each position of a sweep.

        Args:
            swept: The positions.
            every: Of those that have to be painted, one in so many is; the others get no number.
        """
        from rising_lantern.legibility.readings import readings_of  # noqa: PLC0415 - it paints

        made = readings_of(swept, self._painter, self.plan.files.pictures, every)
        return {name: reading.contrast for name, reading in made.items()}

    @cached_property
    def _painter(self) -> Painter:
        from rising_lantern.paint.frames import Painter  # noqa: PLC0415 - few rules paint

        return Painter(self.box, self.plan.files.pictures)

    def finding(  # noqa: PLR0913 - a finding's own fields
        self,
        rule: Rule,
        subject: str,
        *,
        scroll: tuple[float, float] | None = None,
        measured: float,
        limit: float,
        message: str,
        remedy: str,
        level: Level | None = None,
    ) -> Finding:
        """A finding of a rule on this page and viewport.

        By default it holds along all of the scroll, and matters as much as the rule says.
        """
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
