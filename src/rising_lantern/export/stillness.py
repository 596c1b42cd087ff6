"""What moves, made to stand still for readers who ask for less motion: Media Queries 5, 12.1."""

from __future__ import annotations

from collections.abc import Iterator

from rising_lantern.export.headers import FADES
from rising_lantern.export.rules import rule
from rising_lantern.export.sources import LayerSource, PageSource, SectionSource


def still_rules(page: PageSource) -> Iterator[str]:
    """Rules by which layers and texts move with the page, and headers arrive at once.

    Source: https://www.w3.org/TR/mediaqueries-5/#prefers-reduced-motion

    Args:
        page: The page as it is laid out.
    """
    sections = [(f"#{section.box.name}", section) for section in page.sections]
    sections += [(".ground", page.ground)] if page.ground else []
    inner = [text for here, section in sections for text in _section_rules(here, section)]
    looks = page.header.box.looks if page.header else ()
    inner += [
        rule(f'{FADES} [data-arrival="{look.name}"]', {"transition": "none", "animation": "none"})
        for look in looks
        if look.arrive == "slide"
    ]
    if inner:
        yield "@media (prefers-reduced-motion: reduce) {"
        yield from inner
        yield "}"


def _section_rules(here: str, section: SectionSource) -> Iterator[str]:
    for index, layer in enumerate(section.layers):
        if layer.box.moves or layer.box.motion.path:
            yield rule(f'{here} [data-layer="{index}"]', {"animation": "none"} | _placed(layer))
    for index, content in enumerate(section.content):
        if content.box.moves:
            yield rule(f'{here} > [data-content="{index}"]', {"animation": "none"})


def _placed(layer: LayerSource) -> dict[str, str]:
    """A layer's box and picture as they are where it moves with its section."""
    if not layer.box.moves:
        return {}
    entry = layer.entry
    return {
        "left": "0",
        "right": "0",
        "top": "0",
        "width": "auto",
        "height": "100%",
        "background-size": "100% 100%" if entry.fill and entry.size.fit else entry.size.css(),
        "background-position": entry.position.css(),
    }
