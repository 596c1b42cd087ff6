"""SVG files: checked before they are drawn, and without what they would fetch."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path
from xml.etree import ElementTree as ET

from rising_lantern.base.opening import opened_file
from rising_lantern.css.length_parsing import parse_length
from rising_lantern.css.lengths import Basis
from rising_lantern.css.syntax import CssError
from rising_lantern.plan.files.svg_limits import HREFS, check_drawing, check_text

MOST_BYTES = 5_000_000
_SVG = "{http://www.w3.org/2000/svg}"
_DEFAULT = (300.0, 150.0)  # CSS 2, 10.3.2: of what has no size of its own


@dataclass(frozen=True, slots=True)
class Vector:
    """An SVG picture.

    Attributes:
        root: Its root element, in which nothing names another file.
        width: Its own width in px.
        height: Its own height in px.
    """

    root: ET.Element
    width: float
    height: float

    def sized(self, width: int, height: int) -> str:
        """Its text, drawn at another size in px. It keeps what it says of its proportions."""
        root = ET.Element(self.root.tag, dict(self.root.attrib))
        root.extend(self.root)
        root.text = self.root.text
        if "viewBox" not in root.attrib:
            root.set("viewBox", f"0 0 {self.width} {self.height}")
            root.set("preserveAspectRatio", "none")
        root.set("width", str(width))
        root.set("height", str(height))
        return ET.tostring(root, encoding="unicode")

    @property
    def has_text(self) -> bool:
        """Whether fonts are needed to draw it."""
        return next(self.root.iter(f"{_SVG}text"), None) is not None


def looks_like_svg(path: Path) -> bool:
    """Whether a file is worth reading as SVG."""
    return path.suffix.lower() == ".svg"


def read_vector(path: Path) -> Vector:
    """Read an SVG file. As in browsers, pictures that it would fetch are left out.

    Raises:
        ValueError: If it is too large, is not SVG, or could not be drawn in reasonable time.
        OSError: If it cannot be read.
    """
    with opened_file(path) as opened:
        return vector_of(opened.read(MOST_BYTES + 1))


def vector_of(data: bytes) -> Vector:
    """The SVG that some bytes hold; see :func:`read_vector`."""
    if len(data) > MOST_BYTES:
        raise ValueError(f"an SVG may have up to {MOST_BYTES // 1_000_000} MB")
    check_text(data)
    root = ET.fromstring(data)  # noqa: S314 - it has no entities to unfold
    if root.tag != f"{_SVG}svg":
        raise ValueError("this is not SVG")
    for element in root.iter():
        for name in HREFS:
            address = element.get(name, "#").strip().lower()
            if not address.startswith(("#", "data:image/png", "data:image/jpeg", "data:image/gif")):
                del element.attrib[name]
    check_drawing(root)
    return Vector(root, *_size(root))


def _size(root: ET.Element) -> tuple[float, float]:
    """Its own size: of its attributes, of its view box, or of neither."""
    box = root.get("viewBox", "").replace(",", " ").split()
    try:
        sides = [float(side) for side in box[2:4]]
    except ValueError:
        sides = []
    width, height = (_px(root.get(name)) for name in ("width", "height"))
    if len(sides) == 2 and min(sides) > 0:  # noqa: PLR2004
        ratio = sides[0] / sides[1]
        if width is None:
            width = sides[0] if height is None else height * ratio
        return width, width / ratio if height is None else height
    return _DEFAULT[0] if width is None else width, _DEFAULT[1] if height is None else height


def _px(text: str | None) -> float | None:
    """An absolute length; None where it is relative or there is none."""
    try:
        length = parse_length(text) if text and "%" not in text else None
    except CssError:
        try:
            return float(text or "")
        except ValueError:
            return None
    return length.px(Basis(0, 0)) if length else None
