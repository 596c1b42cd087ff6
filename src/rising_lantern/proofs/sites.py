"""A plan as it stands on a page of a site: the places of its sections are those of the page."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from rising_lantern.css.lengths import px
from rising_lantern.plan.models.pages import Section
from rising_lantern.plan.text.reading import PlanFile
from rising_lantern.proofs.comparing import FILLER
from rising_lantern.proofs.reading import State

_GAP_PX = 0.5


def on_site(plan: PlanFile, page: str, viewport: str, state: State, room: float) -> PlanFile:
    """The plan with sections where the page has them, as far as the site says where they stand.

    What is above the first and below the last of them, and between elements of the site, counts
    as sections without anything in them. An element of the site has its own height.

    Args:
        plan: The plan.
        page: The page's name.
        viewport: The viewport's name.
        state: What the page shows at its top.
        room: What the header takes up above the first section, in px.
    """
    document = plan.documents[viewport]
    entry = document.pages[page]
    sections: dict[str, Section] = {}
    bottom = room
    above = True
    for name, section in entry.sections.items():
        box = state["sections"].get(name)
        if box is None:
            sections[name] = section
            continue
        _, top, width, height = box
        if top - bottom > _GAP_PX and (above or section.selector):
            sections[f"{FILLER}{len(sections)})"] = Section(height=px(top - bottom))
        sections[name] = _of_site(section, width, height) if section.selector else section
        above, bottom = False, top + height
    below = state["height"] - bottom
    if below > 1:
        sections[f"{FILLER}{len(sections)})"] = Section(height=px(below))
    changed = entry.model_copy(update={"sections": sections})
    pages: Mapping[str, Any] = {**document.pages, page: changed}
    own = document.model_copy(update={"pages": pages})
    return replace(plan, documents={**plan.documents, viewport: own})


def _of_site(section: Section, width: float, height: float) -> Section:
    """A section that is an element of the site, with the size that it has there."""
    return section.model_copy(update={"width": px(width), "height": px(height), "min_height": None})
