"""Which frames of videos to check: those over which a text or part is hardest to read.

All frames are read at a reduced size. The contrast over each is estimated: it is measured over
plain greys in place of the video, and interpolated for the greys of the frame. The frames with the
lowest estimate are then checked at full size.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from rising_lantern.base.arrays import Floats, Indices
from rising_lantern.css.colors import Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import LayerBox, SectionBox
from rising_lantern.legibility.backdrops import ScreenBox
from rising_lantern.legibility.contrast import luminance
from rising_lantern.legibility.parts import measure_parts, part_on_screen
from rising_lantern.legibility.texts import measure_texts
from rising_lantern.paint.frames import Painter
from rising_lantern.paint.videos import small_frames
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.scroll.layers import LayerTrack
from rising_lantern.scroll.moments import Sweep, sweep
from rising_lantern.scroll.switches import Switches

_LEVELS = np.linspace(0.0, 1.0, 6)  # greys that stand for the video, of 0 to 1
_SHARES = (0.05, 0.5, 0.95)  # of the pixels behind something, whose greys are looked at
_POSITIONS = 24  # along the scroll
_ANY = 22.0  # more than any contrast, so that all is measured
_EVEN = 0.01  # of contrast: what no grey changes by more has no video behind it


@dataclass(frozen=True, slots=True)
class _VideoLayer:
    """A layer that can show a video.

    Attributes:
        section: Its section's name.
        index: Its place there.
        picture: The video.
        first: The number of its first frame among what the layer shows.
    """

    section: str
    index: int
    picture: Picture
    first: int


@dataclass(frozen=True, slots=True)
class _Readable:
    """A text, or a part of the header in one of its states, where it is on the screen.

    Attributes:
        key: What it is.
        places: The indices of the positions at which it is there.
        box: Where it is at each of them.
        contrast: Its contrast at each of them.
    """

    key: tuple[str, int | str, int]
    places: Indices
    box: ScreenBox
    contrast: Floats


def hardest_frames(
    page: PageBox, switches: Switches | None, pictures: dict[str, Picture], max_scroll: int
) -> list[int]:
    """The frames of videos over which a text or a part of the header is hardest to read.

    Args:
        page: The page.
        switches: Where its header switches; None without one.
        pictures: The plan's pictures and videos.
        max_scroll: The last scroll position of the page.

    Returns:
        Their numbers, as slides are counted, in order; none without a video.

    Raises:
        PlanError: If a video turns out to be damaged.
    """
    positions = np.unique(np.linspace(0, max_scroll, _POSITIONS).round())
    found: set[int] = set()
    for video in _videos(page, pictures):
        swept = sweep(page, switches, positions)
        over = []
        for level in _LEVELS:
            grey = replace(swept, page=_with_grey(page, video, level))
            over.append(list(_things(grey, video, pictures)))
        track = next(
            track
            for track in swept.layers()
            if (track.section, track.index) == (video.section, video.index)
        )
        greys = _greys(small_frames(video.picture)) if over[0] else np.empty(0)
        for same in zip(*over, strict=True):
            contrasts = np.array([thing.contrast for thing in same])
            frame = _hardest(greys, track, same[0], contrasts)
            if frame is not None:
                found.add(video.first + frame)
    return sorted(found)


def _things(swept: Sweep, video: _VideoLayer, pictures: dict[str, Picture]) -> Iterator[_Readable]:
    """Everything whose contrast counts where a section with a video can be behind it."""
    painter = Painter(swept.page, pictures)
    every = np.arange(len(swept))
    own = swept.page.section(video.section)
    near = [
        section
        for section in swept.page.sections
        if own is None or (section.top < own.bottom and section.bottom > own.top)
    ]
    keys = [(section.name, index) for section in near for index in range(len(section.content))]
    for (section, index), box, item in measure_texts(swept, painter, dict.fromkeys(keys, _ANY)):
        yield _Readable((section, index, 0), every, box, item.contrast)
    header = swept.header
    if header is None:
        return
    top = swept.ground_top if own is None else swept.top_of(own)
    height = swept.page.flow.ends(0) + swept.page.screen.height if own is None else own.height
    behind = (top < header.top + header.height) & (top + height > header.top)
    passing = swept.at(behind)
    measured = measure_parts(passing, painter, pictures)
    assert passing.header is not None  # noqa: S101 - the sweep has one
    for index, state in enumerate(header.states):
        places = np.flatnonzero(passing.header.state == index)
        for name, part in state.parts.items() if places.size else ():
            box = part_on_screen(passing, passing.header, places, part)
            contrast = measured[name].contrast[places]
            yield _Readable(("", name, index), every[behind][places], box, contrast)


def _videos(page: PageBox, pictures: dict[str, Picture]) -> Iterator[_VideoLayer]:
    for section in page.all_sections:
        for index, layer in enumerate(section.layers):
            first = 0
            for name in layer.slides:
                if pictures[name].clip:
                    yield _VideoLayer(section.name, index, pictures[name], first)
                first += pictures[name].frames


def _with_grey(page: PageBox, video: _VideoLayer, level: float) -> PageBox:
    """A page with an even grey in the place of a video."""

    def changed(section: SectionBox) -> SectionBox:
        if section.name != video.section:
            return section
        layers = list(section.layers)
        layers[video.index] = _grey(layers[video.index], level)
        return replace(section, layers=tuple(layers))

    return replace(
        page,
        sections=tuple(changed(section) for section in page.sections),
        ground=changed(page.ground) if page.ground else None,
    )


def _grey(layer: LayerBox, level: float) -> LayerBox:
    color = Color(level, level, level, 1.0)
    return replace(layer, name=None, picture=None, fill=color, focus=None)


def _greys(frames: Bytes) -> Floats:
    """Frames as the greys that are as light as each pixel, 0 to 1."""
    ramp = np.arange(256, dtype=np.uint8)[:, None, None].repeat(3, axis=2)
    known = luminance(ramp)[:, 0]
    return np.interp(luminance(frames), known, np.linspace(0, 1, 256)).astype(np.float32)


def _hardest(greys: Floats, track: LayerTrack, thing: _Readable, contrasts: Floats) -> int | None:
    """The frame over which something is hardest to read; None where none is behind it.

    Args:
        greys: All frames.
        track: Where the video is along the positions.
        thing: What it is.
        contrasts: What it has over each even grey, at each of its positions; not a number where it
            is off the screen.
    """
    least, frame = np.inf, None
    seen = np.flatnonzero(np.isfinite(contrasts).all(axis=0))
    for place in seen[np.ptp(contrasts[:, seen], axis=0) > _EVEN]:
        window = _window(greys.shape[1:], track, thing, int(place))
        if window is None:
            continue
        behind = greys[:, window[0], window[1]].reshape(len(greys), -1)
        levels = np.quantile(behind, _SHARES, axis=1)
        estimated = np.interp(levels, _LEVELS, contrasts[:, place]).min(axis=0)
        if estimated.min() < least:
            least, frame = float(estimated.min()), int(estimated.argmin())
    return frame


def _window(
    shape: tuple[int, ...], track: LayerTrack, thing: _Readable, place: int
) -> tuple[slice, slice] | None:
    """The rows and columns of reduced frames that are behind something; None for none."""
    box, position = thing.box, thing.places[place]
    edges = (
        (box.first[place], box.last[place], track.top[position], track.height[position]),
        (box.left, box.right, track.left[position], track.width[position]),
    )
    result = []
    for (low, high, start, extent), count in zip(edges, shape, strict=True):
        scale = count / extent if extent > 0 else 0.0
        first = int(np.clip(np.floor((low - start) * scale), 0, count))
        last = int(np.clip(np.ceil((high - start) * scale), 0, count))
        if last <= first:
            return None
        result.append(slice(first, last))
    return result[0], result[1]
