"""Laying sheets onto frames: where each stands along a sweep, and what of it is seen."""

from __future__ import annotations

from dataclasses import dataclass

from rising_lantern.base.arrays import Floats
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.sections import SectionBox
from rising_lantern.paint.headers import Region
from rising_lantern.paint.sheets import Sheet
from rising_lantern.scroll.moments import Sweep


@dataclass(frozen=True, slots=True)
class SheetTrack:
    """A sheet along a sweep; arrays of one item for each position.

    Attributes:
        x: Where on the screen its area begins, in px.
        y: The same down the screen.
        opacity: 0 to 1; None where it is 1.
        size: How many times as large it is drawn; None where it is 1.
    """

    x: Floats
    y: Floats
    opacity: Floats | None = None
    size: Floats | None = None

    def at(self, index: int) -> tuple[float, float, float, float]:
        """All four at one position."""
        return (
            float(self.x[index]),
            float(self.y[index]),
            1.0 if self.opacity is None else float(self.opacity[index]),
            1.0 if self.size is None else float(self.size[index]),
        )


def track_of(sheet: Sheet, swept: Sweep, tops: Floats) -> SheetTrack:
    """A sheet along a sweep.

    Args:
        sheet: The sheet.
        swept: The sweep.
        tops: The upper edge of its section on the screen at each position.
    """
    motion = sheet.motion
    x, y = motion.origin(tops, swept.scroll)
    if not sheet.overlay:
        return SheetTrack(x, y)
    opacity, size = motion.opacity(swept.scroll), motion.scale(swept.scroll)
    arrival = swept.arrivals.get(sheet.arrives) if sheet.arrives else None
    if arrival:
        return SheetTrack(x + arrival.x, y + arrival.y, opacity * arrival.opacity, size)
    return SheetTrack(x, y, opacity, size)


def lay_sheet(
    frame: Bytes,
    sheet: Sheet,
    section: SectionBox,
    top: float,
    at: tuple[float, float, float, float],
    region: Region,
) -> None:
    """Lay a sheet of a section onto a region of a frame, within its clip.

    Args:
        frame: Opaque RGB, or premultiplied RGBA.
        sheet: The sheet.
        section: The section that it belongs to.
        top: The section's upper edge on the screen, in px.
        at: Where it stands on the screen, how opaque it is, and how large.
        region: What of it may change.
    """
    clip = sheet.clip
    rows = max(whole_px(top + clip.top), region[0]), min(whole_px(top + clip.bottom), region[1])
    left = section.box.left + clip.left
    first = min(max(whole_px(left), region[2]), region[3])
    last = min(max(whole_px(left + clip.width), first), region[3])
    x, y, opacity, size = at
    window = frame[:, first:last]
    if sheet.overlay:
        sheet.overlay.lay(window, (x - first, y), rows, opacity, size)
    for patch in sheet.patches:
        patch.lay(window, (whole_px(x) - first, whole_px(y)), *rows)
