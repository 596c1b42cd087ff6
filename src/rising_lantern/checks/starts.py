"""Where a look starts: its threshold, moved along the scroll."""

from __future__ import annotations

import math

from rising_lantern.checks.context import CheckContext
from rising_lantern.checks.remedies import Remedy
from rising_lantern.plan.models.thresholds import shifted


def moved_start(context: CheckContext, look: str, words: str, by: float) -> Remedy:
    """Return the remedy that starts a look further down the page, or up where ``by`` is below 0.

    Args:
        context: The page at its viewport.
        look: The look's name.
        words: What to do.
        by: How far, in px; whole px at least as far are what is set.
    """
    name = context.box.header.name if context.box.header else ""
    start = context.document.headers[name].look(look).from_
    if start is None:
        return Remedy(words)
    whole = math.floor(by) if by < 0 else math.ceil(by)
    return context.remedy(words, ("headers", name, "looks", look, "from"), shifted(start, whole))
