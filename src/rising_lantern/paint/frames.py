"""Frames: the picture of a moment, assembled from rows of sheets that were painted once."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Sequence

import numpy as np

from rising_lantern.css.backgrounds import Box
from rising_lantern.css.compositing import Bytes, lay_over
from rising_lantern.layout.headers import HeaderBox, LookStyle
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.sections import SectionBox
from rising_lantern.layout.stacking import Level, levels_of
from rising_lantern.paint.fills import paint_color
from rising_lantern.paint.headers import HeaderPatches, blur_behind, paint_header
from rising_lantern.paint.sheets import Sheet, sheets_of
from rising_lantern.plan.files import Picture
from rising_lantern.scroll.moments import HeaderSweep, Sweep

_MOST_HEADERS = 256
_MOST_BYTES = 800_000_000
_GROUND = -1  # in place of a level's index: what the page has behind its sections


class Painter:
    """Paints the frames of one view.

    Sections are painted when they are first seen, headers once for each style that is worn.
    """

    def __init__(self, page: PageBox, pictures: dict[str, Picture]) -> None:
        self._page = page
        self._pictures = pictures
        self._levels = levels_of(page)
        self._places = {section.name: place for place, section in enumerate(page.sections)}
        self._sheets: OrderedDict[int, tuple[Sheet, ...]] = OrderedDict()
        self._headers: OrderedDict[tuple[object, ...], HeaderPatches] = OrderedDict()
        self._canvas = self._color_rows(page)
        width = page.screen.client_width
        # Whether sections hide the page's colour wherever they are, the header above them.
        over = [level.section is None for level in self._levels]
        self._fills = (
            page.ground is None
            and (not any(over) or over[-1])
            and all(
                section.box.left == 0 and section.box.width >= width and section.entry.z == 0
                for section in page.sections
            )
        )

    def frame(self, swept: Sweep, place: int) -> Bytes:
        """The frame at one position of a sweep: RGB, shaped (height, client width, 3)."""
        frame = np.empty((self._page.screen.height, self._page.screen.client_width, 3), np.uint8)
        self._ground(frame, swept, place, (0, len(frame)))
        for index, level in enumerate(self._levels):
            if level.section is not None:
                self._section(frame, swept, place, index, (0, len(frame)))
            elif swept.header is not None:
                self._lay_header(frame, swept.header, place, ground_only=False)
        return frame

    def behind_header(
        self, swept: Sweep, place: int, columns: Sequence[tuple[int, int]] | None = None
    ) -> Bytes:
        """What is behind a header's parts, its own background included.

        Args:
            swept: A sweep.
            place: Which of its positions.
            columns: The stretches of columns, first and after-last, that have to be right; by
                default all.

        Returns:
            RGB rows of the screen from the header's upper edge to its lower one, whole px; no
            rows where it is off the screen.
        """
        frame = np.empty((self._page.screen.height, self._page.screen.client_width, 3), np.uint8)
        header = swept.header
        if header is None:
            return frame[:0]
        top = max(whole_px(float(header.top[place])), 0)
        bottom = min(whole_px(float(header.top[place] + header.height[place])), len(frame))
        if top >= bottom:
            return frame[:0]
        self._ground(frame, swept, place, (top, bottom))
        for index, level in enumerate(self._levels):
            if level.section is None:
                break
            self._section(frame, swept, place, index, (top, bottom))
        self._lay_header(frame, header, place, ground_only=True, columns=columns)
        return frame[top:bottom]

    @property
    def canvas(self) -> Bytes:
        """The page's own colour, as one pixel."""
        return self._canvas

    def sheets_behind(self, place: int) -> tuple[Sheet, ...]:
        """The sheets of a section that are behind the header, the lowest first.

        Args:
            place: The section's place on the page.
        """
        name = self._page.sections[place].name
        found: tuple[Sheet, ...] = ()
        for index, level in enumerate(self._levels):
            if level.section is None:
                break
            if level.section.name == name:
                found += self._sheets_of(index)
        return found

    def _ground(self, frame: Bytes, swept: Sweep, place: int, rows: tuple[int, int]) -> None:
        """Paint some rows of what the page has behind its sections."""
        low, high = rows
        if self._page.ground is not None:
            top = float(swept.ground_top[place])
            for sheet in self._sheets_of(_GROUND):
                _lay(frame, sheet, self._page.ground, top, (swept, place), rows)
            return
        # Sections that fill the width hide it, but above the first and below the last.
        tops = swept.section_tops[place]
        first = max(whole_px(float(tops[0])), low) if self._fills else high
        last = whole_px(float(tops[-1]) + self._page.sections[-1].height) if self._fills else high
        frame[low : min(first, high)] = self._canvas
        frame[max(min(last, high), low) : high] = self._canvas

    def _section(
        self, frame: Bytes, swept: Sweep, place: int, index: int, rows: tuple[int, int]
    ) -> None:
        """Paint some rows of one level of a section."""
        level = self._levels[index]
        section = level.section
        if section is None:
            return
        top = float(swept.section_tops[place, self._places[section.name]])
        rows = max(whole_px(top), rows[0]), min(whole_px(top + section.height), rows[1])
        if rows[0] >= rows[1]:
            return
        sheets = self._sheets_of(index)
        blends = any(sheet.overlay and sheet.overlay.blend != "normal" for sheet in sheets)
        if not (level.is_isolated and blends):
            for sheet in sheets:
                _lay(frame, sheet, section, top, (swept, place), rows)
            return
        # Within a stacking context blends see what is in it and nothing below.
        own = np.zeros((*frame.shape[:2], 4), dtype=np.uint8)
        for sheet in sheets:
            _lay(own, sheet, section, top, (swept, place), rows)
        lay_over(frame[rows[0] : rows[1]], own[rows[0] : rows[1]])

    def _sheets_of(self, index: int) -> tuple[Sheet, ...]:
        """The sheets of a level. Those that were made first are let go when memory is short."""
        made = self._sheets.get(index)
        if made is None:
            ground = Level(0, self._page.ground, grounded=True)
            level = ground if index == _GROUND else self._levels[index]
            made = sheets_of(self._page, level)
            self._sheets[index] = made
            while len(self._sheets) > 1 and self._size() > _MOST_BYTES:
                self._sheets.popitem(last=False)
        return made

    def _size(self) -> int:
        return sum(sheet.size for made in self._sheets.values() for sheet in made)

    def _lay_header(
        self,
        frame: Bytes,
        header: HeaderSweep,
        place: int,
        *,
        ground_only: bool,
        columns: Sequence[tuple[int, int]] | None = None,
    ) -> None:
        style = header.styles[header.style[place]]
        if style.below is not None:
            # It arrives over the first one, which stands where it would stand anyway.
            self._lay_style(frame, header, style.below, float(header.own_top[place]))
        top = float(header.top[place])
        self._lay_style(frame, header, style, top, ground_only=ground_only, columns=columns)

    def _lay_style(
        self,
        frame: Bytes,
        header: HeaderSweep,
        style: LookStyle,
        top: float,
        *,
        ground_only: bool = False,
        columns: Sequence[tuple[int, int]] | None = None,
    ) -> None:
        if style.blur:
            box = Box(header.box.left, top, header.box.width, style.height)
            blur_behind(frame, box, style.blur, columns)
        patches = self._header_patches(header.box, style, top)
        for patch in patches.ground if ground_only else patches.ground + patches.parts:
            patch.lay(frame, (0, int(np.floor(top))), 0, len(frame))

    def _header_patches(self, box: HeaderBox, style: LookStyle, top: float) -> HeaderPatches:
        # Kept with the style itself, which thereby keeps its address.
        key = (id(style), top % 1)
        made = self._headers.get(key)
        if made is None or made.style is not style:
            made = self._headers[key] = paint_header(box, style, top, self._pictures)
            if len(self._headers) > _MOST_HEADERS:
                self._headers.popitem(last=False)
        return made

    @staticmethod
    def _color_rows(page: PageBox) -> Bytes:
        """The colour of the page where no section is."""
        pixel = np.full((1, 1, 3), 255, dtype=np.uint8)
        paint_color(pixel, page.background)
        return pixel


def _lay(
    frame: Bytes,
    sheet: Sheet,
    section: SectionBox,
    top: float,
    at: tuple[Sweep, int],
    rows: tuple[int, int],
) -> None:
    """Lay a sheet of a section onto some rows of a frame, within its clip.

    Args:
        frame: Opaque RGB, or premultiplied RGBA.
        sheet: The sheet.
        section: The section that it belongs to.
        top: The section's upper edge on the screen, in px.
        at: A sweep, and which of its positions.
        rows: The first row that may change, and the one after the last.
    """
    clip = sheet.clip
    rows = max(whole_px(top + clip.top), rows[0]), min(whole_px(top + clip.bottom), rows[1])
    left = section.box.left + clip.left
    first = min(max(whole_px(left), 0), frame.shape[1])
    last = min(max(whole_px(left + clip.width), first), frame.shape[1])
    swept, place = at
    scroll = float(swept.scroll[place])
    x, y = (float(edge) for edge in sheet.motion.origin(top, scroll))
    window = frame[:, first:last]
    if sheet.overlay:
        opacity, size = float(sheet.motion.opacity(scroll)), float(sheet.motion.scale(scroll))
        arrival = swept.arrivals.get(sheet.arrives) if sheet.arrives else None
        if arrival:
            x, y = x + float(arrival.x[place]), y + float(arrival.y[place])
            opacity *= float(arrival.opacity[place])
        sheet.overlay.lay(window, (x - first, y), rows, opacity, size)
    for patch in sheet.patches:
        patch.lay(window, (whole_px(x) - first, whole_px(y)), *rows)
