"""What an SVG may contain: checked before it is drawn, so that none can hang or crash.

Drawing recurses into groups and into what masks, patterns and ``use`` refer to; what is nested too
deep ends a program, and a few references to each other unfold to more than can be drawn.
"""

from __future__ import annotations

import base64
import io
import math
import re
from collections.abc import Iterator
from xml.etree import ElementTree as ET
from xml.parsers import expat

from rising_lantern.plan.files.images import DAMAGES, TooLargeError, opened_image

MOST_DEPTH = 80
MOST_ELEMENTS = 500_000
MOST_OCTAVES = 16
MOST_DEVIATION = 1000.0
MOST_RADIUS = 500.0
MOST_ORDER = 32.0
HREFS = ("href", "{http://www.w3.org/1999/xlink}href")
_EMBEDDED = re.compile(r"data:image/(png|jpeg|gif);base64,", re.IGNORECASE)
_FORMATS = ("PNG", "JPEG", "GIF")
_REFERENCE = re.compile(r"url\(\s*['\"]?#([^'\")]+)")
_NUMBERS = re.compile(r"[\s,]+")
# Attributes of numbers, which a drawing is laid out with.
_NUMERIC = frozenset(
    {"x", "y", "width", "height", "viewBox", "r", "rx", "ry", "cx", "cy", "fx", "fy"}
    | {"x1", "y1", "x2", "y2", "dx", "dy", "points", "refX", "refY", "markerWidth"}
    | {"markerHeight", "stdDeviation", "radius", "order", "numOctaves", "baseFrequency", "scale"}
)
# Filter Effects 1, section 9: what makes a primitive slow.
_COSTLY = {
    "numOctaves": MOST_OCTAVES,
    "stdDeviation": MOST_DEVIATION,
    "radius": MOST_RADIUS,
    "order": MOST_ORDER,
}


def check_text(data: bytes) -> None:
    """Refuse XML that defines entities or is nested too deep, before a tree is made of it.

    Raises:
        ValueError: If it is so, or is not XML.
    """
    parser = expat.ParserCreate()
    depth = 0

    def start(_name: str, _attributes: object) -> None:
        nonlocal depth
        depth += 1
        if depth > MOST_DEPTH:
            raise ValueError(f"its elements are nested more than {MOST_DEPTH} deep")

    def end(_name: str) -> None:
        nonlocal depth
        depth -= 1

    def entity(*_: object) -> None:
        raise ValueError("an SVG may not define entities")

    parser.StartElementHandler, parser.EndElementHandler = start, end
    parser.EntityDeclHandler = entity
    try:
        parser.Parse(data, True)  # noqa: FBT003 - it takes no names
    except (expat.ExpatError, LookupError) as error:
        raise ValueError("this is not XML") from error


def check_drawing(root: ET.Element) -> None:
    """Refuse a drawing that would take too long, too much memory, or numbers that are none.

    Raises:
        ValueError: If it is so.
    """
    for element in root.iter():
        for name, value in element.attrib.items():
            if name in _NUMERIC:
                _check_numbers(element, name, value)
        for name in HREFS:
            _check_embedded(element.get(name, ""))
    _Unfolding(root).check()


def _check_numbers(element: ET.Element, name: str, text: str) -> None:
    for word in _NUMBERS.split(text.strip()):
        try:
            value = float(word)
        except ValueError:
            continue
        if not math.isfinite(value):
            raise ValueError(f"{name} is '{word[:20]}', which is not finite")
        is_filter = element.tag.rpartition("}")[2].startswith("fe")
        if is_filter and value > _COSTLY.get(name, math.inf):
            raise ValueError(f"{name} of a filter is {value:g}; {_COSTLY[name]:g} is the limit")


def _check_embedded(address: str) -> None:
    found = _EMBEDDED.match(address.strip())
    if not found:
        return
    try:
        data = base64.b64decode(address.strip()[found.end() :])
        with opened_image(io.BytesIO(data), _FORMATS):
            return
    except TooLargeError as error:
        raise ValueError(f"a picture in it has {error}") from None
    except DAMAGES:
        return  # nothing is drawn of it


class _Unfolding:
    """How deep and how large a drawing is once all that refers to something holds it."""

    def __init__(self, root: ET.Element) -> None:
        self._root = root
        self._named = {element.get("id", ""): element for element in root.iter()}
        self._known: dict[ET.Element, tuple[int, int]] = {}

    def check(self) -> None:
        """Refuse what is too deep, too large, or holds itself."""
        _, size = self._measure(self._root, 0)
        if size > MOST_ELEMENTS:
            raise ValueError(
                f"it expands to more than {MOST_ELEMENTS:,} elements through references"
            )

    def _measure(self, element: ET.Element, above: int) -> tuple[int, int]:
        """The depth and the size of an element, with all that it refers to.

        Args:
            element: The element.
            above: How many are around it.
        """
        depth, size = self._known.get(element, (0, 0))
        if above + depth > MOST_DEPTH:
            raise ValueError(
                "groups, masks, patterns and their references "
                f"are nested more than {MOST_DEPTH} deep"
            )
        if size:
            return depth, size
        inner = [self._measure(item, above + 1) for item in self._inside(element)]
        depth = 1 + max((item for item, _ in inner), default=0)
        size = min(1 + sum(item for _, item in inner), MOST_ELEMENTS + 1)
        self._known[element] = depth, size
        return depth, size

    def _inside(self, element: ET.Element) -> Iterator[ET.Element]:
        """The elements in one, and those that it refers to."""
        yield from element
        for name, value in element.attrib.items():
            if name in HREFS and value.strip().startswith("#"):
                words = [value.strip()[1:]]
            else:
                words = _REFERENCE.findall(value)
            for word in words:
                found = self._named.get(word.strip())
                if found is not None:
                    yield found
