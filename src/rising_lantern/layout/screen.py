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
        text_scale: How many times as large the reader has text than the page asks for.
    """

    width: int
    height: int
    client_width: int
    text_scale: float = 1.0

    @classmethod
    def of(cls, viewport: Viewport, *, scrolls: bool, text_scale: float = 1.0) -> Screen:
        """The screen of a viewport, for a page that scrolls or does not."""
        taken = viewport.scrollbar if scrolls else 0
        client_width = max(viewport.width - taken, 1)
        return cls(viewport.width, viewport.height, client_width, text_scale)

    @property
    def root_font_size(self) -> float:
        """The size of the root's text, in CSS px."""
        return ROOT_FONT_PX * self.text_scale

    def basis(self, whole: float = 0.0, font_size: float | None = None) -> Basis:
        """What relative lengths are relative to; a text of no size of its own has the root's."""
        root = self.root_font_size
        return Basis(self.width, self.height, root if font_size is None else font_size, root, whole)


def font_px(size: Length, screen: Screen) -> float:
    """A font size in CSS px, within what can be set; percentages count the root's.

    Where a reader has larger text, every font size is multiplied, whatever its unit.
    """
    plain = Screen(screen.width, screen.height, screen.client_width)
    px = size.px(plain.basis(whole=ROOT_FONT_PX)) * screen.text_scale
    return min(max(px, 0.0), MOST_FONT_PX)


def whole_px(value: float) -> int:
    """A length in whole px, rounded half up as browsers snap edges."""
    return math.floor(value + 0.5)
