"""A plan as it stands on a page of a site: the places of its sections are those of the page."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from rising_lantern.css.lengths import px
from rising_lantern.plan.models.pages import Section
from rising_lantern.plan.text.reading import PlanFile

_GAP_PX = 0.5

FILLER = "(site "
"""How the names of sections begin that stand for what else a page has; no plan has such names."""

Rectangle = Sequence[float]
"""The left and upper edge, the width and the height of an element in CSS px."""


def on_site(
    plan: PlanFile,
    names: tuple[str, str],
    boxes: Mapping[str, Rectangle],
    height: float,
    room: float,
) -> PlanFile:
    """The plan with sections where the page has them, as far as the site says where they stand.

    What is above the first and below the last of them, and between elements of the site, counts
    as sections without anything in them. An element of the site has its own height.

    Args:
        plan: The plan.
        names: Those of the page and the viewport.
        boxes: The sections that are there, where the page is scrolled to its top.
        height: The height of all that scrolls, in px.
        room: What the header takes up above the first section, in px.
    """
    page, viewport = names
    document = plan.documents[viewport]
    entry = document.pages[page]
    sections: dict[str, Section] = {}
    bottom = room
    above = True
    for name, section in entry.sections.items():
        box = boxes.get(name)
        if box is None:
            sections[name] = section
            continue
        _, top, width, high = box
        if top - bottom > _GAP_PX and (above or section.selector):
            sections[f"{FILLER}{len(sections)})"] = Section(height=px(top - bottom))
        sections[name] = _of_site(section, width, high) if section.selector else section
        above, bottom = False, top + high
    below = height - bottom
    if below > 1:
        sections[f"{FILLER}{len(sections)})"] = Section(height=px(below))
    changed = entry.model_copy(update={"sections": sections})
    pages: Mapping[str, Any] = {**document.pages, page: changed}
    own = document.model_copy(update={"pages": pages})
    return replace(plan, documents={**plan.documents, viewport: own})


def _of_site(section: Section, width: float, height: float) -> Section:
    """A section that is an element of the site, with the size that it has there."""
    return section.model_copy(update={"width": px(width), "height": px(height), "min_height": None})
