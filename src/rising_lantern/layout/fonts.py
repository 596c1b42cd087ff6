"""Fonts: which file sets a text, and how wide HarfBuzz sets it.

Advances are unhinted and scale with the size, as browsers set text under
``text-rendering: geometricPrecision``.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from functools import lru_cache
from importlib.resources import files
from pathlib import Path

import uharfbuzz as hb

from rising_lantern.opening import opened_file
from rising_lantern.plan.files.locate import Stamp, stamp_of

_BUILT_IN = {
    "sans": (
        "font_source_sans_pro",
        {
            300: "SourceSansPro-Light.ttf",
            400: "SourceSansPro-Regular.ttf",
            600: "SourceSansPro-Semibold.ttf",
            700: "SourceSansPro-Bold.ttf",
            900: "SourceSansPro-Black.ttf",
        },
    ),
    "serif": (
        "font_source_serif_pro",
        {
            300: "SourceSerifPro-Light.ttf",
            400: "SourceSerifPro-Regular.ttf",
            600: "SourceSerifPro-Semibold.ttf",
            700: "SourceSerifPro-Bold.ttf",
            900: "SourceSerifPro-Black.ttf",
        },
    ),
}
_LIGHTEST_BOLD = 500
# Letters are drawn one by one, so none may melt into another; exported pages say the same.
_FEATURES = {"liga": False, "clig": False, "dlig": False}


@dataclass(frozen=True, slots=True)
class Cluster:
    """Characters that are set together.

    Attributes:
        text: The characters.
        left: Where they start on the line, in font sizes.
    """

    text: str
    left: float


@dataclass(frozen=True, slots=True)
class Run:
    """A text set on one line.

    Attributes:
        clusters: From left to right.
        width: In font sizes.
    """

    clusters: tuple[Cluster, ...]
    width: float


@dataclass(frozen=True)
class Face:
    """A font file, ready to set text.

    Attributes:
        path: The file.
        stamp: The state of the file.
        ascent: From the baseline up, in font sizes.
        descent: From the baseline down, in font sizes.
    """

    path: Path
    stamp: Stamp
    ascent: float
    descent: float
    _font: hb.Font = field(repr=False, compare=False)
    _units: int = field(repr=False, compare=False)

    def __reduce__(self) -> tuple[Callable[[Path, Stamp], Face], tuple[Path, Stamp]]:
        # A copy opens the file itself: what HarfBuzz makes of it stays where it is.
        return _face, (self.path, self.stamp)

    def set(self, text: str) -> Run:
        """A text set on one line, with the font's own kerning."""
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

    families: dict[str, dict[int, Path]]

    def file(self, name: str, weight: int) -> Path:
        """The file for a font at a weight."""
        weights = self.weights(name)
        return weights[_matched(weight, sorted(weights))]

    def face(self, name: str, weight: int) -> Face:
        """The face for a font at a weight."""
        path = self.file(name, weight)
        return _face(path, stamp_of(path))

    def weights(self, name: str) -> dict[int, Path]:
        """All files of a font, by weight."""
        if name in self.families:
            return self.families[name]
        package, names = _BUILT_IN[name]
        folder = Path(str(files(package))) / "files"
        return {weight: folder / file for weight, file in names.items()}


def _matched(weight: int, known: list[int]) -> int:
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


@lru_cache(maxsize=64)
def _face(path: Path, stamp: Stamp) -> Face:
    with opened_file(path) as opened:
        blob = hb.Blob(opened.read())
    face = hb.Face(blob)
    font = hb.Font(face)
    units = face.upem
    extents = font.get_font_extents("ltr")
    return Face(path, stamp, extents.ascender / units, -extents.descender / units, font, units)


@lru_cache(maxsize=2048)
def _ink(face: Face, text: str) -> tuple[float, float]:
    buffer = _shaped(face, text)
    extents = [face._font.get_glyph_extents(info.codepoint) for info in buffer.glyph_infos]  # noqa: SLF001 - the same module
    boxes = [item for item in extents if item is not None and item.height]
    above = max((item.y_bearing for item in boxes), default=0)
    below = max((-item.y_bearing - item.height for item in boxes), default=0)
    return above / face._units, below / face._units  # noqa: SLF001


def _shaped(face: Face, text: str) -> hb.Buffer:
    """A text as glyphs."""
    buffer = hb.Buffer()
    buffer.add_str(text)
    buffer.guess_segment_properties()
    hb.shape(face._font, buffer, _FEATURES)  # noqa: SLF001
    return buffer


@lru_cache(maxsize=8192)
def _set(face: Face, text: str) -> Run:
    if not text:
        return Run((), 0.0)
    buffer = _shaped(face, text)
    starts: list[tuple[int, float]] = []
    pen = 0.0
    for info, position in zip(buffer.glyph_infos, buffer.glyph_positions, strict=True):
        if not starts or starts[-1][0] != info.cluster:
            starts.append((info.cluster, (pen + position.x_offset) / face._units))  # noqa: SLF001
        pen += position.x_advance
    ends = [*sorted(index for index, _ in starts)[1:], len(text)]
    following = dict(zip(sorted(index for index, _ in starts), ends, strict=True))
    clusters = (Cluster(text[index : following[index]], left) for index, left in starts)
    return Run(tuple(clusters), pen / face._units)  # noqa: SLF001
