"""Rules about what fits: the parts of a header side by side, and texts in what holds them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.findings import Finding
from rising_lantern.checks.rules import Rule, check_rule
from rising_lantern.checks.subjects import Subject, of_item, of_text
from rising_lantern.css.backgrounds import Rect
from rising_lantern.errors import shortened
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.items import ContentBox, Item
from rising_lantern.layout.pause import is_icon
from rising_lantern.layout.sections import SectionBox
from rising_lantern.plan.text.screen_widths import spans_of

SEEN_PX = 0.5
_STRETCHED = 2.5  # times its own width, up to which a viewport looks as planned


@dataclass(frozen=True, slots=True)
class PartGroups:
    """The parts of a header in one look, as three groups side by side. Lengths are CSS px.

    Attributes:
        look: The look's name.
        room: What the header has for its parts.
        needed: What they need so that no two overlap.
        outside: What the header has beside them: its padding and border, on both sides.
    """

    look: str
    room: float
    needed: float
    outside: float

    @property
    def short(self) -> float:
        """How many px are missing."""
        return self.needed - self.room


def rows_of(header: HeaderBox) -> Iterator[PartGroups]:
    """The parts of a header in each of its looks.

    With a group in the middle each of the outer ones has half of what is left; without, they
    share all of it. So what they need follows from their widths alone.
    """
    for look in header.looks:
        for name, stretch in look.stretches.items():
            own = [
                (header.parts[part_name].side, part.box)
                for part_name, part in look.parts.items()
                if header.parts[part_name].row == name
            ]
            widths = {side: _group(own, side) for side in ("start", "center", "end")}
            outer = widths["start"], widths["end"]
            needed = widths["center"] + 2 * max(outer) if widths["center"] else sum(outer)
            yield PartGroups(look.name, stretch.width, needed, look.width - stretch.width)


def _group(parts: Sequence[tuple[str, Rect]], side: str) -> float:
    """The width of the parts on one side, with the gaps between them."""
    boxes = [box for own, box in parts if own == side]
    return max(box.right for box in boxes) - min(box.left for box in boxes) if boxes else 0.0


@check_rule("crowded-header", "error")
def crowded_header(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """Parts of a header overlap, or do not fit its width.

    Measured: the missing width in px, in the look in which it is largest. The remedy names the
    width from which they fit.
    """
    header = context.box.header
    if header is None:
        return
    worst = max(rows_of(header), key=lambda row: row.short)
    if worst.short <= SEEN_PX:
        return
    yield rule.finding(
        context,
        Subject(header=header.name, look=worst.look),
        path=("headers", header.name, "parts"),
        measured=worst.short,
        limit=0.0,
        message=f"its parts are {worst.short:.0f} px too wide to stand side by side",
        remedy=f"the header has to be at least {worst.needed + worst.outside:.0f} px wide for "
        "them: show less here, or make them smaller",
    )


@check_rule("overlapping-texts", "warning")
def overlapping_texts(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """The letters of two texts of a section lie over each other.

    Checked for texts that move alike, where they have arrived. Measured: the height in px of what
    their lines share.
    """
    for section in context.box.sections:
        for index, text in enumerate(section.content):
            over = [
                (_overlap(text, other), other)
                for other in section.content[:index]
                if other.motion == text.motion
            ]
            most, other = max(over, key=lambda item: item[0], default=(0.0, text))
            if most > SEEN_PX:
                yield rule.finding(
                    context,
                    of_text(section.name, index, text),
                    measured=most,
                    limit=0.0,
                    message=f'its letters overlap those of "{shortened(other.words)}" by '
                    f"{most:.0f} px",
                    remedy="move one of them, make it smaller, or let both flow in a section with "
                    "a padding",
                )


def _overlap(text: ContentBox, other: ContentBox) -> float:
    """The largest height that a line of one text shares with a line of another, in px."""
    boxes = [(one, two) for one in _ink_of(text) for two in _ink_of(other)]
    return max(
        (
            min(one.bottom, two.bottom) - max(one.top, two.top)
            for one, two in boxes
            if one.left < two.right - SEEN_PX and two.left < one.right - SEEN_PX
        ),
        default=0.0,
    )


def letters_of(content: ContentBox) -> Iterator[Rect]:
    """The lines of a text, as high as their letters."""
    text = content.text
    ascent, descent = (item * text.size for item in (text.face.ascent, text.face.descent))
    for line in text.lines:
        yield Rect(line.left, line.baseline - ascent, line.run.width * text.size, ascent + descent)


def _ink_of(content: ContentBox) -> Iterator[Rect]:
    """The lines of a text, as high as what is drawn of their letters."""
    text = content.text
    for line in text.lines:
        words = line.run.text
        above, below = (item * text.size for item in text.face.ink(words))
        yield Rect(line.left, line.baseline - above, line.run.width * text.size, above + below)


@check_rule("stretched-screen", "note")
def stretched_screen(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A viewport's values hold on screens that are much wider than it is.

    With a laptop and a phone alone, everything that is narrower than the laptop has the phone's
    header. Measured: how many times its own width the widest of these screens is. Limit: 2.5.
    """
    own = context.box.viewport
    spans = spans_of(context.plan, context.plan.documents)
    end = spans[own][1]
    width = context.plan.viewport(own).width
    if end is None or end - 1 <= _STRETCHED * width:
        return
    wider = next(name for name, (low, _) in spans.items() if low == end)
    yield rule.finding(
        context,
        Subject(),
        path=("viewports", own),
        measured=(end - 1) / width,
        limit=_STRETCHED,
        message=f"{own} stands for all screens up to {end - 1} px wide",
        remedy=f"add a viewport between the two, or let {wider} begin earlier, with 'from'",
        cause=own,
    )


@check_rule("cut-off", "error")
def cut_off(context: CheckContext, rule: Rule) -> Iterator[Finding]:
    """A text with its panel, a picture or a box is larger than its section or the screen.

    What extends beyond a section is cut off at its edges. Measured: the excess in px.
    """
    for section in context.box.sections:
        for item in section.items:
            found = None if is_icon(item) else _too_large(context, section, item)
            if found is None:
                continue
            over, message, remedy = found
            yield rule.finding(
                context,
                of_item(section, item),
                measured=over,
                limit=0.0,
                message=message,
                remedy=remedy,
            )


def _too_large(
    context: CheckContext, section: SectionBox, content: Item
) -> tuple[float, str, str] | None:
    """By how many px a text is too large, what that means, and what fixes it."""
    box, screen = content.box, context.box.screen
    what = "the text" if isinstance(content, ContentBox) else "it"
    high = max(-box.top, box.bottom - section.height)
    wide = max(-box.left, box.right - section.box.width)
    if high > SEEN_PX and content.motion.speed == 1:
        need = section.height + high
        return (
            high,
            f"the section cuts off {high:.0f} px of its height",
            f"make the section {need:.0f} px high, or {what} smaller",
        )
    if wide > SEEN_PX:
        return (
            wide,
            f"the section cuts off {wide:.0f} px of its width",
            "make the text smaller, or shorten its longest word"
            if isinstance(content, ContentBox)
            else f"make {what} smaller",
        )
    beyond = box.height - screen.height
    if beyond > SEEN_PX and isinstance(content, ContentBox):
        return (
            beyond,
            f"it is {beyond:.0f} px higher than the screen",
            "make it shorter or wider, so that it fits on one screen",
        )
    return None
