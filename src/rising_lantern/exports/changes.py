"""How one look of a header becomes the next, as CSS: transitions, arrivals and blends.

Where the script switches looks, ``data-change`` says which look's change is on its way, in either
direction, and ``data-from`` which look a blend leaves. Where CSS does, all changes in time are
alike, and ``--lantern-from`` says it.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from itertools import permutations

from rising_lantern.css.numbers import number
from rising_lantern.exports.headers import (
    Declared,
    HeaderWriter,
    backdrops_of,
    differing,
    gradient_fills,
)
from rising_lantern.exports.names import Naming
from rising_lantern.exports.rules import DRIVEN, CssRule, Declarations, KeyFrames, Statement
from rising_lantern.exports.sources import HeaderSource
from rising_lantern.plan.models.changes import Blend, Fade

_FADES = {
    "": (
        "height", "background-color", "color", "box-shadow", "margin-bottom", "border",
        "backdrop-filter",
    ),
    "row": ("height", "background-color", "color", "border-width", "border-color", "visibility"),
    "side": ("left", "right", "top"),
    "part": ("width", "height", "font-size"),
    "image": ("opacity",),
    "fill": ("opacity",),
    "backdrop": ("opacity",),
}  # fmt: skip
"""What of a header fades, by what of it that is."""
_SIDES = {"border": "border-width, border-color"}

_LESS_MOTION = "@media (prefers-reduced-motion: reduce)"


def header_statements(writer: HeaderWriter, root: str) -> Iterator[Statement]:
    """The rules of a header, its changes among them, and how CSS switches it.

    Args:
        writer: What writes the header.
        root: The selector of what everything is under.
    """
    if writer.header.by_css:
        yield from writer.timelines.statements(root)
    yield from writer.statements(root)
    yield from ChangeWriter(writer).statements(root)
    yield from writer.printed(root)


@dataclass(frozen=True)
class ChangeWriter:
    """Writes how the looks of a header replace each other.

    Attributes:
        writer: What writes the header.
    """

    writer: HeaderWriter

    @property
    def header(self) -> HeaderSource:
        """The header."""
        return self.writer.header

    @property
    def naming(self) -> Naming:
        """How everything is named."""
        return self.writer.naming

    def statements(self, root: str) -> Iterator[Statement]:
        """The rules.

        Args:
            root: The selector of what everything is under.
        """
        yield from self._fades(root)
        for item in self.header.box.looks:
            if item.arrive:
                yield from self._arrival(root, item.name, item.arrive)
        known: dict[str, str] = {}
        for way in self._ways():
            change = self.header.entry.change_to(way[1])
            if isinstance(change, Blend) and not self.header.entry.look(way[1]).arrive:
                yield from self._blend_animations(root, way, change, known)

    def _inner(self, kind: str) -> str:
        """The selector of what fades, within the header."""
        parts = dict.fromkeys(self.writer.part(name) for name in self.header.entry.parts)
        any_part = ", ".join(
            [self.naming.kind("part"), *(item for item in parts if item.startswith(":is"))]
        )
        any_part = f":is({any_part})" if "," in any_part else any_part
        return {
            "": "",
            "row": f" > {self.naming.kind('row')}",
            "side": self.writer.side(),
            "part": f" {any_part}",
            "image": f" {any_part} img",
            "fill": f" {self.naming.kind('fill')}",
            "backdrop": f" {self.naming.kind('backdrop')}",
        }[kind]

    def _fades(self, root: str) -> Iterator[Statement]:
        """Transitions for looks that fade; the script allows them once the page has been seen."""
        entry, box = self.header.entry, self.header.box
        fading = [
            look.name
            for look in box.looks
            if isinstance(entry.change_to(look.name), Fade) and not look.arrive
        ]
        fading = [name for name in fading if name != box.look_names[0] or entry.under]
        if not fading:
            return
        armed = f"{root}[data-fades]"
        kinds = ["", "side", "part", "image", *(["fill"] if gradient_fills(box) else [])]
        kinds += ["backdrop"] if backdrops_of(box) else []
        kinds[1:1] = ["row"] if entry.rows else []
        here = f"{armed} {self.writer.here}"
        declared = self.writer.declared()
        fades = {kind: ", ".join(self._fading(kind, declared)) for kind in kinds}
        for kind, names in fades.items():
            yield CssRule(here + self._inner(kind), {"transition-property": names} if names else {})
        yield from self._fading_colors(here, fades["part"], declared)
        # What has no properties to fade has no time either: it would fade all that it inherits.
        inner = [
            self._inner(kind).split(" ", 1)[1].removeprefix("> ")
            for kind, names in fades.items()
            if kind and names
        ]
        which = ["", f" :is({', '.join(inner)})"][not fades[""] :]
        for look in fading[-1:] if self.header.by_css else fading:
            coming = here if self.header.by_css else f'{here}[data-change="{look}"]'
            yield CssRule(", ".join(coming + item for item in which), self._course(look))
        if self.header.by_css:
            # What follows the scroll follows it at once.
            blending = ", ".join(here + item for item in which)
            yield CssRule(
                blending, {"transition-duration": "0s"}, (self.writer.query({"from": ""}),)
            )
        if self.writer.stills:
            still = ", ".join(here + item for item in which)
            yield CssRule(still, {"transition": "none"}, (_LESS_MOTION,))

    def _course(self, look: str) -> dict[str, str]:
        """How a look fades in."""
        change = self.header.entry.change_to(look)
        assert isinstance(change, Fade)  # noqa: S101 - chosen so above
        course = {
            "transition-duration": self.naming.use(*self.writer.time(look)),
            "transition-timing-function": change.easing.css(),
        }
        if change.delay_ms:
            course["transition-delay"] = f"{number(change.delay_ms)}ms"
        return course

    def _fading_colors(
        self, here: str, others: str, declared: Mapping[str, Declared]
    ) -> Iterator[Statement]:
        """Colours of parts that have their own.

        What inherits a colour that fades must not fade itself: it would follow a picture later.
        """
        for name in self.header.entry.parts:
            inner = f" {self.writer.part(name)}"
            if any("color" in look.get(inner, {}) for look in declared.values()):
                yield CssRule(here + inner, {"transition-property": f"{others}, color"})

    def _fading(self, kind: str, declared: Mapping[str, Declared]) -> Iterator[str]:
        """What of a header fades: of itself and its sides, what differs in any two looks."""
        inner = {"": "", "side": self.writer.side()}.get(kind)
        if inner is None or (kind and self.header.entry.rows):
            yield from _FADES[kind]
            return
        differ = differing(declared, inner)
        yield from (_SIDES.get(name, name) for name in _FADES[kind] if name in differ)

    def _arrival(self, root: str, look: str, arrive: str) -> Iterator[Statement]:
        """A look that comes as a second header: from above, or out of nothing."""
        change = self.header.entry.change_to(look)
        here = f'{root} {self.writer.own}[data-arrival="{look}"]'
        away = {"translate": "0 -100%"} if arrive == "slide" else {"opacity": "0"}
        there = {"translate": "0 0"} if arrive == "slide" else {"opacity": "1"}
        (name,) = away
        yield CssRule(here, away)
        if isinstance(change, Fade):
            course = f"{self.naming.use(*self.writer.time(look))} {change.easing.css()}"
            course += f" {number(change.delay_ms)}ms" if change.delay_ms else ""
            armed = f'{root}[data-fades] {self.writer.own}[data-arrival="{look}"]'
            yield CssRule(armed, {"transition": f"{name} {course}, visibility {course}"})
            if self.writer.stills and arrive == "slide":
                yield CssRule(armed, {"transition": "none"}, (_LESS_MOTION,))
        yield CssRule(f"{here}[data-here]", there | {"visibility": "visible"})
        # The first header is seen until the second has come over it.
        below = f'{root} {self.writer.here}[data-look="{look}"][data-from=""]'
        wait = self.naming.use(*self.writer.time(look)) if isinstance(change, Fade) else "0s"
        if isinstance(change, Fade) and change.delay_ms:
            wait = f"calc({wait} + {number(change.delay_ms)}ms)"
        yield CssRule(below, {"visibility": "hidden"})
        fading = below.replace(root, f"{root}[data-fades]", 1)
        yield CssRule(fading, {"transition": f"visibility 0s {wait}"})
        if isinstance(change, Blend):
            frames = f"{self.naming.prefix}-{self.header.box.name}-{look}-arrives"
            yield KeyFrames(frames, {"from": away, "to": there})
            yield CssRule(f"{here}[data-here]", self._pause_animation(frames, change))
            if self.writer.stills and arrive == "slide":
                yield CssRule(f"{here}[data-here]", {"animation": "none"}, (_LESS_MOTION,))

    def _ways(self) -> Iterator[tuple[str, str]]:
        """From which look which other can come."""
        names = self.header.box.look_names
        if self.header.entry.under:
            yield from permutations(names, 2)
        else:
            # A look that arrives is that of another header: the first one keeps what it had.
            for index, look in enumerate(names[1:]):
                yield names[self.header.box.standing(index)], look

    def _blend_animations(
        self, root: str, way: tuple[str, str], change: Blend, known: dict[str, str]
    ) -> Iterator[Statement]:
        """Paused animations whose time is the share of the way that has been scrolled.

        Args:
            root: The selector of what everything is under.
            way: The look that goes, and the one that comes.
            change: How it comes.
            known: The names of key frames by what is in them, to which those of this way are added.
        """
        before, look = way
        here = f"{root} {self.writer.here}"
        within: tuple[str, ...] = ()
        if self.header.by_css:
            # WebKit 2.50 counts an animation that has ended where the page ends.
            within = (self.writer.query({"look": look, "from": before}),)
        else:
            here += f'[data-from="{before}"][data-drawn="{look}"]'
        declared_by = self.writer.declared()
        moved: list[str] = []
        start = f"{self.naming.prefix}-{self.header.box.name}-{before}-to-{look}"
        index = 0
        for inner, second in declared_by[look].items():
            first = declared_by[before].get(inner, {})
            differing = [
                name
                for name, value in second.items()
                if name in first and first[name] != value and name != "display"
            ]
            if not differing:
                continue
            frames: dict[str, Declarations] = {
                "from": {item: first[item] for item in differing},
                "to": {item: second[item] for item in differing},
            }
            if str(frames) not in known:
                known[str(frames)] = f"{start}-{index}" if index else start
                yield KeyFrames(known[str(frames)], frames)
                index += 1
            paused = self._pause_animation(known[str(frames)], change)
            yield CssRule(here + inner, paused, within)
            moved.append(here + inner)
        if self.header.by_css and moved:
            runs = {"animation-delay": "0s", "animation-play-state": "running"}
            along = self.writer.timelines.blending(way)
            yield CssRule(", ".join(moved), runs | along, (*within, DRIVEN))

    def _pause_animation(self, name: str, change: Blend) -> dict[str, str]:
        share = f"var({self.naming.variable('progress')}, 1)"
        return {
            "animation": f"{name} 1s {change.easing.css()} both paused",
            "animation-delay": f"calc({share} * -1s)",
        }
