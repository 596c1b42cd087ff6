"""What an export changes on a page of a site outside of what is planned: nothing may change."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from rising_lantern.proofs.comparing import Disagreement
from rising_lantern.proofs.engines import Engine
from rising_lantern.proofs.reading import Landmarks, script

Neighbours = Mapping[str, Mapping[str, Any]]
"""What elements outside of the plan look like, by their place on the page."""

Place = tuple[str, str]
"""An element on the page, and what of it is meant."""

_BOX_PX = 0.5
_MEASURES = ("color", "background colour", "font")
_MOST = 12  # changes that are reported


def neighbours_on(engine: Engine, places: Landmarks) -> Neighbours:
    """What the open page shows outside of what is planned.

    Args:
        engine: The browser, with the page open.
        places: Where on the page the planned things are.
    """
    found: Neighbours = engine.run(_script(), places.data, None)
    return found


def changes(
    before: Neighbours, after: Neighbours
) -> Iterator[tuple[tuple[str, str], Disagreement]]:
    """What differs between a page without and with an export.

    Yields:
        The place of an element with what of it differs, and the disagreement.
    """
    for key, first in before.items():
        second = after.get(key)
        if second is None:
            yield (key, "box"), _differences(first, "element", "there", "not there", 1.0)
            continue
        for measure in _MEASURES:
            if first[measure] != second[measure]:
                yield (
                    (key, measure),
                    _differences(first, measure, str(first[measure]), str(second[measure]), 1.0),
                )
        if first["box"] and second["box"]:
            pairs = zip(first["box"], second["box"], strict=False)
            by = max(abs(one - other) for one, other in pairs)
            if by > _BOX_PX:
                old, new = (_words(item["box"]) for item in (first, second))
                yield (key, "box"), _differences(first, "box", old, new, by)


def told(
    engine: Engine, places: Landmarks, before: Neighbours
) -> Iterator[tuple[Disagreement, tuple[str, ...]]]:
    """The changes on the open page, each with our own rules that make them.

    Args:
        engine: The browser, with the page and the export open.
        places: Where on the page the planned things are.
        before: What the page was without the export.
    """
    listed = list(changes(before, neighbours_on(engine, places)))
    for key, item in listed[:_MOST]:
        causes: list[str] = engine.run(_script(), places.data, [list(key)])
        yield item, tuple(causes[:2])


def _differences(
    element: Mapping[str, Any], measure: str, before: str, after: str, by: float
) -> Disagreement:
    what = f"outside of the plan, {element['name']}"
    return Disagreement(what, measure, 0.0, "down", before, after, by, 0.0)


def _words(box: list[float]) -> str:
    left, width, height = box[:3]
    return f"{width:.1f} x {height:.1f} at {left:.1f}"


def _script() -> str:
    return script("selectors.js") + script("neighbours.js")
