"""CSS rules as data, and as text that reads as if it were written by hand."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

Images = Callable[[str, str], str]
"""Gives a picture as a CSS image, by its name in the plan and the viewport that shows it."""

Declarations = Mapping[str, str]
"""Values by their properties."""

LESS_MOTION = "@media (prefers-reduced-motion: reduce)"
ON_SCREEN = "@media screen and (prefers-reduced-motion: no-preference)"
"""Readers who ask for less motion: Media Queries 5, 12.1. Motion is for screens, not for paper."""

PRINT = "@media print"

TIMELINES = "animation-timeline: view()"
DRIVEN, UNDRIVEN = f"@supports ({TIMELINES})", f"@supports not ({TIMELINES})"
"""Browsers with scroll-driven animations, and those in which the script does their work."""

SOLID = "@media (prefers-contrast: more), (prefers-reduced-transparency: reduce)"
"""Readers who ask for less that lets something through: Media Queries 5, 12.3 and 12.6."""

FORCED = "@media (forced-colors: active)"
"""Readers whose browser sets colours of its own: Media Queries 5, 12.4."""

WIDTH = 98
"""Most characters of a line, where a value has commas or spaces to break it at."""


@dataclass(frozen=True, slots=True)
class CssRule:
    """A style rule.

    Attributes:
        selector: Its selector.
        declarations: What it declares.
        within: The conditional rules around it, the outermost first, such as ``@media print``.
    """

    selector: str
    declarations: Declarations
    within: tuple[str, ...] = ()

    @property
    def key(self) -> tuple[tuple[str, ...], str]:
        """What is the same for two rules that say different things of the same elements."""
        return self.within, self.selector

    def narrowed(self, declarations: Declarations) -> CssRule:
        """The rule with some of its declarations only."""
        return CssRule(self.selector, declarations, self.within)


@dataclass(frozen=True, slots=True)
class KeyFrames:
    """Key frames of an animation.

    Attributes:
        name: Their name.
        frames: What each declares, by its place.
        within: The conditional rules around them, the outermost first.
    """

    name: str
    frames: Mapping[str, Declarations]
    within: tuple[str, ...] = ()

    def lines(self) -> Iterator[str]:
        """The key frames as text."""
        yield f"@keyframes {self.name} {{"
        for place, declarations in self.frames.items():
            inner = " ".join(f"{name}: {value};" for name, value in declarations.items())
            if len(inner) + len(place) < WIDTH:
                yield f"  {place} {{ {inner} }}"
                continue
            yield f"  {place} {{"
            for name, value in declarations.items():
                yield from value_lines(f"    {name}: ", value)
            yield "  }"
        yield "}"


Statement = CssRule | KeyFrames


def selector_lines(selector: str, margin: str = "") -> Iterator[str]:
    """A selector with the bracket that opens its block, as lines."""
    if len(margin) + len(selector) + len(" {") < WIDTH:
        yield f"{margin}{selector} {{"
        return
    *first, last = split(selector, ", ")
    for item in first:
        yield from _break_selector(f"{item},", margin)
    yield from _break_selector(f"{last} {{", margin)


def _break_selector(selector: str, margin: str) -> Iterator[str]:
    """One selector, broken between its parts where it is long."""
    line, words = margin, split(selector, " ")
    if words[-1] == "{":
        words[-2:] = [" ".join(words[-2:])]  # a brace is not alone on its line
    for word in words:
        if line.strip() and len(line) + len(word) >= WIDTH:
            yield line
            line = f"{margin}  {word}"
        else:
            line = f"{line} {word}" if line.strip() else f"{margin}{word}"
    yield line


def value_lines(head: str, value: str) -> Iterator[str]:
    """A declaration, broken at commas outside brackets, or else at spaces, where it is long."""
    if len(head) + len(value) < WIDTH:
        yield f"{head}{value};"
        return
    margin = " " * (len(head) - len(head.lstrip()) + 2)
    room = WIDTH - max(len(head), len(margin))
    *first, last = split(value, ", ")
    words: list[str] = []
    for piece in (*(f"{item}," for item in first), f"{last};"):
        words += [piece] if len(piece) < room else _break_value(piece, room)
    line = head
    for word in words:
        if line != head and len(line) + len(word) > WIDTH:
            yield line.rstrip()
            line = margin
        line += f"{word} "
    yield line.rstrip()


def _break_value(piece: str, room: int) -> list[str]:
    """A long piece of a value, at spaces outside of brackets where that is enough."""
    outside = split(piece, " ")
    return outside if max(map(len, outside)) < room else piece.split(" ")


def split(text: str, joint: str) -> list[str]:
    """The pieces of a text between joints that stand outside of brackets and strings."""
    pieces, start = [], 0
    for index in outer(text):
        if index >= start and text.startswith(joint, index):
            pieces.append(text[start:index])
            start = index + len(joint)
    return [*pieces, text[start:]]


def outer(text: str) -> Iterator[int]:
    """The places of a text outside of brackets and strings, with those where brackets open."""
    depth, quote = 0, ""
    for index, sign in enumerate(text):
        if quote:
            quote = "" if sign == quote else quote
        elif sign in "\"'":
            quote = sign
        elif sign in ")]":
            depth -= 1
        else:
            if depth == 0:
                yield index
            depth += sign in "(["


def family(font: str, prefix: str) -> str:
    """The name of a font of the plan in the style sheet, and what stands in for it."""
    generic = "serif" if font == "serif" else "sans-serif"
    return f'"{prefix} {font}", {generic}'
