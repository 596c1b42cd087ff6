"""Rules about what can be read."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from rising_lantern.base.arrays import Flags, Indices
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import RULES, Rule, check_rule
from rising_lantern.checks.stacking import SEEN_PX, covered_by
from rising_lantern.checks.subjects import Subject, of_link, of_text
from rising_lantern.css.blending import blend_over
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import Color
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.legibility.backdrops import ScreenBox
from rising_lantern.legibility.contrast import contrast_on
from rising_lantern.scroll.moments import Sweep

_STATES = {
    "visited": "once it is followed",
    "focused": "while it has the focus",
    "hover": "under the pointer",
    "focus": "while it has the focus",
    "pressed": "while it is pressed",
    "current": "on the page that it leads to",
}
_SEEN_LEVELS = 2.0  # of 255: what changes by less is not seen
_APART = 3.0  # the contrast of a link with the text around it, where colour alone marks it


@check_rule("unreadable-part", "error")
def unreadable_part(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A part of the header cannot be read over some of the scroll.

    Checked at every px of scroll, and between looks too. Where layers move against each other
    behind the header, or are blurred by it, positions are checked that are so close that
    nothing can pass between them, and every px near to the limit. Measured: the lowest WCAG 2.2
    contrast that 95 % of the pixels really behind the part reach. Limit: 4.5 for texts, 3 for
    large texts and pictures, or the part's own. Logos are only noted.
    """
    yield from _unreadable(context, rule, context.sweep)
    if context.turned is not None:
        yield from _unreadable(context, rule, context.turned)


def _unreadable(context: CheckContext, rule: Rule, swept: Sweep) -> Iterator[Finding]:
    """The parts that cannot be read on some positions of a sweep."""
    header = swept.header
    if header is None or not len(swept):
        return
    names, scroll = header.box.look_names, swept.scroll
    hidden = covered_by(context, swept) > SEEN_PX
    for name, contrast in context.contrasts(swept).items():
        needed = context.part_limits(name, swept)
        for look in np.unique(header.look):
            if (names[look], name) in context.left_behind:
                continue
            here = (header.look == look) & (contrast < needed) & ~hidden
            places = np.flatnonzero(here)
            if not places.size:
                continue
            worst = places[np.argmin(contrast[places])]
            way = f", going {header.box.looks[look].going}" if header.box.looks[look].going else ""
            yield rule.finding(
                context,
                Subject(header=header.box.name, look=names[look], part=name),
                scroll=(float(scroll[places[0]]), float(scroll[places[-1]])),
                worst=float(scroll[worst]),
                measured=float(contrast[worst]),
                limit=float(needed[worst]),
                message=f"its contrast falls to {contrast[worst]:.2f} at {scroll[worst]:.0f} px"
                f"{way}, and is too low on {places.size} px of scroll",
                remedy=_part_remedy(context),
                level="note" if header.box.parts[name].is_logo else None,
            )


def least_unreadable(context: CheckContext, every: int) -> float:
    """The lowest contrast that is too low of a part of the header that is no logo; inf for none.

    Args:
        context: The view.
        every: From one position that is looked at to the next, in px.
    """
    swept = context.at(np.arange(0, context.max_scroll + 1, every, dtype=np.float64))
    rule = RULES["unreadable-part"]
    found = [item for item in _unreadable(context, rule, swept) if item.level == "error"]
    return min((item.measured for item in found if item.measured is not None), default=math.inf)


def _part_remedy(context: CheckContext) -> str:
    """What fixes a part: where a see-through header stands above a picture, to lie over it."""
    header = context.box.header
    if header and stands_above_a_picture(context.box, header):
        return "set 'over: true', so that the first section's picture starts behind the header"
    return "make the header's background more opaque there, or start another look earlier"


@check_rule("unreadable-content", "error")
def unreadable_content(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A text on the page cannot be read over some of the scroll.

    Checked at every px of scroll at which at least half of it is on the screen. Where layers
    move against each other behind it, positions are checked that are so close that nothing can
    pass between them, and every px near to the limit. Measured: the lowest WCAG 2.2 contrast
    that 95 % of the pixels really behind it reach, its own panel and shadow included. Limit:
    4.5, and 3 for large texts.
    """
    for text in context.texts():
        content = text.section.content[text.index]
        contrast, scroll = text.measurement.contrast, text.swept.scroll
        places = _unreadable_places(text.box, content.text.box.height, contrast < text.limit)
        if not places.size:
            continue
        worst = places[np.argmin(contrast[places])]
        yield rule.finding(
            context,
            of_text(text.section.name, text.index, content),
            scroll=(float(scroll[places[0]]), float(scroll[places[-1]])),
            worst=float(scroll[worst]),
            measured=float(contrast[worst]),
            limit=text.limit,
            message=f"its contrast falls to {contrast[worst]:.2f} at {scroll[worst]:.0f} px",
            remedy="put a darker or lighter tint behind it, or give it a panel",
        )


def _unreadable_places(box: ScreenBox, height: float, low: Flags) -> Indices:
    """Where the contrast of a text is too low while at least half of it, or all, is seen."""
    rows = box.last - box.first
    half = (2 * rows >= height) | (rows == rows.max(initial=0))
    return np.flatnonzero(half & low)


@check_rule("unreadable-link", "error")
def unreadable_link(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A link or button cannot be read over some of the scroll, in one of its states.

    Measured and limited as texts are, in a header as its parts are. A link: as it is at first,
    once it has been followed, and while it has the focus. A button, or a link of a header: under
    the pointer, with the focus, while it is pressed, and on the page that it leads to.
    """
    yield from _unreadable_part_links(context, rule)
    for item in context.pressable():
        contrast, scroll = item.measurement.contrast, item.scroll
        places = _unreadable_places(item.box, item.height, contrast < item.limit)
        if not places.size:
            continue
        worst = places[np.argmin(contrast[places])]
        when = f"{_STATES[item.subject.state]} " if item.subject.state else ""
        yield rule.finding(
            context,
            item.subject,
            scroll=(float(scroll[places[0]]), float(scroll[places[-1]])),
            worst=float(scroll[worst]),
            measured=float(contrast[worst]),
            limit=item.limit,
            message=f"{when}its contrast falls to {contrast[worst]:.2f} at {scroll[worst]:.0f} px",
            remedy="give it a lighter or darker colour there, or put a tint behind the text",
        )


def _unreadable_part_links(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """The links of a header that cannot be read in one of their states."""
    for item in context.part_links():
        places = np.flatnonzero(item.contrast < item.limit)
        if not places.size:
            continue
        worst, state = places[np.argmin(item.contrast[places])], item.subject.state
        yield rule.finding(
            context,
            item.subject,
            path=item.path,
            scroll=(float(item.scroll[places[0]]), float(item.scroll[places[-1]])),
            worst=float(item.scroll[worst]),
            measured=float(item.contrast[worst]),
            limit=float(item.limit[worst]),
            message=f"{_STATES[state]} its contrast falls to {item.contrast[worst]:.2f} at "
            f"{item.scroll[worst]:.0f} px, and is too low on {places.size} px of scroll",
            remedy=f"give '{state}' a lighter or darker colour in this look, or a background",
        )


@check_rule("unmarked-link", "warning")
def unmarked_link(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A link that is not underlined differs too little from the text around it.

    Where colour alone tells the two apart, their contrast has to be 3 (WCAG 2.2, technique G183).
    Measured: that contrast. A text that is a link as a whole is left out.
    """
    for section in context.box.sections:
        for index, content in enumerate(section.content):
            for link in content.links:
                is_whole = link.words.split() == content.words.split()
                if link.underlined or is_whole or not link.text.lines:
                    continue
                found = contrast_on(content.color, link.color)
                if found < _APART:
                    yield rule.finding(
                        context,
                        of_link(section.name, index, content, link),
                        measured=found,
                        limit=_APART,
                        message=f"its contrast with the text around it is {found:.2f}",
                        remedy="underline it, or give it a colour that differs more",
                    )


@check_rule("lost-shadow", "note")
def lost_shadow(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A text has a shadow that its blend mode makes vanish, such as a black one dodged.

    A blend mode applies to the shadow as well: black changes nothing with 'screen', 'lighten' and
    'color-dodge', and white nothing with 'multiply', 'darken' and 'color-burn'. Measured: by how
    many levels of 255 it changes what is behind it, at most.
    """
    for section in context.box.sections:
        for index, content in enumerate(section.content):
            if content.blend == "normal" or not content.shadows:
                continue
            seen = max(_change(shadow.color, content.blend) for shadow in content.shadows)
            if seen < _SEEN_LEVELS:
                yield rule.finding(
                    context,
                    of_text(section.name, index, content),
                    measured=seen,
                    limit=_SEEN_LEVELS,
                    message=f"its shadow changes nothing with the blend mode '{content.blend}'",
                    remedy="remove the shadow, or put it on a text without a blend mode",
                )


def _change(color: Color, blend: BlendMode) -> float:
    """By how many levels a colour changes what it is blended with, at most."""
    levels = np.linspace(0, 255, 18).astype(np.uint8)
    below = np.full((1, 18, 4), 255, dtype=np.uint8)
    below[..., :3] = levels[None, :, None]
    above = np.zeros_like(below)
    above[..., :] = [round(channel * color.alpha) for channel in color.bytes[:3]] + [
        round(color.alpha * 255)
    ]
    mixed = below.copy()
    blend_over(mixed, above, blend)
    return float(np.abs(mixed.astype(int) - below).max())


def stands_above_a_picture(page: PageBox, header: HeaderBox) -> bool:
    """Whether a see-through header takes room of its own above a section with a picture."""
    first = page.sections[0]
    pictured = any(layer.name or not layer.is_uniform for layer in first.layers)
    takes_room = header.room_in(0) > 0
    return takes_room and pictured and header.looks[0].background.alpha < 1
