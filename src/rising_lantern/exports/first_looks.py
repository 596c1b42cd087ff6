"""The look in which a header stands before a page's script starts, and where it never does."""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.legibility import least_unreadable
from rising_lantern.checks.running import contexts_of
from rising_lantern.exports.notes import FirstLook
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.scenes.scene import scene_of
from rising_lantern.scroll.switches import Switch

_EVERY_PX = 16  # between two positions at which looks are compared


@dataclass(frozen=True, slots=True)
class FirstLookTask:
    """The choice of a look for the header of a page.

    Attributes:
        header: The header's name.
        looks: The names of its looks.
        viewports: The viewports on which the page has the header.
    """

    header: str
    looks: tuple[str, ...]
    viewports: tuple[str, ...]

    def run(self, plan: PlanFile, page: str, viewport: str) -> FirstLook:
        """Return the first look in which all can be read; else that with the best worst contrast.

        Most looks that fail do so at many positions, so that few positions tell which of them
        fails least.
        """
        del viewport  # all of them are looked at together
        views = [
            context
            for name in self.viewports
            for context in contexts_of(scene_of(plan, page, name))
        ]
        least = [_least_contrast(views, look, _EVERY_PX) for look in range(len(self.looks))]
        for look, name in enumerate(self.looks):
            if math.isinf(least[look]):
                least[look] = _least_contrast(views, look, 1)
            if math.isinf(least[look]):
                return FirstLook(page, self.header, name, passes=True)
        best = max(range(len(least)), key=least.__getitem__)
        worst = _least_contrast(views, best, 1)
        return FirstLook(page, self.header, self.looks[best], passes=False, worst=worst)

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        del viewport
        return f"Checking {page}"


def _least_contrast(views: Iterable[CheckContext], look: int, every: int) -> float:
    """The lowest contrast that is too low where the header stays in a look; inf for none.

    Args:
        views: The page on each viewport, with each picture of its slides.
        look: The index of the look.
        every: From one position that is measured to the next, in px.
    """
    return min(least_unreadable(_hold(context, look), every) for context in views)


def _hold(context: CheckContext, look: int) -> CheckContext:
    """A view whose header stays in one look."""
    switches = context.switches
    assert switches is not None  # noqa: S101 - it has the header
    look = min(look, len(switches.header.looks) - 1)
    always = Switch(look, -math.inf, -math.inf, 0.0)
    held = replace(switches, steps=(always,), directed=None)
    return replace(context, scene=replace(context.scene, switches=held))
