"""Font files that a plan names: found, and opened once to see that they are fonts."""

from __future__ import annotations

from pathlib import Path

from PIL import ImageFont

from rising_lantern.base.opening import opened_file
from rising_lantern.errors import quoted
from rising_lantern.plan.files.locate import FileFault, locate
from rising_lantern.plan.files.source_files import SourceFile

MOST_FONT_BYTES = 50_000_000


def find_font(folder: Path, name: str) -> SourceFile:
    """A font of the plan.

    Source: https://learn.microsoft.com/en-us/typography/opentype/spec/otff

    Raises:
        FileFault: If it cannot be reached, or is not a font.
    """
    path = locate(folder, name)
    try:
        return _check_font(path, name)
    except OSError:
        raise FileFault(f"{quoted(name)} cannot be read", "check that it is there") from None


def _check_font(path: Path, name: str) -> SourceFile:
    """A font file that opens as one."""
    # OpenType 1.9.1, table directory: the versions that a font file can start with.
    if path.stat().st_size > MOST_FONT_BYTES:
        limit = f"{MOST_FONT_BYTES // 1_000_000} MB is the limit for a font"
        raise FileFault(f"{quoted(name)} is too large", limit)
    with opened_file(path) as opened:
        is_font = opened.read(4) in {b"\0\1\0\0", b"OTTO", b"true", b"ttcf"}
    if is_font:
        is_font = _opens_as_font(path)
    if not is_font:
        raise FileFault(f"{quoted(name)} is not a font", "name a TrueType or OpenType font file")
    return SourceFile.of(path)


def _opens_as_font(path: Path) -> bool:
    try:
        ImageFont.truetype(path, 16, layout_engine=ImageFont.Layout.BASIC).getlength("Lantern")
    except (OSError, ValueError):
        return False
    return True
