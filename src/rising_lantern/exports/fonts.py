"""Fonts in exported pages: only the characters that are used, packed as WOFF2."""

from __future__ import annotations

import io
from collections.abc import Iterable
from functools import lru_cache

import uharfbuzz as hb
from fontTools.ttLib import TTFont

from rising_lantern.plan.files.source_files import SourceFile


def subset_font(file: SourceFile, characters: Iterable[str]) -> bytes:
    """A font with some characters only, as WOFF2; it sets text as the whole font does.

    Args:
        file: The font's file.
        characters: The characters that are used.
    """
    return _subset(file, "".join(sorted(set(characters))))


@lru_cache(maxsize=64)
def _subset(file: SourceFile, characters: str) -> bytes:
    face = hb.Face(file.read_bytes(), 0)
    wanted = hb.SubsetInput()
    wanted.unicode_set.update(map(ord, characters))
    wanted.flags = hb.SubsetFlags.NO_HINTING | hb.SubsetFlags.NOTDEF_OUTLINE
    font = TTFont(io.BytesIO(hb.subset(face, wanted).blob.data), recalcTimestamp=False)
    font.flavor = "woff2"
    packed = io.BytesIO()
    font.save(packed)
    return packed.getvalue()
