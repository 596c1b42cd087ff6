"""Fonts in exported pages: only the characters that are used, packed as WOFF2."""

from __future__ import annotations

import io
import logging
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path

from fontTools import subset
from fontTools.ttLib import TTFont

from rising_lantern.opening import opened_file
from rising_lantern.plan.files.locate import Stamp, stamp_of


def subset_font(path: Path, characters: Iterable[str]) -> bytes:
    """A font with some characters only, as WOFF2; it sets text as the whole font does.

    Args:
        path: The font's file.
        characters: The characters that are used.
    """
    return _subset(path, stamp_of(path), "".join(sorted(set(characters))))


@lru_cache(maxsize=64)
def _subset(path: Path, stamp: Stamp, characters: str) -> bytes:
    del stamp  # the state of the file, by which a change of it is known
    logging.getLogger("fontTools").setLevel(logging.ERROR)
    options = subset.Options()
    options.flavor = "woff2"
    options.layout_features = ["*"]
    options.notdef_outline = True
    options.hinting = False
    with opened_file(path) as opened:
        font = TTFont(io.BytesIO(opened.read()), fontNumber=0, recalcTimestamp=False)
    worker = subset.Subsetter(options)
    worker.populate(text=characters)
    worker.subset(font)
    font.flavor = "woff2"
    packed = io.BytesIO()
    font.save(packed)
    return packed.getvalue()
