"""The screen that a page is laid out for."""

from __future__ import annotations

import math
from dataclasses import dataclass

from rising_lantern.css.lengths import Basis, Length
from rising_lantern.plan.models.base import MOST_FONT_PX
from rising_lantern.plan.models.viewports import Viewport

ROOT_FONT_PX = 16.0


@dataclass(frozen=True, slots=True)
class Screen:
    """A viewport with a page in it.

    Attributes:
        width: In CSS px, with the scrollbar: what ``vw`` counts.
        height: In CSS px.
        client_width: Without a classic scrollbar, which is there when the page scrolls.
    """

    width: int
    height: int
    client_width: int

    @classmethod
    def of(cls, viewport: Viewport, *, scrolls: bool) -> Screen:
        """The screen of a viewport, for a page that scrolls or does not."""
        taken = viewport.scrollbar if scrolls else 0
        return cls(viewport.width, viewport.height, max(viewport.width - taken, 1))

    def basis(self, whole: float = 0.0, font_size: float = ROOT_FONT_PX) -> Basis:
        """What relative lengths are relative to."""
        return Basis(self.width, self.height, font_size=font_size, whole=whole)


def font_px(size: Length, screen: Screen) -> float:
    """A font size in CSS px, within what can be set; percentages count the root's."""
    px = size.px(screen.basis(whole=ROOT_FONT_PX))
    return min(max(px, 0.0), MOST_FONT_PX)


def whole_px(value: float) -> int:
    """A length in whole px, rounded half up as browsers snap edges."""
    return math.floor(value + 0.5)
