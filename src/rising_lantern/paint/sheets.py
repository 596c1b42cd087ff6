"""Sheets: what a section paints, one sheet for each way in which it moves.

A section's background, layers and content, from the lowest to the topmost, are laid together as
long as they move together. Laying over is associative, so a colour all over, whose motion cannot
be seen, joins whatever is just below it. What blends, fades or grows is kept apart, and mixed
with what is below it frame by frame.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import WHITE, Color
from rising_lantern.css.compositing import Bytes
from rising_lantern.errors import RequestError
from rising_lantern.layout.items import ContentBox, FigureBox, Item
from rising_lantern.layout.motion import Motion
from rising_lantern.layout.pages import PageBox
from rising_lantern.layout.sections import LayerBox, SectionBox
from rising_lantern.layout.stacking import Level, levels_of, lower_sections
from rising_lantern.paint.areas import Area, Backing, Group, Paintable, painted_box
from rising_lantern.paint.overlays import Overlay
from rising_lantern.paint.patches import Patch, StoredPatch
from rising_lantern.paint.shelf import Shelf

_SPARE = 2
_MOST_AREA = 200_000_000  # px of a layer that may be as large as it likes
_MOST_BYTES = 288_000_000  # of a level's sheets that are kept whole


@dataclass(frozen=True, slots=True)
class PixelRect:
    """Whole px, from the corner of a sheet's area."""

    left: int
    top: int
    width: int
    height: int


@dataclass(frozen=True, slots=True)
class Sheet:
    """Pixels of a section that move together.

    Attributes:
        motion: How they move, and the area that they are painted over.
        clip: The part of the section that they are seen in, from its upper left corner.
        patches: The pixels, from the sheet's first row, which stands at the area's top.
        overlay: The pixels of a sheet that blends, fades or grows, in place of the patches.
        arrives: The section and place of the text that it is, where that arrives in time.
        hides: Whether nothing shows through it anywhere in its section, wherever that stands.
    """

    motion: Motion
    clip: Rect
    patches: tuple[Patch, ...] | tuple[StoredPatch, ...] = ()
    overlay: Overlay | None = None
    arrives: tuple[str, int] | None = None
    hides: bool = False

    @property
    def size(self) -> int:
        """How many bytes it takes up."""
        own = self.overlay.size if self.overlay else 0
        return own + sum(patch.size for patch in self.patches)

    @property
    def opaque(self) -> PixelRect | None:
        """The rectangle that all of its patches together cover, nothing showing through; or None.

        From the corner of its area.
        """
        if not self.patches or self.overlay:
            return None
        first, last = self.patches[0], self.patches[-1]
        row = first.top
        for patch in self.patches:
            alike = (patch.left, patch.width) == (first.left, first.width)
            if not (patch.is_opaque and alike and patch.top == row):
                return None
            row += patch.height
        return PixelRect(first.left, first.top, first.width, last.top + last.height - first.top)

    def colors(self, rows: tuple[int, int], columns: tuple[int, int]) -> Iterator[Bytes]:
        """The colours of a part of the rectangle that it covers, from its corner, in pieces.

        Args:
            rows: The first row and the one after the last.
            columns: The same across.

        Yields:
            RGB pixels, from top to bottom.
        """
        row = 0
        for patch in self.patches:
            low, high = max(rows[0] - row, 0), min(rows[1] - row, patch.height)
            if low < high:
                yield patch.colors(slice(low, high), slice(*columns))
            row += patch.height


@dataclass(frozen=True, slots=True)
class _Thing:
    """One thing to paint. A motion of None is that of whatever is below it."""

    what: Paintable
    motion: Motion | None
    clip: Rect
    blend: BlendMode = "normal"
    arrives: tuple[str, int] | None = None

    @property
    def strays(self) -> bool:
        """Whether its area leaves its section: that of a layer covers it wherever it stands."""
        is_content = isinstance(self.what, ContentBox | FigureBox | Backing)
        return is_content and self.motion is not None and self.motion.speed != 1


def sheets_of(
    page: PageBox, level: Level, shelf: Shelf[Bytes], bare: tuple[ContentBox, ...] = ()
) -> tuple[Sheet, ...]:
    """The sheets of a level, the lowest first.

    Args:
        page: The page.
        level: The level.
        shelf: Where bands of those are kept that are too large to be painted at once.
        bare: Texts whose letters are left out.

    Raises:
        RequestError: If a layer moves so fast that its area is far larger than its section.
    """
    section = level.section
    if section is None:
        return ()
    things = _things(page, section, level, bare)
    groups = _group(section, things) if things else []
    _refuse_endless(page, section, groups)
    # A page without layers of its own gives its sections its colour to lie on.
    basis, solid = page.screen.basis(), _is_solid(things[:1])
    sheets, kept = list[Sheet](), 0
    for index, group in enumerate(groups):
        whole = not group.is_large and kept < _MOST_BYTES
        area = Area(basis, group, None if whole else shelf, solid and not index)
        sheet = _lowest(area) if area.is_solid else _upper(area)
        sheets.append(replace(sheet, hides=_hides(section, sheet, group)))
        kept += sheet.size
    # What lies under an opaque sheet is never seen.
    hiding = [index for index, sheet in enumerate(sheets) if sheet.hides]
    return tuple(sheets[max(hiding, default=0) :])


def _refuse_endless(page: PageBox, section: SectionBox, groups: list[Group]) -> None:
    """Refuse an area that motion has made far larger than anything that is seen of it."""
    most = max(_MOST_AREA, 2 * section.box.width * section.height)
    for group in groups:
        if group.motion.width * group.motion.height > most:
            size = f"{group.motion.width:,.0f} x {group.motion.height:,.0f} px"
            raise RequestError(
                f"section '{section.name}' of page '{page.page}' at '{page.viewport}' has a layer "
                f"that takes {size} to paint: slow it down, or split the section"
            )


def _things(
    page: PageBox, section: SectionBox, level: Level, bare: tuple[ContentBox, ...]
) -> list[_Thing]:
    """What a level paints, the lowest first."""
    whole = replace(section.box, left=0.0, top=0.0)
    still = _still(section)
    things: list[_Thing] = []
    if level.grounded:
        on_canvas = page.ground is None or page.ground is section
        if on_canvas and not level.is_isolated and not _is_over_something(page, section, level):
            # The browser's own canvas is white.
            things += [_Thing(WHITE, None, whole), _Thing(page.background, None, whole)]
        if section.background:
            things.append(_Thing(section.background, None, whole))
    things += _texts(section, level.behind, bare)
    if level.grounded:
        things += [_layer_thing(layer) for layer in reversed(section.layers)]
        if section.border:
            things.append(_Thing(section, still, whole))
    return things + _texts(section, level.content, bare)


def _is_over_something(page: PageBox, section: SectionBox, level: Level) -> bool:
    """Whether something is below a level that may show through it.

    That is the header, texts of the section, or another section that it overlaps.
    """
    return bool(lower_sections(page, section)) or any(
        (item.section is None or item.section is section)
        and (item.z, item.section is not None) < (level.z, True)
        for item in levels_of(page)
    )


def _layer_thing(layer: LayerBox) -> _Thing:
    motion = None if layer.is_uniform else layer.motion
    return _Thing(layer, motion, layer.clip, layer.blend)


def _texts(
    section: SectionBox, contents: tuple[Item, ...], bare: tuple[ContentBox, ...]
) -> list[_Thing]:
    whole, things = replace(section.box, left=0.0, top=0.0), list[_Thing]()
    for content in contents:
        placed = _with_room(content, section)
        if isinstance(placed, FigureBox):
            things.append(_Thing(placed, placed.motion, whole))
        elif all(content is not item for item in bare):
            arrives = _arrival_of(content, section)
            things.append(_Thing(placed, placed.motion, whole, placed.blend, arrives))
        elif placed.panel or placed.shadows:
            # Seen at rest, where it has arrived.
            things.append(_Thing(Backing(placed), placed.motion, whole, placed.blend))
    return things


def _with_room(item: Item, section: SectionBox) -> Item:
    """Content in an area that holds all of it.

    What moves at a speed of its own is cut off by its section where it is, not where it rests: a
    part that rests outside of the section can come into it.
    """
    if not item.moves:
        return item
    seen = painted_box(item)
    left, top = (max(math.ceil(-place), 0) for place in (seen.left, seen.top))
    right = max(math.ceil(seen.right - section.box.width), 0)
    bottom = max(math.ceil(seen.bottom - section.height), 0)
    motion = replace(
        item.motion,
        left=item.motion.left - left,
        top=item.motion.top - top,
        width=item.motion.width + left + right,
        height=item.motion.height + top + bottom,
    )
    return replace(item.moved(left, top), motion=motion)


def _arrival_of(content: Item, section: SectionBox) -> tuple[str, int] | None:
    """The section and place of a text that arrives in time; None for other content."""
    if not (isinstance(content, ContentBox) and content.entrance):
        return None
    place = next(index for index, item in enumerate(section.content) if item is content)
    return section.name, place


def _still(section: SectionBox) -> Motion:
    return Motion(1.0, 0.0, section.box.left, 0.0, section.box.width, section.height)


def _is_solid(things: list[_Thing]) -> bool:
    """Whether the lowest of some things is a colour through which nothing shows."""
    return bool(things) and isinstance(things[0].what, Color) and things[0].what.alpha == 1


def _group(section: SectionBox, things: list[_Thing]) -> list[Group]:
    """Things in runs that are painted as one."""
    solid = _is_solid(things)
    runs: list[list[_Thing]] = []
    for thing in things:
        # On a solid ground a blend is done once for all; elsewhere it needs what is below.
        once = solid and len(runs) == 1
        joins = bool(runs) and _joins(runs[-1], thing)
        if joins and (once or thing.blend == runs[-1][-1].blend == "normal"):
            runs[-1].append(thing)
        else:
            runs.append([thing])
    still = _still(section)
    return [
        Group(
            next((thing.motion for thing in run if thing.motion), still),
            run[0].clip,
            run[0].blend if len(run) == 1 else "normal",
            tuple(thing.what for thing in run),
            run[0].arrives,
        )
        for run in runs
    ]


def _joins(run: list[_Thing], thing: _Thing) -> bool:
    """Whether a thing moves with those below it."""
    moving = next((item.motion for item in run if item.motion), None)
    apart = any(item and item.path for item in (moving, thing.motion))
    alike = moving is None or thing.motion is None or moving == thing.motion
    # What is the same all over its section cannot go with what leaves it.
    if any(item.strays for item in (*run, thing)) and any(
        item.motion is None for item in (*run, thing)
    ):
        return False
    arrives = run[-1].arrives or thing.arrives
    return alike and not apart and not arrives and run[0].clip == thing.clip


def _lowest(area: Area) -> Sheet:
    """The sheet that all others lie on: opaque, painted as one."""
    group = area.group
    # A moving sheet stands between px; its edges serve where rounding reaches beyond.
    spare = 0 if group.motion.is_on_whole_px else _SPARE
    return Sheet(group.motion, group.clip, area.patches(group.things, spare))


def _upper(area: Area) -> Sheet:
    """A sheet that others show through: each thing by itself, so that few pixels are laid."""
    group = area.group
    if group.blend != "normal" or group.motion.path or group.arrives:
        return Sheet(group.motion, group.clip, overlay=area.overlay(), arrives=group.arrives)
    patches = [patch for thing in group.things for patch in area.patches((thing,))]
    return Sheet(group.motion, group.clip, tuple(patches))  # type: ignore[arg-type]


def _hides(section: SectionBox, sheet: Sheet, group: Group) -> bool:
    """Whether a sheet is opaque all over its area, and its area always over the section."""
    held = any(isinstance(thing, ContentBox | FigureBox | Backing) for thing in group.things)
    strays = held and group.motion.speed != 1
    whole = (sheet.clip.width, sheet.clip.height) == (section.box.width, section.height)
    covered = sheet.opaque
    if covered is None or strays or not whole:
        return False
    tall = covered.top <= 0 and covered.top + covered.height >= math.ceil(sheet.motion.height)
    right = covered.left + covered.width
    return tall and covered.left <= 0 and right >= math.ceil(sheet.motion.width)
