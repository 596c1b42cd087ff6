"""Rules about what passes below a header that stays on the screen."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import replace

import numpy as np

from rising_lantern.base.arrays import Flags, Floats
from rising_lantern.base.solving import least
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.fitting import letters_of
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_text
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.css.contrast import ratio
from rising_lantern.layout.items import ContentBox
from rising_lantern.layout.sections import SectionBox
from rising_lantern.layout.stacking import levels_of
from rising_lantern.legibility.contrast import luminance
from rising_lantern.paint.fills import paint_color
from rising_lantern.scroll.moments import HeaderSweep, Sweep
from rising_lantern.scroll.states import HeaderState

Region = tuple[int, int, int, int]
"""First and last row, first and last column of pixels."""

_SEEN_PX = 0.5
_OPAQUE = 0.8  # of a header's background: what passes below is no longer in the way
_TOLD_APART = 1.2  # contrast along the edge of a header, and of letters that show through it
_MOST = 90  # per cent of the px of letters
_EVERY_PX = 16  # between two positions at which an edge is measured
_MOST_SHARE = 0.1  # of the scroll over which a header may lack an edge


@check_rule("runs-under", "warning")
def runs_under(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """The letters of a text pass behind a see-through header, where readers see them.

    Where the header's background is less than 80 % opaque, they may not come behind its letters.
    Measured: the largest overlap in px of the letters with the box of a part. Letters that show
    through between its parts are noted where their contrast with what is around them is more
    than 1.2. Measured: that contrast, with the header over both.
    """
    states = context.sweep.header.states if context.sweep.header else ()
    if context.max_scroll < 1 or not states:
        return
    clear = np.array([_opacity(state) < _OPAQUE for state in states])
    below = _below_header(context)
    for index, section in enumerate(context.box.sections):
        swept = _passing(context, section)
        header = swept.header
        assert header is not None  # noqa: S101 - it has states
        see_through = clear[header.state]
        for position, content in enumerate(section.content):
            if (section.name, position) not in below:
                continue
            over, part = _deepest(swept, header, index, content, see_through)
            places = np.flatnonzero(over > _SEEN_PX)
            place = index, position
            if not places.size:
                yield from _text_through_header(context, rule, place, swept)
            else:
                yield rule.finding(
                    context,
                    of_text(section.name, position, content),
                    scroll=(float(swept.scroll[places[0]]), float(swept.scroll[places[-1]])),
                    worst=float(swept.scroll[np.argmax(over)]),
                    measured=float(over.max()),
                    limit=0.0,
                    message=f"its letters overlap {part} of the see-through header by up to "
                    f"{over.max():.0f} px",
                    remedy=f"make the header at least {_opaque(context, place, swept):.0%} opaque "
                    "by then, or place the text beside it",
                )


def _text_through_header(
    context: CheckContext, rule: Rule, place: tuple[int, int], swept: Sweep
) -> Iterator[Finding]:
    """A text that shows through a header, where it does so most."""
    section = context.box.sections[place[0]]
    content = section.content[place[1]]
    contrast, scroll, region = _clearest(context, place, swept)
    if region is None or contrast <= _TOLD_APART:
        return
    enough = _opaque_enough(context, scroll, region)
    yield rule.finding(
        context,
        of_text(section.name, place[1], content),
        scroll=(scroll, scroll),
        measured=contrast,
        limit=_TOLD_APART,
        message=f"its letters show through the header, with a contrast of {contrast:.2f} "
        f"at {scroll:.0f} px",
        remedy=(f"make the header {enough:.0%} opaque" if enough else "make the header more opaque")
        + " by then, or blur what is behind it",
        level="note",
    )


def _clearest(
    context: CheckContext, place: tuple[int, int], swept: Sweep
) -> tuple[float, float, Region | None]:
    """The contrast with which a text shows through most, the position, and where it does so."""
    content = context.box.sections[place[0]].content[place[1]]
    seen = [
        (_contrast(*context.behind_header(scroll, region)), scroll, region)
        for scroll, region in _passages(swept, swept.header, place[0], content)
    ]
    return max(seen, key=lambda item: item[0], default=(0.0, 0.0, None))


def _opaque(context: CheckContext, place: tuple[int, int], swept: Sweep) -> float:
    """How opaque a header has to be for a text to be out of the way, and not to show through."""
    _, scroll, region = _clearest(context, place, swept)
    enough = _opaque_enough(context, scroll, region) if region else None
    return max(_OPAQUE, enough or 0.0)


def _passages(
    swept: Sweep, header: HeaderSweep | None, index: int, content: ContentBox
) -> Iterator[tuple[float, Region]]:
    """For each state of a header that lets something through: a place where letters are below it.

    Yields:
        The scroll position in the middle of those, and the part of the screen with the letters.
    """
    letters = list(letters_of(content))
    if header is None or not letters:
        return
    x, y = content.motion.origin(swept.top_of(swept.page.sections[index]), swept.scroll)
    tops, bottom = _visible_rows(swept, swept.page.sections[index])
    first, last = min(line.top for line in letters), max(line.bottom for line in letters)
    upper = np.maximum(np.maximum(y + first, header.top), tops)
    lower = np.minimum(np.minimum(y + last, header.top + header.height), bottom)
    left = x + min(line.left for line in letters)
    right = x + max(line.left + line.width for line in letters)
    for number, state in enumerate(header.states):
        if state.complete is None or state.opaque_color is not None:
            continue  # on its way, or nothing shows through it
        here = np.flatnonzero((header.state == number) & (lower - upper > _SEEN_PX))
        if here.size:
            best = int(here[np.argmax((lower - upper)[here])])
            columns = max(math.ceil(left[best]), math.ceil(state.left), 0)
            end = min(right[best], state.left + state.width, swept.page.screen.client_width)
            rows = math.ceil(upper[best]), math.floor(lower[best])
            yield float(swept.scroll[best]), (*rows, columns, math.floor(end))


def _visible_rows(swept: Sweep, section: SectionBox) -> tuple[Floats, Floats]:
    """The first row of a section that is on the screen at each position, and the one after it."""
    tops = swept.top_of(section)
    bottom = np.minimum(tops + section.height, swept.page.screen.height)
    return np.maximum(tops, 0.0), bottom


def _contrast(page: Bytes, bare: Bytes) -> float:
    """The contrast that most of some letters have with what is there without them."""
    differ = (page != bare).any(axis=-1)
    if not differ.any():
        return 0.0
    return float(np.percentile(ratio(luminance(page[differ]), luminance(bare[differ])), _MOST))


def _opaque_enough(context: CheckContext, scroll: float, region: Region) -> float | None:
    """How opaque a header has to be for letters not to show through; None for a gradient."""
    swept = context.at(np.array([scroll]))
    assert swept.header is not None  # noqa: S101 - something shows through it
    fills = swept.header.states[int(swept.header.state[0])].fills
    if len(fills) != 1 or not isinstance(fills[0], Color):
        return None
    # A header without a colour of its own is taken to get that of the page.
    color = replace(fills[0] if fills[0].alpha else context.box.background, alpha=1.0)
    clear = context.behind_header(scroll, region, clear=True)

    def passes(step: int) -> bool:
        page, bare = (pixels.copy() for pixels in clear)
        for pixels in (page, bare):
            paint_color(pixels, color, step / 100)
        return _contrast(page, bare) <= _TOLD_APART

    step = least(passes, 0, 100)
    return None if step is None else step / 100


def _passing(context: CheckContext, section: SectionBox) -> Sweep:
    """A section on the screen, but for the top of the page, where nothing has passed yet."""
    swept = context.near(section)
    return swept.at(slice(1, None)) if len(swept) and swept.scroll[0] == 0 else swept


def _opacity(state: HeaderState) -> float:
    """How opaque the background of a header is."""
    return state.background.alpha * state.opacity


def _below_header(context: CheckContext) -> set[tuple[str, int]]:
    """The texts that the header lies over, by section and place."""
    found: set[tuple[str, int]] = set()
    for level in levels_of(context.box):
        if level.section is None:
            break
        texts = (*level.behind, *level.content)
        found |= {
            (level.section.name, place)
            for place, content in enumerate(level.section.content)
            if any(content is text for text in texts)
        }
    return found


def _deepest(
    swept: Sweep, header: HeaderSweep, index: int, content: ContentBox, where: Flags
) -> tuple[Floats, str]:
    """How far letters come into parts at each position, and the part that they come into most."""
    x, y = content.motion.origin(swept.top_of(swept.page.sections[index]), swept.scroll)
    tops, bottom = _visible_rows(swept, swept.page.sections[index])
    most, name = np.zeros(len(swept)), ""
    letters = list(letters_of(content))
    boxes = [part.box for state in header.states for part in state.parts.values()]
    if not letters or not boxes:
        return most, name
    first, last = min(line.top for line in letters), max(line.bottom for line in letters)
    upper = header.top + min(box.top for box in boxes)
    lower = header.top + max(box.bottom for box in boxes)
    passing = where & (y + first < lower) & (y + last > upper) & (tops < lower) & (bottom > upper)
    states = np.where(passing, header.state, -1)
    for number in np.unique(states[passing]):
        here, state = np.flatnonzero(states == number), header.states[number]
        for part_name, part in state.parts.items():
            box = part.box
            for line in letters:
                left = x[here] + line.left
                across = np.minimum(left + line.width, box.right) - np.maximum(left, box.left)
                upper = np.maximum(y[here] + line.top, tops[here])
                lower = np.minimum(y[here] + line.bottom, bottom[here])
                high = header.top[here] + box.top
                down = np.minimum(lower, high + box.height) - np.maximum(upper, high)
                down = np.where(across > _SEEN_PX, np.maximum(down, 0.0), 0.0)
                if down.max() > most.max():
                    name = part_name
                most[here] = np.maximum(most[here], down)
    return most, name


@check_rule("no-edge", "note")
def no_edge(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A header that stays looks the same as what passes below it.

    It has neither a shadow nor a border, and its colour has a contrast of less than 1.2 with
    most of the pixels just below its edge. Checked at every 16th px of scroll at which its
    background is at least 80 % opaque. Measured: the share of the scroll; up to a tenth is not
    reported.
    """
    header = context.box.header
    if header is None or context.switches is None or context.max_scroll < 1:
        return
    scroll = np.arange(1, context.max_scroll + 1, _EVERY_PX, dtype=np.float64)
    swept = context.at(scroll)
    result = swept.header
    if result is None:
        return
    stuck = np.abs(result.top - header.inset) < _SEEN_PX
    bare = [
        index
        for index, state in enumerate(result.states)
        if _opacity(state) >= _OPAQUE and not state.shadow and not state.border
    ]
    places = np.flatnonzero(stuck & np.isin(result.state, bare))
    ratios = np.array([context.edge_contrast(swept, int(position)) for position in places])
    lost = places[ratios < _TOLD_APART]
    share = len(lost) / len(scroll)
    if share > _MOST_SHARE:
        worst = places[np.nanargmin(ratios)]
        yield rule.finding(
            context,
            Subject(header=header.name),
            scroll=(float(scroll[lost[0]]), float(scroll[lost[-1]])),
            worst=float(scroll[worst]),
            measured=share,
            limit=_MOST_SHARE,
            message=f"over {share:.0%} of the scroll it looks the same as what is below it: "
            f"{np.nanmin(ratios):.2f} to 1 at {scroll[worst]:.0f} px",
            remedy="give it a shadow or a border in this look",
        )


@check_rule("slit", "warning")
def slit(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """Content shows above a header that stays, because the header is below the top of the screen.

    Measured: the height of the slit in px. A header that does not fill the width is only noted,
    because it floats.
    """
    header = context.box.header
    if header is None or header.inset <= _SEEN_PX or context.max_scroll < 1:
        return
    looks = [look for look in header.looks if header.is_pinned or look.stays]
    if not looks:
        return
    screen = context.box.screen.client_width
    fills = all(look.left <= 0 and look.left + look.width >= screen for look in looks)
    yield rule.finding(
        context,
        Subject(header=header.name),
        at=("top",),
        scroll=(0.0 if header.is_pinned else 1.0, float(context.max_scroll)),
        measured=header.inset,
        limit=0.0,
        message=f"the page shows through a slit of {header.inset:.0f} px above it",
        remedy=context.remedy(
            "set its 'top' to 0px, and make it that much higher",
            ("headers", header.name, "top"),
            "0px",
        ),
        level="warning" if fills else "note",
    )
