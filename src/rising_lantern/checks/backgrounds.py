"""Rules about backgrounds."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from rising_lantern.base.arrays import Floats, Indices
from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject
from rising_lantern.css.numbers import number
from rising_lantern.errors import shortened
from rising_lantern.layout.needs import greatest, needs_of
from rising_lantern.layout.pages import GROUND, PageBox
from rising_lantern.layout.sections import LayerBox, SectionBox
from rising_lantern.paint.fills import paint_layer
from rising_lantern.scroll.layers import LayerTrack
from rising_lantern.scroll.moments import Sweep

_SEEN_PX = 0.5  # a gap of less than half a px is not painted
_NEAR = 0.02  # a channel this near to an end, of 1
_FEWEST_PIXELS = 0.01  # of a layer that matter
_MOST_SIDE = 4096  # px of a layer that are examined, along each side
_SINGULAR = {
    "color-dodge": "full channels",
    "color-burn": "empty channels",
    "hue": "greys",
    "saturation": "greys",
}
_SOFT = 1.1  # an enlargement that can be seen
_FEWEST_SCREENS = 0.35  # of a screen that a moving layer has to be scrolled, to be seen to move
_SLIGHTEST = 0.06  # of a screen that it has to travel against the page
_FEWEST_SHOWN = 0.4  # of its picture's height that has to come into the section
_OFF_PX = 8  # between a picture and where its position has it


def _spans(box: LayerBox, width: float) -> bool:
    """Whether a single picture spans its area from side to side, and so is intended to cover it."""
    across, down = box.across, box.down
    one = not across.step and not down.step
    return one and across.start <= _SEEN_PX and across.start + across.extent >= width - _SEEN_PX


@check_rule("gap", "error")
def gap(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A picture that spans its section from side to side does not cover it from top to bottom.

    Somewhere along the scroll, a strip of what is behind it shows. Measured: the height of the
    tallest strip in px, over every px of scroll.
    """
    for swept, track in context.layers():
        box, scroll = track.box, swept.scroll
        if box.name is None or box.size[1] <= 0 or not _spans(box, box.motion.width):
            continue
        section, top = _section_of(track, swept)
        high = np.maximum(top + box.clip.top, 0.0)
        low = np.minimum(top + box.clip.bottom, context.box.screen.height)
        strip = np.maximum(track.top - high, low - (track.top + track.height))
        strip = np.where((low > high) & (track.opacity > 0), np.minimum(strip, low - high), 0.0)
        bare = np.flatnonzero(strip > _SEEN_PX)
        if bare.size:
            worst = float(strip.max())
            ratio = box.motion.height / box.size[1]
            yield rule.finding(
                context,
                Subject(track.section, track.index),
                scroll=(float(scroll[bare[0]]), float(scroll[bare[-1]])),
                worst=float(scroll[np.argmax(strip)]),
                measured=worst,
                limit=0.0,
                message=f"the picture leaves up to {worst:.0f} px of {section} uncovered",
                remedy=context.remedy(
                    f"set its size to cover, or make it {ratio:.2f} times as large: "
                    f"{box.motion.height:.0f} px high",
                    context.box.path_to(track.section, "layers", track.index, "size"),
                    "cover",
                ),
            )


def _section_of(track: LayerTrack, swept: Sweep) -> tuple[str, np.ndarray]:
    """What a layer is behind, in words, and its upper edge on the screen."""
    section = swept.page.section(track.section)
    if section is None:
        return "the page", swept.ground_top
    return "the section", swept.top_of(section)


@check_rule("soft-picture", "warning")
def soft_picture(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A picture is enlarged beyond its own pixels and looks soft.

    Counted in device pixels, of which a picture is asked for two in a CSS px at most, or as many
    as the plan's limit 'sharpness' says, and a video for one; at the place on the page that
    demands most. Measured: the enlargement factor. Up to 1.1 cannot be seen.
    """
    ratio = context.document.sharpness_on(context.box.viewport)
    for need in greatest(needs_of(context.box, ratio, context.plan.files.pictures)):
        if need.enlargement > _SOFT:
            yield rule.finding(
                context,
                Subject(
                    need.section,
                    need.layer,
                    words=shortened(need.words),
                    within=need.within,
                    header=need.header,
                    look=need.look,
                    part=need.part,
                    row=need.row,
                ),
                path=need.path,
                measured=need.enlargement,
                limit=_SOFT,
                message=f"{need.picture} is enlarged {need.enlargement:.2f} times",
                remedy=f"prepare it with {need.needed[0]} x {need.needed[1]} pixels",
                cause=need.picture,
            )


@check_rule("barely-scrolls", "warning")
def barely_scrolls(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A layer that moves, or stays with the screen, does so too little to be noticed.

    Its section is on the screen for too little scroll (a third of a screen is needed), it moves
    too little against the page in that time (6 % of a screen is needed), or too little of its
    picture is ever visible (40 % of its height is needed). What moves sideways by a third of a
    screen is noticed. Measured: the first of these that is too small, in px.
    """
    for swept, track in context.layers():
        if track.section == GROUND or not (track.box.moves or track.box.is_fixed):
            continue
        short = _shortfall(context, swept, track)
        if short:
            yield rule.finding(
                context,
                Subject(track.section, track.index),
                scroll=short.scroll,
                measured=short.measured,
                limit=short.needed,
                message=short.message,
                remedy=short.remedy,
            )


@dataclass(frozen=True, slots=True)
class _Shortfall:
    """What a layer's motion falls short of: figures in px, and words."""

    scroll: tuple[float, float]
    measured: float
    needed: float
    message: str
    remedy: str


def _shortfall(context: CheckContext, swept: Sweep, track: LayerTrack) -> _Shortfall | None:
    """The first thing that is too little about a layer's motion, or None."""
    names = [section.name for section in context.box.sections]
    section = context.box.sections[names.index(track.section)]
    tops = swept.top_of(section)
    height = context.box.screen.height
    seen = np.flatnonzero(swept.shows(section))
    first, last = (float(swept.scroll[seen[place]]) if seen.size else 0.0 for place in (0, -1))
    stretch, needed = last - first, _FEWEST_SCREENS * height
    if seen.size and float(np.ptp(track.left[seen])) >= needed:
        return None
    if stretch < needed:
        return _Shortfall(
            (first, last),
            stretch,
            needed,
            f"the section is on the screen for only {stretch:.0f} px of scroll",
            _room_remedy(context, section, needed),
        )
    travel, needed = _travel(track, tops, seen), _SLIGHTEST * height
    if travel < needed:
        return _Shortfall(
            (first, last),
            travel,
            needed,
            f"it moves {travel:.0f} px against the page in {stretch:.0f} px of scroll",
            "let it move with the page, or set a speed further from 1",
        )
    shown, needed = (
        _visible_height(track, tops, seen, height),
        _FEWEST_SHOWN * float(track.height[0]),
    )
    if shown < needed and _spans(track.box, track.box.motion.width):
        return _Shortfall(
            (first, last),
            shown,
            needed,
            f"only {shown:.0f} px of the picture's {track.height[0]:.0f} px are ever seen",
            f"make the section {needed - shown:.0f} px higher, or let it move with the page",
        )
    return None


def _room_remedy(context: CheckContext, section: SectionBox, needed: float) -> str:
    """By how much the page has to be longer; or the section, if that does not help."""
    missing = missing_room(context.box, section, needed)
    if missing is None:
        return "make the section higher, or let the layer move with the page"
    return f"make the page {missing} px longer, or let the layer move with the page"


def missing_room(page: PageBox, section: SectionBox, needed: float) -> int | None:
    """By how many px a page has to be longer for a section to be on the screen for long enough.

    Args:
        page: The page.
        section: The section.
        needed: Over how many px of scroll it is to be on the screen.

    Returns:
        Whole px, or None where no length of the page would do.
    """
    screen, top = page.screen.height, page.flow.room(0) + section.top
    first = max(math.floor(top - screen) + 1, 0)
    if math.ceil(top + section.height) - 1 - first < needed:
        return None
    ends = page.flow.room(0) + page.flow.sections_height - screen
    return max(math.ceil(first + needed - math.floor(ends + 0.5)), 0)


def _travel(track: LayerTrack, tops: Floats, seen: Indices) -> float:
    """How many px a layer moves against its section while that is on the screen."""
    across, down = track.left[seen], (track.top - tops)[seen]
    return float(max(np.ptp(across), np.ptp(down)))


def _visible_height(track: LayerTrack, tops: Floats, seen: Indices, screen: int) -> float:
    """How many px of a picture's height are ever on the screen."""
    upper = np.maximum(tops + track.box.clip.top, 0.0)[seen]
    lower = np.minimum(tops + track.box.clip.bottom, screen)[seen]
    first = np.maximum(upper - track.top[seen], 0.0)
    last = np.minimum(lower - track.top[seen], track.height[seen])
    return float(max(last.max() - first.min(), 0.0))


@check_rule("off-centre", "note")
def off_centre(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A moving picture that does not cover its section is not where its position says.

    At a speed between 0 and 1, a position is relative to an area whose height is part of the
    section's and part of the screen's. Measured: the distance in px from where the position
    would put it, where the section is centred on the screen, or as near to that as the page
    scrolls.
    """
    for section in context.box.sections:
        for index, layer in enumerate(section.layers):
            off = displacement(context.box, section, layer)
            if abs(off) <= _OFF_PX:
                continue
            position = centred_position(layer, off)
            middle = _middle_of_displacement(section, layer)
            way = "below" if off > 0 else "above"
            yield rule.finding(
                context,
                Subject(section.name, index),
                measured=abs(off),
                limit=_OFF_PX,
                message=f"its middle is {middle:.0f} px below the screen's upper edge where the "
                f"section is in the middle, {abs(off):.0f} px "
                f"{way} the place that its position gives it",
                remedy=context.remedy(
                    f"set its position to {position}",
                    context.box.path_to(section.name, "layers", index, "position"),
                    position,
                ),
            )


def displacement(page: PageBox, section: SectionBox, layer: LayerBox) -> float:
    """How many px a picture is below where its position would put it in its section."""
    motion = layer.motion
    single = not layer.down.step and layer.name is not None
    split = layer.position.y.split_percentage()
    if split is None or not split[0]:
        return 0.0  # a length counts from the upper edge of whatever area there is
    if not single or not 0 < motion.speed < 1 or motion.drift or motion.path:
        return 0.0
    if layer.size[1] >= motion.height - _SEEN_PX:
        return 0.0
    asked = layer.position.used(
        (section.box.width, section.height), layer.size, page.screen.basis()
    )
    r = section.settled
    return float(motion.origin(-r, 0.0)[1]) + r + layer.down.start - asked[1]


def _middle_of_displacement(section: SectionBox, layer: LayerBox) -> float:
    """Where on the screen the middle of such a picture is then."""
    top = float(layer.motion.origin(-section.settled, 0.0)[1])
    return top + layer.down.start + layer.size[1] / 2


def centred_position(layer: LayerBox, off: float) -> str:
    """The position that puts such a picture where its position intends it."""
    across = layer.position.x.css()
    return f"{across} {number(round(layer.down.start - off))}px"


@check_rule("uneven-blend", "note")
def uneven_blend(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A layer uses a blend mode that browsers compute differently for some of its colours.

    Dodging with a full channel, burning with an empty one, and taking the hue of a grey all
    divide by nearly zero, so the result cannot be predicted. Measured: the share of the layer's
    pixels that are affected.
    """
    for section in context.box.sections:
        for index, layer in enumerate(section.layers):
            if layer.blend not in _SINGULAR:
                continue
            share = _singular_share(layer, context)
            if share > _FEWEST_PIXELS:
                yield rule.finding(
                    context,
                    Subject(section.name, index),
                    measured=share,
                    limit=_FEWEST_PIXELS,
                    message=f"engines draw '{layer.blend}' differently for {share:.0%} of "
                    "the layer's pixels",
                    remedy=f"use another blend mode, or avoid {_SINGULAR[layer.blend]}",
                )


def _singular_share(layer: LayerBox, context: CheckContext) -> float:
    """The share of a layer's painted pixels for which its blend mode is next to undefined."""
    size = (math.ceil(layer.clip.height), math.ceil(layer.clip.width))
    canvas = np.zeros((*(min(side, _MOST_SIDE) for side in size), 4), dtype=np.uint8)
    paint_layer(canvas, layer, context.box.screen.basis())
    seen = canvas[canvas[..., 3] > 0].astype(np.float32)
    if not len(seen):
        return 0.0
    color = np.minimum(seen[:, :3] / seen[:, 3:], 1.0)
    match layer.blend:
        case "color-dodge":
            odd = (color > 1 - _NEAR).any(axis=1)
        case "color-burn":
            odd = (color < _NEAR).any(axis=1)
        case _:
            odd = np.ptp(color, axis=1) < _NEAR
    return float(odd.mean())


@check_rule("touch-fixed", "warning")
def touch_fixed(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A picture of a section is fixed on a touch screen.

    Browsers on phones and tablets differ there, and some scroll it with the page. What is behind
    all of the page stays in a box of its own, which all of them keep, unless it is the site's.
    Measured: the number of such layers in the section.
    """
    size = context.plan.viewport(context.box.viewport)
    if not size.touch:
        return
    for section in context.box.all_sections:
        fixed = [
            index
            for index, layer in enumerate(section.layers)
            if layer.is_fixed and not layer.moves and not context.is_pinned(section, index)
        ]
        if fixed:
            yield rule.finding(
                context,
                Subject(section.name, fixed[0]),
                measured=len(fixed),
                limit=0.0,
                message="some browsers on touch screens do not keep a fixed picture fixed",
                remedy="replace the attachment with 'speed: 0', "
                "and set a speed of 0.2 for touch screens",
                cause="attachment",
            )
