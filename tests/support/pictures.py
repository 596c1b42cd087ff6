"""Small pictures for plans."""

from __future__ import annotations

import io
from functools import cache
from pathlib import Path

import numpy as np
from PIL import Image

FLAG = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="160" height="90"><path fill="#16213e" d="M0 0h160v90H0z"/>'
    '<path fill="#f4a259" fill-opacity=".8" d="M20 10h60v50H20z"/></svg>'
)


def paint_pictures(folder: Path) -> None:
    """Small pictures for plans: a photograph of noise, a gradient, and two logos."""
    for name, data in _painted().items():
        (folder / name).write_bytes(data)


@cache
def _painted() -> dict[str, bytes]:
    """The files, painted once for all tests of a process."""
    rng = np.random.default_rng(4)
    rows, columns = np.mgrid[0:400, 0:600]
    gradient = np.stack([columns * 255 // 600, rows * 255 // 400, (rows + columns) % 256], axis=-1)
    pictures = {"photo.png": Image.fromarray(gradient.astype(np.uint8))}
    noise = Image.fromarray(rng.integers(0, 255, (60, 100, 3), dtype=np.uint8))
    pictures["noise.png"] = noise.resize((500, 300), Image.Resampling.BICUBIC)
    for name, ink in (("light", (250, 245, 230)), ("dark", (20, 30, 60))):
        logo = np.zeros((40, 120, 4), dtype=np.uint8)
        logo[..., :3] = ink
        logo[8:32, 10:110, 3] = 255
        pictures[f"logo-{name}.png"] = Image.fromarray(logo)
    files = {"flag.svg": FLAG.encode()}
    for name, picture in pictures.items():
        packed = io.BytesIO()
        picture.save(packed, "png")
        files[name] = packed.getvalue()
    return files
