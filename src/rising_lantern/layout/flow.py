"""The flow of a page: how its header and its sections follow each other, and where each stands."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.css.backgrounds import Rect
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.screen import Screen, whole_px
from rising_lantern.plan.models.thresholds import Threshold


@dataclass(frozen=True, slots=True)
class Flow:
    """Where the sections of a page stand. Lengths are CSS px.

    Attributes:
        screen: The screen.
        boxes: The sections' border boxes by their names, from the first one's upper edge.
        header: The header that the page gets, or None.
    """

    screen: Screen
    boxes: dict[str, Rect]
    header: HeaderBox | None

    @property
    def sections_height(self) -> float:
        """The height of all sections together."""
        return max((box.bottom for box in self.boxes.values()), default=0.0)

    def room(self, look: int) -> float:
        """What the header takes up above the first section in one of its looks."""
        if self.header is None:
            return 0.0
        return self.header.room_in(look)

    def ends(self, look: int) -> int:
        """The largest scroll position in one of the header's looks.

        Documents are whole px high, rounded half up, and no lower than the container in which a
        header sticks.
        """
        container = self.header.container if self.header else None
        height = max(self.room(look) + self.sections_height, container or 0.0)
        return max(0, whole_px(height) - self.screen.height)

    def reachable(self, box: Rect) -> tuple[float, float]:
        """How far a section's upper edge can be above the screen's while the section is on it.

        Looks that take up different room move a section: the widest range of all of them.

        Args:
            box: The section, from the first one's upper edge.

        Returns:
            The least and greatest ``r = s - T``, in px.
        """
        looks = range(len(self.header.looks)) if self.header else (0,)
        lows = [-(box.top + self.room(look)) for look in looks]
        highs = [self.ends(look) - box.top - self.room(look) for look in looks]
        low = max(min(lows), -float(self.screen.height))
        return low, max(min(max(highs), box.height), low)

    def position(self, threshold: Threshold, look: int) -> float:
        """A threshold as a scroll position in px, on the page as it is while a look is current.

        ``past`` and ``reach`` are where the section's edge meets the header's lower edge. A
        header that scrolls away has none on the screen: for it, as without a header, the screen's
        upper edge counts. A section that the page does not have is past from the start.

        Args:
            threshold: The threshold.
            look: The index of the look.
        """
        edge = 0.0
        if threshold.section is not None:
            box = self.boxes.get(threshold.section)
            if box is None:
                return 0.0
            inner = box.bottom if threshold.edge == "past" else box.top
            edge = self.room(look) + inner - self._lower_edge(look)
        return threshold.px(edge, self.screen.basis(whole=self.ends(look)))

    def covered(self, box: Rect) -> float:
        """How far down the header lies over a section that is at the top of the screen.

        Args:
            box: The section, from the first one's upper edge.
        """
        if self.header is None:
            return 0.0
        looks = range(len(self.header.looks))
        if box.top <= 0:
            ends = (self.header.inset + self.header.looks[look].height for look in looks)
            return max(max(ends) - self.room(0), 0.0)
        return max(map(self._lower_edge, looks))

    def _lower_edge(self, look: int) -> float:
        """Where a header that stays on the screen ends there."""
        header = self.header
        if header is None:
            return 0.0
        box = header.looks[look]
        return header.inset + box.height if header.is_pinned or box.stays else 0.0
