"""Words of a text that are links: which letters of which lines they are."""

from __future__ import annotations

from dataclasses import dataclass, replace

from rising_lantern.css.backgrounds import Rect
from rising_lantern.css.colors import Color
from rising_lantern.layout.fonts import GlyphRun
from rising_lantern.layout.screen import whole_px
from rising_lantern.layout.texts import Line, TextBlock

THICKNESS, OFFSET = 0.06, 0.14
"""Of an underline, and its distance below the baseline, in font sizes; in whole px, 1 at least."""


@dataclass(frozen=True, slots=True)
class LinkBox:
    """Words of a text that are a link.

    Attributes:
        words: The words.
        text: Their letters, where they stand in the text.
        color: Their colour.
        visited: The same once the link has been followed.
        focus: The same while it has the focus.
        underlined: Whether a line is drawn below them.
    """

    words: str
    text: TextBlock
    color: Color
    visited: Color
    focus: Color
    underlined: bool

    def moved(self, left: float, top: float) -> LinkBox:
        """A copy that is moved to the right and down, in px."""
        return replace(self, text=self.text.moved(left, top))

    @property
    def underlines(self) -> list[Rect]:
        """The lines below the words, one on each line of the text; edges are whole px."""
        if not self.underlined:
            return []
        size = self.text.size
        thickness, offset = (max(whole_px(share * size), 1) for share in (THICKNESS, OFFSET))
        return [
            replace(box, top=whole_px(line.baseline) + offset, height=float(thickness))
            for line, box in zip(self.text.lines, self.boxes, strict=True)
        ]

    @property
    def boxes(self) -> list[Rect]:
        """Where the words stand, one box for each line of the text, as high as the line."""
        step = self.text.box.height / max(len(self.text.lines), 1)
        return [
            Rect(line.left, self.text.box.top + index * step, line.run.width * self.text.size, step)
            for index, line in enumerate(self.text.lines)
        ]


def split_links(
    block: TextBlock, words: str, spans: list[tuple[int, int]]
) -> tuple[TextBlock, list[TextBlock]]:
    """A text without the letters of its links, and the letters of each link.

    Args:
        block: The text.
        words: The text itself, with single spaces.
        spans: From where to where each link stands in that.

    Returns:
        The rest of the text, and one block for each span, with those lines that it is on.
    """
    if not spans:
        return block, []
    rest: list[Line] = []
    linked: list[list[Line]] = [[] for _ in spans]
    start = 0
    for line in block.lines:
        kept = []
        own: list[list[int]] = [[] for _ in spans]
        for index, cluster in enumerate(line.run.clusters):
            place = start + cluster.place
            found = next(
                (number for number, (low, high) in enumerate(spans) if low <= place < high), None
            )
            if found is None:
                kept.append(cluster)
            else:
                own[found].append(index)
        rest.append(replace(line, run=GlyphRun(tuple(kept), line.run.width)))
        for number, indexes in enumerate(own):
            if indexes:
                linked[number].append(_part(line, indexes, block.size))
        after = start + sum(len(cluster.text) for cluster in line.run.clusters)
        # A space at which a line is broken is on neither of them.
        start = after + words.startswith(" ", after)
    blocks = [_block(block, lines) for lines in linked]
    return replace(block, lines=tuple(rest)), blocks


def _part(line: Line, indexes: list[int], size: float) -> Line:
    """Some clusters of a line, one after the other, as a line of their own."""
    clusters = line.run.clusters
    first, after = indexes[0], indexes[-1] + 1
    low = clusters[first].left
    high = clusters[after].left if after < len(clusters) else line.run.width
    own = tuple(replace(clusters[index], left=clusters[index].left - low) for index in indexes)
    return Line(GlyphRun(own, high - low), line.left + low * size, line.baseline)


def _block(whole: TextBlock, lines: list[Line]) -> TextBlock:
    """The letters of a link in a box around them, of whole lines of the text."""
    if not lines:
        return replace(whole, lines=(), box=replace(whole.box, width=0.0, height=0.0))
    places = [index for index, line in enumerate(whole.lines) if line.baseline in _baselines(lines)]
    step = whole.box.height / len(whole.lines)
    left = min(line.left for line in lines)
    right = max(line.left + line.run.width * whole.size for line in lines)
    top = whole.box.top + places[0] * step
    return replace(whole, lines=tuple(lines), box=Rect(left, top, right - left, step * len(places)))


def _baselines(lines: list[Line]) -> set[float]:
    return {line.baseline for line in lines}
