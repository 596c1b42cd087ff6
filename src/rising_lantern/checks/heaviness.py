"""How long a browser takes to put a picture of the screen together, predicted from its areas.

Where nothing blends or moves, a browser keeps what it has painted and shifts it. What moves by
itself has a surface of its own, which is laid over the others in each picture; where anything of a
page blends, all of the screen is put together anew for it.

The figures below were fitted to the traces of Chromium that ``rising-lantern prove --smooth``
reads, of random pages on a machine without a graphics card: the time of the threads that paint
layers and put them together, for each picture on the screen. On 50 other random pages half of the
predictions were off by less than 21 %. Other machines are quicker or slower; what is heavy for one
is so for all.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rising_lantern.base.arrays import Flags, Floats
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_text
from rising_lantern.layout.pages import GROUND
from rising_lantern.layout.screen import Screen
from rising_lantern.scroll.layers import LayerTrack
from rising_lantern.scroll.moments import Sweep

LIMIT_MS = 100 / 3
"""Two pictures of a screen that shows 60 in a second: with more, every other one is left out."""

_MILLION = 1e6
_MOST_NAMED = 3
_BASE_MS = 7.4
_MS = {"moves": 9.8, "runs": 20.3, "stays": 12.9}
"""Per million CSS px that are seen of it."""
_BLENDING_MS = 17.0
"""Per million CSS px of the screen, while anything on it blends."""
_ADVICE = {
    "blends": "leave out 'blend' there, or blend the pictures in a file",
    "moves": "give it a smaller section, or speed 1",
    "runs": "show one of its pictures alone",
    "stays": "let it move with the page, or put it behind all of the page",
}


@dataclass(frozen=True, slots=True)
class Share:
    """What something on a page adds to the time of each picture.

    Attributes:
        subject: What it is.
        kind: Why it does: it ``blends``, ``moves``, ``runs`` or ``stays``.
        ms: The time at each position, in ms.
    """

    subject: Subject
    kind: str
    ms: Floats


@check_rule("heavy", "note")
def heavy(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A browser without a graphics card skips every other picture while the page is scrolled.

    It takes longer to put one together than two of them last at 60 in a second, and scrolling
    stutters. Predicted from what of the screen is covered by layers that move, stay
    or run by themselves, and by what blends; fitted to what 'prove --smooth' measured of random
    pages. Measured: the time for a picture, in ms, where it is longest.
    """
    scroll, shares = context.sweep.scroll, shares_of(context.sweep)
    total = total_ms(context.sweep)
    over = np.flatnonzero(total > LIMIT_MS)
    if not over.size:
        return
    worst = int(np.argmax(total))
    first, *_ = most = sorted(shares, key=lambda share: -share.ms[worst])[:_MOST_NAMED]
    parts = "; ".join(
        f"{share.subject} {share.kind} ({share.ms[worst]:.0f})" for share in most if share.ms[worst]
    )
    yield rule.finding(
        context,
        first.subject,
        scroll=(float(scroll[over[0]]), float(scroll[over[-1]])),
        worst=float(scroll[worst]),
        measured=float(total[worst]),
        limit=LIMIT_MS,
        message=f"a picture of the screen takes {total[worst]:.0f} ms to put together: {parts}",
        remedy=_ADVICE[first.kind],
    )


def shares_of(swept: Sweep) -> list[Share]:
    """Return what adds to the time of each picture along a sweep."""
    return [*_of_layers(swept), *_of_blends(swept)]


def total_ms(swept: Sweep) -> Floats:
    """Return the time that a browser takes for each picture along a sweep, in ms."""
    return np.asarray(
        sum((share.ms for share in shares_of(swept)), np.full(len(swept), _BASE_MS)), dtype=float
    )


def _of_layers(swept: Sweep) -> Iterator[Share]:
    """The layers that a browser cannot keep as it has painted them."""
    for track in swept.layers():
        kind = _kind_of(track)
        if kind:
            seen = _width(swept.page.screen, track) * track.visible * (track.opacity > 0)
            ms = np.asarray(_MS[kind] * seen / _MILLION, dtype=float)
            yield Share(Subject(track.section, track.index), kind, ms)


def _kind_of(track: LayerTrack) -> str:
    layer = track.box
    if layer.run is not None and layer.run.fade_ms > 0:
        return "runs"
    if layer.moves or layer.motion.path is not None:
        return "moves"
    # What stays behind all of the page is painted once.
    return "stays" if layer.is_fixed and not layer.is_uniform and track.section != GROUND else ""


def _width(screen: Screen, track: LayerTrack) -> float:
    """The width of a layer that is seen, in px."""
    if track.section == GROUND:
        return screen.client_width
    return min(track.box.clip.width, screen.client_width)


def _of_blends(swept: Sweep) -> Iterator[Share]:
    """What blends; where several things do, the first of them is what the time is put down to."""
    screen = swept.page.screen
    whole = _BLENDING_MS * screen.client_width * screen.height / _MILLION
    taken = np.zeros(len(swept), dtype=np.bool_)
    for subject, seen in _blending(swept):
        yield Share(subject, "blends", np.asarray(whole * (seen & ~taken), dtype=float))
        taken |= seen


def _blending(swept: Sweep) -> Iterator[tuple[Subject, Flags]]:
    """What blends, and where along the scroll it is on the screen."""
    for track in swept.layers():
        if track.box.blend != "normal":
            yield Subject(track.section, track.index), (track.visible > 0) & (track.opacity > 0)
    for section in swept.page.sections:
        top = swept.top_of(section)
        for index, text in enumerate(section.content):
            if text.blend != "normal":
                upper = top + text.box.top
                seen = (upper < swept.page.screen.height) & (upper + text.box.height > 0)
                yield of_text(section.name, index, text), seen
