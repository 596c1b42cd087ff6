"""Rules about backgrounds."""

from __future__ import annotations

import math
from collections.abc import Iterator

import numpy as np

from rising_lantern.checks.findings import Checked, Finding, Rule, rule
from rising_lantern.layout.needs import greatest, needs_of
from rising_lantern.layout.sections import LayerBox
from rising_lantern.scroll.layers import LayerTrack
from rising_lantern.scroll.moments import Sweep, sweep

_SEEN_PX = 0.5  # a gap of less than half a px is not painted
_NEAR = 0.02  # a channel this near to an end, of 1
_FEWEST_PIXELS = 0.01  # of a layer that matter
_MOST_SIDE = 4096  # px of a layer that are looked at, along each side
_SINGULAR = {
    "color-dodge": "full channels",
    "color-burn": "empty channels",
    "hue": "greys",
    "saturation": "greys",
}
_SOFT = 1.1  # an enlargement that can be seen
_FEWEST_SCREENS = 0.35  # of a screen that a moving layer has to be scrolled, to be seen to move


def _subject(track: LayerTrack) -> str:
    return f"{track.section}, layer {track.index}"


def _spans(box: LayerBox, width: float) -> bool:
    """Whether a single picture reaches from side to side, and so is meant to cover."""
    across, down = box.across, box.down
    one = not across.step and not down.step
    return one and across.start <= _SEEN_PX and across.start + across.extent >= width - _SEEN_PX


@rule("gap", "error")
def gap(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A picture that fills its section from side to side does not fill it from top to bottom.

    Somewhere along the scroll a strip of what is behind shows. Measured is the widest strip in
    px, over every px of scroll.
    """
    scroll = np.arange(checked.max_scroll + 1, dtype=np.float64)
    swept = sweep(checked.box, checked.switches, scroll)
    for track in swept.layers():
        box = track.box
        if box.name is None or box.size[1] <= 0 or not _spans(box, box.motion.width):
            continue
        section, top = _section_of(track, swept)
        high = np.maximum(top + box.clip.top, 0.0)
        low = np.minimum(top + box.clip.bottom, checked.box.screen.height)
        strip = np.maximum(track.top - high, low - (track.top + track.height))
        strip = np.where((low > high) & (track.opacity > 0), np.minimum(strip, low - high), 0.0)
        bare = np.flatnonzero(strip > _SEEN_PX)
        if bare.size:
            worst = float(strip.max())
            ratio = box.motion.height / box.size[1]
            yield checked.finding(
                of,
                _subject(track),
                at=checked.in_section(track.section, "layers", track.index),
                scroll=(float(scroll[bare[0]]), float(scroll[bare[-1]])),
                measured=worst,
                limit=0.0,
                message=f"the picture leaves up to {worst:.0f} px of {section} uncovered",
                remedy=f"size it to cover, or draw it {ratio:.2f} times as large: "
                f"{box.motion.height:.0f} px high",
            )


def _section_of(track: LayerTrack, swept: Sweep) -> tuple[str, np.ndarray]:
    """What a layer is behind, in words, and its upper edge on the screen."""
    for place, section in enumerate(swept.page.sections):
        if section.name == track.section:
            return "the section", swept.section_tops[:, place]
    return "the page", swept.ground_top


@rule("soft-picture", "warning")
def soft_picture(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A picture is enlarged beyond its own pixels and looks soft.

    Counted in pixels of the device, at the place of the page that asks most of it. Measured is
    the factor; up to 1.1 is not seen.
    """
    size = checked.plan.viewport(checked.box.viewport)
    for need in greatest(needs_of(checked.box, size.ratio, checked.plan.files.pictures)):
        if need.enlargement > _SOFT:
            yield checked.finding(
                of,
                need.place,
                at=need.path,
                measured=need.enlargement,
                limit=_SOFT,
                message=f"{need.picture} is enlarged {need.enlargement:.2f} times",
                remedy=f"prepare it with {need.needed[0]} x {need.needed[1]} pixels",
            )


@rule("barely-scrolls", "warning")
def barely_scrolls(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A layer that moves at a speed of its own is seen over too little scroll to be seen to move.

    Measured is that stretch in px; a third of a screen is needed.
    """
    height = checked.box.screen.height
    needed = _FEWEST_SCREENS * height
    flow = checked.box.flow.room(0)
    for section in checked.box.sections:
        first = max(flow + section.top - height, 0.0)
        last = min(flow + section.bottom, float(checked.max_scroll))
        stretch = max(last - first, 0.0)
        for index, layer in enumerate(section.layers):
            if layer.moves and stretch < needed:
                yield checked.finding(
                    of,
                    f"{section.name}, layer {index}",
                    at=checked.in_section(section.name, "layers", index),
                    scroll=(first, max(first, last)),
                    measured=stretch,
                    limit=needed,
                    message=f"the layer is seen to move over {stretch:.0f} px of scroll only",
                    remedy=f"make the page {needed - stretch:.0f} px longer, or the layer still",
                )


@rule("uneven-blend", "note")
def uneven_blend(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A layer blends in a way that engines compute differently for some of its colours.

    Dodging with a full channel, burning with an empty one, and taking the hue of a grey divide by
    next to nothing there: what a reader sees cannot be foretold. Measured is the share of the
    layer's pixels for which that is so.
    """
    for section in checked.box.sections:
        for index, layer in enumerate(section.layers):
            if layer.entry.blend not in _SINGULAR:
                continue
            share = _singular_share(layer, checked)
            if share > _FEWEST_PIXELS:
                yield checked.finding(
                    of,
                    f"{section.name}, layer {index}",
                    at=checked.in_section(section.name, "layers", index),
                    measured=share,
                    limit=_FEWEST_PIXELS,
                    message=f"engines draw '{layer.entry.blend}' differently for {share:.0%} of "
                    "the layer's pixels",
                    remedy="use another blend mode, or keep its colours clear of "
                    f"{_SINGULAR[layer.entry.blend]}",
                )


def _singular_share(layer: LayerBox, checked: Checked) -> float:
    """The share of a layer's painted pixels for which its blend mode is next to undefined."""
    from rising_lantern.paint.fills import paint_layer  # noqa: PLC0415 - few plans blend so

    size = (math.ceil(layer.clip.height), math.ceil(layer.clip.width))
    canvas = np.zeros((*(min(side, _MOST_SIDE) for side in size), 4), dtype=np.uint8)
    paint_layer(canvas, layer, checked.box.screen.basis())
    seen = canvas[canvas[..., 3] > 0].astype(np.float32)
    if not len(seen):
        return 0.0
    color = np.minimum(seen[:, :3] / seen[:, 3:], 1.0)
    match layer.entry.blend:
        case "color-dodge":
            odd = (color > 1 - _NEAR).any(axis=1)
        case "color-burn":
            odd = (color < _NEAR).any(axis=1)
        case _:
            odd = np.ptp(color, axis=1) < _NEAR
    return float(odd.mean())


@rule("touch-fixed", "warning")
def touch_fixed(checked: Checked, of: Rule) -> Iterator[Finding]:
    """A picture is fixed on a screen that is scrolled by touch.

    Engines of phones and tablets differ there, and some let it scroll with the page. Measured is
    the number of such layers in the section.
    """
    size = checked.plan.viewport(checked.box.viewport)
    if not size.touch:
        return
    ground = checked.box.ground
    for section in (*checked.box.sections, *((ground,) if ground else ())):
        fixed = [
            index
            for index, layer in enumerate(section.layers)
            if layer.entry.rate == 0 and not layer.entry.is_uniform and not layer.moves
        ]
        if fixed:
            yield checked.finding(
                of,
                f"{section.name}, layer {fixed[0]}",
                at=checked.in_section(section.name, "layers", fixed[0]),
                measured=len(fixed),
                limit=0.0,
                message="a fixed picture is not fixed in every browser of a touch screen",
                remedy="write 'speed: 0' for the attachment, and for touch screens a speed of 0.2",
            )
