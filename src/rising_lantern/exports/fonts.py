"""Fonts in exported pages: only the characters that are used, packed as WOFF2."""

from __future__ import annotations

import io
from collections.abc import Iterable
from functools import lru_cache
from pathlib import Path

import uharfbuzz as hb
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
    with opened_file(path) as opened:
        face = hb.Face(opened.read(), 0)
    wanted = hb.SubsetInput()
    wanted.unicode_set.update(map(ord, characters))
    wanted.flags = hb.SubsetFlags.NO_HINTING | hb.SubsetFlags.NOTDEF_OUTLINE
    font = TTFont(io.BytesIO(hb.subset(face, wanted).blob.data), recalcTimestamp=False)
    font.flavor = "woff2"
    packed = io.BytesIO()
    font.save(packed)
    return packed.getvalue()
