"""Looks that follow the scroll by CSS alone: a look is a custom property of the page's element.

A scroll-driven animation of that element gives the property its value along the scroll, and style
queries of the header and of what is in it read it. Where a browser has no such animations, the
script sets the same property.

Sources: https://www.w3.org/TR/scroll-animations-1/, https://www.w3.org/TR/css-contain-3/
(section 5.2)
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

from rising_lantern.css.lengths import Term
from rising_lantern.exports.names import Naming
from rising_lantern.exports.rules import DRIVEN, CssRule, KeyFrames, Statement
from rising_lantern.exports.sources import HeaderSource, PageSource
from rising_lantern.plan.models.changes import Blend, Cut, Fade
from rising_lantern.plan.models.thresholds import Threshold
from rising_lantern.scroll.switches import Switches

_HAIR = ".12px"  # engines differ by as much on where an edge is
_RESERVED = frozenset({"inherit", "initial", "unset", "revert", "revert-layer"})


def follows_by_css(views: Iterable[PageSource], header: str) -> bool:
    """Whether the looks of a header follow the scroll by CSS alone on a page.

    Args:
        views: The page at each viewport.
        header: The header's name.
    """
    known = [view for view in views if view.header and view.header.box.name == header]
    return all(map(_follows, known))


def _follows(view: PageSource) -> bool:
    header, switches = view.header, view.switches
    if header is None or switches is None or view.page.scroll_container is not None:
        return False
    return (
        len(header.box.looks) > 1
        and _depends_on_thresholds(header)
        and _keeps_the_flow(header)
        and _changes_alike(header)
        and _starts_in_order(switches)
    )


def _depends_on_thresholds(header: HeaderSource) -> bool:
    """Whether nothing but where the page is scrolled to says which look holds."""
    entry, box = header.entry, header.box
    if entry.under or entry.container or box.home is not None:
        return False
    looks = [(look, entry.look(look.name)) for look in box.looks]
    if any(own.back or own.selector or look.arrive or look.going for look, own in looks):
        return False
    edges = [own.from_.offset for _, own in looks if own.from_ and own.from_.edge]
    if any("%" in offset.css() for offset in edges):
        return False  # a share of the page's range, on a timeline that has another one
    return _RESERVED.isdisjoint(box.look_names)


def _keeps_the_flow(header: HeaderSource) -> bool:
    """Whether no look moves the sections, which would start or end it again."""
    box, entry = header.box, header.entry
    heights = {look.height for look in box.looks}
    return not box.in_flow or entry.hold_space or entry.starts_under or len(heights) == 1


def _changes_alike(header: HeaderSource) -> bool:
    """Whether looks that change in time do so alike: CSS does not say from where a look comes."""
    changes = [header.entry.change_to(name) for name in header.box.look_names[1:]]
    if any(isinstance(change, Blend) and change.lag_ms for change in changes):
        return False
    timed = [change for change in changes if isinstance(change, Fade)]
    cuts = any(isinstance(change, Cut) for change in changes)
    return len(set(timed)) < 2 and not (timed and cuts)  # noqa: PLR2004 - one way


def _starts_in_order(switches: Switches) -> bool:
    """Whether each look starts behind the one before, where that is complete."""
    ways = list(pairwise(switches.steps))
    in_order = all(before.start + before.blend < step.start for before, step in ways)
    return in_order and all(step.start > 0 for _, step in ways)


def sections_watched(header: HeaderSource | None) -> tuple[str, ...]:
    """The names of the sections at whose edges looks start by CSS: each has a timeline."""
    if header is None or not header.by_css:
        return ()
    edges = (header.entry.look(name).from_ for name in header.box.look_names[1:])
    return tuple(dict.fromkeys(edge.section for edge in edges if edge and edge.section))


def timeline_of(section: str, naming: Naming) -> str:
    """The name of the timeline of a section."""
    return naming.variable("at", section)


def edge_words(threshold: Threshold) -> str:
    """The edge of a threshold, such as ``past opening``; empty where it has none."""
    return f"{threshold.edge} {threshold.section}" if threshold.edge else ""


@dataclass(frozen=True)
class LookTimelines:
    """Writes how the scroll gives a header its looks.

    Attributes:
        header: The header.
        naming: How everything is named.
        lower: By the looks: the lengths that add up to the header's lower edge on the screen;
            none where the edges of sections meet the screen's own.
    """

    header: HeaderSource
    naming: Naming
    lower: Mapping[str, Sequence[str]]

    def statements(self, root: str) -> Iterator[Statement]:
        """The rules of the page's element, and the key frames.

        Args:
            root: Its selector.
        """
        names, at_first = self.header.box.look_names, self.header.at_first
        look = self.naming.variable("look")
        yield CssRule(root, {look: at_first})
        for name in names[1:]:
            yield KeyFrames(self._frames(name), {"from, to": {look: name}})
        blends = [way for way in pairwise(names) if self._blends(way[1])]
        for before, name in blends:
            leaving = {self.naming.variable("from"): before}
            yield KeyFrames(f"{self._frames(name)}-blend", {"from, to": leaving})
        declared = {} if names[0] == at_first else {look: names[0]}
        watched = [timeline_of(name, self.naming) for name in sections_watched(self.header)]
        if watched:
            declared["timeline-scope"] = ", ".join(watched)
        yield CssRule(root, declared | self._animations(), (DRIVEN,))

    def blending(self, way: tuple[str, str]) -> dict[str, str]:
        """What lets an animation run along the scroll while one look blends into the next.

        Args:
            way: The look that goes, and the one that comes.
        """
        timeline, place = self._timeline(way[1]), self._blend_range(way)
        return {"animation-timeline": timeline, "animation-range": place}

    def _animations(self) -> dict[str, str]:
        """The animations that set the look, and those that say from which one it comes."""
        ways = list(pairwise(self.header.box.look_names))
        blends = [way for way in ways if self._blends(way[1])]
        names = [f"{self._frames(look)} linear forwards" for _, look in ways]
        names += [f"{self._frames(look)}-blend linear" for _, look in blends]
        ranges = [self._place(way, met_early=True) for way in ways]
        ranges += [self._blend_range(way, met_early=True) for way in blends]
        return {
            "animation": ", ".join(names),
            "animation-timeline": ", ".join(self._timeline(way[1]) for way in (*ways, *blends)),
            "animation-range": ", ".join(ranges),
        }

    def _blend_range(self, way: tuple[str, str], *, met_early: bool = False) -> str:
        end = self._place(way, self.naming.use(way[1], "blend"))
        return f"{self._place(way, met_early=met_early)} {end}"

    def _frames(self, look: str) -> str:
        return f"{self.naming.prefix}-{self.header.box.name}-{look}"

    def _blends(self, look: str) -> bool:
        return isinstance(self.header.entry.change_to(look), Blend)

    def _threshold(self, look: str) -> Threshold:
        threshold = self.header.entry.look(look).from_
        assert threshold is not None  # noqa: S101 - it is not the first
        return threshold

    def _timeline(self, look: str) -> str:
        """The timeline along which a look comes: that of the page, or of a section."""
        section = self._threshold(look).section
        return timeline_of(section, self.naming) if section else "scroll(root)"

    def _place(self, way: tuple[str, str], further: str = "", *, met_early: bool = False) -> str:
        """Where on its timeline a look comes, or ends to come.

        Args:
            way: The look before, and this one.
            further: A length behind that, as CSS; empty for none.
            met_early: Whether it is met a hair before, as an edge of fractions of a px is.
        """
        before, look = way
        threshold = self._threshold(look)
        edge, expression = threshold.edge, threshold.offset.expression
        start = self.naming.use(look, "from")
        added = f" + {further}" if further else ""
        whole = (
            isinstance(expression, Term) and expression.unit == "px" and expression.value % 1 == 0
        )
        if met_early and (edge or not whole):
            added += f" - {_HAIR}"
        if edge is None:
            return f"calc({start}{added})" if added else start
        # Of a section that is higher than the screen, too, these are its upper and lower edge.
        share = "100%" if edge == "past" else "0%"
        lower = "".join(f" - {length}" for length in self.lower.get(before, ()))
        return f"exit-crossing calc({share}{lower} + {start}{added})"
