"""The header as CSS rules, with one set for each of its looks."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.css.colors import TRANSPARENT
from rising_lantern.css.numbers import number
from rising_lantern.css.shadows import Shadow
from rising_lantern.export.rules import family, rule
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.plan.changes import Blend, Change, Fade
from rising_lantern.plan.files import Picture
from rising_lantern.plan.headers import Part


def header_rules(header: HeaderBox, pictures: dict[str, Picture]) -> Iterator[str]:
    """The rules of a header, with one set for each of its looks."""
    entry = header.entry
    yield rule("header", _header_base(header))
    yield rule(
        "header > .side",
        {"left": entry.padding.css(), "right": entry.padding.css(), "gap": entry.gap.css()},
    )
    for name, part in entry.parts.items():
        yield rule(f'[data-part="{name}"]', _part_base(part))
    for index, look in enumerate(header.looks):
        yield from _look_rules(header, index, look, pictures)
    if any(isinstance(entry.change_to(look), Blend) for look in header.looks[1:]):
        yield "@keyframes lantern-show { from { opacity: 0; } to { opacity: 1; } }"


def _header_base(header: HeaderBox) -> dict[str, str]:
    entry = header.entry
    position = "relative" if entry.position == "static" else entry.position
    declarations = {"position": position, "z-index": str(entry.z)}
    if entry.position in {"fixed", "absolute"}:
        declarations |= {"left": "0", "right": "0"}
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


def _look_rules(
    header: HeaderBox, index: int, name: str, pictures: dict[str, Picture]
) -> Iterator[str]:
    here = f'header[data-look="{name}"]'
    change = header.entry.change_to(name) if index else None
    worn = _worn(header, index)
    yield rule(here, worn | _timing(change, worn))
    before = _worn(header, index - 1) if index else worn
    if isinstance(change, Blend):
        yield from _blended(here, name, "", before, worn, change)
    for part_name, part in header.entry.parts.items():
        inside = f'{here} [data-part="{part_name}"]'
        part_worn = _part_worn(header, index, part_name, part, pictures)
        yield rule(inside, part_worn | _timing(change, part_worn))
        if isinstance(change, Blend):
            earlier = _part_worn(header, index - 1, part_name, part, pictures)
            yield from _blended(inside, name, f"-{part_name}", earlier, part_worn, change)
        if part.image:
            yield from _image_rules(header, index, name, part_name, change)


def _worn(header: HeaderBox, index: int) -> dict[str, str]:
    """What one look declares of the header itself."""
    entry = header.entry
    look = entry.look(header.looks[index])
    shadow = entry.shadow if look.shadow is None else look.shadow
    height = (look.height or entry.height).css("vh")
    declarations = {
        "height": height,
        "background-color": (look.background or entry.background).css(),
        "color": (look.color or entry.color).css(),
        "box-shadow": _shadows(shadow),
    }
    if header.in_flow and entry.hold_space:
        rest = (entry.look(header.looks[0]).height or entry.height).css("vh")
        declarations["margin-bottom"] = f"calc({rest} - {height})"
    return declarations


def _part_worn(
    header: HeaderBox, index: int, name: str, part: Part, pictures: dict[str, Picture]
) -> dict[str, str]:
    """What one look declares of one part."""
    change = header.entry.look(header.looks[index]).part(name)
    if part.text is not None:
        declarations = {"font-size": (change.size or part.size).css()}
        color = change.color or part.color
        return declarations | ({"color": color.css()} if color else {})
    image = _image_of(header, index, name) or ""
    width = change.width or part.width
    return {"width": width.css("vw") if width else f"{pictures[image].width}px"}


def _image_rules(
    header: HeaderBox, index: int, look: str, part: str, change: Change | None
) -> Iterator[str]:
    """Which picture is seen. A new one is laid over the old one, which stays till it is covered."""
    here = f'[data-part="{part}"] img[data-looks~="{look}"]'
    shown = {"opacity": "1", "z-index": "1"}
    if isinstance(change, Fade):
        time, delay = f"{number(change.duration_ms)}ms", f"{number(change.delay_ms)}ms"
        shown["transition"] = f"opacity {time} {change.easing.css()} {delay}"
        left = f"{number(change.duration_ms + change.delay_ms)}ms"
        yield rule(
            f'header[data-look="{look}"] [data-part="{part}"] img',
            {"transition": f"opacity 0s linear {left}"},
        )
    yield rule(f'header[data-look="{look}"] {here}', shown)
    if index and isinstance(change, Blend):
        before = header.looks[index - 1]
        if _image_of(header, index, part) != _image_of(header, index - 1, part):
            yield rule(
                f'header[data-from][data-look="{look}"] {here}',
                {
                    "animation": f"lantern-show 1s {change.easing.css()} both paused",
                    "animation-delay": "calc(var(--progress) * -1s)",
                },
            )
        yield rule(
            f'header[data-from="{before}"] [data-part="{part}"] img[data-looks~="{before}"]',
            {"opacity": "1"},
        )


def _image_of(header: HeaderBox, index: int, part: str) -> str | None:
    return header.entry.image_of(part, header.looks[index])


def _timing(change: Change | None, declarations: dict[str, str]) -> dict[str, str]:
    """The transition of what a look declares, where it fades."""
    if not isinstance(change, Fade):
        return {}
    course = f"{number(change.duration_ms)}ms {change.easing.css()} {number(change.delay_ms)}ms"
    return {"transition": ", ".join(f"{name} {course}" for name in declarations)}


def _blended(
    here: str,
    look: str,
    suffix: str,
    before: dict[str, str],
    worn: dict[str, str],
    change: Blend,
) -> Iterator[str]:
    """A paused animation whose time is the share of the way that has been scrolled."""
    differing = [name for name, value in worn.items() if before.get(name) != value]
    if not differing:
        return
    name = f"lantern-to-{look}{suffix}"
    start = "; ".join(f"{key}: {before[key]}" for key in differing if key in before)
    end = "; ".join(f"{key}: {worn[key]}" for key in differing)
    yield f"@keyframes {name} {{ from {{ {start}; }} to {{ {end}; }} }}"
    yield rule(
        here,
        {
            "animation": f"{name} 1s {change.easing.css()} both paused",
            "animation-delay": "calc(var(--progress, 1) * -1s)",
        },
    )


def _shadows(shadows: tuple[Shadow, ...]) -> str:
    if not shadows:
        return f"0 0 0 0 {TRANSPARENT.css()}"
    return ", ".join(shadow.css() for shadow in shadows)
