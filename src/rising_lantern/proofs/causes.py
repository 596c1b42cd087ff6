"""Why a browser may show something else: what the site does, and what engines are known to do."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass

from rising_lantern.proofs.comparing import Disagreement
from rising_lantern.proofs.engines import Engine
from rising_lantern.proofs.reading import Landmarks, script
from rising_lantern.scenes.scene import Scene

_PLACE = (
    "position",
    "top",
    "left",
    "right",
    "margin-top",
    "margin-bottom",
    "transform",
    "translate",
)
_SIZE = (
    "width",
    "height",
    "min-width",
    "min-height",
    "max-width",
    "max-height",
    "padding",
    "border",
    "display",
    "box-sizing",
)
_LETTERS = ("font-size", "font-family", "line-height", "letter-spacing")
_PROPERTIES = {
    "rectangle": {
        "header": (*_PLACE, *_SIZE),
        "section": (*_PLACE, *_SIZE, "overflow"),
        "part": (*_SIZE, *_LETTERS),
        "layer": (*_PLACE, *_SIZE, "animation-name"),
        "text": (*_PLACE, *_SIZE, *_LETTERS),
    },
    "colour": {
        "header": ("background-color", "color", "background"),
        "part": ("color", "fill"),
        "text": ("color",),
    },
}  # fmt: skip
"""What can be the cause of a rectangle or a colour that is not as planned."""

_MOST = 6


def overrides(engine: Engine, places: Landmarks, scene: Scene, found: Disagreement) -> list[str]:
    """What of the site's own rules is at odds with what disagrees, with the selector at fault.

    Args:
        engine: The browser, with the page open.
        places: Where on the page its things are.
        scene: The prediction.
        found: What disagrees.
    """
    kind, at = _element(places, found.what)
    measure = "colour" if "colour" in found.measure else "rectangle"
    properties = _PROPERTIES[measure].get(kind, ())
    if at is None or not properties:
        return []
    header = scene.box.header
    position = header.position if header and kind in {"header", "part"} else ""
    expected: dict[str, str] = {}
    if kind == "part" and header:
        style = header.looks[0].styles.get(found.what.removeprefix("part "))
        # Where letters are as large as planned, their size is not to blame.
        expected = {"font-size": f"{style.size:g}px"} if style else {}
    where = [at]
    if measure == "colour" and kind in {"part", "text"} and " of " in found.found:
        where.insert(0, f"{at} {found.found.rpartition(' of ')[2]}")
    within = "" if kind not in {"part", "text"} else "colour" if measure == "colour" else "box"
    ours, prefix = places.data["ours"], places.data["prefix"]
    listed: list[str] = engine.run(
        script("selectors.js") + script("overrides.js"),
        where,
        position,
        properties,
        ours,
        prefix,
        expected,
        within,
    )
    if kind == "part" and measure == "rectangle":
        listed = [*_site_placement(scene, found.what.removeprefix("part ")), *listed]
    return listed[:_MOST]


def _site_placement(scene: Scene, name: str) -> Iterator[str]:
    """That an element of the site stands where the site puts it, which an export leaves alone."""
    header = scene.box.header
    part = scene.document.headers[header.name].parts.get(name) if header else None
    if part is None or part.selector is None:
        return
    margins = {"start": "0 auto 0 0", "center": "0 auto", "end": "0 0 0 auto"}
    yield (
        f"{part.selector.text} stands where the site puts it: for 'side: {part.side}' give it a "
        f"margin there, such as {margins[part.side]}"
    )


def surroundings(engine: Engine, places: Landmarks) -> list[str]:
    """What of the site keeps the open page from being as planned, whatever shows it."""
    listed: list[str] = engine.run(script("surroundings.js"), places.data)
    return listed[:_MOST]


def _element(places: Landmarks, what: str) -> tuple[str, str | None]:
    """What kind of thing disagrees, and its selector."""
    data = places.data
    if what.startswith("header"):
        return "header", data.get("header")
    if what.startswith("part "):
        inner = data["parts"].get(what.removeprefix("part "))
        return "part", f"{data.get('header')} {inner}" if inner else None
    if what.startswith("section "):
        return "section", data["sections"].get(what.removeprefix("section "))
    if what in data["layers"]:
        return "layer", data["layers"][what]
    return "text", data["texts"].get(what)


@dataclass(frozen=True, slots=True)
class KnownDifference:
    """Something that an engine is known to do otherwise.

    Attributes:
        engine: The engine, by the start of its name.
        measure: The measure in which it shows.
        words: What it does.
        applies: Whether a view has what it needs.
    """

    engine: str
    measure: str
    words: str
    applies: Callable[[Scene], bool]


def _blends_moving(scene: Scene) -> bool:
    """Whether something blends that moves, or with something below it that moves."""
    behind = scene.box.ground.layers if scene.box.ground else ()
    return any(
        layer.blend != "normal" and any(item.moves for item in (*section.layers[index:], *behind))
        for section in scene.box.all_sections
        for index, layer in enumerate(section.layers)
    ) or any(
        item.blend != "normal" and any(layer.moves for layer in (*section.layers, *behind))
        for section in scene.box.sections
        for item in section.content
    )


def _has_blur(scene: Scene) -> bool:
    header = scene.box.header
    return header is not None and any(look.blur for look in header.looks)


def _has_filter_chain(scene: Scene) -> bool:
    return any(len(layer.filters) > 1 for layer in scene.box.layers())


def _rounds(scene: Scene) -> bool:
    page = scene.document.pages[scene.page]
    sections = [section.layers for section in page.sections.values()]
    layers = [layer for listed in (page.background.layers, *sections) for layer in listed]
    return any("round" in layer.repeat for layer in layers)


def _has_gradient_looks(scene: Scene) -> bool:
    header = scene.box.header
    return header is not None and any(not hasattr(look.fill, "red") for look in header.looks)


def _has_border(scene: Scene) -> bool:
    header = scene.box.header
    return header is not None and any(look.border for look in header.looks)


def _moves(scene: Scene) -> bool:
    return any(layer.moves for layer in scene.box.layers())


KNOWN = (
    KnownDifference(
        "WebKitGTK", "picture",
        "on screens of one pixel for each px it sets letters on whole px, so that lines may "
        "break elsewhere", lambda _view: True,
    ),
    KnownDifference(
        "WebKit", "picture",
        "mix-blend-mode is not applied on or over a layer that moves by a view timeline",
        _blends_moving,
    ),
    KnownDifference(
        "WebKit", "picture",
        "the poster of a video is stretched to the video's shape once that is known",
        lambda view: any(layer.video for layer in view.box.layers()),
    ),
    KnownDifference(
        "Firefox",
        "picture",
        "a picture with 'repeat: round' is placed by its rounded size, and in Chromium by its own",
        _rounds,
    ),
    KnownDifference(
        "Firefox", "picture", "its pictures do not show what backdrop-filter does", _has_blur
    ),
    KnownDifference(
        "Firefox", "picture", "chains of filters are up to 3 levels off", _has_filter_chain
    ),
    KnownDifference(
        "WebKit", "picture", "chains of filters are up to 3 levels off", _has_filter_chain
    ),
    KnownDifference(
        "Firefox", "rectangle", "border widths snap to whole px while they are animated",
        _has_border,
    ),
    KnownDifference(
        "Firefox", "picture", "what moves by fractions of a px is snapped to whole px", _moves
    ),
    KnownDifference(
        "", "picture", "gradients of looks are mixed as boxes, in shares that add up",
        _has_gradient_looks,
    ),
)  # fmt: skip
"""Differences between engines, as they were measured."""


def known_causes(engine: str, scene: Scene, found: Disagreement) -> Iterator[str]:
    """What engines are known to do that may explain a disagreement."""
    for item in KNOWN:
        if engine.startswith(item.engine) and item.measure == found.measure and item.applies(scene):
            yield item.words
