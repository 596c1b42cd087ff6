"""The header as CSS rules, with one set for each of its looks.

``data-drawn`` says which look a header is drawn in, ``data-change`` which look's change is on its
way, in either direction, and ``data-from`` which look a blend leaves.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import permutations

from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.lengths import percent
from rising_lantern.css.numbers import number
from rising_lantern.css.shadows import Shadow
from rising_lantern.export.flow import height_of
from rising_lantern.export.rules import family, rule
from rising_lantern.export.sources import HeaderSource
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.plan.files.pictures import Picture
from rising_lantern.plan.models.changes import Blend, Cut, Fade
from rising_lantern.plan.models.headers import Part

FADES = "html[data-fades]"
"""Where changes may take time: the script says so once the page has been seen as it is."""

WHOLE = percent(100)

_FADES = {
    "": "height, background-color, color, box-shadow, margin-bottom, border-width, border-color, "
    "backdrop-filter",
    " > .side": "left, right",
    " .part": "width, font-size, color",
    " .part img": "opacity",
    " .fill": "opacity",
}
"""What of a header fades, by what of it that is."""

Declared = dict[str, dict[str, str]]
"""What a look declares, by the selector within the header."""


def header_rules(header: HeaderSource, pictures: dict[str, Picture]) -> Iterator[str]:
    """The rules of a header, with one set for each of its looks."""
    entry = header.entry
    yield rule("header", _base(header))
    yield rule("header > .side", {"gap": entry.gap.css()})
    if not header.box.in_flow and not entry.starts_under:
        top = entry.top.css("vh")
        yield rule("body", {"padding-top": f"max({top} + {height_of(header, 0)}, 0px)"})
    if header.box.in_flow and (entry.hold_space or entry.starts_under):
        # The flow never moves: a browser that scrolls to keep its place would only push the reader.
        yield rule("html, body, main, section", {"overflow-anchor": "none"})
    if entry.container:
        yield rule("body", {"height": entry.container.css("vh")})
    for name, part in entry.parts.items():
        yield rule(f'[data-part="{name}"]', _part_base(part))
    yield from _fill_rules(header)
    declared_by = {look: _declared(header, look, pictures) for look in header.box.look_names}
    for look, declared in declared_by.items():
        for inner, declarations in declared.items():
            yield rule(f'header[data-drawn="{look}"]{inner}', declarations)
        yield from _change_rules(header, look)
    for before, look in _ways(header):
        blends = isinstance(entry.change_to(look), Blend)
        if blends and not entry.look(look).arrive and before != look:
            yield from _blended(header, before, look, declared_by)


def _ways(header: HeaderSource) -> Iterator[tuple[str, str]]:
    """From which look which other can come."""
    if header.entry.under:
        yield from permutations(header.box.look_names, 2)
    else:
        # A look that arrives is that of another header: the first one keeps what it had.
        names = header.box.look_names
        for index, look in enumerate(names[1:]):
            yield names[header.box.standing(index)], look


def _base(header: HeaderSource) -> dict[str, str]:
    entry = header.entry
    position = "relative" if entry.position == "static" else entry.position
    declarations = {"position": position, "z-index": str(entry.z)}
    if entry.position in {"fixed", "absolute"}:
        declarations |= {"left": "0", "right": "0"}
    if entry.width != WHOLE:
        width = entry.width.css()
        declarations |= {"width": width, "margin-left": "auto", "margin-right": "auto"}
    if entry.position != "static":
        declarations["top"] = entry.top.css("vh")
    return declarations


def _part_base(part: Part) -> dict[str, str]:
    if part.text is None:
        return {}
    return {
        "font-family": family(part.font),
        "font-weight": str(part.weight),
        "gap": part.gap.css(),
    }


def gradient_fills(header: HeaderBox) -> dict[str, list[str]]:
    """The fills of a header that need boxes of their own, with the looks that have them.

    Gradients do not become one another in browsers: boxes are mixed in their place.
    """
    fills: dict[str, list[str]] = {}
    for look in header.looks:
        fills.setdefault(look.fill.css(), []).append(look.name)
    plain = all(isinstance(look.fill, Color) for look in header.looks)
    return {} if plain else fills


def _fill_rules(header: HeaderSource) -> Iterator[str]:
    for index, (fill, looks) in enumerate(gradient_fills(header.box).items()):
        kind = "background-image" if "gradient(" in fill else "background-color"
        yield rule(f".fill:nth-child({index + 1})", {kind: fill})
        for look in looks:
            yield rule(
                f'header[data-drawn="{look}"] .fill:nth-child({index + 1})', {"opacity": "1"}
            )


def _declared(header: HeaderSource, look: str, pictures: dict[str, Picture]) -> Declared:
    """What one look declares of the header and of what is in it."""
    declared: Declared = {"": _look_declared(header, look)}
    padding = (header.entry.look(look).padding or header.entry.padding).css()
    declared[" > .side"] = {"left": padding, "right": padding}
    for name, part in header.entry.parts.items():
        inner = f' [data-part="{name}"]'
        declared[inner] = _part_declared(header, look, name, part, pictures)
        if part.image:
            declared[f'{inner} img[data-looks~="{look}"]'] = {"opacity": "1"}
    return declared


def _look_declared(header: HeaderSource, look_name: str) -> dict[str, str]:
    """What one look declares of the header itself."""
    entry = header.entry
    look = entry.look(look_name)
    index = header.box.look_names.index(look_name)
    shadow = entry.shadow if look.shadow is None else look.shadow
    height = height_of(header, index)
    fill = header.box.looks[index].fill
    color = fill if isinstance(fill, Color) else TRANSPARENT
    declarations = {
        "height": height,
        "background-color": TRANSPARENT.css() if gradient_fills(header.box) else color.css(),
        "color": (look.color or entry.color).css(),
        "box-shadow": _shadows(shadow),
    }
    if any(look.border for look in header.box.looks):
        border = look.border or entry.border
        declarations["border"] = border.css() if border else f"0px solid {TRANSPARENT.css()}"
    if any(look.blur for look in header.box.looks):
        declarations["backdrop-filter"] = f"blur({(look.blur or entry.blur).css()})"
    if header.box.in_flow and not look.arrive:
        if entry.starts_under and header.box.home is None:
            declarations["margin-bottom"] = f"calc(-1 * {height})"
        elif entry.hold_space:
            declarations["margin-bottom"] = f"calc({height_of(header, 0)} - {height})"
    return declarations


def _part_declared(
    header: HeaderSource, look: str, name: str, part: Part, pictures: dict[str, Picture]
) -> dict[str, str]:
    """What one look declares of one part."""
    change = header.entry.look(look).part(name)
    style = header.box.looks[header.box.look_names.index(look)].styles[name]
    declarations: dict[str, str] = {}
    if part.text is not None:
        declarations["font-size"] = (change.size or part.size).css()
        changes = [
            header.entry.look(look_name).part(name).color for look_name in header.box.look_names
        ]
        if part.color or any(changes):
            declarations["color"] = style.color.css()
    else:
        width = change.width or part.width
        image = header.entry.image_of(name, look) or ""
        declarations["width"] = width.css("vw") if width else f"{pictures[image].width}px"
    if style.hidden:
        declarations["display"] = "none"
    return declarations


def _change_rules(header: HeaderSource, look: str) -> Iterator[str]:
    """How a look comes, and goes: by transitions where it fades."""
    change = header.entry.change_to(look)
    arrive = header.entry.look(look).arrive
    course = "0s"
    if isinstance(change, Fade):
        course = f"{number(change.duration_ms)}ms {change.easing.css()} {number(change.delay_ms)}ms"
        if not arrive:
            for inner, names in _FADES.items():
                listed = ", ".join(f"{name} {course}" for name in names.split(", "))
                yield rule(f'{FADES} header[data-change="{look}"]{inner}', {"transition": listed})
    if arrive:
        top = "0px" if header.entry.position == "static" else header.entry.top.css("vh")
        yield from _arrival_rules(look, arrive, change, course, top)


def _arrival_rules(
    look: str, arrive: str, change: Cut | Fade | Blend, course: str, top: str
) -> Iterator[str]:
    """A look that comes as a second header: from above, or out of nothing."""
    here = f'[data-arrival="{look}"]'
    away = {"translate": "0 -100%"} if arrive == "slide" else {"opacity": "0"}
    there = {"translate": "0 0"} if arrive == "slide" else {"opacity": "1"}
    (name,) = away
    yield rule(
        here,
        {"position": "fixed", "top": top, "left": "0", "right": "0"}
        | away
        | {"visibility": "hidden"},
    )
    yield rule(f"{FADES} {here}", {"transition": f"{name} {course}, visibility {course}"})
    yield rule(f"{here}[data-here]", there | {"visibility": "visible"})
    if isinstance(change, Blend):
        frames = "; ".join(f"{key}: {value}" for key, value in away.items())
        ends = "; ".join(f"{key}: {value}" for key, value in there.items())
        yield f"@keyframes lantern-{look}-arrives {{ from {{ {frames}; }} to {{ {ends}; }} }}"
        yield rule(
            f"{here}[data-here]", _paused(f"lantern-{look}-arrives", change, "var(--progress, 1)")
        )


def _blended(
    header: HeaderSource, before: str, look: str, declared_by: dict[str, Declared]
) -> Iterator[str]:
    """Paused animations whose time is the share of the way that has been scrolled."""
    change = header.entry.change_to(look)
    if not isinstance(change, Blend):
        return
    here = f'header[data-from="{before}"][data-drawn="{look}"]'
    parts = {f' [data-part="{name}"]' for name in header.entry.parts}
    for index, inner in enumerate(["", " > .side", *sorted(parts)]):
        first, second = declared_by[before][inner], declared_by[look][inner]
        differing = [
            name
            for name, value in second.items()
            if first.get(name) != value and name in first and name != "display"
        ]
        if not differing:
            continue
        name = f"lantern-{before}-to-{look}-{index}"
        start = "; ".join(f"{key}: {first[key]}" for key in differing)
        end = "; ".join(f"{key}: {second[key]}" for key in differing)
        yield f"@keyframes {name} {{ from {{ {start}; }} to {{ {end}; }} }}"
        yield rule(here + inner, _paused(name, change, "var(--progress, 1)"))
    yield from _blended_shares(header, before, look, change, here)


def _blended_shares(
    header: HeaderSource, before: str, look: str, change: Blend, here: str
) -> Iterator[str]:
    """Pictures and gradients: one in, the other out, in shares that add up."""
    yield "@keyframes lantern-in { from { opacity: 0; } to { opacity: 1; } }"
    yield "@keyframes lantern-out { from { opacity: 1; } to { opacity: 0; } }"
    pairs = [
        (f'{here} [data-part="{name}"] img[data-looks~="{before}"]:not([data-looks~="{look}"])',
         f'{here} [data-part="{name}"] img[data-looks~="{look}"]:not([data-looks~="{before}"])')
        for name, part in header.entry.parts.items() if part.image
    ]  # fmt: skip
    for leaving, coming in pairs:
        yield rule(leaving, _paused("lantern-out", change, "var(--progress, 1)"))
        yield rule(coming, _paused("lantern-in", change, "var(--progress, 1)"))
    fills = list(gradient_fills(header.box).values())
    for index, looks in enumerate(fills, 1):
        if (before in looks) != (look in looks):
            name = "lantern-in" if look in looks else "lantern-out"
            shown = f"{here} .fill:nth-child({index})"
            yield rule(shown, _paused(name, change, "var(--progress, 1)"))


def _paused(name: str, change: Blend, share: str) -> dict[str, str]:
    return {
        "animation": f"{name} 1s {change.easing.css()} both paused",
        "animation-delay": f"calc({share} * -1s)",
    }


def _shadows(shadows: tuple[Shadow, ...]) -> str:
    if not shadows:
        return f"0 0 0 0 {TRANSPARENT.css()}"
    return ", ".join(shadow.css() for shadow in shadows)
