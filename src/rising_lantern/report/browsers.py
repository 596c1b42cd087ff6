"""The features that an export uses, with the browsers that have them."""

from __future__ import annotations

from collections.abc import Sequence

from rising_lantern.exports.site import ExportOptions, code_in, site_of
from rising_lantern.exports.support import Support, support_of
from rising_lantern.layout.pages import PageBox
from rising_lantern.plan.text.reading import PlanFile


def support_for(plan: PlanFile, boxes: Sequence[PageBox]) -> list[Support]:
    """The features that the code for some pages uses.

    Args:
        plan: The plan.
        boxes: The pages at their viewports.
    """
    return list(support_of(code_in(site_of(plan, boxes, ExportOptions()).files())))
