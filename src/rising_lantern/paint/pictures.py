"""Picture files as pixels: decoded once, taken to sRGB, resampled as browsers do."""

from __future__ import annotations

import io
import math
from collections.abc import Iterator
from contextlib import contextmanager
from operator import attrgetter

import numpy as np
from PIL import Image, ImageCms, ImageOps

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.compositing import Bytes, premultiply
from rising_lantern.layout.screen import whole_px
from rising_lantern.paint.shelf import Shelf
from rising_lantern.paint.vectors import drawn
from rising_lantern.paint.videos import frame_of
from rising_lantern.plan.files.images import DAMAGES, opened_image
from rising_lantern.plan.files.pictures import Picture

_HAIR = 1e-6
_DIGITS = 9
_MOST_BYTES = 100_000_000  # of decoded and resampled pictures that are kept
_decoded = Shelf[Bytes](_MOST_BYTES, attrgetter("nbytes"))
_MOST_WHOLE = 16_000_000  # pixels of a picture that are taken to sRGB at once
_MOST_BAND = 2_000_000  # and of one that is larger
_MOST_JPEG_HALVINGS = 3  # libjpeg decodes at 1/2, 1/4 and 1/8


def scaled(picture: Picture, placed: Rect, window: tuple[int, int, int, int]) -> Bytes:
    """A window of a picture that is drawn at some place and size.

    Resampled as Chromium does. A picture drawn small is halved first: a JPEG while it is
    decoded, as often as does not make it smaller than it is drawn; another, by means of 2 x 2
    pixels, as often as leaves it larger. Then it is sampled bilinearly at pixel centres.

    Args:
        picture: The picture.
        placed: Where the whole picture stands, in px, not snapped.
        window: Left, top, right and bottom of the pixels that are wanted.

    Returns:
        Premultiplied RGBA.

    Raises:
        PlanError: If the file turns out to be broken.
    """
    left, top, right, bottom = window
    if picture.is_vector:
        x, y = whole_px(placed.left), whole_px(placed.top)
        across, down = whole_px(placed.right) - x, whole_px(placed.bottom) - y
        return drawn(picture, across, down)[top - y : bottom - y, left - x : right - x]
    # Rounded, so that a picture that stands in several sections is resampled once.
    size = (round(placed.width, _DIGITS), round(placed.height, _DIGITS))
    first = (round(left - placed.left, _DIGITS), round(top - placed.top, _DIGITS))
    count = (right - left, bottom - top)
    key = (picture, size, first, count)
    return _decoded.get(key, lambda: _resample(picture, size, first, count))


def _resample(
    picture: Picture,
    size: tuple[float, float],
    first: tuple[float, float],
    count: tuple[int, int],
) -> Bytes:
    """Pixels of a picture, sampled bilinearly.

    Args:
        picture: The picture.
        size: The width and height at which it is drawn.
        first: The near edges of the first pixel, from those of the picture.
        count: How many pixels are wanted, across and down.
    """
    source = _source(picture, *size)
    across = _step(source.shape[1], size[0], first[0] + count[0])
    down = _step(source.shape[0], size[1], first[1] + count[1])
    # As RGBX: Pillow would multiply RGBA by its alpha once more.
    whole = Image.frombuffer("RGBX", (source.shape[1], source.shape[0]), source)
    resampled = whole.transform(
        count,
        Image.Transform.AFFINE,
        (across, 0.0, first[0] * across, 0.0, down, first[1] * down),
        Image.Resampling.BILINEAR,
    )
    return np.asarray(resampled)


def _step(count: int, extent: float, last: float) -> float:
    """Pixels of a source per px drawn. The centre of the last px stays just inside the source.

    Args:
        count: How many pixels the source has.
        extent: How many px it is drawn over.
        last: The far edge of the last px that is drawn, from the picture's near edge.
    """
    step = count / extent
    center = last - 0.5
    return step if center * step < count else (count - _HAIR) / center


def _source(picture: Picture, width: float, height: float) -> Bytes:
    """The pixels that a picture drawn at some size is sampled from."""
    if picture.clip:
        # A frame of a video is a texture, which is not halved before it is sampled.
        return frame_of(picture)
    doublings = -math.log2(max(width / picture.width, height / picture.height))
    decoded_at = min(max(math.floor(doublings), 0), _MOST_JPEG_HALVINGS) if picture.is_jpeg else 0
    return _halve(picture, decoded_at, max(math.ceil(doublings - decoded_at) - 1, 0))


def _halve(picture: Picture, decoded_at: int, times: int) -> Bytes:
    """A premultiplied picture, decoded at a scale, then halved: means of 2 x 2, rounded down."""
    if times == 0:
        return premultiplied(picture, decoded_at)
    key = (picture, decoded_at, times)
    if picture.width * picture.height >> 2 * decoded_at > _MOST_WHOLE:
        return _decoded.get(key, lambda: _halve_in_bands(picture, decoded_at, times))
    return _decoded.get(key, lambda: _halve_once(_halve(picture, decoded_at, times - 1)))


def _halve_in_bands(picture: Picture, decoded_at: int, times: int) -> Bytes:
    """A large picture, some rows at a time, so that it is in memory once, as it is decoded."""
    with _upright(picture, decoded_at) as image:
        rows = max((_MOST_BAND // image.width) >> times, 1) << times
        end = min(max(image.height >> times, 1) << times, image.height)
        bands = []
        for top in range(0, end, rows):
            band = _pixels(image.crop((0, top, image.width, min(top + rows, end))))
            for _ in range(times):
                band = _halve_once(band)
            bands.append(band)
    return np.concatenate(bands)


def _halve_once(finer: Bytes) -> Bytes:
    """Halve a picture: each pixel is the mean of 2 x 2, or of 2 in a single row, rounded down."""
    height, width = (max(side // 2, 1) for side in finer.shape[:2])
    even = finer[: height * 2, : width * 2].astype(np.uint16)
    rows = even[0::2] + even[1::2] if finer.shape[0] > 1 else even * 2
    both = rows[:, 0::2] + rows[:, 1::2] if finer.shape[1] > 1 else rows * 2
    return np.ascontiguousarray((both >> 2).astype(np.uint8))


def premultiplied(picture: Picture, decoded_at: int = 0) -> Bytes:
    """A picture as premultiplied RGBA pixels of sRGB, upright.

    Args:
        picture: The picture; an SVG is drawn at its own size.
        decoded_at: How often a JPEG is halved while it is decoded.

    Raises:
        PlanError: If the file is broken.
    """
    if picture.is_vector:
        return drawn(picture, picture.width, picture.height)
    if picture.clip:
        return frame_of(picture)
    return _decoded.get((picture, decoded_at, 0), lambda: _decode_once(picture, decoded_at))


def _decode_once(picture: Picture, decoded_at: int) -> Bytes:
    with _upright(picture, decoded_at) as image:
        return np.ascontiguousarray(_pixels(image))


def _pixels(image: Image.Image) -> Bytes:
    """A decoded picture, or some rows of it, as premultiplied RGBA of sRGB."""
    return premultiply(np.asarray(_in_srgb(image).convert("RGBA")))


def as_shown(picture: Picture) -> Image.Image:
    """A picture as browsers show it: upright, in sRGB and 8 bits; with alpha where it has any.

    Raises:
        PlanError: If the file is broken.
    """
    with _upright(picture) as image:
        shown = _in_srgb(image)
        sees_through = "A" in shown.getbands() or "transparency" in shown.info
        mode = "RGBA" if sees_through else "RGB"
        return shown if shown.mode == mode else shown.convert(mode)


@contextmanager
def _upright(picture: Picture, decoded_at: int = 0) -> Iterator[Image.Image]:
    """A decoded picture, turned as its camera was held; what goes wrong is a fault of its file."""
    with _open_picture(picture) as opened:
        opened.seek(picture.frame)
        if decoded_at:
            width, height = opened.size
            opened.draft(None, (width >> decoded_at, height >> decoded_at))
        opened.load()
        ImageOps.exif_transpose(opened, in_place=True)
        yield opened


def _in_srgb(image: Image.Image) -> Image.Image:
    """A picture in 8 bits and sRGB."""
    shown = _in_8_bits(image)
    profile = image.info.get("icc_profile")
    return _to_srgb(shown, profile) if profile else shown


def _in_8_bits(picture: Image.Image) -> Image.Image:
    """A grey picture of 16 bits in 8; Pillow would cut its light parts off instead."""
    if not picture.mode.startswith("I"):
        return picture
    levels = np.asarray(picture, dtype=np.float64)
    return Image.fromarray((np.clip(levels, 0, 65_535) / 257 + 0.5).astype(np.uint8))


@contextmanager
def _open_picture(picture: Picture) -> Iterator[Image.Image]:
    """An open picture; what goes wrong with it is a fault of the file."""
    try:
        with picture.opened() as file, opened_image(file) as opened:
            yield opened
    except DAMAGES as error:
        raise picture.fault("the picture is incomplete or damaged", "save it again") from error


def _to_srgb(picture: Image.Image, profile: bytes) -> Image.Image:
    """Honour an embedded colour profile, as browsers do; a broken one is left aside."""
    mode = "RGBA" if "A" in picture.getbands() else "RGB"
    try:
        source = ImageCms.ImageCmsProfile(io.BytesIO(profile))
        if picture.mode in {"P", "PA", "1", "L", "LA"}:
            return picture.convert(mode)
        result = ImageCms.profileToProfile(
            picture, source, ImageCms.createProfile("sRGB"), outputMode=mode
        )
    except (ImageCms.PyCMSError, OSError, ValueError):
        return picture.convert(mode)
    return picture.convert(mode) if result is None else result
