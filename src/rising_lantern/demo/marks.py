"""The festival's logo and icons: drawn large and reduced, in a light and a dark ink."""

from __future__ import annotations

from collections.abc import Callable

from PIL import Image, ImageDraw, ImageFont

from rising_lantern.layout.fonts import FontBook

LIGHT, DARK = (253, 246, 227), (22, 33, 62)
_FLAME = (244, 162, 89)
_FINE = 4
_LOGO = (528, 120)
_ICON = 72

Ink = tuple[int, int, int]


def logo(ink: Ink) -> Image.Image:
    """A lantern on two waves beside the festival's name, 528 x 120 px."""
    width, height = (side * _FINE for side in _LOGO)
    picture = Image.new("RGBA", (width, height), (*ink, 0))
    draw = ImageDraw.Draw(picture)
    unit = height / 120
    _lantern(draw, 50 * unit, 14 * unit, unit, ink)
    for index, y in enumerate((92, 106)):
        _wave(draw, (8 + 8 * index) * unit, (92 - 8 * index) * unit, y * unit, unit, ink)
    fonts = FontBook({})
    name = ImageFont.truetype(fonts.file("serif", 600).path, int(55 * unit))
    line = ImageFont.truetype(fonts.file("sans", 600).path, int(20.5 * unit))
    draw.text((116 * unit, 66 * unit), "Saltmere", font=name, fill=(*ink, 255), anchor="ls")
    pen = 119 * unit
    for letter in "LANTERN REGATTA":
        draw.text((pen, 100 * unit), letter, font=line, fill=(*ink, 255), anchor="ls")
        pen += line.getlength(letter) + 6.4 * unit
    return picture.reduce(_FINE)


def search(ink: Ink) -> Image.Image:
    """A magnifying glass, 72 x 72 px."""

    def drawing(draw: ImageDraw.ImageDraw, unit: float) -> None:
        draw.ellipse(_scale((11, 11, 49, 49), unit), outline=(*ink, 255), width=int(6.5 * unit))
        draw.line(_scale((44, 44, 62, 62), unit), fill=(*ink, 255), width=int(7.5 * unit))
        draw.ellipse(_scale((58.3, 58.3, 65.7, 65.7), unit), fill=(*ink, 255))

    return _icon(ink, drawing)


def ticket(ink: Ink) -> Image.Image:
    """A ticket with a notch on each side, 72 x 72 px."""

    def drawing(draw: ImageDraw.ImageDraw, unit: float) -> None:
        box = _scale((7, 19, 65, 53), unit)
        draw.rounded_rectangle(box, 5 * unit, outline=(*ink, 255), width=int(5.5 * unit))
        for x in (7.0, 65.0):
            draw.ellipse(_scale((x - 8, 28, x + 8, 44), unit), fill=(*ink, 255))
            draw.ellipse(_scale((x - 4, 31.5, x + 4, 40.5), unit), fill=(*ink, 0))
            outer = (-2.0, 26.0, 4.0, 46.0) if x < 36 else (68.0, 26.0, 74.0, 46.0)  # noqa: PLR2004
            draw.rectangle(_scale(outer, unit), fill=(*ink, 0))
        for y in (25.0, 33.5, 42.0):
            draw.line(_scale((45, y, 45, y + 4.5), unit), fill=(*ink, 255), width=int(4.5 * unit))

    return _icon(ink, drawing)


def _icon(ink: Ink, drawing: Callable[[ImageDraw.ImageDraw, float], None]) -> Image.Image:
    side = _ICON * _FINE
    picture = Image.new("RGBA", (side, side), (*ink, 0))
    drawing(ImageDraw.Draw(picture), side / 72)
    return picture.reduce(_FINE)


def _lantern(draw: ImageDraw.ImageDraw, x: float, y: float, unit: float, ink: Ink) -> None:
    """A paper lantern: its flame keeps its colour in both inks."""
    draw.rounded_rectangle(
        (x - 22 * unit, y, x + 22 * unit, y + 64 * unit),
        15 * unit,
        outline=(*ink, 255),
        width=int(5.5 * unit),
    )
    draw.line(
        (x - 12 * unit, y - 3 * unit, x + 12 * unit, y - 3 * unit),
        fill=(*ink, 255),
        width=int(5.5 * unit),
    )
    flame = [(0, 16), (8.5, 32), (9.5, 40), (5, 47), (0, 49), (-5, 47), (-9.5, 40), (-8.5, 32)]
    draw.polygon([(x + a * unit, y + b * unit) for a, b in flame], fill=(*_FLAME, 255))


def _wave(
    draw: ImageDraw.ImageDraw, left: float, right: float, y: float, unit: float, ink: Ink
) -> None:
    count = 4
    step = (right - left) / count
    for index in range(count):
        start, end = (180, 360) if index % 2 else (0, 180)
        x = left + index * step
        box = (x - 2.4 * unit, y - 7 * unit, x + step + 2.4 * unit, y + 7 * unit)
        draw.arc(box, start, end, fill=(*ink, 255), width=int(5 * unit))


def _scale(box: tuple[float, float, float, float], unit: float) -> tuple[float, ...]:
    return tuple(side * unit for side in box)
