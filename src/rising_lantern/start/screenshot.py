"""A plan from a full-page screenshot: its bands become sections, each with its piece of it."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from rising_lantern.errors import RequestError
from rising_lantern.plan.files.images import DAMAGES, opened_image
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.pictures import find_picture
from rising_lantern.start.plan import write_plan

_SCREEN_HEIGHT = 800
_WIDEST = 16_384
_LEAST_BAND = 80  # px: what is lower is a line or a gap, not a section
_LEAST_HEADER, _MOST_HEADER = 32, 160  # px of a band at the top that is taken for a header
_STEP = 20  # levels of 255 that a pixel has to change by, to count
_SHARE = 0.6  # of a row's pixels that have to change, to be an edge
_MOST_SECTIONS = 100


def write_from_screenshot(
    source: Path,
    cuts: tuple[int, ...] | None,
    folder: Path,
    header: tuple[int, int] | None = None,
) -> None:
    """Write a plan whose sections are the bands of a screenshot, with their pieces as pictures.

    The site's own header is taken off the picture, since the plan draws one in its place.

    Args:
        source: The screenshot: a whole page, a pixel for each CSS px.
        cuts: Where to cut it, in px from its upper edge; None to cut where its rows change.
        folder: Where to write.
        header: The first row of the site's header and the row after its last one; by default a
            low band at the top of the page is taken for it.

    Raises:
        RequestError: If the screenshot cannot be used, or a cut lies outside it.
    """
    pixels = _read(source)
    if header is not None and header[1] >= len(pixels):
        raise RequestError(
            f"--header ends at {header[1]} px, and the picture is {len(pixels)} px high"
        )
    first, last = header or (0, _header_height(pixels))
    pixels = np.concatenate([pixels[:first], pixels[last:]])
    height, width = pixels.shape[:2]
    edges = bands(pixels)
    if cuts is not None:
        edges = _checked(tuple(_without_header(cut, first, last) for cut in cuts), height)
    (folder / "pictures").mkdir()
    sections: list[str] = []
    for index, (top, bottom) in enumerate(pairwise(edges), 1):
        name = f"pictures/section-{index}.png"
        _save(pixels[top:bottom], folder / name)
        sections.append(
            f"      section-{index}:\n        height: {bottom - top}px\n        picture: {name}\n"
        )
    # Where a header has been taken off, the page starts below the plan's own.
    taken = f"{last - first}px\n    over: false" if last > first else "80px"
    head = _HEAD.format(width=width, height=_SCREEN_HEIGHT, header=taken)
    write_plan(folder, head + "".join(sections))


_HEAD = """\
# A plan from a screenshot: each section shows its piece of it until it gets layers of its own.
rising-lantern: 1
title: My site
viewports: {{screen: {width}x{height}}}

headers:
  main:
    height: {header}
    parts:
      menu: {{text: [Home, About, Contact], side: end}}
    looks:
      clear: {{color: white}}
      solid: {{from: past section-1, background: white, color: black, height: 60px}}

pages:
  page:
    path: /
    sections:
"""


def _header_height(pixels: NDArray[np.uint8]) -> int:
    """The height of a band at the top of a page that looks like a header; 0 where none does."""
    edges = bands(pixels, least=_LEAST_HEADER)
    return edges[1] if len(edges) > 2 and edges[1] <= _MOST_HEADER else 0  # noqa: PLR2004


def _without_header(cut: int, first: int, last: int) -> int:
    """A row of the picture as it is counted once the header has been taken off."""
    return cut if cut <= first else max(cut - (last - first), first)


def bands(pixels: NDArray[np.uint8], least: int = _LEAST_BAND) -> list[int]:
    """Where a page's picture changes sharply from one row to the next: its sections' edges.

    Args:
        pixels: RGB, shaped (height, width, 3).
        least: How many px they are apart at least.

    Returns:
        Rows, from 0 to the height, both included.
    """
    height = len(pixels)
    changed = np.zeros(height)
    step = np.abs(np.diff(pixels.astype(np.int16), axis=0)).max(axis=-1)
    changed[1:] = (step > _STEP).mean(axis=1)
    edges: list[int] = []
    # The sharpest first; what is too near to one that is taken belongs to it.
    for row in np.argsort(-changed, kind="stable"):
        if changed[row] < _SHARE or len(edges) >= _MOST_SECTIONS - 1:
            break
        if all(abs(int(row) - edge) >= least for edge in (0, height, *edges)):
            edges.append(int(row))
    return [0, *sorted(edges), height]


def _checked(cuts: tuple[int, ...], height: int) -> list[int]:
    wrong = [cut for cut in cuts if cut > height]
    if wrong:
        raise RequestError(
            f"--cut {wrong[0]} is below the end of the picture, which is {height} px high"
        )
    edges = sorted({0, *cuts, height})
    if len(edges) > _MOST_SECTIONS:
        raise RequestError(f"--cut makes {len(edges) - 1} sections; the limit is {_MOST_SECTIONS}")
    return edges


def _read(source: Path) -> NDArray[np.uint8]:
    try:
        found = find_picture(source.resolve().parent, source.name)
        with found.opened() as file, opened_image(file) as opened:
            pixels = np.asarray(opened.convert("RGB"))
    except FileFault as fault:
        raise RequestError(f"--picture {fault}") from None
    except DAMAGES:
        raise RequestError(f"--picture {source} is incomplete or damaged") from None
    if pixels.shape[1] > _WIDEST:
        raise RequestError(
            f"--picture {source} is wider than any screen; the limit is {_WIDEST} px"
        )
    return pixels


def _save(pixels: NDArray[np.uint8], path: Path) -> None:
    Image.fromarray(pixels).save(path, compress_level=4)
