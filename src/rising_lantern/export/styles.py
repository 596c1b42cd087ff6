"""A view as CSS rules. Every value is written from what was parsed, never copied from the plan."""

from __future__ import annotations

from collections.abc import Callable, Iterator

from rising_lantern.css.backgrounds import Position
from rising_lantern.css.colors import TRANSPARENT, Color
from rising_lantern.css.lengths import Length, Scaled, Sum, Term
from rising_lantern.css.numbers import number
from rising_lantern.css.shadows import Shadow
from rising_lantern.layout.headers import HeaderBox
from rising_lantern.layout.motion import motion_of
from rising_lantern.layout.pages import ContentBox, LayerBox, PageBox, SectionBox, leaning
from rising_lantern.plan.changes import Blend, Change, Fade
from rising_lantern.plan.files import Picture
from rising_lantern.plan.headers import Part
from rising_lantern.plan.layers import Layer

_BASE = """\
*, *::before, *::after { box-sizing: border-box; margin: 0; }
html {
  text-rendering: geometricPrecision; font-variant-ligatures: none; -webkit-text-size-adjust: none;
}
header > .side {
  position: absolute; inset: 0; display: flex; align-items: center; pointer-events: none;
}
header > .start { justify-content: flex-start; }
header > .center { justify-content: center; }
header > .end { justify-content: flex-end; }
.part { display: flex; flex: none; line-height: 1.4; white-space: nowrap; pointer-events: auto; }
.part img { flex: none; width: 100%; height: auto; opacity: 0; }
.part img + img { margin-left: -100%; }
main { position: relative; }
section { position: relative; overflow: clip; }
.layer { position: absolute; left: 0; right: 0; top: 0; height: 100%; }
.place { position: absolute; inset: 0; display: grid; }
.text { grid-area: 2 / 2; white-space: pre-line; }"""

Urls = Callable[[str], str]
"""Gives the address of a picture by its name in the plan."""


def rule(selector: str, declarations: dict[str, str]) -> str:
    """One CSS rule; nothing where it would declare nothing."""
    inner = "; ".join(f"{name}: {value}" for name, value in declarations.items())
    return f"{selector} {{ {inner}; }}" if declarations else ""


def page_css(
    page: PageBox,
    faces: dict[tuple[str, int], str],
    urls: Urls,
    pictures: dict[str, Picture],
) -> str:
    """The style sheet of a page.

    Args:
        page: The page as it is laid out.
        faces: Addresses of the font files in use, by font and weight.
        urls: Gives the address of a picture.
        pictures: The plan's pictures.
    """
    rules = [_BASE, *_font_faces(faces)]
    rules.append(rule("body", {"background-color": page.background.css()}))
    if page.header:
        rules += header_rules(page.header, pictures)
    for section in page.sections:
        rules += _section_rules(section, urls)
    return "\n".join(text for text in rules if text)


def _font_faces(faces: dict[tuple[str, int], str]) -> Iterator[str]:
    for (font, weight), url in sorted(faces.items()):
        yield rule(
            "@font-face",
            {
                "font-family": _family(font),
                "font-weight": str(weight),
                "src": f'url("{url}")',
            },
        )


def _family(font: str) -> str:
    return f'"lantern {font}"'


# --- sections --------------------------------------------------------------------------------


def _section_rules(section: SectionBox, urls: Urls) -> Iterator[str]:
    here = f"#{section.name}"
    declarations = {"height": section.entry.height.css("vh")}
    if section.entry.background:
        declarations["background-color"] = section.entry.background.css()
    if any(layer.entry.moves for layer in section.layers):
        declarations["view-timeline-name"] = f"--{section.name}"
    yield rule(here, declarations)
    for index, layer in enumerate(section.layers):
        yield from _layer_rules(section, index, layer, urls)
    for index, content in enumerate(section.content):
        # Places follow the layers among the section's children.
        place = f"{here} > :nth-child({len(section.layers) + index + 1})"
        yield from _content_rules(place, content)


def _layer_rules(section: SectionBox, index: int, layer: LayerBox, urls: Urls) -> Iterator[str]:
    entry = layer.entry
    here = f'#{section.name} > [data-layer="{index}"]'
    declarations: dict[str, str] = {}
    if isinstance(entry.fill, Color):
        declarations["background-color"] = entry.fill.css()
    else:
        image = entry.fill.css() if entry.fill else f'url("{urls(entry.picture or "")}")'
        fit = "100% 100%" if entry.fill and entry.size.fit else entry.size.css()
        declarations = {
            "background-image": image,
            "background-size": fit,
            "background-position": entry.position.css(),
            "background-repeat": " ".join(entry.repeat),
        }
        if entry.rate == 0 and not entry.moves:
            declarations["background-attachment"] = "fixed"
    if entry.filter:
        declarations["filter"] = " ".join(one.css() for one in entry.filter)
    if entry.opacity < 1:
        declarations["opacity"] = number(entry.opacity)
    if entry.moves:
        yield from _motion(section, index, here, entry, declarations)
    yield rule(here, declarations)


def _motion(
    section: SectionBox, index: int, here: str, entry: Layer, declarations: dict[str, str]
) -> Iterator[str]:
    """A layer of speed v stands at ``cy + (1 - v) r`` below its section's upper edge.

    A view timeline runs from r = minus the screen's height to the section's, so that two key
    frames say it exactly; ``lantern.js`` says the same where there are no view timelines. The
    area's edges are those of ``rising_lantern.layout.motion``, in units of the screen.
    """
    height = section.entry.height.css("vh")
    speed, drift = entry.rate, entry.drift
    # An area grows in proportion to the section's height and to the screen's: the areas of a
    # section of height 1 on a screen of none, and the other way round, are its two shares.
    one = motion_of(speed, drift, (0.0, 1.0), 0.0)
    other = motion_of(speed, drift, (0.0, 0.0), 1.0)
    declarations["height"] = _sum(one.height, height, other.height)
    declarations["top"] = _sum(one.top, height, other.top)
    if drift:
        declarations["right"] = "auto"
        declarations["width"] = f"calc(100% + {_sum(one.width, height, other.width)})"
        declarations["left"] = _sum(one.left, height, other.left)
    name = f"lantern-{section.name}-{index}"
    start = f"translate({_sum(0, height, -drift)}, {_sum(0, height, speed - 1)})"
    end = f"translate({_sum(drift, height, 0)}, {_sum(1 - speed, height, 0)})"
    yield f"@keyframes {name} {{ from {{ transform: {start}; }} to {{ transform: {end}; }} }}"
    timeline = {
        "animation": f"{name} linear both",
        "animation-timeline": f"--{section.name}",
        "animation-range": "cover",
    }
    yield f"@supports (animation-timeline: view()) {{ {rule(here, timeline)} }}"


def _sum(of_section: float, height: str, of_screen: float) -> str:
    """So much of the section's height and so much of the screen's."""
    return f"calc({number(of_section)} * {height} + {number(of_screen)} * 100vh)"


def _content_rules(place: str, content: ContentBox) -> Iterator[str]:
    entry = content.entry
    padding = entry.panel.padding.css() if entry.panel else "0px"
    # Tracks measure em in the font size of the place, which is that of the text.
    room = f"fit-content(calc({entry.width.css()} + 2 * {padding}))"
    yield rule(
        place,
        {
            "font-size": entry.size.css(),
            "grid-template-columns": _tracks(entry.at, room, 0),
            "grid-template-rows": _tracks(entry.at, "auto", 1),
        },
    )
    declarations = {
        "font-family": _family(entry.font),
        "font-weight": str(entry.weight),
        "line-height": number(entry.leading),
        "color": entry.color.css(),
        "text-align": entry.align or leaning(entry.at.x),
    }
    if entry.shadow:
        # A text's shadow has no spread.
        declarations["text-shadow"] = ", ".join(
            f"{one.x.css()} {one.y.css()} {one.blur.css()} {one.color.css()}"
            for one in entry.shadow
        )
    if entry.panel:
        declarations["background-color"] = entry.panel.color.css()
        declarations["padding"] = padding
        declarations["border-radius"] = entry.panel.radius.css()
    yield rule(f"{place} > .text", declarations)


def _tracks(position: Position, middle: str, axis: int) -> str:
    """Grid tracks that place a box as ``background-position`` would: free space is shared out."""
    length = position.y if axis else position.x
    expression = length.expression
    if isinstance(expression, Term) and expression.unit == "%":
        return f"{number(expression.value)}fr {middle} {number(100 - expression.value)}fr"
    if isinstance(expression, Sum) and expression.parts[0] == Term(100.0, "%"):
        far = expression.parts[1]
        rest = far.part if isinstance(far, Scaled) and far.factor == -1 else Scaled(-1.0, far)
        return f"1fr {middle} {Length(rest).css()}"
    return f"{length.css()} {middle} 1fr"


# --- the header ------------------------------------------------------------------------------


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
        "font-family": _family(part.font),
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
