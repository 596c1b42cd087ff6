"""Sections as CSS rules: what they are filled with, how that moves, and what stands over it."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.css.colors import Color
from rising_lantern.css.lengths import Length, px
from rising_lantern.css.numbers import number
from rising_lantern.export.headers import WHOLE
from rising_lantern.export.motion import moving_rules, timeline_of
from rising_lantern.export.rules import Urls, family, rule
from rising_lantern.export.sources import ContentSource, LayerSource, PageSource, SectionSource
from rising_lantern.layout.sections import leaning


def section_rules(section: SectionSource, here: str, page: PageSource, urls: Urls) -> Iterator[str]:
    """The rules of a section, its layers and its content.

    Args:
        section: The section, or what the page has behind all of them.
        here: Its selector.
        page: The page that it is on.
        urls: Gives the address of a picture.
    """
    entry = section.entry
    declarations: dict[str, str] = {}
    if section is not page.ground:
        declarations["height"] = entry.height.css("vh")
        if entry.width != WHOLE:
            declarations |= {"width": entry.width.css(), "margin": "0 auto"}
        if entry.z:
            declarations["z-index"] = str(entry.z)
    if entry.background:
        declarations["background-color"] = entry.background.css()
    moving: tuple[LayerSource | ContentSource, ...] = (*section.layers, *section.content)
    if any(source.box.moves for source in moving):
        declarations["view-timeline-name"] = timeline_of(section, page)
    yield rule(here, declarations)
    for index, layer in enumerate(section.layers):
        yield from _layer_rules(section, here, index, layer, page, urls)
    if entry.border and section.box.border:
        yield rule(f"{here} > .border", {"border": entry.border.css()})
    for index, content in enumerate(section.content):
        yield from _content_rules(section, here, index, content, page)


def is_clipped(section: SectionSource, layer: LayerSource) -> bool:
    """Whether a layer needs a box around it that cuts it off at the section's border."""
    return layer.box.moves and layer.box.clip.left > 0 and section.box.border > 0


def _layer_rules(
    section: SectionSource, here: str, index: int, layer: LayerSource, page: PageSource, urls: Urls
) -> Iterator[str]:
    entry = layer.entry
    inner = f'{here} [data-layer="{index}"]'
    declarations = _fill(layer, urls)
    border = section.entry.border if section.box.border else None
    if border and not layer.box.moves:
        # Its own border makes room for the section's, as origin and clip count it.
        declarations |= {
            "border": f"{border.width.css()} solid transparent",
            "background-origin": entry.origin,
            "background-clip": entry.clip,
        }
    if entry.filter:
        declarations["filter"] = " ".join(item.css() for item in entry.filter)
    if entry.opacity < 1:
        declarations["opacity"] = number(entry.opacity)
    if entry.blend != "normal":
        declarations["mix-blend-mode"] = entry.blend
    if border and is_clipped(section, layer):
        yield rule(f"{here} > [data-clip='{index}']", {"inset": border.width.css()})
    yield from moving_rules(section, index, layer, page, inner, declarations)


def _fill(layer: LayerSource, urls: Urls) -> dict[str, str]:
    """What a layer is filled with, and where that stands in it."""
    entry = layer.entry
    if isinstance(entry.fill, Color):
        return {"background-color": entry.fill.css()}
    image = entry.fill.css() if entry.fill else f'url("{urls(layer.box.name or "")}")'
    if layer.box.name and (layer.box.moves or layer.box.motion.path):
        # WebKit 2.50 stretches a picture that is alone in a box which is moved or faded.
        image += ", linear-gradient(transparent, transparent)"
    fit = "100% 100%" if entry.fill and entry.size.fit else entry.size.css()
    declarations = {
        "background-image": image,
        "background-size": fit,
        "background-position": entry.position.css(),
        "background-repeat": " ".join(entry.repeat),
    }
    if entry.rate == 0 and not layer.box.moves:
        declarations["background-attachment"] = "fixed"
    return declarations


def _content_rules(
    section: SectionSource, here: str, index: int, content: ContentSource, page: PageSource
) -> Iterator[str]:
    entry = content.entry
    place = f'{here} > [data-content="{index}"]'
    padding = entry.panel.padding.css() if entry.panel else "0px"
    # Tracks measure em in the font size of the place, which is that of the text.
    room = f"fit-content(calc({entry.width.css()} + 2 * {padding}))"
    columns, left = _tracks(entry.at.x, room, content.box.box.left)
    rows, top = _tracks(entry.at.y, "auto", content.box.box.top)
    placed = {
        "font-size": entry.size.css(),
        "grid-template-columns": columns,
        "grid-template-rows": rows,
    }
    if entry.z:
        placed["z-index"] = str(entry.z)
    if entry.blend != "normal":
        placed["mix-blend-mode"] = entry.blend
    yield from moving_rules(section, index, content, page, place, placed)
    declarations = {
        "font-family": family(entry.font),
        "font-weight": str(entry.weight),
        "line-height": number(entry.leading),
        "color": entry.color.css(),
        "text-align": entry.align or leaning(entry.at.x),
    }
    if (left, top) != ("0px", "0px"):
        declarations |= {"position": "relative", "left": left, "top": top}
    if entry.shadow:
        # A text's shadow has no spread.
        declarations["text-shadow"] = ", ".join(
            f"{item.x.css()} {item.y.css()} {item.blur.css()} {item.color.css()}"
            for item in entry.shadow
        )
    if entry.panel:
        declarations["background-color"] = entry.panel.color.css()
        declarations["padding"] = padding
        declarations["border-radius"] = entry.panel.radius.css()
    yield rule(f"{place} > .text", declarations)
    yield from _entering(place, content)


def _entering(place: str, content: ContentSource) -> Iterator[str]:
    """How a text arrives: the script marks it while it waits below the screen."""
    enter = content.entry.enter
    if not enter:
        return
    course = f"{number(enter.time)}ms {enter.easing.css()}"
    yield "@media (prefers-reduced-motion: no-preference) {"
    yield rule(f"{place} > .text", {"transition": f"translate {course}, opacity {course}"})
    yield rule(
        f"{place}[data-waiting] > .text",
        {
            "translate": f"{enter.x.css('vw')} {enter.y.css('vh')}",
            "opacity": number(enter.opacity),
            "transition": "none",
        },
    )
    yield "}"


def _tracks(place: Length, middle: str, used: float) -> tuple[str, str]:
    """Grid tracks and an offset that place a box as ``background-position`` would.

    The tracks share out the room that the box leaves: none where it does not fit, so that it
    starts at the edge.

    Args:
        place: Where it stands along an axis.
        middle: The track of the box itself.
        used: Where that is on the planned screen, in px, for other kinds of positions.
    """
    split = place.split_percentage()
    if split is None or not 0 <= split[0] <= 100:  # noqa: PLR2004 - a share of the room
        split = 0.0, px(used)
    share, offset = split
    return f"{number(share)}fr {middle} {number(100 - share)}fr", offset.css()
