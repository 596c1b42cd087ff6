"""The look in which a header stands before a page's script starts, and where it never does."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from typing import Any

from rising_lantern.api import Plan
from rising_lantern.exports.notes import FirstLook
from rising_lantern.scroll.switches import Switch


@dataclass(frozen=True, slots=True)
class FirstLookWork:
    """The choice of a look for one header of one page, which another process can do.

    Attributes:
        plan: The plan; another process is given this page of it only.
        page: The page's name.
        header: The header's name.
        looks: The names of its looks.
        viewports: The viewports on which the page has the header.
    """

    plan: Plan
    page: str
    header: str
    looks: tuple[str, ...]
    viewports: tuple[str, ...]

    def chosen(self) -> FirstLook:
        """The first look in which all can be read; else the one whose worst contrast is highest."""
        worst: dict[str, float] = {}
        for index, name in enumerate(self.looks):
            least = min(self._least_contrast(viewport, index) for viewport in self.viewports)
            if math.isinf(least):
                return FirstLook(self.page, self.header, name, passes=True)
            worst[name] = least
        best = max(worst, key=lambda name: worst[name])
        return FirstLook(self.page, self.header, best, passes=False, worst=worst[best])

    def _least_contrast(self, viewport: str, look: int) -> float:
        """The lowest contrast that is too low where the header stays in a look; inf for none."""
        held = self.plan.view(self.page, viewport)
        if held.switches is None:
            return math.inf
        look = min(look, len(held.switches.header.looks) - 1)
        always = Switch(look, -math.inf, -math.inf, 0.0)
        held.switches = replace(held.switches, steps=(always,))
        found = held.check(only=("unreadable-part",), silenced=True)
        levels = [item.measured for item in found if item.level == "error"]
        return min((float(level) for level in levels if level is not None), default=math.inf)

    def words(self) -> str:
        """What is being done."""
        return f"Checking {self.page}"

    def __reduce__(self) -> tuple[type[FirstLookWork], tuple[Any, ...]]:
        plan = Plan(self.plan.file.of_page(self.page))
        return FirstLookWork, (plan, self.page, self.header, self.looks, self.viewports)
