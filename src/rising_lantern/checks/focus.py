"""What must stay in a picture: whether it is seen, and the position that keeps it."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject
from rising_lantern.css.numbers import number
from rising_lantern.layout.sections import SectionBox
from rising_lantern.scroll.layers import LayerTrack

_WHOLE = 0.995  # a share of a focus that is as good as all of it
_SPARE = 1e-6


@check_rule("focus-lost", "warning")
def focus_lost(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """The part of a picture that must be seen is never wholly on the screen.

    It is cut off by the edges of its section or of the screen, wherever the page is scrolled.
    Measured: the greatest share of it that is seen, 0 to 1, over every px of scroll.
    """
    for swept, track in context.layers():
        if track.box.focus is None or not len(swept):
            continue
        most = float(track.focus.max())
        if most >= _WHOLE:
            continue
        best = float(swept.scroll[int(np.argmax(track.focus))])
        seen = np.flatnonzero(track.focus > 0)
        ends = swept.scroll[seen[[0, -1]]] if seen.size else (0.0, float(context.max_scroll))
        section = next(s for s in context.box.all_sections if s.name == track.section)
        kept = kept_position(section, track, context.box.screen.client_width)
        path = context.box.path_to(track.section, "layers", track.index)
        words = f"what must be seen in {track.box.name}"
        yield rule.finding(
            context,
            Subject(track.section, track.index),
            at=("focus",),
            scroll=(float(ends[0]), float(ends[1])),
            worst=best,
            measured=most,
            limit=1.0,
            message=f"at most {most:.0%} of {words} is seen, at {best:.0f} px"
            if most
            else f"{words} is never seen",
            remedy=context.remedy(f"set its position to {kept}", (*path, "position"), kept)
            if kept
            else "make its section larger, or use a picture that is cut otherwise",
        )


def kept_position(section: SectionBox, track: LayerTrack, width: int) -> str:
    """The position nearest to the present one at which all of a focus is seen; empty for none.

    In its area of extent A a picture of extent S stands at ``p (A - S)``: what must be seen, from
    a to b of it, is within a window from low to high where
    ``low - a S <= p (A - S) <= high - b S``.

    Args:
        section: The layer's section.
        track: The layer along the scroll.
        width: The width of the screen without its scrollbar.
    """
    layer = track.box
    focus, motion = layer.focus, layer.motion
    if focus is None or layer.across.step or layer.down.step:
        return ""
    # Where the section stands in the middle of the screen.
    top = -section.settled
    left, upper = (float(edge) for edge in motion.origin(top, 0.0))
    edge = section.box.left + layer.clip.left
    across = (max(edge, 0.0), min(edge + layer.clip.width, float(width)))
    down = (top + layer.clip.top, top + layer.clip.bottom)
    x = (
        layer.position.x.css()
        if track.focus_across.max() >= _WHOLE
        else _nearest(
            layer.position.x.css(),
            (layer.across.start, layer.size[0], motion.width),
            (across[0] - left, across[1] - left),
            (focus.left, focus.left + focus.width),
        )
    )
    y = (
        layer.position.y.css()
        if track.focus_down.max() >= _WHOLE
        else _nearest(
            layer.position.y.css(),
            (layer.down.start, layer.size[1], motion.height),
            (down[0] - upper, down[1] - upper),
            (focus.top, focus.top + focus.height),
        )
    )
    return f"{x} {y}" if x and y else ""


def _nearest(
    given: str,
    placed: tuple[float, float, float],
    window: tuple[float, float],
    focus: tuple[float, float],
) -> str:
    """A position along one axis that keeps the focus in a window; empty for none.

    Args:
        given: What the plan has.
        placed: Where the picture starts in its area, its extent, and that of the area.
        window: The edges of what is seen, in the area.
        focus: Where the focus starts and ends, as shares of the picture.
    """
    start, extent, area = placed
    low, high = window[0] - focus[0] * extent, window[1] - focus[1] * extent
    if low - _SPARE <= start <= high + _SPARE:
        return given
    room = area - extent
    if low > high or abs(room) < 1:
        return ""
    # A position beyond 0 to 100 % would leave a gap.
    first, last = sorted((low / room, high / room))
    first, last = max(first * 100, 0.0), min(last * 100, 100.0)
    if first > last:
        return ""
    wanted = min(max(start / room * 100, first), last)
    whole = [share for share in (math.floor(wanted), math.ceil(wanted)) if first <= share <= last]
    return f"{number(whole[0] if whole else round((first + last) / 2, 3))}%"
