"""Pictures in the sizes that each screen needs, as WebP: all browsers that read nested rules do.

Source: https://www.w3.org/TR/css-images-4/#image-set-notation
"""

from __future__ import annotations

import io
from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

from PIL import Image

from rising_lantern.paint.pictures import as_shown
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.text.reading import PlanFile

_EFFORT = 2  # of 6: twice as fast as by default, for a twentieth more bytes
_STEP = 40  # px: sizes that differ by less share one file
_QUALITIES = {1.0: 80, 2.0: 62}
"""By the density of the screen: smaller pixels hide more, and a third one more than eyes see."""
_WIDEST = 1.5  # times: how much wider screens of the widest range are than the planned one


@dataclass(frozen=True, slots=True)
class Rendition:
    """A picture at one size.

    Attributes:
        density: The device pixels per CSS px of the screens that it is for.
        suffix: The ending of its file.
        data: The file.
    """

    density: float
    suffix: str
    data: bytes


Renditions = Mapping[tuple[str, str], tuple[Rendition, ...]]
"""Pictures by their names and the viewports that show them, the smallest first."""


@dataclass(frozen=True, slots=True)
class RenditionTask:
    """The preparation of one picture for a screen.

    Attributes:
        picture: Its name in the plan.
        share: Its width and height where it is as sharp as a screen of density 1, of its own.
    """

    picture: str
    share: float

    def run(self, plan: PlanFile, page: str, viewport: str) -> tuple[Rendition, ...]:
        """Return the picture in the sizes that screens of each density need."""
        del page, viewport  # it says itself how large it is there
        return renditions_of(plan.files.pictures[self.picture], self.share)

    def words(self, page: str, viewport: str) -> str:
        """What is being done."""
        del page
        return f"Preparing {self.picture} for {viewport}"


def share_for(enlargement: float, *, widest: bool) -> float:
    """The share of a picture's own size that a screen of density 1 needs.

    Args:
        enlargement: How many times a pixel of it is enlarged on the planned screen.
        widest: Whether it is for the widest screens, which have no end.
    """
    return enlargement * (_WIDEST if widest else 1.0)


def can_be_rendered(picture: Picture) -> bool:
    """Whether a picture can be given other sizes: no vector needs it, no animation gets it."""
    return not picture.is_vector and picture.frames == 1


def renditions_of(picture: Picture, share: float) -> tuple[Rendition, ...]:
    """Return a picture in the sizes that screens of each density need, none larger than it is.

    Args:
        picture: The picture.
        share: The share of its own size that a screen of density 1 needs.
    """
    made: list[Rendition] = []
    for density, quality in _QUALITIES.items():
        size = _size(picture, share * density)
        if not made or size != _size(picture, share):
            suffix, data = _packed(picture, size, quality)
            made.append(Rendition(density, suffix, data))
    return tuple(made)


def _size(picture: Picture, share: float) -> tuple[int, int]:
    """The size of a share of a picture, in steps."""
    width, height = picture.width, picture.height
    wide = min(width, -(-round(width * min(share, 1.0)) // _STEP) * _STEP)
    return wide, max(round(height * wide / width), 1)


@lru_cache(maxsize=256)
def _packed(picture: Picture, size: tuple[int, int], quality: int) -> tuple[str, bytes]:
    """A picture at a size as a file, with its ending; the picture itself where that is smaller."""
    image = as_shown(picture)
    is_whole = image.size == size
    if not is_whole:
        image = image.resize(size, Image.Resampling.LANCZOS)
    packed = io.BytesIO()
    image.save(packed, "WEBP", quality=quality, method=_EFFORT)
    if is_whole and picture.file.size <= packed.tell():
        return picture.file.path.suffix, picture.file.read_bytes()
    return ".webp", packed.getvalue()


@dataclass(frozen=True, slots=True)
class Weighed:
    """What the pictures of a page weigh on a screen, in bytes.

    Attributes:
        before: As the plan has them.
        after: In the sizes that have been made.
    """

    before: int
    after: int


def weigh(
    names: set[str],
    viewport: str,
    ratio: float,
    pictures: Mapping[str, Picture],
    made: Renditions,
) -> Weighed:
    """What some pictures weigh on a screen.

    Args:
        names: The pictures, by their names in the plan.
        viewport: The viewport's name.
        ratio: Its device pixels per CSS px.
        pictures: The plan's pictures.
        made: The renditions, by picture and viewport.
    """
    own = {name: pictures[name].file.size for name in names}
    after = sum(
        len(_chosen(made[name, viewport], ratio).data) if (name, viewport) in made else size
        for name, size in own.items()
    )
    return Weighed(sum(own.values()), after)


def _chosen(made: tuple[Rendition, ...], ratio: float) -> Rendition:
    """The rendition that a browser takes on a screen."""
    return next((item for item in made if item.density >= ratio), made[-1])
