"""A plan from a full-page screenshot: its bands become sections, each with its piece of it."""

from __future__ import annotations

from itertools import pairwise
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from rising_lantern.css.contrast import ratio
from rising_lantern.errors import RequestError
from rising_lantern.legibility.contrast import luminance
from rising_lantern.plan.files.images import DAMAGES, opened_image
from rising_lantern.plan.files.locate import FileFault
from rising_lantern.plan.files.pictures import find_picture
from rising_lantern.start.first_plan import write_plan

_SCREEN_HEIGHT = 800
_WIDEST = 16_384
_LEAST_BAND = 80  # px: what is lower is a line or a gap, not a section
_LEAST_HEADER, _MOST_HEADER = 32, 160  # px of a band at the top that is taken for a header
_STEP = 20  # levels of 255 that a pixel has to change by, to count
_SHARE = 0.6  # of a row's pixels that have to change, to be an edge
_MARGIN = 0.02  # of the width, at each side, where an edge has to be as well
_FAINT = 2  # levels by which light tints differ at least
_NEARLY_ALL = 0.97  # of a row's pixels that change where one tint meets another
_EVEN = 0.9  # of a row's pixels that are of one colour where it is a tint
_READ = 4.5  # the contrast of WCAG 2.2 for texts
_FEW = 0.004  # of a header's pixels that are letters
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
    pixels = _read_picture(source)
    if header is not None and header[1] >= len(pixels):
        raise RequestError(
            f"--header ends at {header[1]} px, and the picture is {len(pixels)} px high"
        )
    first, last = header or (0, _header_height(pixels))
    ground, ink = _header_colors(pixels[first:last] if last > first else pixels[:_LEAST_BAND])
    pixels = np.concatenate([pixels[:first], pixels[last:]])
    height, width = pixels.shape[:2]
    edges = bands(pixels)
    if cuts is not None:
        edges = _check_picture(tuple(_without_header(cut, first, last) for cut in cuts), height)
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
    looks = _LOOKS if height - _SCREEN_HEIGHT > edges[1] else ""
    head = _HEAD.format(
        width=width, height=_SCREEN_HEIGHT, header=taken, looks=looks, ground=ground, ink=ink
    )
    write_plan(folder, head + "".join(sections))


_HEAD = """\
# A plan from a screenshot: each section shows its piece of it until it gets layers of its own.
rising-lantern: 1
title: My site
viewports: {{screen: {width}x{height}}}

headers:
  main:
    height: {header}
    background: "{ground}"
    color: "{ink}"
    shadow: 0 1px 3px rgb(0 0 0 / .2)
    parts:
      menu: {{text: [Home, About, Contact], side: end}}
{looks}
pages:
  page:
    path: /
    sections:
"""


_LOOKS = """\
    looks:
      tall: {}
      slim: {from: past section-1, height: 60px, change: fade 200ms ease}
"""


def _header_colors(pixels: NDArray[np.uint8]) -> tuple[str, str]:
    """The colour of a header, and of its texts: what most of its pixels have, and what stands out.

    Where nothing in it can be read, its texts are black or white.
    """
    colors, counts = np.unique(pixels.reshape(-1, 3), axis=0, return_counts=True)
    ground = colors[np.argmax(counts)]
    contrast = ratio(luminance(colors[None]), luminance(ground[None, None]))[0]
    # Letters have edges in many colours, and an inside of one.
    seen = np.where(counts >= _FEW * counts.sum(), contrast, 0)
    if seen.max() >= _READ:
        return _hex(ground), _hex(colors[np.argmax(seen)])
    light = ratio(1.0, float(luminance(ground[None, None])[0, 0])) >= _READ
    return _hex(ground), "#ffffff" if light else "#000000"


def _hex(color: NDArray[np.uint8]) -> str:
    return "#" + "".join(f"{int(level):02x}" for level in color)


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
    changed = _changes(pixels)
    edges: list[int] = []
    # The sharpest first; what is too near to one that is taken belongs to it.
    for row in np.argsort(-changed, kind="stable"):
        if changed[row] < _SHARE or len(edges) >= _MOST_SECTIONS - 1:
            break
        if all(abs(int(row) - edge) >= least for edge in (0, height, *edges)):
            edges.append(int(row))
    return [0, *sorted(edges), height]


def _changes(pixels: NDArray[np.uint8]) -> NDArray[np.float64]:
    """How much of each row begins something new, 0 to 1; none where its margins go on.

    A shelf of cards leaves the margins as they are. Where one even tint meets another, all of the
    row changes, if by little.
    """
    height, width = pixels.shape[:2]
    changed = np.zeros(height)
    if height < 2:  # noqa: PLR2004 - one row changes into nothing
        return changed
    step = np.abs(np.diff(pixels.astype(np.int16), axis=0)).max(axis=-1)
    side = max(round(width * _MARGIN), 1)
    margins = np.concatenate([step[:, :side], step[:, -side:]], axis=1)
    strong = (step > _STEP).mean(axis=1) * ((margins > _FAINT).mean(axis=1) >= _SHARE)
    middle = np.median(pixels, axis=1, keepdims=True)
    even = (np.abs(pixels - middle).max(axis=-1) <= _FAINT).mean(axis=1) >= _EVEN
    faint = ((step > _FAINT).mean(axis=1) >= _NEARLY_ALL) & even[1:] & even[:-1]
    changed[1:] = np.maximum(strong, np.where(faint, _SHARE, 0.0))
    return changed


def _check_picture(cuts: tuple[int, ...], height: int) -> list[int]:
    wrong = [cut for cut in cuts if cut > height]
    if wrong:
        raise RequestError(
            f"--cut {wrong[0]} is below the end of the picture, which is {height} px high"
        )
    edges = sorted({0, *cuts, height})
    if len(edges) > _MOST_SECTIONS:
        raise RequestError(f"--cut makes {len(edges) - 1} sections; the limit is {_MOST_SECTIONS}")
    return edges


def _read_picture(source: Path) -> NDArray[np.uint8]:
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
