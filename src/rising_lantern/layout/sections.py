"""A section at a viewport: its layers in their positioning areas, and what stands over them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from rising_lantern.css.backgrounds import Position, Rect, Tiles, tiles
from rising_lantern.css.blendmodes import BlendMode
from rising_lantern.css.colors import BLACK, TRANSPARENT, Color
from rising_lantern.css.filters import Filter
from rising_lantern.css.regions import Region
from rising_lantern.layout.content import Materials, Standing, lay_out_content
from rising_lantern.layout.flow import Flow
from rising_lantern.layout.fonts import ENGLISH, FontBook, Script
from rising_lantern.layout.items import ContentBox, Item
from rising_lantern.layout.motion import Course, Motion, Reach, motion_of
from rising_lantern.layout.paths import Path, PathPoint
from rising_lantern.layout.slides import SlideTiming, run_of
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.base import Tone
from rising_lantern.plan.models.content import LinkColors
from rising_lantern.plan.models.fills import Fill
from rising_lantern.plan.models.layers import BoxName, Layer
from rising_lantern.plan.models.pages import Section

Instant = tuple[float, int]
"""The time since a page was opened, in ms, and by how many slides those that change are ahead."""

_AT_REST = 0  # the look of the header at the top of the page
_COVERS_PX = 1e-6


@dataclass(frozen=True, slots=True)
class LayerBox:
    """A layer of a section.

    Attributes:
        motion: Its positioning area, and where that stands on the screen along the scroll.
        clip: The part of the section that it is seen in, from the section's upper left corner.
        name: The picture that it shows, by its name in the plan; None for a fill.
        picture: The same as a file.
        natural: Its natural size in CSS px; None for a fill.
        size: Width and height of the picture, in CSS px.
        across: Copies of the picture along x, from the area's left edge.
        down: Copies along y, from the area's upper edge.
        position: As CSS ``background-position``.
        focus: The part of the picture that must be seen; None for none.
        fill: Its colour or gradient; None for a picture.
        slides: The names of the pictures of which one is showing, a video among them; none for a
            fill.
        run: How they follow each other in time; None where they do not.
        video: The name of its video; None without one.
        opacity: 0 to 1.
        filters: As CSS ``filter``.
        blend: As CSS ``mix-blend-mode``.
        is_uniform: Whether it is one colour all over for good, so that its motion cannot be seen.
        tones: The tone of its section while each of its slides shows; None for the section's own.
        tone: That of the slide that shows.
    """

    motion: Motion
    clip: Rect
    name: str | None
    picture: Picture | None
    natural: tuple[int, int] | None
    size: tuple[float, float]
    across: Tiles
    down: Tiles
    position: Position
    focus: Region | None
    fill: Fill | None
    slides: tuple[str, ...]
    run: SlideTiming | None
    video: str | None
    opacity: float
    filters: tuple[Filter, ...]
    blend: BlendMode
    is_uniform: bool
    tones: tuple[Tone | None, ...] = ()
    tone: Tone | None = None

    @property
    def order(self) -> tuple[int, ...]:
        """The numbers of its slides, from the one that shows on and round to it."""
        count = len(self.slides)
        first = self.slides.index(self.name) if self.name in self.slides else 0
        return tuple((first + place) % count for place in range(count))

    @property
    def varies(self) -> bool:
        """Whether it has several pictures, of which one shows at a time, or a video."""
        return len(self.slides) > 1 or self.video is not None

    @property
    def is_video(self) -> bool:
        """Whether it is a frame of a video."""
        return self.picture is not None and self.picture.clip is not None

    @property
    def is_fixed(self) -> bool:
        """Whether it stays with the screen, at speed 0."""
        return self.motion.speed == 0

    @property
    def moves(self) -> bool:
        """Whether it visibly moves otherwise than with the page or the screen."""
        bends = self.motion.path is not None and self.motion.path.moves
        # Nothing in CSS keeps a video with the screen, as background-attachment does a picture.
        plain = {1.0} if self.video else {0.0, 1.0}
        moves = self.motion.speed not in plain or self.motion.drift != 0 or bends
        return moves and not self.is_uniform


@dataclass(frozen=True, slots=True)
class SectionBox:
    """A section of a page, or what the page has behind all of them.

    Attributes:
        name: Its name in the plan.
        box: Its border box, from the first section's upper edge and the screen's left one.
        border: The width of its border, in CSS px.
        edge: The colour of its border.
        background: The colour under its layers; None for none.
        z: Its ``z-index``.
        tone: What it is to a header over it, ``dark`` or ``light``; None where that is not said.
        settled: How far its upper edge is above the screen's where it is in the middle of the
            screen, or as near to that as the page lets it come, in CSS px.
        layers: Its layers, topmost first.
        items: What stands over them, in the order in which it is painted: texts, pictures, boxes.
    """

    name: str
    box: Rect
    border: float
    edge: Color
    background: Color | None
    z: int
    tone: Tone | None
    settled: float
    layers: tuple[LayerBox, ...]
    items: tuple[Item, ...]

    @property
    def content(self) -> tuple[ContentBox, ...]:
        """Its texts."""
        return tuple(item for item in self.items if isinstance(item, ContentBox))

    @property
    def top(self) -> float:
        """Its upper edge, from the first section's upper edge."""
        return self.box.top

    @property
    def bottom(self) -> float:
        """Its lower edge, from the same place."""
        return self.box.bottom

    @property
    def height(self) -> float:
        """Its height in CSS px."""
        return self.box.height


@dataclass(frozen=True, slots=True)
class LayoutSetting:
    """What sections are laid out with.

    Attributes:
        flow: The flow of the page.
        fonts: The plan's fonts.
        pictures: The plan's pictures.
        color: The colour of texts that have none of their own.
        links: The colours of links that have none; None for those of their texts.
        showing: Which of its pictures a layer with several shows: this one, counted round.
        instant: For slides that run, the time since the page was opened in ms, and how many
            slides further on those are that are changing; None for none that run.
        script: The language and direction of the page.
    """

    flow: Flow
    fonts: FontBook
    pictures: dict[str, Picture]
    color: Color = BLACK
    links: LinkColors | None = None
    showing: int = 0
    instant: Instant | None = None
    script: Script = ENGLISH

    @property
    def materials(self) -> Materials:
        """What content is set with."""
        return Materials(self.flow.screen, self.fonts, self.pictures, self.script)


def lay_out_section(
    name: str, entry: Section, box: Rect, reach: Reach, on: LayoutSetting
) -> SectionBox:
    """Lay out the layers and the content of a section.

    Args:
        name: Its name.
        entry: Its values in the plan.
        box: Its border box, from the first section's upper edge.
        reach: How far the page lets it be scrolled.
        on: What else counts.
    """
    empty = SectionBox(
        name=name,
        box=box,
        border=_border_width(entry, box, on),
        edge=entry.border.color if entry.border else TRANSPARENT,
        background=entry.background,
        z=entry.z,
        tone=entry.tone,
        settled=reach.nearest((box.height - on.flow.screen.height) / 2),
        layers=(),
        items=(),
    )
    layers = tuple(_layer(layer, empty, reach, on) for layer in entry.all_layers)
    place = Standing(box, empty.settled)
    items = tuple(lay_out_content(entry, place, (on.color, on.links), on.materials))
    tone = tone_of(entry.tone, (layer.tone for layer in layers))
    return replace(empty, layers=layers, items=items, tone=tone)


def tone_of(own: Tone | None, slides: Iterable[Tone | None]) -> Tone | None:
    """The tone of a section: that of the topmost slide that has one, or else its own."""
    return next((tone for tone in slides if tone is not None), own)


def _border_width(entry: Section, box: Rect, on: LayoutSetting) -> float:
    """The width of a section's border, which takes up no more than the section."""
    width = entry.border.used(on.flow.screen.basis()) if entry.border else 0.0
    return min(width, box.width / 2, box.height / 2)


def _layer(entry: Layer, section: SectionBox, reach: Reach, on: LayoutSetting) -> LayerBox:
    """A layer's motion, and its picture within its positioning area."""
    screen = on.flow.screen
    basis = screen.basis()
    # A colour all over shows no motion, and pages give it none.
    course = Course(1.0)
    if not entry.is_uniform:
        drift = -entry.drift if on.script.direction == "rtl" else entry.drift
        course = Course(entry.rate, drift, _path(entry, section, on.flow))
    clip = _inner(section, entry.clip)
    # The left edge of what is covered counts from the screen's.
    motion = motion_of(course, clip.moved(left=section.box.left), screen, reach)
    extent, start = (motion.width, motion.height), (0.0, 0.0)
    if course.is_plain and course.speed == 1:
        origin = _inner(section, entry.origin)
        extent, start = (origin.width, origin.height), (origin.left - clip.left,) * 2
    name, picture, tone = _showing(entry, on)
    natural = _natural(entry, picture, course, on)
    size = entry.size.used(extent, natural, basis, entry.repeat)
    asked = entry.size.asked(extent, natural, basis)
    left, top = entry.position.used(extent, asked, basis)
    if not course.is_plain:
        left, top = _settled_position(entry, section, motion, asked, reach, on.flow)
    across = tiles(entry.repeat[0], extent[0], size[0], left).moved(start[0])
    down = tiles(entry.repeat[1], extent[1], size[1], top).moved(start[1])
    return LayerBox(
        motion=motion,
        clip=clip,
        name=name,
        picture=picture,
        natural=natural,
        size=size,
        across=across,
        down=down,
        position=entry.position,
        focus=entry.focus,
        fill=entry.fill,
        slides=entry.pictures,
        run=run_of(entry),
        video=entry.video,
        opacity=entry.opacity,
        filters=entry.filter,
        blend=entry.blend,
        is_uniform=entry.is_uniform,
        tones=tuple(slide.tone for slide in entry.slides),
        tone=tone,
    )


def _natural(
    entry: Layer, picture: Picture | None, course: Course, on: LayoutSetting
) -> tuple[int, int] | None:
    """The natural size of what a layer shows, in CSS px; None for a fill.

    A video has a place of its own size, into which its poster is stretched. Only where it fills
    its layer by ``cover`` or ``contain`` does the poster keep its own proportions, as CSS
    ``object-fit`` has it.

    Source: https://html.spec.whatwg.org/multipage/media.html#the-video-element
    """
    if entry.video and not (entry.size.fit and course.is_plain):
        picture = on.pictures[entry.video]
    return (picture.width, picture.height) if picture else None


def _inner(section: SectionBox, name: BoxName) -> Rect:
    """One of a section's boxes, from its upper left corner."""
    inset = 0.0 if name == "border-box" else section.border
    return Rect(inset, inset, section.box.width - 2 * inset, section.box.height - 2 * inset)


def _path(entry: Layer, section: SectionBox, flow: Flow) -> Path | None:
    """The stops of a layer in px, on the page as it is at rest. They keep the plan's order."""
    if not entry.path:
        return None
    points: list[PathPoint] = []
    for stop in entry.path:
        at = flow.position(stop.at, _AT_REST)
        points.append(
            PathPoint(
                max(at, points[-1].at) if points else at,
                stop.x.px(flow.screen.basis(whole=section.box.width)),
                stop.y.px(flow.screen.basis(whole=section.box.height)),
                stop.opacity,
                stop.scale,
                stop.easing,
            )
        )
    rates = [0.0 if rate is None else entry.rate - rate for rate in (entry.before, entry.after)]
    return Path(tuple(points), *rates)


def _showing(entry: Layer, on: LayoutSetting) -> tuple[str | None, Picture | None, Tone | None]:
    """The picture that a layer shows, of its slides or of an animation, and the tone of a slide."""
    if not entry.pictures:
        return None, None, None
    run, number = run_of(entry), on.showing
    leading = None
    if on.instant and (run or entry.video):
        time_ms, further = on.instant
        if entry.video:
            clip = on.pictures[entry.video].clip
            assert clip is not None  # noqa: S101 - it is a video
            return entry.video, on.pictures[entry.video].at(clip.frame_at(time_ms / 1000)), None
        assert run is not None  # noqa: S101 - as asked above
        place, share = run.at(time_ms)
        number = place + (further if share else 0)
        leading = run.leading(time_ms) % len(entry.slides)
    number %= sum(on.pictures[name].frames for name in entry.pictures)
    index = 0
    while number >= on.pictures[name := entry.pictures[index]].frames:
        number -= on.pictures[name].frames
        index += 1
    tone = entry.slides[index if leading is None else leading].tone if entry.slides else None
    return name, on.pictures[name].at(number), tone


def _settled_position(
    entry: Layer,
    section: SectionBox,
    motion: Motion,
    size: tuple[float, float],
    reach: Reach,
    flow: Flow,
) -> tuple[float, float]:
    """Where in its area a picture stands that is to be in its place at some scroll position.

    There it stands as ``position`` has it in the section, but never so that it leaves a gap where
    it is as large as its area.
    """
    top = -_settling(entry, section, reach, flow)
    area = replace(motion, path=None).origin(top, 0.0)
    asked = entry.position.used((section.box.width, section.height), size, flow.screen.basis())
    places = (section.box.left + asked[0] - float(area[0]), top + asked[1] - float(area[1]))
    left, upper = (
        min(max(index, whole - extent), 0.0) if extent >= whole - _COVERS_PX else index
        for index, extent, whole in zip(places, size, (motion.width, motion.height), strict=True)
    )
    return left, upper


def _settling(entry: Layer, section: SectionBox, reach: Reach, flow: Flow) -> float:
    """How far the section is above the screen's upper edge when a layer is in its place."""
    if entry.settle is None:
        return section.settled
    return reach.nearest(flow.position(entry.settle, _AT_REST) - reach.tops[_AT_REST])
