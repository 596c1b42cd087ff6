"""The look in which a header stands before a page's script starts, and where it never does."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import Any

from rising_lantern.api.plans import Plan
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.legibility import least_unreadable
from rising_lantern.checks.running import contexts_of
from rising_lantern.exports.notes import FirstLook
from rising_lantern.scroll.switches import Switch

_EVERY_PX = 16  # between two positions at which looks are compared


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
        """The first look in which all can be read; else the one whose worst contrast is highest.

        Most looks that fail do so at many positions, so that few positions tell which of them
        fails least.
        """
        views = [
            context
            for viewport in self.viewports
            for context in contexts_of(self.plan.view(self.page, viewport).scene)
        ]
        least = [_least_contrast(views, look, _EVERY_PX) for look in range(len(self.looks))]
        for look, name in enumerate(self.looks):
            if math.isinf(least[look]):
                least[look] = _least_contrast(views, look, 1)
            if math.isinf(least[look]):
                return FirstLook(self.page, self.header, name, passes=True)
        best = max(range(len(least)), key=least.__getitem__)
        worst = _least_contrast(views, best, 1)
        return FirstLook(self.page, self.header, self.looks[best], passes=False, worst=worst)

    def words(self) -> str:
        """What is being done."""
        return f"Checking {self.page}"

    def __reduce__(self) -> tuple[type[FirstLookWork], tuple[Any, ...]]:
        plan = Plan(self.plan.file.of_page(self.page))
        return FirstLookWork, (plan, self.page, self.header, self.looks, self.viewports)


def _least_contrast(views: Iterable[CheckContext], look: int, every: int) -> float:
    """The lowest contrast that is too low where the header stays in a look; inf for none.

    Args:
        views: The page on each viewport, with each picture of its slides.
        look: The index of the look.
        every: From one position that is measured to the next, in px.
    """
    return min(least_unreadable(_held(context, look), every) for context in views)


def _held(context: CheckContext, look: int) -> CheckContext:
    """A view whose header stays in one look."""
    switches = context.switches
    assert switches is not None  # noqa: S101 - it has the header
    look = min(look, len(switches.header.looks) - 1)
    always = Switch(look, -math.inf, -math.inf, 0.0)
    held = replace(switches, steps=(always,), directed=None)
    return replace(context, scene=replace(context.scene, switches=held))
