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

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import numpy as np

from rising_lantern.base.arrays import Flags, Floats
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_text
from rising_lantern.layout.pages import GROUND
from rising_lantern.layout.screen import Screen
from rising_lantern.layout.sections import SectionBox
from rising_lantern.scroll.layers import LayerTrack

LIMIT_MS = 100 / 3
"""Two pictures of a screen that shows 60 in a second: with more, every other one is left out."""

_Blending = tuple[Subject, int, Flags]
"""What blends, the first position at which it can be seen, and whether it is at each px there."""

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
        first: The first position at which it can be on the screen, in px.
        ms: The time at that position and at each px from there on, in ms; elsewhere there is none.
    """

    subject: Subject
    kind: str
    first: int
    ms: Floats

    def at(self, position: int) -> float:
        """Return the time at a position, in ms."""
        place = position - self.first
        return float(self.ms[place]) if 0 <= place < len(self.ms) else 0.0


@check_rule("heavy", "note")
def heavy(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A browser without a graphics card skips every other picture while the page is scrolled.

    It takes longer to put one together than two of them last at 60 in a second, and scrolling
    stutters. Predicted from what of the screen is covered by layers that move, stay or run by
    themselves, and by what blends; fitted to what 'prove --smooth' measured of random pages.
    Measured: the time for a picture, in ms, where it is longest.
    """
    shares = shares_of(context)
    total = total_ms(context, shares)
    over = np.flatnonzero(total > LIMIT_MS)
    if not over.size:
        return
    worst = int(np.argmax(total))
    first, *_ = most = sorted(shares, key=lambda share: -share.at(worst))[:_MOST_NAMED]
    seen = [share for share in most if share.at(worst) >= 1]
    parts = "; ".join(f"{item.subject} {item.kind} ({item.at(worst):.0f})" for item in seen)
    yield rule.finding(
        context,
        first.subject,
        scroll=(float(over[0]), float(over[-1])),
        worst=float(worst),
        measured=float(total[worst]),
        limit=LIMIT_MS,
        message=f"a picture of the screen takes {total[worst]:.0f} ms to put together: {parts}",
        remedy=_ADVICE[first.kind],
    )


def shares_of(context: CheckContext) -> list[Share]:
    """Return what adds to the time of a picture anywhere along the scroll."""
    shares, blending = list[Share](), list[_Blending]()
    for section in context.box.all_sections:
        swept = context.near(section)
        for index, layer in enumerate(section.layers) if len(swept) else ():
            kind, blends = _kind_of(context, section, index), layer.blend != "normal"
            if not (kind or blends):
                continue
            track, subject = swept.layer(section, index), Subject(section.name, index)
            first, shown = int(swept.scroll[0]), track.opacity > 0
            if kind:
                seen = _width(context.box.screen, track) * track.visible * shown
                shares.append(Share(subject, kind, first, np.asarray(_MS[kind] * seen / _MILLION)))
            if blends:
                blending.append((subject, first, (track.visible > 0) & shown))
    return [*shares, *_of_blends(context, [*blending, *_blending_texts(context)])]


def total_ms(context: CheckContext, shares: Iterable[Share]) -> Floats:
    """Return the time that a browser takes for a picture at each px of scroll, in ms.

    Args:
        context: The page at its viewport.
        shares: What adds to it.
    """
    total = np.full(context.max_scroll + 1, _BASE_MS)
    for share in shares:
        total[share.first : share.first + len(share.ms)] += share.ms
    return total


def _kind_of(context: CheckContext, section: SectionBox, index: int) -> str:
    """Why a browser cannot keep a layer as it has painted it; empty where it can."""
    layer = section.layers[index]
    if layer.run is not None and layer.run.fade_ms > 0:
        return "runs"
    if layer.moves or layer.motion.path is not None:
        return "moves"
    stays = layer.is_fixed and not layer.is_uniform and not context.is_pinned(section, index)
    return "stays" if stays else ""


def _width(screen: Screen, track: LayerTrack) -> float:
    """The width of a layer that is seen, in px."""
    if track.section == GROUND:
        return screen.client_width
    return min(track.box.clip.width, screen.client_width)


def _of_blends(context: CheckContext, blending: Iterable[_Blending]) -> Iterator[Share]:
    """What blends; where several things do, the first of them is what the time is put down to."""
    screen = context.box.screen
    whole = _BLENDING_MS * screen.client_width * screen.height / _MILLION
    taken = np.zeros(context.max_scroll + 1, dtype=np.bool_)
    for subject, first, seen in blending:
        here = taken[first : first + len(seen)]
        yield Share(subject, "blends", first, np.where(seen & ~here, whole, 0.0))
        here |= seen


def _blending_texts(context: CheckContext) -> Iterator[_Blending]:
    """The texts that blend."""
    for section in context.box.sections:
        for index, text in enumerate(section.content):
            if text.blend == "normal":
                continue
            swept = context.near(section)
            if len(swept):
                upper = swept.top_of(section) + text.box.top
                seen = (upper < context.box.screen.height) & (upper + text.box.height > 0)
                yield of_text(section.name, index, text), int(swept.scroll[0]), seen
