"""Moments: the state of a view at scroll positions, computed for all of them at once."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

import numpy as np
from numpy.typing import NDArray

from rising_lantern.base.arrays import Floats
from rising_lantern.base.notebook import html_table
from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.layout.headers import Going, HeaderBox
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import SectionBox
from rising_lantern.scroll.layers import LayerTrack, track
from rising_lantern.scroll.states import HeaderState
from rising_lantern.scroll.switches import CurrentLooks, Switches

_SEEN_PX = 0.5  # what can be seen of a movement


@dataclass(frozen=True, slots=True)
class HeaderMoment:
    """A header at one scroll position, in screen coordinates and CSS px.

    Attributes:
        box: Its border box.
        background: Its colour.
        color: The colour of its texts.
        state: All of its values, and its parts.
    """

    box: Rect
    background: Color
    color: Color
    state: HeaderState = field(repr=False)


@dataclass(frozen=True, slots=True)
class LayerMoment:
    """A layer at one scroll position.

    Attributes:
        section: The section's name.
        index: The layer's place in the plan, topmost 0.
        box: Where its picture stands on the screen, in CSS px.
        opacity: 0 to 1.
        visible_px: How many px of the screen's height it is seen on.
    """

    section: str
    index: int
    box: Rect
    opacity: float
    visible_px: float


@dataclass(frozen=True, slots=True, repr=False)
class Moment:
    """The state of a view at one scroll position; all boxes are on the screen, in CSS px.

    Attributes:
        scroll_px: The position.
        look: The look that is current or comes; None without a header.
        look_before: The look that ends; the same where ``look`` is complete.
        progress: The eased share of the new look, 1 where it is complete.
        header: The header, or None.
        parts: The boxes of the header's parts, by name.
        sections: The boxes of the sections, by name.
        layers: All layers of all sections.
    """

    scroll_px: float
    look: str | None
    look_before: str | None
    progress: float
    header: HeaderMoment | None
    parts: Mapping[str, Rect] = field(hash=False)
    sections: Mapping[str, Rect] = field(hash=False)
    layers: tuple[LayerMoment, ...]

    def __repr__(self) -> str:
        look = "" if self.look is None else f", look={self.look!r}"
        return f"Moment(scroll_px={self.scroll_px:g}{look})"

    def _repr_html_(self) -> str:
        rows: list[tuple[str, str]] = []
        if self.header is not None:
            look = f"{self.look}, {self.progress:.0%} complete"
            rows += [("look", look), ("header", _words(self.header.box))]
        rows += [(name, _words(box)) for name, box in self.parts.items()]
        rows += [(f"section {name}", _words(box)) for name, box in self.sections.items()]
        return html_table(f"{self.scroll_px:g} px", rows)


def _words(box: Rect) -> str:
    return f"{box.width:g} x {box.height:g} px at {box.left:g}, {box.top:g}"


@dataclass(frozen=True, slots=True)
class HeaderSweep:
    """A header along the scroll. Arrays hold one item for each position.

    Attributes:
        box: The header.
        before: The index of the look that ends; ``look`` where that is complete.
        look: The index of the look that is current or comes.
        progress: Its eased share.
        state: An index into ``states``.
        states: Every state that the header has anywhere, once.
        top: The header's upper edge on the screen.
        height: Its height.
        own_top: Where it would stand if it had not arrived by itself.
    """

    box: HeaderBox
    before: NDArray[np.intp]
    look: NDArray[np.intp]
    progress: Floats
    state: NDArray[np.intp]
    states: tuple[HeaderState, ...]
    top: Floats
    height: Floats
    own_top: Floats

    @property
    def leaves_at(self) -> int | None:
        """The first of the positions at which it has begun to leave the screen; None for none."""
        gone = np.flatnonzero(self.top < self.box.inset - _SEEN_PX)
        return int(gone[0]) if gone.size else None

    def at(self, places: NDArray[np.intp] | NDArray[np.bool_] | slice) -> HeaderSweep:
        """The sweep at some of the positions."""
        arrays = ("before", "look", "progress", "state", "top", "height", "own_top")
        return replace(self, **{name: getattr(self, name)[places] for name in arrays})


@dataclass(frozen=True, slots=True)
class Arrival:
    """A text on its way to its place. Arrays hold one item for each position.

    Attributes:
        x: How far to the right of its place it is, in px.
        y: How far below its place.
        opacity: 0 to 1.
    """

    x: Floats
    y: Floats
    opacity: Floats


@dataclass(frozen=True, slots=True)
class Sweep:
    """A view along the scroll: what everything else is read from.

    Attributes:
        page: The page.
        scroll: The positions, in px.
        header: The header along them, or None.
        shift: How far below its place in the document a section is on the screen.
        arrivals: The texts that arrive in time, by section and place; at rest there are none.
    """

    page: PageBox
    scroll: Floats
    header: HeaderSweep | None
    shift: Floats
    arrivals: dict[tuple[str, int], Arrival] = field(default_factory=dict)

    @property
    def ground_top(self) -> Floats:
        """The upper edge on the screen of what the page has behind its sections."""
        return -self.scroll

    def top_of(self, section: SectionBox) -> Floats:
        """A section's upper edge on the screen."""
        return section.top + self.shift

    def shows(self, section: SectionBox) -> NDArray[np.bool_]:
        """At which positions any of a section is on the screen."""
        tops = self.top_of(section)
        return (tops < self.page.screen.height) & (tops + section.height > 0)

    def offset(self, track: LayerTrack) -> Floats:
        """How far below its place in its section, or behind all of them, a layer is, in px."""
        section = self.page.section(track.section)
        return track.top - (self.top_of(section) if section else self.ground_top)

    def __len__(self) -> int:
        return len(self.scroll)

    def at(self, places: NDArray[np.intp] | NDArray[np.bool_] | slice) -> Sweep:
        """The sweep at some of the positions, with all texts at rest."""
        header = self.header.at(places) if self.header else None
        return Sweep(self.page, self.scroll[places], header, self.shift[places])

    def layers(self) -> Iterator[LayerTrack]:
        """Every layer of the page along the positions, those behind the sections last."""
        ground = self.page.ground
        for section in (*self.page.sections, *((ground,) if ground else ())):
            for index in range(len(section.layers)):
                yield self.layer(section, index)

    def layer(self, section: SectionBox, index: int) -> LayerTrack:
        """One layer of a section, or of what the page has behind them, along the positions."""
        tops = self.ground_top if section is self.page.ground else self.top_of(section)
        return track(section, index, tops, self.scroll, self.page.screen)

    def moment(self, index: int) -> Moment:
        """The moment at one of the positions."""
        return _moment(self, index)


def sweep(page: PageBox, switches: Switches | None, scroll: Floats, going: Going = "down") -> Sweep:
    """The state of a page at scroll positions.

    Args:
        page: The page at a viewport.
        switches: Where its header switches, or None without a header.
        scroll: Positions in px, one-dimensional.
        going: Whether the reader came from the top or from the end.
    """
    if switches is None:
        return Sweep(page, scroll, None, -scroll)
    header = _header_sweep(page, switches, scroll, going)
    room = np.array([state.room for state in header.states])
    return Sweep(page, scroll, header, room[header.state] - scroll)


def _header_sweep(page: PageBox, switches: Switches, scroll: Floats, going: Going) -> HeaderSweep:
    current = switches.looks_at(scroll, going)
    firsts, index = _once(current)
    states = tuple(
        switches.state(
            int(current.before[place]), int(current.look[place]), float(current.progress[place])
        )
        for place in firsts
    )
    return header_along(page, switches.header, current, scroll, (index, states))


def _once(current: CurrentLooks) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """Each state that a header has at some positions, once.

    Two looks and a share say all of a state.

    Returns:
        Where each state is first found, and for each position the place of its state among these.
    """
    before, look, progress = current.before, current.look, current.progress
    if not len(look):
        return np.zeros(0, dtype=np.intp), np.zeros(0, dtype=np.intp)
    order = np.lexsort((progress, look, before))
    changes = np.zeros(len(look), dtype=np.bool_)
    for values in (before, look, progress):
        changes[1:] |= np.diff(values[order]) != 0
    index = np.empty(len(look), dtype=np.intp)
    index[order] = np.cumsum(changes)
    changes[0] = True
    return order[changes], index


def header_along(
    page: PageBox,
    box: HeaderBox,
    current: CurrentLooks,
    scroll: Floats,
    states: tuple[NDArray[np.intp], tuple[HeaderState, ...]],
) -> HeaderSweep:
    """A header along scroll positions at which its states are known.

    Args:
        page: The page.
        box: The header.
        current: Its looks at the positions.
        scroll: The positions.
        states: An index for each position, and the states that they stand for.
    """
    index, result = states
    height = np.array([state.height for state in result])[index]
    stays = np.array([state.stays for state in result])[index]
    shift = np.array([state.shift for state in result])[index]
    own = header_top(box, page, scroll, np.array([state.flow_height for state in result])[index])
    top = np.where(stays, box.inset, own) - shift
    return HeaderSweep(
        box, current.before, current.look, current.progress, index, result, top, height, own
    )


def header_top(box: HeaderBox, page: PageBox, scroll: Floats, height: Floats) -> Floats:
    """The upper edge of the header that stands in the flow, on the screen, in px.

    A sticky header stands at ``min(max(T - s, inset), L - s)``: CSS Positioned Layout 3, 3.4.

    Source: https://www.w3.org/TR/css-position-3/#stickypos-insets
    """
    match box.position:
        case "fixed":
            return np.full_like(scroll, box.inset)
        case "absolute":
            return box.inset - scroll
        case "sticky":
            start, end = _container(box, page, height)
            return np.minimum(np.maximum(start - scroll, box.inset), end - scroll)
        case "static":
            return -scroll


def _container(box: HeaderBox, page: PageBox, height: Floats) -> tuple[float, Floats | float]:
    """Where a sticky header starts in the document, and L, the last place that it can have."""
    # The margin below it takes off its height, where what follows starts under it.
    under = box.starts_under and box.home is None
    held = np.zeros_like(height) if under else height
    if box.hold_space and not under:
        held = np.full_like(height, box.looks[0].height)
    if box.home is not None:
        section = page.flow.boxes[box.home]
        return section.top, section.bottom - held
    if box.container is not None:
        return 0.0, box.container - held
    # Its container is the page: L is the sections' height, since the header's own height and
    # the margin that holds its space are taken off and put on again.
    return 0.0, page.flow.sections_height


def _moment(swept: Sweep, index: int) -> Moment:
    page = swept.page
    one = Sweep(page, swept.scroll[index : index + 1], None, swept.shift[index : index + 1])
    sections = {
        section.name: replace(section.box, top=float(one.top_of(section)[0]), height=section.height)
        for section in page.sections
    }
    layers = tuple(_layer_moment(layer) for layer in one.layers())
    scroll = float(swept.scroll[index])
    header = swept.header
    if header is None:
        return Moment(scroll, None, None, 1.0, None, {}, sections, layers)
    state = header.states[header.state[index]]
    top = float(header.top[index])
    names = header.box.look_names
    return Moment(
        scroll,
        names[header.look[index]],
        names[header.before[index]],
        float(header.progress[index]),
        HeaderMoment(
            Rect(state.left, top, state.width, state.height),
            state.background,
            state.color,
            state,
        ),
        {name: part.box.moved(top=top) for name, part in state.parts.items()},
        sections,
        layers,
    )


def _layer_moment(layer: LayerTrack) -> LayerMoment:
    return LayerMoment(
        layer.section, layer.index, layer.at(0), float(layer.opacity[0]), float(layer.visible[0])
    )
