"""The screen that a page is laid out for."""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from rising_lantern.css.lengths import Basis, Length
from rising_lantern.plan.models.base import MOST_FONT_PX
from rising_lantern.plan.models.viewports import LARGEST, Viewport

ROOT_FONT_PX = 16.0
MOST_SCREEN_PX = LARGEST
"""The longest side of a screen, in CSS px."""


@dataclass(frozen=True, slots=True)
class Screen:
    """A viewport with a page in it.

    Attributes:
        width: In CSS px, with the scrollbar: what ``vw`` counts.
        height: In CSS px.
        client_width: Without a classic scrollbar, which is there when the page scrolls.
        text_scale: How many times as large the reader has text than the page asks for.
        bar: The height of browser bars that come and go, in CSS px.
        bar_shown: Whether they are shown; the height is without them then.
        safe_area: What its top, right, bottom and left keep free, in CSS px.
    """

    width: int
    height: int
    client_width: int
    text_scale: float = 1.0
    bar: int = 0
    bar_shown: bool = False
    safe_area: tuple[float, float, float, float] = (0.0, 0.0, 0.0, 0.0)

    @classmethod
    def of(
        cls,
        viewport: Viewport,
        *,
        scrolls: bool,
        text_scale: float = 1.0,
        bars_shown: bool = False,
    ) -> Screen:
        """The screen of a viewport, for a page that scrolls or does not.

        Args:
            viewport: The viewport.
            scrolls: Whether the page scrolls, so that there is a scrollbar.
            text_scale: How many times as large the reader has text than the page asks for.
            bars_shown: Whether browser bars are shown that come and go.
        """
        taken = viewport.scrollbar if scrolls else 0
        plain = Basis(viewport.width, viewport.height)
        bar = whole_px(viewport.bar.px(plain))
        area = viewport.safe_area
        sides = (area.top, area.right, area.bottom, area.left) if area else ()
        return cls(
            width=viewport.width,
            height=max(viewport.height - bar * bars_shown, 1),
            client_width=max(viewport.width - taken, 1),
            text_scale=text_scale,
            bar=bar,
            bar_shown=bars_shown and bar > 0,
            safe_area=tuple(side.px(plain) for side in sides) or (0.0,) * 4,  # type: ignore[arg-type]
        )

    @property
    def large_height(self) -> int:
        """Its height without the bars, in CSS px, which percentages of its height count."""
        return self.height + self.bar * self.bar_shown

    @property
    def root_font_size(self) -> float:
        """The size of the root's text, in CSS px."""
        return ROOT_FONT_PX * self.text_scale

    def basis(self, whole: float = 0.0, font_size: float | None = None) -> Basis:
        """What relative lengths are relative to; a text of no size of its own has the root's."""
        root = self.root_font_size
        size = root if font_size is None else font_size
        bars = self.bar, self.bar_shown, self.safe_area
        return Basis(self.width, self.height, size, root, whole, *bars)


def font_px(size: Length, screen: Screen) -> float:
    """A font size in CSS px, within what can be set; percentages count the root's.

    Where a reader has larger text, every font size is multiplied, whatever its unit.
    """
    plain = replace(screen, text_scale=1.0)
    px = size.px(plain.basis(whole=ROOT_FONT_PX)) * screen.text_scale
    return min(max(px, 0.0), MOST_FONT_PX)


def centered(width: float, whole: float, *, from_right: bool) -> float:
    """The left edge of a block with auto margins, from the left edge of its container, in px.

    The margins of a block that is too wide are zero: it starts where its lines start, and hangs
    over on the other side.

    Args:
        width: Its width in px.
        whole: The width of its container in px.
        from_right: Whether its container runs from right to left.

    Source: https://www.w3.org/TR/CSS22/visudet.html#blockwidth
    """
    room = whole - width
    if room >= 0:
        return room / 2
    return room if from_right else 0.0


def laid_out(value: float) -> float:
    """A height in px as browsers lay it out: cut off at a 64th of a px, 0 or more.

    Chromium and WebKit count in 64ths, Firefox in 60ths, rounded.
    """
    return math.floor(max(value, 0.0) * 64) / 64


def whole_px(value: float) -> int:
    """A length in whole px, rounded half up as browsers snap edges."""
    return math.floor(value + 0.5)
