"""Frames: the picture of a moment, assembled from rows of sheets that were painted once."""

from __future__ import annotations

from collections import OrderedDict

import numpy as np

from rising_lantern.css.compositing import Bytes
from rising_lantern.layout.pages import PageBox, SectionBox
from rising_lantern.layout.screen import whole_px
from rising_lantern.paint.fills import paint_color
from rising_lantern.paint.headers import HeaderPatches, paint_header
from rising_lantern.paint.sheets import Sheet, sheets_of
from rising_lantern.plan.files import Picture
from rising_lantern.scroll.moments import HeaderSweep, Sweep

_MOST_HEADERS = 256
_MOST_BYTES = 800_000_000


class Painter:
    """Paints the frames of one view.

    Sections are painted when they are first seen, headers once for each style that is worn.
    """

    def __init__(self, page: PageBox, pictures: dict[str, Picture]) -> None:
        self._page = page
        self._pictures = pictures
        self._sheets: OrderedDict[str, tuple[Sheet, ...]] = OrderedDict()
        self._headers: OrderedDict[tuple[object, ...], HeaderPatches] = OrderedDict()
        self._canvas = self._color_rows(page)

    def frame(self, swept: Sweep, place: int) -> Bytes:
        """The frame at one position of a sweep: RGB, shaped (height, client width, 3)."""
        frame = np.empty((self._page.screen.height, self._page.screen.client_width, 3), np.uint8)
        self._paint(frame, swept, place, 0, len(frame))
        if swept.header is not None:
            self._lay_header(frame, swept.header, place, ground_only=False)
        return frame

    def behind_header(self, swept: Sweep, place: int) -> Bytes:
        """What is behind a header's parts, its own background included.

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
        self._paint(frame, swept, place, top, bottom)
        self._lay_header(frame, header, place, ground_only=True)
        return frame[top:bottom]

    def _paint(self, frame: Bytes, swept: Sweep, place: int, low: int, high: int) -> None:
        """Paint the sections into some rows of a frame."""
        reached = low
        for section, top in zip(self._page.sections, swept.section_tops[place], strict=True):
            first = max(whole_px(float(top)), low)
            last = min(whole_px(float(top + section.height)), high)
            if first >= last:
                continue
            if first > reached:
                frame[reached:first] = self._canvas
            for sheet in self._sheets_of(section):
                left, above = sheet.motion.origin(top)
                at = (whole_px(float(left)), whole_px(float(above)))
                for patch in sheet.patches:
                    patch.lay(frame, at, first, last)
            reached = last
        if reached < high:
            frame[reached:high] = self._canvas

    def _sheets_of(self, section: SectionBox) -> tuple[Sheet, ...]:
        """The sheets of a section. Those that were made first are let go when memory is short."""
        made = self._sheets.get(section.name)
        if made is None:
            made = sheets_of(self._page, section, self._pictures)
            self._sheets[section.name] = made
            while len(self._sheets) > 1 and self._size() > _MOST_BYTES:
                self._sheets.popitem(last=False)
        return made

    def _size(self) -> int:
        sheets = (sheet for made in self._sheets.values() for sheet in made)
        return sum(patch.size for sheet in sheets for patch in sheet.patches)

    def _lay_header(
        self, frame: Bytes, header: HeaderSweep, place: int, *, ground_only: bool
    ) -> None:
        top = float(header.top[place])
        patches = self._header_patches(header, place, top)
        for patch in patches.ground if ground_only else patches.ground + patches.parts:
            patch.lay(frame, (0, int(np.floor(top))), 0, len(frame))

    def _header_patches(self, header: HeaderSweep, place: int, top: float) -> HeaderPatches:
        key = (int(header.look[place]), float(header.progress[place]), top % 1)
        made = self._headers.get(key)
        if made is None:
            style = header.styles[header.style[place]]
            made = self._headers[key] = paint_header(header.box, style, top, self._pictures)
            if len(self._headers) > _MOST_HEADERS:
                self._headers.popitem(last=False)
        return made

    @staticmethod
    def _color_rows(page: PageBox) -> Bytes:
        """The colour of the page where no section is."""
        pixel = np.full((1, 1, 3), 255, dtype=np.uint8)
        paint_color(pixel, page.background)
        return pixel
