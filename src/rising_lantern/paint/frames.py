"""Frames: the picture of a moment, assembled from rows of sheets that were painted once."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Iterator, Sequence
from dataclasses import replace
from functools import cached_property
from operator import attrgetter

import numpy as np

from rising_lantern.base.arrays import Floats
from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.compositing import Bytes, lay_over
from rising_lantern.layout.items import ContentBox, FigureBox, Item
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.sections import SectionBox
from rising_lantern.layout.stacking import Level, levels_of, lower_sections
from rising_lantern.paint.fills import paint_color
from rising_lantern.paint.headers import HeaderPatches, Region, blur_behind, reach_of
from rising_lantern.paint.laying import SheetTrack, lay_sheet, track_of
from rising_lantern.paint.sheets import Sheet, sheets_of
from rising_lantern.paint.shelf import Shelf
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.scroll.moments import HeaderSweep, Sweep
from rising_lantern.scroll.states import HeaderState

_MOST_HEADERS = 256
_MOST_BYTES = 250_000_000  # of sheets that are kept as they are laid
_MOST_STORED = 320_000_000  # of bands of larger ones
_GROUND = -1  # in place of a level's index: what the page has behind its sections


class Painter:
    """Paints the frames of one view.

    Sections are painted when they are first seen, headers once for each of their states.
    """

    def __init__(self, page: PageBox, pictures: dict[str, Picture]) -> None:
        self._page = page
        self._pictures = pictures
        self._levels = levels_of(page)
        self._places = {section.name: index for index, section in enumerate(page.sections)}
        self._sheets: OrderedDict[tuple[int, int], tuple[Sheet, ...]] = OrderedDict()
        self._size = 0  # of those, in bytes
        self._headers: OrderedDict[tuple[object, ...], HeaderPatches] = OrderedDict()
        self._canvas = self._color_row(page)
        self._tracks: dict[int, tuple[Sheet, SheetTrack]] = {}
        self._tracked: Sweep | None = None
        self._shelf = Shelf[Bytes](_MOST_STORED, attrgetter("nbytes"))

    def frame(self, swept: Sweep, position: int, rows: int | None = None) -> Bytes:
        """The frame at one position of a sweep: RGB, shaped (height, client width, 3).

        Args:
            swept: A sweep.
            position: Which of its positions.
            rows: How many of its rows are painted, from the top; by default all.
        """
        frame = np.empty_like(self._room[:rows])
        whole = (0, *frame.shape[:1], 0, frame.shape[1])
        seen = self._visible_levels(swept, position)
        self._ground(frame, swept, position, whole, seen)
        for index in seen:
            if self._levels[index].section is not None:
                self._section(frame, swept, position, index, whole)
            elif swept.header is not None:
                self._lay_header(frame, swept, position, ground_only=False)
        return frame

    def behind_header(
        self, swept: Sweep, position: int, region: Region, *, bare: bool = False
    ) -> Bytes:
        """What is behind a header's parts, its own background included.

        Args:
            swept: A sweep.
            position: Which of its positions.
            region: The part of the screen that is wanted, within the header.
            bare: Whether the header's own background is left out.

        Returns:
            RGB, as large as the region; overwritten by what is painted next.
        """
        frame, header = self._room, swept.header
        first, last, left, right = region
        if header is None or first >= last or left >= right:
            return frame[:0, :0]
        wide = region if bare else self._blur_source(header, position, region)
        below = [
            index for index in self._visible_levels(swept, position) if index < self._header_level
        ]
        self._ground(frame, swept, position, wide, below)
        for index in below:
            self._section(frame, swept, position, index, wide)
        if not bare:
            self._lay_header(frame, swept, position, ground_only=True, wanted=region)
        return frame[first:last, left:right]

    def _blur_source(self, header: HeaderSweep, position: int, region: Region) -> Region:
        """The region of the screen that a region of a header takes its pixels from."""
        state, frame = header.states[header.state[position]], self._room
        first, last, left, right = region
        tops = float(header.top[position]), float(header.own_top[position])
        for one, top in zip((state, state.below), tops, strict=True):
            if one is not None and one.blur:
                reach = reach_of(one.blur)
                first = max(min(first, whole_px(top)), 0)
                last = min(max(last, whole_px(top + one.height)), len(frame))
                left, right = max(left - reach, 0), min(right + reach, frame.shape[1])
        return first, last, left, right

    def page_rows(self, swept: Sweep, position: int, first: int, last: int) -> Bytes:
        """Some rows of the screen without the header: RGB, shaped (rows, client width, 3).

        They are overwritten by what is painted next.

        Args:
            swept: A sweep.
            position: Which of its positions.
            first: The first row; rows outside the screen are left out.
            last: The row after the last one.
        """
        frame = self._room
        first, last = max(first, 0), min(last, len(frame))
        if first >= last:
            return frame[:0]
        region = (first, last, 0, frame.shape[1])
        seen = self._visible_levels(swept, position)
        self._ground(frame, swept, position, region, seen)
        for index in seen:
            self._section(frame, swept, position, index, region)
        return frame[first:last]

    def behind_text(
        self, swept: Sweep, position: int, section: int, text: int, region: Region
    ) -> Bytes:
        """What is behind the letters of a text, at rest; what lies over it does not count.

        Args:
            swept: A sweep.
            position: Which of its positions.
            section: The place of the text's section on the page.
            text: The text's place in the section.
            region: The part of the screen that is wanted.

        Returns:
            RGB, as large as the region; overwritten by what is painted next.
        """
        frame = self._room
        own = self.level_of(section, text)
        below = [index for index in self._visible_levels(swept, position) if index < own]
        self._ground(frame, swept, position, region, below)
        for index in below:
            if self._levels[index].section is not None:
                self._section(frame, swept, position, index, region)
            elif swept.header is not None:
                self._lay_header(frame, swept, position, ground_only=False)
        sheets = self.sheets_below(section, text)
        self._section(frame, swept, position, own, region, sheets)
        first, last, left, right = region
        return frame[first:last, left:right]

    def level_of(self, section: int, text: int) -> int:
        """The place, among the page's levels, of the one that a text belongs to."""
        box = self._page.sections[section].content[text]
        return next(
            index
            for index, level in enumerate(self._levels)
            if any(item is box for item in (*level.behind, *level.content))
        )

    def is_lowest(self, section: int, text: int) -> bool:
        """Whether nothing lies below a text but what its own section paints in one go with it."""
        own = self.level_of(section, text)
        name = self._page.sections[section].name
        below = self._levels[:own]
        if lower_sections(self._page, self._page.sections[section]):
            return False
        return self._levels[own].grounded and not any(
            level.section is None or level.section.name == name for level in below
        )

    def sheets_below(self, section: int, text: int) -> tuple[Sheet, ...]:
        """The sheets of a text's level, the lowest first, without its letters and all above it.

        Args:
            section: The place of the text's section on the page.
            text: The text's place in the section.
        """
        own = self.level_of(section, text)
        level, box = self._levels[own], self._page.sections[section].content[text]
        texts = (*level.behind, *level.content)
        if _is_apart(box, texts):
            # All texts that touch no other one share what is painted without any letters.
            return self._kept(
                (own, 0),
                level,
                tuple(
                    item
                    for item in texts
                    if isinstance(item, ContentBox) and _is_apart(item, texts)
                ),
            )
        below = texts[: next(index for index, item in enumerate(texts) if item is box) + 1]
        behind = tuple(item for item in level.behind if any(item is other for other in below))
        cut = replace(level, behind=behind, content=below[len(behind) :])
        return self._kept((own, text + 1), cut, (box,))

    @property
    def canvas(self) -> Bytes:
        """The page's own colour, as one pixel."""
        return self._canvas[:, :1]

    def sheets_behind(self, position: int) -> tuple[Sheet, ...]:
        """The sheets of a section that are behind the header, the lowest first.

        Args:
            position: The section's index on the page.
        """
        name = self._page.sections[position].name
        found: tuple[Sheet, ...] = ()
        for index, level in enumerate(self._levels[: self._header_level]):
            if level.section is not None and level.section.name == name:
                found += self._sheets_of(index)
        return found

    @cached_property
    def _room(self) -> Bytes:
        """A frame's room for what is painted to be measured."""
        return np.empty((self._page.screen.height, self._page.screen.client_width, 3), np.uint8)

    @cached_property
    def _header_level(self) -> int:
        """The place of the header among the levels; their number where there is none."""
        places = [index for index, level in enumerate(self._levels) if level.section is None]
        return places[0] if places else len(self._levels)

    def _visible_levels(self, swept: Sweep, position: int) -> list[int]:
        """The places of the levels that are on the screen at a position, the lowest first.

        The header's always is among them.
        """
        first = -float(swept.shift[position])
        last = first + self._page.screen.height
        # With a px to spare: edges are snapped where they are painted.
        seen = (self._level_tops < last + 1) & (self._level_ends > first - 1)
        return [int(index) for index in np.flatnonzero(seen)]

    @cached_property
    def _level_tops(self) -> Floats:
        """Where each level starts in the document; the header's before all else."""
        return np.array([s.section.top if s.section else -np.inf for s in self._levels])

    @cached_property
    def _level_ends(self) -> Floats:
        """Where each level ends in the document; the header's after all else."""
        return np.array(
            [s.section.top + s.section.height if s.section else np.inf for s in self._levels]
        )

    def _ground(
        self, frame: Bytes, swept: Sweep, index: int, region: Region, levels: Sequence[int]
    ) -> None:
        """Paint a region of what the page has behind its sections.

        Args:
            frame: The frame.
            swept: A sweep.
            index: Which of its positions.
            region: What of the frame is wanted.
            levels: The places of the levels that are going to be painted over it.
        """
        low, high, left, right = region
        if self._page.ground is not None:
            frame[low:high, left:right] = self._canvas[:, left:right]
            top = -float(swept.scroll[index])
            for sheet in self._sheets_of(_GROUND):
                track = self._track(sheet, swept, None)
                lay_sheet(frame, sheet, self._page.ground, top, track.at(index), region)
            return
        # The page's colour, except where the lowest sheet of a section hides it anyway.
        row = low
        for first, last in sorted(self._hidden_rows(swept, index, region, levels)):
            frame[row : max(first, row), left:right] = self._canvas[:, left:right]
            row = max(row, last)
        frame[row:high, left:right] = self._canvas[:, left:right]

    def _hidden_rows(
        self, swept: Sweep, position: int, region: Region, levels: Sequence[int]
    ) -> Iterator[tuple[int, int]]:
        """The first and after-last rows of a region that sheets hide over all of its columns."""
        for index in levels:
            level = self._levels[index]
            section = level.section
            if section is None or not level.grounded or level.is_isolated:
                continue
            top = section.top + float(swept.shift[position])
            first = max(whole_px(top), region[0])
            last = min(whole_px(top + section.height), region[1])
            wide = section.box.left <= region[2] and section.box.right >= region[3]
            if first < last and wide:
                sheets = self._sheets_of(index)
                if sheets and sheets[0].hides:
                    yield first, last

    def _section(
        self,
        frame: Bytes,
        swept: Sweep,
        position: int,
        index: int,
        region: Region,
        sheets: tuple[Sheet, ...] | None = None,
    ) -> None:
        """Paint a region of one level of a section, with its own sheets or others."""
        level = self._levels[index]
        section = level.section
        if section is None:
            return
        top = section.top + float(swept.shift[position])
        first = max(whole_px(top), region[0])
        last = min(whole_px(top + section.height), region[1])
        if first >= last:
            return
        region = (first, last, *region[2:])
        sheets = self._sheets_of(index) if sheets is None else sheets
        blends = any(sheet.overlay and sheet.overlay.blend != "normal" for sheet in sheets)
        if not (level.is_isolated and blends):
            for sheet in sheets:
                track = self._track(sheet, swept, section)
                lay_sheet(frame, sheet, section, top, track.at(position), region)
            return
        # Within a stacking context blends see what is in it and nothing below.
        own = np.zeros((*frame.shape[:2], 4), dtype=np.uint8)
        for sheet in sheets:
            track = self._track(sheet, swept, section)
            lay_sheet(own, sheet, section, top, track.at(position), region)
        lay_over(frame[first:last], own[first:last])

    def _track(self, sheet: Sheet, swept: Sweep, section: SectionBox | None) -> SheetTrack:
        """Where a sheet of a section, or of the ground, stands along a sweep; computed once."""
        if swept is not self._tracked:
            self._tracked, self._tracks = swept, {}
        kept = self._tracks.get(id(sheet))
        if kept is None or kept[0] is not sheet:
            tops = swept.top_of(section) if section else swept.ground_top
            kept = self._tracks[id(sheet)] = sheet, track_of(sheet, swept, tops)
        return kept[1]

    def _sheets_of(self, index: int) -> tuple[Sheet, ...]:
        """The sheets of a level, with all that it paints."""
        ground = Level(0, self._page.ground, grounded=True)
        return self._kept((index, -1), ground if index == _GROUND else self._levels[index])

    def _kept(
        self, key: tuple[int, int], level: Level, bare: tuple[ContentBox, ...] = ()
    ) -> tuple[Sheet, ...]:
        """Sheets by a key. Those that were made first are let go when memory is short."""
        result = self._sheets.get(key)
        if result is None:
            result = sheets_of(self._page, level, self._shelf, bare)
            self._sheets[key] = result
            self._size += sum(sheet.size for sheet in result)
            while len(self._sheets) > 1 and self._size > _MOST_BYTES:
                for sheet in self._sheets.popitem(last=False)[1]:
                    self._size -= sheet.size
                    self._tracks.pop(id(sheet), None)
        return result

    def _lay_header(
        self,
        frame: Bytes,
        swept: Sweep,
        index: int,
        *,
        ground_only: bool,
        wanted: Region | None = None,
    ) -> None:
        header = swept.header
        if header is None:
            return
        state = header.states[header.state[index]]
        home = self._header_home(swept, header, index, frame)
        if state.below is not None:
            # It arrives over the first one, which stands where it would stand anyway.
            around = wanted and self._blur_source(header, index, wanted)
            self._lay_state(home, state.below, float(header.own_top[index]), wanted=around)
        top = float(header.top[index])
        window = frame if state.stays else home
        self._lay_state(window, state, top, ground_only=ground_only, wanted=wanted)

    def _header_home(self, swept: Sweep, header: HeaderSweep, index: int, frame: Bytes) -> Bytes:
        """The rows of a frame that the header can be seen on: a section cuts off what is in it.

        Rows above it stay, so that they count from the screen's upper edge.
        """
        if header.box.home is None:
            return frame
        section = self._page.sections[self._places[header.box.home]]
        bottom = section.top + float(swept.shift[index]) + section.height
        return frame[: max(whole_px(bottom), 0)]

    def _lay_state(
        self,
        frame: Bytes,
        state: HeaderState,
        top: float,
        *,
        ground_only: bool = False,
        wanted: Region | None = None,
    ) -> None:
        if state.blur:
            box = Rect(state.left, top, state.width, state.height)
            blur_behind(frame, box, state.blur, wanted)
        painted = self._header_patches(state, top)
        low, high, left, right = wanted or (0, len(frame), 0, frame.shape[1])
        is_within = state.left <= left and right <= state.left + state.width
        patches = () if ground_only and wanted and is_within else painted.shadow
        patches += painted.ground if ground_only else painted.ground + painted.parts
        for patch in patches:
            place = -left, int(np.floor(top))
            patch.lay(frame[:, left:right], place, low, min(high, len(frame)))

    def _header_patches(self, state: HeaderState, top: float) -> HeaderPatches:
        # Kept with the state itself, so that no other one gets its address.
        key = (id(state), top % 1)
        result = self._headers.get(key)
        if result is None or result.state is not state:
            result = self._headers[key] = HeaderPatches(state, top, self._pictures)
            if len(self._headers) > _MOST_HEADERS:
                self._headers.popitem(last=False)
        return result

    @staticmethod
    def _color_row(page: PageBox) -> Bytes:
        """A row of the colour of the page where no section is; rows are copied faster than px."""
        row = np.full((1, page.screen.client_width, 3), 255, dtype=np.uint8)
        paint_color(row, page.background)
        return row


def _is_apart(text: ContentBox, items: tuple[Item, ...]) -> bool:
    """Whether a text touches no other content, wherever the page is scrolled.

    What has no letters may lie below it, as the box does that it is in.
    """
    own = next(place for place, item in enumerate(items) if item is text)
    return not any(
        _touches(other, text)
        for place, other in enumerate(items)
        if other is not text and not _carries(other, text, below=place < own)
    )


def _carries(other: Item, text: ContentBox, *, below: bool) -> bool:
    """Whether something without letters lies below a text and moves with it."""
    return below and isinstance(other, FigureBox) and other.motion == text.motion


def _touches(other: Item, text: ContentBox) -> bool:
    return other.motion != text.motion or (
        other.box.left < text.box.right
        and text.box.left < other.box.right
        and other.box.top < text.box.bottom
        and text.box.top < other.box.bottom
    )
