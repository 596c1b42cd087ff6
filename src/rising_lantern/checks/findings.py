"""Findings: what rules have measured to be wrong."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from rising_lantern.checks.subjects import Subject
from rising_lantern.errors import Place
from rising_lantern.notebook import html_table
from rising_lantern.plan.text.nodes import Key

Level = Literal["error", "warning", "note"]
LEVELS: tuple[Level, ...] = ("error", "warning", "note")
"""How much a finding matters, the most serious first."""


@dataclass(frozen=True, slots=True, repr=False)
class Finding:
    """One thing that a rule has measured to be wrong.

    Attributes:
        rule: The rule's name.
        level: How much it matters.
        page: The page.
        viewport: The viewport.
        subject: What it is about; ``str(finding.subject)`` says it in words.
        scroll: From where to where along the scroll it holds, in px.
        measured: The figure.
        limit: The figure that it should keep to.
        message: What is wrong.
        remedy: What fixes it.
        path: The keys that lead to it in the plan.
        place: Its place in the plan's file.
        silenced: The reason for which the plan silences it; None if it does not.
        alike: Other pages that are the same but for their names and paths, where it holds as well.
        paths: The paths that its page stands for, where it names several.
        cause: What findings of this rule at other places share with it, such as a picture, so that
            they are one and the same; empty where it stands for itself.
        worst: The scroll position at which it is worst, in px; for most, where it starts.
    """

    rule: str
    level: Level
    page: str
    viewport: str
    subject: Subject
    scroll: tuple[float, float]
    measured: float
    limit: float
    message: str
    remedy: str
    path: tuple[Key, ...]
    place: Place
    silenced: str | None = None
    alike: tuple[str, ...] = ()
    worst: float = 0.0
    paths: tuple[str, ...] = ()
    cause: str = ""

    @property
    def pages(self) -> tuple[str, ...]:
        """All pages that it is found on."""
        return self.page, *self.alike

    @property
    def page_words(self) -> str:
        """The pages that it is found on, with the paths where a page has several."""
        own = f" ({', '.join(self.paths)})" if self.paths else ""
        return ", ".join((f"{self.page}{own}", *self.alike))

    @property
    def about(self) -> tuple[str, str, str, str]:
        """What tells it from others, whatever its figures: rule, page, viewport and subject."""
        return self.rule, self.page, self.viewport, str(self.subject)

    @property
    def key(self) -> str:
        """The path as ``--set`` takes it, such as ``headers.main.looks.solid.from``."""
        return ".".join(str(key) for key in self.path)

    @property
    def excess(self) -> float:
        """How far the figure is from its limit, by which findings of one rule are compared."""
        return abs(self.measured - self.limit)

    def __repr__(self) -> str:
        return f"Finding({self.rule!r}, {self.page!r}, {self.viewport!r}, {str(self.subject)!r})"

    def _repr_html_(self) -> str:
        low, high = self.scroll
        rows = [
            ("where", f"{self.page_words} on {self.viewport}, {self.subject}"),
            ("scroll", f"{low:g} to {high:g} px"),
            ("measured", f"{self.measured:.4g}, limit {self.limit:.4g}"),
            ("message", self.message),
            ("remedy", self.remedy),
            ("place", self.place),
        ]
        return html_table(f"{self.level}: {self.rule}", rows)
