"""What a page shows in a browser: rectangles, colours and looks, read off by a script."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from importlib.resources import files
from typing import Any

from rising_lantern.exports.sources import PageSource, all_sections
from rising_lantern.exports.stylesheet import SheetWriter
from rising_lantern.layout.items import ContentBox, Item
from rising_lantern.layout.pause import is_pause
from rising_lantern.proofs.engines import Engine

State = dict[str, Any]
"""What is read at one position; ``read.js`` has its keys."""


@dataclass(frozen=True)
class Landmarks:
    """Where on a page its things are, as selectors.

    Attributes:
        data: What the reading script is given.
        progress: The custom property by which a blend is driven.
    """

    data: dict[str, Any]
    progress: str


def places_of(view: PageSource, writer: SheetWriter, *, into: bool = False) -> Landmarks:
    """The selectors of all that is compared on a page.

    Args:
        view: The page at a viewport.
        writer: What wrote its style sheet.
        into: Whether the page is one of a site.
    """
    naming, page = writer.naming, view.box.page
    sections = writer.section_writer(page, view)
    data: dict[str, Any] = {
        "ready": f"data-{naming.prefix}",
        "ours": f"body {naming.ours}",
        "prefix": naming.prefix,
        "look": naming.variable("look"),
        "fonts": [url.rsplit("/", 1)[-1] for url in writer.faces.values()],
        "into": into,
        "scroller": view.page.scroll_container.text if view.page.scroll_container else None,
        "sections": {item.box.name: sections.section(item) for item in view.sections},
        "texts": {
            content_name(item.box.name, content.box): sections.contents.item(item, content)
            for item in view.sections
            for content in item.content
        },
        "layers": {
            layer_name(item.box.name, index): sections.layer(item, index)
            for item in all_sections(view)
            for index in range(len(item.layers))
        },
        "parts": {},
    }
    if view.box.pause:
        control = view.box.pause
        item = control.items[0]
        data["texts"][content_name(control.section, item)] = sections.pause
    if view.header:
        root = naming.page(page)
        header = writer.header_writer(view.header)
        data |= {
            "header": f"{root} {header.here}",
            "arrived": f"{root} {header.arrivals}[data-here]",
            "parts": {name: header.part(name) for name in view.header.box.parts},
        }
    known = [data[group].values() for group in ("sections", "texts", "layers", "parts")]
    known += [[data["header"]] if "header" in data else []]
    # Also on a page that has no export yet.
    planned = [at.removeprefix(f"{naming.page(page)} ") for group in known for at in group]
    data["planned"] = planned
    return Landmarks(data, naming.variable("progress"))


@lru_cache(maxsize=8)
def script(name: str) -> str:
    """A script of this package, which is run as the body of a function."""
    return files(__package__).joinpath(name).read_text("utf-8")


def content_name(section: str, item: Item) -> str:
    """What a text, picture or box is called in what is read."""
    if is_pause(item):
        return f"{section}, pause control"
    kind = "text" if isinstance(item, ContentBox) else "picture" if item.name else "box"
    places = [str(step + 1) for step in item.path if isinstance(step, int)]
    return f"{section}, {kind} {'.'.join(places)}"


def layer_name(section: str, index: int) -> str:
    """What a layer is called in what is read."""
    return f"{section}, layer {index + 1}"


def scroll_to(engine: Engine, places: Landmarks, position: float) -> float:
    """Scroll, wait until all is at rest, and give the position that came of it."""
    return float(
        engine.run(script("scroll.js"), position, places.progress, places.data["scroller"])
    )


def read_state(engine: Engine, places: Landmarks) -> State:
    """What the page shows where it is."""
    state: State = engine.run(script("read.js"), places.data)
    return state


def fades_at(engine: Engine, places: Landmarks, start: float) -> list[tuple[float, float, str]]:
    """The transitions of the header that run where a look starts: durations and delays in ms.

    Args:
        engine: The browser, with the page open.
        places: Where on the page its things are.
        start: The first whole px at which the look holds.
    """
    header = places.data.get("header")
    seen = (
        engine.run(script("fades.js"), header, start - 1, start, places.data["scroller"])
        if header
        else []
    )
    return [(float(duration), float(delay), str(easing)) for duration, delay, easing in seen]


def start_watching(engine: Engine) -> None:
    """Count from now on what the page does that nobody asked for."""
    engine.run(script("watch.js"))


def what_was_seen(engine: Engine, within: str = "header") -> State:
    """The layout shift, the longest task in ms, foreign requests and hidden focus since then.

    Args:
        engine: The browser.
        within: A selector of what has links and buttons that are to show their focus.
    """
    seen: State = engine.run(script("watched.js"), within)
    return seen
