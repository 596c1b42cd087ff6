"""Videos behind sections: elements that stand where a background would."""

from __future__ import annotations

import io
from collections.abc import Callable, Mapping
from typing import Any

from PIL import Image

from rising_lantern.css.backgrounds import Position, Size
from rising_lantern.css.lengths import Length
from rising_lantern.css.numbers import number
from rising_lantern.exports.rules import Declarations
from rising_lantern.exports.sources import LayerSource
from rising_lantern.paint.videos import frame_of
from rising_lantern.plan.files.pictures import Picture

KINDS = {"matroska": "video/webm", "mov": "video/mp4"}
"""The media types of videos, by their containers."""


def placed_video(size: Size, position: Position, own: tuple[int, int]) -> Declarations:
    """Where a video stands in its layer: as a background of some size and position does.

    Its size is written out: browsers differ on whose size it has while its poster is shown.

    Args:
        size: The size that is asked for.
        position: Where it stands.
        own: The video's own width and height in px.
    """
    if size.fit:
        return {
            "inset": "0",
            "width": "100%",
            "height": "100%",
            "object-fit": size.fit,
            "object-position": position.css(),
        }
    width, height = (length.css() if length else "auto" for length in (size.width, size.height))
    if width == height == "auto":
        width, height = f"{own[0]}px", f"{own[1]}px"
    shape = {"aspect-ratio": f"{own[0]} / {own[1]}"} if "auto" in (width, height) else {}
    left, right = _edge(position.x)
    top, bottom = _edge(position.y)
    return {
        "left": left,
        "top": top,
        "width": width,
        "height": height,
        **shape,
        "object-fit": "fill",
        "translate": f"{right} {bottom}",
    }


def _edge(place: Length) -> tuple[str, str]:
    """Where an edge stands, and by how much of its own length a video is then moved."""
    split = place.split_percentage()
    return place.css(), f"{number(-split[0])}%" if split else "0%"


def first_frame(video: Picture) -> bytes:
    """The first frame of a video as a JPEG, for one that has no poster."""
    packed = io.BytesIO()
    Image.fromarray(frame_of(video.at(0))[..., :3]).save(packed, "JPEG", quality=90)
    return packed.getvalue()


def described_video(
    layer: LayerSource,
    pictures: Mapping[str, Picture],
    url: Callable[[str], str],
    first: Callable[[str], str],
    *,
    still: bool,
) -> dict[str, Any]:
    """A video as the page has it.

    Args:
        layer: Its layer.
        pictures: The plan's pictures and videos.
        url: Gives the address of a file, by its name in the plan.
        first: Gives the address of the first frame of a video, by its name in the plan.
        still: Whether it stands for readers who ask for less motion.
    """
    entry = layer.entry
    assert entry.video is not None  # noqa: S101 - it has one
    picture = pictures[entry.video]
    assert picture.clip is not None  # noqa: S101 - it is a video
    return {
        "file": url(entry.video),
        "type": KINDS[picture.clip.form],
        "poster": url(entry.poster) if entry.poster else first(entry.video),
        "width": picture.width,
        "height": picture.height,
        "still": still,
    }
