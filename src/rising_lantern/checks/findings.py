"""Findings: what rules have measured to be wrong."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass
from typing import TYPE_CHECKING, Literal, overload

from rising_lantern.base.notebook import html_table
from rising_lantern.checks.readers import Reader
from rising_lantern.checks.remedies import Remedy
from rising_lantern.checks.subjects import Subject
from rising_lantern.errors import Place
from rising_lantern.plan.edits.edits import path_words
from rising_lantern.plan.text.nodes import Key

if TYPE_CHECKING:
    import pandas as pd

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
        remedy: What fixes it, in words and as values to set; ``str(finding.remedy)`` says it.
        path: The keys that lead to it in the plan.
        place: Its place in the plan's file.
        silenced: The reason for which the plan silences it; None if it does not.
        alike: Other pages that are the same but for their names and paths, where it holds as well.
        paths: The paths that its page stands for, where it names several.
        cause: What findings of this rule at other places share with it, such as a picture, so that
            they are one and the same; empty where it stands for itself.
        worst: The scroll position at which it is worst, in px; for most, where it starts.
        reader: The reader for whom it is found; None where it is on the plan's own screen.
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
    remedy: Remedy
    path: tuple[Key, ...]
    place: Place
    silenced: str | None = None
    alike: tuple[str, ...] = ()
    worst: float = 0.0
    paths: tuple[str, ...] = ()
    cause: str = ""
    reader: Reader | None = None

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
    def screen_words(self) -> str:
        """The viewport, and what is different for the reader for whom it is found."""
        return f"{self.viewport} {self.reader.words}" if self.reader else self.viewport

    @property
    def about(self) -> tuple[str, ...]:
        """Rule, page, viewport and subject: what it is about, whatever its figures and reader."""
        return self.rule, self.page, self.viewport, str(self.subject)

    @property
    def key(self) -> str:
        """The path as ``--set`` takes it, such as ``headers.main.looks.solid.from``."""
        return path_words(self.path)

    @property
    def excess(self) -> float:
        """How far the figure is from its limit, by which findings of one rule are compared."""
        return abs(self.measured - self.limit)

    def __repr__(self) -> str:
        what = self.rule, self.page, self.screen_words, str(self.subject)
        return f"Finding({', '.join(map(repr, what))})"

    def _repr_html_(self) -> str:
        low, high = self.scroll
        rows = [
            ("where", f"{self.page_words} on {self.screen_words}, {self.subject}"),
            ("scroll", f"{low:g} to {high:g} px"),
            ("measured", f"{self.measured:.4g}, limit {self.limit:.4g}"),
            ("message", self.message),
            ("remedy", self.remedy.words),
            ("place", self.place),
        ]
        return html_table(f"{self.level}: {self.rule}", rows)


class Findings(Sequence[Finding]):
    """What a check has found, in the order in which it was found; it does not change.

    Args:
        findings: The findings.
    """

    __slots__ = ("_items",)

    def __init__(self, findings: Iterable[Finding] = ()) -> None:
        self._items = tuple(findings)

    @overload
    def __getitem__(self, index: int) -> Finding: ...

    @overload
    def __getitem__(self, index: slice) -> Findings: ...

    def __getitem__(self, index: int | slice) -> Finding | Findings:
        return Findings(self._items[index]) if isinstance(index, slice) else self._items[index]

    def __len__(self) -> int:
        return len(self._items)

    def __iter__(self) -> Iterator[Finding]:
        return iter(self._items)

    def __eq__(self, other: object) -> bool:
        """Whether another sequence has equal findings in the same order."""
        if not isinstance(other, Sequence) or isinstance(other, str):
            return NotImplemented
        return self._items == tuple(other)

    def __hash__(self) -> int:
        return hash(self._items)

    def worst(self) -> Finding | None:
        """Return the most serious finding; of several, the one furthest from its limit.

        Findings that the plan silences do not count. None where there is no other.
        """
        counted = [item for item in self._items if item.silenced is None]
        return max(counted, key=lambda item: (-LEVELS.index(item.level), item.excess), default=None)

    def to_frame(self) -> pd.DataFrame:
        """Return a table with a row for each finding: what it is about, its figures, its words."""
        import pandas as pd  # noqa: PLC0415 - heavy, and needed here only

        rows = [
            {
                "level": item.level,
                "rule": item.rule,
                "page": item.page,
                "viewport": item.viewport,
                "reader": item.reader.words if item.reader else "",
                "subject": str(item.subject),
                "from_px": item.scroll[0],
                "to_px": item.scroll[1],
                "worst_px": item.worst,
                "measured": item.measured,
                "limit": item.limit,
                "message": item.message,
                "remedy": item.remedy.words,
                "settings": "; ".join(setting.words for setting in item.remedy.settings),
                "key": item.key,
                "place": str(item.place),
                "silenced": item.silenced or "",
            }
            for item in self._items
        ]
        return pd.DataFrame(rows, columns=_COLUMNS)

    def __repr__(self) -> str:
        return f"<Findings: {self._summary()}>"

    def _summary(self) -> str:
        """How many there are of each level."""
        counts = Counter(item.level for item in self._items if item.silenced is None)
        found = [(counts[level], level) for level in LEVELS if counts[level]]
        words = [f"{count} {level}{'s' * (count > 1)}" for count, level in found]
        silenced = sum(item.silenced is not None for item in self._items)
        words += [f"{silenced} silenced"] * bool(silenced)
        return ", ".join(words) or "nothing found"

    def _repr_html_(self) -> str:
        rows = [
            (item.level, f"{item.rule}: {item.page_words} on {item.screen_words}, {item.message}")
            for item in self._items
        ]
        return html_table(f"Findings: {self._summary()}", rows)


_COLUMNS = (
    "level", "rule", "page", "viewport", "reader", "subject", "from_px", "to_px", "worst_px",
    "measured", "limit", "message", "remedy", "settings", "key", "place", "silenced",
)  # fmt: skip
