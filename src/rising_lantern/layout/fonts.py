"""Fonts: which file sets a text, and how wide HarfBuzz sets it.

Advances are unhinted and scale with the size, as browsers set text under
``text-rendering: geometricPrecision``.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace
from functools import lru_cache
from importlib.resources import files
from pathlib import Path

import uharfbuzz as hb

from rising_lantern.css.bidi import Direction, visual_runs
from rising_lantern.plan.files.source_files import SourceFile

_BUILT_IN = {
    "sans": {
        300: "SourceSansPro-Light.ttf",
        400: "SourceSansPro-Regular.ttf",
        600: "SourceSansPro-Semibold.ttf",
        700: "SourceSansPro-Bold.ttf",
        900: "SourceSansPro-Black.ttf",
    },
    "serif": {
        300: "SourceSerifPro-Light.ttf",
        400: "SourceSerifPro-Regular.ttf",
        600: "SourceSerifPro-Semibold.ttf",
        700: "SourceSerifPro-Bold.ttf",
        900: "SourceSerifPro-Black.ttf",
    },
}
_FOLDER = "typefaces"
_LIGHTEST_BOLD = 500


@dataclass(frozen=True, slots=True)
class Glyph:
    """A shape of a font.

    Attributes:
        number: Its number in the font.
        x: How far it is to the right of where its cluster starts, in font sizes.
        y: How far it is above the baseline, in font sizes.
    """

    number: int
    x: float
    y: float


@dataclass(frozen=True, slots=True)
class Cluster:
    """Characters that are set together, as letters and their marks, or a ligature.

    Attributes:
        text: The characters.
        place: Where they are in the text of the line.
        left: Where they start on the line, in font sizes.
        glyphs: What is drawn for them.
    """

    text: str
    place: int
    left: float
    glyphs: tuple[Glyph, ...] = ()


@dataclass(frozen=True, slots=True)
class GlyphRun:
    """A text set on one line.

    Attributes:
        clusters: From left to right.
        width: In font sizes.
    """

    clusters: tuple[Cluster, ...]
    width: float

    @property
    def text(self) -> str:
        """Its characters, in the order in which they are read."""
        return "".join(item.text for item in sorted(self.clusters, key=lambda item: item.place))


@dataclass(frozen=True, slots=True)
class Script:
    """How text is written.

    Attributes:
        language: As HTML ``lang``.
        direction: The direction of its paragraphs, as HTML ``dir``.
    """

    language: str = "en"
    direction: Direction = "ltr"


ENGLISH = Script()


@dataclass(frozen=True)
class Face:
    """A font file, ready to set text of a language in a direction.

    Attributes:
        file: The file.
        ascent: From the baseline up, in font sizes.
        descent: From the baseline down, in font sizes.
        script: The language and the direction of what is set.
        font: What HarfBuzz sets and draws it with.
        units: Of the font, in a font size.
    """

    file: SourceFile
    ascent: float
    descent: float
    script: Script
    font: hb.Font = field(repr=False, compare=False)
    units: int = field(repr=False, compare=False)

    def __reduce__(
        self,
    ) -> tuple[Callable[[SourceFile, Script], Face], tuple[SourceFile, Script]]:
        # A copy opens the file itself: what HarfBuzz makes of it stays where it is.
        return _face, (self.file, self.script)

    @property
    def is_rtl(self) -> bool:
        """Whether its paragraphs run from right to left."""
        return self.script.direction == "rtl"

    def set(self, text: str) -> GlyphRun:
        """A text set on one line, with the font's own kerning and ligatures."""
        return _set(self, text)

    def ink(self, text: str) -> tuple[float, float]:
        """How far the letters of a text reach above the baseline and below it, in font sizes."""
        return _ink(self, text)


@dataclass(frozen=True, slots=True)
class FontBook:
    """The fonts of a plan: its own, then the built-in ``sans`` and ``serif``.

    Attributes:
        families: Files by weight, by the plan's name for the font.
    """

    families: dict[str, dict[int, SourceFile]]

    def file(self, name: str, weight: int) -> SourceFile:
        """The file for a font at a weight."""
        if name in self.families:
            own = self.families[name]
            return own[_match_weight(weight, sorted(own))]
        names = _BUILT_IN[name]
        folder = Path(str(files(__package__))) / _FOLDER
        return SourceFile.of(folder / names[_match_weight(weight, sorted(names))])

    def face(self, name: str, weight: int, script: Script = ENGLISH) -> Face:
        """The face for a font at a weight."""
        return _face(self.file(name, weight), script)


def _match_weight(weight: int, known: list[int]) -> int:
    """The weight that stands in for another: CSS Fonts 4, 5.2, step 4.3.

    Source: https://www.w3.org/TR/css-fonts-4/#font-style-matching
    """
    if weight in known:
        return weight
    lighter = [other for other in reversed(known) if other < weight]
    heavier = [other for other in known if other > weight]
    if 400 <= weight <= _LIGHTEST_BOLD:  # noqa: PLR2004
        near = [other for other in heavier if other <= _LIGHTEST_BOLD]
        return (near + lighter + heavier)[0]
    return (lighter + heavier)[0] if weight < 400 else (heavier + lighter)[0]  # noqa: PLR2004


@lru_cache(maxsize=256)
def _face(file: SourceFile, script: Script) -> Face:
    font, units = _font(file)
    extents = font.get_font_extents("ltr")
    heights = extents.ascender / units, -extents.descender / units
    return Face(file, *heights, script, font, units)


@lru_cache(maxsize=64)
def _font(file: SourceFile) -> tuple[hb.Font, int]:
    face = hb.Face(hb.Blob(file.read_bytes()))
    return hb.Font(face), face.upem


@lru_cache(maxsize=2048)
def _ink(face: Face, text: str) -> tuple[float, float]:
    numbers = [glyph.number for cluster in face.set(text).clusters for glyph in cluster.glyphs]
    extents = [face.font.get_glyph_extents(number) for number in numbers]
    boxes = [item for item in extents if item is not None and item.height]
    above = max((item.y_bearing for item in boxes), default=0)
    below = max((-item.y_bearing - item.height for item in boxes), default=0)
    return above / face.units, below / face.units


@lru_cache(maxsize=8192)
def _set(face: Face, text: str) -> GlyphRun:
    clusters: list[Cluster] = []
    width = 0.0
    for start, end, direction in visual_runs(text, face.script.direction):
        run = _shape(face, text[start:end], direction)
        clusters += [
            replace(item, place=item.place + start, left=item.left + width) for item in run.clusters
        ]
        width += run.width
    return GlyphRun(tuple(clusters), width)


def _shape(face: Face, text: str, direction: Direction) -> GlyphRun:
    """Text of one direction as glyphs, from left to right."""
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.direction = direction
    buffer.language = face.script.language
    buffer.guess_segment_properties()
    hb.shape(face.font, buffer)
    together: dict[int, list[Glyph]] = {}
    starts: dict[int, float] = {}
    pen = 0.0
    for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        start = starts.setdefault(info.cluster, pen)
        x = (pen - start + position.x_offset) / face.units
        glyph = Glyph(info.codepoint, x, position.y_offset / face.units)
        together.setdefault(info.cluster, []).append(glyph)
        pen += position.x_advance
    places = sorted(starts)
    ends = dict(zip(places, [*places[1:], len(text)], strict=True))
    clusters = (
        Cluster(text[place : ends[place]], place, starts[place] / face.units, tuple(glyphs))
        for place, glyphs in together.items()
    )
    return GlyphRun(tuple(clusters), pen / face.units)
