"""What moves, made to stand still: on paper, and for readers who ask for less motion.

Source: https://www.w3.org/TR/mediaqueries-5/#prefers-reduced-motion
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field

from rising_lantern.exports.rules import PRINT, CssRule, Declarations, Statement

STANDING = f"{PRINT}, (prefers-reduced-motion: reduce)"


@dataclass
class Stillness:
    """What of a page stands still, gathered so that each way of it is said once.

    Attributes:
        for_readers: Whether it stands for readers who ask for less motion, and not on paper alone.
    """

    for_readers: bool
    _found: dict[tuple[str, tuple[tuple[str, str], ...]], list[str]] = field(default_factory=dict)

    def add(self, selector: str, declared: Declarations, *, on_paper_only: bool = False) -> None:
        """Take something up that stands still.

        Args:
            selector: What.
            declared: What makes it stand.
            on_paper_only: Whether it does not move on a screen.
        """
        within = PRINT if on_paper_only or not self.for_readers else STANDING
        self._found.setdefault((within, tuple(declared.items())), []).append(selector)

    def statements(self) -> Iterator[Statement]:
        """Yield a rule for each way of standing still."""
        for (within, declared), selectors in self._found.items():
            yield CssRule(", ".join(selectors), dict(declared), (within,))
