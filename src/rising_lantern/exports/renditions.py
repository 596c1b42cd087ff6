"""Pictures in the sizes and formats that each screen needs."""

from __future__ import annotations

import io
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from PIL import Image

from rising_lantern.layout.needs import Need
from rising_lantern.paint.pictures import as_shown
from rising_lantern.plan.files.pictures import Picture

_QUALITY = {"AVIF": 62, "WEBP": 80, "JPEG": 84}
_KINDS = {"AVIF": "image/avif", "WEBP": "image/webp", "JPEG": "image/jpeg", "PNG": "image/png"}
_STEP = 40  # px: sizes that differ by less share one file


@dataclass(frozen=True, slots=True)
class Rendition:
    """A picture at one size in one format.

    Attributes:
        kind: Its media type.
        suffix: The ending of its file.
        width: Its width in px.
        height: Its height in px.
        data: The file.
    """

    kind: str
    suffix: str
    width: int
    height: int
    data: bytes


def size_for(need: Need) -> tuple[int, int]:
    """The size at which a picture is as sharp as the screen, and no larger than it is."""
    share = min(1.0, need.enlargement)
    width, height = need.pixels
    wide = min(width, -(-round(width * share) // _STEP) * _STEP)
    return wide, max(round(height * wide / width), 1)


def can_be_rendered(picture: Picture) -> bool:
    """Whether a picture can be given other sizes: no vector needs it, no animation gets it."""
    return not picture.is_vector and picture.frames == 1


def renditions_of(picture: Picture, size: tuple[int, int]) -> tuple[Rendition, ...]:
    """A picture at a size, in the formats of which browsers take the first that they know.

    Args:
        picture: The picture.
        size: Its width and height in px.
    """
    return _renditions(picture, size)


@lru_cache(maxsize=256)
def _renditions(picture: Picture, size: tuple[int, int]) -> tuple[Rendition, ...]:
    image = as_shown(picture)
    if image.size != size:
        image = image.resize(size, Image.Resampling.LANCZOS)
    formats = ("AVIF", "WEBP", "PNG" if image.mode == "RGBA" else "JPEG")
    made = [_packed(image, name) for name in formats]
    # A format that is larger than what follows it helps nobody.
    return tuple(
        item
        for index, item in enumerate(made)
        if index + 1 == len(made)
        or len(item.data) < min(len(rest.data) for rest in made[index + 1 :])
    )


def _packed(image: Image.Image, name: str) -> Rendition:
    packed = io.BytesIO()
    options: dict[str, object] = {"quality": _QUALITY[name]} if name in _QUALITY else {}
    if name == "JPEG":
        options |= {"progressive": True, "optimize": True}
    if name == "PNG":
        options |= {"optimize": True}
    image.save(packed, name, **options)
    suffix = "." + name.lower().replace("jpeg", "jpg")
    return Rendition(_KINDS[name], suffix, *image.size, packed.getvalue())


@dataclass(frozen=True, slots=True)
class Weighed:
    """What the pictures of a page weigh on a screen, in bytes.

    Attributes:
        before: As the plan has them.
        after: In the sizes and the best format that have been made.
    """

    before: int
    after: int


def weigh(
    names: set[str],
    viewport: str,
    pictures: Mapping[str, Picture],
    made: Mapping[tuple[str, str], tuple[Rendition, ...]],
) -> Weighed:
    """What some pictures weigh on a screen.

    Args:
        names: The pictures, by their names in the plan.
        viewport: The viewport's name.
        pictures: The plan's pictures.
        made: The renditions, by picture and viewport.
    """
    own = {name: pictures[name].file.size for name in names}
    after = sum(
        len(made[name, viewport][0].data) if (name, viewport) in made else size
        for name, size in own.items()
    )
    return Weighed(sum(own.values()), after)
