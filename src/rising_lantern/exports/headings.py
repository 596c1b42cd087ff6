"""Which texts of a page are headings, and of which level."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence

from rising_lantern.exports.sources import ContentSource, PageSource
from rising_lantern.layout.items import ContentBox

_LONGEST = 120  # characters of a heading
_LARGER = 1.1  # times as large as the texts around it
_LOWEST = 6


def heading_levels(view: PageSource) -> dict[tuple[str, str], int]:
    """The levels of the texts of a page that are headings, by their section and key.

    A text says its level itself, or it is one by its size: in each section, the sizes above that
    of most letters make its headings, the largest on top. A section whose texts are all alike is
    headed by the first. The first heading of a page is of level 1, and those of sections are of 2.

    Source: https://html.spec.whatwg.org/multipage/sections.html#headings-and-outlines-2

    Args:
        view: The page at a viewport.
    """
    levels: dict[tuple[str, str], int] = {}
    has_first = any(
        content.entry.level == 1 for section in view.sections for content in section.texts
    )
    for section in view.sections:
        texts = [content for content in section.texts if content.entry.button is None]
        for content, rank in _rank_headings(texts):
            level = content.entry.level
            if level is None:
                level = min((2 if has_first else 1) + rank, _LOWEST)
                level = max(level, 2) if has_first else level
            has_first = has_first or level == 1
            if level:
                levels[section.box.name, content.key] = level
    return levels


def _rank_headings(texts: Sequence[ContentSource]) -> Iterator[tuple[ContentSource, int]]:
    """The texts of a section that are headings, each with the rank of its size, 0 the largest."""
    known = [text for text in texts if text.entry.level is None]
    letters = Counter[float]()
    for text in known:
        letters[_size(text)] += len(text.entry.text or "")
    body = letters.most_common(1)[0][0] if letters else 0.0
    larger = {
        text.key: _size(text)
        for text in known
        if _size(text) > body * _LARGER and len(text.entry.text or "") <= _LONGEST
    }
    says = any(text.entry.level for text in texts)
    if not larger and known and not says and _begins_short(known[0]):
        larger = {known[0].key: _size(known[0])}
    sizes = sorted(set(larger.values()), reverse=True)
    for text in texts:
        if text.entry.level is not None:
            yield text, 0
        elif text.key in larger:
            yield text, sizes.index(larger[text.key]) + (1 if says else 0)


def _begins_short(text: ContentSource) -> bool:
    """Whether a text, or its first line, is short enough for a heading."""
    return len((text.entry.text or "").split("\n")[0]) <= _LONGEST


def _size(text: ContentSource) -> float:
    """The font size of a text, in whole px."""
    assert isinstance(text.box, ContentBox)  # noqa: S101 - it is a text
    return float(round(text.box.text.size))
